"""The torque log: a row for each termination, run through with one key; first pass, second pass after a tug, mark."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout

from robust_ledger.changeover import clock as day_clock
from robust_ledger.changeover.record import tightened
from robust_ledger.changeover.torque import Logged, tool_fault
from robust_ledger.desk.kit.fields import Choice, Form, keep_typing
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields, form_of
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.job.parts.record import Unit
from robust_ledger.job.readers.torque_units import in_unit, inch_pounds, torque_text
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan

PASSES = (("first", "first pass"), ("second", "second pass, after a tug"), ("marked", "mark"))


class TorquePage(Page):
    """What is due by the label or usual, and what was done."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        f = Fields(store)
        self.form = form_of(
            [[f("record:torque.tool"),
              f("record:torque.tool_unit"),
              f("record:torque.calibrated")]], 130,
        )  # fmt: skip
        self.words = label("", "live")
        self.words.setWordWrap(True)
        self.table = LedgerTable(
            "Torque log",
            [
                Column("Termination", 0),
                Column("Wire", 62),
                Column("Due", 92, True),
                Column("On the tool", 92, True),
                Column("First", 62, True),
                Column("Second", 62, True),
                Column("Mark", 44),
                Column("", 120),
            ],
            row_height=22,
        )
        self.table.chosen.connect(self._chosen)
        self.table.opened.connect(lambda _key: self._enter())
        self.which = Choice()
        self.which.setAccessibleName("Pass")
        for key, words in PASSES:
            self.which.addItem(words, key)
        self.which.activated.connect(lambda _n: self._first_left())
        self.value = QLineEdit()
        self.value.setAccessibleName("Torque as the tool shows it")
        self.value.setFixedWidth(90)
        self.value.returnPressed.connect(self._enter)
        keep_typing(self.value, store, "torque")
        self.enter = QPushButton("&Enter and go on")
        self.enter.clicked.connect(self._enter)
        self.fault = label("", "fault")
        row = QHBoxLayout()
        for widget in (label("Run through:", "faint"), self.which, self.value, self.enter, self.fault):
            row.addWidget(widget)
        row.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.form)
        column.addWidget(self.words)
        column.addWidget(self.table, 1)
        column.addLayout(row)

    @property
    def unit(self) -> Unit:
        return self.store.job.record.torque.tool_unit

    def start(self) -> None:
        self.table.setFocus()
        self._first_left()

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        rows = plan.changeover.torque
        left = sum(not row.done for row in rows)
        verify = sum(one.of.verify for one in rows)
        words = f"{len(rows) - left} of {len(rows)} done."
        if verify:
            words += f" {verify} by usual figures: verify at the label (Bench, Panel takes it once per kind)."
        fault = tool_fault(plan.job)
        self.words.setText(f"{words} {fault}".strip())
        self.table.show_rows([_row(one, self.unit) for one in rows])
        self._show_value()

    def go_to(self, place: Place) -> bool:
        if place.kind == "torque":
            self.table.choose(place.name)
            self.table.setFocus()
            self._show_value()
            return True
        return self.form.focus_place(place)

    def _chosen(self, key: str) -> None:
        self.store.choose_entry(f"day.torque.{key}")
        self._show_value()

    def _current(self) -> Logged | None:
        key = self.table.current_key()
        return next((one for one in self.store.plan.changeover.torque if one.of.key == key), None)

    def _show_value(self) -> None:
        """What is due of the chosen row, to be entered as it is or typed over."""
        one, which = self._current(), self.which.currentData()
        asks = one is not None and which != "marked" and not one.of.factory
        self.value.setEnabled(asks)
        if self.value.hasFocus() and self.value.isModified():
            return
        due = one.of.due_in_lb if one is not None and asks else None
        self.value.setText(f"{in_unit(due, self.unit):.4g}" if due is not None else "")

    def _open(self, one: Logged, which: str) -> bool:
        """Whether a row waits for a pass."""
        if which == "marked" or one.of.factory:
            return which == "marked" and not one.row.marked
        return getattr(one.row, which) is None

    def _first_left(self) -> None:
        which = self.which.currentData()
        left = next((one for one in self.store.plan.changeover.torque if self._open(one, which)), None)
        if left is not None:
            self.table.choose(left.of.key)
        self._show_value()

    def _enter(self) -> None:
        """Write the pass of the chosen row down and go to the next that waits for it."""
        one, which = self._current(), self.which.currentData()
        if one is None:
            return
        values: dict[str, Any] = {"marked": True}
        if which != "marked" and not one.of.factory:
            try:
                values = {which: inch_pounds(float(self.value.text()), self.unit)}
            except ValueError:
                self.fault.setText(f'"{self.value.text()}" is no torque.')
                return
        said: list[str] = []
        key, at = one.of.key, day_clock.now()
        if self.store.edit(f"tighten {one.of.words[:40]}", lambda job: tightened(job, key, at, **values), said.append):
            self.value.setModified(False)
            self._next(key, which)
        self.fault.setText(" ".join(said))

    def _next(self, key: str, which: str) -> None:
        rows = self.store.plan.changeover.torque
        at = next((n for n, one in enumerate(rows) if one.of.key == key), 0)
        left = next((one for one in (*rows[at + 1 :], *rows[:at]) if self._open(one, which)), None)
        if left is not None:
            self.table.choose(left.of.key)
        self._show_value()


def _row(one: Logged, unit: Unit) -> Row:
    of, row = one.of, one.row
    due = (
        torque_text(of.due_in_lb, of.label_unit)
        if of.due_in_lb is not None
        else "check"
        if of.factory
        else "by the label"
    )
    tool = torque_text(of.due_in_lb, unit) if of.due_in_lb is not None else ""
    wire = of.wire_text

    def shown(value: float | None) -> str:
        return "–" if of.factory else "" if value is None else f"{in_unit(value, unit):.4g}"

    note = one.wrong or ("verify" if of.verify and not one.done else "")
    cells = (of.words, wire, due, tool, shown(row.first), shown(row.second), "✓" if row.marked else "", note)
    return Row(of.key, cells, "faint" if one.done else "", (7,) if one.wrong else ())
