"""Practice on the spine, of exercises only."""

from __future__ import annotations

from robust_ledger.desk.kit.spec import PageSpec, StageSpec
from robust_ledger.plan import Plan


def _is_exercise(plan: Plan) -> bool:
    return bool(plan.job.practice.code)


SPEC = StageSpec(
    "practice",
    "Practice",
    8,
    (
        PageSpec("found", "&As found", ("practice:named",), pictured=True),
        PageSpec("surroundings", "The ho&use"),
        PageSpec("order", "&Dark hours", ("practice:order",)),
        PageSpec("score", "S&core", ("practice",)),
    ),
    filled=_is_exercise,
    settled=lambda plan: bool(plan.job.practice.handed_in),
    alone=_is_exercise,
    line="pulloff",
)
