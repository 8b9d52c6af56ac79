"""The scope: what the job does, answer by answer, and what follows from it."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.desk.kit.fields import Form
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields, lay_out
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.load.methods import NAMES
from robust_ledger.plan import Plan
from robust_ledger.survey.scope import QUESTIONS, TOPICS, words

_TOPIC_WORDS = {
    "chain": "what is there",
    "grounding": "grounding",
    "fit": "fit",
    "overhead": "overhead",
    "location": "place and count",
    "defects": "defects",
}


class ScopePage(Page):
    """One choice for each question; the table below says what they decide together."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        f = Fields(store)

        asked = [f(f"scope:{one.field}") for one in QUESTIONS]
        self.form = lay_out(Form(), [asked[0:2], asked[2:4], asked[4:6]])
        self.words = label("", "live")
        self.words.setWordWrap(True)
        self.table = LedgerTable(
            "What follows from the scope", [Column("What follows", 260), Column("", 0)], row_height=27
        )
        self.table.chosen.connect(store.choose_entry)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(10)
        column.addWidget(label("What does the job do?", "section"))
        column.addWidget(self.form)
        column.addWidget(self.words)
        column.addWidget(label("What follows", "section"))
        column.addWidget(self.table, 1)

    def start(self) -> None:
        self.form.focus_place("scope:service")
        self.store.choose_entries(("service.emergency", "service.spd"))

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        self.form.show_row("scope:disconnect_kind", plan.job.disconnect_ahead)
        self.words.setText(words(plan.job))
        self.table.show_rows(_rows(plan))


def _rows(plan: Plan) -> list[Row]:
    job = plan.job
    open_here = [NAMES[name].lower() for name, method in plan.load.methods.items() if method.open]
    main = plan.service.main
    stays = f"goes on at {main.text()}" if main.known else f"goes on; not known: {main.why_unknown}"
    service = "to be entered" if not job.scope.said else stays if job.scope.keeps_service else "new, for the load"
    asked = [_TOPIC_WORDS[topic] for topic in plan.walk.asked]
    dropped = [_TOPIC_WORDS[topic] for topic in TOPICS if topic not in plan.walk.asked]
    rows = [
        Row("service.main", ("The service", service)),
        Row("load.recommended", ("Load calculations allowed", ", ".join(open_here))),
        Row("asked", ("Asked here", ", ".join(asked) + (f"; not asked: {', '.join(dropped)}" if dropped else ""))),
    ]
    of = plan.service.figures
    for entry in (of.emergency, of.spd, of.main_or_lugs):
        rows.append(Row(entry.id, (entry.label, entry.text() if entry.known else f"depends on {entry.why_unknown}")))
    label_lines = plan.service.emergency_label
    if label_lines:
        rows.append(Row("service.emergency", ("Its label outside", ", ".join(label_lines))))
    return rows
