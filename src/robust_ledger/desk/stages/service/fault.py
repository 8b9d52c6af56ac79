"""Voltage drop and available fault current: lengths, the utility's figure, and every device's rating against what it has to open."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.desk.kit.fields import Form
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.scene_view import SceneView
from robust_ledger.desk.kit.specs import Fields, form_of
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.drawing.scene import Scene
from robust_ledger.ledger.text import number_text
from robust_ledger.plan import Plan
from robust_ledger.service.fault_drawing import fault_places, fault_scene


class FaultPage(Page):
    """Lengths, utility figure or transformer, AIC; the results as rows and as a profile."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        f = Fields(store)
        self.form = form_of(
            [
                [
                    f("service_run:length_ft"),
                    f("existing:utility_fault_a"),
                    f("panel:aic_a"),
                ],
                [
                    f("service_run:riser_ft"),
                    f("existing:transformer_kva"),
                    f("existing:transformer_percent_z"),
                ],
                [
                    f("main_feed:length_ft", label="disconnect to panel, ft"),
                    f("existing:disconnect_aic_a"),
                    f("panel:series_aic_a"),
                ],
            ],
            96,
        )
        self.profile = SceneView("Available fault current along the service", _draw, (500, 260))
        self.profile.chosen.connect(store.choose_entry)
        self.table = LedgerTable(
            "Voltage drop and available fault current",
            [Column("What", 0), Column("", 110, True), Column("Against", 230)],
            row_height=27,
        )
        self.table.chosen.connect(store.choose_entry)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.form)
        column.addWidget(self.profile, 3)
        column.addWidget(self.table, 2)
        words = (
            "The utility's own figure comes first; a transformer's plate stands in for it. Ask for it: it can change."
        )
        column.addWidget(label(words, "faint"))

    def start(self) -> None:
        self.form.focus_place("service_run:length_ft")
        self.store.choose_entries(("service.voltage_drop", "service.fault_panel"))

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        self.profile.show_plan(plan)
        target = f"{plan.codebook.number('voltage_drop_target') * 100:g}% as a target, not a rule"
        rows = []
        figures = plan.service.figures
        for drop in (figures.drop, *(feeder.drop for feeder in figures.feeders.values() if feeder.drop is not None)):
            words = target if drop.known else f"not known: {drop.why_unknown}"
            rows.append(Row(drop.id, (drop.label, drop.text(), words)))
        for place in fault_places(plan.job, figures):
            entry = place.entry
            read = f"{number_text(place.rating_a)} A, {place.kind}" if place.rating_a else "AIC not read"
            words = f"not known: {entry.why_unknown}" if not entry.known else read if place.devices else ""
            warn = (1, 2) if place.over else ()
            rows.append(Row(entry.id, (entry.label, entry.text(), words), "bold" if place.devices else "", warn))
        self.table.show_rows(rows)


def _draw(plan: Plan, width: float, height: float) -> Scene:
    return fault_scene(plan.job, plan.service.figures, width, height)
