"""Fields that edit the job: text with a message beside it, choices and ticks. What is typed wrong stays to be mended."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from msgspec import Struct
from PyQt6.QtCore import QEvent, Qt, QTimer
from PyQt6.QtGui import QKeyEvent, QKeySequence, QWheelEvent
from PyQt6.QtWidgets import QApplication, QCheckBox, QComboBox, QGridLayout, QLineEdit, QWidget

from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.words import Label
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job

Get = Callable[[Job], Any]
Put = Callable[[Job, Any], Job]


def of(part: str, name: str) -> tuple[Callable[[Job], Any], Callable[[Job, Any], Job]]:
    """How one field of one part of the job is read and written: of("panel", "spaces")."""
    return (
        lambda job: getattr(getattr(job, part), name),
        lambda job, value: with_part(job, part, **{name: value}),
    )


class Field:
    """Common to all: how the value is read from the job and written to it."""

    def __init__(self, store: JobStore, label: str, get: Callable[[Job], Any], put: Callable[[Job, Any], Job]) -> None:
        self.store, self.label, self.get, self.put = store, label, get, put

    def commit(self, value: Any, say: Callable[[str], None] | None = None) -> bool:
        """Put the value into the job; where the job cannot hold it, `say` is given the reason."""
        return self.store.edit(f"change {self.label.lower()}", lambda job: self.put(job, value), say)


class Line(QLineEdit):
    """A line of text that keeps Ctrl+Z to itself only while there is typing of its own to undo."""

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            undo = event.matches(QKeySequence.StandardKey.Undo) and not self.isUndoAvailable()
            redo = event.matches(QKeySequence.StandardKey.Redo) and not self.isRedoAvailable()
            if undo or redo:
                event.ignore()
                return True
        return super().event(event)


def keep_typing(line: QLineEdit, store: JobStore, label: str, waits: bool = False) -> None:
    """Keep aside what is typed into a line that is no field of the job, until it is entered or given up; with `waits`, whatever else is
    edited meanwhile."""

    def typed(text: str) -> None:
        if text.strip():
            store.typing(label, text, None, waits)
        else:
            store.typed_nothing(label)

    line.textEdited.connect(typed)


class TextField(Field, Line):
    """A line of text; `read` turns it into the value and raises ValueError with one sentence, `write` back."""

    def __init__(
        self,
        store: JobStore,
        label: str,
        get: Get,
        put: Put,
        read: Callable[[str], Any] = str,
        write: Callable[[Any], str] = str,
        hint: str = "",
    ) -> None:
        Line.__init__(self)
        Field.__init__(self, store, label, get, put)
        self.read, self.write = read, write
        self.fault = Label()
        self.fault.setProperty("role", "fault")
        self.fault.setWordWrap(True)
        self.fault.hide()
        self.setPlaceholderText(hint)
        self.setMinimumWidth(40)
        self.setAccessibleName(label)
        self.editingFinished.connect(self.finish)
        self.textEdited.connect(self._typed)
        self.typed_in = 0  # which of the jobs on the desk it was typed for

    def refresh(self) -> None:
        """Show the job's value, unless something wrong or unfinished is being typed."""
        if not self.fault.isHidden() and self.typed_in != self.store.opened:
            self.show_fault("")
            self.setModified(False)
        if self.fault.isHidden() and not (self.hasFocus() and self.isModified()):
            value = self.get(self.store.job)
            self.setText("" if value is None else self.write(value))
            self.setCursorPosition(0)

    def finish(self) -> None:
        """Put what was typed into the job. What cannot be read, or what the job cannot hold, stays here with the reason."""
        try:
            value = self.read(self.text())
        except ValueError as problem:
            self._keep_unread(str(problem))
            return
        self.show_fault("")
        self.setModified(False)
        if self.commit(value, self._keep_unread):
            self.refresh()

    def _typed(self, text: str) -> None:
        """Every letter is kept aside as it is typed: with the job as it would be, or as text while it cannot be read."""
        self.show_fault("")
        self.typed_in = self.store.opened
        try:
            value = self.read(text)
        except ValueError:
            self.store.typing(self.label, text, None)
            return
        self.store.typing(self.label, text, lambda job: self.put(job, value))

    def _keep_unread(self, reason: str) -> None:
        self.show_fault(reason)
        self.setModified(True)
        self.typed_in = self.store.opened
        self.store.faulty[self.label] = self.text()
        self.store.typing(self.label, self.text(), None, waits=True)

    def show_fault(self, text: str) -> None:
        if not text:
            self.store.faulty.pop(self.label, None)
        self.fault.setText(text)
        self.fault.setVisible(bool(text))
        self.setProperty("fault", bool(text))
        there(self.style()).polish(self)
        self.setAccessibleDescription(text)

    def give_up(self) -> None:
        """Another row is shown here: what could not be read for the one before is not taken, and that is said."""
        if not self.fault.isHidden():
            self.store.notice(f'Not taken: {self.label} "{self.text()[:60]}". {self.fault.text()}', serious=True)
        self._clear()

    def _clear(self) -> None:
        if self.isModified() or not self.fault.isHidden():
            self.show_fault("")
            self.setModified(False)
            self.store.typed_nothing(self.label)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape gives up what was typed and shows the job's value again."""
        if event is None:
            return
        if event.key() == Qt.Key.Key_Escape and (self.isModified() or not self.fault.isHidden()):
            self._clear()
            self.refresh()
            return
        super().keyPressEvent(event)


