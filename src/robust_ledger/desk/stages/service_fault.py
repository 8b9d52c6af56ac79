"""Voltage drop and fault current along the service conductors, against the panel's interrupting rating."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from robust_ledger.desk.fields import Form, TextField, of
from robust_ledger.desk.paint import CENTRE, RIGHT
from robust_ledger.desk.stages.page import Page
from robust_ledger.desk.stages.stage import label
from robust_ledger.desk.store import JobStore
from robust_ledger.desk.table import Column, LedgerTable, Row
from robust_ledger.desk.theme import LOOK
from robust_ledger.ledger.text import number_text
from robust_ledger.plan import Plan


class FaultProfile(QWidget):
    """Fault current at the utility's end and at the panel as bars, the interrupting rating as a line across."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Fault current along the service")
        self.plan: Plan | None = None

    def sizeHint(self) -> QSize:
        return QSize(LOOK.px(400), LOOK.px(210))

    def show_plan(self, plan: Plan) -> None:
        self.plan = plan
        source, panel = plan.entries["service.fault_source"], plan.entries["service.fault_panel"]
        self.setAccessibleDescription(f"{source.label} {source.text()}, {panel.label} {panel.text()}")
        self.update()

    def paintEvent(self, event):
        if self.plan is None:
            return
        painter, px = QPainter(self), LOOK.px
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        entries = [self.plan.entries["service.fault_source"], self.plan.entries["service.fault_panel"]]
        rating = self.plan.job.panel.interrupting_a
        most = max([entry.amount for entry in entries if entry.known] + [rating or 0, 1.0]) * 1.15
        floor, left = self.height() - px(42), px(80)
        painter.setPen(QPen(LOOK.color("ink"), 1.5))
        painter.drawLine(left, floor, self.width() - px(10), floor)
        width = (self.width() - left) / 2
        for number, entry in enumerate(entries):
            centre = left + width * (number + 0.5)
            painter.setFont(LOOK.font(12))
            painter.setPen(LOOK.color("faint"))
            painter.drawText(QRectF(centre - width / 2, floor + px(4), width, px(20)), CENTRE, entry.label)
            top = floor - (floor - px(24)) * (entry.amount / most if entry.known else 0)
            over = entry.known and rating is not None and entry.amount > rating and number == 1
            painter.fillRect(
                QRectF(centre - px(22), top, px(44), floor - top), LOOK.color("stop" if over else "accent")
            )
            painter.setFont(LOOK.font(14, bold=True))
            painter.setPen(LOOK.color("ink"))
            painter.drawText(QRectF(centre - width / 2, top - px(22), width, px(20)), CENTRE, entry.text())
        if rating is not None:
            y = floor - (floor - px(24)) * rating / most
            painter.setPen(QPen(LOOK.color("stop"), 2, Qt.PenStyle.DashLine))
            painter.drawLine(left, int(y), self.width() - px(10), int(y))
            painter.setFont(LOOK.font(12))
            painter.drawText(QRectF(0, y - px(10), left - px(6), px(20)), RIGHT, f"{number_text(rating)} A")


class FaultPage(Page):
    """Length, utility figure or transformer, interrupting rating; the results as rows and as a profile."""

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.form = self._build_form()
        column.addWidget(self.form)
        self.profile = FaultProfile()
        column.addWidget(self.profile, 5)
        self.table = LedgerTable(
            "Voltage drop and fault current",
            [Column("What", 0), Column("", 110, True), Column("Against", 230)],
            row_height=27,
        )
        self.table.chosen.connect(store.choose_entry)
        column.addWidget(self.table, 2)
        column.addWidget(
            label(
                "The utility's own figure comes first; a transformer's plate stands in for it. Ask for it: it can change.",
                "faint",
            )
        )

    def _build_form(self) -> Form:
        form, store = Form(), self.store
        numbers = (
            ("service_run", "length_ft", "Length, ft", 1, 2000),
            ("service_run", "utility_fault_a", "Utility's figure, A", 100, 200_000),
            ("panel", "interrupting_a", "Interrupting rating, A", 1000, 200_000),
            ("service_run", "transformer_kva", "Transformer, kVA", 1, 1000),
            ("service_run", "transformer_percent_z", "its impedance, %", 0.2, 10),
        )
        for number, (part, name, words, low, high) in enumerate(numbers):
            field = TextField(store, words, *of(part, name), _reader(low, high), number_text, "not known")
            form.add(f"{part}:{name}", field, number // 3, number % 3, 96)
        form.grid.setColumnStretch(8, 1)
        return form

    def start(self) -> None:
        self.form.focus_place("service_run:length_ft")
        self.store.choose_entries(("service.voltage_drop", "service.fault_panel"))

    def apply_look(self) -> None:
        self.table.resize_columns()

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        self.profile.show_plan(plan)
        drop, source, panel = (
            plan.entries[f"service.{name}"] for name in ("voltage_drop", "fault_source", "fault_panel")
        )
        rating = plan.job.panel.interrupting_a
        against = "interrupting rating not read" if rating is None else f"{number_text(rating)} A, interrupting rating"
        over = panel.known and rating is not None and panel.amount > rating
        target = plan.codebook.number("voltage_drop_target") * 100
        rows = [
            Row(
                drop.id,
                (
                    drop.label,
                    drop.text(),
                    f"{target:g} % as a target, not a rule" if drop.known else f"not known: {drop.why_unknown}",
                ),
            ),
            Row(source.id, (source.label, source.text(), "" if source.known else f"not known: {source.why_unknown}")),
            Row(
                panel.id,
                (panel.label, panel.text(), against if panel.known else f"not known: {panel.why_unknown}"),
                "bold",
                (1, 2) if over else (),
            ),
        ]
        self.table.show_rows(rows)


def _reader(low: float, high: float):
    """A reader for a figure between two bounds; empty means not known."""

    def read(text: str) -> float | None:
        words = text.strip().replace(",", "")
        if not words:
            return None
        try:
            value = float(words)
        except ValueError:
            raise ValueError(f"«{text.strip()}» is not a number.") from None
        if not low <= value <= high:
            raise ValueError(f"{words} is not between {low:g} and {high:,g}.")
        return value

    return read
