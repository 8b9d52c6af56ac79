"""The dark hours put in order by the learner: which tasks are done in the dark, one after the other."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QListWidget, QListWidgetItem, QPushButton

from robust_ledger.changeover.tasks import Task
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.words import label
from robust_ledger.job.edits import with_part
from robust_ledger.plan import Plan
from robust_ledger.practice.codes import PracticeError
from robust_ledger.practice.day_order import pool
from robust_ledger.practice.exercise import HOUSE_LEVEL, truth_of
from robust_ledger.practice.hand_in import panel_for

ALT = Qt.KeyboardModifier.AltModifier


class _Tasks(QListWidget):
    """Tasks; Enter does with the current one what the page does with it."""

    def __init__(self, page: OrderPage, name: str) -> None:
        super().__init__()
        self.page = page
        self.setAccessibleName(name)
        self.setWordWrap(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.itemDoubleClicked.connect(page.moved_over)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Delete):
            self.page.moved_over()
            return
        if event is not None and event.modifiers() & ALT and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.page.shift(-1 if event.key() == Qt.Key.Key_Up else 1)
            return
        super().keyPressEvent(event)


class OrderPage(Page):
    """At the left every task of the day, mixed up; at the right those of the dark, in order."""

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.tasks: Sequence[Task] = ()
        self.words = label("", "faint")
        self.words.setWordWrap(True)
        self.left, self.right = _Tasks(self, "Tasks of the day"), _Tasks(self, "In the dark, in this order")
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.addWidget(self.words, 0, 0, 1, 2)
        grid.addWidget(label("Tasks of the day", "section"), 1, 0)
        grid.addWidget(label("In the dark, in this order", "section"), 1, 1)
        grid.addWidget(self.left, 2, 0)
        grid.addWidget(self.right, 2, 1)
        row = QHBoxLayout()
        for words, do in (
            ("Into the dar&k", self.put_in),
            ("&Out of the dark", self.take_out),
            ("Ea&rlier", lambda: self.shift(-1)),
            ("&Later", lambda: self.shift(1)),
        ):
            button = QPushButton(words)
            button.clicked.connect(lambda _checked, do=do: do())
            row.addWidget(button)
        row.addStretch(1)
        grid.addLayout(row, 3, 0, 1, 2)

    def start(self) -> None:
        self.left.setFocus()

    def show_plan(self, plan: Plan) -> None:
        try:
            made = panel_for(plan.job)
        except PracticeError:
            return
        is_house = made.code.level >= HOUSE_LEVEL
        self.words.setText(
            "With one person: which tasks are done while the power is off, and in which order? What can be done before or after makes the dark "
            "longer. Enter puts a task in or takes it out, Alt with an arrow moves it."
            if is_house
            else "The dark hours belong to levels 4 and 5."
        )
        self.tasks = pool(truth_of(made.code), made.code) if is_house else ()
        order = plan.job.practice.order
        by_id = {task.id: task for task in self.tasks}
        _fill(self.left, [one for one in self.tasks if one.id not in order])
        _fill(self.right, [by_id[key] for key in order if key in by_id])
        self.setEnabled(plan.job.practice.veiled and is_house)

    def moved_over(self) -> None:
        """Enter: from the list in which the cursor is into the other."""
        self.take_out() if self.right.hasFocus() else self.put_in()

    def put_in(self) -> None:
        item = self.left.currentItem()
        if item is not None:
            key = item.data(Qt.ItemDataRole.UserRole)
            self._order((*self.store.job.practice.order, key))

    def take_out(self) -> None:
        item = self.right.currentItem()
        if item is not None:
            gone = item.data(Qt.ItemDataRole.UserRole)
            self._order(tuple(key for key in self.store.job.practice.order if key != gone))

    def shift(self, step: int) -> None:
        """The current task earlier or later."""
        order, at = list(self.store.job.practice.order), self.right.currentRow()
        if 0 <= at < len(order) and 0 <= at + step < len(order):
            order.insert(at + step, order.pop(at))
            self._order(tuple(order))
            self.right.setCurrentRow(at + step)

    def _order(self, order: tuple[str, ...]) -> None:
        self.store.edit("put the dark hours in order", lambda job: with_part(job, "practice", order=order))


def _fill(shown: QListWidget, tasks: Sequence[Task]) -> None:
    """Tasks into a list, the cursor where it was."""
    row = shown.currentRow()
    shown.clear()
    for task in tasks:
        item = QListWidgetItem(f"{task.words}, {task.usual_min} min")
        item.setData(Qt.ItemDataRole.UserRole, task.id)
        shown.addItem(item)
    shown.setCurrentRow(max(0, min(row, shown.count() - 1)))