class Choice(QComboBox):
    """A box to choose from; a space typed while searching for a name goes on searching instead of opening the list, and the
    wheel scrolls the page instead of changing a choice in passing."""

    def __init__(self) -> None:
        super().__init__()
        self.searching = QTimer(self)
        self.searching.setSingleShot(True)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() == Qt.Key.Key_Space and self.searching.isActive():
            self._search(event.text())
            return
        super().keyPressEvent(event)
        if event.text().strip() and not event.modifiers() & ~Qt.KeyboardModifier.ShiftModifier:
            self.searching.start(QApplication.keyboardInputInterval())

    def _search(self, text: str) -> None:
        """Let the list search on from where it is: it remembers what was typed just now."""
        view = there(self.view())
        view.setCurrentIndex(there(self.model()).index(self.currentIndex(), self.modelColumn()))
        view.keyboardSearch(text)
        found = view.currentIndex().row()
        if found >= 0 and found != self.currentIndex():
            self.setCurrentIndex(found)
            self.activated.emit(found)
        self.searching.start(QApplication.keyboardInputInterval())

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            event.ignore()


class ChoiceField(Field, Choice):
    """A choice; `choices` are (value, words)."""

    def __init__(self, store: JobStore, label: str, get: Get, put: Put, choices: Sequence[tuple[Any, str]]) -> None:
        Choice.__init__(self)
        Field.__init__(self, store, label, get, put)
        self.setAccessibleName(label)
        self.offer(choices)
        self.activated.connect(self._chosen)

    def offer(self, choices: Sequence[tuple[Any, str]]) -> None:
        """Other choices in the place of those there are; nothing happens while they are the same."""
        if [(self.itemData(n), self.itemText(n)) for n in range(self.count())] == list(choices):
            return
        self.clear()
        for value, words in choices:
            self.addItem(words, value)

    def _chosen(self, index: int) -> None:
        if not self.commit(self.itemData(index)):
            self.refresh()

    def refresh(self) -> None:
        value = self.get(self.store.job)
        index = next((i for i in range(self.count()) if self.itemData(i) == value), -1)
        if index < 0 and value is not None:
            self.addItem(f"{value:g} A" if isinstance(value, float) else str(value), value)
            index = self.count() - 1
        self.setCurrentIndex(index)


class TickField(Field, QCheckBox):
    """Yes or no."""

    def __init__(self, store: JobStore, label: str, get: Get, put: Put, words: str) -> None:
        QCheckBox.__init__(self, words)
        Field.__init__(self, store, label, get, put)
        self.clicked.connect(self._chosen)

    def _chosen(self, on: bool) -> None:
        if not self.commit(on):
            self.refresh()

    def refresh(self) -> None:
        self.setChecked(bool(self.get(self.store.job)))


