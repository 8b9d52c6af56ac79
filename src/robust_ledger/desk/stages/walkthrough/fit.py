"""Fit: the wall in elevation beside the measures it is drawn from."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from robust_ledger.desk.kit.captioned import CaptionedForm
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.scene_view import SceneView
from robust_ledger.desk.kit.specs import Fields
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.words import label
from robust_ledger.drawing.scene import Scene
from robust_ledger.plan import Plan
from robust_ledger.survey.fit import band_text
from robust_ledger.survey.fit_drawing import fit_scene


class FitPage(Page):
    """Drawing at the left, measures at the right; lengths as "79", "6'7"" or "200 cm"."""

    form: CaptionedForm

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        f = Fields(store)
        self.form = CaptionedForm(
            [
                ("Old", [f("fit:old.width_in"), f("fit:old.height_in"),
                         f("fit:old.depth_in"), f("fit:old_bottom_in")]),
                ("New", [f("fit:new.width_in"), f("fit:new.height_in"),
                         f("fit:new.depth_in"), f("fit:handle_in")]),
                ("Heights", [f("fit:new_bottom_in"), f("fit:ceiling_in"),
                             f("fit:headroom_in"), f("fit:least_in")]),
                ("Cables", [f("fit:enters"),
                            f("fit:slack_in"), f("fit:platform_in")]),
                ("Meter", [f("fit:meter_in"), f("utility:meter_low_in"),
                           f("utility:meter_high_in"), f("fit:meter_to_panel_in")]),
                ("Wall", [f("fit:bay_in"), f("fit:stud_in"),
                          f("fit:cutout_in"), f("fit:cutout_bottom_in")]),
                ("", [f("fit:finish_in"), f("fit:flush")]),
                ("Space", [f("fit:space_width_in"), f("fit:space_depth_in"),
                           f("fit:space_height_in")]),
            ],
            62,
        )  # fmt: skip
        self.view = SceneView("The wall in elevation", _draw, (440, 560))
        self.view.chosen.connect(store.choose_entry)
        self.words = label("", "live")
        self.words.setWordWrap(True)
        left = QVBoxLayout()
        left.addWidget(self.view, 1)
        left.addWidget(self.words)
        right = QVBoxLayout()
        right.addWidget(self.form)
        right.addStretch(1)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(12)
        row.addLayout(left, 1)
        row.addLayout(right)

    def start(self) -> None:
        self.view.setFocus(Qt.FocusReason.OtherFocusReason)
        self.store.choose_entries(("fit.low", "fit.high", "fit.bottom"))

    def apply_look(self) -> None:
        self.form.apply_look()

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        self.view.show_plan(plan)
        self.words.setText(band_text(plan.walk.fit))


def _draw(plan: Plan, width: float, height: float) -> Scene:
    return fit_scene(plan.job, plan.walk.fit, plan.codebook, width, height)
