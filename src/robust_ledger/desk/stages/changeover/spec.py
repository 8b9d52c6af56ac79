"""Changeover on the spine."""

from __future__ import annotations

from robust_ledger.desk.kit.spec import PageSpec, StageSpec
from robust_ledger.plan import Plan


def _filled(plan: Plan) -> bool:
    """Something to do on the day: circuits to move."""
    return bool(plan.job.circuits)


SPEC = StageSpec(
    "changeover",
    "Changeover",
    6,
    (PageSpec("day", "&Day", ("day",), pictured=True),),
    opening=lambda plan: tuple(one.entry.id for one in plan.changeover.tasks if one.id == "cables_in"),
    filled=_filled,
)
