"""Local amendments: the jurisdiction's own figures and sections over those of the edition."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.codebook.local import AMENDABLE, Amendment, edition_figure, fault
from robust_ledger.desk.kit.fields import Form, TextField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.job.edits import amend
from robust_ledger.job.job import Job
from robust_ledger.job.parts.local import LocalRule
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import amount_text
from robust_ledger.plan import Plan


class LocalPage(Page):
    """Every figure that can be amended, with the edition's and the local one; Delete takes a local one out."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.key = next(iter(AMENDABLE))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 0)
        words = label(
            "What your jurisdiction has changed. It is kept in the job, printed on the sheet, and marked on every figure it touches.",
            "faint",
        )
        words.setWordWrap(True)
        column.addWidget(words)
        self.table = LedgerTable(
            "Figures that can be amended",
            [
                Column("Figure", 0),
                Column("Edition", 96, True),
                Column("Section", 116),
                Column("Local", 96, True),
                Column("Local section", 130),
            ],
            row_height=22,
        )
        self.table.chosen.connect(self._chosen)
        self.table.opened.connect(lambda _key: self.form.focus_place("value"))
        self.table.removal_asked.connect(lambda keys: self._put(keys[0], None, ""))
        column.addWidget(self.table, 1)
        self.form = Form()
        self.form.add(
            "value",
            TextField(store, "Local figure", self._value, self._set_value, self._read, self._text, "none"),
            0,
            0,
        )
        self.form.add(
            "section",
            TextField(store, "Local section", self._section, self._set_section, str.strip, str, "the edition's"),
            0,
            1,
        )
        for stretch in (1, 3):
            self.form.grid.setColumnStretch(stretch, 1)
        column.addWidget(self.form)

    def start(self) -> None:
        self.table.setFocus(Qt.FocusReason.OtherFocusReason)

    def apply_look(self) -> None:
        self.table.resize_columns()

    def go_to(self, place: Place) -> bool:
        return place == "local_rules"

    def show_plan(self, plan: Plan) -> None:
        plain = load_codebook(plan.job.edition)
        local = {rule.key: rule for rule in plan.job.local_rules}
        rows = []
        for key, amendable in AMENDABLE.items():
            value, unit, section = edition_figure(plain, key)
            rule = local.get(key)
            own = _shown(rule.value, unit) if rule else ""
            wrong = bool(rule and fault(Amendment(rule.key, rule.value, rule.section), plain))
            cells = (amendable.words, _shown(value, unit), section, own, rule.section if rule else "")
            rows.append(Row(key, cells, "bold" if rule else "", (3,) if wrong else ()))
        self.table.show_rows(rows)
        self.form.refresh()

    def _chosen(self, key: str) -> None:
        self.key = key
        for field in self.form.fields.values():
            field.give_up()
        self.form.refresh()

    def _rule(self, job: Job) -> LocalRule | None:
        return next((rule for rule in job.local_rules if rule.key == self.key), None)

    def _value(self, job: Job) -> float | None:
        rule = self._rule(job)
        return rule.value if rule else None

    def _section(self, job: Job) -> str:
        rule = self._rule(job)
        return rule.section if rule else ""

    def _set_value(self, job: Job, value: float | None) -> Job:
        return amend(job, self.key, value, self._section(job))

    def _set_section(self, job: Job, section: str) -> Job:
        return amend(job, self.key, self._value(job), section)

    def _put(self, key: str, value: float | None, section: str) -> None:
        self.store.edit(f"local amendment: {AMENDABLE[key].words.lower()}", lambda job: amend(job, key, value, section))

    def _unit(self) -> str:
        return edition_figure(load_codebook(self.store.job.edition), self.key)[1]

    def _text(self, value: float) -> str:
        return _shown(value, self._unit())

    def _read(self, text: str) -> float | None:
        """A figure in the unit of the edition's; shares as percent."""
        words = text.strip().replace(",", "")
        if not words:
            return None
        unit = self._unit()
        number = words.removesuffix("%").removesuffix(unit).strip() if unit else words.removesuffix("%").strip()
        try:
            value = float(number)
        except ValueError:
            raise ValueError(f'"{text.strip()}" is not a figure.') from None
        if unit == "" and (words.endswith("%") or value > 1.5):
            value /= 100
        if why := fault(Amendment(self.key, value, ""), load_codebook(self.store.job.edition)):
            raise ValueError(why)
        return value


def _shown(value: float | None, unit: str) -> str:
    """A figure as it is written: shares in percent, everything else with its unit."""
    if value is None:
        return ""
    return f"{value * 100:g}%" if unit == "" else amount_text(value, unit)
