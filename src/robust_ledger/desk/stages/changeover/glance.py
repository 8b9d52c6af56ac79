"""The glance view: what each does now and next, the time, the dark so far, when the power is back; to be read from six feet."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct
from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QFont, QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from robust_ledger.desk.kit.theme import LOOK

LARGE_PX, SMALL_PX = 44, 15  # letters of 44 px are about 8 mm tall in capitals: plain at six feet


class Reply(Struct, frozen=True):
    """A figure of the glance view: what it is, how it reads, and whether it is bad news."""

    caption: str
    figure: str
    bad: bool = False


class Turn(Struct, frozen=True):
    """What one person does: their name, the task, whether it is going on, and what comes next."""

    name: str
    task: str
    going: bool
    then: str
    hold: bool


class Glance(QWidget):
    """Painted, so that it fills whatever room there is."""

    def __init__(self) -> None:
        super().__init__()
        self.figures: Sequence[Reply] = ()
        self.turns: Sequence[Turn] = ()
        self.setAccessibleName("The day at a glance")

    def sizeHint(self) -> QSize:
        return QSize(LOOK.px(700), LOOK.px(250))

    def minimumSizeHint(self) -> QSize:
        return QSize(LOOK.px(420), LOOK.px(220))

    def show_day(self, figures: Sequence[Reply], turns: Sequence[Turn]) -> None:
        self.figures, self.turns = figures, turns
        words = [f"{one.caption}: {one.figure}" for one in figures]
        words += [f"{one.name}: {'now' if one.going else 'next'} {one.task}" for one in turns]
        self.setAccessibleDescription(". ".join(words))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        wide = self.width() / max(1, len(self.figures))
        for number, one in enumerate(self.figures):
            self._words(painter, QRectF(number * wide, 0, wide - 8, LOOK.px(20)), one.caption, SMALL_PX, False, "faint")
            self._words(
                painter,
                QRectF(number * wide, LOOK.px(20), wide - 8, LOOK.px(58)),
                one.figure,
                LARGE_PX,
                True,
                "stop" if one.bad else "ink",
            )
        top = LOOK.px(84)
        tall = (self.height() - top) / max(1, len(self.turns))
        for number, turn in enumerate(self.turns):
            at = top + number * tall
            painter.fillRect(
                QRectF(0, at, self.width(), tall - LOOK.px(6)), LOOK.color("wash" if turn.going else "side")
            )
            head = f"{turn.name}: {'now' if turn.going else 'next'}{', a hold' if turn.hold else ''}"
            self._words(
                painter,
                QRectF(12, at + 4, self.width() - 24, LOOK.px(20)),
                head,
                SMALL_PX,
                True,
                "stop" if turn.hold else "accent",
            )
            room = QRectF(12, at + LOOK.px(24), self.width() - 24, tall - LOOK.px(54))
            self._words(painter, room, turn.task, LARGE_PX, True, "ink", wrap=True)
            foot = QRectF(12, at + tall - LOOK.px(32), self.width() - 24, LOOK.px(22))
            self._words(painter, foot, turn.then, SMALL_PX, False, "faint")

    def _words(
        self, painter: QPainter, room: QRectF, text: str, size: float, bold: bool, color: str, wrap: bool = False
    ) -> None:
        """Words in a room, smaller where they do not fit."""
        px = float(LOOK.px(size))
        flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop
        while True:
            font = QFont(LOOK.font(size, bold))
            font.setPixelSize(int(px))
            found = QFontMetricsF(font).boundingRect(room, int(Qt.TextFlag.TextWordWrap) if wrap else 0, text)
            if px <= 12 or (found.width() <= room.width() and found.height() <= room.height() + 2):
                break
            px -= 2
        painter.setFont(font)
        painter.setPen(LOOK.color(color))
        painter.drawText(room, int(flags) | (int(Qt.TextFlag.TextWordWrap) if wrap else 0), text)
