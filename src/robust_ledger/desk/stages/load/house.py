"""What is in the house: floor area, supply, and everything with a nameplate."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from robust_ledger.desk.kit.fields import Form, TextField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.desk.stages.load.form import KIND_WORDS, WHEN_WORDS, LoadForm
from robust_ledger.job.edits import add_load, new_load_id, remove_loads, with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.house import Load, Nameplate, When
from robust_ledger.job.readers.numbers import read_count
from robust_ledger.job.readers.quantity import read_area
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import number_text, upper_first
from robust_ledger.plan import Plan


class HousePage(Page):
    """The dwelling's fields, the table of loads, and the form of the chosen one."""

    form: LoadForm
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 2, 0, 0)
        column.setSpacing(6)
        self.forms = self._build_dwelling()
        for form in self.forms:
            column.addWidget(form)
        self.table = LedgerTable(
            "Loads in the house",
            [
                Column("Load", 0),
                Column("Room", 84),
                Column("Kind", 148),
                Column("Nameplate", 128, True),
                Column("VA", 66, True),
                Column("Circuit", 62),
                Column("When", 108),
            ],
            row_height=22,
            multiple=True,
        )
        self.table.when_empty = (
            "Nothing in the house yet. Enter the floor area above,\nthen add what has a nameplate (Alt+A)."
        )
        self.table.chosen.connect(self._row_chosen)
        self.table.opened.connect(lambda _key: self.form.focus_place("nameplate"))
        self.table.removal_asked.connect(self._remove)
        column.addWidget(self.table, 1)
        row = QHBoxLayout()
        self.form_title = label("", "section")
        self.add_button = QPushButton("&Add a load")
        self.add_button.clicked.connect(self._add)
        row.addWidget(self.form_title)
        row.addStretch(1)
        row.addWidget(label("Enter edits the rating, F4 in it converts, Delete takes a load out", "faint"))
        row.addWidget(self.add_button)
        column.addLayout(row)
        self.form = LoadForm(self.store)
        column.addWidget(self.form)

    def _build_dwelling(self) -> tuple[Form, Form]:
        """Two rows that do not share their columns: what the dwelling is, and how the load is taken."""
        first, second, store = Form(), Form(), self.store
        f = Fields(store)
        area = TextField(store, "Floor area", _area, _put_area, self._read_area, _area_text, "1,720 ft2 or 160 m2")
        first.add("dwelling:area", area, 0, 0, 130)
        first.add(*f("dwelling:small_appliance_circuits"), 0, 1, 40)
        first.add(*f("dwelling:laundry_circuits"), 0, 2, 40)
        first.add(*f("dwelling:supply"), 0, 3)
        second.add(*f("decisions:ev_practice"), 0, 0)
        second.add(*f("management:setpoint_a"), 0, 1, 56)
        second.add(*f("dwelling:units", read=_read_units), 0, 2, 56)
        for form in (first, second):
            form.grid.setColumnStretch(8, 1)
        return first, second

    def start(self) -> None:
        """Without a floor area nothing can be worked out: the cursor waits there."""
        if self.store.job.dwelling.area is None:
            self.forms[0].focus_place("dwelling:area")
            return
        self.table.setFocus(Qt.FocusReason.OtherFocusReason)

    def apply_look(self) -> None:
        self.table.resize_columns()

    def show_plan(self, plan: Plan) -> None:
        for form in self.forms:
            form.refresh()
        self.table.show_rows([_row(load, plan) for load in plan.job.loads])
        if plan.job.load(self.form.load_id) is None and plan.job.loads:
            self.form.show_load(plan.job.loads[0].id)
        self._show_form()

    def go_to(self, place: Place) -> bool:
        kind, rest = place.kind, place.name
        if kind == "load" and self.store.job.load(rest):
            self.table.setFocus(Qt.FocusReason.OtherFocusReason)
            self.table.choose(rest)
            self._row_chosen(rest)
            return True
        return any(form.focus_place(place) for form in self.forms)

    def _show_form(self) -> None:
        self.form.show_load(self.form.load_id)
        load = self.store.job.load(self.form.load_id)
        self.form_title.setText(upper_first(load.name) if load else "No load chosen")

    def _row_chosen(self, load_id: str) -> None:
        self.form.show_load(load_id)
        self._show_form()
        self.store.choose_place(Place.load(load_id))

    def _add(self) -> None:
        load_id = new_load_id(self.store.job, "new load")
        load = Load(id=load_id, name="new load", nameplate=Nameplate(volts=240), when=When.ADDED)
        self.store.edit("add a load", lambda job: add_load(job, load))
        self.table.choose(load_id)
        self._row_chosen(load_id)
        self.form.focus_place("name")

    def _remove(self, keys: list[str]) -> None:
        one = self.store.job.load(keys[0]) if len(keys) == 1 else None
        name = one.name if one else f"{len(keys)} loads"
        self.store.edit(f"take out {name}", lambda job: remove_loads(job, set(keys)))

    def _read_area(self, text: str) -> tuple[float, str] | None:
        return read_area(text, self.store.job.dwelling.area_unit) if text.strip() else None


def _read_units(text: str) -> int | None:
    return read_count(1, 20)(text) if text.strip() else None


def _area(job: Job) -> tuple[float, str] | None:
    return (job.dwelling.area, job.dwelling.area_unit) if job.dwelling.area is not None else None


def _put_area(job: Job, value: tuple[float, str] | None) -> Job:
    if value is None:
        return with_part(job, "dwelling", area=None)
    return with_part(job, "dwelling", area=value[0], area_unit=value[1])


def _area_text(value: tuple[float, str]) -> str:
    return f"{number_text(value[0])} {'ft²' if value[1] == 'ft2' else 'm²'}"


def _row(load: Load, plan: Plan) -> Row:
    entry = plan.load.inputs.nameplates[load.id]
    plate = load.nameplate
    rating = f"{plate.amount:g} {plate.unit} {plate.volts:g} V" if plate.amount is not None else "not known"
    tags = [str(c.tag) for c in plan.job.circuits if load.id in c.load_ids]
    new = load.when in (When.ADDED, When.LATER)
    circuit = "tag " + ", ".join(tags) if tags else ("new" if new else "none")
    va = number_text(entry.amount, 0) if entry.known else "?"
    mood = "faint" if load.when in (When.LATER, When.REMOVED) else ""
    cells = (load.name, load.room, KIND_WORDS[load.kind], rating, va, circuit, WHEN_WORDS[load.when])
    return Row(load.id, cells, mood, (3, 4) if not entry.known else ())
