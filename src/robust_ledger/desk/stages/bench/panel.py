"""The record of the new panel from its label and a tape, generic panels to start from, and how it is to be arranged."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtWidgets import QSizePolicy, QVBoxLayout

from robust_ledger.desk.kit.fields import Form, TextField, TickField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields, form_of, widget_of
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import Label, label
from robust_ledger.job.edits import change_panel, change_record
from robust_ledger.job.fields import field_at
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.job.readers.lists import (
    bends_text,
    read_bends,
    read_spaces,
    spaces_text,
)
from robust_ledger.job.readers.numbers import amps_text, read_bus
from robust_ledger.job.readers.torques import read_torques, torques_text
from robust_ledger.job.spaces import kept, shown
from robust_ledger.job.tree import record_of
from robust_ledger.ledger.place import Place
from robust_ledger.panel.generic import generic_panels, take_generic
from robust_ledger.plan import Plan

DEVICES = (
    "standard 1-pole", "standard 2-pole", "tandem", "arc-fault 1-pole", "arc-fault 2-pole", "ground-fault 1-pole", "ground-fault 2-pole",
    "dual-function 1-pole", "dual-function 2-pole",
)  # fmt: skip


class PanelPage(Page):
    """Fields in blocks: the label, inside measures, breakers listed for it, wishes; the generic panels below."""

    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        f = Fields(store, in_view=True)
        self.fields = f
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addWidget(label("From its label", "section"))
        self.record = form_of(
            [
                [
                    f("panel:spaces"),
                    f("panel:max_circuits"),
                    self._bus(store),
                    self._tandems(store),
                ],
                [
                    f(
                        "panel:main",
                        label="Main",
                        choices=[("breaker", "breaker"), ("back_fed", "back-fed"), ("lugs", "lugs (MLO)")],
                    ),
                    f("panel:interior.main_at"),
                    f("panel:numbering"),
                    f("panel:neutral_style"),
                ],
                [
                    f("panel:neutral_terminals"),
                    f("panel:ground_terminals"),
                    f("panel:interior.neutral_bar"),
                    f("panel:interior.ground_bar"),
                ],
            ],
            62,
        )
        column.addWidget(self.record)
        column.addWidget(
            label("With a tape: inside measures, and where it is mounted; empty follows from size and rows", "section")
        )
        self.inside = form_of(
            [
                [
                    f("fit:new.width_in", label="Width", most=60),
                    f("fit:new.height_in", label="Height", most=120),
                    f("panel:interior.first_row_in"),
                    f("panel:interior.terminal_in"),
                ],
                [self._right_of_old(store), self._bends(store), self._lower(store)],
                [
                    f("old_panel:interior.main_at", label="Old: line side"),
                    f("old_panel:interior.first_row_in", label="Old: first row"),
                    f("old_panel:interior.terminal_in", label="terminals"),
                ],
            ],
            62,
        )
        column.addWidget(self.inside)
        column.addWidget(label("Breaker types listed for this panel (none checked = not checked)", "section"))
        self.listed = Form()
        place, families = f("panel:families")
        self.listed.add(place, families, 0)
        torques = TextField(
            store,
            "Torque, in-lb",
            *f.of("panel:torques"),
            read_torques,
            torques_text,
            "breaker 14-10: 20, strip 1/2; main: 250",
        )
        self.listed.add("panel:torques", torques, 0, 1)
        self.ticks = Form()
        self.ticks.grid.setVerticalSpacing(1)
        self.device_ticks = {}
        for number, device in enumerate(DEVICES):
            tick = TickField(store, f"{device} listed", *_of_device(store, device), device)
            self.device_ticks[device] = tick
            self.ticks.add(f"panel:devices.{device}", tick, number // 5, number % 5)
        column.addWidget(self.listed)
        column.addWidget(self.ticks)
        column.addWidget(label("How it is arranged, after splices and legs", "section"))
        self.wishes = Form()
        f = Fields(store)
        self.wishes.add(*f("decisions:wishes.balance_by"), 0, 0)
        self.wishes.add(*f("decisions:wishes.band_a"), 0, 1, 62)
        for number, name in enumerate(("old_order", "heavy_near_main", "lights_together", "spares_together"), 2):
            self.wishes.add(*f(f"decisions:wishes.{name}"), number // 3, number % 3)
        self.wishes.grid.setColumnStretch(8, 1)
        column.addWidget(self.wishes)
        self.geometry_words = Label()
        self.geometry_words.setProperty("role", "faint")
        self.geometry_words.setWordWrap(True)
        column.addWidget(self.geometry_words)
        self.table = LedgerTable(
            "Generic panels",
            [Column("Start from a generic panel (Enter takes it)", 0), Column("Size", 240)],
            row_height=20,
        )
        self.table.setMinimumHeight(96)
        self.table.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)  # what the fields leave
        self.table.opened.connect(self._take)
        column.addWidget(self.table, 1)

    def _bus(self, store: JobStore) -> tuple[str, TextField]:
        return "panel:bus_a", TextField(store, "Bus, A", *self.fields.of("panel:bus_a"), read_bus, amps_text)

    def _tandems(self, store: JobStore) -> tuple[str, TextField]:
        """Tandem spaces as the panel is numbered."""

        def put(job: Job, spaces: tuple[int, ...]) -> Job:
            panel = record_of(job, store.panel_id)
            return change_record(
                job,
                store.panel_id,
                tandem_spaces=tuple(sorted(int(kept(str(s), panel.numbering, panel.spaces)) for s in spaces)),
            )

        def get(job: Job) -> tuple[int, ...]:
            panel = record_of(job, store.panel_id)
            return tuple(int(shown(str(s), panel.numbering, panel.spaces)) for s in panel.tandem_spaces)

        return "panel:tandem_spaces", TextField(store, "Tandems in", get, put, read_spaces, spaces_text, "none")

    def _right_of_old(self, store: JobStore) -> tuple[str, TextField]:
        """Inches to the right, to the left with a minus; empty is where the old one was."""
        place, field = Fields(store)("panel:right_of_old_in")
        signed = field.read
        field.read = lambda text: (signed(text) or 0.0) if store.panel_id == MAIN else signed(text)

        def get(job: Job) -> float | None:
            panel = job.panel_of(store.panel_id)
            return panel.right_in if panel is not None else job.panel.right_of_old_in

        def put(job: Job, value: float | None) -> Job:
            if store.panel_id == MAIN:
                return change_record(job, MAIN, right_of_old_in=value or 0.0)
            return change_panel(job, store.panel_id, right_in=value)

        field.get, field.put = get, put
        return place, field

    def _lower(self, store: JobStore) -> tuple[str, TextField]:
        """How much lower than the old one's top a panel beside the main one hangs."""

        def get(job: Job) -> float | None:
            panel = job.panel_of(store.panel_id)
            return panel.lower_in if panel is not None else None

        ends = (get, lambda job, value: change_panel(job, store.panel_id, lower_in=value))
        return "panel:lower_in", widget_of(store, field_at("panels.lower_in"), ends, label="Lower than old")

    def _bends(self, store: JobStore) -> tuple[str, TextField]:
        return "panel:bends_in", TextField(
            store, "Bend, strip", *self.fields.of("panel:bends_in"), read_bends, bends_text
        )

    @property
    def forms(self) -> tuple[Form, ...]:
        return self.record, self.inside, self.listed, self.wishes

    def start(self) -> None:
        self.record.focus_place("panel:spaces")

    def show_plan(self, plan: Plan) -> None:
        beside = plan.panel_id != MAIN
        for name in ("fit:new.width_in", "fit:new.height_in"):
            self.inside.show_row(name, not beside)
        self.inside.show_row("panel:lower_in", beside)
        for form in self.forms:
            form.refresh()
        for tick in self.device_ticks.values():
            tick.refresh()
        box = plan.bench.boxes.new
        assumed = f" Taken as usual: {', '.join(box.assumed)}." if box.assumed else ""
        fits = "" if box.fits() else " The rows do not fit into this height."
        level = " Tops taken as level: heights on the wall are on the Fit page." if plan.bench.boxes.level else ""
        self.geometry_words.setText(
            f"Rows from {box.first_row_in:.1f} in to {box.row_y(plan.job.panel.spaces):.1f} in below the top, terminals "
            f"{box.terminals_in[0]:.1f} in from the sides.{assumed}{level}{fits}"
        )
        self.table.show_rows([Row(panel.name, (panel.name, panel.words)) for panel in generic_panels()])

    def _take(self, name: str) -> None:
        panel_id = self.store.panel_id
        generic = next(panel for panel in generic_panels() if panel.name == name)
        self.store.edit("start from a generic panel", lambda job: take_generic(job, generic, panel_id))
        self.store.notice(f"Taken: {name}. Put what the label of the real one says over it.")

    def go_to(self, place: Place) -> bool:
        if place == "panel:devices":  # the list as a whole: its first tick
            place = Place(f"panel:devices.{DEVICES[0]}")
        return any(form.focus_place(place) for form in (*self.forms, self.ticks))


def _of_device(store: JobStore, device: str) -> tuple[Callable[[Job], Any], Callable[[Job, Any], Job]]:
    """How one tick of the list is read and written."""

    def listed(job: Job) -> tuple[str, ...]:
        return record_of(job, store.panel_id).devices

    def put(job: Job, on: bool) -> Job:
        devices = {*listed(job), device} if on else {*listed(job)} - {device}
        return change_record(job, store.panel_id, devices=tuple(one for one in DEVICES if one in devices))

    return lambda job: device in listed(job), put
