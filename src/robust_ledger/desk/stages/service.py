"""Service: main, conductors, neutral, electrode conductor and bonding jumper, with the choices that decide them."""

from __future__ import annotations

from importlib import import_module

from PyQt6.QtWidgets import QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from robust_ledger.codebook.conductors import METAL_TEXT, METALS, ratings_a
from robust_ledger.desk.fields import ChoiceField, Form, TextField, TickField, amps_text, of, read_amps
from robust_ledger.desk.stages.one_line import OneLine
from robust_ledger.desk.stages.service_page import ServicePage
from robust_ledger.desk.stages.stage import Stage, label, page_buttons
from robust_ledger.desk.store import JobStore
from robust_ledger.desk.table import Column, LedgerTable, Row
from robust_ledger.desk.theme import LOOK
from robust_ledger.plan import RULES, Plan

PAGES = (("sizes", "Si&zes"), ("chain", "&Chain"), ("alternatives", "Alterna&tives"), ("fault", "&Drop and fault"))
RULE_WORDS = {"dwelling": "83 % rule", "full": "whole rating"}


class ServiceStage(Stage):
    """The one-line drawing, the choices and every size as a row; behind buttons the alternatives, voltage drop and fault."""

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.drawing = OneLine()
        self.drawing.chosen.connect(store.choose_entry)
        self.choices = self._build_choices(store)
        self.table = LedgerTable(
            "Sizes of the service", [Column("What", 0), Column("Size", 80, True), Column("By", 178)], row_height=27
        )
        self.table.chosen.connect(store.choose_entry)
        right = QVBoxLayout()
        right.setSpacing(10)
        right.addWidget(label("Choices", "section"))
        right.addWidget(self.choices)
        right.addSpacing(6)
        right.addWidget(label("Sizes, each with its working in the margin", "section"))
        right.addWidget(self.table, 1)
        self.sizes = QWidget()
        columns = QHBoxLayout(self.sizes)
        columns.setContentsMargins(0, 0, 0, 0)
        columns.setSpacing(20)
        columns.addWidget(self.drawing, 3)
        columns.addLayout(right, 4)
        self.pages = QStackedWidget()
        self.pages.addWidget(self.sizes)
        self.made: dict[str, ServicePage] = {}
        self.current = "sizes"
        outer = QVBoxLayout(self)
        outer.setContentsMargins(18, 12, 14, 10)
        outer.setSpacing(10)
        outer.addLayout(self._build_head())
        outer.addWidget(self.pages, 1)

    def _build_head(self) -> QHBoxLayout:
        top = QHBoxLayout()
        self.heading = label("Service: as large as the load asks", "heading")
        top.addWidget(self.heading)
        top.addStretch(1)
        self.tabs = page_buttons(self, top, PAGES, self.current, self.show_page)
        return top

    def page(self, name: str) -> ServicePage | None:
        """A page beside the sizes, made when first asked for; None for the sizes themselves."""
        if name == "sizes":
            return None
        if name not in self.made:
            module = import_module(f"robust_ledger.desk.stages.service_{name}")
            self.made[name] = getattr(module, f"{name.capitalize()}Page")(self.store)
            self.pages.addWidget(self.made[name])
        return self.made[name]

    def show_page(self, name: str) -> None:
        self.current = name
        self.tabs.button([page for page, _ in PAGES].index(name)).setChecked(True)
        page = self.page(name)
        self.pages.setCurrentWidget(page or self.sizes)
        self.show_plan(self.store.plan)
        self.start()

    def _build_choices(self, store: JobStore) -> Form:
        form = Form()
        mains = [(None, "by the load")] + [(r, f"{r:g} A") for r in ratings_a(store.plan.codebook) if 100 <= r <= 400]
        form.add(
            "decisions:main_a",
            ChoiceField(store, "Main", *of("decisions", "main_a"), mains),
            0,
            0,
        )
        form.add(
            "decisions:metal",
            ChoiceField(
                store,
                "Metal",
                *of("decisions", "metal"),
                [("al", "aluminium"), ("cu", "copper")],
            ),
            0,
            1,
        )
        form.add(
            "decisions:conductor_rule",
            ChoiceField(
                store,
                "Conductors",
                *of("decisions", "conductor_rule"),
                list(RULE_WORDS.items()),
            ),
            1,
            0,
        )
        form.add(
            "panel:terminals_c",
            ChoiceField(
                store,
                "Terminals",
                *of("panel", "terminals_c"),
                [(75, "marked 75 °C"), (60, "not marked, 60 °C")],
            ),
            1,
            1,
        )
        form.add(
            "old_panel:meter_label_a",
            TextField(
                store,
                "Meter label, A",
                *of("old_panel", "meter_label_a"),
                read_amps,
                amps_text,
                "not read",
            ),
            2,
            0,
        )
        form.add(
            "decisions:meter_replaced",
            TickField(
                store,
                "Meter",
                *of("decisions", "meter_replaced"),
                "meter socket replaced",
            ),
            2,
            1,
        )
        form.grid.setColumnStretch(1, 1)
        form.grid.setColumnStretch(3, 1)
        return form

    def start(self) -> None:
        page = self.page(self.current)
        if page:
            page.start()
        else:
            self.table.setFocus()

    def apply_look(self) -> None:
        self.heading.setVisible(not LOOK.large)
        self.table.resize_columns()
        for page in self.made.values():
            page.apply_look()

    def show_plan(self, plan: Plan) -> None:
        page = self.page(self.current)
        if page:
            page.show_plan(plan)
            return
        self.choices.refresh()
        self.drawing.show_plan(plan)
        self.table.show_rows(_rows(plan))

    def go_to(self, place: str) -> bool:
        if place.startswith("chain:"):
            self.show_page("chain")
            page = self.page("chain")
            return page is not None and page.form.focus_place(place)
        if place.startswith("service_run:") or place == "panel:interrupting_a":
            wanted = "alternatives" if place.endswith(("raceway", "trade_size", "nipple", "insulation")) else "fault"
            self.show_page(wanted)
            page = self.page(wanted)
            return page is not None and page.form.focus_place(place)
        if self.current != "sizes":
            self.show_page("sizes")
        return self.choices.focus_place(place)


