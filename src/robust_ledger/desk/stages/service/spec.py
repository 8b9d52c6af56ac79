"""Service on the spine."""

from __future__ import annotations

from robust_ledger.desk.kit.spec import PageSpec, StageSpec, opens_with

SPEC = StageSpec(
    "service",
    "Service",
    4,
    (
        PageSpec(
            "drawing",
            "One-&line",
            (
                "decisions",
                "old_panel:meter_label_a",
                "panel:terminals_c",
                "panel:first_disconnect",
                "panel:main",
                "chain:disconnect_inside",
            ),
            pictured=True,
        ),
        PageSpec(
            "sizes",
            "Conductor si&zes",
            ("service_run:sets", "service_run:ambient_c", "service_run:current_carrying", "service_run:rooftop"),
        ),
        PageSpec(
            "alternatives",
            "Alterna&tives",
            ("service_run:raceway", "service_run:trade_size", "service_run:nipple", "service_run:insulation"),
            pictured=True,
        ),
        PageSpec("fault", "Voltage &drop and fault current", ("service_run", "panel:aic_a"), pictured=True),
        PageSpec("feeder", "&Feeder", ("sub_panel",)),
        PageSpec("equipment", "E&quipment", ("equipment", "conventions")),
    ),
    opening=opens_with("service.main"),
)
