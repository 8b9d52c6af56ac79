"""Raceway fill: what the conductors take, what the raceway that is there holds, and the trade size they need."""

from __future__ import annotations

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.conductors import size_text
from robust_ledger.job.job import Job
from robust_ledger.job.parts.service import ServiceRun
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.service.ampacity import picked

RACEWAY_WORDS = {
    "cable": "cable, no raceway",
    "emt": "EMT",
    "imc": "IMC",
    "rmc": "rigid",
    "pvc40": "PVC schedule 40",
    "pvc80": "PVC schedule 80",
}


def raceway_entry(entry_id: str, sizes: list[str], run: ServiceRun, codebook: Codebook) -> Entry:
    """The smallest trade size [in] of the job's kind of raceway for conductors of these sizes [Ch. 9 T1, T4, T5].

    "none" for a cable; unknown when a conductor is not in the table or no trade size holds them.
    """
    work = Working(entry_id, "Raceway needed", Place("service_run:raceway"))
    if run.raceway == "cable":
        return work.entry(work.note("cable, no raceway", "none"))
    total = conductors_area(work, sizes, run, codebook)
    limit = fill_limit(work, len(sizes), run.nipple, codebook)
    needed = work.quotient("cross-section of the raceway, at least", total, limit, "in²")
    table = codebook.table("raceway")
    size = None
    if needed.known:
        column = f"{run.raceway}_area_in2"
        row = next((r for r in table.rows if r[column] and float(r[column]) >= needed.amount - 1e-9), None)
        size = row["trade_size"] if row else None
        if row:
            work.take(
                Step(
                    f"{row['trade_size']} in {RACEWAY_WORDS[run.raceway]}",
                    float(row[column]),
                    "in²",
                    cites=(table.cite,),
                )
            )
    label = "smallest trade size that takes them" if needed.known else "trade size"
    return work.entry(work.take(Step(label, size, "in" if size else "")), [codebook.cite("raceway_fill")])


def set_sizes(ungrounded: Entry, neutral: Entry) -> list[str]:
    """The sizes of the conductors in one raceway: two ungrounded ones and the neutral; each set has its own raceway.
    Empty while one is unknown."""
    hot, grounded = picked(ungrounded), picked(neutral)
    return [hot.size, hot.size, grounded.size] if hot and grounded else []


def raceway_for(entry_id: str, job: Job, ungrounded: Entry, neutral: Entry, codebook: Codebook) -> Entry:
    """The raceway service conductors need, one for each set."""
    sizes = set_sizes(ungrounded, neutral)
    if not sizes:
        return Entry(entry_id, "Raceway needed", None, "", why_unknown="conductors from the table")
    return raceway_entry(entry_id, sizes, job.service_run, codebook)


def fill_entry(entry_id: str, sizes: list[str], run: ServiceRun, codebook: Codebook) -> Entry:
    """How full the raceway that is there would be, in percent of its cross-section; unknown while it is not entered."""
    work = Working(entry_id, "Fill of the raceway that is there", Place("service_run:trade_size"))
    total = conductors_area(work, sizes, run, codebook)
    table = codebook.table("raceway")
    row = table.row("trade_size", run.trade_size)
    area = float(row[f"{run.raceway}_area_in2"]) if row and run.raceway != "cable" else None
    label = f"{run.trade_size} in {RACEWAY_WORDS[run.raceway]}" if row else "trade size of the raceway that is there"
    there = work.take(Step(label, area, "in²", cites=(table.cite,)))
    fill = work.quotient("fill", total, there, "")
    return work.entry(
        work.product("in percent", [fill, Step("percent", 100, "%")], "%"), [codebook.cite("raceway_fill")]
    )


def service_fill_entries(job: Job, ungrounded: Entry, neutral: Entry, codebook: Codebook) -> list[Entry]:
    """The fill of the raceway that is there by the planned service conductors; none for a cable or before it is told."""
    sizes, run = set_sizes(ungrounded, neutral), job.service_run
    if run.raceway == "cable" or not run.trade_size or not sizes:
        return []
    return [fill_entry("service.raceway_fill", sizes, run, codebook)]


def conductors_area(work: Working, sizes: list[str], run: ServiceRun, codebook: Codebook) -> Step:
    """Cross-section of the conductors with their insulation [in²]."""
    column = {"THWN-2": "thwn2_area_in2", "XHHW-2": "xhhw2_area_in2"}[run.insulation]
    table = codebook.table("conductor")
    parts = []
    for size in sizes:
        row = table.row("size", size)
        area = float(row[column]) if row else None
        parts.append(work.take(Step(f"{size_text(size)} {run.insulation}", area, "in²", cites=(table.cite,))))
    return work.total("conductors together", parts, "in²")


def fill_limit(work: Working, conductors: int, nipple: bool, codebook: Codebook) -> Step:
    """The part of a raceway that may be filled: by the number of conductors, or 60% in a nipple to 24 inches."""
    if nipple:
        return work.take(codebook.step("fill_nipple", "nipple to 24 in"))
    key = {1: "fill_one", 2: "fill_two"}.get(conductors, "fill_more")
    return work.take(codebook.step(key, f"{conductors} conductors fill at most"))


def holds(needed: str, there: str, codebook: Codebook) -> bool | None:
    """Whether a trade size that is there is as large as the one needed; None while one of them is not known."""
    order = [row["trade_size"] for row in codebook.table("raceway").rows]
    if needed not in order or there not in order:
        return None
    return order.index(there) >= order.index(needed)
