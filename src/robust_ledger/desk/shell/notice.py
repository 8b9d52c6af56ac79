"""The notice line: one sentence that stays until it is closed or replaced; after a run that did not close, with a report of it."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QFrame, QHBoxLayout, QPushButton

from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.words import Label
from robust_ledger.job.doors import hand_out_text
from robust_ledger.jobbook.runs import Ended
from robust_ledger.ledger.text import reason_of


class Notice(QFrame):
    """Hidden as long as there is nothing to say."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("notice")
        self.ended: Ended | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 4, 10, 4)
        self.text = Label()
        self.text.setWordWrap(True)
        self.report = QPushButton("Save a crash &report…")
        self.report.clicked.connect(self.save_report)
        self.report.hide()
        close = QPushButton("Close")
        close.clicked.connect(self._closed)
        row.addWidget(self.text, 1)
        row.addWidget(self.report)
        row.addWidget(close)
        self.hide()

    def say(self, text: str, serious: bool = False) -> None:
        """Put a sentence into the line."""
        self.text.setText(text)
        self.setProperty("serious", serious)
        there(self.style()).polish(self)
        there(self.text.style()).polish(self.text)
        self.show()

    def offer_report(self, run: Ended) -> None:
        """Say what was being done when a run ended without closing, and offer a report of it."""
        self.ended = run
        waits = "Work that was not saved waits on the first page, and when its job is opened."
        said = waits if self.isHidden() else self.text.text()  # what was restored is being told already
        self.say(f"{run.words} {said}", serious=True)
        self.report.show()

    def save_report(self) -> None:
        """Write the report where the user wants it: it holds nothing of the customer's."""
        if self.ended is None:
            return
        name, _ = QFileDialog.getSaveFileName(self, "Save the report", str(Path.home() / "robust-ledger-report.txt"))
        if not name:
            return
        try:
            hand_out_text(Path(name), self.ended.report())
        except OSError as problem:
            self.say(f"The report could not be written: {reason_of(problem)}.", serious=True)
            return
        self._done()
        self.say(f"The report is in {name}.")

    def _closed(self) -> None:
        self.hide()
        self._done()

    def _done(self) -> None:
        """The report is saved, or not wanted."""
        if self.ended is not None:
            self.ended.put_away()
            self.ended = None
        self.report.hide()
