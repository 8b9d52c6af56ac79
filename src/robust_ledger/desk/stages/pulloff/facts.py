"""The facts of the old panels, one in view, and how tags are numbered."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from robust_ledger.branch.old_panel import box_name
from robust_ledger.desk.kit.fields import Choice, Form, TextField
from robust_ledger.desk.kit.specs import Fields, ItemFields
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.job.edits import add_old_box, change_old_box, remove_old_box
from robust_ledger.job.job import Job
from robust_ledger.job.readers.lists import read_spaces, spaces_text
from robust_ledger.job.readers.numbers import read_split
from robust_ledger.ledger.place import Place

MOST_SPACES = 84
_OTHERS = ("name", "right_in", "lower_in", "elsewhere")


class OldPanelFacts(Form):
    """What the label of the old panel in view says; where there are several, which one that is."""

    looked_at = pyqtSignal(str)

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store, self.mark = store, ""
        self.grid.addWidget(self._boxes(), 0, 0, 1, 6)
        box = ItemFields(store, "old_boxes", self._of)

        def add(name: str, row: int, column: int, width: int = 0, **own: Any) -> None:
            self.add(f"old_panel:{name}", box(name, **own)[1], row, column, width)

        add("spaces", 1, 0, 52, most=MOST_SPACES)
        add("main_a", 1, 1, 60, label="Main found, A", hint="")
        add("tandem_spaces", 1, 2, 80, read=read_spaces, write=spaces_text)
        add("kind", 2, 0)
        f = Fields(store)
        self.add(*f("pull_off:tag_numbers"), 2, 1)
        self.add(*f("pull_off:first_tag"), 2, 2, 60)
        add("split_at", 3, 0, 60, read=read_split)
        add("name", 4, 0, 80)
        add("right_in", 4, 1, 60)
        add("lower_in", 4, 2, 60)
        add("elsewhere", 5, 0)
        self.grid.setColumnStretch(6, 1)

    def _boxes(self) -> QWidget:
        """The row that chooses the box."""
        self.row = QWidget()
        row = QHBoxLayout(self.row)
        row.setContentsMargins(0, 0, 0, 0)
        self.choice = Choice()
        self.choice.setAccessibleName("Old box")
        self.choice.activated.connect(lambda n: self.look_at(self.choice.itemData(n)))
        self.more, self.less = QPushButton("Another bo&x"), QPushButton("Take it out")
        self.more.clicked.connect(self._add)
        self.less.clicked.connect(self._remove)
        row.addWidget(self.choice, 1)
        row.addWidget(self.less)
        row.addWidget(self.more)
        return self.row

    def _of(self, name: str) -> tuple[Callable[[Job], Any], Callable[[Job, Any], Job]]:
        def get(job: Job) -> Any:
            return getattr(job.old_box(self.mark) or job.old_panel, name, None)

        return get, lambda job, value: change_old_box(job, self.mark, **{name: value})

    def look_at(self, mark: str) -> None:
        """Take another old panel into view."""
        for field in self.fields.values():
            if isinstance(field, TextField):
                field.give_up()
        self.mark = mark
        self.show_job(self.store.job)
        self.looked_at.emit(mark)

    def _add(self) -> None:
        if self.store.edit("another old box", add_old_box):
            self.look_at(self.store.job.old_boxes[-1].mark)
            super().focus_place("old_panel:spaces")

    def _remove(self) -> None:
        mark, self.mark = self.mark, ""
        self.store.edit("take an old box out", lambda job: remove_old_box(job, mark))
        self.look_at("")

    def focus_place(self, place: str) -> bool:
        """Also a field of another old box: it comes into view."""
        at = Place(place)
        if at.kind == "old_boxes":
            mark, _, field = at.name.partition(".")
            if self.store.job.old_box(mark) is not None:
                self.look_at(mark)
            return super().focus_place(f"old_panel:{field}")
        if at.kind == "old_panel" and place in self.fields and self.mark:
            self.look_at("")
        return super().focus_place(place)

    def show_job(self, job: Job) -> None:
        if job.old_box(self.mark) is None:
            self.mark = ""
        box = job.old_box(self.mark) or job.old_panel
        self.row.setVisible(job.scope.old_boxes == "several" or bool(job.old_boxes))
        names = [(mark, box_name(job, mark) if mark else "first old panel") for mark, _box in job.all_boxes]
        self.choice.blockSignals(True)
        self.choice.clear()
        for mark, name in names:
            self.choice.addItem(f"{name} ({mark}1, {mark}2 …)" if mark else name, mark)
        self.choice.setCurrentIndex([mark for mark, _name in names].index(self.mark))
        self.choice.blockSignals(False)
        self.less.setEnabled(bool(self.mark))
        self.refresh()
        self.show_row("old_panel:split_at", box.kind == "split_bus")
        self.show_row("pull_off:first_tag", job.pull_off.tag_numbers == "called")
        for name in _OTHERS:
            self.show_row(f"old_panel:{name}", bool(self.mark))
