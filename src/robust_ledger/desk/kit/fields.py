"""Fields that edit the job: text with a message beside it, choices and ticks. What is typed wrong stays to be mended."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence, QWheelEvent
from PyQt6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QLabel, QLineEdit, QWidget

from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.store import JobStore
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

    def commit(self, value: Any) -> None:
        self.store.edit(f"change {self.label.lower()}", lambda job: self.put(job, value))


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
        self.fault = QLabel()
        self.fault.setProperty("role", "fault")
        self.fault.setWordWrap(True)
        self.fault.hide()
        self.setPlaceholderText(hint)
        self.setMinimumWidth(40)
        self.setAccessibleName(label)
        self.editingFinished.connect(self.finish)
        self.textEdited.connect(lambda _: self.show_fault(""))

    def refresh(self) -> None:
        """Show the job's value, unless something wrong or unfinished is being typed."""
        if self.fault.isHidden() and not (self.hasFocus() and self.isModified()):
            value = self.get(self.store.job)
            self.setText("" if value is None else self.write(value))
            self.setCursorPosition(0)

    def finish(self) -> None:
        try:
            value = self.read(self.text())
        except ValueError as problem:
            self.show_fault(str(problem))
            return
        self.show_fault("")
        self.setModified(False)
        self.commit(value)
        self.refresh()

    def show_fault(self, text: str) -> None:
        self.fault.setText(text)
        self.fault.setVisible(bool(text))
        self.setProperty("fault", bool(text))
        there(self.style()).polish(self)
        self.setAccessibleDescription(text)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape gives up what was typed and shows the job's value again."""
        if event is None:
            return
        if event.key() == Qt.Key.Key_Escape and (self.isModified() or not self.fault.isHidden()):
            self.show_fault("")
            self.setModified(False)
            self.refresh()
            return
        super().keyPressEvent(event)


class ChoiceField(Field, QComboBox):
    """A choice; `choices` are (value, words)."""

    def __init__(self, store: JobStore, label: str, get: Get, put: Put, choices: Sequence[tuple[Any, str]]) -> None:
        QComboBox.__init__(self)
        Field.__init__(self, store, label, get, put)
        self.setAccessibleName(label)
        for value, words in choices:
            self.addItem(words, value)
        self.activated.connect(lambda index: self.commit(self.itemData(index)))

    def refresh(self) -> None:
        value = self.get(self.store.job)
        index = next((i for i in range(self.count()) if self.itemData(i) == value), -1)
        if index < 0 and value is not None:
            self.addItem(f"{value:g} A" if isinstance(value, float) else str(value), value)
            index = self.count() - 1
        self.setCurrentIndex(index)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """The wheel scrolls the page; it never changes a choice in passing."""
        if event is None:
            return
        event.ignore()


class TickField(Field, QCheckBox):
    """Yes or no."""

    def __init__(self, store: JobStore, label: str, get: Get, put: Put, words: str) -> None:
        QCheckBox.__init__(self, words)
        Field.__init__(self, store, label, get, put)
        self.clicked.connect(self.commit)

    def refresh(self) -> None:
        self.setChecked(bool(self.get(self.store.job)))


class Form(QWidget):
    """Fields in rows, label before each, the message under the field it is about."""

    def __init__(self) -> None:
        super().__init__()
        self.grid = QGridLayout(self)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setHorizontalSpacing(10)
        self.grid.setVerticalSpacing(5)
        self.fields: dict[str, Any] = {}

    def add(self, place: str, field: Any, row: int, column: int = 0, width: int = 0) -> Any:
        """Put a field at a row; `place` is what findings call it, so that a click on one leads here."""
        top = row * 2
        if isinstance(field, TickField):
            self.grid.addWidget(field, top, column * 2, 1, 2)
        else:
            label = QLabel(field.label)
            label.setProperty("role", "faint")
            label.setBuddy(field)
            self.grid.addWidget(label, top, column * 2)
            self.grid.addWidget(field, top, column * 2 + 1)
        if isinstance(field, TextField):
            self.grid.addWidget(field.fault, top + 1, column * 2, 1, 2)
        if width:
            field.setFixedWidth(width)
        self.fields[place] = field
        return field

    def refresh(self) -> None:
        for field in self.fields.values():
            field.refresh()

    def show_row(self, place: str, shown: bool) -> None:
        """Show or hide a field with its label."""
        field = self.fields[place]
        field.setVisible(shown)
        for label in self.findChildren(QLabel):
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
