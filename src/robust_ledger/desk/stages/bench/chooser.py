"""Which panel is in view: a button for each, with what it has left; a circuit dropped on one goes there."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, pyqtSignal
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import QButtonGroup, QPushButton, QWidget

from robust_ledger.desk.kit.flow import FlowLayout
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.job.tree import panel_name
from robust_ledger.plan import Plan


class CarryingPage(Page):
    """A page on which a circuit can be in hand, and go to another panel."""

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.panel_under: Callable[[QPoint], str] = lambda _point: (
            ""
        )  # the panel whose button is at a point of the screen

    def carry_to(self, panel_id: str) -> bool:
        """Take what is in hand to another panel; False where nothing is."""
        return False


class PanelChooser(QWidget):
    """Not there for a job of one panel."""

    wanted = pyqtSignal(str)

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store = store
        self.row = FlowLayout(self)
        self.group = QButtonGroup(self)
        self.buttons: dict[str, QPushButton] = {}
        self.setAccessibleName("Panels")
        for keys, step in (("Ctrl+PgDown", 1), ("Ctrl+PgUp", -1)):
            shortcut = QShortcut(QKeySequence(keys), self)
            shortcut.activated.connect(lambda step=step: self.step(step))

    def show_plan(self, plan: Plan) -> None:
        """The buttons of the plan's panels; made anew only when there are others."""
        if list(self.buttons) != list(plan.benches):
            for button in self.buttons.values():
                self.group.removeButton(button)
                self.row.removeWidget(button)
                button.deleteLater()
            self.buttons = {panel_id: self._button(panel_id) for panel_id in plan.benches}
        for panel_id, bench in plan.benches.items():
            name, left = panel_name(plan.job, panel_id), bench.spaces_left
            words = f"{left.text()} open" if bench.job.panel.spaces else "label not read"
            button = self.buttons[panel_id]
            button.setText(f"{name[:1].upper()}{name[1:]}: {words}")
            button.setChecked(panel_id == self.store.panel_id)
        self.setVisible(len(self.buttons) > 1)

    def _button(self, panel_id: str) -> QPushButton:
        button = QPushButton()
        button.setCheckable(True)
        button.setToolTip("Ctrl+PgDown and Ctrl+PgUp; with a circuit in hand it goes along")
        button.clicked.connect(lambda: self.wanted.emit(panel_id))
        self.group.addButton(button)
        self.row.addWidget(button)
        button.show()
        return button

    def step(self, by: int) -> None:
        """The next panel, or the one before."""
        ids = list(self.buttons)
        if len(ids) > 1:
            self.wanted.emit(ids[(ids.index(self.store.panel_id) + by) % len(ids)])

    def panel_under(self, point: QPoint) -> str:
        """The panel whose button is at a point of the screen; "" for none."""
        for panel_id, button in self.buttons.items():
            if button.isVisible() and button.rect().contains(button.mapFromGlobal(point)):
                return panel_id
        return ""
