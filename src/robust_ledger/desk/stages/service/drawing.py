"""The one-line drawing, the choices that decide it, and what becomes of neutral and ground at every place."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from robust_ledger.codebook.conductors import ratings_a
from robust_ledger.desk.kit.fields import Form, TextField, of
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.scene_view import SceneView
from robust_ledger.desk.kit.specs import Fields, form_of
from robust_ledger.desk.kit.stage import label
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.drawing.scene import Scene
from robust_ledger.plan import Plan
from robust_ledger.service.bonds import bond_places
from robust_ledger.service.equipment import MAIN_WORDS
from robust_ledger.service.one_line_drawing import one_line_scene
from robust_ledger.service.reading import read_conductor

RULE_WORDS = {"dwelling": "83% rule", "full": "load, next size up", "strict": "whole rating"}


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
                [f.choice("decisions:main_a", "Main", mains)],
                [f.choice("decisions:split_main_a", "Main panel's main", split_mains)],
                [f.choice("decisions:metal", "Metal", [("al", "aluminum"), ("cu", "copper")])],
                [f.choice("decisions:conductor_rule", "Conductors", list(RULE_WORDS.items()))],
                [("service_run:neutral", pulled)],
                [
                    f.choice(
                        "panel:terminals_c",
                        "Terminals",
                        [(None, "not checked"), (75, "marked 75 °C"), (60, "not marked, 60 °C")],
                    )
                ],
                [f.amps("existing:meter_label_a", "Meter label, A", "not read")],
                [f.tick("decisions:meter_replaced", "meter socket replaced")],
                [f.tick("panel:first_disconnect", "panel is the first disconnect")],
                [f.choice("panel:main", "Panel has", list(MAIN_WORDS.items()))],
            ],
            120,
        )

    def start(self) -> None:
        self.drawing.setFocus(Qt.FocusReason.OtherFocusReason)

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        self.form.show_row("decisions:split_main_a", plan.job.scope.split)
        self.drawing.show_plan(plan)
        rows = []
        for place in bond_places(plan.job):
            entry = plan.entries[f"service.bond.{place.key}"]
            wrong = () if place.right else (1,)
            words = (
                entry.text() if place.right else f"{'bonded' if place.bonded else 'separate'}, should be {entry.text()}"
            )
            rows.append(Row(entry.id, (place.title, words), "bold" if place.first else "", wrong))
        self.table.show_rows(rows)


def _draw(plan: Plan, width: float, height: float) -> Scene:
    return one_line_scene(plan.one_line, width, height)
