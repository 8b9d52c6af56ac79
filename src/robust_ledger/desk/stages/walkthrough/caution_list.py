"""The user's private list of equipment marks with a bad record, and the marks read on this job's old equipment."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtWidgets import QHBoxLayout, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from robust_ledger.desk.kit.fields import TextField
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.words import label
from robust_ledger.job.doors import read_plain
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.defects import Caution
from robust_ledger.job.whole import private_folder, write_text
from robust_ledger.jobbook.home import home
from robust_ledger.ledger.place import Place
from robust_ledger.survey.cautions import CautionListError, matching, read_cautions

NAME = "caution-list.csv"


class CautionList(QWidget):
    """A line for the marks; the list itself unfolds to be edited as lines of "mark, caution". It stays on this computer:
    a job carries only what matched."""

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store = store
        self.marks = TextField(
            store,
            "Marks on the old equipment",
            lambda job: job.old_panel.marks,
            self._put,
            str.strip,
            str,
            "as printed on panel, breakers, meter",
        )
        self.state = label("", "faint")
        self.edit_button = QPushButton("Caution &list…")
        self.edit_button.setCheckable(True)
        self.edit_button.clicked.connect(self._toggle)
        self.text = QPlainTextEdit()
        self.text.setAccessibleName("Caution list: a mark, a comma and a caution on each line")
        self.text.setPlaceholderText("a mark, a caution in your own words")
        self.text.setTabChangesFocus(True)
        self.text.setFixedHeight(70)
        self.text.hide()
        self.fault = label("", "fault")
        self.fault.hide()
        row = QHBoxLayout()
        row.addWidget(label("Marks on old equipment", "faint"))
        row.addWidget(self.marks, 1)
        row.addWidget(self.state)
        row.addWidget(self.edit_button)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(row)
        column.addWidget(self.text)
        column.addWidget(self.fault)

    @property
    def path(self) -> Path:
        return home() / NAME

    def listed(self) -> tuple[Caution, ...]:
        """The list as it is on this computer; one that cannot be read is told and counts as empty."""
        try:
            cautions = read_cautions(self._text())
        except (OSError, CautionListError) as problem:
            self._say(problem.strerror or "The list cannot be read." if isinstance(problem, OSError) else str(problem))
            return ()
        self._say("")
        return cautions

    def _put(self, job: Job, marks: str) -> Job:
        """The marks, and with them what the list says of them: one edit."""
        return replace(with_part(job, "old_panel", marks=marks), cautions=matching(marks, self.listed()))

    def show_plan(self) -> None:
        self.marks.refresh()
        count = len(self.store.job.cautions)
        self.state.setText(
            f"{count} on your list" if count else "none on your list" if self.store.job.old_panel.marks else ""
        )

    def go_to(self, place: Place) -> bool:
        if place != "old_panel:marks":
            return False
        self.marks.setFocus()
        return True

    def _toggle(self, unfolded: bool) -> None:
        """Unfold the list to edit it; folding it again keeps it, unless a line cannot be read."""
        if unfolded:
            try:
                self.text.setPlainText(self._text())
            except OSError as problem:
                self._say(f"The list cannot be read: {problem.strerror}.")
            self.text.show()
            self.text.setFocus()
            return
        try:
            read_cautions(self.text.toPlainText())
            self._write()
        except (CautionListError, OSError) as problem:
            self._say(
                str(problem)
                if isinstance(problem, CautionListError)
                else f"The list cannot be written: {problem.strerror}."
            )
            self.edit_button.setChecked(True)
            return
        self._say("")
        self.text.hide()
        marks = self.store.job.old_panel.marks
        self.store.edit("match the caution list", lambda job: self._put(job, marks))

    def _write(self) -> None:
        private_folder(self.path.parent)
        write_text(self.path, self.text.toPlainText(), private=True)

    def _text(self) -> str:
        """The list as it is written. Raises OSError."""
        return read_plain(self.path).decode("utf-8", "replace") if self.path.exists() else ""

    def _say(self, words: str) -> None:
        self.fault.setText(words)
        self.fault.setVisible(bool(words))
