"""The bottom line: the figures that decide the job, live in every stage; a click shows the working."""

from __future__ import annotations

from PyQt6.QtWidgets import QFrame, QHBoxLayout

from robust_ledger.desk.kit.figure import Figure
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.tree import panel_name
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.text import UNKNOWN, number_text
from robust_ledger.panel.bench import Bench
from robust_ledger.plan import Plan
from robust_ledger.service.figures import ServiceFigures


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
        bench = plan.seen_from(self.store.panel_id).bench
        self._show("Load", plan.load.governing)
        self._show("Main", plan.service.figures.mains)
        self._show("Service", plan.service.conductors)
        self._show_neutral(plan.service.figures)
        self._show("GEC", plan.service.gec)
        used = bench.spaces_used
        figures, name = self.figures, f", {panel_name(plan.job, bench.panel_id)}" if plan.job.panels else ""
        figures["Spaces used"].show_figure(number_text(used.amount), f"of {bench.job.panel.spaces}{name}", used.id)
        self._show_open(plan, bench)
        self._show("Leg A", bench.legs[0], whole=True)
        self._show("Leg B", bench.legs[1], whole=True)
        open_ = [f for f in plan.findings if f.open]
        stops = sum(f.severity == "STOP" for f in open_)
        figures["Findings"].show_figure(str(len(open_)), f"{stops} STOP" if stops else "open", "findings", bool(stops))

    def _show_neutral(self, of: ServiceFigures) -> None:
        """The neutral that is pulled, as the drawings have it, and the least that would do where that is smaller."""
        self._show("Neutral", of.pulled_neutral)
        pulled, least = of.pulled_neutral.value, of.neutral.value
        if isinstance(pulled, Conductors) and isinstance(least, Conductors) and pulled != least:
            text, unit = pulled.short.rsplit(" ", 1)
            self.figures["Neutral"].show_figure(text, f"{unit}, least {least.short}", of.pulled_neutral.id)

    def _show_open(self, plan: Plan, bench: Bench) -> None:
        """The open spaces of the panel in view, or of one that has too few."""
        least = min(plan.benches.values(), key=lambda one: one.spaces_left.amount)
        shown = least if least.spaces_left.amount < 0 else bench
        words = "" if shown is bench else panel_name(plan.job, shown.panel_id)
        left = shown.spaces_left
        self.figures["Spaces open"].show_figure(number_text(left.amount), words, left.id, left.amount < 0)

    def _show(self, name: str, entry: Entry, whole: bool = False) -> None:
        """A figure with its unit apart; a size like "4/0 Al" has its metal as the unit."""
        words = entry.value.short if isinstance(entry.value, Conductors) else entry.text()
        text, unit = [*words.rsplit(" ", 1), ""][:2] if entry.known else (UNKNOWN, "")
        if whole and entry.known:
            text = number_text(entry.amount, 0)
        self.figures[name].show_figure(text, unit, entry.id, not entry.known)
