"""Overhead: heights and clearances of the drop and its mast, drip loop and straps, each against its limit."""

from __future__ import annotations

import math
from collections.abc import Iterator

from msgspec import Struct

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.fields import choices_at
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.service.raceway import NO_RACEWAY
from robust_ledger.survey.mast import mast_findings

_METAL = ("emt", "imc", "rmc")
OVER_WORDS = choices_at("overhead.over")
ROOF_WORDS = choices_at("overhead.roof")


class Clearance(Struct, frozen=True):
    """One limit: the field it is about, its figure of the code, whether it is a least, and how the trade's habit is looser."""

    field: str
    key: str
    words: str
    least: bool = True
    rule: str = "drop_clearance"
    habit: str = ""


def clearances(job: Job) -> list[Clearance]:
    """The limits that apply to this drop."""
    over = job.overhead
    kept = [
        Clearance("attachment_ft", "drop_attachment_ft", "Point of attachment"),
        Clearance("loop_ft", "drop_loop_ft", "Lowest point of the drip loop", habit="measured at the attachment; the drip loop hangs lower"),
        Clearance("span_ft", f"drop_{over.over}_ft" if over.over else "", f"Clearance over {OVER_WORDS[over.over] if over.over else '?'}",
                  habit="10 ft everywhere: a driveway requires 12, a street 18"),
    ]  # fmt: skip
    if over.roof not in ("", "none"):
        kept.append(
            Clearance(
                "roof_in",
                f"roof_{over.roof}_in",
                f"Above the {ROOF_WORDS[over.roof].removeprefix('only the ')}",
                rule="drop_roof",
                habit="18 in above any roof: that is for the overhang alone",
            )
        )
    if over.roof == "overhang":
        kept.append(Clearance("roof_run_in", "roof_run_in", "Conductor above the overhang", False, "drop_roof"))
        kept.append(Clearance("overhang_in", "roof_cross_in", "Overhang crossed", False, "drop_roof"))
    if over.window_ft is not None:
        kept.append(Clearance("window_ft", "drop_window_ft", "From a window that opens", rule="drop_windows"))
    return kept + _strap_limits(job)


def _strap_limits(job: Job) -> list[Clearance]:
    kind_there = job.raceway
    if kind_there in NO_RACEWAY:
        habit = "a strap every 3 or 4 ft: cable requires one every 30 in"
        return [
            Clearance(
                "strap_end_in", "strap_cable_end_in", "First strap from weatherhead and meter", False, "straps_cable"
            ),
            Clearance("strap_between_in", "strap_cable_between_in", "Between straps", False, "straps_cable", habit),
        ]
    kind = "metal" if kind_there in _METAL else "pvc"
    end = Clearance(
        "strap_end_in", f"strap_{kind}_end_in", "First strap from weatherhead and meter", False, "straps_raceway"
    )
    return [end, Clearance("strap_between_in", f"strap_{kind}_between_in", "Between straps", False, "straps_raceway")]


def limit_step(one: Clearance, job: Job, codebook: Codebook) -> Step:
    """The limit as a step; PVC's distance between straps goes by its trade size."""
    if not one.key:
        return Step("what the span crosses, to be entered", None, "ft")
    if one.key != "strap_pvc_between_in":
        return codebook.step(one.key, "limit")
    table = codebook.table("pvc_supports")
    row = table.row("trade_size", job.existing.trade_size)
    return Step("limit for its trade size", float(row["between_in"]) if row else None, "in", cites=(table.cite,))


class OverheadFigures(Struct, frozen=True):
    """What is planned [ft or in] for each clearance, by its field; and the straps on the riser."""

    planned: dict[str, Entry]
    straps: Entry

    def entries(self) -> Iterator[Entry]:
        """Every one of them."""
        yield from (*self.planned.values(), self.straps)


def overhead_figures(job: Job, codebook: Codebook) -> OverheadFigures:
    """For each limit what is planned [ft or in] beside it; and how many straps the riser takes."""
    made = {}
    for one in clearances(job):
        work = Working(f"overhead.{one.field}", one.words, Place.of("overhead", one.field))
        limit = work.take(limit_step(one, job, codebook))
        work.note("limit is", "the least" if one.least else "the most")
        value = getattr(job.overhead, one.field)
        planned = work.given("as planned", value if value is None or value >= 0 else None, limit.unit, work.place)
        work.missing = [f"{one.words.lower()}, to be measured"] if not planned.known else work.missing
        made[one.field] = work.entry(planned, [codebook.cite(one.rule)])
    return OverheadFigures(made, _straps(job, codebook))


