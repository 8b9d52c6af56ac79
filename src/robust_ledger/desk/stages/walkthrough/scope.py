"""The scope: what kind of job it is, and what follows from it."""

from __future__ import annotations

from msgspec.structs import replace
from PyQt6.QtWidgets import QButtonGroup, QGridLayout, QRadioButton, QVBoxLayout, QWidget

from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.stage import label
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.job.job import Job
from robust_ledger.job.parts.heading import Scope
from robust_ledger.ledger.place import Place
from robust_ledger.load.methods import NAMES
from robust_ledger.plan import Plan
from robust_ledger.survey.scope import SCOPES, TOPICS

_TOPIC_WORDS = {
    "chain": "chain",
    "grounding": "grounding",
    "fit": "fit",
    "overhead": "overhead",
    "location": "place and count",
    "defects": "defects",
}


class ScopePage(Page):
    """One of eight kinds; the table below says what each decides."""

    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.group = QButtonGroup(self)
        self.buttons: dict[Scope, QRadioButton] = {}
        choices = QWidget()
        grid = QGridLayout(choices)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(7)
        for row, (scope, facts) in enumerate((s, f) for s, f in SCOPES.items() if s is not Scope.UNSAID):
            button = QRadioButton(facts.title)
            button.setAccessibleDescription(facts.words)
            button.clicked.connect(lambda _checked, scope=scope: self._take(scope))
            self.group.addButton(button)
            self.buttons[scope] = button
            words = label(facts.words, "faint")
            words.setWordWrap(True)
            grid.addWidget(button, row, 0)
            grid.addWidget(words, row, 1)
        grid.setColumnStretch(1, 1)
        self.table = LedgerTable(
            "What follows from the scope", [Column("What follows", 220), Column("", 0)], row_height=27
        )
        self.table.chosen.connect(self._chosen)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(10)
        column.addWidget(label("What kind of job is it?", "section"))
        column.addWidget(choices)
        column.addWidget(label("What follows", "section"))
        column.addWidget(self.table, 1)

    def _take(self, scope: Scope) -> None:
        def put(job: Job) -> Job:
            return replace(job, scope=scope)

        self.store.edit(f"scope: {SCOPES[scope].title}", put)

    def start(self) -> None:
        self.buttons.get(self.store.job.scope, self.buttons[Scope.SWAP]).setFocus()
        self.store.choose_entries(("service.emergency", "service.spd"))

    def go_to(self, place: Place) -> bool:
        self.start()
        return True

    def _chosen(self, key: str) -> None:
        self.store.choose_entry(key)

    def show_plan(self, plan: Plan) -> None:
        self.group.setExclusive(False)
        for scope, button in self.buttons.items():
            button.setChecked(plan.job.scope is scope)
        self.group.setExclusive(True)
        self.table.show_rows(_rows(plan))


def _rows(plan: Plan) -> list[Row]:
    job, entries = plan.job, plan.entries
    open_here = [NAMES[name].lower() for name, method in plan.load.methods.items() if method.open]
    found = job.old_panel.main_a
    stays = f"goes on at {found:g} A" if found else "goes on at its rating, which is to be read"
    service = (
        "to be entered" if job.scope is Scope.UNSAID else stays if job.scope.keeps_service else "new, for the load"
    )
    asked = [_TOPIC_WORDS[topic] for topic in plan.walk.asked]
    dropped = [_TOPIC_WORDS[topic] for topic in TOPICS if topic not in plan.walk.asked]
    rows = [
        Row("service.main", ("The service", service)),
        Row("load.recommended", ("Load calculations allowed", ", ".join(open_here))),
        Row("asked", ("Asked here", ", ".join(asked) + (f"; not asked: {', '.join(dropped)}" if dropped else ""))),
    ]
    for name in ("emergency", "spd", "panel_main"):
        entry = entries[f"service.{name}"]
        rows.append(Row(entry.id, (entry.label, entry.text() if entry.known else f"depends on {entry.why_unknown}")))
    return rows
