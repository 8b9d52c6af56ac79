"""Conductors to be cut, color by color: every one that is new in the installation, its way, what is left free at its ends, and waste."""

from __future__ import annotations

from robust_ledger.changeover.torque import Parts
from robust_ledger.installation.model import Conductor, Piece, Run
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.material.item import Cut


def cuts_of(of: Parts) -> tuple[Cut, ...]:
    """Every conductor that this job puts in, in the order in which the runs are pulled; one that goes on from clamp to clamp is one."""
    made = []
    for run in of.installation.runs:
        names: dict[str, Conductor] = {}
        for one in run.conductors:
            if one.change.made:
                names.setdefault(one.name, one)
        made += [_cut(of, run, one) for one in names.values()]
    return tuple(made)


def colors(job: Job) -> dict[str, str]:
    """What each conductor's color is by the job's convention."""
    own = job.conventions
    ground = "bare or green"
    return {
        "A": own.leg_a,
        "B": own.leg_b,
        "N": own.neutral.partition(",")[0],
        "G": ground,
        "GEC": ground,
        "bond": ground,
    }


def _cut(of: Parts, run: Run, one: Conductor) -> Cut:
    color = colors(of.job)[one.name]
    entry = _length(of, f"material.cut.{run.key}.{one.name}", f"Cut: {run.words}, {color}", run.pieces)
    value = one.size.value
    words = str(value) if one.size.known else "size not known"
    pieces = value.sets if isinstance(value, Conductors) else 1
    if isinstance(value, Conductors):
        words = str(Conductors(value.size, value.metal)) if value.sets > 1 else value.short
    return Cut(
        words, color, entry.amount if entry.known else None, pieces, run.words, entry, run.kind == "earth", run.key
    )


def _length(of: Parts, entry_id: str, words: str, parts: tuple[Piece, ...]) -> Entry:
    work = Working(entry_id, words, Place("stock:waste_percent"))
    pieces = []
    for part in parts:
        given = work.given(part.words, part.amount, part.unit, part.place)
        pieces.append(
            work.quotient(f"{part.words}, in feet", given, Step("inches to a foot", 12, "in"), "ft")
            if part.unit == "in"
            else given
        )
    together = work.total("together", pieces, "ft")
    waste = work.given("waste", 1 + of.job.stock.waste_percent / 100, "", Place("stock:waste_percent"))
    whole = work.product("with waste", (together, waste), "ft")
    if whole.known:
        whole = work.take(Step("cut to", float(-(-whole.amount // 0.5)) * 0.5, "ft"))
    return work.entry(whole)
