"""Walk-through on the spine."""

from __future__ import annotations

from robust_ledger.desk.kit.spec import PageSpec, StageSpec, opens_with

SPEC = StageSpec(
    "walkthrough",
    "Walk-through",
    1,
    (
        PageSpec("scope", "S&cope", ("scope",)),
        PageSpec("chain", "Wh&at is there", ("existing", "renews", "old_panel:main_a"), pictured=True),
        PageSpec("grounding", "G&rounding", ("grounding",), pictured=True),
        PageSpec("fit", "&Fit", ("fit", "utility:meter_low_in", "utility:meter_high_in")),
        PageSpec("overhead", "&Overhead", ("overhead", "utility"), pictured=True),
        PageSpec("location", "&Place and count", ("location", "decisions:spares")),
        PageSpec("defects", "&Defects", ("defect", "old_panel:marks", "decisions:defect_practice"), pictured=True),
    ),
    opening=opens_with("service.main"),
)
