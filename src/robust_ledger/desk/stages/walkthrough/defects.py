"""Inherited defects: the list with both practices side by side, one defect's fields and photos, and the caution list."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QVBoxLayout

from robust_ledger.desk.kit.fields import Choice, ChoiceField, Form, TextField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.photos import PhotoStrip
from robust_ledger.desk.kit.specs import Fields, form_of, lay_out
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import label
from robust_ledger.desk.stages.walkthrough.caution_list import CautionList
from robust_ledger.job.edits import add_defect, change_defect, new_defect_id, remove_defects
from robust_ledger.job.job import Job
from robust_ledger.job.parts.defects import Defect
from robust_ledger.job.readers.numbers import read_number
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import number_text, upper_first
from robust_ledger.plan import Plan
from robust_ledger.survey.defects import PART_WORDS, WHO_WORDS, Judged, catalogue

_SCOPE = ((None, "by the practice"), (True, "yes"), (False, "no"))
_STATES = (("open", "open"), ("planned", "planned"), ("done", "done"))


class DefectsPage(Page):
    """List above; below it the chosen defect and its photos."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.shown = ""
        self.table = LedgerTable(
            "Defects found",
            [
                Column("What", 0),
                Column("Where", 126),
                Column("Who", 112),
                Column("Min", 46, True),
                Column("Touch", 50),
                Column("Scope", 50),
                Column("This job", 58),
                Column("State", 66),
            ],
            row_height=24,
        )
        self.table.when_empty = "Nothing found yet. Choose from the catalogue, or add one of your own."
        self.table.chosen.connect(self._row_chosen)
        self.table.opened.connect(lambda _key: self.fields_of_one.focus_place("where"))
        self.table.removal_asked.connect(self._remove)
        self.fields_of_one = self._build_one()
        self.photos = PhotoStrip(store, "Photos of this defect", self._get("photos"), self._put("photos"))
        self.cautions = CautionList(store)
        self.words = label("", "live")
        self.words.setWordWrap(True)
        self._lay_out()

    def _lay_out(self) -> None:
        f = Fields(self.store)
        self.form = form_of([[f("decisions:defect_practice")]])
        self.picker = Choice()
        self.picker.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.picker.setMinimumContentsLength(20)
        self.picker.setAccessibleName("Catalogue of defects")
        self.picker.addItem("one of your own", "")
        for known in catalogue().values():
            self.picker.addItem(known.what, known.kind)
        self.add_button = QPushButton("Add defec&t")
        self.add_button.clicked.connect(self._add)
        top = QHBoxLayout()
        top.addWidget(self.form)
        top.addStretch(1)
        top.addWidget(self.picker)
        top.addWidget(self.add_button)
        one = QHBoxLayout()
        one.addWidget(self.fields_of_one, 1)
        one.addWidget(self.photos, alignment=Qt.AlignmentFlag.AlignTop)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(top)
        column.addWidget(self.table, 1)
        column.addWidget(self.words)
        self.one_title = label("", "section")
        column.addWidget(self.one_title)
        column.addLayout(one)
        column.addWidget(self.cautions)

    def _build_one(self) -> Form:
        def text(name: str, words: str, read: Any = str.strip, write: Any = str, hint: str = "") -> Any:
            return name, TextField(self.store, words, self._get(name), self._put(name), read, write, hint)

        def choice(name: str, words: str, choices: Any) -> Any:
            return name, ChoiceField(self.store, words, self._get(name), self._put(name), choices)

        def needed(words: str) -> str:
            if not words.strip():
                raise ValueError("A defect needs words.")
            return words.strip()

        return lay_out(
            Form(),
            [
                [text("what", "What", needed), text("where", "Where")],
                [text("fix", "Fix"), text("material", "Material")],
                [choice("part", "Sits on", list(PART_WORDS.items())), choice("who", "Who", list(WHO_WORDS.items()))],
                [
                    text("minutes", "Minutes", read_number(0, 10_000), number_text, "not known"),
                    choice("state", "State", _STATES),
                ],
                [choice("in_scope", "In scope", _SCOPE)],
            ],
            205,
        )

    def _get(self, name: str) -> Any:
        def get(job: Job) -> Any:
            defect = job.defect(self.shown)
            return getattr(defect, name) if defect else None

        return get

    def _put(self, name: str) -> Any:
        def put(job: Job, value: Any) -> Job:
            return change_defect(job, self.shown, **{name: value}) if job.defect(self.shown) else job

        return put

    def start(self) -> None:
        (self.table if self.store.job.defects else self.picker).setFocus(Qt.FocusReason.OtherFocusReason)
        self.store.choose_entries(("defects.ours", "defects.touch", "defects.scope"))

    def apply_look(self) -> None:
        super().apply_look()
        self.photos.setFixedWidth(LOOK.px(240))

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        self.table.show_rows([_row(defect) for defect in plan.walk.defects])
        if plan.job.defect(self.shown) is None:
            self.shown = plan.job.defects[0].id if plan.job.defects else ""
        self._show_one()
        minutes = plan.walk.defect_minutes
        self.words.setText(
            f"What you touch: {minutes.touch.text()}. Scope only: {minutes.scope.text()}. As decided, this job corrects {minutes.ours.text()}."
        )
        self.cautions.show_plan()

    def go_to(self, place: Place) -> bool:
        kind, rest = place.kind, place.name
        if kind == "defect" and self.store.job.defect(rest):
            self.table.setFocus(Qt.FocusReason.OtherFocusReason)
            self.table.choose(rest)
            self.shown = rest
            self._show_one()
            return True
        return self.cautions.go_to(place) or (self.form is not None and self.form.focus_place(place))

    def _row_chosen(self, key: str) -> None:
        if key != self.shown:
            for field in self.fields_of_one.fields.values():
                if isinstance(field, TextField):
                    field.give_up()
        self.shown = key
        self._show_one()
        self.store.choose_place(f"defect:{key}")

    def _show_one(self) -> None:
        defect = self.store.job.defect(self.shown)
        self.one_title.setText(upper_first(defect.what) if defect else "No defect chosen")
        self.fields_of_one.setEnabled(defect is not None)
        self.fields_of_one.refresh()
        self.photos.refresh()

    def _add(self) -> None:
        known = catalogue().get(self.picker.currentData())
        what = known.what if known else "defect"
        values: dict[str, Any] = {"id": new_defect_id(self.store.job, what), "what": what}
        if known:
            values.update(
                kind=known.kind, fix=known.fix, part=known.part, minutes=known.minutes, material=known.material
            )
        defect = Defect.read(values)
        self.store.edit(f"note {what}", lambda job: add_defect(job, defect))
        self.table.choose(defect.id)
        self._row_chosen(defect.id)
        self.fields_of_one.focus_place("where" if known else "what")

    def _remove(self, keys: list[str]) -> None:
        defect = self.store.job.defect(keys[0])
        if defect is not None:
            self.store.edit(f"take out {defect.what}", lambda job: remove_defects(job, set(keys)))


def _row(one: Judged) -> Row:
    defect = one.defect
    minutes = number_text(defect.minutes) if defect.minutes is not None else "?"
    yes = {True: "yes", False: "–"}
    cells = (
        defect.what,
        defect.where,
        one.by,
        minutes,
        yes[one.by_touch],
        yes[one.by_scope],
        yes[one.ours],
        defect.state,
    )
    mood = "faint" if defect.state == "done" or not one.ours else ""
    return Row(defect.id, cells, mood, (3,) if defect.minutes is None and one.ours else ())
