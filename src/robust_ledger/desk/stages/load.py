"""Load: what the service has to carry. Four methods side by side, and a page for each way of looking at them."""

from __future__ import annotations

from importlib import import_module

from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QStackedWidget, QVBoxLayout

from robust_ledger.desk.stages.load_cards import MethodCard
from robust_ledger.desk.stages.load_page import LoadPage
from robust_ledger.desk.stages.stage import Stage, label, page_buttons
from robust_ledger.desk.theme import LOOK
from robust_ledger.job.edits import with_part
from robust_ledger.load.methods import CALCULATIONS, NAMES, recommended_name
from robust_ledger.plan import Plan

# Name of the module and words of the button; the class is called after the module.
PAGES = (
    ("house", "H&ouse"),
    ("tape", "&Tape"),
    ("methods", "&Methods"),
    ("whatif", "&What if"),
    ("measured", "Measu&red"),
    ("day", "&Day"),
    ("local", "&Local rules"),
)
_CLASSES = {"whatif": "WhatIfPage"}
_PAGE_OF_PLACE = {"future": "whatif", "measured": "measured", "local_rules": "local"}


class LoadStage(Stage):
    """The method cards, always in view, over the page chosen by its button (Alt and its letter)."""

    def __init__(self, store):
        super().__init__(store)
        self.current = "house"
        self.made: dict[str, LoadPage] = {}
        self.cards = {name: MethodCard(name) for name in CALCULATIONS}
        for name, card in self.cards.items():
            card.clicked.connect(lambda _checked, name=name: self._use(name))
        self.pages = QStackedWidget()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(18, 10, 14, 10)
        outer.setSpacing(8)
        top = QHBoxLayout()
        top.setSpacing(5)
        self.heading = label("Load", "heading")
        top.addWidget(self.heading)
        top.addStretch(1)
        self.tabs = page_buttons(self, top, PAGES, self.current, self.show_page)
        outer.addLayout(top)
        cards = QHBoxLayout()
        cards.setSpacing(6)
        for card in self.cards.values():
            cards.addWidget(card, 1)
        outer.addLayout(cards)
        outer.addWidget(self.pages, 1)

    def page(self, name: str = "") -> LoadPage:
        """The page in view, or one by name; made when first asked for."""
        name = name or self.current
        if name not in self.made:
            module = import_module(f"robust_ledger.desk.stages.load_{name}")
            page: LoadPage = getattr(module, _CLASSES.get(name, f"{name.capitalize()}Page"))(self.store)
            self.made[name] = page
            self.pages.addWidget(page)
            page.apply_look()
        return self.made[name]

    def start(self) -> None:
        self.page().start()

    def stop(self) -> None:
        for page in self.made.values():
            page.stop()

    def show_page(self, name: str) -> None:
        self._turn_to(name)
        self.page().start()

    def _turn_to(self, name: str) -> None:
        """Show a page; the others, out of view, ask for no room."""
        self.current = name
        for other, page in self.made.items():
            vertical = QSizePolicy.Policy.Preferred if other == name else QSizePolicy.Policy.Ignored
            page.setSizePolicy(vertical, vertical)
        self.tabs.button([page for page, _ in PAGES].index(name)).setChecked(True)
        self.page().show_plan(self.store.plan)
        self.pages.setCurrentWidget(self.page())

    def apply_look(self) -> None:
        """Large text needs the heading's room for the buttons."""
        self.heading.setVisible(not LOOK.large)
        for page in self.made.values():
            page.apply_look()

    def show_plan(self, plan: Plan) -> None:
        recommended = recommended_name(plan.entries["load.recommended"])
        for name, card in self.cards.items():
            card.show_method(plan.methods[name], plan.job.decisions.load_method == name, name == recommended)
        self.page().show_plan(plan)
        self.pages.setCurrentWidget(self.page())

    def go_to(self, place: str) -> bool:
        if place == "decisions:load_method":
            self.show_page("methods")
            return True
        name = _PAGE_OF_PLACE.get(place.partition(":")[0], "house")
        self._turn_to(name)
        return self.page().go_to(place)

    def _use(self, name: str) -> None:
        self.store.edit(f"use {NAMES[name].lower()}", lambda job: with_part(job, "decisions", load_method=name))
        for other, card in self.cards.items():
            card.setChecked(other == self.store.job.decisions.load_method)
        self.store.choose_entries((f"load.{name}.amperes", f"load.{name}.open"))
