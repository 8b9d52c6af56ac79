"""Pull-off on the spine."""

from __future__ import annotations

from robust_ledger.desk.kit.spec import StageSpec

SPEC = StageSpec("pulloff", "Pull-off", 2, places=("circuit", "pull_off", "old_panel", "old_boxes"), pictured=True)
