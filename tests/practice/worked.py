"""What learners do, as jobs: the perfect one, and parts of it."""

from __future__ import annotations

from functools import cache

from msgspec.structs import replace

from robust_ledger.job.edits import with_part
from robust_ledger.job.parts.practice import Named, Practice
from robust_ledger.measure.simulate.basis import wanted_of
from robust_ledger.panel.request import arrange
from robust_ledger.plan import plan
from robust_ledger.practice.codes import SEEDS, Code
from robust_ledger.practice.exercise import HOUSE_LEVEL, exercise


@cache
def panel(level, number=1):
    """A panel by level and a small number."""
    return exercise(Code(level, number * 7919 % SEEDS))


def names(made):
    """Every fault of a panel, named."""
    return tuple(Named(kind=one.kind, space=one.spaces[0] if one.spaces else "") for one in made.planted)


def perfect(made):
    """Everything called out truly and named, laid out with the fewest splices, the dark hours in order, in twenty minutes."""
    job, order = made.truth, ()
    if made.code.level >= HOUSE_LEVEL:
        whole = plan(job)
        best = min(arrange(wanted_of(whole)).options, key=lambda option: option.splices)
        job = with_part(job, "decisions", placements=dict(best.placements))
        order = tuple(one.id for one in whole.changeover.tasks if one.phase == "dark")
    practice = Practice(
        code=str(made.code), named=names(made), order=order, started="2026-11-28T08:00:00-05:00", handed_in="2026-11-28T08:20:00-05:00"
    )  # fmt: skip
    return replace(job, practice=practice)
