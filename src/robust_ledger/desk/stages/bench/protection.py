"""The protection ledger: of every circuit what protected it as found, what is required now, what is planned and where, and whether it was tested."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.branch.ledger import LedgerRow
from robust_ledger.changeover.energize import sequence
from robust_ledger.desk.kit.fields import Form
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import ItemFields
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.job.edits import change_branch, change_circuit
from robust_ledger.job.job import Job
from robust_ledger.job.keys import NO_CIRCUIT, CircuitKey
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import UNKNOWN
from robust_ledger.plan import Plan


class ProtectionPage(Page):
    """The ledger, and under it what was found at the outlets of the chosen circuit and where the plan protects it."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.key = NO_CIRCUIT
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.table = LedgerTable(
            "Protection ledger",
            [
                Column("Tag", 40),
                Column("Circuit", 0),
                Column("As found", 112),
                Column("Required now", 150),
                Column("Planned", 122),
                Column("Where", 84),
                Column("Tested", 60),
            ],
            row_height=21,
        )
        self.table.when_empty = "No circuits yet: call them out in Pull-off, or add loads."
        self.table.chosen.connect(self._chosen)
        self.table.opened.connect(lambda _key: self.form.fields["circuit:guarded"].setFocus())
        column.addWidget(self.table, 1)
        self.title = label("", "section")
        column.addWidget(self.title)
        self.words = label("", "live")
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.form = self._build_form(store)
        column.addWidget(self.form)

    def _build_form(self, store: JobStore) -> Form:
        form = Form()

        def of_circuit(name: str) -> tuple[Callable[[Job], Any], Callable[[Job, Any], Job]]:
            return (
                lambda job: getattr(found, name) if (found := self._circuit(job)) is not None else "",
                lambda job, value: (
                    change_circuit(job, found.tag, **{name: value}) if (found := self._circuit(job)) else job
                ),
            )

        def of_change(name: str) -> tuple[Callable[[Job], Any], Callable[[Job, Any], Job]]:
            return (
                lambda job: getattr(job.change(self.key), name),
                lambda job, value: change_branch(job, self.key, **{name: value}) if self.key else job,
            )

        found, change = ItemFields(store, "circuits", of_circuit), ItemFields(store, "decisions.circuits", of_change)
        form.add("circuit:guarded", found("guarded")[1], 0, 0)
        form.add("change:work", change("work")[1], 0, 1)
        form.add("change:protect_at", change("protect_at")[1], 0, 2)
        form.grid.setColumnStretch(8, 1)
        return form

    def _circuit(self, job: Job) -> Any:
        return job.circuit(tag) if (tag := self.key.tag) is not None else None

    def start(self) -> None:
        self.table.setFocus(Qt.FocusReason.OtherFocusReason)

    def show_plan(self, plan: Plan) -> None:
        made = [one for one in plan.circuits.ledger if one.panel == plan.panel_id]
        tested = {one.branch.key: one.tested for one in sequence(plan.changeover)} if made else {}
        self.table.show_rows([_row(one, tested.get(one.key, "")) for one in made])
        if not any(one.key == self.key for one in made):
            self.key = CircuitKey(self.table.current_key() or (made[0].key if made else ""))
        self._show_form(plan)

    def _show_form(self, plan: Plan) -> None:
        row = next((one for one in plan.circuits.ledger if one.key == self.key), None)
        self.form.setVisible(row is not None)
        self.title.setText("" if row is None else f"{row.tag}  {row.feeds}" if row.tag != "new" else row.feeds)
        if row is None:
            self.words.setText("")
            return
        self.words.setText(
            f"Arc-fault: {row.arc.word} ({row.arc.why}). Ground-fault: {row.ground.word} ({row.ground.why})."
        )
        self.form.refresh()
        for place in ("circuit:guarded", "change:work"):
            self.form.show_row(place, self.key.tag is not None)

    def _chosen(self, key: str) -> None:
        self.key = CircuitKey(key)
        self._show_form(self.store.seen)
        self.store.choose_entries((f"protection.{key}",))

    def apply_look(self) -> None:
        self.table.resize_columns()

    def go_to(self, place: Place) -> bool:
        if place.kind == "branch":
            self.table.choose(place.name)
            self._chosen(place.name)
            self.table.setFocus()
            return True
        return super().go_to(place)


def _row(one: LedgerRow, tested: str) -> Row:
    cells = (one.tag, one.feeds, one.found, one.required, one.planned, one.where, tested)
    open_ = ((2,) if one.comes_back is False else ()) + ((3,) if UNKNOWN in one.required else ())
    return Row(one.key, cells, "bold" if one.planned != "none" else "", open_)
