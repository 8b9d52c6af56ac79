"""The planned day: who and when above, its line, then every task with its minutes."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.changeover.clock import clock_text, read_clock
from robust_ledger.changeover.day_drawing import day_scene
from robust_ledger.changeover.schedule import DayError
from robust_ledger.changeover.told import Planned, planned, promise_words
from robust_ledger.desk.kit.fields import Form, TextField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.scene_view import SceneView
from robust_ledger.desk.kit.specs import Fields, form_of, of_place
from robust_ledger.desk.kit.stage import label
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.worker import ProgressRow, Worker
from robust_ledger.job.job import Job
from robust_ledger.plan import Plan

PEOPLE = [(1, "one person"), (2, "two people")]


class DayPage(Page):
    """Fewest dark minutes, proven; worked out beside the window."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.planned: Planned | None = None
        self.of: Any = None
        f = Fields(store)
        fields = [
            f.choice("day:people", "Who works", PEOPLE),
            self._clock("day:start", "Begins", ""),
            self._clock("day:promise", "Power promised by", "no promise"),
        ]
        self.form = form_of([fields], 110)
        self.progress = ProgressRow()
        self.words = label("", "live")
        self.words.setWordWrap(True)
        self.line = SceneView("The line of the day", self._draw, (720, 190))
        self.line.chosen.connect(store.choose_entry)
        self.table = LedgerTable(
            "Tasks of the day",
            [Column("At", 84), Column("Min", 52, True), Column("Who", 64), Column("Where", 64), Column("What", 0)],
            row_height=22,
        )
        self.table.chosen.connect(store.choose_entry)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.form)
        column.addWidget(self.progress)
        column.addWidget(self.line, 2)
        column.addWidget(self.words)
        column.addWidget(self.table, 3)

    def _clock(self, place: str, words: str, hint: str) -> tuple[str, TextField]:
        read = lambda text: clock_text(read_clock(text)) if text.strip() else ""  # noqa: E731
        return place, TextField(self.store, words, *of_place(place), read, str, hint)

    def start(self) -> None:
        self.table.setFocus()

    def stop(self) -> None:
        self.progress.cancel(wait=True)

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        wanted = (tuple((one.id, one.minutes, one.needs) for one in plan.changeover.tasks), plan.job.day)
        if wanted == self.of:
            return
        self.of = wanted
        work, day = plan.changeover.tasks, plan.job.day
        try:
            begin = read_clock(day.start or "8:00")
        except ValueError as problem:
            self._failed(str(problem))
            return
        worker = Worker(lambda _progress: planned(work, day.people, begin), (DayError,))
        self.progress.run("Planning the day", worker, self._answered, self._failed)

    def _answered(self, made: Planned) -> None:
        self.planned = made
        self.words.setText(_told(made, self.store.plan))
        self.line.show_plan(self.store.plan)
        self.table.show_rows([_row(made, number) for number in range(len(made.day.slots))])

    def _failed(self, reason: str) -> None:
        self.planned = None
        self.words.setText(reason)
        self.line.show_plan(self.store.plan)
        self.table.show_rows([])

    def _draw(self, plan: Plan, width: float, height: float) -> Any:
        return day_scene(self.planned, width, height, _promise(plan.job))


def _promise(job: Job) -> int | None:
    try:
        return read_clock(job.day.promise) if job.day.promise else None
    except ValueError:
        return None


def _told(made: Planned, plan: Plan) -> str:
    """The day in two sentences."""
    day = made.day
    proof = "proven" if day.proven else "the best found"
    words = (
        f"Dark {day.dark_min} min ({proof}), {clock_text(day.off_min)} to {clock_text(day.on_min)}; back by {clock_text(made.likely_min)} on "
        f"four days of five. A second person is worth {made.second_saves_min} dark minutes. Done at {clock_text(day.end_min)}."
    )
    by = _promise(plan.job)
    words += f" {promise_words(made, by)}" if by is not None else ""
    missing = ", ".join(plan.changeover.unknown)
    return words + (f" Not in it, because not known: {missing}." if missing else "")


def _row(made: Planned, number: int) -> Row:
    slot = made.day.slots[number]
    who = "utility" if slot.person == 0 else str(slot.person)
    times = f" ({slot.task.times:g} ×)" if slot.task.times != 1 else ""
    words = f"{'HOLD: ' if slot.task.hold else ''}{slot.task.words}{times}"
    cells = (clock_text(slot.start_min), str(slot.task.usual_min), who, slot.task.place, words)
    return Row(slot.task.entry.id, cells, "" if slot.task.phase == "dark" else "faint")
