"""The drawing of the new panel with what belongs beside it: Arrange and its choices, the beam of the legs, what waits, the wires."""

from __future__ import annotations

from collections import Counter
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import label, plain_tip
from robust_ledger.desk.kit.worker import ProgressRow, Worker
from robust_ledger.desk.stages.bench.arranging import Choice, all_panels, one_panel, what_would_save
from robust_ledger.desk.stages.bench.chooser import CarryingPage
from robust_ledger.desk.stages.bench.leg_beam import LegBeam
from robust_ledger.desk.stages.bench.view import BenchView
from robust_ledger.desk.stages.bench.waiting import WaitingList, waiting_text
from robust_ledger.desk.stages.bench.wires import WireLegend
from robust_ledger.job.doors import hand_out_text
from robust_ledger.job.edits import place, place_in
from robust_ledger.job.job import Job
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import reason_of
from robust_ledger.panel.arrange import Answer, ArrangeError
from robust_ledger.panel.reach import UNKNOWN
from robust_ledger.plan import Plan

if TYPE_CHECKING:
    from robust_ledger.panel.request import Advice

SIDE = 174


class DrawingPage(CarryingPage):
    """The drawing and what is done with it."""

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.choices: list[Choice] = []
        self.arranged_for: Job | None = None
        self.view = BenchView(store)
        self.view.chosen.connect(self._chosen)
        self.view.said.connect(self._say)
        self.view.zoomed.connect(self._fit)
        self.view.dropped_outside.connect(self._dropped)
        self.frame = QScrollArea()
        self.frame.setWidgetResizable(True)
        self.frame.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.frame.setWidget(self.view)
        self.progress = ProgressRow()
        self.arrange = QPushButton("Arrange (F9)")
        self.arrange.setToolTip("The layout with the fewest splices, proven; then balance, wishes and least movement")
        self.arrange.clicked.connect(self.start_arranging)
        self.arrange_all = QPushButton("All")
        self.arrange_all.setToolTip(
            "All panels together (Shift+F9): circuits marked for either go where fewest splices are needed"
        )
        self.arrange_all.clicked.connect(self.start_arranging_all)
        both = QShortcut(QKeySequence("Shift+F9"), self)
        both.setContext(Qt.ShortcutContext.WindowShortcut)
        both.activated.connect(self.start_arranging_all)
        key = QShortcut(QKeySequence("F9"), self)
        key.setContext(Qt.ShortcutContext.WindowShortcut)
        key.activated.connect(self.start_arranging)
        self.list = QListWidget()
        self.list.setAccessibleName("Arrangements to choose from")
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentRowChanged.connect(self._preview)
        self.list.itemActivated.connect(lambda _item: self._take())
        self.take = QPushButton("Take it")
        self.take.clicked.connect(self._take)
        self.advice = label("", "faint")
        self.advice.setWordWrap(True)
        self.beam = LegBeam()
        self.arrange_all.setAccessibleName("Arrange all panels")
        self.loose = QPushButton()
        self.loose.setProperty("role", "quiet")
        self.loose.clicked.connect(lambda: store.choose_entry("panel.legs_loose"))
        self.beam.clicked.connect(lambda: store.choose_entries(tuple(leg.id for leg in store.seen.bench.legs)))
        self.legend = WireLegend()
        self.waiting = WaitingList(self.view)
        self.afresh = QPushButton("Re-deal")
        self.afresh.setToolTip("Give up fixed places and deal all circuits out again; pins stay")
        self.afresh.clicked.connect(self._deal_afresh)
        self.svg = QPushButton("SVG…")
        self.svg.setToolTip("Write the drawing as it is shown")
        self.svg.clicked.connect(self._ask_svg)
        self.fixed = label("", "faint")
        self.fixed.setWordWrap(True)
        self.saying = label("", "live")
        self.saying.setWordWrap(True)
        self.saying.setMinimumHeight(34)
        self.saying.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._lay_out()

    def _lay_out(self) -> None:
        side = QVBoxLayout()
        side.setSpacing(4)
        side.setContentsMargins(0, 0, 0, 0)
        both = QHBoxLayout()
        both.setSpacing(5)
        both.addWidget(self.arrange, 1)
        both.addWidget(self.arrange_all)
        side.addLayout(both)
        for widget in (self.list, self.take, self.advice):
            side.addWidget(widget)
        self.legs_head, self.wires_head = label("Legs, calculated A", "section"), label("Wires", "section")
        side.addWidget(self.legs_head)
        side.addWidget(self.beam)
        side.addWidget(self.loose)
        side.addWidget(self.wires_head)
        side.addWidget(self.legend)
        self.waiting_head = label("Waiting", "section")
        side.addWidget(self.waiting_head)
        side.addWidget(self.waiting, 1)
        side.addStretch(0)
        side.addWidget(self.fixed)
        row = QHBoxLayout()
        row.addWidget(self.afresh, 1)
        row.addWidget(self.svg)
        side.addLayout(row)
        self.side = QWidget()
        self.side.setLayout(side)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(2)
        outer.addWidget(self.progress)
        columns = QHBoxLayout()
        columns.setSpacing(14)
        columns.addWidget(self.side)
        columns.addWidget(self.frame, 1)
        outer.addLayout(columns, 1)
        outer.addWidget(self.saying)

    def carry_to(self, panel_id: str) -> bool:
        if not self.view.in_hand:
            return False
        self.view.carry_to(panel_id)
        return True

    def _dropped(self, point: QPoint) -> None:
        """A circuit let go outside the drawing: on another panel's button it goes there."""
        if panel_id := self.panel_under(point):
            self.view.carry_to(panel_id)

    def start(self) -> None:
        self.view.setFocus(Qt.FocusReason.OtherFocusReason)

    def stop(self) -> None:
        self.progress.cancel(wait=True)

    def apply_look(self) -> None:
        self.side.setFixedWidth(LOOK.px(SIDE))
        for widget in (self.legs_head, self.beam, self.wires_head, self.legend):  # the bottom line has the legs too
            widget.setVisible(not LOOK.large)
        self.view.updateGeometry()

    def _fit(self) -> None:
        there(self.frame.widget()).updateGeometry()

    # --- showing --------------------------------------------------------------------------------------------------
    def show_plan(self, plan: Plan) -> None:
        if self.choices and plan.job is not self.arranged_for:
            self._forget()
        self._show(self.view.shown_plan)
        self.waiting.clear()
        for key in plan.bench.placement.waiting:
            branch = plan.branch(key)
            if branch is not None:
                item = QListWidgetItem(waiting_text(branch))
                item.setData(Qt.ItemDataRole.UserRole, key)
                self.waiting.addItem(item)
        if not plan.bench.placement.waiting:
            nothing = QListWidgetItem(
                "none" if plan.bench.placement.positions else "call out circuits in Pull-off first"
            )
            nothing.setFlags(Qt.ItemFlag.NoItemFlags)
            self.waiting.addItem(nothing)
        fixed, pins = len(plan.job.decisions.placements), len(plan.job.decisions.pins)
        words = f"{fixed} circuits fixed where they are" if fixed else "dealt out by the plan"
        self.fixed.setText(words + (f", {pins} pinned" if pins else ""))
        self.afresh.setEnabled(bool(fixed))
        self.arrange.setEnabled(bool(plan.bench.placement.positions or plan.bench.placement.waiting))
        several = [bench for bench in plan.benches.values() if bench.job.panel.spaces]
        self.arrange_all.setVisible(len(several) > 1)
        self._show_choices()
        self.view.show_plan()
        if not self.saying.text():
            self._say("")

    def _show(self, shown: Plan) -> None:
        self.beam.show_plan(shown)
        loose = shown.bench.loose
        self.loose.setVisible(loose is not None and not LOOK.large and not self.choices)
        if loose is not None:
            self.loose.setText(f"{loose.text()} not on any circuit")
        self.legend.show_counts(Counter(reach.verdict for reach in shown.bench.reach.values()))

    def _show_choices(self) -> None:
        there = bool(self.choices)
        self.list.setVisible(there)
        self.take.setVisible(there)
        self.fixed.setVisible(not there)  # the list says what is fixed
        self.saying.setMinimumHeight(17 if there else 34)
        self.loose.setVisible(not there and self.loose.isVisibleTo(self))
        idle = there and not self.store.seen.bench.placement.waiting
        for widget in (self.waiting_head, self.waiting):
            widget.setVisible(not idle)
        self.advice.setVisible(bool(self.advice.text()))

    def _say(self, text: str, fault: bool = False) -> None:
        self.saying.setProperty("role", "fault" if fault else "live")
        there(self.saying.style()).polish(self.saying)
        self.saying.setText(text or "Drag, or arrows and Enter carry a circuit; P pins it; + and − zoom; F9 arranges.")

    def go_to(self, place_: Place) -> bool:
        kind, rest = place_.kind, place_.name
        if kind == "branch":
            self.view.go_to(rest)
            self.view.setFocus()
            return True
        return False

    def _chosen(self, key: str) -> None:
        """The margin tells of the job as it is; of a preview the line below does."""
        if self.view.preview is None:
            self.store.choose_place(Place.branch(key))
        else:
            self._say(f"In the preview. {self.view.accessibleDescription()}")

    # --- arranging ------------------------------------------------------------------------------------------------
    def start_arranging(self) -> None:
        """Work the best layouts out beside the window."""
        if not self.arrange.isEnabled():
            self._say("Nothing to arrange yet: call out circuits in Pull-off first.")
            return
        self._forget()
        of, whole = self.store.seen, self.store.job

        self.progress.run(
            "Arranging",
            Worker(lambda progress: one_panel(of, whole, progress), (ArrangeError,)),
            lambda made: self._arranged(of, *made),
            self._say,
        )

    def start_arranging_all(self) -> None:
        """The same for all panels together."""
        if not self.arrange_all.isVisible():
            return
        self._forget()
        of, whole = self.store.seen, self.store.plan

        self.progress.run(
            "Arranging all panels",
            Worker(lambda progress: all_panels(of, whole, progress), (ArrangeError,)),
            lambda made: self._arranged(of, *made),
            self._say,
        )

    def _arranged(self, of: Plan, answer: Answer, plans: list[Plan]) -> None:
        if of.job is not self.store.seen.job:
            self._say("The job has changed meanwhile; arrange again.")
            return
        if not answer.options:
            self._say(f"No arrangement: {'; '.join(answer.conflict)}.", fault=True)
            return
        self.arranged_for = of.job
        together = bool(answer.options[0].panels)
        made = [Choice(o, p, together) for o, p in zip(answer.options, plans, strict=True)]
        self.choices = [Choice(None, of, together), *made]
        self.list.blockSignals(True)
        self.list.clear()
        for choice in self.choices:
            self.list.addItem(QListWidgetItem(choice.words))
        self.list.blockSignals(False)
        self._show_choices()
        self.list.setFixedHeight(self.list.sizeHintForRow(0) * len(self.choices) + LOOK.px(6))
        self.list.setCurrentRow(1)
        self.list.setFocus(Qt.FocusReason.OtherFocusReason)
        best = answer.options[0]
        proof = "proven best" if best.proven else f"best found, not proven (gap {best.gap:.1f})"
        unknown = sum(1 for reach in plans[0].bench.reach.values() if reach.verdict == UNKNOWN)
        not_judged = f" {unknown} wires of unknown length are not judged." if unknown else ""
        self._say(
            f"{len(answer.options)} arrangements in {answer.seconds:.1f} s, {proof}. Enter takes one, ↑ shows the layout as it is.{not_judged}"
        )
        if best.splices and not best.panels:
            self._advise(of, answer)

    def _advise(self, of: Plan, answer: Answer) -> None:
        """Why each splice is left and what would save it, worked out after the answer is shown."""
        self.progress.run(
            "What would save splices",
            Worker(lambda progress: what_would_save(of, answer, progress), (ArrangeError,)),
            self._advised,
            lambda _words: None,
        )

    def _advised(self, advice: Advice) -> None:
        words = "\n".join(advice.lines)
        self.advice.setText("\n".join(advice.ways[:2]) or "No single change saves a splice.")
        self.advice.setToolTip(plain_tip(words))
        self.advice.setAccessibleDescription(words)
        self._show_choices()

    def _preview(self, row: int) -> None:
        if not 0 <= row < len(self.choices):
            return
        choice = self.choices[row]
        self.view.preview = choice.plan if choice.option is not None else None
        self.take.setEnabled(choice.option is not None)
        self._show(choice.plan)
        if choice.option is not None:
            moved = choice.option.moved_from(self.choices[0].plan.bench.placement.positions)
            left = f" No space is left to reserve for {', '.join(choice.option.left)}." if choice.option.left else ""
            order = f"{choice.option.order:.0f} rows from the old order"
            self._say(
                f"Preview: {moved} circuits move, {order}. Enter takes it, ↑ compares with the layout as it is.{left}"
            )
        self.view.show_plan()

    def _take(self) -> None:
        row = self.list.currentRow()
        choice = self.choices[row] if 0 <= row < len(self.choices) else None
        if choice is None or choice.option is None:
            return
        option = choice.option
        self.view.preview = None
        self.choices = []
        panel_id = self.store.panel_id
        if option.panels:
            self.store.edit(f"arrange all: {option.name}", lambda job: place_in(job, option.placements, option.panels))
        else:
            self.store.edit(f"arrange: {option.name}", lambda job: place(job, option.placements, panel_id))
        self._say(f"Taken: {option.name}. Ctrl+Z puts the old layout back.")
        self.view.setFocus(Qt.FocusReason.OtherFocusReason)

    def _forget(self) -> None:
        self.choices, self.arranged_for, self.view.preview = [], None, None
        self.advice.setText("")
        self._show_choices()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape leaves the preview and the choices."""
        if event is None:
            return
        if event.key() == Qt.Key.Key_Escape and self.choices:
            self._forget()
            self.show_plan(self.store.seen)
            self._say("Left as it is.")
            self.view.setFocus(Qt.FocusReason.OtherFocusReason)
            return
        super().keyPressEvent(event)

    def _deal_afresh(self) -> None:
        def afresh(job: Job) -> Job:
            mine = self.store.seen.job.decisions
            return place(job, {key: mine.placements[key] for key in mine.pins if key in mine.placements}, panel_id)

        panel_id = self.store.panel_id

        self.store.edit("deal the circuits afresh", afresh)

    # --- export ---------------------------------------------------------------------------------------------------
    def _ask_svg(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Write the drawing", str(Path.home() / "bench.svg"), "SVG (*.svg)")
        if name:
            self.write_svg(Path(name))

    def write_svg(self, path: Path) -> None:
        """Write what is shown as SVG; one sentence when that cannot be done."""
        from robust_ledger.drawing.svg import svg_text
        from robust_ledger.panel.bench_drawing import bench_scene

        try:
            hand_out_text(path, svg_text(bench_scene(self.view.shown_plan.picture, 640, 660)))
        except OSError as problem:
            self.store.notice(f"{path.name} could not be written: {reason_of(problem)}.", serious=True)
        else:
            self.store.notice(f"Written: {path.name}.")
