"""The row to name a fault with, which stays above every page, and the list of those that are named."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QListWidget, QPushButton, QVBoxLayout, QWidget

from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import label
from robust_ledger.practice.codes import PracticeError
from robust_ledger.practice.faults import fault_kinds
from robust_ledger.practice.naming import checked, named_words, with_named, without_named


class NamedList(QListWidget):
    """The faults that are named; Delete takes the current one back."""

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store = store
        self.setAccessibleName("Faults that you named; Delete takes one back")
        self.setFixedHeight(LOOK.px(170))

    def show_named(self) -> None:
        """The list as the job has it."""
        row = self.currentRow()
        self.clear()
        self.addItems([named_words(one) for one in self.store.job.practice.named])
        self.setCurrentRow(min(max(row, 0), self.count() - 1))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.currentRow() >= 0:
            gone = {self.currentRow()}
            self.store.edit("take a named fault back", lambda job: without_named(job, gone))
            return
        super().keyPressEvent(event)


class NamingRow(QWidget):
    """What is wrong, at which space; Enter names it. Every kind of fault there is can be chosen, so that the choice gives nothing away."""

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store = store
        self.kind = QComboBox()
        self.kind.setAccessibleName("What is wrong")
        self.kind.addItem("what is wrong here?", "")
        for key, kind in sorted(fault_kinds().items(), key=lambda item: (item[1].at, item[1].words)):
            self.kind.addItem(kind.words, key)
        self.space = QLineEdit()
        self.space.setAccessibleName("At which space")
        self.space.setPlaceholderText("space")
        self.space.setFixedWidth(LOOK.px(70))
        self.space.returnPressed.connect(self.name)
        self.button = QPushButton()
        self.button.clicked.connect(self.name)
        self.fault = label("", "fault")
        self.fault.setWordWrap(True)
        self.fault.hide()
        row = QHBoxLayout()
        row.addWidget(self.kind, 1)
        row.addWidget(self.space)
        row.addWidget(self.button)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addLayout(row)
        column.addWidget(self.fault)

    def at(self, space: str) -> None:
        """A space was chosen in the drawing."""
        self.space.setText(space)
        self._say("")

    def name(self) -> None:
        """Name what is chosen."""
        kind = fault_kinds().get(self.kind.currentData())
        if kind is None:
            self._say("Choose what is wrong first.")
            self.kind.setFocus()
            return
        try:
            named = checked(kind, self.space.text().strip().lower())
            is_done = self.store.edit("name a fault", lambda job: with_named(job, named), self._say)
        except PracticeError as problem:
            self._say(str(problem))
            return
        if is_done:
            self._say("")
            self.kind.setCurrentIndex(0)

    def show_named(self) -> None:
        """How many are named, and whether one may still be."""
        practice = self.store.job.practice
        self.button.setText(f"&Name it ({len(practice.named)} named)" if practice.named else "&Name it")
        self.setEnabled(practice.veiled)

    def _say(self, text: str) -> None:
        self.fault.setText(text)
        self.fault.setVisible(bool(text))
