"""Breaker by breaker in the order of the schedule: what is checked at each, what it was found to feed, what stays off and why."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout

from robust_ledger.changeover import clock as day_clock
from robust_ledger.changeover.energize import Energized, in_the_way, sequence
from robust_ledger.changeover.record import checked_off, switched, traced
from robust_ledger.desk.kit.fields import keep_typing
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.job.keys import CircuitKey
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan


class EnergizePage(Page):
    """The sequence on the left, checks of the chosen circuit on the right."""

    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.all: tuple[Energized, ...] = ()
        self.words = label("", "live")
        self.words.setWordWrap(True)
        self.table = LedgerTable(
            "Breakers in the order of the schedule",
            [
                Column("Panel", 92),
                Column("Space", 46),
                Column("Breaker", 58),
                Column("Feeds", 0),
                Column("State", 60),
                Column("Left", 40, True),
            ],
            row_height=23,
        )
        self.table.chosen.connect(self._chosen)
        self.table.opened.connect(lambda _key: self._switch("on"))
        self.checks = LedgerTable("What is checked", [Column("", 28), Column("Check", 0)], row_height=24)
        self.checks.opened.connect(self._tick)
        self.title = label("", "section")
        self.title.setWordWrap(True)
        self.fault = label("", "fault")
        self.fault.setWordWrap(True)
        self.feeds = self._line("What it was found to feed")
        self.feeds.returnPressed.connect(self._name)
        self.why = self._line("Why it is left off")
        self.why.returnPressed.connect(lambda: self._switch("off"))
        self._lay_out()

    def _line(self, name: str) -> QLineEdit:
        made = QLineEdit()
        made.setAccessibleName(name)
        made.setPlaceholderText(name.lower())
        keep_typing(made, self.store, name.lower())
        return made

    def _lay_out(self) -> None:
        self.on = QPushButton("O&n")
        self.on.setProperty("role", "main")
        self.on.clicked.connect(lambda: self._switch("on"))
        self.off = QPushButton("Lea&ve off")
        self.off.clicked.connect(lambda: self._switch("off"))
        self.name = QPushButton("Na&me it")
        self.name.clicked.connect(self._name)
        first, second = QHBoxLayout(), QHBoxLayout()
        for widget in (self.feeds, self.name):
            first.addWidget(widget)
        for widget in (self.on, self.why, self.off):
            second.addWidget(widget)
        right = QVBoxLayout()
        right.addWidget(self.title)
        right.addWidget(self.checks, 1)
        right.addWidget(self.fault)
        right.addLayout(first)
        right.addLayout(second)
        both = QHBoxLayout()
        both.addWidget(self.table, 3)
        both.addLayout(right, 2)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.words)
        column.addLayout(both, 1)

    def start(self) -> None:
        self.table.setFocus()
        left = next((one for one in self.all if not one.done), None)
        if left is not None and not self.table.current_key():
            self.table.choose(str(left.branch.key))
            self._show()

    def go_to(self, place: Place) -> bool:
        if place.kind != "switched":
            return False
        self.table.choose(place.name)
        self.table.setFocus(Qt.FocusReason.OtherFocusReason)
        self._show()
        return True

    def show_plan(self, plan: Plan) -> None:
        self.all = sequence(plan.changeover)
        done = sum(one.done for one in self.all)
        hold = in_the_way(plan.changeover)
        words = f"{done} of {len(self.all)} on and checked, or left off with a reason."
        again = f" It has opened again: {hold.why}." if hold is not None and hold.why else ""
        self.words.setText(
            f'{words} No breaker goes on before the hold "{hold.words}" is passed.{again}' if hold else words
        )
        self.table.show_rows([_row(one) for one in self.all])
        self._show()

    def _current(self) -> Energized | None:
        key = self.table.current_key()
        return next((one for one in self.all if str(one.branch.key) == key), None)

    def _chosen(self, key: str) -> None:
        self.fault.setText("")
        self._show()
        self.store.choose_place(f"branch:{key}")

    def _show(self) -> None:
        one = self._current()
        if one is None:
            self.title.setText("Choose a breaker")
            self.checks.show_rows([])
            return
        name = one.branch.name
        self.title.setText(f"{name}: {one.branch.feeds or 'unknown'}{f' – {one.keeps_off}' if one.keeps_off else ''}")
        rows = [
            Row(check.key, ("·" if check in one.left else "✓", check.words), "" if check in one.left else "faint")
            for check in one.checks
        ]
        self.checks.show_rows(rows)
        for line in (self.feeds, self.name):
            line.setEnabled(one.branch.origin_tag is not None)

    def _edit(self, words: str, change: Any) -> bool:
        said: list[str] = []
        taken = self.store.edit(words, change, said.append)
        self.fault.setText(" ".join(said))
        return taken

    def _switch(self, state: str) -> None:
        one = self._current()
        if one is None:
            return
        room, key, why = self.store.plan.changeover, one.branch.key, self.why.text()
        at = day_clock.now()
        if self._edit(
            f"{one.branch.name} {state}", lambda job: switched(job, room, key, state, at, why if state == "off" else "")
        ):
            self.why.clear()
            self._next(key)

    def _next(self, key: CircuitKey) -> None:
        """On to the next breaker that was not switched, once this one has nothing left to check."""
        now = next((one for one in self.all if one.branch.key == key), None)
        if now is not None and now.done:
            left = next((one for one in self.all if not one.state.state), None)
            if left is not None:
                self.table.choose(str(left.branch.key))
        elif now is not None and now.left:
            self.checks.setFocus()
            self.checks.choose(now.left[0].key)
        self._show()

    def _tick(self, check: str) -> None:
        one = self._current()
        if one is None:
            return
        key, on = one.branch.key, check not in one.state.checks
        if self._edit(f"check {one.branch.name}", lambda job: checked_off(job, key, check, on)):
            now = self._current()
            if now is not None and now.left:
                self.checks.choose(now.left[0].key)
            elif now is not None and now.done:
                self.table.setFocus()
                self._next(key)

    def _name(self) -> None:
        one = self._current()
        if one is None or one.branch.origin_tag is None:
            return
        tag, key, feeds = one.branch.origin_tag, one.branch.key, self.feeds.text()
        if self._edit(f"name {one.branch.name}", lambda job: traced(job, tag, key, feeds)):
            self.feeds.clear()


def _row(one: Energized) -> Row:
    state = one.state.state or ""
    left = str(len(one.left)) if one.left else "–"
    mood = "faint" if one.done else ""
    return Row(
        str(one.branch.key),
        (one.panel, one.space, one.branch.rating_text, one.branch.feeds or "unknown", state, left),
        mood,
        (4,) if state == "off" else (),
    )
