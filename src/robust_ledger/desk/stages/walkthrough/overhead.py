"""Overhead: the drop to scale, its measures, and each limit with what is planned."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from robust_ledger.desk.kit.captioned import CaptionedForm
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.scene_view import SceneView
from robust_ledger.desk.kit.specs import Fields
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.drawing.scene import Scene
from robust_ledger.plan import Plan
from robust_ledger.survey.overhead import judged_clearances
from robust_ledger.survey.overhead_drawing import overhead_scene


class OverheadPage(Page):
    """Drawing at the left; measures and limits at the right."""

    form: CaptionedForm
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        f = Fields(store)
        self.form = CaptionedForm(
            [
                ("Heights", [f("overhead:attachment_ft"), f("overhead:weatherhead_ft"),
                             f("overhead:loop_ft"), f("overhead:span_ft")]),
                ("Over", [f("overhead:over"),
                          None, f("overhead:window_ft")]),
                ("Roof", [f("overhead:roof"),
                          None, f("overhead:roof_in"), f("overhead:roof_run_in"),
                          f("overhead:overhang_in")]),
                ("Riser", [f("overhead:riser_ft"), f("overhead:strap_end_in"),
                           f("overhead:strap_between_in"), f("overhead:free_in")]),
                ("Mast", [f("overhead:mast"), f("overhead:mast_above_in"),
                          f("overhead:mast_guyed"), f("overhead:mast_coupling")]),
                ("Utility", [f("utility:name"), f("utility:mast_least"),
                             f("utility:guy_above_in"), f("utility:free_in")]),
            ],
            66,
        )  # fmt: skip
        self.view = SceneView("Service drop and mast", _draw, (380, 500))
        self.view.chosen.connect(store.choose_entry)
        self.table = LedgerTable(
            "Clearances", [Column("What", 0), Column("Limit", 84, True), Column("Planned", 76, True)], row_height=25
        )
        self.table.chosen.connect(store.choose_entry)
        self.words = label("", "faint")
        self.words.setWordWrap(True)
        right = QVBoxLayout()
        right.addWidget(self.form)
        right.addWidget(self.table, 1)
        right.addWidget(self.words)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(12)
        row.addWidget(self.view, 1)
        row.addLayout(right)

    def start(self) -> None:
        self.view.setFocus(Qt.FocusReason.OtherFocusReason)
        self.store.choose_entries(("overhead.attachment_ft", "overhead.straps"))

    def apply_look(self) -> None:
        super().apply_look()
        self.form.apply_look()

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        self.view.show_plan(plan)
        rows, habits = [], []
        for judged in judged_clearances(plan.job, plan.walk.overhead, plan.codebook):
            one, entry, wrong = judged.one, judged.entry, judged.kept is False
            cells = (one.words, judged.limit_text, entry.text())
            rows.append(Row(entry.id, cells, "bold" if wrong else "", (0, 2) if wrong else ()))
            if one.habit:
                habits.append(one.habit)
        if plan.walk.overhead is not None:
            straps = plan.walk.overhead.straps
            rows.append(Row(straps.id, (straps.label, "", straps.text()), "bold"))
        self.table.show_rows(rows)
        self.words.setText("Common mistakes: " + "; ".join(habits) + "." if habits else "")


def _draw(plan: Plan, width: float, height: float) -> Scene:
    return overhead_scene(plan.job, plan.walk.overhead, plan.codebook, width, height)
