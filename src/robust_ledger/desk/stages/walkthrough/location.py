"""Panel location, and how large it has to be: poles, spaces and circuits counted each by itself."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.desk.kit.fields import Form
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields, form_of
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan

_BY = {
    "count.circuits": "breakers that feed something: a tandem is two of them",
    "count.poles": "a two-pole is two of them",
    "count.spaces": "a tandem takes one",
    "count.needed": "full-size spaces for all poles, futures and spares",
    "count.recommended": "the next size that is made; tandems are a way out, not a plan",
}


class LocationPage(Page):
    """Place above, counts below."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        f = Fields(store)
        self.form = form_of(
            [
                [
                    f("location:room"),
                    f("location:face"),
                ],
                [
                    f("location:over_steps"),
                    f("location:wet"),
                    f("location:weatherproof"),
                ],
                [f("location:damp"), f("location:air_space")],
                [f("location:near_ignitible")],
            ]
        )
        self.counting = form_of(
            [
                [
                    f("decisions:spares"),
                    f("panel:spaces", label="Panel of this job, spaces"),
                ]
            ],
            60,
        )
        self.table = LedgerTable(
            "Counts", [Column("What", 250), Column("Count", 120, True), Column("How", 0)], row_height=27
        )
        self.table.chosen.connect(store.choose_entry)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(9)
        column.addWidget(label("Panel location", "section"))
        column.addWidget(self.form)
        column.addSpacing(6)
        column.addWidget(label("Panel size needed", "section"))
        column.addWidget(self.counting)
        column.addWidget(self.table, 1)

    def start(self) -> None:
        self.form.focus_place("location:room")
        self.store.choose_entries(("count.needed", "count.recommended"))

    def go_to(self, place: Place) -> bool:
        return self.form.focus_place(place) or self.counting.focus_place(place)

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        self.counting.refresh()
        rows = []
        for name, words in _BY.items():
            entry = plan.entries[name]
            short = name == "count.recommended" and any(
                f.field == "recommended" for f in plan.findings_at("panel:spaces")
            )
            rows.append(
                Row(
                    name,
                    (entry.label, entry.text(), words),
                    "bold" if name == "count.recommended" else "",
                    (1,) if short else (),
                )
            )
        self.table.show_rows(rows)