class Cell(Struct, frozen=True):
    """A widget of a form: where it is within its unit, and over how many rows and columns."""

    widget: QWidget
    row: int = 0
    column: int = 0
    columns: int = 1


class Unit(Struct, frozen=True):
    """A field with its label and message: its row and column in the form, and how many columns of the grid it takes."""

    row: int
    column: int
    wide: int
    cells: tuple[Cell, ...]


class Form(QWidget):
    """Fields in rows, label before each, the message under the field it is about. Where the rows are too wide, as with large
    text, they go on in the next one."""

    lines = 2  # of the grid, for a row of the form
    first = 0  # column of the grid where fields begin

    def __init__(self) -> None:
        super().__init__()
        self.grid = QGridLayout(self)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setHorizontalSpacing(10)
        self.grid.setVerticalSpacing(5)
        self.fields: dict[str, Any] = {}
        self.units: list[Unit] = []
        self.leads: dict[int, QWidget] = {}  # by row: what stands before the fields of a row
        self.folded = False

    def add(self, place: str, field: Any, row: int, column: int = 0, width: int = 0) -> Any:
        """Put a field at a row; `place` is what findings call it, so that a click on one leads here."""
        if isinstance(field, TickField):
            cells = [Cell(field, columns=2)]
        else:
            label = Label(field.label)
            label.setProperty("role", "faint")
            label.setBuddy(field)
            cells = [Cell(label), Cell(field, column=1)]
        if isinstance(field, TextField):
            cells.append(Cell(field.fault, row=1, columns=2))
        if width:
            field.setFixedWidth(width)
        self.put(place, field, Unit(row, column * 2, 2, tuple(cells)))
        return field

    def put(self, place: str, field: Any, unit: Unit) -> None:
        """Take a field with all that belongs to it into the form."""
        self.fields[place] = field
        self.units.append(unit)
        self._place(unit, unit.row, unit.column)

    def fit(self, room_px: int) -> None:
        """Fold the rows as often as it takes for the form to be no wider than `room_px`; not at all where they fit."""
        most = max((unit.column + unit.wide for unit in self.units), default=0)
        if self.folded:
            self._fold(most)
            self.folded = False
        while self.minimumSizeHint().width() > room_px and most > 2:
            most -= 1
            self._fold(most)
            self.folded = True
        self.updateGeometry()

    def _fold(self, most: int) -> None:
        """Place every unit so that no row takes more than `most` columns of the grid."""
        for unit in self.units:
            for cell in unit.cells:
                self.grid.removeWidget(cell.widget)
        for lead in self.leads.values():
            self.grid.removeWidget(lead)
        down, row, moved = 0, -1, 0
        for unit in sorted(self.units, key=lambda one: (one.row, one.column)):
            if unit.row != row:
                row, moved = unit.row, 0
                if row in self.leads:
                    self._lead(row, row + down)
            if unit.column - moved + unit.wide > most and unit.column > moved:
                down, moved = down + 1, unit.column
            self._place(unit, unit.row + down, unit.column - moved)

    def _place(self, unit: Unit, row: int, column: int) -> None:
        for cell in unit.cells:
            at = row * self.lines + cell.row, self.first + column + cell.column
            self.grid.addWidget(cell.widget, *at, 1, cell.columns)

    def _lead(self, row: int, at: int) -> None:
        self.grid.addWidget(self.leads[row], at * self.lines, 0)

    def refresh(self) -> None:
        for field in self.fields.values():
            field.refresh()

    def show_row(self, place: str, shown: bool) -> None:
        """Show or hide a field with its label."""
        field = self.fields[place]
        field.setVisible(shown)
        for label in self.findChildren(Label):
            if label.buddy() is field:
                label.setVisible(shown)

    def focus_place(self, place: str) -> bool:
        """Put the cursor into the field of a place; False when it is not here."""
        field = self.fields.get(place)
        if field is None:
            return False
        field.setFocus(Qt.FocusReason.OtherFocusReason)
        if isinstance(field, QLineEdit):
            field.selectAll()
        return True
