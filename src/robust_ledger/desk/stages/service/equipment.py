"""What else belongs to the service, with the reason for each; and the conventions that go onto the papers."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.branch.vocabulary import own_words_text, read_own_words
from robust_ledger.callout.learning import line_words_text, read_line_words
from robust_ledger.desk.kit.fields import Form, TextField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields, form_of, of_place
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan
from robust_ledger.service.conventions import conventions
from robust_ledger.service.reading import read_conductor


class EquipmentPage(Page):
    """Emergency disconnect, surge device, main or lugs, interlock, solar; leg colors and aluminum."""

    form: Form
    vocabulary: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        f = Fields(store)
        self.form = form_of(
            [
                [
                    f("equipment:spd"),
                    f("equipment:generator_a"),
                    f("equipment:interlock_listed"),
                ],
                [
                    f("existing:disconnect_at"),
                    f("equipment:inverter_a"),
                    f("equipment:inverter_opposite"),
                ],
                [
                    f("equipment:spd_at"),
                    f("equipment:spd_a"),
                    f("equipment:battery"),
                ],
                [
                    f("equipment:spd_type"),
                    f("panel:bending_in"),
                    f("equipment:bonding_bushings"),
                ],
                [
                    self._conductor("panel:lugs_least", "Line lugs from"),
                    self._conductor("panel:lugs_most", "Line lugs to"),
                    self._conductor("panel:bar_most", "Neutral lug to"),
                ],
            ],
            80,
        )
        self.settings = form_of(
            [
                [
                    f("conventions:leg_a"),
                    f("conventions:leg_b"),
                    f("conventions:neutral"),
                ],
                [
                    f("conventions:left_leg"),
                    f("conventions:antioxidant"),
                ],
            ],
            110,
        )
        self.table = LedgerTable(
            "Equipment of the service",
            [Column("What", 270), Column("Answer", 0), Column("Section", 150)],
            row_height=27,
        )
        self.table.chosen.connect(store.choose_entry)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(label("Equipment", "section"))
        column.addWidget(self.form)
        column.addWidget(self.table, 1)
        column.addWidget(label("Conventions of this jurisdiction, printed on the service sheet", "section"))
        column.addWidget(self.settings)
        self.vocabulary = Form()
        self.vocabulary.add("conventions:own_words", self._own_words(), 0)
        self.vocabulary.add("conventions:line_words", self._line_words(), 1)
        column.addWidget(self.vocabulary)
        self.words = label("", "faint")
        self.words.setWordWrap(True)
        column.addWidget(self.words)

    def _conductor(self, place: str, words: str) -> Any:
        read = lambda text: read_conductor(text, self.store.plan.codebook)  # noqa: E731
        return Fields(self.store)(place, label=words, read=read, hint="from the label")

    def _own_words(self) -> TextField:
        hint = "casita = guest room; hobby = workshop"
        ends = of_place("conventions:own_words")
        return TextField(self.store, "Own words in descriptions", *ends, read_own_words, own_words_text, hint)

    def _line_words(self) -> TextField:
        ends = of_place("conventions:line_words")
        return TextField(
            self.store, "Own words on the line", *ends, read_line_words, line_words_text, "lolly = panel; tails = riser"
        )

    def start(self) -> None:
        self.table.setFocus()

    def go_to(self, place: Place) -> bool:
        return self.form.focus_place(place) or self.settings.focus_place(place) or self.vocabulary.focus_place(place)

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        self.settings.refresh()
        self.vocabulary.refresh()
        rows = []
        for entry in plan.service.figures.decided:
            text = entry.text() if entry.known else f"not known: {entry.why_unknown}"
            rows.append(Row(entry.id, (entry.label, text, ", ".join(str(c) for c in entry.cites))))
        self.table.show_rows(rows)
        lines = conventions(plan.job, plan.codebook)
        self.words.setText(
            ". ".join(
                f"{name}: {words}" + (f" [{', '.join(map(str, cites))}]" if cites else "")
                for name, words, cites in lines
            )
        )
