"""The what-if columns, painted: each state of the house as a bar against the ratings, its figures under it."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from robust_ledger.desk.kit.paint import CENTER, LEFT, RIGHT, box, fitted
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.text import number_text
from robust_ledger.load.whatif import RATINGS_A, Column

_ROWS = ("load", "main", *(str(rating) for rating in RATINGS_A), "link", "spaces")
_SCALE_WIDTH = 128
_ROW = 21
_HEAD = 40


class WhatIfView(QWidget):
    """Left and right go from column to column, up and down through its figures; each shows its working."""

    column_chosen = pyqtSignal(str)
    entry_chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.columns: Sequence[Column] = ()
        self.link_words = ""
        self.current, self.row = "after", 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("What-if columns")
        self.setMinimumHeight(LOOK.px(300))

    def sizeHint(self) -> QSize:
        return QSize(LOOK.px(700), LOOK.px(300))

    def show_columns(self, columns: Sequence[Column], link_words: str) -> None:
        self.columns, self.link_words = columns, link_words
        if self.current not in [column.key for column in columns]:
            self.current = "after"
        self._describe()
        self.setMinimumHeight(LOOK.px(300))
        self.update()

    def choose(self, key: str) -> None:
        """Go to a column without saying so."""
        self.current = key
        self._describe()
        self.update()

    # --- figures --------------------------------------------------------------------------------------------------
    def entry_of(self, column: Column, row: str) -> Entry | None:
        """The entry behind a figure of a column."""
        if row in ("load", "main", "spaces"):
            return {"load": column.amperes, "main": column.main, "spaces": column.spaces}[row]
        return column.link_room if row == "link" else column.room[int(row)]

    def cell_text(self, column: Column, row: str) -> str:
        """What stands in a cell: amperes, or what is spare on a rating."""
        entry = self.entry_of(column, row)
        if entry is None:
            return "–"
        if not entry.known or row in ("load", "main", "spaces"):
            return entry.text()
        left = number_text(abs(entry.amount))
        return f"fits, {left} A left" if entry.amount >= 0 else f"{left} A over"

    def _row_words(self, row: str) -> str:
        words = {"load": "load", "main": "main needed", "spaces": "spaces", "link": self.link_words or "weakest link"}
        return words.get(row, f"{row} A main")

    def _describe(self) -> None:
        column = next((c for c in self.columns if c.key == self.current), None)
        if column:
            row = _ROWS[self.row]
            self.setAccessibleDescription(f"{column.title}: {self._row_words(row)} {self.cell_text(column, row)}")

    # --- painting -------------------------------------------------------------------------------------------------
    def _frame(self, number: int) -> QRectF:
        """The strip of a column."""
        left = LOOK.px(_SCALE_WIDTH)
        width = (self.width() - left) / max(1, len(self.columns))
        return QRectF(left + number * width, 0, width, self.height())

    def _table_top(self) -> float:
        return self.height() - LOOK.px(_ROW) * len(_ROWS) - 2

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self.columns:
            return
        for number, column in enumerate(self.columns):
            if column.key == self.current:
                frame = self._frame(number).adjusted(2, 1, -2, -1)
                box(painter, frame, LOOK.color("accent"), LOOK.color("wash"), width=2.5 if self.hasFocus() else 1)
        self._paint_scale(painter)
        for number, column in enumerate(self.columns):
            self._paint_column(painter, self._frame(number), column)
        self._paint_row_words(painter)

    def _scale_y(self, amperes: float) -> float:
        top, bottom = LOOK.px(_HEAD) + 4.0, self._table_top() - 6.0
        known = [c.amperes.amount for c in self.columns if c.amperes.known]
        most = max([*known, RATINGS_A[-1]]) * 1.06
        return bottom - (bottom - top) * amperes / most

    def _paint_scale(self, painter: QPainter) -> None:
        """A hairline across for each rating, and a heavier one for the weakest link."""
        painter.setFont(LOOK.font(11.5))
        link = self._link_a()
        written = -1000.0
        for rating in reversed(RATINGS_A):
            y = self._scale_y(rating)
            painter.setPen(QPen(LOOK.color("rule"), 1))
            painter.drawLine(QPointF(LOOK.px(54), y), QPointF(self.width(), y))
            if y - written < LOOK.px(14):
                continue
            written = y
            painter.setPen(LOOK.color("faint"))
            painter.drawText(QRectF(0, y - LOOK.px(9), LOOK.px(50), LOOK.px(18)), RIGHT, f"{rating} A")
        if link is not None:
            y = self._scale_y(link)
            painter.setPen(QPen(LOOK.color("stop"), 2, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(LOOK.px(54), y), QPointF(self.width(), y))

    def _link_a(self) -> float | None:
        column = self.columns[0]
        return column.link_room.steps[0].amount if column.link_room and column.link_room.steps[0].known else None

    def _paint_column(self, painter: QPainter, frame: QRectF, column: Column) -> None:
        px = LOOK.px
        chosen = column.key == self.current
        painter.setPen(LOOK.color("ink"))
        painter.setFont(LOOK.font(12, bold=chosen))
        head = frame.adjusted(px(6), px(3), -px(6), 0)
        head.setHeight(px(_HEAD))
        painter.drawText(
            head, Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap, column.title
        )
        if column.amperes.known:
            self._paint_bar(painter, frame, column)
        for number, row in enumerate(_ROWS):
            cell = QRectF(frame.left() + 4, self._table_top() + number * px(_ROW), frame.width() - 8, px(_ROW))
            entry = self.entry_of(column, row)
            bold = row in ("load", "main")
            over = row not in ("load", "main", "spaces") and entry is not None and entry.known and entry.amount < 0
            painter.setFont(LOOK.font(12.5 if bold else 12, bold=bold))
            painter.setPen(LOOK.color("stop" if over else "ink"))
            painter.drawText(cell, CENTER, self.cell_text(column, row))
            if chosen and number == self.row and self.hasFocus():
                painter.setPen(QPen(LOOK.color("accent"), 1.5))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(cell.adjusted(2, 1, -2, -1))

    def _paint_bar(self, painter: QPainter, frame: QRectF, column: Column) -> None:
        """The load as an upright bar; what is above the weakest link is hatched."""
        width = min(frame.width() * 0.36, LOOK.px(44))
        zero, top = self._scale_y(0), self._scale_y(column.amperes.amount)
        bar = QRectF(frame.center().x() - width / 2, top, width, zero - top)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(LOOK.color("accent"))
        painter.drawRect(bar)
        link = self._link_a()
        if link is not None and column.amperes.amount > link:
            over = QRectF(bar.left(), top, width, self._scale_y(link) - top)
            painter.setBrush(LOOK.color("stop"))
            painter.drawRect(over)
            painter.setBrush(Qt.BrushStyle.BDiagPattern)
            painter.setPen(LOOK.color("page"))
            painter.drawRect(over)

    def _paint_row_words(self, painter: QPainter) -> None:
        painter.setFont(LOOK.font(12))
        for number, row in enumerate(_ROWS):
            y = self._table_top() + number * LOOK.px(_ROW)
            painter.setPen(QPen(LOOK.color("rule"), 1))
            painter.drawLine(QPointF(0, y), QPointF(self.width(), y))
            painter.setPen(LOOK.color("faint"))
            words = fitted(self._row_words(row), painter, LOOK.px(_SCALE_WIDTH - 6))
            painter.drawText(QRectF(0, y, LOOK.px(_SCALE_WIDTH - 6), LOOK.px(_ROW)), LEFT, words)

    # --- acting ---------------------------------------------------------------------------------------------------
    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        at = event.position()
        for number, column in enumerate(self.columns):
            if self._frame(number).contains(at):
                row = int((at.y() - self._table_top()) // LOOK.px(_ROW))
                self._go(column.key, row if 0 <= row < len(_ROWS) else 0)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        keys = [column.key for column in self.columns]
        here = keys.index(self.current) if self.current in keys else 0
        sideways = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        down = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
        if not keys or not (sideways or down):
            super().keyPressEvent(event)
            return
        self._go(keys[(here + sideways) % len(keys)], (self.row + down) % len(_ROWS))

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self.update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.update()

    def _go(self, key: str, row: int) -> None:
        moved = key != self.current
        self.current, self.row = key, row
        self._describe()
        self.update()
        if moved:
            self.column_chosen.emit(key)
        column = next(c for c in self.columns if c.key == key)
        entry = self.entry_of(column, _ROWS[row])
        if entry:
            self.entry_chosen.emit(entry.id)
