"""The bottom line: the figures that decide the job, live in every stage; a click shows the working."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QSize, Qt
from PyQt6.QtGui import QFontMetrics, QPainter
from PyQt6.QtWidgets import QAbstractButton, QFrame, QHBoxLayout

from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.text import UNKNOWN, number_text
from robust_ledger.plan import Plan


class Figure(QAbstractButton):
    """A caption, a large figure and a small unit."""

    def __init__(self, caption: str) -> None:
        super().__init__()
        self.caption, self.figure, self.unit = caption, UNKNOWN, ""
        self.serious = False
        self.entry_id = ""

    def show_figure(self, figure: str, unit: str, entry_id: str, serious: bool = False) -> None:
        self.figure, self.unit, self.entry_id, self.serious = figure, unit, entry_id, serious
        self.setText(f"{figure} {unit}".strip())
        self.setAccessibleName(f"{self.caption}: {figure} {unit}".strip())
        self.setToolTip("Show the working")
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        figure = QFontMetrics(LOOK.font(21, bold=True)).horizontalAdvance(self.figure)
        unit = QFontMetrics(LOOK.font(12)).horizontalAdvance(self.unit)
        caption = QFontMetrics(LOOK.font(12)).horizontalAdvance(self.caption)
        return QSize(max(figure + unit + LOOK.px(7), caption) + LOOK.px(18), LOOK.px(58))

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def paintEvent(self, event):
        painter, px = QPainter(self), LOOK.px
        left = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        if self.underMouse() or self.hasFocus():
            painter.fillRect(self.rect(), LOOK.color("wash"))
        painter.setPen(LOOK.color("faint"))
        painter.setFont(LOOK.font(12))
        painter.drawText(QRect(px(9), px(6), self.width(), px(18)), left, self.caption)
        font = LOOK.font(21, bold=True)
        painter.setFont(font)
        painter.setPen(LOOK.color("stop" if self.serious else "ink"))
        painter.drawText(QRect(px(9), px(24), self.width(), px(30)), left, self.figure)
        offset = px(9) + QFontMetrics(font).horizontalAdvance(self.figure) + px(5)
        painter.setFont(LOOK.font(12))
        painter.setPen(LOOK.color("faint"))
        painter.drawText(QRect(offset, px(29), self.width(), px(22)), left, self.unit)
        if self.hasFocus():
            painter.setPen(LOOK.color("accent"))
            painter.drawRect(self.rect().adjusted(1, 1, -2, -2))


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
                "Electrode",
                "Spaces used",
                "Left",
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
        self._show("Electrode", entries["service.electrode"])
        used, left = entries["panel.spaces_used"], entries["panel.spaces_left"]
        figures = self.figures
        figures["Spaces used"].show_figure(number_text(used.amount), f"of {plan.job.panel.spaces}", used.id)
        figures["Left"].show_figure(number_text(left.amount), "", left.id, left.amount < 0)
        self._show("Leg A", entries["panel.leg_a"], whole=True)
        self._show("Leg B", entries["panel.leg_b"], whole=True)
        open_ = [f for f in plan.findings if f.open]
        stops = sum(f.severity == "STOP" for f in open_)
        figures["Findings"].show_figure(str(len(open_)), f"{stops} STOP" if stops else "open", "findings", bool(stops))

    def _show(self, name: str, entry: Entry, whole: bool = False) -> None:
        """A figure with its unit apart; a size like «4/0 Al» has its metal as the unit."""
        text, unit = [*entry.text().rsplit(" ", 1), ""][:2] if entry.known else (UNKNOWN, "")
        if whole and entry.known:
            text = number_text(entry.amount, 0)
        self.figures[name].show_figure(text, unit, entry.id, not entry.known)
