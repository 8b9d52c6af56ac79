"""The tape of any of the four methods, as it prints."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from robust_ledger.desk.kit.fields import Choice
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.words import label
from robust_ledger.desk.stages.load.tape_view import TapeView
from robust_ledger.load.methods import NAMES
from robust_ledger.plan import Plan


class TapePage(Page):
    """The chosen method's tape, or another one's for comparison. A line shows its working; Enter goes to its load."""

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 0)
        row = QHBoxLayout()
        self.method = Choice()
        self.method.setAccessibleName("Tape of")
        self.method.addItem("the method used", "")
        for name, words in NAMES.items():
            self.method.addItem(words.lower(), name)
        self.method.activated.connect(lambda _index: self.show_plan(self.store.plan))
        caption = label("Ta&pe of", "faint")
        caption.setBuddy(self.method)
        row.addWidget(caption)
        row.addWidget(self.method)
        row.addStretch(1)
        row.addWidget(label("Enter on a line goes to what it rests on", "faint"))
        column.addLayout(row)
        self.tape = TapeView("Tape of the calculation")
        self.tape.chosen.connect(self._chosen)
        self.tape.opened.connect(self._opened)
        column.addWidget(self.tape, 1)

    def start(self) -> None:
        self.tape.setFocus(Qt.FocusReason.OtherFocusReason)

    def apply_look(self) -> None:
        self.tape.resize_columns()

    def show_plan(self, plan: Plan) -> None:
        name = self.method.currentData() or plan.job.decisions.load_method
        self.tape.show_method(plan.load.methods[name])

    def _chosen(self, entry_id: str) -> None:
        if not entry_id.startswith("group:"):
            self.store.choose_entry(entry_id)

    def _opened(self, entry_id: str) -> None:
        entry = self.store.plan.entry(entry_id)
        if entry and entry.place:
            self.store.ask_place(entry.place)
