"""What else belongs to the service, with the reason for each; and the conventions that go onto the papers."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.desk.kit.fields import Form
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields, form_of
from robust_ledger.desk.kit.stage import label
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan
from robust_ledger.service.conventions import conventions

_DECISIONS = ("emergency", "spd", "panel_main", "interlock", "solar_bus")


class EquipmentPage(Page):
    """Emergency disconnect, surge device, main or lugs, interlock, solar; leg colors and aluminum."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        f = Fields(store)
        legs = [("A", "leg A left"), ("B", "leg B left")]
        paste = [("always", "on every aluminum termination"), ("label", "where the label requires")]
        self.form = form_of(
            [
                [
                    f.looked("equipment:spd", "SPD planned"),
                    f.amps("equipment:generator_a", "Generator breaker, A", "none"),
                    f.tick("equipment:interlock_listed", "interlock kit listed for this panel"),
                ],
                [
                    f.choice("chain:disconnect_inside", "Disconnect ahead", [(False, "outdoors"), (True, "indoors")]),
                    f.amps("equipment:inverter_a", "Solar inverter, A", "none"),
                    f.tick("equipment:inverter_opposite", "its breaker at the far end of the bus"),
                ],
                [
                    f.choice(
                        "equipment:spd_at",
                        "SPD",
                        [("panel", "on a breaker here"), ("disconnect", "at the disconnect")],
                    ),
                    f.amps("equipment:spd_a", "SPD breaker, A", "per instructions"),
                ],
            ],
            80,
        )
        self.settings = form_of(
            [
                [
                    f.line("conventions:leg_a", "Leg A"),
                    f.line("conventions:leg_b", "Leg B"),
                    f.line("conventions:neutral", "Neutral"),
                ],
                [
                    f.choice("conventions:left_leg", "Left lug", legs),
                    f.choice("conventions:antioxidant", "Antioxidant", paste),
                ],
            ],
            110,
        )
        self.table = LedgerTable(
            "Equipment of the service",
            [Column("What", 240), Column("Answer", 0), Column("Section", 150)],
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
        self.words = label("", "faint")
        self.words.setWordWrap(True)
        column.addWidget(self.words)

    def start(self) -> None:
        self.table.setFocus()

    def go_to(self, place: Place) -> bool:
        return self.form.focus_place(place) or self.settings.focus_place(place)

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        self.settings.refresh()
        rows = []
        for name in _DECISIONS:
            if entry := plan.entries.get(f"service.{name}"):
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
