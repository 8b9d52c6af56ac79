"""The circuits of the new panel: where each comes from, its breaker with the reasons for its kind, and what becomes of it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.branch.asked import NOT_REQUIRED
from robust_ledger.branch.model import Branch, Origin
from robust_ledger.branch.rooms import places_text, read_places
from robust_ledger.desk.kit.fields import ChoiceField, Form, TextField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import LOOKED, Fields, ItemFields
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.job.edits import change_branch, change_circuit, move_to_panel
from robust_ledger.job.job import Job
from robust_ledger.job.keys import NO_CIRCUIT, CircuitKey
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.job.readers.numbers import read_number, read_outlets, read_tag
from robust_ledger.job.tree import panel_ids, panel_name, panel_of_key
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import number_text, upper_first
from robust_ledger.panel.reach import SHORT, UNKNOWN
from robust_ledger.plan import Plan

SHORT_VERDICT = {
    "required": "yes",
    NOT_REQUIRED: "no",
    "not by panel change; yes if extended": "if extended",
    "ask the AHJ": "ask AHJ",
    "not known": "?",
}


class CircuitsPage(Page):
    """The list, and under it what is decided of the chosen circuit."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.key = NO_CIRCUIT
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.table = LedgerTable(
            "Circuits of the new panel",
            [
                Column("Tag", 40),
                Column("Circuit", 0),
                Column("From", 104),
                Column("Breaker", 58, True),
                Column("Kind", 148),
                Column("Arc", 90),
                Column("Ground", 90),
                Column("Wire", 70),
            ],
            row_height=21,
        )
        self.table.when_empty = "No circuits yet: call them out in Pull-off, or add loads."
        self.table.chosen.connect(self._chosen)
        self.table.opened.connect(lambda _key: self.form.fields["change:action"].setFocus())
        column.addWidget(self.table, 1)
        self.title = label("", "section")
        column.addWidget(self.title)
        self.form = self._build_form(store)
        column.addWidget(self.form)
        self.job_form = Form()
        f = Fields(store)
        place, tick = f("decisions:ahj_arc_fault")
        self.job_form.add(place, tick, 0)
        place, wiring = f("decisions:new_wiring")
        self.job_form.add(place, wiring, 0, 1)
        self.job_form.grid.setColumnStretch(4, 1)
        column.addWidget(self.job_form)

    def _build_form(self, store: JobStore) -> Form:
        form = Form()

        def of(name: str) -> tuple[Callable[[Job], Any], Callable[[Job, Any], Job]]:
            return (
                lambda job: getattr(job.change(self.key), name),
                lambda job, value: change_branch(job, self.key, **{name: value}) if self.key else job,
            )

        f = ItemFields(store, "decisions.circuits", of)

        def add(name: str, row: int, at: int, width: int = 0, **own: Any) -> None:
            form.add(f"change:{name}", f(name, **own)[1], row, at, width)

        add("action", 0, 0)
        add("work", 0, 1)
        add("protect_at", 0, 2)
        add("serves", 1, 0)
        add("places", 1, 1, read=read_places, write=places_text)
        add("outlets", 1, 2, 90, read=read_outlets)
        add("new_side", 2, 0)
        add("new_at_in", 2, 1, read=read_number(0, 120), write=_inches)
        add("into", 2, 2, 90, read=read_tag)
        add("other_feeds", 3, 0)
        self.goes_to = ChoiceField(store, "Goes to", self._panel_of, self._to_panel, [])
        form.add("change:panel", self.goes_to, 3, 1)
        add("either", 3, 2)
        add("breaker_a", 4, 0)
        add("sink_ft", 4, 2, 90)
        add("cable_ft", 2, 3, 90)
        form.add("change:insulated", ChoiceField(store, "Covered", self._insulated, self._put_insulated, LOOKED), 4, 1)
        form.grid.setColumnStretch(8, 1)
        return form

    def _insulated(self, job: Job) -> bool | None:
        circuit = job.circuit(tag) if (tag := self.key.tag) is not None else None
        return circuit.insulated if circuit else None

    def _put_insulated(self, job: Job, value: bool | None) -> Job:
        tag = self.key.tag
        return job if tag is None else change_circuit(job, tag, insulated=value)

    def _panel_of(self, job: Job) -> str:
        return panel_of_key(job, self.key) if self.key else MAIN

    def _to_panel(self, job: Job, panel_id: str) -> Job:
        return move_to_panel(job, (self.key,), panel_id) if self.key else job

    def start(self) -> None:
        self.table.setFocus(Qt.FocusReason.OtherFocusReason)

    def show_plan(self, plan: Plan) -> None:
        self.table.show_rows([_row(branch, plan) for branch in plan.circuits.branches])
        if not any(b.key == self.key for b in plan.circuits.branches):
            self.key = CircuitKey(
                self.table.current_key() or (plan.circuits.branches[0].key if plan.circuits.branches else "")
            )
            if self.key:
                self.table.choose(self.key)
        self._show_form(plan)
        self.job_form.refresh()

    def _show_form(self, plan: Plan) -> None:
        branch = plan.branch(self.key)
        self.form.setVisible(branch is not None)
        if branch is None:
            self.title.setText("")
            return
        name = f"Tag {branch.tag}" if branch.tag != "new" else upper_first(branch.feeds)
        where = branch.serves.where if branch.serves and branch.serves.where else "rooms not known"
        self.title.setText(f"{name}: {branch.directory_text} ({where})")
        old = branch.origin is Origin.EXISTING
        action = plan.job.change(self.key).action
        several = bool(plan.job.panels) and branch.key.kind != "equip"
        self.goes_to.offer([(one, f"the {panel_name(plan.job, one)}") for one in panel_ids(plan.job)])
        self.form.refresh()
        for place in ("change:action", "change:work", "change:new_side", "change:new_at_in"):
            self.form.show_row(place, old)
        for place in ("change:panel", "change:either"):
            self.form.show_row(place, several)
        self.form.show_row("change:into", action == "merge")
        self.form.show_row("change:other_feeds", action == "split")

    def _chosen(self, key: str) -> None:
        if key != self.key:
            for field in self.form.fields.values():
                if isinstance(field, TextField):
                    field.give_up()
        self.key = CircuitKey(key)
        self._show_form(self.store.seen)
        self.store.choose_place(Place.branch(key))

    def go_to(self, place: Place) -> bool:
        kind, rest = place.kind, place.name
        if kind == "branch":
            self.table.choose(rest)
            self._chosen(rest)
            self.table.setFocus()
            return True
        return self.job_form.focus_place(place)


def _row(branch: Branch, plan: Plan) -> Row:
    reach = plan.bench.reach.get(branch.key)
    made = branch.protection
    arc = SHORT_VERDICT[made.arc.word] if made else ""
    ground = SHORT_VERDICT[made.ground.word] if made else ""
    wire = {UNKNOWN: "?"}.get(reach.verdict, reach.verdict) if reach is not None else ""
    kind = "off" if branch.off else str(branch.device)
    cells = (
        branch.tag,
        branch.directory_text,
        branch.origin_words,
        "" if branch.off else branch.rating_text,
        kind,
        arc,
        ground,
        wire,
    )
    warn = ((4,) if made and made.listed is False else ()) + ((7,) if wire == SHORT else ())
    idle = branch.off or branch.origin is Origin.FUTURE
    return Row(branch.key, cells, "faint" if idle else "", warn)


def _inches(value: float) -> str:
    return number_text(value)
