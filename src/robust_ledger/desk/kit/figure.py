"""A caption, a large figure and a small unit; a click shows the working."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QSize, Qt
from PyQt6.QtGui import QFontMetrics, QPainter, QPaintEvent
from PyQt6.QtWidgets import QAbstractButton

from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.ledger.text import UNKNOWN


class Figure(QAbstractButton):
    """A caption, a large figure and a small unit."""

    def __init__(self, caption: str) -> None:
        super().__init__()
        self.caption, self.figure, self.unit = caption, UNKNOWN, ""
        self.serious = False
        self.entry_id = ""

    def show_figure(self, figure: str, unit: str, entry_id: str, serious: bool = False) -> None:
        self.figure, self.unit, self.entry_id, self.serious = figure, unit, entry_id, serious
        self.setText(f"{figure} {unit}".strip())
        self.setAccessibleName(f"{self.caption}: {figure} {unit}".strip())
        self.setToolTip("Show the working")
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        figure = QFontMetrics(LOOK.font(21, bold=True)).horizontalAdvance(self.figure)
        unit = QFontMetrics(LOOK.font(12)).horizontalAdvance(self.unit)
        caption = QFontMetrics(LOOK.font(12)).horizontalAdvance(self.caption)
        return QSize(max(figure + unit + LOOK.px(7), caption) + LOOK.px(18), LOOK.px(58))

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, px = QPainter(self), LOOK.px
        left = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        if self.underMouse() or self.hasFocus():
            painter.fillRect(self.rect(), LOOK.color("wash"))
        painter.setPen(LOOK.color("faint"))
        painter.setFont(LOOK.font(12))
        painter.drawText(QRect(px(9), px(6), self.width(), px(18)), left, self.caption)
        font = LOOK.font(21, bold=True)
        painter.setFont(font)
        painter.setPen(LOOK.color("stop" if self.serious else "ink"))
        painter.drawText(QRect(px(9), px(24), self.width(), px(30)), left, self.figure)
        offset = px(9) + QFontMetrics(font).horizontalAdvance(self.figure) + px(5)
        painter.setFont(LOOK.font(12))
        painter.setPen(LOOK.color("faint"))
        painter.drawText(QRect(offset, px(29), self.width(), px(22)), left, self.unit)
        if self.hasFocus():
            painter.setPen(LOOK.color("accent"))
            painter.drawRect(self.rect().adjusted(1, 1, -2, -2))
