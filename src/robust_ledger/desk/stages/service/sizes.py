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
from robust_ledger.job.conductors import METAL_TEXT
from robust_ledger.plan import Plan


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
                [f("service_run:raceway"), f("service_run:rooftop")],
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
    decisions = plan.job.decisions
    by = plan.load.chosen.title.lower() if decisions.main_a is None else "chosen"
    mains = plan.service.figures.mains
    rows = [
        Row(
            plan.load.governing.id,
            ("Calculated load", plan.load.governing.text(), plan.load.chosen.title.lower()),
        ),
        Row(mains.id, ("Main", mains.text(), by if mains is plan.service.main else "one of each panel")),
    ]
    of = plan.service.figures
    to_main = of.to_main
    run = "Conductors" if to_main is not None and to_main.is_service else "Feeder"
    if of.there is not None:
        rows.append(Row(of.there.id, ("Conductors as found", of.there.text(), "they stay"), "bold"))
    for (metal, rule), entry in of.sized.items():
        used = of.there is None and (metal, rule) == (decisions.metal, decisions.conductor_rule)
        name = RULE_WORDS[rule]
        if of.closed_83 and rule == ("full" if decisions.conductor_rule == "dwelling" else "dwelling"):
            continue  # where the 83% rule is closed both come to the same
        if of.closed_83 and rule == "dwelling":
            name = f"{RULE_WORDS['full']}; 83% rule closed"
        words = f"{name}, {'used' if used else 'alternative'}"
        cells = (f"Conductors, {METAL_TEXT[metal]}", entry.text(), words)
        rows.append(Row(entry.id, cells, "bold" if used else "faint"))
    if of.fill is not None:
        rows.append(Row(of.fill.id, ("Raceway fill", of.fill.text(), "of the one there")))
    for figure, words, why in (
        (plan.load.neutral, "Neutral load", "largest unbalance"),
        (of.neutral, "Neutral conductor", "load, least by table"),
        (of.pulled_neutral, "Neutral to be pulled", "as it comes, or as chosen beside the one-line"),
        (of.raceway, "Raceway needed", "by what is pulled"),
        (to_main.conductors if to_main else None, f"{run} to the main panel", "by its device and its load"),
        (to_main.neutral if to_main else None, "its neutral", "as it comes, or by its load"),
        (to_main.egc if to_main else None, "its EGC", "by the device ahead"),
        (of.gec, "GEC", "by the conductors; each electrode's under Walk-through"),
        (of.mbj, "Main bonding jumper", "by the conductors"),
        (of.bending, "Wire-bending space", "at the main terminals"),
    ):
        if figure is not None:
            rows.append(Row(figure.id, (words, figure.text(), why)))
    return rows
