"""Load on the spine."""

from __future__ import annotations

from robust_ledger.desk.kit.spec import PageSpec, StageSpec
from robust_ledger.plan import Plan


def _opening(plan: Plan) -> tuple[str, ...]:
    return plan.load.chosen.total.id, plan.load.governing.id


SPEC = StageSpec(
    "load",
    "Load",
    3,
    (
        PageSpec("house", "H&ouse", ("load", "dwelling", "job", "management", "decisions:ev_practice"), pictured=True),
        PageSpec("tape", "&Tape", pictured=True),
        PageSpec("methods", "&Methods", ("decisions:load_method",)),
        PageSpec("whatif", "&What if", ("future",), pictured=True),
        PageSpec("measured", "Measu&red", ("measured",), pictured=True),
        PageSpec("day", "&Day"),
        PageSpec("local", "&Local amendments", ("local_rules",)),
    ),
    opening=_opening,
)
