"""The first page: demo jobs, a new job, opening, recent jobs, and unsaved work left behind."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from robust_ledger.desk.kit.examples import DEMO, SMALL_DEMO, SPLIT_DEMO
from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.stage import label
from robust_ledger.jobbook.waiting import Found


class StartPage(QWidget):
    """What to do first."""

    new_asked = pyqtSignal()
    open_asked = pyqtSignal()
    demo_asked = pyqtSignal(Path)
    file_asked = pyqtSignal(Path)
    recover_asked = pyqtSignal(object)
    discard_asked = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(90, 50, 90, 40)
        outer.setSpacing(10)
        title = label("Robust Ledger", "heading")
        title.setStyleSheet("font-size: 30px;")
        outer.addWidget(title)
        outer.addWidget(
            label(
                "One dwelling, one day: from the old panel to the new schedule, with the working of every number.",
                "faint",
            )
        )
        outer.addSpacing(14)
        self.demo = self._choice(
            outer,
            "Open the &demo job",
            "A 1958 bungalow: 125 A service, 24 spaces, a sauna, a heat pump, a detached garage and a few existing violations.",
        )
        self.demo.clicked.connect(lambda: self.demo_asked.emit(DEMO))
        self.small = self._choice(
            outer, "Open the &small demo", "A small house with gas heat: like-for-like panel replacement."
        )
        self.small.clicked.connect(lambda: self.demo_asked.emit(SMALL_DEMO))
        self.split = self._choice(
            outer, "Open the s&plit demo", "An all-electric house: a 320 A class meter, two panels, an old fuse box."
        )
        self.split.clicked.connect(lambda: self.demo_asked.emit(SPLIT_DEMO))
        self.new = self._choice(outer, "&New job", "An empty ledger. Start with the call-out line.")
        self.new.clicked.connect(self.new_asked)
        self.open = self._choice(outer, "&Open a job…", "A file that ends in .ledger.json.")
        self.open.clicked.connect(self.open_asked)
        outer.addSpacing(12)
        self.lists = QGridLayout()
        outer.addLayout(self.lists)
        outer.addStretch(1)
        caution = label(
            "Robust Ledger sizes, matches and keeps records. It defers to the local code, the utility and the AHJ, "
            "and it does not replace a licensed electrician. The line side stays live until the utility has disconnected it.",
            "faint",
        )
        caution.setWordWrap(True)
        outer.addWidget(caution)

    def _choice(self, outer: QVBoxLayout, words: str, why: str) -> QPushButton:
        row = QGridLayout()
        button = QPushButton(words)
        button.setMinimumWidth(210)
        button.setMinimumHeight(34)
        button.setAccessibleDescription(why)
        row.addWidget(button, 0, 0)
        row.addWidget(label(why, "faint"), 0, 1)
        row.setColumnStretch(1, 1)
        row.setHorizontalSpacing(16)
        outer.addLayout(row)
        return button

    def show_lists(self, recent: list[Path], left_behind: Found, root: Path) -> None:
        """Fill in recent jobs and unsaved work."""
        while self.lists.count():
            item = self.lists.takeAt(0)
            if there(item).widget():
                there(there(item).widget()).deleteLater()
        row = 0
        for number, one in enumerate(left_behind.waiting):
            if not number:
                self.lists.addWidget(label("Unsaved work from before", "section"), row, 0, 1, 3)
                row += 1
            name = one.path.name if one.path else one.job.heading.title
            words = QLabel(
                f"{name}, {one.kept_at.replace('T', ' ')[:16]}" + (f", last: {one.last}" if one.last else "")
            )
            take, drop = QPushButton("Restore"), QPushButton("Discard")
            take.clicked.connect(lambda _checked, one=one: self.recover_asked.emit(one))
            drop.clicked.connect(lambda _checked, one=one: self.discard_asked.emit(one))
            for column, widget in enumerate((words, take, drop)):
                self.lists.addWidget(widget, row, column)
            row += 1
        if left_behind.unreadable:
            many = len(left_behind.unreadable)
            words = QLabel(f"{many} more cannot be read and {'was' if many == 1 else 'were'} left in {root}.")
            self.lists.addWidget(words, row, 0, 1, 3)
            row += 1
        for number, path in enumerate(recent[:5]):
            if not number:
                self.lists.addWidget(label("Recent jobs", "section"), row, 0, 1, 3)
                row += 1
            button = QPushButton(path.name)
            button.setToolTip(str(path))
            button.clicked.connect(lambda _checked, path=path: self.file_asked.emit(path))
            self.lists.addWidget(button, row, 0, Qt.AlignmentFlag.AlignLeft)
            row += 1
        self.lists.setColumnStretch(3, 1)
