"""The marking order as a guided pass: the statement that the panel is dead, then one pass after the other. Each says once
what a mistake in it destroys, and is left only as done or put off."""

from __future__ import annotations

from datetime import datetime

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from robust_ledger.branch.passes import PASSES, Standing, dead, signed_on_the_day, standings
from robust_ledger.desk.kit.fields import Form
from robust_ledger.desk.kit.specs import Fields, form_of
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.words import label
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Mark
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan

_SIGN = {"waiting": "·", "open": "▸", "later": "later", "done": "✓"}


class MarkingOrder(QWidget):
    """A button for the statement and for each pass; what the chosen one asks unfolds below."""

    mark_changed = pyqtSignal(str)

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store = store
        self.current = ""
        self.group = QButtonGroup(self)
        self.group.setExclusive(False)
        self.buttons: dict[str, QPushButton] = {}
        row = QHBoxLayout()
        row.setSpacing(4)
        for key, title in (("dead", "De-energized?"), *((one.key, one.title) for one in PASSES)):
            button = QPushButton(title)
            button.setCheckable(True)
            button.clicked.connect(lambda _checked, key=key: self.unfold("" if self.current == key else key))
            self.group.addButton(button)
            self.buttons[key] = button
            row.addWidget(button)
        row.addStretch(1)
        self.sheet = QFrame()
        inside = QVBoxLayout(self.sheet)
        inside.setContentsMargins(0, 2, 0, 4)
        inside.setSpacing(4)
        self.question, self.destroys = label("", "section"), label("", "fault")
        for words in (self.question, self.destroys):
            words.setWordWrap(True)
            inside.addWidget(words)
        self.statement = self._build_statement()
        inside.addWidget(self.statement)
        self.done, self.later = QPushButton("All marked, go on"), QPushButton("Later")
        self.sign = QPushButton("Sign: verified de-energized")
        self.done.clicked.connect(lambda: self._close("done"))
        self.later.clicked.connect(lambda: self._close("later"))
        self.sign.clicked.connect(self._sign)
        last = QHBoxLayout()
        for button in (self.sign, self.done, self.later):
            last.addWidget(button)
        self.tags = label("", "faint")
        self.tags.setWordWrap(True)
        last.addWidget(self.tags, 1)
        inside.addLayout(last)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addLayout(row)
        column.addWidget(self.sheet)
        self.sheet.hide()

    def _build_statement(self) -> Form:
        f = Fields(self.store)
        return form_of(
            [
                [
                    f("pull_off:first_tester"),
                    f("pull_off:proved_before"),
                ],
                [
                    f("pull_off:second_tester"),
                    f("pull_off:proved_after"),
                ],
                [f("pull_off:signed_by")],
            ],
            130,
        )

    @property
    def mark(self) -> Mark | None:
        """The mark of the pass that is unfolded."""
        return next((one.mark for one in PASSES if one.key == self.current), None)

    def unfold(self, key: str) -> None:
        """Show what a pass asks; "" folds it up. Circuits called out meanwhile get its mark."""
        self.current = key
        self.show_plan(self.store.plan)
        self.mark_changed.emit(str(self.mark or ""))

    def go_to(self, place: Place) -> bool:
        part, key = place.kind, place.name
        if part != "pull_off":
            return False
        self.unfold(key if key in self.buttons else "dead")
        if self.current == "dead":
            return self.statement.focus_place(place) or self.statement.focus_place("pull_off:first_tester")
        self.done.setFocus()
        return True

    def show_plan(self, plan: Plan) -> None:
        self.statement.refresh()
        every = {standing.one.key: standing for standing in standings(plan.job)}
        proved = dead(plan.job)
        for key, button in self.buttons.items():
            state = ("done" if proved else "open") if key == "dead" else every[key].state
            title = "De-energized?" if key == "dead" else every[key].one.title
            button.setText(f"{_SIGN[state]} {title}")
            button.setAccessibleDescription(state)
            button.setChecked(key == self.current)
            button.setEnabled(state != "waiting" or key == self.current)
        self.sheet.setVisible(bool(self.current))
        if self.current:
            self._show_sheet(plan.job, every.get(self.current), proved)

    def _show_sheet(self, job: Job, standing: Standing | None, proved: bool) -> None:
        statement = standing is None
        hold = signed_on_the_day(job)
        self.statement.setVisible(statement and hold is None)
        self.sign.setVisible(statement and hold is None)
        self.done.setVisible(not statement)
        self.later.setVisible(not statement)
        if standing is None:
            signed = f"Signed by {job.pull_off.signed_by}, {job.pull_off.signed_at}." if proved else ""
            if hold is not None:
                signed = f"Proven dead on Changeover, Holds: signed by {hold.signed_by}."
            self.question.setText("Before a wire is touched: prove the testers, test every pair, prove them again.")
            self.destroys.setText("The line side stays live until the utility has disconnected it.")
            self.tags.setText(signed)
            return
        self.question.setText(standing.one.question)
        self.destroys.setText(standing.one.destroys)
        words = ", ".join(str(circuit.tag) for circuit in standing.circuits[:30])
        mark = standing.one.mark
        added = f' What is called out now gets "{mark}".' if mark else ""
        self.tags.setText((f"Tags so far: {words}." if words and mark else "None so far." if mark else "") + added)

    def _close(self, state: str) -> None:
        key = self.current
        passes = {**self.store.job.pull_off.passes, key: state}
        words = "finish" if state == "done" else "put off"
        title = next(one.title for one in PASSES if one.key == key)
        self.store.edit(f'{words} "{title.lower()}"', lambda job: with_part(job, "pull_off", passes=passes))
        following = next((s.one.key for s in standings(self.store.job) if s.state == "open"), "")
        self.unfold(following)

    def _sign(self) -> None:
        """Sign with the time of this moment; what is missing is said, and nothing is signed."""
        made = self.store.job.pull_off
        missing = [
            words
            for words, there in (
                ("the first tester", made.first_tester),
                ("the second tester", made.second_tester),
                ("proved before", made.proved_before),
                ("proved after", made.proved_after),
                ("who tested", made.signed_by),
            )
            if not there
        ]
        if missing:
            self.tags.setText(f"Missing: {', '.join(missing)}.")
            return
        now = datetime.now().strftime("%Y-%m-%d %H:%M")
        self.store.edit("sign the de-energized test", lambda job: with_part(job, "pull_off", signed_at=now))
        self.unfold(PASSES[0].key)
