"""Every size of the service as a row, and the conditions the conductors lie in."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.desk.kit.fields import Form
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields, form_of
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.desk.stages.service.drawing import RULE_WORDS
from robust_ledger.job.conductors import METAL_TEXT, METALS
from robust_ledger.plan import Plan
from robust_ledger.service.alternatives import RULES


class SizesPage(Page):
    """Conditions above, sizes below; each row's working is in the margin."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        f = Fields(store)
        self.form = form_of(
            [
                [
                    f("service_run:ambient_c"),
                    f("service_run:current_carrying"),
                    f("service_run:sets"),
                ],
                [f("service_run:rooftop")],
            ],
            100,
        )
        self.table = LedgerTable(
            "Sizes of the service", [Column("What", 220), Column("Size", 180, True), Column("By", 0)], row_height=25
        )
        self.table.chosen.connect(store.choose_entry)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(label("Conditions: ambient, fill, rooftop", "section"))
        column.addWidget(self.form)
        column.addWidget(label("Sizes, each with its working in the margin", "section"))
        column.addWidget(self.table, 1)

    def start(self) -> None:
        self.table.setFocus()

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        self.table.show_rows(_rows(plan))


def _rows(plan: Plan) -> list[Row]:
    entries, decisions = plan.entries, plan.job.decisions
    by = plan.load.chosen.title.lower() if decisions.main_a is None else "chosen"
    rows = [
        Row(
            plan.load.chosen.amperes.id,
            ("Calculated load", plan.load.chosen.amperes.text(), plan.load.chosen.title.lower()),
        ),
        Row("service.main", ("Main", plan.service.main.text(), by)),
    ]
    if there := entries.get("service.conductors.there"):
        rows.append(Row(there.id, ("Conductors as found", there.text(), "they stay"), "bold"))
    for metal in METALS:
        for rule in RULES:
            entry = entries[f"service.conductors.{metal}.{rule}"]
            used = there is None and (metal, rule) == (decisions.metal, decisions.conductor_rule)
            words = f"{RULE_WORDS[rule]}, {'used' if used else 'alternative'}"
            cells = (f"Conductors, {METAL_TEXT[metal]}", entry.text(), words)
            rows.append(Row(entry.id, cells, "bold" if used else "faint"))
    if fill := plan.entry("service.raceway_fill"):
        rows.append(Row(fill.id, ("Raceway fill", fill.text(), "of the one there")))
    for name, words, why in (
        ("load.neutral", "Neutral load", "largest unbalance"),
        ("service.neutral", "Neutral conductor", "load, least by table"),
        ("service.neutral_pulled", "Neutral to be pulled", "as it comes, or as chosen beside the one-line"),
        ("service.raceway", "Raceway needed", "by what is pulled"),
        ("service.inside", "Feeder to the inside panel", "by the device ahead"),
        ("service.gec", "GEC", "by the conductors; each electrode's under Walk-through"),
        ("service.egc", "EGC", "of a feeder, by the device ahead"),
        ("service.mbj", "Main bonding jumper", "by the conductors"),
        ("service.bending", "Wire-bending space", "at the main terminals"),
    ):
        if name not in entries:
            continue
        rows.append(Row(name, (words, entries[name].text(), why)))
    for entry in plan.entries.values():
        if entry.id.startswith("service.split."):
            rows.append(Row(entry.id, (entry.label, entry.text(), "whole rating of its main")))
    return rows
