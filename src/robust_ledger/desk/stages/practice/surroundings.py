"""The house around the panel: service, grounding, working space, floor plan, nameplates."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.changeover.clock import now
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.words import label
from robust_ledger.desk.stages.practice.looking import Looking
from robust_ledger.drawing.scene import Scene, Words
from robust_ledger.plan import Plan
from robust_ledger.practice.codes import PracticeError
from robust_ledger.practice.hand_in import is_called, panel_for
from robust_ledger.practice.surroundings import WIDTH, house_scene


def _draw(plan: Plan) -> Scene:
    try:
        made = panel_for(plan.job)
        if made.house is not None:
            return house_scene(made, is_called(plan.job, now()))
    except PracticeError:
        pass
    scene = Scene(WIDTH, 60)
    scene.add(Words(4, 20, "This panel stands alone: a house is around those of level 4 and 5.", 13, color="faint"))
    return scene


class SurroundingsPage(Page):
    """What one sees around the panel; what is chosen is told below it."""

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.looking = Looking("The house", _draw)
        self.view = self.looking.view
        self.view.chosen.connect(self._chosen)
        self.shown = label("", "faint")
        self.shown.setWordWrap(True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.looking, 1)
        column.addWidget(self.shown)

    def show_plan(self, plan: Plan) -> None:
        self.looking.show_plan(plan)

    def start(self) -> None:
        self.view.setFocus()

    def _chosen(self, _spot: str) -> None:
        self.shown.setText(self.view.accessibleDescription())