def _rows(plan: Plan) -> list[Row]:
    entries, decisions = plan.entries, plan.job.decisions
    by = plan.chosen.title.lower() if decisions.main_a is None else "chosen"
    rows = [
        Row(plan.chosen.amperes.id, ("Calculated load", plan.chosen.amperes.text(), plan.chosen.title.lower())),
        Row("service.main", ("Main", entries["service.main"].text(), by)),
    ]
    for metal in METALS:
        for rule in RULES:
            entry = entries[f"service.conductors.{metal}.{rule}"]
            used = (metal, rule) == (decisions.metal, decisions.conductor_rule)
            words = f"{RULE_WORDS[rule]}, {'used' if used else 'alternative'}"
            cells = (f"Conductors, {METAL_TEXT[metal]}", entry.text(), words)
            rows.append(Row(entry.id, cells, "bold" if used else "faint"))
    if fill := plan.entry("service.raceway_fill"):
        rows.append(Row(fill.id, ("Raceway fill", fill.text(), "of the one there")))
    rows += [
        Row("load.neutral", ("Neutral load", entries["load.neutral"].text(), "largest unbalance")),
        Row("service.neutral", ("Neutral conductor", entries["service.neutral"].text(), "load, least by table")),
        Row("service.electrode", ("Electrode conductor", entries["service.electrode"].text(), "by the conductors")),
        Row(
            "service.equipment_ground",
            ("Equipment ground", entries["service.equipment_ground"].text(), "of a feeder, by the main"),
        ),
        Row(
            "service.bonding_jumper",
            ("Main bonding jumper", entries["service.bonding_jumper"].text(), "by the conductors"),
        ),
    ]
    return rows
