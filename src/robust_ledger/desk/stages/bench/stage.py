"""Bench: the new panel drawn and arranged, its circuits with their protection, what is required, the panel's record, the schedule."""

from __future__ import annotations

from robust_ledger.desk.kit.page import PagedStage

_PAGE_OF = {
    "decisions:outlet_school": "required",
    "decisions:smoke_school": "required",
    "decisions:lighting_school": "required",
    "decisions:ahj_arc_fault": "circuits",
    "decisions:wishes": "panel",
}


class BenchStage(PagedStage):
    """Pages around the new panel."""

    prefix = "bench"
    title = "Bench"
    pages = (
        ("drawing", "&Drawing"),
        ("circuits", "Circui&ts"),
        ("required", "&Required"),
        ("panel", "&Panel"),
        ("schedule", "Schedu&le"),
    )

    def page_of(self, place: str) -> str:
        kind, _, name = place.partition(":")
        if kind == "branch":  # where one is already looking at circuits, one stays there
            return self.current if self.current in ("drawing", "circuits", "schedule", "required") else "drawing"
        return _PAGE_OF.get(place) or _PAGE_OF.get(f"{kind}:{name.partition('.')[0]}") or "panel"
