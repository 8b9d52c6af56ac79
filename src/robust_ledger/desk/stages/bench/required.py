"""Which circuits the dwelling has to have, and how many outlets each general circuit may have by three practices."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.branch.outlets import PRACTICES, Practices
from robust_ledger.desk.kit.fields import Form
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields, form_of
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import UNKNOWN
from robust_ledger.plan import Plan


class RequiredPage(Page):
    """Two tables, and the job's practices between them."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        f = Fields(store)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.required = LedgerTable(
            "Required circuits",
            [
                Column("Required", 176),
                Column("Required", 68, True),
                Column("There", 52, True),
                Column("Which", 0),
                Column("Section", 170),
            ],
            row_height=21,
        )
        self.required.when_empty = "Nothing to check yet: call out circuits in Pull-off."
        self.required.chosen.connect(self._show_requirement)
        column.addWidget(self.required, 5)
        self.form = form_of(
            [
                [
                    f("decisions:outlet_practice"),
                    f("decisions:smoke_practice"),
                    f("decisions:lighting_practice"),
                ]
            ]
        )
        column.addWidget(self.form)
        self.words = label("", "live")
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.table = LedgerTable(
            "Outlets by three practices",
            [
                Column("Tag", 44),
                Column("Circuit", 0),
                Column("Outlets", 60, True),
                Column("180 VA: most", 92, True),
                Column("Ten", 48, True),
                Column("By use: VA left", 104, True),
                Column("By the rule chosen", 150),
            ],
            row_height=21,
        )
        self.table.when_empty = "No general circuits yet."
        self.table.chosen.connect(self._show_practices)
        self.table.opened.connect(lambda key: store.ask_place(Place.branch(key)))
        column.addWidget(self.table, 6)

    def start(self) -> None:
        self.required.setFocus(Qt.FocusReason.OtherFocusReason)

    def apply_look(self) -> None:
        self.table.resize_columns()
        self.required.resize_columns()

    def show_plan(self, plan: Plan) -> None:
        plan = self.store.plan  # what a dwelling has to have is asked of all its panels together
        self.form.refresh()
        rows = []
        for one in plan.circuits.requirements:
            tags = [
                branch.tag if branch.tag != "new" else branch.feeds for key in one.keys if (branch := plan.branch(key))
            ]
            which = ", ".join(tags) if tags else one.words
            cells = (one.name, str(one.needed), str(len(one.keys)), which, " · ".join(str(cite) for cite in one.cites))
            rows.append(Row(one.name, cells, "" if one.met else "bold", () if one.met else (2,)))
        self.required.show_rows(rows)
        self.table.show_rows([_row(one, plan) for one in plan.circuits.practices])
        parted = [one for one in plan.circuits.practices if one.disagree]
        fifteen, twenty = (plan.circuits.least_general[rating] for rating in (15, 20))
        least = f"The floor area requires {fifteen.text()} circuits of 15 A or {twenty.text()} of 20 A. "
        apart = (
            f"The three rules disagree on {len(parted)} circuit{'s' if len(parted) != 1 else ''}."
            if parted
            else "The practices agree where outlets are counted."
        )
        self.words.setText(f"{least}In a dwelling the code sets no count of outlets. {apart}")

    def _show_requirement(self, name: str) -> None:
        one = next((r for r in self.store.plan.circuits.requirements if r.name == name), None)
        if one is not None and one.keys:
            self.store.choose_place(Place.branch(one.keys[0]))

    def _show_practices(self, key: str) -> None:
        self.store.choose_entries((f"outlets.va.{key}", f"outlets.use.{key}", f"outlets.fastened.{key}"))

    def go_to(self, place: Place) -> bool:
        kind, rest = place.kind, place.name
        if kind == "branch":
            self.table.choose(rest)
            self.table.setFocus()
            return True
        return super().go_to(place)


def _row(one: Practices, plan: Plan) -> Row:
    branch = plan.branch(one.key)
    tag, text = (branch.tag, branch.directory_text) if branch else ("", "")
    practice = plan.job.decisions.outlet_practice
    holds = one.holds(practice)
    verdict = {True: "holds", False: "too many", None: "not counted" if practice != "use" else "load not known"}[holds]
    if one.disagree:
        others = [PRACTICES[name].split(",")[0] for name, said in one.verdicts if said is not None and said != holds]
        verdict += f"; not by {', '.join(others)}" if holds else ""
    ten = {True: "≤ 10", False: "over", None: UNKNOWN}[one.holds("ten")]
    cells = (
        tag,
        text,
        UNKNOWN if one.count is None else str(one.count),
        one.by_va.text(),
        ten,
        one.by_use.text().removesuffix(" VA"),
        verdict,
    )
    return Row(one.key, cells, "bold" if one.disagree else "", (6,) if holds is False else ())