def _straps(job: Job, codebook: Codebook) -> Entry:
    """The fewest straps on the riser: one near each end, the rest no further apart than allowed."""
    work = Working("overhead.straps", "Straps on the riser", Place("overhead:riser_ft"))
    ends = limit_step(_strap_limits(job)[0], job, codebook)
    between = limit_step(_strap_limits(job)[1], job, codebook)
    feet = job.overhead.riser_ft
    length = work.given(
        "riser, weatherhead to meter", feet if feet is not None and feet > 0 else None, "ft", Place("overhead:riser_ft")
    )
    inches = work.product("in inches", [length, Step("in a foot", 12, "in/ft")], "in")
    both = work.product("both ends", [work.take(ends), Step("ends", 2, "")], "in")
    rest = work.difference("between the outer straps", inches, both, "in")
    gaps = work.quotient("gaps", rest, work.take(between), "")
    count = max(1, math.ceil(gaps.amount - 1e-9) + 1) if gaps.known else None
    return work.entry(work.take(Step("straps: one more than gaps, rounded up", count, "straps")), between.cites)


class Judged(Struct, frozen=True):
    """A clearance with what is planned, its limit, and whether it is kept; None while one of them is not known."""

    one: Clearance
    entry: Entry
    limit: Step
    kept: bool | None

    @property
    def limit_text(self) -> str:
        """The limit with the way it goes."""
        return f"{'≥' if self.one.least else '≤'} {self.limit.text()}"


def judged_clearances(job: Job, figures: OverheadFigures | None, codebook: Codebook) -> list[Judged]:
    """Every clearance of the drop against its limit; none where the scope does not ask about it."""
    if figures is None:
        return []
    made = []
    for one in clearances(job):
        entry = figures.planned[one.field]
        limit, kept = limit_step(one, job, codebook), None
        if entry.known and limit.known:
            kept = entry.amount >= limit.amount if one.least else entry.amount <= limit.amount
        made.append(Judged(one, entry, limit, kept))
    return made


def _remedy(one: Clearance, entry: Entry, limit: Step) -> str:
    """What to change, by how much."""
    by = f"{abs(entry.amount - limit.amount):g} {limit.unit}"
    if one.field.startswith("strap"):
        return (
            f"Set straps no further apart than {limit.text()}."
            if one.field.endswith("between_in")
            else f"Set it within {limit.text()}."
        )
    if one.field == "window_ft":
        return f"Move the conductors {by} away, or have them run above the window."
    if one.least:
        return f"Raise it by {by}: a higher attachment or mast, or have the utility attach elsewhere."
    return f"Shorten it by {by}, or keep the full height above the roof."


def overhead_findings(job: Job, figures: OverheadFigures, codebook: Codebook) -> Iterator[Finding]:
    """Figures that do not keep their limit, with the habit they come from; the head below the attachment; the drip loop."""
    over, find = job.overhead, Findings(codebook).find
    for judged in judged_clearances(job, figures, codebook):
        one, entry, limit = judged.one, judged.entry, judged.limit
        if judged.kept is False:
            habit = f" Common mistake: {one.habit}." if one.habit else ""
            yield find(
                "overhead.clearance",
                at=Place.of("overhead", one.field),
                key=one.field,
                rules=(one.rule,),
                least=one.least,
                words=one.words,
                entry=entry,
                limit=limit,
                habit=habit,
                ways=_remedy(one, entry, limit),
            )
    if over.weatherhead_ft is not None and over.attachment_ft is not None and over.weatherhead_ft < over.attachment_ft:
        yield find(
            "overhead.head",
            at=Place("overhead:weatherhead_ft"),
            weatherhead_ft=over.weatherhead_ft,
            attachment_ft=over.attachment_ft,
        )
    free_in = job.utility.free_in
    if over.free_in is not None and over.free_in < free_in:
        yield find("overhead.free", at=Place("overhead:free_in"), free_in=free_in, over_free_in=over.free_in)
    yield from _crossed(job, codebook)
    yield from mast_findings(job, codebook)


def _crossed(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """What the drop passes over decides its limits; asked as soon as a height of it is entered."""
    over, find = job.overhead, Findings(codebook).find
    heights = (over.attachment_ft, over.loop_ft, over.span_ft)
    if all(height is None for height in heights):
        return
    for field, missing, words in (
        ("over", not over.over, "the span crosses"),
        ("roof", not over.roof, "roof it passes over"),
    ):
        if missing:
            yield find(
                "overhead.below_drop", at=Place.of("overhead", field), key=field, over=field == "over", words=words
            )
