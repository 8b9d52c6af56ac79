"""Who, when and what stands in the way: windows, daylight, rain, lunch; below it the trips with what is carried, and what would save dark
minutes."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton, QVBoxLayout

from robust_ledger.changeover.clock import clock_text
from robust_ledger.changeover.demands import DayError, demands_of
from robust_ledger.changeover.learned import gathered
from robust_ledger.changeover.live import durations
from robust_ledger.changeover.planned import Planned
from robust_ledger.changeover.record import task_changed
from robust_ledger.desk.kit.fields import Form, TextField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.specs import Fields, form_of
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import label
from robust_ledger.desk.kit.worker import ProgressRow, Worker
from robust_ledger.job.edits import with_part
from robust_ledger.job.files import JobFileError, read_job
from robust_ledger.plan import Plan, plan


class WhenPage(Page):
    """The demands of the day and what follows for carrying."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.planned: Planned | None = None
        self.of: Any = None
        f = Fields(store)
        self.form = form_of(
            [
                [f("day:date"), self._names(0, "First person"), self._names(1, "Second person")],
                [f("day:latitude_deg"), f("day:longitude_deg"), f("day:zone")],
                [f("day:utility_from"), f("day:utility_until"),
                 f("day:inspection")],
                [f("day:inspector_from"), f("day:inspector_until"),
                 f("day:weather")],
                [f("day:lunch_from"), f("day:lunch_until"),
                 f("day:lunch_min")],
                [f("day:rain_from"), f("day:rain_until")],
            ],
            130,
        )  # fmt: skip
        self.words = label("", "live")
        self.words.setWordWrap(True)
        self.progress = ProgressRow()
        self.gains = LedgerTable(
            "What would save dark minutes", [Column("Saves, min", 80, True), Column("What", 0)], row_height=22
        )
        self.gains.setFixedHeight(LOOK.px(26 + 3 * 23))
        self.gains.opened.connect(self._take)
        self.table = LedgerTable(
            "Trips and what is carried",
            [Column("At", 78), Column("Who", 40), Column("Where", 60), Column("lb", 46, True), Column("Carry", 0)],
            row_height=22,
        )
        self._lay_out()

    def _lay_out(self) -> None:
        self.take = QPushButton("&Move it out of the dark")
        self.take.clicked.connect(lambda: self._take(self.gains.current_key() or ""))
        self.learn = QPushButton("&Take minutes from a past job…")
        self.learn.clicked.connect(self._learn)
        buttons = QHBoxLayout()
        buttons.addWidget(label("Out of the dark", "section"))
        buttons.addStretch(1)
        buttons.addWidget(self.take)
        buttons.addWidget(self.learn)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.form)
        column.addWidget(self.words)
        column.addWidget(self.progress)
        column.addLayout(buttons)
        column.addWidget(self.gains)
        column.addWidget(label("Trips, and what comes along on each", "section"))
        column.addWidget(self.table, 3)

    # --- fields ---------------------------------------------------------------------------------------------------
    def _names(self, number: int, words: str) -> tuple[str, TextField]:
        def get(job: Any) -> str:
            return job.day.names[number] if number < len(job.day.names) else ""

        def put(job: Any, value: str) -> Any:
            names = [*job.day.names, "", ""][:2]
            names[number] = value
            return with_part(job, "day", names=tuple(names) if any(names) else ())

        return ("day:names" if number == 0 else "day:names.2"), TextField(
            self.store, words, get, put, str.strip, str, "name"
        )

    # --- the page -------------------------------------------------------------------------------------------------
    def start(self) -> None:
        self.form.focus_place("day:date")

    def stop(self) -> None:
        self.progress.cancel(wait=True)

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        for place in ("day:rain_from", "day:rain_until"):
            self.form.show_row(place, plan.job.day.weather == "rain")
        room = plan.changeover
        key = (room.tasks, plan.job.day)
        if key == self.of:
            return
        self.of = key
        try:
            demands = demands_of(plan.job.day)
            light = demands.daylight
            self.words.setText(
                f"Daylight {light.text}." if light else "Daylight is not known: date, latitude and longitude say it."
            )
        except DayError as problem:
            self.words.setText(str(problem))
        worker = Worker(lambda progress: room.schedule(None, progress), (DayError,))
        self.gains.when_empty = "Being planned."
        there(self.gains.viewport()).update()
        self.progress.run("Planning the day", worker, self._answered, self._failed)

    def _answered(self, made: Planned) -> None:
        self.planned = made
        self.gains.when_empty = "Nothing that may be moved out of the dark would shorten it."
        self.gains.show_rows([Row(gain.task_id, (str(gain.saves_min), gain.words)) for gain in made.gains])
        self.take.setEnabled(bool(made.gains))
        rows = []
        for number, visit in enumerate(made.visits):
            things = ", ".join(f"{amount:g} × {item}" if amount != 1 else item for item, amount in visit.carried)
            rows.append(
                Row(
                    str(number),
                    (
                        clock_text(visit.start_min),
                        str(visit.person),
                        visit.place,
                        f"{visit.pounds:g}",
                        things or "nothing new",
                    ),
                )
            )
        self.table.show_rows(rows)

    def _failed(self, reason: str) -> None:
        self.planned = None
        self.words.setText(reason)
        self.gains.when_empty = "Not planned."
        self.gains.show_rows([])
        self.table.show_rows([])

    def _take(self, task_id: str) -> None:
        """Move a task where it saves dark minutes."""
        gain = next((one for one in (self.planned.gains if self.planned else ()) if one.task_id == task_id), None)
        gain = gain or (self.planned.gains[0] if self.planned and self.planned.gains else None)
        if gain is not None:
            chosen = gain
            self.store.edit(f"do {chosen.words}", lambda job: task_changed(job, chosen.task_id, phase=chosen.phase))

    def _learn(self) -> None:
        names, _kind = QFileDialog.getOpenFileNames(self, "Jobs whose day is over", "", "Jobs (*.json)")
        self.learn_from(names)

    def learn_from(self, names: list[str]) -> None:
        """Take the minutes of past days, each task's own."""
        from pathlib import Path

        try:
            own = gathered(durations(plan(read_job(Path(name))).changeover) for name in names)
        except JobFileError as problem:
            self.store.notice(str(problem), serious=True)
            return
        if not own:
            self.store.notice(
                "Nothing is learned from these: no task of theirs has a beginning and an end.", serious=True
            )
            return
        self.store.edit(
            "take minutes of past days", lambda job: with_part(job, "day", own_minutes={**job.day.own_minutes, **own})
        )
        self.store.notice(f"Minutes of {len(own)} kinds of work are your own now.")
