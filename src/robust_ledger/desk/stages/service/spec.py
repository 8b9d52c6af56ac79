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
                "panel:terminals_c",
                "panel:first_disconnect",
                "panel:main",
                "service_run:neutral",
            ),
            pictured=True,
        ),
        PageSpec(
            "sizes",
            "Conductor si&zes",
            (
                "service_run:sets",
                "service_run:ambient_c",
                "service_run:current_carrying",
                "service_run:rooftop",
                "service_run:raceway",
            ),
        ),
        PageSpec(
            "alternatives",
            "Alterna&tives",
            ("service_run:nipple", "service_run:insulation"),
        ),
        PageSpec(
            "fault",
            "Voltage &drop and fault current",
            (
                "service_run",
                "panel:aic_a",
                "panel:series_aic_a",
                "existing:utility_fault_a",
                "existing:transformer_kva",
                "existing:transformer_percent_z",
            ),
            pictured=True,
        ),
        PageSpec(
            "panels",
            "&Panels",
            ("panels", "main_feed"),
            pictured=True,
        ),
        PageSpec(
            "equipment",
            "E&quipment",
            ("equipment", "conventions", "panel:lugs_least", "panel:lugs_most", "panel:bar_most", "panel:bending_in"),
        ),
    ),
    opening=opens_with("service.main"),
)
