"""The bottom line: the figures that decide the job, live in every stage; a click shows the working."""

from __future__ import annotations

from PyQt6.QtWidgets import QFrame, QHBoxLayout

from robust_ledger.desk.kit.figure import Figure
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.job.conductors import Conductors
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.text import UNKNOWN, number_text
from robust_ledger.plan import Plan


class BottomLine(QFrame):
    """The row of figures."""

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.setObjectName("bottom")
        self.store = store
        layout = QHBoxLayout(self)
        layout.setContentsMargins(8, 3, 8, 3)
        layout.setSpacing(0)
        self.figures = {
            name: Figure(name)
            for name in (
                "Load",
                "Main",
                "Service",
                "Neutral",
                "GEC",
                "Spaces used",
                "Spaces open",
                "Leg A",
                "Leg B",
                "Findings",
            )
        }
        for number, figure in enumerate(self.figures.values()):
            figure.clicked.connect(lambda _checked, figure=figure: store.choose_entry(figure.entry_id))
            if number:
                layout.addStretch(1)
            layout.addWidget(figure)

    def show_plan(self, plan: Plan) -> None:
        entries = plan.entries
        self._show("Load", plan.load.chosen.amperes)
        self._show("Main", entries["service.main"])
        self._show("Service", plan.service.conductors)
        self._show("Neutral", entries["service.neutral"])
        self._show("GEC", entries["service.gec"])
        used, left = entries["panel.spaces_used"], entries["panel.spaces_left"]
        figures = self.figures
        figures["Spaces used"].show_figure(number_text(used.amount), f"of {plan.job.panel.spaces}", used.id)
        figures["Spaces open"].show_figure(number_text(left.amount), "", left.id, left.amount < 0)
        self._show("Leg A", entries["panel.leg_a"], whole=True)
        self._show("Leg B", entries["panel.leg_b"], whole=True)
        open_ = [f for f in plan.findings if f.open]
        stops = sum(f.severity == "STOP" for f in open_)
        figures["Findings"].show_figure(str(len(open_)), f"{stops} STOP" if stops else "open", "findings", bool(stops))

    def _show(self, name: str, entry: Entry, whole: bool = False) -> None:
        """A figure with its unit apart; a size like "4/0 Al" has its metal as the unit."""
        words = entry.value.short if isinstance(entry.value, Conductors) else entry.text()
        text, unit = [*words.rsplit(" ", 1), ""][:2] if entry.known else (UNKNOWN, "")
        if whole and entry.known:
            text = number_text(entry.amount, 0)
        self.figures[name].show_figure(text, unit, entry.id, not entry.known)
