"""Practice: a panel by level or code, the drills, how one comes along, and what an instructor needs."""

from __future__ import annotations

import secrets
from pathlib import Path

from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from robust_ledger.changeover.clock import now
from robust_ledger.desk.kit.words import label
from robust_ledger.desk.shell.drill import DrillDialog
from robust_ledger.exchange.books import summary_csv
from robust_ledger.job.doors import hand_out_text
from robust_ledger.job.job import Job
from robust_ledger.jobbook.home import home
from robust_ledger.practice.codes import LEVELS, SEEDS, Code, PracticeError, read_code
from robust_ledger.practice.drills.model import Drill
from robust_ledger.practice.drills.run import TITLES
from robust_ledger.practice.hand_in import begun
from robust_ledger.practice.progress import kept, rows
from robust_ledger.practice.report import class_codes, result_rows

LEVEL_WORDS = {
    1: "1  wire against breaker",
    2: "2  white hots, dark neutrals, capped, two under a screw",
    3: "3  shared and bare neutrals, aluminum, split bus, tandems",
    4: "4  the house: service, grounding, fit, load with a trap",
    5: "5  everything, with a clock and a customer who calls",
}
CLASS_SIZE = 20
SHOWN = 40  # of what was done, the newest first


class PracticeDialog(QDialog):
    """Asks what to practice; `job` is the exercise to begin with, None when it was left."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Practice")
        self.job: Job | None = None
        self.fault = label("", "fault")
        self.fault.setWordWrap(True)
        self.fault.hide()
        column = QVBoxLayout(self)
        column.addWidget(label("A panel with hidden faults", "section"))
        column.addLayout(self._panel())
        column.addWidget(self.fault)
        column.addWidget(label("Drills of three minutes", "section"))
        column.addLayout(self._drills())
        column.addWidget(label("What you have done", "section"))
        self.past = QListWidget()
        self.past.setAccessibleName("What you have done, the newest first")
        column.addWidget(self.past)
        column.addLayout(self._more())
        self.resize(640, 560)
        self._show_done()

    def _panel(self) -> QHBoxLayout:
        self.level, self.code = QComboBox(), QLineEdit()
        self.level.setAccessibleName("Level")
        for level in LEVELS:
            self.level.addItem(LEVEL_WORDS[level], level)
        self.code.setAccessibleName("Code of a panel")
        self.code.setPlaceholderText("or a code")
        self.code.returnPressed.connect(self.begin)
        self.start = QPushButton("&Begin")
        self.start.setDefault(True)
        self.start.clicked.connect(self.begin)
        row = QHBoxLayout()
        row.addWidget(self.level, 1)
        row.addWidget(self.code)
        row.addWidget(self.start)
        return row

    def _drills(self) -> QGridLayout:
        grid = QGridLayout()
        for number, (drill, title) in enumerate(TITLES.items()):
            button = QPushButton(f"&{number + 1}  {title}")
            button.setAutoDefault(False)
            button.clicked.connect(lambda _checked, drill=drill: self._drill(drill))
            grid.addWidget(button, number // 3, number % 3)
        return grid

    def _more(self) -> QHBoxLayout:
        row = QHBoxLayout()
        for words, do in (
            ("&Export…", self._export),
            (f"{CLASS_SIZE} &codes for a class…", self._codes),
            ("&Results of a class…", self._results),
        ):
            button = QPushButton(words)
            button.setAutoDefault(False)
            button.clicked.connect(do)
            row.addWidget(button)
        row.addStretch(1)
        close = QPushButton("Close")
        close.setAutoDefault(False)
        close.clicked.connect(self.reject)
        row.addWidget(close)
        return row

    def begin(self) -> None:
        """Begin with the code that is there, else with a new panel of the level."""
        text = self.code.text().strip()
        try:
            code = read_code(text) if text else Code(self.level.currentData(), secrets.randbelow(SEEDS))
        except PracticeError as problem:
            self._say(str(problem))
            self.code.setFocus()
            return
        self.job = begun(code, now())
        self.accept()

    def _drill(self, drill: Drill) -> None:
        DrillDialog(self, drill, secrets.randbelow(SEEDS)).exec()
        self._show_done()

    def _show_done(self) -> None:
        self.past.clear()
        try:
            progress = kept(home())
        except OSError as problem:
            self._say(f"The progress could not be read: {problem.strerror}.")
            return
        self.past.addItems([one.words for one in reversed(progress.done[-SHOWN:])] or ["nothing yet"])
        if progress.unread:
            self._say(f"{progress.unread} lines of the progress could not be read and are left out.")

    def _export(self) -> None:
        try:
            self._write("Export the progress", "practice.csv", summary_csv(rows(kept(home()).done)))
        except OSError as problem:
            self._say(f"The progress could not be read: {problem.strerror}.")

    def _codes(self) -> None:
        level = self.level.currentData()
        self._write("Codes for a class", f"practice-level-{level}.csv", summary_csv(class_codes(level, CLASS_SIZE)))

    def _results(self) -> None:
        folder = QFileDialog.getExistingDirectory(self, "Folder with the hand-ins of a class")
        if folder:
            self._write("Results of a class", "results.csv", summary_csv(list(result_rows(Path(folder)))))

    def _write(self, title: str, name: str, text: str) -> None:
        path, _ = QFileDialog.getSaveFileName(self, title, name, "Table (*.csv)")
        if not path:
            return
        try:
            hand_out_text(Path(path), text)
        except OSError as problem:
            self._say(f"{Path(path).name} could not be written: {problem.strerror}.")

    def _say(self, text: str) -> None:
        self.fault.setText(text)
        self.fault.setVisible(bool(text))
