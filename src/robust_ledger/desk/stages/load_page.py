"""What the pages of the Load stage have in common."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from robust_ledger.desk.store import JobStore
from robust_ledger.plan import Plan


class LoadPage(QWidget):
    """One page under the cards; made when first asked for."""

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store = store

    def show_plan(self, plan: Plan) -> None:
        """Show a new plan."""

    def start(self) -> None:
        """The page has come on: put the cursor where work begins."""

    def apply_look(self) -> None:
        """The text size or the theme has changed."""

    def go_to(self, place: str) -> bool:
        """Go to a place; False when it is not on this page."""
        return False

    def stop(self) -> None:
        """The window closes: end what runs beside it."""
