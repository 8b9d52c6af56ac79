"""The decision about the method: which are open to this job, which is recommended, and why not the others."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.job.edits import with_part
from robust_ledger.ledger.place import Place
from robust_ledger.load.methods import NAMES, recommended_name
from robust_ledger.plan import Plan


class MethodsPage(Page):
    """A row for each condition of each method; Enter on a method uses it."""

    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 0)
        top = QHBoxLayout()
        self.words = label("", "live")
        self.words.setWordWrap(True)
        self.take = QPushButton("Ta&ke the recommended one")
        self.take.clicked.connect(lambda: self.use(recommended_name(self.store.plan.load.recommended)))
        top.addWidget(self.words, 1)
        top.addWidget(self.take)
        column.addLayout(top)
        self.table = LedgerTable(
            "Methods and what each requires",
            [
                Column("Method, and what it requires", 252),
                Column("", 0),
                Column("Load", 74, True),
                Column("Main", 62, True),
                Column("Section", 140),
            ],
            row_height=24,
        )
        self.table.chosen.connect(self._chosen)
        self.table.opened.connect(lambda key: self.use(key.partition(".")[0]))
        column.addWidget(self.table, 1)
        column.addWidget(
            label("Enter uses a method. One that is not allowed can still be used: it is then a finding.", "faint")
        )

    def use(self, name: str) -> None:
        if name:
            self.store.edit(f"use {NAMES[name].lower()}", lambda job: with_part(job, "decisions", load_method=name))

    def start(self) -> None:
        self.table.setFocus(Qt.FocusReason.OtherFocusReason)
        self.store.choose_entries(("load.recommended",))

    def go_to(self, place: Place) -> bool:
        """The method itself is chosen in the table."""
        if place != "decisions:load_method":
            return False
        self.table.setFocus(Qt.FocusReason.OtherFocusReason)
        return True

    def apply_look(self) -> None:
        self.table.resize_columns()

    def show_plan(self, plan: Plan) -> None:
        advice = plan.load.recommended
        reason = next((s.text() for s in advice.steps if s.name == "because"), "")
        self.words.setText(
            f"Recommended: {advice.text()} — {reason}." if advice.known else f"Not known: {advice.why_unknown}."
        )
        used = plan.job.decisions.load_method
        self.take.setEnabled(advice.known and recommended_name(advice) != used)
        rows = []
        for name, method in plan.load.methods.items():
            calculation = method.calculation
            state = "used for this job" if name == used else str(method.state.value)
            if name == used and not method.open:
                state += ", though not allowed"
            cells = (NAMES[name], state, calculation.amperes.text(), method.main.text(), str(calculation.cite))
            rows.append(Row(f"{name}.open", cells, "bold", (1,) if not method.open else ()))
            for number, step in enumerate(method.state.steps):
                sections = ", ".join(str(cite) for cite in step.cites)
                rows.append(Row(f"{name}.open.{number}", (f"   {step.label}", step.text(), "", "", sections), "faint"))
        self.table.show_rows(rows)

    def _chosen(self, key: str) -> None:
        name = key.partition(".")[0]
        self.store.choose_entries(
            (f"load.{name}.open", f"load.{name}.main", f"load.{name}.amperes", "load.recommended")
        )
