"""Small things that painted widgets share: hatching of the legs, text in boxes."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen

from robust_ledger.desk.kit.theme import LOOK

LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
CENTER = Qt.AlignmentFlag.AlignCenter


def hatch_leg(painter: QPainter, box: QRectF, leg: str) -> None:
    """A leg's ground: A slanted lines, B level ones, so that legs are told apart without color; its letter on top."""
    painter.save()
    painter.setClipRect(box)
    painter.setPen(QPen(LOOK.color("faint"), 1))
    gap = LOOK.px(5)
    if leg == "A":
        x = box.left() - box.height()
        while x < box.right():
            painter.drawLine(int(x), int(box.bottom()), int(x + box.height()), int(box.top()))
            x += gap
    else:
        y = box.top() + gap / 2
        while y < box.bottom():
            painter.drawLine(int(box.left()), int(y), int(box.right()), int(y))
            y += gap
    painter.restore()
    size = min(box.height() - 2, LOOK.px(17))
    pill = QRectF(box.center().x() - size / 2, box.center().y() - size / 2, size, size)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(LOOK.color("page"))
    painter.drawEllipse(pill)
    painter.setPen(LOOK.color("ink"))
    painter.setFont(LOOK.font(min(12, size * 0.75 / LOOK.scale), bold=True))
    painter.drawText(pill, CENTER, leg)


def fitted(text: str, painter: QPainter, width: float) -> str:
    """Text shortened at its end to a width; only for names, never for figures."""
    return QFontMetricsF(painter.font()).elidedText(text, Qt.TextElideMode.ElideRight, width)


def box(
    painter: QPainter, rect: QRectF, edge: QColor, fill: QColor | None, dashed: bool = False, width: float = 1
) -> None:
    """Draw a box, filled or not."""
    pen = QPen(edge, width)
    if dashed:
        pen.setStyle(Qt.PenStyle.DashLine)
    painter.setPen(pen)
    painter.setBrush(fill if fill is not None else Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(rect, 3, 3)
