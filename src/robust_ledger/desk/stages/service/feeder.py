"""The feeder and its sub-panel: what is planned, what it takes, and what a separate building asks for."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.desk.kit.fields import Form
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields, form_of
from robust_ledger.desk.kit.stage import label
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.plan import Plan
from robust_ledger.service.feeder import WIRING_WORDS

_BY = {
    "feeder.conductors": "whole rating of its breaker, next size up allowed",
    "feeder.neutral": "its load, not below the EGC",
    "feeder.egc": "by its breaker",
    "feeder.voltage_drop": "at its load; add the service's own",
    "feeder.fault": "from the panel, along the feeder",
    "feeder.gec": "of the separate building",
}


class FeederPage(Page):
    """A form, and a row for each size."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        f = Fields(store)
        self.form = form_of(
            [
                [
                    f.line("sub_panel:name", "Serves", "garage"),
                    f.amps("sub_panel:breaker_a", "Feeder breaker, A", "none"),
                    f.amps("sub_panel:load_a", "Its load, A"),
                ],
                [
                    f.choice("sub_panel:wiring", "Wiring", list(WIRING_WORDS.items())),
                    f.choice("sub_panel:metal", "Metal", [("al", "aluminum"), ("cu", "copper")]),
                    f.feet("sub_panel:length_ft", "Length, ft"),
                ],
                [
                    f.choice("sub_panel:wires", "Wires", [(None, "not counted"), (4, "four"), (3, "three")]),
                    f.count("sub_panel:rods", "Rods there", 0, 20),
                    f.aic("sub_panel:aic_a", "AIC, A"),
                ],
                [
                    f.tick("sub_panel:separate_building", "separate building"),
                    f.tick("sub_panel:disconnect", "disconnect at the building"),
                    f.tick("sub_panel:bonded", "N–G bond left in sub-panel"),
                ],
                [
                    f.tick("sub_panel:found", "an existing feeder, it stays"),
                    f.looked("sub_panel:metal_path", "Other metal path"),
                    f.looked("sub_panel:insulated", "In insulation"),
                ],
            ],
            96,
        )
        self.table = LedgerTable(
            "The feeder's sizes", [Column("What", 300), Column("Size", 110, True), Column("By", 0)], row_height=27
        )
        self.table.when_empty = "No feeder. Enter its breaker to plan one."
        self.table.chosen.connect(store.choose_entry)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(label("Feeder and sub-panel", "section"))
        column.addWidget(self.form)
        column.addWidget(self.table, 1)

    def start(self) -> None:
        self.form.focus_place("sub_panel:breaker_a")
        self.store.choose_entries(("feeder.conductors",))

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        made = [entry for name in _BY if (entry := plan.entries.get(name))]
        self.table.show_rows(
            [Row(e.id, (e.label, e.text(), _BY[e.id] if e.known else f"not known: {e.why_unknown}")) for e in made]
        )
