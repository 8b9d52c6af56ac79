"""The planned day: who and when above, its line, then every task with its minutes; the chosen task can be re-timed and moved."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from robust_ledger.changeover.clock import clock_text
from robust_ledger.changeover.day_drawing import day_scene
from robust_ledger.changeover.day_report import day_words, missing
from robust_ledger.changeover.demands import DayError, demands_of
from robust_ledger.changeover.planned import Planned
from robust_ledger.changeover.record import task_added, task_changed
from robust_ledger.changeover.schedule import first_day
from robust_ledger.changeover.slots import Day
from robust_ledger.changeover.tasks import Task
from robust_ledger.desk.kit.fields import ChoiceField, Form, TextField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.scene_view import SceneView
from robust_ledger.desk.kit.specs import Fields, form_of, lay_out
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.desk.kit.worker import ProgressRow, Worker
from robust_ledger.job.fields import choices_at
from robust_ledger.job.job import Job
from robust_ledger.job.readers.minutes import minutes_text, read_minutes
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan

PHASES = [("before", "with the power on"), ("dark", "dark"), ("after", "after")]


class DayPage(Page):
    """A day at once, the fewest dark minutes proven beside the window."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.planned: Planned | None = None
        self.drawn: Day | None = None
        self.of: Any = None
        self.shown = ""
        f = Fields(store)
        fields = [
            f("day:people"),
            f("day:start"),
            f("day:promise"),
        ]
        self.form = form_of([fields], 110)
        self.progress = ProgressRow()
        self.words = label("", "live")
        self.words.setWordWrap(True)
        self.line = SceneView("The line of the day", self._draw, (720, 170))
        self.line.chosen.connect(store.choose_entry)
        self.table = LedgerTable(
            "Tasks of the day",
            [
                Column("No.", 38, True),
                Column("At", 78),
                Column("Min", 46, True),
                Column("Slack", 46, True),
                Column("Who", 70),
                Column("Where", 56),
                Column("What", 0),
            ],
            row_height=22,
        )
        self.table.chosen.connect(self._chosen)
        self.table.opened.connect(lambda _key: self.one.focus_place("minutes"))
        self.table.removal_asked.connect(self._drop)
        self.one = self._build_one()
        self._lay_out()

    def _lay_out(self) -> None:
        self.add = QPushButton("Add &task")
        self.add.clicked.connect(self._add)
        self.leave = QPushButton("Lea&ve out")
        self.leave.clicked.connect(lambda: self._drop([self.table.current_key() or ""]))
        below = QHBoxLayout()
        below.addWidget(self.one, 1)
        below.addWidget(self.leave, alignment=Qt.AlignmentFlag.AlignTop)
        below.addWidget(self.add, alignment=Qt.AlignmentFlag.AlignTop)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        for widget, part in ((self.form, 0), (self.progress, 0), (self.line, 2), (self.words, 0), (self.table, 4)):
            column.addWidget(widget, part)
        column.addLayout(below)

    def _build_one(self) -> Form:
        """What can be changed of the chosen task."""
        get = lambda job: self._task_value("minutes")  # noqa: E731
        minutes = TextField(
            self.store, "Minutes", get, self._put_minutes, read_minutes, minutes_text, "as counted; 10 20 40"
        )
        phase = ChoiceField(self.store, "When", lambda job: self._task_value("phase"), self._put("phase"), PHASES)
        after = TextField(
            self.store,
            "Comes after No.",
            lambda job: self._after(),
            self._put("after"),
            self._read_after,
            str,
            "its own order",
        )
        words = TextField(self.store, "What", lambda job: self._task_value("words"), self._put("words"), str.strip)
        takes = ChoiceField(
            self.store,
            "Takes",
            lambda job: self._task_value("people"),
            self._put("people"),
            tuple(choices_at("day.people").items()),
        )
        rows: list[list[Any]] = [
            [("words", words), ("minutes", minutes)],
            [("phase", phase), ("after", after), ("people", takes)],
        ]
        return lay_out(Form(), rows, 148)

    # --- the chosen task ------------------------------------------------------------------------------------------
    def _task(self) -> Task | None:
        return next((task for task in self.store.plan.changeover.tasks if task.id == self.shown), None)

    def _task_value(self, name: str) -> Any:
        task = self._task()
        if task is None or name != "minutes":
            return getattr(task, name, None)
        change = self.store.job.day.changes.get(task.id)
        return task.minutes if task.own else change.minutes if change else None

    def _put(self, name: str) -> Any:
        def put(job: Job, value: Any) -> Job:
            return task_changed(job, self.shown, **{name: value}) if self.shown else job

        return put

    def _put_minutes(self, job: Job, value: Any) -> Job:
        task = self._task()
        if task is None or (task.own and value is None):
            return job
        return task_changed(job, task.id, minutes=value)

    def _after(self) -> str:
        """The numbers of the tasks that the user has put before the chosen one."""
        task, day = self._task(), self.store.job.day
        if task is None:
            return ""
        own = next((one.after for one in day.own if one.id == task.id), None)
        change = day.changes.get(task.id)
        wanted = own if own is not None else change.after if change else ()
        numbers = {one.id: number for number, one in enumerate(self.store.plan.changeover.tasks, 1)}
        return ", ".join(str(numbers[one]) for one in wanted if one in numbers)

    def _read_after(self, text: str) -> tuple[str, ...]:
        tasks = self.store.plan.changeover.tasks
        made = []
        for word in text.replace(",", " ").split():
            if not word.isdecimal() or not 1 <= int(word[:4]) <= len(tasks):
                raise ValueError(f'"{word}" is no number of a task; the day has {len(tasks)}.')
            made.append(tasks[int(word) - 1].id)
        return tuple(made)

    def _chosen(self, entry_id: str) -> None:
        task_id = entry_id.removeprefix("day.task.")
        if task_id != self.shown:
            for field in self.one.fields.values():
                if isinstance(field, TextField):
                    field.give_up()
        self.shown = task_id
        self._show_one()
        self.store.choose_entry(entry_id)

    def _show_one(self) -> None:
        task = self._task()
        self.one.setEnabled(task is not None)
        self.leave.setEnabled(task is not None and not task.hold)
        self.one.fields["words"].setEnabled(task is not None and task.own)
        self.one.fields["phase"].setEnabled(task is not None and not task.hold)
        self.one.refresh()

    def _add(self) -> None:
        words = "task of your own"
        if self.store.edit(f"add {words}", lambda job: task_added(job, words)):
            self.shown = self.store.job.day.own[-1].id
            self.table.choose(f"day.task.{self.shown}")
            self._show_one()
            self.one.focus_place("words")

    def _drop(self, keys: list[str]) -> None:
        task_id = keys[0].removeprefix("day.task.") if keys else ""
        task = next((one for one in self.store.plan.changeover.tasks if one.id == task_id), None)
        if task is None:
            return
        if task.hold:
            self.store.notice(f'"{task.words[:60]}" ends in a hold and stays in the day.', serious=True)
            return
        self.store.edit(f"leave out {task.words[:40]}", lambda job: task_changed(job, task_id, dropped=True))

    # --- the day --------------------------------------------------------------------------------------------------
    def start(self) -> None:
        self.table.setFocus()

    def stop(self) -> None:
        self.progress.cancel(wait=True)

    def go_to(self, place: Place) -> bool:
        if place.kind == "day" and place.name.startswith("task."):
            self.shown = place.name.removeprefix("task.")
            self.table.choose(f"day.task.{self.shown}")
            self._show_one()
            return self.one.focus_place("minutes")
        return self.form.focus_place(place)

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        self._show_one()
        room = plan.changeover
        key = (room.tasks, plan.job.day)
        if key == self.of:
            return
        self.of = key
        try:
            demands = demands_of(plan.job.day)
            self.drawn = first_day(room.tasks, demands)
        except DayError as problem:
            self.drawn = None
            self._failed(str(problem))
        if self.drawn is not None and self.planned is None:
            self._show_rows(self.drawn)  # at once; the proof is on its way
            self.line.show_plan(plan)
        worker = Worker(lambda progress: room.schedule(None, progress), (DayError,))
        self.progress.run("Proving the day", worker, self._answered, self._failed)

    def _answered(self, made: Planned) -> None:
        self.planned = made
        plan = self.store.plan
        self.words.setText(day_words(made, missing(plan.changeover)))
        self.line.show_plan(plan)
        self._show_rows(made.day)
        self._show_one()

    def _failed(self, reason: str) -> None:
        self.planned = None
        self.words.setText(reason)
        self.line.show_plan(self.store.plan)
        self._show_rows(None)

    def _show_rows(self, day: Day | None) -> None:
        numbers = {task.id: number for number, task in enumerate(self.store.plan.changeover.tasks, 1)}
        self.table.show_rows([_row(day, slot, numbers) for slot in day.slots] if day else [])

    def _draw(self, plan: Plan, width: float, height: float) -> Any:
        return day_scene(self.planned, width, height)


def _row(day: Day, slot: Any, numbers: dict[str, int]) -> Row:
    times = f" ({slot.task.times:g} ×)" if slot.task.times != 1 else ""
    words = f"{'HOLD: ' if slot.task.hold else ''}{slot.task.words}{times}"
    number = numbers.get(slot.task.id)
    slack = dict(day.slack_min).get(slot.task.id, 0)
    minutes = slot.end_min - slot.start_min
    cells = (
        str(number or ""), clock_text(slot.start_min), str(minutes), str(slack) if slack else "–", slot.who, slot.task.place, words,
    )  # fmt: skip
    return Row(slot.task.entry.id, cells, "" if slot.task.phase == "dark" else "faint")
