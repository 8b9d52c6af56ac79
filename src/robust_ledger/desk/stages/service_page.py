"""What the pages of the Service stage have in common."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from robust_ledger.desk.fields import Form
from robust_ledger.desk.store import JobStore
from robust_ledger.plan import Plan


class ServicePage(QWidget):
    """One page beside the sizes, with the form of what it rests on."""

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store = store
        self.form = Form()

    def show_plan(self, plan: Plan) -> None:
        """Show a new plan."""

    def start(self) -> None:
        """The page has come on: put the cursor where work begins."""

    def apply_look(self) -> None:
        """The text size or the theme has changed."""
