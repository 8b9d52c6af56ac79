"""The balance of the legs as a beam: level when both carry the same."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QAbstractButton

from robust_ledger.desk.kit.paint import LEFT, RIGHT
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.ledger.text import UNKNOWN, number_text
from robust_ledger.plan import Plan

STEEPEST_DEGREES = 12.0


class LegBeam(QAbstractButton):
    """Tilts by the share by which one leg carries more; full tilt from one third on."""

    def __init__(self) -> None:
        super().__init__()
        self.a_amps: float | None = None
        self.b_amps: float | None = None

    def show_plan(self, plan: Plan) -> None:
        a, b = plan.bench.legs[0], plan.bench.legs[1]
        self.a_amps, self.b_amps = (e.amount if e.known else None for e in (a, b))
        self.setAccessibleName(f"Leg balance: A {self._text(self.a_amps)} A, B {self._text(self.b_amps)} A")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(LOOK.px(170), LOOK.px(70))

    @staticmethod
    def _text(amps: float | None) -> str:
        return UNKNOWN if amps is None else number_text(amps, 0)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, px = QPainter(self), LOOK.px
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        width = self.width()
        painter.setFont(LOOK.font(15, bold=True))
        painter.setPen(LOOK.color("ink"))
        painter.drawText(QRectF(2, 0, width / 2, px(24)), LEFT, f"A {self._text(self.a_amps)}")
        painter.drawText(QRectF(width / 2, 0, width / 2 - 2, px(24)), RIGHT, f"B {self._text(self.b_amps)}")
        middle, pivot = width / 2, px(44)
        if self.a_amps is not None and self.b_amps is not None:
            whole = max(self.a_amps + self.b_amps, 1e-9)
            tilt = max(-1.0, min(1.0, 3 * (self.b_amps - self.a_amps) / whole)) * STEEPEST_DEGREES
            reach = width / 2 - px(6)
            dx, dy = reach * math.cos(math.radians(tilt)), reach * math.sin(math.radians(tilt))
            painter.setPen(QPen(LOOK.color("ink"), px(4), Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            painter.drawLine(QPointF(middle - dx, pivot - dy), QPointF(middle + dx, pivot + dy))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(LOOK.color("ink"))
        size = px(14)
        painter.drawPolygon(
            QPolygonF(
                [
                    QPointF(middle, pivot),
                    QPointF(middle - size, pivot + size * 1.5),
                    QPointF(middle + size, pivot + size * 1.5),
                ]
            )
        )
        if self.hasFocus():
            painter.setPen(LOOK.color("accent"))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -2, -2))
