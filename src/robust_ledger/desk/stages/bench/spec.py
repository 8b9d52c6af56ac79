"""Bench on the spine."""

from __future__ import annotations

from robust_ledger.desk.kit.spec import PageSpec, StageSpec

SPEC = StageSpec(
    "bench",
    "Bench",
    5,
    (
        PageSpec("drawing", "&Drawing", ("branch",), pictured=True),
        PageSpec("circuits", "Circui&ts", ("decisions:ahj_arc_fault", "decisions:new_wiring"), pictured=True),
        PageSpec("protection", "Pr&otection", ("circuit:guarded",)),
        PageSpec(
            "required",
            "&Required",
            ("decisions:outlet_practice", "decisions:smoke_practice", "decisions:lighting_practice"),
        ),
        PageSpec("panel", "&Panel", ("panel", "decisions:wishes", "old_panel:interior")),
        PageSpec("knockouts", "&Knockouts", ("panel:interior.knockouts", "panel:cables_per_connector")),
        PageSpec("schedule", "Schedu&le"),
    ),
    opening=lambda plan: (plan.bench.spaces_left.id,),
)
