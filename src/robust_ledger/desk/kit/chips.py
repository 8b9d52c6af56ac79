"""A line of text whose parts are drawn as chips: what the call-out line was understood as, piece by piece."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent

from robust_ledger.desk.kit.paint import CENTER, LEFT
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import Label

BETWEEN = " · "
AFTER = "   "


class ChipLine(Label):
    """Parts between dots are chips, those that ask ("gauge?") outlined; what follows three spaces is a plain hint. A fault
    is plain text in the color of faults. Chips that do not fit go to the next line."""

    def sizeHint(self) -> QSize:
        return QSize(LOOK.px(400), LOOK.px(46))

    def minimumSizeHint(self) -> QSize:
        return QSize(LOOK.px(200), LOOK.px(46))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.property("role") == "fault" or (BETWEEN not in self.text() and "?" not in self.text()):
            super().paintEvent(event)
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(LOOK.font(13))
        metrics = QFontMetricsF(painter.font())
        known, *hints = self.text().split(AFTER)
        x, y, height, pad = 0.0, 1.0, LOOK.px(21), LOOK.px(7)
        for text in known.split(BETWEEN):
            width = metrics.horizontalAdvance(text) + 2 * pad
            if x and x + width > self.width():
                x, y = 0.0, y + height + 2
            rect = QRectF(x + 0.5, y + 0.5, width, height - 1)
            asks = text.endswith("?") or "?" in text
            painter.setPen(LOOK.color("ask" if asks else "wash"))
            painter.setBrush(LOOK.color("page" if asks else "wash"))
            painter.drawRoundedRect(rect, 4, 4)
            painter.setPen(LOOK.color("ask" if asks else "ink"))
            painter.drawText(rect, CENTER, text)
            x += width + LOOK.px(5)
        painter.setPen(LOOK.color("accent"))
        for hint in hints:
            width = metrics.horizontalAdvance(hint) + pad
            if x and x + width > self.width():
                x, y = 0.0, y + height + 2
            painter.drawText(QRectF(x + pad, y, width, height), LEFT, hint)
            x += width + LOOK.px(8)
