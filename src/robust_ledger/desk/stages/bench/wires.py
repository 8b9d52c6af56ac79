"""The three line styles of the wires, each with how many there are."""

from __future__ import annotations

from collections.abc import Mapping

from PyQt6.QtCore import QPointF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.panel.reach import JUST, NEW, REACHES, SHORT, UNKNOWN

_ROWS = (
    (REACHES, "reaches", "accent", Qt.PenStyle.SolidLine),
    (JUST, "just", "ask", Qt.PenStyle.DashLine),
    (SHORT, "short: splice", "stop", Qt.PenStyle.DotLine),
    (UNKNOWN, "not known", "faint", Qt.PenStyle.DashLine),
    (NEW, "new cable", "faint", Qt.PenStyle.NoPen),
)


class WireLegend(QWidget):
    """Painted as the drawing paints them."""

    def __init__(self) -> None:
        super().__init__()
        self.counts: Mapping[str, int] = {}
        self.setAccessibleName("Wires by how they reach")

    def show_counts(self, counts: Mapping[str, int]) -> None:
        self.counts = counts
        self.setAccessibleDescription(", ".join(f"{words} {counts.get(verdict, 0)}" for verdict, words, _, _ in _ROWS))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(LOOK.px(160), LOOK.px(17) * len(_ROWS))

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(LOOK.font(12))
        for row, (verdict, words, color, style) in enumerate(_ROWS):
            y = LOOK.px(17) * (row + 0.5)
            painter.setPen(QPen(LOOK.color(color), LOOK.px(2), style))
            if style != Qt.PenStyle.NoPen:
                painter.drawLine(QPointF(0, y), QPointF(LOOK.px(30), y))
            painter.setPen(LOOK.color("ink"))
            painter.drawText(QPointF(LOOK.px(38), y + LOOK.px(4)), words)
            painter.drawText(QPointF(LOOK.px(140), y + LOOK.px(4)), str(self.counts.get(verdict, 0)))
