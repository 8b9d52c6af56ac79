"""Bench on the spine."""

from __future__ import annotations

from robust_ledger.desk.kit.spec import PageSpec, StageSpec, opens_with

SPEC = StageSpec(
    "bench",
    "Bench",
    5,
    (
        PageSpec("drawing", "&Drawing", ("branch",), pictured=True),
        PageSpec("circuits", "Circui&ts", ("decisions:ahj_arc_fault",), pictured=True),
        PageSpec(
            "required",
            "&Required",
            ("decisions:outlet_school", "decisions:smoke_school", "decisions:lighting_school"),
        ),
        PageSpec("panel", "&Panel", ("panel", "decisions:wishes", "old_panel:interior")),
        PageSpec("schedule", "Schedu&le", pictured=True),
    ),
    opening=opens_with("panel.spaces_left"),
)
