"""What every stage on the spine has in common."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QButtonGroup, QLayout, QPushButton, QSizePolicy, QWidget

from robust_ledger.desk.kit.store import JobStore
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan

if TYPE_CHECKING:
    from robust_ledger.desk.kit.callout import CalloutBar


class Stage(QWidget):
    """A page of the ledger. It shows a plan, it never computes one."""

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.setObjectName("page")
        self.store = store
        self.callout: CalloutBar | None = None  # its own call-out line, where it has one on the page

    def show_place(self, place: Place) -> None:
        """Bring a place into view; the cursor stays where it is."""

    def show_plan(self, plan: Plan) -> None:
        """Show a new plan."""

    def apply_look(self) -> None:
        """The text size or the theme has changed."""

    def go_to(self, place: Place) -> bool:
        """Go to a place ("circuit:7", "load:range", "panel:spaces"); False when it is not on this page."""
        return False

    def fit(self) -> None:
        """The page has more or less room."""

    def stop(self) -> None:
        """The window closes: end what runs beside it."""

    def start(self) -> None:
        """The stage has come on: put the cursor where work begins."""


def page_buttons(
    owner: QWidget, row: QLayout, pages: Sequence[tuple[str, str]], current: str, show: Callable[[str], None]
) -> QButtonGroup:
    """Buttons for the pages of a stage, added to a row; `pages` are (name, words with the key to press)."""
    group = QButtonGroup(owner)
    for number, (name, words) in enumerate(pages):
        button = QPushButton(words)
        button.setCheckable(True)
        button.setChecked(name == current)
        button.clicked.connect(lambda _checked, name=name: show(name))
        group.addButton(button, number)
        row.addWidget(button)
    return group


def only_room_for(shown: QWidget, others: Iterable[QWidget]) -> None:
    """In a stack, let the one in view alone decide how much room is needed."""
    for one in others:
        policy = QSizePolicy.Policy.Preferred if one is shown else QSizePolicy.Policy.Ignored
        one.setSizePolicy(policy, policy)
