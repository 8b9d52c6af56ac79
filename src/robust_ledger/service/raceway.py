"""Raceway fill: what the conductors really pulled take, what the raceway that is there holds, and the trade size they need."""

from __future__ import annotations

import math

from msgspec import Struct

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import area_cmil
from robust_ledger.job.conductors import Conductors, size_text
from robust_ledger.job.fields import choices_at
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.service.ampacity import picked

RACEWAY_WORDS = choices_at("existing.raceway")
NO_RACEWAY = ("", "cable")
NEUTRAL = Place("service_run:neutral")


class Way(Struct, frozen=True):
    """A run to be pulled through: kind of raceway, insulation of the conductors, whether it is a nipple of at most 24 in, and where
    its kind is entered."""

    kind: str
    insulation: str
    nipple: bool
    place: Place


def service_way(job: Job) -> Way:
    """The line side of the service."""
    return Way(job.raceway, job.service_run.insulation, job.service_run.nipple, Place("existing:raceway"))


def pulled_neutral_entry(
    job: Job, ungrounded: Entry, neutral: Entry, codebook: Codebook, panel: Panel | None = None
) -> Entry:
    """The neutral really to be pulled: the size chosen, else the one that comes with the hots in stock cable and paralleled sets, never
    smaller than the one needed [Ch. 9 T1]. `panel`: the node whose feeder they are; None: the service conductors."""
    name, words = "service.neutral_pulled", "Neutral to be pulled"
    if panel is not None:
        name, words = f"feeder.{panel.id}.neutral_pulled", f"Neutral to be pulled to the {panel.name}"
    work = Working(name, words, NEUTRAL)
    hot, least = picked(ungrounded), picked(neutral)
    needed = work.entry_step(neutral, "needed at least")
    if hot is None or least is None:
        work.entry_step(ungrounded)
        return work.entry(Step("size", None))
    chosen = Conductors.read(job.service_run.neutral)
    if chosen is not None:
        work.given("chosen", chosen, place=NEUTRAL)
        other = chosen
    else:
        row = codebook.table("stock_neutral").row("hot", hot.size)
        size = row[f"{hot.metal}_neutral"] if row and row[f"{hot.metal}_neutral"] else hot.size
        work.entry_step(ungrounded, "beside the hots")
        other = Conductors(size, hot.metal)
        work.note(f"as it comes with {size_text(hot.size, hot.metal)}", str(other))
    larger = max((other, least), key=lambda one: area_cmil(codebook, one.size) or 0)
    one = Conductors(larger.size, larger.metal, hot.sets)
    return work.entry(work.take(Step("the larger of both" if needed.known else "size", one)))


def raceway_entry(entry_id: str, sizes: list[str], way: Way, codebook: Codebook) -> Entry:
    """The smallest trade size [in] of the way's kind of raceway for conductors of these sizes [Ch. 9 T1, T4, T5].

    "none" for a cable; unknown when a conductor is not in the table or no trade size holds them.
    """
    work, kind = Working(entry_id, "Raceway needed", way.place), way.kind
    if kind in NO_RACEWAY:
        return work.entry(work.note(RACEWAY_WORDS[kind], "none"))
    total = conductors_area(work, sizes, way.insulation, codebook)
    limit = fill_limit(work, len(sizes), way.nipple, codebook)
    needed = work.quotient("cross-section of the raceway, at least", total, limit, "in²")
    table = codebook.table("raceway")
    size = None
    if needed.known:
        column = f"{kind}_area_in2"
        row = next((r for r in table.rows if r[column] and float(r[column]) >= needed.amount - 1e-9), None)
        row = _rounded_row(work, sizes, way, limit, codebook) or row
        size = row["trade_size"] if row else None
        if row:
            words = f"{row['trade_size']} in {RACEWAY_WORDS[kind]}"
            work.take(Step(words, float(row[column]), "in²", cites=(table.cite,)))
    label = "smallest trade size that takes them" if needed.known else "trade size"
    return work.entry(work.take(Step(label, size, "in" if size else "")), [codebook.cite("raceway_fill")])


