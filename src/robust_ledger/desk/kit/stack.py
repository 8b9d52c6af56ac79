"""Pages of which one shows: the room asked for is that of the page that shows, not of the tallest one."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtWidgets import QStackedWidget


class Stack(QStackedWidget):
    """A stack as large as the page in view needs; one that is not shown asks for nothing."""

    def __init__(self) -> None:
        super().__init__()
        self.currentChanged.connect(lambda _index: self.updateGeometry())

    def minimumSizeHint(self) -> QSize:
        shown = self.currentWidget()
        return shown.minimumSizeHint() if shown else super().minimumSizeHint()

    def sizeHint(self) -> QSize:
        shown = self.currentWidget()
        return shown.sizeHint() if shown else super().sizeHint()

    def hasHeightForWidth(self) -> bool:
        shown = self.currentWidget()
        return shown.hasHeightForWidth() if shown else False

    def heightForWidth(self, width_px: int) -> int:
        shown = self.currentWidget()
        return shown.heightForWidth(width_px) if shown else -1
