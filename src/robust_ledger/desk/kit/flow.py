"""A row of widgets that goes on in the next line where it does not fit."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRect, QSize
from PyQt6.QtWidgets import QLayout, QLayoutItem, QWidget

from robust_ledger.desk.kit.qt import there


class FlowLayout(QLayout):
    """Widgets side by side, in as many lines as their width takes; `right`: at the right end of each."""

    def __init__(self, parent: QWidget | None = None, right: bool = False) -> None:
        super().__init__(parent)
        self.right = right
        self.items: list[QLayoutItem] = []
        self.setContentsMargins(0, 0, 0, 0)
        self.setSpacing(5)

    def addItem(self, item: QLayoutItem | None) -> None:
        self.items.append(there(item))

    def count(self) -> int:
        return len(self.items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self.items[index] if 0 <= index < len(self.items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self.items.pop(index) if 0 <= index < len(self.items) else None

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        lines = self._lines(width)
        return sum(self._height(line) for line in lines) + self.spacing() * max(0, len(lines) - 1)

    def sizeHint(self) -> QSize:
        """All in one line."""
        shown = self._shown()
        width = sum(item.sizeHint().width() for item in shown) + self.spacing() * max(0, len(shown) - 1)
        return QSize(width, self._height(shown))

    def minimumSize(self) -> QSize:
        """The widest of them."""
        shown = self._shown()
        return QSize(max((item.sizeHint().width() for item in shown), default=0), self._height(shown))

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        top = rect.top()
        for line in self._lines(rect.width()):
            width = sum(item.sizeHint().width() for item in line) + self.spacing() * (len(line) - 1)
            left = rect.right() + 1 - width if self.right else rect.left()
            for item in line:
                item.setGeometry(QRect(QPoint(left, top), item.sizeHint()))
                left += item.sizeHint().width() + self.spacing()
            top += self._height(line) + self.spacing()

    def _shown(self) -> list[QLayoutItem]:
        return [item for item in self.items if not item.isEmpty()]

    def _lines(self, width: int) -> list[list[QLayoutItem]]:
        lines: list[list[QLayoutItem]] = []
        used = 0
        for item in self._shown():
            wide = item.sizeHint().width()
            if not lines or used + self.spacing() + wide > width:
                lines.append([item])
                used = wide
            else:
                lines[-1].append(item)
                used += self.spacing() + wide
        return lines

    @staticmethod
    def _height(line: list[QLayoutItem]) -> int:
        return max((item.sizeHint().height() for item in line), default=0)
