"""The list of the job book: a line to search it, what is shown of it, and the jobs."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from robust_ledger.desk.kit.fields import Choice
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import Label, label
from robust_ledger.desk.kit.worker import ProgressRow
from robust_ledger.desk.shell.book import BookKeeper
from robust_ledger.jobbook.stands import STANDS

if TYPE_CHECKING:
    from robust_ledger.jobbook.index import Hit

ALL = "all jobs"
EMPTY = "No jobs yet. Choose the folder they are kept in, or begin a new one."


class SearchLine(QLineEdit):
    """Down and Enter lead into the list."""

    down = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Down, Qt.Key.Key_PageDown):
            self.down.emit()
        elif event is not None and event.key() == Qt.Key.Key_Escape and self.text():
            self.clear()
        else:
            super().keyPressEvent(event)


class JobList(QWidget):
    """Search as you type; Enter opens the chosen job, the first one straight from the line."""

    opened = pyqtSignal(Path)

    def __init__(self, book: BookKeeper) -> None:
        super().__init__()
        self.book = book
        self.hits: dict[str, Hit] = {}
        self.line = SearchLine()
        self.line.setPlaceholderText("customer, address, mark, finding, circuit, date")
        self.line.setAccessibleName("Search the jobs")
        self.line.textChanged.connect(self.refresh)
        self.line.down.connect(lambda: self.table.setFocus(Qt.FocusReason.TabFocusReason))
        self.line.returnPressed.connect(self._open_first)
        self.stands = Choice()
        self.stands.setAccessibleName("How they stand")
        for key, words in (("", ALL), *STANDS.items()):
            self.stands.addItem(words, key)
        self.stands.currentIndexChanged.connect(self.refresh)
        self.open_only = QCheckBox("with open &findings")
        self.open_only.toggled.connect(self.refresh)
        self.table = LedgerTable(
            "Jobs",
            [
                Column("Job", 180),
                Column("Customer", 120),
                Column("Day", 100),
                Column("Stands", 92),
                Column("Open", 136),
                Column("Hours", 52, True),
                Column("Where", 0),
            ],
        )
        self.table.when_empty = EMPTY
        self.table.opened.connect(lambda path: self.opened.emit(Path(path)))
        self.table.chosen.connect(self._chosen)
        self.state, self.words = label("", "faint"), label("", "faint")
        for one in (self.state, self.words):
            one.setWordWrap(True)
        self.folder = QPushButton("Folder of &jobs…")
        self.folder.clicked.connect(self._choose_folder)
        self.progress = book.progress = ProgressRow()
        self.again = QPushButton("&Read them again")
        self.again.setToolTip("Make the index anew from the jobs")
        self.again.clicked.connect(book.begin_anew)
        self._lay_out()
        book.changed.connect(self.refresh)
        book.told.connect(self.state.setText)

    def _lay_out(self) -> None:
        search = Label("S&earch")
        search.setBuddy(self.line)
        top, foot, column = QHBoxLayout(), QHBoxLayout(), QVBoxLayout(self)
        for widget, stretch in ((search, 0), (self.line, 1), (self.stands, 0), (self.open_only, 0)):
            top.addWidget(widget, stretch)
        foot.addWidget(self.state, 1)
        foot.addWidget(self.again)
        foot.addWidget(self.folder)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(top)
        column.addWidget(self.table, 1)
        column.addWidget(self.words)
        column.addWidget(self.progress)
        column.addLayout(foot)

    def refresh(self) -> None:
        """Ask the book anew and show what it answers."""
        if not self.isVisible():
            return
        answer = self.book.search(self.line.text(), self.stands.currentData() or "", self.open_only.isChecked())
        self.hits = {hit.path: hit for hit in answer.hits}
        today = date.today().isoformat()
        asked = bool(self.line.text().strip() or self.stands.currentData() or self.open_only.isChecked())
        self.table.when_empty = "No job has all of that." if asked else EMPTY
        self.table.show_rows([_row(hit, today) for hit in answer.hits])
        more = answer.count - len(answer.hits)
        self.words.setText(f"and {more:,} more; another word makes it fewer" if more > 0 else "")

    def _chosen(self, path: str) -> None:
        hit = self.hits.get(path)
        self.words.setText((hit.fault or path) if hit is not None else "")

    def _open_first(self) -> None:
        if self.hits:
            self.opened.emit(Path(self.table.current_key() or next(iter(self.hits))))

    def _choose_folder(self) -> None:
        start = str(self.book.folder or Path.home())
        name = QFileDialog.getExistingDirectory(self, "The folder your jobs are kept in", start)
        if name:
            self.book.choose_folder(Path(name))


def _row(hit: Hit, today: str) -> Row:
    """A job as a line of the list; where the words were found takes the place of the address."""
    parts = [f"{count} {name}" for count, name in ((hit.stop, "STOP"), (hit.fix, "FIX")) if count]
    column, text = hit.found
    where = f"{column}: {text}" if column else hit.fault or hit.address
    hours = f"{hit.hours:.1f}" if hit.hours is not None else ""
    cells = (
        hit.title,
        hit.customer,
        "today" if hit.day == today else hit.day,
        STANDS.get(hit.stands, hit.stands),
        "  ".join(parts),
        hours,
        where,
    )
    return Row(hit.path, cells, "bold" if hit.day == today else "", (3,) if hit.fault else (4,) if hit.stop else ())
