"""Panel location, and how large it has to be: poles, spaces and circuits counted each by itself."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.desk.kit.fields import Form
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields, form_of
from robust_ledger.desk.kit.stage import label
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.ledger.place import Place
from robust_ledger.panel.counting import SPARE_WORDS
from robust_ledger.plan import Plan
from robust_ledger.survey.location import ROOM_WORDS

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
        faces = [("wall", "vertical"), ("up", "face up"), ("down", "lying, face down")]
        self.form = form_of(
            [
                [
                    f.choice("location:room", "Room", list(ROOM_WORDS.items())),
                    f.choice("location:face", "Mounted", faces),
                ],
                [
                    f.tick("location:over_steps", "over stairs"),
                    f.tick("location:wet", "rain or splash reaches it"),
                    f.tick("location:weatherproof", "enclosure for wet places"),
                ],
                [f.tick("location:damp", "damp wall"), f.looked("location:air_space", "¼ in of air behind it")],
                [f.tick("location:near_ignitible", "easily ignited material beside it")],
            ]
        )
        self.counting = form_of(
            [
                [
                    f.choice("decisions:spares", "Spares", list(SPARE_WORDS.items())),
                    f.count("panel:spaces", "Panel of this job, spaces", 2, 84),
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
