"""The one-line drawing, the choices that decide it, and what becomes of neutral and ground at every place."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from robust_ledger.codebook.conductors import ratings_a
from robust_ledger.desk.kit.fields import Form, TextField, of
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.scene_view import SceneView
from robust_ledger.desk.kit.specs import Fields, form_of
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.drawing.scene import Scene
from robust_ledger.installation.one_line_drawing import one_line_scene
from robust_ledger.job.fields import choices_at
from robust_ledger.plan import Plan
from robust_ledger.service.reading import read_conductor

RULE_WORDS = choices_at("decisions.conductor_rule")


class DrawingPage(Page):
    """Drawing on the left, choices and bonds on the right."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.drawing = SceneView("One-line drawing of the service", _draw, (470, 560))
        self.drawing.chosen.connect(store.choose_entry)
        self.form = self._build_form()
        self.table = LedgerTable(
            "Neutral and ground", [Column("Place", 130), Column("Neutral and ground", 250)], row_height=26
        )
        self.table.chosen.connect(store.choose_entry)
        right = QVBoxLayout()
        right.setSpacing(8)
        right.addWidget(label("Choices", "section"))
        right.addWidget(self.form)
        right.addSpacing(4)
        right.addWidget(label("Neutral–ground bond: once, at the service disconnect", "section"))
        right.addWidget(self.table, 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(14)
        row.addWidget(self.drawing, 1)
        row.addLayout(right)

    def _build_form(self) -> Form:
        f = Fields(self.store)
        book = self.store.plan.codebook
        pulled = TextField(
            self.store,
            "Neutral pulled",
            *of("service_run", "neutral"),
            lambda text: read_conductor(text, self.store.plan.codebook),
            str,
            "as it comes",
        )
        mains = [(None, "by load, or as found")] + [(r, f"{r:g} A") for r in ratings_a(book) if 100 <= r <= 400]
        split_mains = [(None, "not entered"), *mains[1:]]
        return form_of(
            [
                [f("decisions:main_a", choices=mains)],
                [f("main_feed:breaker_a", label="Main panel's main", choices=split_mains)],
                [f("decisions:metal")],
                [f("decisions:conductor_rule")],
                [("service_run:neutral", pulled)],
                [f("panel:terminals_c")],
                [f("existing:meter_label_a")],
                [f("decisions:meter_replaced")],
                [f("panel:first_disconnect")],
                [f("panel:main")],
            ],
            120,
        )

    def start(self) -> None:
        self.drawing.setFocus(Qt.FocusReason.OtherFocusReason)

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        to_main = plan.service.figures.to_main
        own = plan.job.scope.split and to_main is not None and to_main.rating.place == "main_feed:breaker_a"
        self.form.show_row("main_feed:breaker_a", own)
        self.drawing.show_plan(plan)
        rows = []
        for node in plan.installation.bonded:
            if (bond := node.bond) is None:
                continue
            words = bond.entry.text()
            if not bond.right:
                words = f"{'bonded' if bond.bonded else 'separate'}, should be {words}"
            style = "bold" if bond.kind == "in" else ""
            rows.append(Row(bond.entry.id, (node.title, words), style, () if bond.right else (1,)))
        self.table.show_rows(rows)


def _draw(plan: Plan, width: float, height: float) -> Scene:
    return one_line_scene(plan.one_line, width, height)