def _rounded_row(work: Working, sizes: list[str], way: Way, limit: Step, codebook: Codebook) -> dict[str, str] | None:
    """Conductors of one size are counted, and a count that ends in 0.8 or more is rounded up [Ch. 9 note 7]: the smaller trade size
    that it opens; None where it opens none."""
    if len(set(sizes)) != 1 or way.nipple:
        return None
    each, part = _area(sizes[0], way.insulation, codebook), codebook.step("fill_round_up")
    if each is None:
        return None
    for row in codebook.table("raceway").rows:
        area = float(row[f"{way.kind}_area_in2"] or 0)
        count = area * limit.amount / each
        if math.floor(count + 1 - part.amount + 1e-9) >= len(sizes):
            if count < len(sizes):
                work.take(Step("equal conductors: count that fits", count, "", cites=part.cites))
                return row
            return None
    return None


def set_sizes(ungrounded: Entry, neutral: Entry) -> list[str]:
    """The sizes of the conductors in one raceway: two ungrounded ones and the neutral; each set has its own raceway.
    Empty while one is unknown."""
    hot, grounded = picked(ungrounded), picked(neutral)
    return [hot.size, hot.size, grounded.size] if hot and grounded else []


def raceway_for(entry_id: str, job: Job, ungrounded: Entry, neutral: Entry, codebook: Codebook) -> Entry:
    """The raceway service conductors need, one for each set, with the neutral really to be pulled."""
    sizes = set_sizes(ungrounded, pulled_neutral_entry(job, ungrounded, neutral, codebook))
    if not sizes:
        return Entry(entry_id, "Raceway needed", None, "", why_unknown="conductors from the table")
    return raceway_entry(entry_id, sizes, service_way(job), codebook)


def fill_entry(entry_id: str, sizes: list[str], job: Job, codebook: Codebook) -> Entry:
    """How full the raceway that is there would be, in percent of its cross-section; unknown while it is not entered."""
    work, there = Working(entry_id, "Fill of the raceway that is there", Place("existing:trade_size")), job.existing
    total = conductors_area(work, sizes, job.service_run.insulation, codebook)
    table = codebook.table("raceway")
    row = table.row("trade_size", there.trade_size)
    area = float(row[f"{there.raceway}_area_in2"]) if row and there.raceway not in NO_RACEWAY else None
    label = (
        f"{there.trade_size} in {RACEWAY_WORDS[there.raceway]}" if row else "trade size of the raceway that is there"
    )
    whole = work.take(Step(label, area, "in²", cites=(table.cite,)))
    fill = work.quotient("fill", total, whole, "")
    return work.entry(
        work.product("in percent", [fill, Step("percent", 100, "%")], "%"), [codebook.cite("raceway_fill")]
    )


def service_fill_entry(job: Job, ungrounded: Entry, pulled: Entry, codebook: Codebook) -> Entry | None:
    """The fill of the raceway that is there by the planned service conductors; None for a cable or before it is told."""
    sizes, there = set_sizes(ungrounded, pulled), job.existing
    if there.raceway in NO_RACEWAY or not there.trade_size or not sizes:
        return None
    return fill_entry("service.raceway_fill", sizes, job, codebook)


def conductors_area(work: Working, sizes: list[str], insulation: str, codebook: Codebook) -> Step:
    """Cross-section of the conductors with their insulation [in²]."""
    table = codebook.table("conductor")
    parts = []
    for size in sizes:
        area = _area(size, insulation, codebook)
        parts.append(work.take(Step(f"{size_text(size)} {insulation}", area, "in²", cites=(table.cite,))))
    return work.total("conductors together", parts, "in²")


def _area(size: str, insulation: str, codebook: Codebook) -> float | None:
    """Cross-section of one conductor with its insulation [in²]; None for one that is not in the table."""
    column = {"THWN-2": "thwn2_area_in2", "XHHW-2": "xhhw2_area_in2"}[insulation]
    row = codebook.table("conductor").row("size", size)
    return float(row[column]) if row else None


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
