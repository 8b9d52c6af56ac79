"""A ruled table with one entry behind each row: keeps its place when the plan changes, says which row is chosen."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from msgspec import Struct
from PyQt6.QtCore import QAbstractTableModel, QItemSelectionModel, QModelIndex, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QKeySequence, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableView

from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import plain_tip

RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter


# What the column that takes the rest of the width needs at the least, at text size 1.
LEAST_STRETCH = 130
FEW_FIGURES = 60  # a column up to this wide holds a number or a tag

NO_PARENT = QModelIndex()


class Column(Struct, frozen=True):
    """A column: its head, width at text size 1 (0 = takes what is left), figures right-aligned."""

    head: str
    width: int
    figures: bool = False


class Row(Struct, frozen=True):
    """A row: its key, its cells, and how it is meant ("", "bold", "faint", "group", "warn")."""

    key: str
    cells: tuple[str, ...]
    mood: str = ""
    warn_cells: tuple[int, ...] = ()


class RowModel(QAbstractTableModel):
    """Rows as they are; replaced as a whole."""

    def __init__(self, columns: Sequence[Column]) -> None:
        super().__init__()
        self.columns, self.rows = list(columns), [Row("", ())] * 0

    def rowCount(self, parent: QModelIndex = NO_PARENT) -> int:
        return len(self.rows)

    def columnCount(self, parent: QModelIndex = NO_PARENT) -> int:
        return len(self.columns)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        row, column = self.rows[index.row()], self.columns[index.column()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return row.cells[index.column()] if index.column() < len(row.cells) else ""
        if role == Qt.ItemDataRole.ToolTipRole and index.column() < len(row.cells):
            return plain_tip(row.cells[index.column()]) if len(row.cells[index.column()]) > 18 else None
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return RIGHT if column.figures else LEFT
        if role == Qt.ItemDataRole.FontRole:
            return LOOK.font(13, bold=row.mood in ("bold", "group"))
        if role == Qt.ItemDataRole.ForegroundRole:
            if index.column() in row.warn_cells:
                return LOOK.color("fix")
            return LOOK.color("faint" if row.mood == "faint" else "ink")
        return None

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return self.columns[section].head
        if role == Qt.ItemDataRole.TextAlignmentRole and orientation == Qt.Orientation.Horizontal:
            return RIGHT if self.columns[section].figures else LEFT
        return None

    def show(self, rows: Sequence[Row]) -> None:
        self.beginResetModel()
        self.rows = list(rows)
        self.endResetModel()


class LedgerTable(QTableView):
    """The table itself. Enter or a double click opens a row, Delete asks for its removal, moving chooses it."""

    chosen = pyqtSignal(str)
    opened = pyqtSignal(str)
    removal_asked = pyqtSignal(list)
    rows_selected = pyqtSignal()
    copy_asked = pyqtSignal()
    paste_asked = pyqtSignal()
    fill_asked = pyqtSignal()

    def __init__(self, name: str, columns: Sequence[Column], row_height: int = 25, multiple: bool = False) -> None:
        super().__init__()
        self.rows_model, self.row_height = RowModel(columns), row_height
        self.when_empty = ""
        self.setModel(self.rows_model)
        self.setAccessibleName(name)
        self.setShowGrid(False)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        mode = QAbstractItemView.SelectionMode
        self.setSelectionMode(mode.ExtendedSelection if multiple else mode.SingleSelection)
        self.setTabKeyNavigation(False)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        there(self.verticalHeader()).hide()
        there(self.horizontalHeader()).setHighlightSections(False)
        there(self.horizontalHeader()).setSectionsClickable(False)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setWordWrap(False)
        self._quiet = False
        there(self.selectionModel()).currentRowChanged.connect(self._current_changed)
        there(self.selectionModel()).selectionChanged.connect(self._selection_changed)
        self.doubleClicked.connect(lambda index: self.opened.emit(self.rows_model.rows[index.row()].key))
        self.clicked.connect(lambda index: self.chosen.emit(self.rows_model.rows[index.row()].key))
        self.resize_columns()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A hairline under each row, like a ruled page; an empty table says what to do next."""
        super().paintEvent(event)
        self._rule()
        if not self.rows_model.rows and self.when_empty:
            painter = QPainter(self.viewport())
            painter.setPen(LOOK.color("faint"))
            painter.setFont(LOOK.font(14))
            painter.drawText(
                there(self.viewport()).rect().adjusted(0, LOOK.px(30), 0, 0),
                Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop,
                self.when_empty,
            )

    def _rule(self) -> None:
        """All hairlines at once: one for each cell costs more than the text."""
        first = max(0, self.rowAt(0))
        last = self.rowAt(there(self.viewport()).height() - 1)
        last = len(self.rows_model.rows) - 1 if last < 0 else last
        painter = QPainter(self.viewport())
        painter.setPen(QPen(LOOK.color("rule"), 1))
        for row in range(first, last + 1):
            y = self.rowViewportPosition(row) + self.rowHeight(row) - 1
            painter.drawLine(0, y, there(self.viewport()).width(), y)

    def resize_columns(self, room_px: int = 0) -> None:
        """Widths and heights at the current text size; narrower, each by the same part, where there is less room than that. Columns of a few
        figures keep theirs: a number that is cut says something else."""
        header = self.horizontalHeader()
        widths = [column.width or LEAST_STRETCH for column in self.rows_model.columns]
        kept_px = LOOK.px(sum(width for width in widths if width <= FEW_FIGURES))
        rest_px = LOOK.px(sum(width for width in widths if width > FEW_FIGURES))
        part = min(1.0, max(room_px - kept_px, 0) / rest_px) if room_px and rest_px else 1.0
        for number, column in enumerate(self.rows_model.columns):
            stretch = column.width == 0
            there(header).setSectionResizeMode(
                number, QHeaderView.ResizeMode.Stretch if stretch else QHeaderView.ResizeMode.Fixed
            )
            if not stretch:
                own = 1.0 if column.width <= FEW_FIGURES else part
                there(header).resizeSection(number, int(LOOK.px(column.width) * own))
        there(self.verticalHeader()).setDefaultSectionSize(LOOK.px(self.row_height))
        self.setMinimumWidth(int(kept_px + rest_px * part))

    def show_rows(self, rows: Sequence[Row]) -> None:
        """Replace the rows, staying on the same key where it still exists."""
        keys = self.selected_keys()
        current = self.current_key()
        self._quiet = True
        self.rows_model.show(rows)
        position = {row.key: number for number, row in enumerate(rows)}
        if current in position:
            self.setCurrentIndex(self.rows_model.index(position[current], 0))
        if len(keys) > 1:
            flags = QItemSelectionModel.SelectionFlag.Select | QItemSelectionModel.SelectionFlag.Rows
            for key in keys:
                if key in position:
                    there(self.selectionModel()).select(self.rows_model.index(position[key], 0), flags)
        self._quiet = False

    def choose(self, key: str) -> None:
        """Go to a row without saying so."""
        self._quiet = True
        for number, row in enumerate(self.rows_model.rows):
            if row.key == key:
                self.setCurrentIndex(self.rows_model.index(number, 0))
                self.scrollTo(self.currentIndex())
        self._quiet = False

    def current_key(self) -> str:
        index = self.currentIndex()
        return self.rows_model.rows[index.row()].key if index.isValid() else ""

    def selected_keys(self) -> list[str]:
        return [self.rows_model.rows[index.row()].key for index in there(self.selectionModel()).selectedRows()]

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_F2) and self.current_key():
            self.opened.emit(self.current_key())
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.selected_keys():
            self.removal_asked.emit(self.selected_keys())
        elif event.matches(QKeySequence.StandardKey.Copy):
            self.copy_asked.emit()
        elif event.matches(QKeySequence.StandardKey.Paste):
            self.paste_asked.emit()
        elif event.key() == Qt.Key.Key_D and event.modifiers() == Qt.KeyboardModifier.ControlModifier:
            self.fill_asked.emit()
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Coming in by Tab chooses the first row, so that the arrows work at once."""
        super().focusInEvent(event)
        if self.rows_model.rows and not there(self.selectionModel()).hasSelection():
            self.selectRow(max(0, self.currentIndex().row()))

    def _current_changed(self, current: QModelIndex, _previous: QModelIndex) -> None:
        if current.isValid() and not self._quiet:
            self.chosen.emit(self.rows_model.rows[current.row()].key)

    def _selection_changed(self, *_ranges: Any) -> None:
        if not self._quiet:
            self.rows_selected.emit()
