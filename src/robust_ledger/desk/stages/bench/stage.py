"""Bench: a panel drawn and arranged, its circuits with their protection, what is required, the panel's record, the schedule."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from robust_ledger.desk.kit.page import Page, PagedStage
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.stages.bench.chooser import CarryingPage, PanelChooser
from robust_ledger.desk.stages.bench.spec import SPEC
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan

_OF_CIRCUITS = ("drawing", "circuits", "protection", "schedule", "required")


class BenchStage(PagedStage):
    """Pages around the panel in view."""

    spec = SPEC
    chooser: PanelChooser

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.chooser.show_plan(store.plan)

    def build_strip(self) -> QWidget:
        self.chooser = PanelChooser(self.store)
        self.chooser.wanted.connect(self._wanted)
        return self.chooser

    def seen(self, plan: Plan) -> Plan:
        return plan.seen_from(self.store.panel_id)

    def page(self, name: str = "") -> Page:
        made = super().page(name)
        if isinstance(made, CarryingPage):
            made.panel_under = self.chooser.panel_under
        return made

    def _wanted(self, panel_id: str) -> None:
        """Another panel into view; what is in hand goes along."""
        page = self.page()
        if not (isinstance(page, CarryingPage) and page.carry_to(panel_id)):
            self.store.look_at(panel_id)

    def show_plan(self, plan: Plan) -> None:
        self.chooser.show_plan(plan)
        super().show_plan(plan)

    def page_of(self, place: Place) -> str:
        """Where one is already looking at circuits, one stays there."""
        if place.startswith("branch:") and self.current in _OF_CIRCUITS:
            return self.current
        return super().page_of(place)
