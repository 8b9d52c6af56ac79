"""Bench: the new panel drawn and arranged, its circuits with their protection, what is required, the panel's record, the schedule."""

from __future__ import annotations

from robust_ledger.desk.kit.page import PagedStage
from robust_ledger.desk.stages.bench.spec import SPEC
from robust_ledger.ledger.place import Place

_OF_CIRCUITS = ("drawing", "circuits", "schedule", "required")


class BenchStage(PagedStage):
    """Pages around the new panel."""

    spec = SPEC

    def page_of(self, place: Place) -> str:
        """Where one is already looking at circuits, one stays there."""
        if place.startswith("branch:") and self.current in _OF_CIRCUITS:
            return self.current
        return super().page_of(place)
