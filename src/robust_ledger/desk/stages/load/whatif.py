"""What if: today, after this job and with each future, side by side; the futures are edited under their columns."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from robust_ledger.desk.kit.fields import Form, TextField, TickField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.words import Label, Links, label
from robust_ledger.desk.stages.load.whatif_view import WhatIfView
from robust_ledger.job.edits import add_future, change_future, new_future_id, remove_future
from robust_ledger.job.job import Job
from robust_ledger.job.parts.futures import Future
from robust_ledger.job.parts.house import When
from robust_ledger.job.readers.lists import circuits_text, read_circuits, read_future_name, tags_text
from robust_ledger.job.readers.numbers import read_added_area, read_count, read_more_circuits
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import is_whole, number_text
from robust_ledger.load.whatif import Column
from robust_ledger.plan import Plan
from robust_ledger.survey.chain import weakest


def _read_units(text: str) -> int | None:
    return read_count(0, 20)(text) if text.strip() else None


class WhatifPage(Page):
    """The columns on top, what to do about the chosen one, and the future it stands for."""

    form: Form

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.opened = store.opened
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 0)
        column.setSpacing(6)
        self.view = WhatIfView()
        self.view.column_chosen.connect(self._column_chosen)
        self.view.entry_chosen.connect(self._entry_chosen)
        column.addWidget(self.view, 5)
        self.answer = Links()
        self.answer.linkActivated.connect(self.store.choose_entry)
        column.addWidget(self.answer)
        head = QHBoxLayout()
        self.form_title = label("", "section")
        head.addWidget(self.form_title, 1)
        self.add_button = QPushButton("&Add a future")
        self.add_button.clicked.connect(self._add)
        self.remove_button = QPushButton("Take it o&ut")
        self.remove_button.clicked.connect(self._remove)
        head.addWidget(self.remove_button)
        head.addWidget(self.add_button)
        column.addLayout(head)
        self.editor = QWidget()
        self.editor.setLayout(self._build_form())
        column.addWidget(self.editor, 2)

    def _build_form(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(14)
        form = Form()
        self.form = form
        text = self._text
        form.add("name", text("Name", "name", read_future_name, str), 0, 0)
        form.add("circuits", text("Circuits", "circuits", read_circuits, circuits_text, "island 20, welder 50/2"), 1, 0)
        more = Form()
        more.add("area", text("Added area", "area", read_added_area, number_text), 0, 0, 70)
        kitchen = text("Small appl. circuits", "small_appliance_circuits", read_more_circuits, str)
        more.add("small_appliance_circuits", kitchen, 0, 1, 40)
        more.add("frees", text("Tags that go", "frees", self._read_tags, tags_text), 0, 2, 60)
        more.grid.setColumnStretch(6, 1)
        form.grid.addWidget(more, 4, 0, 1, 2)
        rest = Form()
        rest.add("units", text("Adds units", "units", _read_units, str, "0?"), 0, 0, 40)
        tick = TickField(
            self.store, "Reserve", self._get("reserve"), self._put("reserve"), "keep spaces free on the bench"
        )
        rest.add("reserve", tick, 0, 1)
        rest.grid.setColumnStretch(4, 1)
        form.grid.addWidget(rest, 6, 0, 1, 2)
        form.fields.update(more.fields | rest.fields)
        form.grid.setColumnStretch(1, 1)
        form.grid.setRowStretch(12, 1)
        grid.addWidget(form, 0, 0)
        self.changes = QListWidget()
        self.changes.setAccessibleName("What comes and goes with this future")
        self.changes.itemChanged.connect(self._ticked)
        self.changes.setMinimumHeight(96)
        self.changes.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)
        side = QVBoxLayout()
        words = Label('Comes (loads marked "later") and goes:')
        words.setProperty("role", "faint")
        side.addWidget(words)
        side.addWidget(self.changes, 1)
        grid.addLayout(side, 0, 1)
        grid.setColumnStretch(0, 1)
        grid.setColumnStretch(1, 1)
        return grid

    # --- showing --------------------------------------------------------------------------------------------------
    def start(self) -> None:
        self.view.setFocus(Qt.FocusReason.OtherFocusReason)
        self._entry_chosen(f"whatif.{self.view.current}.amperes")

    def go_to(self, place: Place) -> bool:
        kind, future_id = place.kind, place.name
        if kind != "future" or self.store.job.future(future_id) is None:
            return False
        self.view.choose(f"future.{future_id}")
        self.show_plan(self.store.plan)
        return True

    def show_plan(self, plan: Plan) -> None:
        if self.opened != self.store.opened:
            self.opened = self.store.opened
            self.view.choose("after")
        link = weakest(plan.walk.chain)
        self.view.show_columns(plan.what_if.columns, f"{link[1]} {link[0]:g} A" if link else "weakest link")
        self._show_chosen()

    def _show_chosen(self) -> None:
        column = next((c for c in self.view.columns if c.key == self.view.current), None)
        self.answer.say(_answer(column) if column else [])
        future = self._future(self.store.job)
        self.editor.setVisible(future is not None)
        self.remove_button.setEnabled(future is not None)
        if future:
            self.form_title.setText(f'The future "{future.name}"')
        elif self.view.current.startswith("future."):
            self.form_title.setText('A load marked "later", by itself. Add a future to combine it with others.')
        else:
            self.form_title.setText("Choose a future's column to edit it, or add one.")
        self.form.refresh()
        self._fill_changes(future)

    def _fill_changes(self, future: Future | None) -> None:
        """What can come and go. The list is made anew only when its lines differ: it must not be taken apart while it
        tells of a tick."""
        loads = [load for load in self.store.job.loads if load.when is not When.REMOVED] if future else []
        loads.sort(key=lambda load: load.when is not When.LATER)
        lines = [(load.id, f"{'comes' if load.when is When.LATER else 'goes'}: {load.name}") for load in loads]
        items = [self.changes.item(n) for n in range(self.changes.count())]
        self.changes.blockSignals(True)
        if lines != [(there(item).data(Qt.ItemDataRole.UserRole), there(item).text()) for item in items]:
            self.changes.clear()
            for load_id, text in lines:
                item = QListWidgetItem(text, self.changes)
                item.setFlags(
                    Qt.ItemFlag.ItemIsUserCheckable | Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
                )
                item.setData(Qt.ItemDataRole.UserRole, load_id)
        ticked = {*future.load_ids, *future.removes} if future else set()
        for number, (load_id, _text) in enumerate(lines):
            state = Qt.CheckState.Checked if load_id in ticked else Qt.CheckState.Unchecked
            there(self.changes.item(number)).setCheckState(state)
        self.changes.blockSignals(False)

    def _column_chosen(self, _key: str) -> None:
        for field in self.form.fields.values():
            if isinstance(field, TextField):
                field.give_up()
        self._show_chosen()

    def _entry_chosen(self, entry_id: str) -> None:
        column = next(c for c in self.view.columns if c.key == self.view.current)
        more = (column.load.id,) if entry_id == column.amperes.id else ()
        answers = tuple(answer.id for answer in column.answers) if entry_id == column.amperes.id else ()
        self.store.choose_entries((entry_id, *more, *answers))

    # --- editing --------------------------------------------------------------------------------------------------
    def _future(self, job: Job) -> Future | None:
        return job.future(self.view.current.removeprefix("future."))

    def _get(self, name: str) -> Callable[[Job], Any]:
        return lambda job: getattr(self._future(job), name, None)

    def _put(self, name: str) -> Callable[[Job, Any], Job]:
        def put(job: Job, value: Any) -> Job:
            future = self._future(job)
            return change_future(job, future.id, **{name: value}) if future else job

        return put

    def _text(
        self, words: str, name: str, read: Callable[[str], Any], write: Callable[[Any], str], hint: str = ""
    ) -> TextField:
        return TextField(self.store, words, self._get(name), self._put(name), read, write, hint)

    def _read_tags(self, words: str) -> tuple[int, ...]:
        """A reader for tags as "7, 9"."""
        tags = []
        for word in words.replace(",", " ").split():
            if not is_whole(word) or self.store.job.circuit(int(word)) is None:
                raise ValueError(f"There is no tag {word}.")
            tags.append(int(word))
        return tuple(dict.fromkeys(tags))

    def _ticked(self, item: QListWidgetItem) -> None:
        future = self._future(self.store.job)
        load = self.store.job.load(item.data(Qt.ItemDataRole.UserRole))
        if future is None or load is None:
            return
        name = "load_ids" if load.when is When.LATER else "removes"
        others = [load_id for load_id in getattr(future, name) if load_id != load.id]
        ids = (*others, load.id) if item.checkState() == Qt.CheckState.Checked else tuple(others)
        self.store.edit(f"change {future.name}", lambda job: change_future(job, future.id, **{name: ids}))

    def _add(self) -> None:
        job = self.store.job
        future_id = new_future_id(job, "new future")
        single = self.view.current.removeprefix("future.load.")
        load_ids = (single,) if self.view.current.startswith("future.load.") else ()
        future = Future(id=future_id, name="new future", load_ids=load_ids)
        self.view.current = f"future.{future_id}"
        self.store.edit("add a future", lambda job: add_future(job, future))
        self.form.focus_place("name")

    def _remove(self) -> None:
        future = self._future(self.store.job)
        if future:
            self.view.current = "after"
            self.store.edit(f"take out {future.name}", lambda job: remove_future(job, future.id))


def _answer(column: Column) -> list[tuple[str, str]]:
    """What can be done about a column, each with a way to its working."""
    if not column.amperes.known:
        return [(f"Not known: {column.load.why_unknown}.", "")]
    parts: list[tuple[str, str]] = []
    for answer in column.answers:
        tail = answer.label.partition(": ")[2]
        words = "Two panels" if answer.id.endswith(".split") else tail[:1].upper() + tail[1:]
        parts.append(("; " if parts else "If it comes to this: ", ""))
        parts.append((f"{words}: {answer.text() if answer.known else 'none'}", answer.id))
        if answer.known:
            held = next((f" for {s.text()}" for s in answer.steps if s.name == "held back"), "")
        else:
            held = f", {answer.why_unknown}"
        parts.append((held, ""))
    return [*parts, (".", "")] if parts else []
