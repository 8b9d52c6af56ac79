"""The circuits that wait for a space, beside the drawing."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QListWidget, QListWidgetItem, QSizePolicy

from robust_ledger.branch.model import Branch, Origin
from robust_ledger.desk.stages.bench.view import BenchView


class WaitingList(QListWidget):
    """Circuits without a space. Enter takes one in hand; it can be dragged onto the panel too."""

    def __init__(self, view: BenchView) -> None:
        super().__init__()
        self.view = view
        self.setAccessibleName("Circuits waiting for a space")
        self.setWordWrap(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        # What is left of the side is its room, so that the side never makes the page taller than the window.
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)
        self.itemActivated.connect(self._take)

    def _take(self, item: QListWidgetItem) -> None:
        self.view.setFocus()
        self.view.pick(item.data(Qt.ItemDataRole.UserRole))

    def _point(self, event: QMouseEvent) -> QPointF:
        point: QPointF = self.view.mapFromGlobal(event.globalPosition())
        return point

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        item = self.currentItem()
        if item is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self.view.drag_from_tray(item.data(Qt.ItemDataRole.UserRole), self._point(event))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self.view.in_hand and event is not None:
            self.view.drop_from_tray(self._point(event))
        super().mouseReleaseEvent(event)


def waiting_text(branch: Branch) -> str:
    """A circuit in the list: a reservation, or its tag with its breaker."""
    if branch.origin is Origin.FUTURE:
        return f"{branch.rating_text} later: {branch.feeds}"
    tag = f"tag {branch.tag}  " if branch.tag != "new" else ""
    return f"{tag}{branch.rating_text}  {branch.directory_text}"
