"""The last saves of the job: looked through with what changed since, and taken back as an edit that can be undone."""

from __future__ import annotations

from PyQt6.QtWidgets import QDialog, QHBoxLayout, QListWidget, QPushButton, QVBoxLayout, QWidget

from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import Label
from robust_ledger.job.files import JobFileError
from robust_ledger.jobbook.differences import differences
from robust_ledger.jobbook.history import Version


class Versions(QDialog):
    """Versions at the left, the newest first; at the right what differs from the job as it is now."""

    def __init__(self, parent: QWidget, store: JobStore) -> None:
        super().__init__(parent)
        self.setWindowTitle("Versions of this job")
        self.store = store
        self.versions = store.history.versions(store.path) if store.path else []
        self.list, self.changes, self.words = QListWidget(), QListWidget(), Label()
        self.list.setAccessibleName("Versions")
        self.changes.setAccessibleName("What differs")
        self.changes.setWordWrap(True)
        self.list.addItems(
            [version.words + (", still to be looked at" if version.stays else "") for version in self.versions]
        )
        self.back = QPushButton("&Take this version back")
        close = QPushButton("&Close")
        self.back.clicked.connect(self._take_back)
        close.clicked.connect(self.reject)
        lists, buttons, column = QHBoxLayout(), QHBoxLayout(), QVBoxLayout(self)
        lists.addWidget(self.list, 2)
        lists.addWidget(self.changes, 3)
        buttons.addStretch(1)
        buttons.addWidget(self.back)
        buttons.addWidget(close)
        column.addWidget(self.words)
        column.addLayout(lists, 1)
        column.addLayout(buttons)
        self.resize(LOOK.px(860), LOOK.px(480))
        self.list.currentRowChanged.connect(self._show)
        self.back.setEnabled(False)
        self.words.setText("" if self.versions else "No version yet: each save of a job with a file is kept here.")
        self.chosen = False  # the first one is shown unasked: nobody has looked for it
        if self.versions:
            self.list.setCurrentRow(0)
        self.chosen = True

    def _show(self, row: int) -> None:
        self.changes.clear()
        self.back.setEnabled(False)
        try:
            job = self.store.history.job(self.versions[row])
        except JobFileError as problem:
            self.words.setText(str(problem))
            return
        if self.chosen:
            self._looked_at(row)
        found = differences(job, self.store.job)
        self.words.setText("What was changed since:" if found else "This is the job as it is now.")
        self.changes.addItems(found)
        self.back.setEnabled(bool(found))

    def _looked_at(self, row: int) -> Version:
        """One that was kept for a reason need not be kept any longer than the others."""
        self.versions[row] = self.store.history.looked_at(self.versions[row])
        return self.versions[row]

    def _take_back(self) -> None:
        version = self._looked_at(self.list.currentRow())
        job = self.store.history.job(version)
        if self.store.edit(f"take back the version of {version.at:%Y-%m-%d %H:%M}", lambda _now: job):
            self.accept()
