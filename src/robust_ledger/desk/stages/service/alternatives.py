"""Every main from 100 to 400 A in both metals: what it takes, and which link of the service does not hold."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.desk.kit.fields import Form
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.job.conductors import METAL_TEXT, Conductors
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.plan import Plan
from robust_ledger.service.alternatives import Alternative


class AlternativesPage(Page):
    """The raceway that is there, and the table; Enter takes an alternative."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.form = self._build_form()
        column.addWidget(self.form)
        self.words = label("", "live")
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.table = LedgerTable(
            "Alternatives for the service",
            [
                Column("Main", 76),
                Column("83%", 72),
                Column("By load", 72),
                Column("Whole", 84),
                Column("Neutral", 62),
                Column("Raceway", 74),
                Column("GEC", 66),
                Column("Works?", 0),
            ],
            row_height=22,
        )
        self.table.chosen.connect(self._chosen)
        self.table.opened.connect(self._take)
        column.addWidget(self.table, 1)
        column.addWidget(
            label(
                "Enter takes a main and its metal for the job. Terminals and the 83% rule as chosen beside the one-line.",
                "faint",
            )
        )

    def _build_form(self) -> Form:
        form, store = Form(), self.store
        sizes = [("", "not entered")] + [
            (row["trade_size"], f"{row['trade_size']} in") for row in store.plan.codebook.table("raceway").rows
        ]
        f = Fields(store)
        form.add(*f("existing:raceway", label="Raceway there"), 0, 0)
        form.add(*f("existing:trade_size", choices=sizes), 0, 1)
        form.add(*f("service_run:insulation"), 0, 2)
        form.add(*f("service_run:nipple"), 0, 3)
        form.grid.setColumnStretch(8, 1)
        return form

    def start(self) -> None:
        self.table.setFocus(Qt.FocusReason.OtherFocusReason)

    def apply_look(self) -> None:
        self.table.resize_columns()

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        first = next((alternative for alternative in plan.service.alternatives if alternative.passes), None)
        main = plan.service.main
        rows = []
        for one in plan.service.alternatives:
            used = main.known and one.rating_a == main.amount and one.metal == plan.job.decisions.metal
            mark = "first that works: " if one is first else ""
            words = f"{mark}{one.verdict}" + (" (used)" if used else "")
            cells = (
                f"{one.rating_a:g} A {METAL_TEXT[one.metal]}",
                _size(one.dwelling.text()),
                _size(one.full.text()),
                _size(one.strict.text()),
                _size(one.neutral.text()),
                one.raceway.text(),
                _size(
                    one.electrode.value.short if isinstance(one.electrode.value, Conductors) else one.electrode.text()
                ),
                words,
            )
            mood = "bold" if used or one is first else "" if one.passes else "faint"
            rows.append(Row(one.key, cells, mood, (7,) if not one.passes else ()))
        self.table.show_rows(rows)
        self.words.setText(_summary(first, plan))

    def _of(self, key: str) -> Alternative:
        return next(alternative for alternative in self.store.plan.service.alternatives if alternative.key == key)

    def _chosen(self, key: str) -> None:
        one = self._of(key)
        self.store.choose_entries(
            (
                getattr(one, self.store.job.decisions.conductor_rule).id,
                one.neutral.id,
                one.raceway.id,
                one.electrode.id,
                one.bonding_jumper.id,
            )
        )

    def _take(self, key: str) -> None:
        one = self._of(key)

        def take(job: Job) -> Job:
            return with_part(job, "decisions", main_a=one.rating_a, metal=one.metal)

        self.store.edit(f"take {one.rating_a:g} A {METAL_TEXT[one.metal]}", take)


def _size(text: str) -> str:
    """A size without its metal, which stands in the first column; kcmil in short, and left out of several in parallel."""
    bare = text.removesuffix(" Cu").removesuffix(" Al")
    return bare.replace(" kcmil", "").replace(" × ", "×") if "×" in bare else bare.replace(" kcmil", " kcm")


def _summary(first: Alternative | None, plan: Plan) -> str:
    if first is None:
        return f"No main from 100 to 400 A works on every link for a load of {plan.load.governing.text()}: see what fails, link by link."
    return f"For {plan.load.governing.text()}: {first.rating_a:g} A {METAL_TEXT[first.metal]} is the first on which every link is large enough."
