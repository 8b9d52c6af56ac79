"""Changeover on the spine."""

from __future__ import annotations

from robust_ledger.desk.kit.spec import PageSpec, StageSpec
from robust_ledger.plan import Plan


def _filled(plan: Plan) -> bool:
    """Something to do on the day: circuits to move."""
    return bool(plan.job.circuits)


def _over(plan: Plan) -> bool:
    """Every hold passed, every termination and circuit done."""
    if not plan.job.record.holds:
        return False
    from robust_ledger.changeover.recorded import is_over  # once a day is begun: the desk is up sooner

    return is_over(plan.changeover)


SPEC = StageSpec(
    "changeover",
    "Changeover",
    6,
    (
        PageSpec("day", "&Day", ("day",), pictured=True),
        PageSpec(
            "when",
            "Who and &when",
            (
                "day:date",
                "day:names",
                "day:latitude_deg",
                "day:longitude_deg",
                "day:zone",
                "day:utility_from",
                "day:utility_until",
                "day:inspection",
                "day:inspector_from",
                "day:inspector_until",
                "day:weather",
                "day:lunch_min",
                "day:lunch_from",
                "day:lunch_until",
                "day:rain_from",
                "day:rain_until",
            ),
        ),
        PageSpec("live", "&Live", ("record:events",), pictured=True),
        PageSpec("holds", "&Holds", ("hold",)),
        PageSpec("torque", "T&orque", ("torque", "record:torque", "record")),
        PageSpec("voltages", "Volta&ges", ("volts",)),
        PageSpec("energize", "Energi&ze", ("switched",)),
    ),
    opening=lambda plan: tuple(task.entry.id for task in plan.changeover.tasks if task.id == "cables_in"),
    filled=_filled,
    settled=_over,
)
