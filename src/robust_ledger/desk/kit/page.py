"""One page of a stage that has several, and the stage that turns them."""

from __future__ import annotations

from importlib import import_module

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from robust_ledger.desk import stages
from robust_ledger.desk.kit.fields import Form
from robust_ledger.desk.kit.flow import FlowLayout
from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.spec import StageSpec
from robust_ledger.desk.kit.stack import Stack
from robust_ledger.desk.kit.stage import Stage, only_room_for, page_buttons
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import LedgerTable
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import Label, label
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan


class Page(QWidget):
    """One page under the buttons of its stage; made when first asked for."""

    form: Form | None = None
    table: LedgerTable | None = None

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store = store

    def show_plan(self, plan: Plan) -> None:
        """Show a new plan."""

    def start(self) -> None:
        """The page has come on: put the cursor where work begins."""

    def apply_look(self) -> None:
        """The text size or the theme has changed."""
        if self.table is not None:
            self.table.resize_columns()

    def go_to(self, place: Place) -> bool:
        """Go to a place; False when it is not on this page."""
        return self.form is not None and self.form.focus_place(place)

    def stop(self) -> None:
        """The window closes: end what runs beside it."""


class PagedStage(Stage):
    """A heading, a button for each page (Alt and its letter), what stays in view, and the page itself.

    A page "fault" of the stage "service" is the class FaultPage of the module fault in its folder.
    """

    spec: StageSpec

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.current = self.spec.pages[0].name
        self.made: dict[str, Page] = {}
        self.stack = Stack()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(18, 8, 14, 2)
        outer.setSpacing(7)
        top = QHBoxLayout()
        top.setSpacing(5)
        self.heading = label(self.spec.title, "heading")
        top.addWidget(self.heading)
        buttons = QWidget()
        row = FlowLayout(buttons, right=True)
        self.tabs = page_buttons(
            self, row, [(page.name, page.words) for page in self.spec.pages], self.current, self.show_page
        )
        top.addWidget(buttons, 1)
        outer.addLayout(top)
        if strip := self.build_strip():
            outer.addWidget(strip)
        outer.addWidget(self.stack, 1)

    def build_strip(self) -> QWidget | None:
        """What stays in view above every page; None for nothing."""
        return None

    def page_of(self, place: Place) -> str:
        """The page a place is on: the one that names it, else the one in view."""
        return self.spec.page_of(place) or self.current

    def page(self, name: str = "") -> Page:
        """The page in view, or one by name; made when first asked for."""
        name = name or self.current
        if name not in self.made:
            spec = next(page for page in self.spec.pages if page.name == name)
            module = import_module(f"{stages.__name__}.{self.spec.name}.{name}")
            page: Page = getattr(module, spec.view)(self.store)
            self.made[name] = page
            self.stack.addWidget(page)
            page.apply_look()
            self._fit(page)
        return self.made[name]

    def start(self) -> None:
        self.page().start()

    def stop(self) -> None:
        for page in self.made.values():
            page.stop()

    def show_page(self, name: str) -> None:
        self.turn_to(name)
        self.page().start()

    def turn_to(self, name: str) -> None:
        """Show a page without moving the cursor; the others, out of view, ask for no room."""
        self.current = name
        shown = self.page()
        only_room_for(shown, self.made.values())
        there(self.tabs.button([page.name for page in self.spec.pages].index(name))).setChecked(True)
        shown.show_plan(self.seen(self.store.plan))
        self.stack.setCurrentWidget(shown)

    def apply_look(self) -> None:
        """Large text needs the heading's room for the buttons."""
        self.heading.setVisible(not LOOK.large)
        for page in self.made.values():
            page.apply_look()
        self.fit()

    def fit(self) -> None:
        """Fold forms that are wider than the room a page has."""
        for page in self.made.values():
            self._fit(page)

    @staticmethod
    def _fit(page: Page) -> None:
        """Wrap large words, fold forms, the widest before the others, last make columns narrower."""
        _wrap_large(page)
        for table in page.findChildren(LedgerTable):
            table.resize_columns()  # back to their own widths: there may be more room than the last time
        for form in page.findChildren(Form):
            form.fit(LOOK.room_px)
        if not _excess_px(page):
            return
        for table in sorted(page.findChildren(LedgerTable), key=lambda one: -one.minimumWidth()):
            if table.minimumWidth() > LOOK.room_px:
                table.resize_columns(LOOK.room_px)
        for form in sorted(page.findChildren(Form), key=lambda one: -one.minimumSizeHint().width()):
            if too_much := _excess_px(page):
                form.fit(form.minimumSizeHint().width() - too_much)
                if _excess_px(page) == too_much:  # it was not this one
                    form.fit(LOOK.room_px)
        for table in sorted(page.findChildren(LedgerTable), key=lambda one: -one.minimumWidth()):
            if too_much := _excess_px(page):
                table.resize_columns(table.minimumWidth() - too_much)

    def seen(self, plan: Plan) -> Plan:
        """The plan as the pages of this stage show it."""
        return plan

    def show_plan(self, plan: Plan) -> None:
        self.page().show_plan(self.seen(plan))
        self.stack.setCurrentWidget(self.page())

    def show_place(self, place: Place) -> None:
        self.turn_to(self.page_of(place))

    def go_to(self, place: Place) -> bool:
        self.turn_to(self.page_of(place))
        return self.page().go_to(place)


def _wrap_large(page: Page) -> None:
    """Large words wrap; at another size each is as it was made."""
    for words in page.findChildren(Label):
        if words.buddy() is None:
            if words.property("wraps") is None:
                words.setProperty("wraps", words.wordWrap())
            words.setWordWrap(LOOK.large or bool(words.property("wraps")))


def _excess_px(page: Page) -> int:
    """By how much a page is wider than the room it has; 0 where it fits."""
    layout = page.layout()
    if layout is not None:
        layout.activate()
    return max(0, page.minimumSizeHint().width() - LOOK.room_px) if LOOK.room_px else 0
