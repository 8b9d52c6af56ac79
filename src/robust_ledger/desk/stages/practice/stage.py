"""Practice: the panel as it was found, the house around it, the dark hours in order, the score; above them the clock and the hand-in."""

from __future__ import annotations

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from robust_ledger.changeover.clock import now
from robust_ledger.desk.kit.page import Page, PagedStage
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.words import label
from robust_ledger.desk.kit.worker import Worker
from robust_ledger.desk.stages.practice.found import FoundPage
from robust_ledger.desk.stages.practice.naming import NamingRow
from robust_ledger.desk.stages.practice.spec import SPEC
from robust_ledger.job.job import Job
from robust_ledger.jobbook.home import home
from robust_ledger.plan import Plan
from robust_ledger.practice.codes import PracticeError
from robust_ledger.practice.exercise import HOUSE_LEVEL
from robust_ledger.practice.hand_in import handed_in, is_called, left_s, panel_for, passed_s
from robust_ledger.practice.layout import fewest_of
from robust_ledger.practice.progress import keep, of_panel
from robust_ledger.practice.score import scored

TICK_MS, ASKED_MS = 1000, 8000


class PracticeStage(PagedStage):
    """Pages around an exercise. When its time is up it is handed in as it stands."""

    spec = SPEC

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.said_call = 0  # of which job the customer's call was said
        self.ahead: Worker | None = None  # works out the best layout meanwhile, so that the score is there at once
        self.ahead_of = ""
        self.is_asked = False  # the button was pressed once
        self.timer = QTimer(self)
        self.timer.setInterval(TICK_MS)
        self.timer.timeout.connect(self.look)
        self.timer.start()

    def build_strip(self) -> QWidget:
        """The code, the time, the button to hand in; the row to name a fault with."""
        strip, row = QWidget(), QHBoxLayout()
        column = QVBoxLayout(strip)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.time = label("", "live")
        self.time.setAccessibleName("Time of the exercise")
        self.button = QPushButton("Hand &in")
        self.button.clicked.connect(self._pressed)
        row.addWidget(self.time, 1)
        row.addWidget(self.button)
        self.naming = NamingRow(self.store)
        column.addLayout(row)
        column.addWidget(self.naming)
        return strip

    def page(self, name: str = "") -> Page:
        is_new = (name or self.current) not in self.made
        made = super().page(name)
        if is_new and isinstance(made, FoundPage):
            made.spotted.connect(self.naming.at)
        return made

    def stop(self) -> None:
        self.timer.stop()
        if self.ahead is not None:
            self.ahead.wait()
        super().stop()

    def show_plan(self, plan: Plan) -> None:
        super().show_plan(plan)
        self.naming.show_named()
        if plan.job.practice.veiled and self.ahead_of != plan.job.practice.code:
            self._work_ahead(plan.job)
        self.look()

    def _work_ahead(self, job: Job) -> None:
        """The fewest splices of the panel, beside the window."""
        try:
            code = panel_for(job).code
        except PracticeError:
            return
        if code.level >= HOUSE_LEVEL and (self.ahead is None or self.ahead.isFinished()):
            self.ahead_of = job.practice.code
            self.ahead = Worker(lambda _progress: fewest_of(code))
            self.ahead.start()

    def look(self) -> None:
        """The clock has moved on: the time left, the customer's call, the end."""
        job = self.store.job
        if not job.practice.code or self.store.is_closed:
            return
        try:
            made, left = panel_for(job), left_s(job, now())
        except PracticeError as problem:
            self.time.setText(str(problem))
            self.button.setEnabled(False)
            return
        self.button.setEnabled(job.practice.veiled and not self.store.read_only)
        minutes, seconds = divmod(int(passed_s(job, now())), 60)
        words = f"Level {made.code.level}, {made.code}"
        if job.practice.handed_in:
            self.time.setText(f"{words}. Handed in after {minutes} min {seconds:02} s.")
            return
        if left is None:
            self.time.setText(f"{words}. {minutes} min {seconds:02} s so far.")
            return
        self.time.setText(
            f"{words}. {int(max(left, 0)) // 60} min {int(max(left, 0)) % 60:02} s left of {made.clock_min} min."
        )
        if is_called(job, now()) and self.said_call != self.store.opened:
            self.said_call = self.store.opened
            self.store.notice(made.call, serious=True)
            self.page().show_plan(self.store.plan)
        if left <= 0 and not self.store.read_only:
            self.hand_in()

    def _pressed(self) -> None:
        """What is handed in stays so: the button is pressed twice."""
        if self.is_asked:
            self.hand_in()
            return
        self.is_asked = True
        self.button.setText("Hand &in, for good")
        self.store.notice("Nothing is changed any more after the hand-in. Once more to hand in.")
        QTimer.singleShot(ASKED_MS, self._think_again)

    def _think_again(self) -> None:
        self.is_asked = False
        self.button.setText("Hand &in")

    def hand_in(self) -> None:
        """Hand the exercise in: what is being typed goes along where it can be read, and stays in its field where not."""
        if (focus := QApplication.focusWidget()) is not None:
            focus.clearFocus()
        late = (left := left_s(self.store.job, now())) is not None and left <= 0
        if not self.store.job.practice.veiled or not self.store.edit("hand in", lambda job: handed_in(job, now())):
            return
        self.store.seal()
        self._think_again()
        try:
            keep(home(), of_panel(scored(self.store.job), now()))
        except OSError as problem:
            self.store.notice(f"The progress could not be written: {problem.strerror}.", serious=True)
        if late:
            self.store.notice("The time is up: handed in as it stood.", serious=True)
        self.show_page("score")
