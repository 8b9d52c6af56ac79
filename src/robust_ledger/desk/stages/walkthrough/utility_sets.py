"""The utilities kept on this computer: a job takes its figures from one, or keeps its own for other jobs."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from robust_ledger.desk.kit.fields import Choice
from robust_ledger.desk.kit.settings import home
from robust_ledger.desk.kit.stage import label
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.job.parts.utility import Utility
from robust_ledger.job.whole import write_text
from robust_ledger.ledger.text import reason_of
from robust_ledger.survey.utilities import UtilitySetsError, read_utilities, text_of, with_utility

NAME = "utilities.json"


class UtilitySets(QWidget):
    """A choice of the utilities that are kept, and a button to keep this job's figures under their name."""

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store = store
        self.choice = Choice()
        self.choice.setAccessibleName("Take the figures of a utility")
        self.choice.activated.connect(self._take)
        self.keep_button = QPushButton("&Keep for other jobs")
        self.keep_button.clicked.connect(self._keep)
        self.fault = label("", "fault")
        self.fault.setWordWrap(True)
        self.fault.hide()
        row = QHBoxLayout()
        row.addWidget(self.choice, 1)
        row.addWidget(self.keep_button)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(row)
        column.addWidget(self.fault)

    @property
    def path(self) -> Path:
        return home() / NAME

    def kept(self) -> tuple[Utility, ...]:
        """The sets on this computer; a file that cannot be read is told, and left as it is."""
        try:
            found = (
                read_utilities(self.path.read_text(encoding="utf-8", errors="replace")) if self.path.is_file() else ()
            )
        except (OSError, UtilitySetsError) as problem:
            self._say(
                f"The utilities' figures cannot be read: {reason_of(problem)}."
                if isinstance(problem, OSError)
                else str(problem)
            )
            return ()
        return found

    def show_plan(self) -> None:
        utility = self.store.job.utility
        self.keep_button.setEnabled(bool(utility.name.strip()))
        names = [one.name for one in self.kept()]
        if not self.choice.count() or names != [self.choice.itemData(n) for n in range(1, self.choice.count())]:
            self.choice.clear()
            self.choice.addItem("take a utility's figures…", None)
            for name in names:
                self.choice.addItem(name, name)
        self.choice.setCurrentIndex(max(0, self.choice.findData(utility.name)))
        self.choice.setEnabled(bool(names))

    def _take(self) -> None:
        name = self.choice.currentData()
        chosen = next((one for one in self.kept() if one.name == name), None)
        if chosen is not None:
            self.store.edit(f"figures of {name}", lambda job: replace(job, utility=chosen))

    def _keep(self) -> None:
        """Keep this job's figures; a file that cannot be read is not written over."""
        self._say("")
        known, utility = self.kept(), self.store.job.utility
        if not self.fault.isHidden():
            return
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            write_text(self.path, text_of(with_utility(known, utility)))
        except OSError as problem:
            self._say(f"The utilities' figures cannot be written: {reason_of(problem)}.")
            return
        self.show_plan()

    def _say(self, words: str) -> None:
        self.fault.setText(words)
        self.fault.setVisible(bool(words))
