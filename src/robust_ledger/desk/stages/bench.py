"""Bench: the new panel drawn, circuits moved by drag and by keyboard, the balance of the legs."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QPushButton, QScrollArea, QVBoxLayout, QWidget

from robust_ledger.branch.model import Branch, Origin
from robust_ledger.desk.fields import (
    ChoiceField,
    Form,
    TextField,
    TickField,
    amps_text,
    of,
    read_amps,
    read_count,
    read_spaces,
    spaces_text,
)
from robust_ledger.desk.stages.bench_view import BenchView
from robust_ledger.desk.stages.leg_beam import LegBeam
from robust_ledger.desk.stages.stage import Stage, label
from robust_ledger.desk.store import JobStore
from robust_ledger.desk.theme import LOOK
from robust_ledger.job.edits import place
from robust_ledger.plan import Plan


class WaitingList(QListWidget):
    """Circuits without a space. Enter takes one in hand; it can be dragged onto the panel too."""

    def __init__(self, view: BenchView) -> None:
        super().__init__()
        self.view = view
        self.setAccessibleName("Circuits waiting for a space")
        self.setWordWrap(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.itemActivated.connect(self._take)

    def _take(self, item: QListWidgetItem) -> None:
        self.view.setFocus()
        self.view.pick(item.data(Qt.ItemDataRole.UserRole))

    def _point(self, event) -> QPointF:
        point: QPointF = self.view.mapFromGlobal(event.globalPosition())
        return point

    def mouseMoveEvent(self, event):
        item = self.currentItem()
        if item is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self.view.drag_from_tray(item.data(Qt.ItemDataRole.UserRole), self._point(event))

    def mouseReleaseEvent(self, event):
        if self.view.in_hand:
            self.view.drop_from_tray(self._point(event))
        super().mouseReleaseEvent(event)


class BenchStage(Stage):
    """The drawing, with the panel's facts, what waits, and the beam beside it."""

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.view = BenchView(store)
        self.view.chosen.connect(lambda key: store.choose_place(f"branch:{key}"))
        self.view.said.connect(self._say)
        self.frame = QScrollArea()
        self.frame.setWidgetResizable(True)
        self.frame.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.frame.setWidget(self.view)
        self.beam = LegBeam()
        self.beam.clicked.connect(lambda: store.choose_entry("panel.leg_a"))
        self.waiting = WaitingList(self.view)
        self.facts = self._build_facts(store)
        self.afresh = QPushButton("Deal afresh")
        self.afresh.setToolTip("Give up fixed places and deal all circuits out again (F9)")
        self.afresh.setShortcut("F9")
        self.afresh.clicked.connect(lambda: store.edit("deal the circuits afresh", lambda job: place(job, {})))
        self.fixed = label("", "faint")
        self.fixed.setWordWrap(True)
        self.saying = label("", "live")
        self.saying.setMinimumHeight(20)
        self._lay_out()

    def _build_facts(self, store: JobStore) -> Form:
        form = Form()
        form.add(
            "panel:spaces",
            TextField(
                store,
                "Spaces",
                *of("panel", "spaces"),
                read_count(2, 84),
            ),
            0,
        )
        form.add(
            "panel:tandem_spaces",
            TextField(
                store,
                "Tandems in",
                *of("panel", "tandem_spaces"),
                read_spaces,
                spaces_text,
                "none",
            ),
            1,
        )
        form.add(
            "panel:bus_a",
            TextField(
                store,
                "Bus, A",
                *of("panel", "bus_a"),
                _read_bus,
                amps_text,
            ),
            2,
        )
        form.add(
            "panel:main",
            ChoiceField(
                store,
                "Main",
                *of("panel", "main"),
                [("breaker", "breaker"), ("lugs", "lugs only")],
            ),
            3,
        )
        form.add(
            "panel:first_disconnect",
            TickField(
                store,
                "First disconnect",
                *of("panel", "first_disconnect"),
                "first disconnect",
            ),
            4,
        )
        return form

    def _lay_out(self) -> None:
        side = QVBoxLayout()
        side.setSpacing(7)
        side.addWidget(label("The panel", "section"))
        side.addWidget(self.facts)
        side.addSpacing(8)
        side.addWidget(label("Legs, calculated A", "section"))
        side.addWidget(self.beam)
        side.addWidget(label("Waiting", "section"))
        side.addWidget(self.waiting, 1)
        side.addWidget(self.fixed)
        side.addWidget(self.afresh)
        self.side = QWidget()
        self.side.setLayout(side)
        side.setContentsMargins(0, 0, 0, 0)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(18, 12, 14, 8)
        outer.setSpacing(6)
        top = QHBoxLayout()
        self.heading = label("", "heading")
        top.addWidget(self.heading)
        top.addStretch(1)
        top.addWidget(label("drag, or arrows and Enter", "faint"))
        outer.addLayout(top)
        columns = QHBoxLayout()
        columns.setSpacing(16)
        columns.addWidget(self.side)
        columns.addWidget(self.frame, 1)
        outer.addLayout(columns, 1)
        outer.addWidget(self.saying)

    def start(self) -> None:
        self.view.setFocus(Qt.FocusReason.OtherFocusReason)

    def apply_look(self) -> None:
        self.side.setFixedWidth(LOOK.px(160))
        self.view.updateGeometry()

    def show_plan(self, plan: Plan) -> None:
        self.heading.setText(f"Bench: new panel, {plan.job.panel.spaces} spaces")
        self.facts.refresh()
        self.beam.show_plan(plan)
        self.waiting.clear()
        for key in plan.placement.waiting:
            branch = plan.branch(key)
            if branch is not None:
                item = QListWidgetItem(_waiting_text(branch))
                item.setData(Qt.ItemDataRole.UserRole, key)
                self.waiting.addItem(item)
        if not plan.placement.waiting:
            nothing = QListWidgetItem("none" if plan.placement.positions else "call out circuits in Pull-off first")
            nothing.setFlags(Qt.ItemFlag.NoItemFlags)
            self.waiting.addItem(nothing)
        fixed = len(plan.job.decisions.placements)
        self.fixed.setText(f"{fixed} circuits fixed where they are" if fixed else "dealt out by the plan")
        self.afresh.setEnabled(bool(fixed))
        self.view.show_plan()

    def go_to(self, place: str) -> bool:
        kind, _, rest = place.partition(":")
        if kind == "branch":
            self.view.go_to(rest)
            self.view.setFocus()
            return True
        return self.facts.focus_place(place)

    def _say(self, text: str) -> None:
        self.saying.setText(text)


def _waiting_text(branch: Branch) -> str:
    if branch.origin is Origin.FUTURE:
        return f"later: {branch.feeds} {branch.rating_text}"
    return f"{branch.tag}  {branch.directory_text} {branch.rating_text}"


def _read_bus(text: str) -> float:
    value = read_amps(text)
    if value is None:
        raise ValueError("The bus rating stands on the panel's label.")
    return value
