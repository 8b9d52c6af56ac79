"""Load: what is in the house, the tape, and both methods side by side."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QSize, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QHBoxLayout,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from robust_ledger.desk.fields import ChoiceField, Form, TextField, of, read_count
from robust_ledger.desk.paint import LEFT, RIGHT, box
from robust_ledger.desk.stages.load_form import KIND_WORDS, WHEN_WORDS, LoadForm
from robust_ledger.desk.stages.stage import Stage, label
from robust_ledger.desk.stages.tape_view import TapeView
from robust_ledger.desk.table import Column, LedgerTable, Row
from robust_ledger.desk.theme import LOOK
from robust_ledger.job.edits import add_load, new_load_id, remove_loads, with_part
from robust_ledger.job.models import Job, Load, Nameplate, When
from robust_ledger.job.quantity import read_area
from robust_ledger.ledger.text import number_text
from robust_ledger.load.tape import Calculation
from robust_ledger.plan import Plan


class MethodCard(QAbstractButton):
    """One method: its amperes, and whether the job uses it. A click uses it."""

    def __init__(self, method: str) -> None:
        super().__init__()
        self.method = method
        self.title, self.figure, self.detail = "", "?", ""
        self.setCheckable(True)

    def show_calculation(self, calculation: Calculation, used: bool) -> None:
        self.title = f"{calculation.title}  {calculation.cite}"
        self.figure, self.detail = calculation.amperes.text(), calculation.total.text()
        self.setChecked(used)
        state = "used for this job" if used else "for comparison"
        self.setAccessibleName(f"{calculation.title}: {self.figure}, {state}")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(LOOK.px(250), LOOK.px(58))

    def paintEvent(self, event):
        painter, px = QPainter(self), LOOK.px
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        edge = LOOK.color("accent" if self.isChecked() or self.hasFocus() else "rule")
        fill = LOOK.color("wash") if self.isChecked() else None
        box(painter, self.rect().toRectF().adjusted(1, 1, -1, -1), edge, fill, width=2.5 if self.hasFocus() else 1.5)
        inner = self.rect().adjusted(px(12), px(5), -px(12), -px(5))
        painter.setFont(LOOK.font(12, bold=self.isChecked()))
        painter.setPen(LOOK.color("ink"))
        painter.drawText(QRect(inner.left(), inner.top(), inner.width(), px(20)), LEFT, self.title)
        painter.setFont(LOOK.font(12))
        painter.setPen(LOOK.color("accent" if self.isChecked() else "faint"))
        words = "used for this job" if self.isChecked() else "for comparison"
        painter.drawText(
            QRect(inner.left(), inner.top() + px(24), inner.width(), px(22)), LEFT, f"{self.detail}, {words}"
        )
        painter.setFont(LOOK.font(22, bold=True))
        painter.setPen(LOOK.color("ink"))
        painter.drawText(inner, RIGHT, self.figure)


class LoadStage(Stage):
    """Two pages under the method cards: the house (Alt+O) and the tape (Alt+T), the other method's for comparison (Alt+M)."""

    def __init__(self, store):
        super().__init__(store)
        self.cards = {name: MethodCard(name) for name in ("optional", "standard")}
        self.other = False
        for name, card in self.cards.items():
            card.clicked.connect(lambda _checked, name=name: self._use(name))
        self.pages = QStackedWidget()
        self.pages.addWidget(self._build_house())
        self.pages.addWidget(self._build_tape())
        self.tabs = QButtonGroup(self)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(18, 12, 14, 10)
        outer.setSpacing(8)
        top = QHBoxLayout()
        top.addWidget(label("Load: what the service has to carry", "heading"))
        top.addStretch(1)
        for number, words in enumerate(("The h&ouse", "The &tape", "The other &method")):
            button = QPushButton(words)
            button.setCheckable(True)
            button.setChecked(number == 0)
            button.clicked.connect(lambda _checked, number=number: self.show_page(number))
            self.tabs.addButton(button, number)
            top.addWidget(button)
        outer.addLayout(top)
        cards = QHBoxLayout()
        for card in self.cards.values():
            cards.addWidget(card, 1)
        outer.addLayout(cards)
        outer.addWidget(self.pages, 1)

    def _build_house(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 4, 0, 0)
        column.setSpacing(8)
        self.dwelling = self._build_dwelling()
        column.addWidget(self.dwelling)
        self.table = LedgerTable(
            "Loads in the house",
            [
                Column("Load", 0),
                Column("Room", 84),
                Column("Kind", 148),
                Column("Nameplate", 128, True),
                Column("VA", 66, True),
                Column("Circuit", 62),
                Column("When", 98),
            ],
            row_height=23,
            multiple=True,
        )
        self.table.when_empty = (
            "Nothing in the house yet. Enter the floor area above,\nthen add what has a nameplate (Alt+A)."
        )
        self.table.chosen.connect(self._row_chosen)
        self.table.opened.connect(lambda _key: self.form.focus_place("nameplate"))
        self.table.removal_asked.connect(self._remove)
        column.addWidget(self.table, 1)
        row = QHBoxLayout()
        self.form_title = label("", "section")
        self.add_button = QPushButton("&Add a load")
        self.add_button.clicked.connect(self._add)
        row.addWidget(self.form_title)
        row.addStretch(1)
        row.addWidget(label("Enter edits the rating, Delete takes a load out", "faint"))
        row.addWidget(self.add_button)
        column.addLayout(row)
        self.form = LoadForm(self.store)
        column.addWidget(self.form)
        return page

    def _build_dwelling(self) -> Form:
        form, store = Form(), self.store
        form.add(
            "dwelling:area",
            TextField(
                store,
                "Floor area",
                lambda j: (j.dwelling.area, j.dwelling.area_unit) if j.dwelling.area is not None else None,
                _put_area,
                self._read_area,
                _area_text,
                "1,720 ft2 or 160 m2",
            ),
            0,
            0,
            130,
        )
        form.add(
            "dwelling:small_appliance",
            TextField(
                store,
                "Small appl. circuits",
                *of("dwelling", "small_appliance_circuits"),
                read_count(2, 10),
            ),
            0,
            1,
            44,
        )
        form.add(
            "dwelling:laundry",
            TextField(
                store,
                "Laundry circuits",
                *of("dwelling", "laundry_circuits"),
                read_count(1, 6),
            ),
            0,
            2,
            44,
        )
        form.add(
            "decisions:ev_in_optional",
            ChoiceField(
                store,
                "Charging",
                *of("decisions", "ev_in_optional"),
                [("general", "in block"), ("added", "at 100 %")],
            ),
            0,
            3,
        )
        form.grid.setColumnStretch(8, 1)
        return form

    def _build_tape(self) -> QWidget:
        self.tape = TapeView("Tape of the calculation")
        self.tape.chosen.connect(self._tape_chosen)
        return self.tape

    def start(self) -> None:
        """Without a floor area nothing can be worked out: the cursor waits there."""
        if self.pages.currentIndex() == 0 and self.store.job.dwelling.area is None:
            self.dwelling.focus_place("dwelling:area")
            return
        (self.table if self.pages.currentIndex() == 0 else self.tape).setFocus(Qt.FocusReason.OtherFocusReason)

    def show_page(self, number: int) -> None:
        self.tabs.button(number).setChecked(True)
        self.pages.setCurrentIndex(min(number, 1))
        self.other = number == 2
        self._show_tape(self.store.plan)
        self.start()

    def _show_tape(self, plan: Plan) -> None:
        """The chosen method's tape, or the other one's for comparison."""
        chosen = plan.job.decisions.load_method
        method = next(name for name in self.cards if (name != chosen) == self.other)
        self.tape.show_calculation(plan.calculations[method])

    def apply_look(self) -> None:
        self.table.resize_columns()
        self.tape.resize_columns()

    def show_plan(self, plan: Plan) -> None:
        self.dwelling.refresh()
        for name, card in self.cards.items():
            card.show_calculation(plan.calculations[name], plan.job.decisions.load_method == name)
        self._show_tape(plan)
        self.table.show_rows([_row(load, plan) for load in plan.job.loads])
        if plan.job.load(self.form.load_id) is None and plan.job.loads:
            self.form.show_load(plan.job.loads[0].id)
        self._show_form()

    def go_to(self, place: str) -> bool:
        kind, _, rest = place.partition(":")
        if kind == "load" and self.store.job.load(rest):
            self.show_page(0)
            self.table.choose(rest)
            self._row_chosen(rest)
            return True
        if place in self.dwelling.fields:
            self.show_page(0)
            return self.dwelling.focus_place(place)
        return False

    def _show_form(self) -> None:
        self.form.show_load(self.form.load_id)
        load = self.store.job.load(self.form.load_id)
        self.form_title.setText(load.name.capitalize() if load else "No load chosen")

    def _use(self, method: str) -> None:
        self.store.edit(f"use the {method} calculation", lambda job: with_part(job, "decisions", load_method=method))
        for name, card in self.cards.items():
            card.setChecked(name == self.store.job.decisions.load_method)
        self.store.choose_entry(f"load.{method}.amperes")

    def _row_chosen(self, load_id: str) -> None:
        self.form.show_load(load_id)
        self._show_form()
        self.store.choose_place(f"load:{load_id}")

    def _tape_chosen(self, entry_id: str) -> None:
        if not entry_id.startswith("group:"):
            self.store.choose_entry(entry_id)

    def _add(self) -> None:
        load_id = new_load_id(self.store.job, "new load")
        load = Load(id=load_id, name="new load", nameplate=Nameplate(volts=240), when=When.ADDED)
        self.store.edit("add a load", lambda job: add_load(job, load))
        self.table.choose(load_id)
        self._row_chosen(load_id)
        self.form.focus_place("name")

    def _remove(self, keys: list[str]) -> None:
        name = self.store.job.load(keys[0]).name if len(keys) == 1 else f"{len(keys)} loads"
        self.store.edit(f"take out {name}", lambda job: remove_loads(job, set(keys)))

    def _read_area(self, text: str):
        return read_area(text, self.store.job.dwelling.area_unit) if text.strip() else None


def _put_area(job: Job, value) -> Job:
    if value is None:
        return with_part(job, "dwelling", area=None)
    return with_part(job, "dwelling", area=value[0], area_unit=value[1])


def _area_text(value) -> str:
    return f"{number_text(value[0])} {'ft²' if value[1] == 'ft2' else 'm²'}"


def _row(load: Load, plan: Plan) -> Row:
    entry = plan.entries[f"load.nameplate.{load.id}"]
    plate = load.nameplate
    rating = f"{plate.amount:g} {plate.unit} {plate.volts:g} V" if plate.amount is not None else "not known"
    tags = [str(c.tag) for c in plan.job.circuits if load.id in c.load_ids]
    circuit = "tag " + ", ".join(tags) if tags else ("new" if load.when is not When.EXISTING else "none")
    va = number_text(entry.amount, 0) if entry.known else "?"
    mood = "faint" if load.when is When.LATER else ""
    cells = (load.name, load.room, KIND_WORDS[load.kind], rating, va, circuit, WHEN_WORDS[load.when])
    return Row(load.id, cells, mood, (3, 4) if not entry.known else ())
