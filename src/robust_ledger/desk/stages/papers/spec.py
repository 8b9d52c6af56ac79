"""Papers on the spine."""

from __future__ import annotations

from robust_ledger.desk.kit.spec import StageSpec, opens_with

SPEC = StageSpec("papers", "Papers", 7, places=("heading",), opening=opens_with("findings"), pictured=True)
