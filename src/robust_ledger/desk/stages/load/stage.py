"""Load: what the service has to carry. Four methods side by side, and a page for each way of looking at them."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QWidget

from robust_ledger.desk.kit.page import PagedStage
from robust_ledger.desk.stages.load.cards import MethodCard
from robust_ledger.desk.stages.load.spec import SPEC
from robust_ledger.job.edits import with_part
from robust_ledger.load.methods import CALCULATIONS, NAMES, recommended_name
from robust_ledger.plan import Plan


class LoadStage(PagedStage):
    """The method cards, always in view, over the page chosen by its button."""

    spec = SPEC

    def build_strip(self) -> QWidget:
        self.cards = {name: MethodCard(name) for name in CALCULATIONS}
        strip = QWidget()
        row = QHBoxLayout(strip)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        for name, card in self.cards.items():
            card.clicked.connect(lambda _checked, name=name: self._use(name))
            row.addWidget(card, 1)
        return strip

    def show_plan(self, plan: Plan) -> None:
        recommended = recommended_name(plan.load.recommended)
        for name, card in self.cards.items():
            card.show_method(plan.load.methods[name], plan.job.decisions.load_method == name, name == recommended)
        super().show_plan(plan)

    def _use(self, name: str) -> None:
        self.store.edit(f"use {NAMES[name].lower()}", lambda job: with_part(job, "decisions", load_method=name))
        for other, card in self.cards.items():
            card.setChecked(other == self.store.job.decisions.load_method)
        self.store.choose_entries((f"load.{name}.amperes", f"load.{name}.open"))
