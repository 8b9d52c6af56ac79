"""Tables to and from a spreadsheet: which column is which is guessed and shown, and taken only when one has said so."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QListWidget, QPushButton, QVBoxLayout

from robust_ledger.desk.kit.fields import Choice
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.desk.kit.worker import ProgressRow, Worker
from robust_ledger.exchange.books import TableError, read_table, write_book, write_table
from robust_ledger.exchange.tables import TABLES, Taken, exported, guessed, imported
from robust_ledger.ledger.text import reason_of

KINDS = "Tables (*.csv *.xlsx *.xls *.ods)"
PREVIEW = 3  # rows of the file that are shown beside each column


class ExchangePage(Page):
    """The file's columns with what they are taken for; what would come of it; then it is taken."""

    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.rows: list[list[str]] = []
        self.columns: list[str] = []
        self.path: Path | None = None
        self.kind = Choice()
        self.kind.setAccessibleName("Table")
        for name in TABLES:
            self.kind.addItem(name, name)
        self.kind.activated.connect(lambda _n: self._guess())
        self.table = LedgerTable(
            "Columns of the file",
            [Column("In the file", 170), Column("Taken as", 170), Column("First rows", 0)],
            row_height=24,
        )
        self.table.when_empty = "Read a file to see its columns, or write a table of this job."
        self.table.chosen.connect(lambda _key: self._show_choice())
        self.choice = Choice()
        self.choice.setAccessibleName("The chosen column is taken as")
        self.choice.activated.connect(lambda _n: self._choose())
        self.words = label("", "live")
        self.words.setWordWrap(True)
        self.progress = ProgressRow()
        self.faults = QListWidget()
        self.faults.setAccessibleName("Rows that cannot be taken")
        self._lay_out()

    def _lay_out(self) -> None:
        self.out = QPushButton("&Write this table…")
        self.out.clicked.connect(self._ask_write)
        self.book = QPushButton("Write &all as a workbook…")
        self.book.clicked.connect(self._ask_book)
        self.read_button = QPushButton("&Read a file…")
        self.read_button.clicked.connect(self._ask_read)
        self.take_button = QPushButton("&Take the rows over")
        self.take_button.setProperty("role", "main")
        self.take_button.setEnabled(False)
        self.take_button.clicked.connect(self.take)
        top, middle = QHBoxLayout(), QHBoxLayout()
        for widget in (label("Table", "faint"), self.kind, self.read_button, self.out, self.book):
            top.addWidget(widget)
        top.addStretch(1)
        for widget in (label("The chosen column is", "faint"), self.choice, self.take_button):
            middle.addWidget(widget)
        middle.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(top)
        column.addWidget(self.progress)
        column.addWidget(self.table, 3)
        column.addLayout(middle)
        column.addWidget(self.words)
        column.addWidget(self.faults, 2)

    def start(self) -> None:
        self.kind.setFocus()

    # --- out ------------------------------------------------------------------------------------------------------
    def _ask_write(self) -> None:
        name, _kind = QFileDialog.getSaveFileName(self, "Write the table", f"{self.kind.currentData()}.xlsx", KINDS)
        if name:
            self.write(Path(name))

    def _ask_book(self) -> None:
        name, _kind = QFileDialog.getSaveFileName(self, "Write every table", "tables.xlsx", "Workbooks (*.xlsx)")
        if name:
            self.write(Path(name), every=True)

    def write(self, path: Path, every: bool = False) -> None:
        """Write the chosen table as CSV or XLSX, or every one as a workbook."""
        chosen = self.kind.currentData()
        try:
            if every:
                write_book({name: exported(table, self.store.plan) for name, table in TABLES.items()}, path)
            else:
                write_table(exported(TABLES[chosen], self.store.plan), path, chosen)
        except OSError as problem:
            self.store.notice(f"{path.name} could not be written: {reason_of(problem)}.", serious=True)
            return
        self.store.notice(f"Written: {path.name}.")

    # --- in -------------------------------------------------------------------------------------------------------
    def _ask_read(self) -> None:
        name, _kind = QFileDialog.getOpenFileName(self, "Read a table", "", KINDS)
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Read a file beside the window and guess its columns; nothing of it is in the job yet."""

        def taken(rows: list[list[str]]) -> None:
            self.rows, self.path = rows, path
            self._guess()

        worker = Worker(lambda progress: read_table(path, progress), (TableError,))
        self.progress.run(f"Reading {path.name}", worker, taken, lambda words: self.store.notice(words, serious=True))

    def stop(self) -> None:
        """The window closes: whatever is being read is let go."""
        self.progress.cancel(wait=True)

    def _guess(self) -> None:
        if self.rows:
            self.columns = guessed(self.rows[0], TABLES[self.kind.currentData()])
            self._show()

    def _show(self) -> None:
        """Columns, what they are taken for, and what would come of it."""
        rows = []
        for number, head in enumerate(self.rows[0]):
            first = " · ".join(row[number] for row in self.rows[1 : PREVIEW + 1] if number < len(row))
            name = self.columns[number]
            rows.append(
                Row(str(number), (head or f"column {number + 1}", name or "left out", first), "" if name else "faint")
            )
        self.table.show_rows(rows)
        if not self.table.current_key():
            self.table.choose("0")
        self.choice.clear()
        for name in ("", *TABLES[self.kind.currentData()].columns):
            self.choice.addItem(name or "left out", name)
        self._show_choice()
        taken = self._tried()
        left = f"; {len(taken.faults)} cannot be taken" if taken.faults else ""
        self.words.setText(
            f"{self.path.name if self.path else ''}: {len(self.rows) - 1} rows, {taken.good} good{left}. Nothing is taken yet."
        )
        self.faults.clear()
        self.faults.addItems([one.sentence for one in taken.faults[:200]])
        self.take_button.setEnabled(taken.good > 0)

    def _tried(self) -> Taken:
        return imported(self.rows, self.columns, TABLES[self.kind.currentData()], self.store.job)

    def _number(self) -> int | None:
        key = self.table.current_key()
        return int(key) if key else None

    def _show_choice(self) -> None:
        number = self._number()
        if number is not None and number < len(self.columns):
            self.choice.setCurrentIndex(max(0, self.choice.findData(self.columns[number])))

    def _choose(self) -> None:
        """The chosen column is another one than was guessed; each is given once."""
        number, name = self._number(), self.choice.currentData()
        if number is None or number >= len(self.columns):
            return
        self.columns = ["" if name and column == name else column for column in self.columns]
        self.columns[number] = name
        self._show()

    def take(self) -> None:
        """Take every good row over, as one step that undo takes back."""
        taken = self._tried()
        if self.store.edit(f"take {taken.good} rows over", lambda _job: taken.job):
            self.words.setText(f"Taken over: {taken.good} rows. Undo takes them back.")
            self.take_button.setEnabled(False)
