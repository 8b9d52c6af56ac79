"""The circuits of the new panel: where each comes from, its breaker with the reasons for its kind, and what becomes of it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.branch.asked import NOT_REQUIRED
from robust_ledger.branch.model import Branch, Origin
from robust_ledger.branch.rooms import places_text, read_places
from robust_ledger.desk.kit.fields import ChoiceField, Form, TextField, TickField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import LOOKED, Fields
from robust_ledger.desk.kit.stage import label
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.job.edits import change_branch, change_circuit, move_to_panel
from robust_ledger.job.job import Job
from robust_ledger.job.keys import NO_CIRCUIT, CircuitKey
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.job.readers.numbers import read_amps, read_number, read_outlets, read_tag
from robust_ledger.job.readers.quantity import length_text, read_feet
from robust_ledger.job.tree import panel_ids, panel_name, panel_of_key
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import number_text
from robust_ledger.panel.reach import SHORT, UNKNOWN
from robust_ledger.plan import Plan

NEW_WIRING = [
    ("nm", "NM cable"),
    ("mc", "MC cable"),
    ("ac", "AC cable"),
    ("conduit", "conductors in raceway"),
    ("uf", "UF cable"),
]
ACTIONS = [
    ("keep", "keep its cable"),
    ("new_cable", "new cable"),
    ("convert", "convert to 120 V"),
    ("cap", "cap it"),
    ("split", "split in two"),
    ("merge", "combine with tag"),
]
WORK = [
    ("", "as it follows"),
    ("none", "not touched"),
    ("short", "longer, to 6 ft"),
    ("lengthened", "longer, over 6 ft"),
    ("extended", "extended"),
    ("receptacles", "receptacles replaced"),
    ("appliance", "appliance replaced"),
]
SERVES = [
    ("", "as its words say"),
    ("receptacles", "receptacles"),
    ("lights", "lights"),
    ("both", "both"),
    ("fixed", "hard-wired"),
]
SIDES = [("", "as before")] + [(side, side) for side in ("top", "bottom", "left", "right", "back")]
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
        place, tick = f.tick("decisions:ahj_arc_fault", "the AHJ requires AFCI at a panel change")
        self.job_form.add(place, tick, 0)
        place, wiring = f.choice("decisions:new_wiring", "New cables are", NEW_WIRING)
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

        form.add("change:action", ChoiceField(store, "Keep / replace", *of("action"), ACTIONS), 0, 0)
        form.add("change:work", ChoiceField(store, "Work on it", *of("work"), WORK), 0, 1)
        at = [("breaker", "at the breaker"), ("first_outlet", "at the first outlet")]
        form.add("change:protect_at", ChoiceField(store, "Protection", *of("protect_at"), at), 0, 2)
        form.add("change:serves", ChoiceField(store, "Outlets are", *of("serves"), SERVES), 1, 0)
        form.add(
            "change:places",
            TextField(store, "Rooms", *of("places"), read_places, places_text, "as its words say"),
            1,
            1,
        )
        form.add("change:outlets", TextField(store, "How many", *of("outlets"), read_outlets, str, "count"), 1, 2, 90)
        form.add("change:new_side", ChoiceField(store, "Enters at", *of("new_side"), SIDES), 2, 0)
        form.add(
            "change:new_at_in",
            TextField(store, "at, in", *of("new_at_in"), read_number(0, 120), _inches, "same place of the wall"),
            2,
            1,
        )
        form.add("change:into", TextField(store, "Onto tag", *of("into"), read_tag, str, "tag"), 2, 2, 90)
        form.add(
            "change:other_feeds",
            TextField(store, "Second feeds", *of("other_feeds"), str.strip, str, "what the second one feeds"),
            3,
            0,
        )
        self.goes_to = ChoiceField(store, "Goes to", self._panel_of, self._to_panel, [])
        form.add("change:panel", self.goes_to, 3, 1)
        either = TickField(store, "Either panel", *of("either"), "either, by Arrange")
        form.add("change:either", either, 3, 2)
        wished = TextField(store, "Breaker, A", *of("breaker_a"), read_amps, number_text, "as worked out")
        form.add("change:breaker_a", wished, 4, 0)
        sink = TextField(
            store, "Sink at, ft", *of("sink_ft"), lambda text: read_feet(text, 200), length_text, "unknown"
        )
        form.add("change:sink_ft", sink, 4, 2, 90)
        cable = TextField(
            store, "New cable, ft", *of("cable_ft"), lambda text: read_feet(text, 500), length_text, "not measured"
        )
        form.add("change:cable_ft", cable, 2, 3, 90)
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
        name = f"Tag {branch.tag}" if branch.tag != "new" else branch.feeds.capitalize()
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
    kind = "off" if branch.off else branch.device
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
