"""The panel as it was found: drawn, with a tester to put to it."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.words import label
from robust_ledger.desk.stages.practice.looking import Looking
from robust_ledger.drawing.scene import Scene
from robust_ledger.plan import Plan
from robust_ledger.practice.codes import PracticeError
from robust_ledger.practice.hand_in import panel_for
from robust_ledger.practice.picture import WIDTH, panel_scene
from robust_ledger.practice.sights import sights
from robust_ledger.practice.tester import readings


def _draw(plan: Plan) -> Scene:
    try:
        return panel_scene(panel_for(plan.job))
    except PracticeError:
        return Scene(WIDTH, 100)


class FoundPage(Page):
    """What one sees with the cover off. A breaker is chosen by mouse or arrows; below it the tester."""

    spotted = pyqtSignal(str)  # the space of a breaker that was chosen

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.looking = Looking("The panel as found", _draw)
        self.view = self.looking.view
        self.view.chosen.connect(self._chosen)
        self.chosen = ""
        self.shown = label("Choose a breaker in the drawing.", "faint")
        self.shown.setWordWrap(True)
        self.test = QPushButton("&Test it")
        self.test.setToolTip("Put the simulated tester to it")
        self.test.clicked.connect(self._test)
        row = QHBoxLayout()
        row.addWidget(self.shown, 1)
        row.addWidget(self.test)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.looking, 1)
        column.addLayout(row)

    def show_plan(self, plan: Plan) -> None:
        self.looking.show_plan(plan)
        self.test.setEnabled(bool(self.chosen))

    def start(self) -> None:
        self.view.setFocus()

    def _chosen(self, spot: str) -> None:
        self.chosen = spot.removeprefix("space:")
        self.spotted.emit(self.chosen)
        self.shown.setText(self.view.accessibleDescription())
        self.test.setEnabled(True)

    def _test(self) -> None:
        """The simulated tester at the breaker that is chosen."""
        made = panel_for(self.store.job)
        sight = next((one for one in sights(made) if self.chosen in one.spaces), None)
        if sight is not None:
            self.shown.setText(
                "Simulated tester: " + "; ".join(reading.words for reading in readings(made, sight)) + "."
            )
