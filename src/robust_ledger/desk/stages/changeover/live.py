"""The day as it goes: the glance view, large keys, and what is left, planned again from now at every tick."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QHideEvent, QShowEvent
from PyQt6.QtWidgets import QApplication, QLineEdit, QPushButton, QVBoxLayout, QWidget

from robust_ledger.changeover import clock as day_clock
from robust_ledger.changeover.clock import clock_text
from robust_ledger.changeover.demands import DayError
from robust_ledger.changeover.live import Live, live, live_words
from robust_ledger.changeover.record import begun_anew, noted, stamp
from robust_ledger.changeover.slots import Slot
from robust_ledger.desk.kit.flow import FlowLayout
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.desk.kit.worker import Worker
from robust_ledger.desk.stages.changeover.glance import Glance, Reply, Turn
from robust_ledger.job.parts.record import Event
from robust_ledger.plan import Plan

EVERY_MS = 20_000  # the clock moves on
KEY_PX, KEY_WIDE_PX = 44, 82  # for a thumb in a glove


class LivePage(Page):
    """Large words above, keys, the list below."""

    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.state: Live | None = None
        self.worker: Worker | None = None
        self.leaving: list[Worker] = []
        self.glance = Glance()
        self.words = label("", "live")
        self.words.setWordWrap(True)
        self.table = LedgerTable(
            "What is left of the day",
            [
                Column("No.", 38, True),
                Column("At", 78),
                Column("Min", 46, True),
                Column("Who", 70),
                Column("State", 62),
                Column("What", 0),
            ],
            row_height=22,
        )
        self.table.chosen.connect(lambda key: store.choose_entry(key))
        self.table.opened.connect(lambda _key: self._do("done"))
        self._lay_out()
        self.timer = QTimer(self)
        self.timer.setInterval(EVERY_MS)
        self.timer.timeout.connect(self.look)

    def _lay_out(self) -> None:
        self.keys = {}
        row_of_keys = QWidget()
        row = FlowLayout(row_of_keys)
        for name, words in (
            ("done", "&Finished"),
            ("start", "&Begin"),
            ("undone", "&Not finished"),
            ("off", "&Power off"),
        ):
            button = QPushButton(words)
            button.setMinimumSize(KEY_WIDE_PX, KEY_PX)
            button.clicked.connect(lambda _on, name=name: self._do(name))
            row.addWidget(button)
            self.keys[name] = button
        self.minutes = QLineEdit("20")
        self.minutes.setAccessibleName("Minutes to wait")
        self.minutes.setFixedWidth(52)
        self.minutes.setMinimumHeight(KEY_PX)
        row.addWidget(self.minutes)
        for name, words in (("utility", "&Utility late"), ("us", "Brea&k")):
            button = QPushButton(words)
            button.setMinimumSize(KEY_WIDE_PX, KEY_PX)
            button.clicked.connect(lambda _on, name=name: self._wait(name))
            row.addWidget(button)
            self.keys[name] = button
        self.phone = QPushButton("P&hone")
        self.phone.setToolTip("Lines of the field book, copied on the phone and pasted here from the clipboard")
        self.phone.setMinimumHeight(KEY_PX)
        self.phone.clicked.connect(self._from_phone)
        row.addWidget(self.phone)
        self.anew = QPushButton("Start over")
        self.anew.setMinimumHeight(KEY_PX)
        self.anew.clicked.connect(lambda: self.store.edit("begin the day anew", begun_anew))
        row.addWidget(self.anew)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.glance, 3)
        column.addWidget(row_of_keys)
        column.addWidget(self.words)
        column.addWidget(self.table, 2)

    def start(self) -> None:
        self.table.setFocus()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Out of view the clock need not move on."""
        super().showEvent(event)
        self.timer.start()

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        self.timer.stop()

    def stop(self) -> None:
        self.timer.stop()
        for one in (*self.leaving, *([self.worker] if self.worker else [])):
            one.blockSignals(True)
            one.wait()
        self.worker, self.leaving = None, []

    def show_plan(self, plan: Plan) -> None:
        self.look()

    def look(self) -> None:
        """Plan the rest of the day from now, beside the window; the answer before is shown till then."""
        room, now = self.store.plan.changeover, day_clock.now()
        if self.worker is not None and self.worker.isRunning():
            self.worker.blockSignals(True)
            self.leaving = [*(one for one in self.leaving if one.isRunning()), self.worker]
        self.worker = Worker(lambda progress: live(room, now, progress), (DayError,))
        self.worker.answered.connect(self._answered)
        self.worker.failed.connect(self._failed)
        self.worker.start()

    def _failed(self, reason: str) -> None:
        self.state = None
        self.words.setText(reason)
        self.glance.show_day((), ())
        self.table.show_rows([])

    def _answered(self, made: Live) -> None:
        self.state = made
        job, clock = self.store.job, made.clock
        promise = made.plan.demands.promise_min
        late = promise is not None and made.plan.day.on_min > promise
        back = _short(clock.text(made.plan.day.on_min if made.back_min is None else made.back_min))
        self.glance.show_day(
            (
                Reply("Now", clock.text(made.now_min)),
                Reply("Dark so far", f"{made.dark_so_far_min:.0f} min"),
                Reply("Power back at" if made.back_min is None else "Power back since", back, late),
                Reply("Promised", clock_text(promise) if promise is not None else "–"),
            ),
            [self._turn(made, person, job.day.names) for person in range(1, made.plan.day.people + 1)],
        )
        self.words.setText(live_words(made))
        numbers = {one.id: number for number, one in enumerate(self.store.plan.changeover.tasks, 1)}
        left = [slot for slot in made.plan.day.slots if not slot.done]
        over = [one for one in made.plan.day.slots if one.done]
        self.table.show_rows([self._row(one, made, numbers) for one in (*left, *over)])
        chosen = self._chosen_slot()
        if left and (chosen is None or chosen.done):
            going = [one for one in left if one.task.id in made.going]
            self.table.choose((going or left)[0].task.entry.id)

    def _turn(self, made: Live, person: int, names: tuple[str, ...]) -> Turn:
        going, then = made.turn(person)
        name = names[person - 1] if person <= len(names) and names[person - 1] else f"Person {person}"
        shown, after = (going, then) if going else (then, None)
        rest = f"then {after.task.words}" if going and after else ""
        others = made.next_of_others
        if shown is None and others is not None:
            return Turn(name, f"waits: {others.task.words}", False, "", False)
        if shown is None:
            return Turn(name, "nothing left", False, "", False)
        at = (
            f"planned till {made.clock.text(shown.end_min)}"
            if going
            else f"at {made.clock.text(shown.start_min)}, {shown.task.usual_min} min"
        )
        return Turn(
            name, shown.task.words, going is not None, f"{at}{'; ' if rest else ''}{rest}", bool(shown.task.hold)
        )

    def _row(self, slot: Slot, made: Live, numbers: dict[str, int]) -> Row:
        state = "done" if slot.done else "going" if slot.task.id in made.going else "HOLD" if slot.task.hold else ""
        cells = (
            str(numbers.get(slot.task.id, "")), made.clock.text(slot.start_min), str(slot.end_min - slot.start_min), slot.who, state, slot.task.words,
        )  # fmt: skip
        return Row(slot.task.entry.id, cells, "faint" if slot.done else "bold" if state == "going" else "")

    # --- keys -----------------------------------------------------------------------------------------------------
    def _chosen_slot(self) -> Slot | None:
        key = self.table.current_key()
        slots = self.state.plan.day.slots if self.state else ()
        return next((slot for slot in slots if slot.task.entry.id == key), None)

    def _do(self, kind: str) -> None:
        slot = self._chosen_slot()
        values: dict[str, Any] = {}
        words = "the power went off"
        if kind != "off":
            if slot is None:
                self.store.notice("Choose a task first.")
                return
            values = {"task": slot.task.id, "person": slot.person or 1}
            words = f"{ {'done': 'finish', 'start': 'begin', 'undone': 'not finished:'}[kind] } {slot.task.words[:40]}"
        self._note(words, kind, values)
        if kind == "done" and slot is not None and self.state is not None:
            left = [one for one in self.state.plan.day.slots if not one.done and one is not slot]
            if left:
                self.table.choose(left[0].task.entry.id)

    def _wait(self, who: str) -> None:
        try:
            minutes = float(self.minutes.text())
        except ValueError:
            self.store.notice(f'"{self.minutes.text()}" is no number of minutes.', serious=True)
            return
        words = "break" if who == "us" else f"the {who} is late"
        self._note(words, "wait", {"who": who, "person": 0, "minutes": minutes})

    def _from_phone(self) -> None:
        """Take the lines on the clipboard, as the field book gives them back; what cannot be taken is told, the rest comes in as one step."""
        from robust_ledger.callout.session import replay  # when lines have come: the desk is up sooner

        clipboard = QApplication.clipboard()
        lines = clipboard.text().splitlines() if clipboard is not None else []
        if not any(line.strip() for line in lines):
            self.store.notice("The clipboard holds no lines; copy them in the field book, on its page Send.")
            return
        after, outcomes = replay(lines, self.store.job, self.store.plan.codebook, "changeover")
        faults = [one for one in outcomes if one.fault]
        taken = sum(1 for one in outcomes if not one.fault and not one.text.endswith(":"))
        if taken:
            self.store.edit(f"take {taken} lines from the phone", lambda _job: after)
        words = f"{taken} lines taken."
        if faults:
            words += f" Not taken: {len(faults)}, first: {faults[0].text[:60]} – {faults[0].fault}"
        self.store.notice(words, serious=bool(faults))

    def _note(self, words: str, kind: str, values: dict[str, Any]) -> None:
        def change(job: Any) -> Any:
            event = Event.read({"at": stamp(day_clock.now()), "kind": kind, **values})
            return noted(job, self.store.plan.changeover, event)

        self.store.edit(words, change)


def _short(words: str) -> str:
    """A time of day where there is little room: "12:20 am +1" of the next day."""
    return words.replace(" (next day)", " +1")
