"""The first page, which is the job book: what to begin with at the left, the jobs at the right, unsaved work left behind above them."""

from __future__ import annotations

from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from robust_ledger.desk.kit.examples import DEMO, SMALL_DEMO, SPLIT_DEMO
from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import Label, label, plain_tip
from robust_ledger.desk.shell.book import BookKeeper
from robust_ledger.jobbook.unsaved import Found

if TYPE_CHECKING:
    from robust_ledger.desk.shell.firstrun import FirstRun
    from robust_ledger.desk.shell.joblist import JobList

DEMOS = (
    ("Open the &demo job", DEMO, "A 1958 bungalow: 125 A service, 24 spaces, a sauna, a heat pump, a detached garage, existing violations."),
    ("Open the &small demo", SMALL_DEMO, "A small house with gas heat: like-for-like panel replacement."),
    ("Open the s&plit demo", SPLIT_DEMO, "An all-electric house: a 320 A class meter, two panels, an old fuse box."),
)  # fmt: skip


EDGES_PX = 90  # around the list and beside it


class StartPage(QWidget):
    """What to do first."""

    new_asked = pyqtSignal()
    new_with_asked = pyqtSignal()
    open_asked = pyqtSignal()
    profiles_asked = pyqtSignal()
    tells_asked = pyqtSignal()
    practice_asked = pyqtSignal()
    demo_asked = pyqtSignal(Path)
    file_asked = pyqtSignal(Path)
    recover_asked = pyqtSignal(object)
    discard_asked = pyqtSignal(object)

    def __init__(self, book: BookKeeper) -> None:
        super().__init__()
        self.book = book
        row = QHBoxLayout(self)
        row.setContentsMargins(28, 18, 28, 14)
        row.setSpacing(26)
        side, main = QVBoxLayout(), QVBoxLayout()
        side.setSpacing(7)
        self._build_side(side)
        self.left = QWidget()
        self.left.setLayout(side)
        self.lists = QGridLayout()
        self.first: FirstRun | None = None
        self.is_first = False
        self.main = main
        main.addLayout(self.lists)
        main.addWidget(label("Jobs", "heading"))
        main.addStretch(1)
        row.addWidget(self.left)
        row.addLayout(main, 1)
        self.apply_look()

    @cached_property
    def jobs(self) -> JobList:
        """The list, made when it is first asked for: the page is on the screen before it."""
        from robust_ledger.desk.shell.joblist import JobList

        made = JobList(self.book)
        made.opened.connect(self.file_asked)
        self.main.takeAt(self.main.count() - 1)
        self.main.addWidget(made, 1)
        return made

    def apply_look(self) -> None:
        """The text size has changed."""
        self.left.setFixedWidth(LOOK.px(240 if LOOK.large else 250))
        if "jobs" in self.__dict__:
            self.jobs.table.resize_columns(self.width() - self.left.width() - EDGES_PX if LOOK.large else 0)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.apply_look()

    def _build_side(self, side: QVBoxLayout) -> None:
        title = label("Robust Ledger", "heading")
        title.setStyleSheet("font-size: 26px;")
        side.addWidget(title)
        self._words(
            side, "One dwelling, one day: from the old panel to the new schedule, with the working of every number."
        )
        side.addSpacing(8)
        self.new = self._choice(side, "&New job", "An empty ledger, with what your profiles say.")
        self.new.clicked.connect(self.new_asked)
        self.new_with = self._choice(side, "New job &with…", "Choose profiles, name and panels.")
        self.new_with.clicked.connect(self.new_with_asked)
        self.open = self._choice(side, "&Open a job…", "A file that ends in .ledger.json.")
        self.open.clicked.connect(self.open_asked)
        side.addSpacing(8)
        self.profiles = self._choice(side, "Profi&les…", "What is the same on every job.")
        self.profiles.clicked.connect(self.profiles_asked)
        self.tells = self._choice(side, "What the jobs &tell…", "Recurring defects, own minutes, hours.")
        self.tells.clicked.connect(self.tells_asked)
        self.practice = self._choice(side, "P&ractice…", "Made-up panels with hidden faults; drills.")
        self.practice.clicked.connect(self.practice_asked)
        side.addSpacing(8)
        self.demo, self.small, self.split = (self._demo(side, *one) for one in DEMOS)
        side.addStretch(1)
        self._words(
            side,
            "Robust Ledger sizes, matches and keeps records. It defers to the local code, the utility and the AHJ, "
            "and it does not replace a licensed electrician. The line side stays live until the utility has disconnected it.",
        )

    def _demo(self, side: QVBoxLayout, words: str, path: Path, why: str) -> QPushButton:
        button = self._choice(side, words, why)
        button.clicked.connect(lambda: self.demo_asked.emit(path))
        return button

    def _words(self, side: QVBoxLayout, text: str) -> None:
        words = label(text, "faint")
        words.setWordWrap(True)
        side.addWidget(words)

    def _choice(self, side: QVBoxLayout, words: str, why: str) -> QPushButton:
        button = QPushButton(words)
        button.setAccessibleDescription(why)
        button.setToolTip(plain_tip(why))
        side.addWidget(button)
        return button

    def show_lists(self, left_behind: Found, root: Path, is_first: bool) -> None:
        """Fill in unsaved work, and the jobs once the page is on the screen; at the first start what is asked then."""
        self._show_waiting(left_behind, root)
        self.is_first = is_first
        QTimer.singleShot(0, self._fill)

    def start(self) -> None:
        """Put the cursor where work begins; where there are jobs it goes on to the search, once that is there."""
        self.demo.setFocus()

    def _fill(self) -> None:
        if self.isVisible():
            if self.is_first and self.first is None:
                self._ask_first()
            self.apply_look()
            if self.demo.hasFocus() and (self.book.settings.recent_names() or self.book.folder):
                self.jobs.line.setFocus()
            self.jobs.setVisible(True)
            self.jobs.refresh()
            self.book.look_through()

    def _ask_first(self) -> None:
        from robust_ledger.desk.shell.firstrun import FirstRun

        self.first = FirstRun(self.book.profile_store)
        self.first.over.connect(self._first_over)
        self.main.insertWidget(1, self.first)

    def _first_over(self) -> None:
        """The three things are answered or skipped, once and for all."""
        self.book.settings.put("asked_first", True)
        if self.first is not None:
            self.first.hide()
        self.new.setFocus(Qt.FocusReason.OtherFocusReason)

    def _show_waiting(self, left_behind: Found, root: Path) -> None:
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
            words = Label(f"{name}, {one.kept_at.replace('T', ' ')[:16]}" + (f", last: {one.last}" if one.last else ""))
            take, drop = QPushButton("Restore"), QPushButton("Discard")
            take.clicked.connect(lambda _checked, one=one: self.recover_asked.emit(one))
            drop.clicked.connect(lambda _checked, one=one: self.discard_asked.emit(one))
            for column, widget in enumerate((words, take, drop)):
                self.lists.addWidget(widget, row, column)
            row += 1
        if left_behind.unreadable:
            many = len(left_behind.unreadable)
            words = Label(f"{many} more cannot be read and {'was' if many == 1 else 'were'} left in {root}.")
            self.lists.addWidget(words, row, 0, 1, 3)
        self.lists.setColumnStretch(3, 1)
