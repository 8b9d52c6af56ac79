"""What is the same on every job, as this one has it: company, AHJ, the utility's papers, and the profiles that it was made from."""

from __future__ import annotations

from PyQt6.QtWidgets import QListWidget, QSizePolicy, QVBoxLayout

from robust_ledger.desk.kit.fields import Form
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import label
from robust_ledger.jobbook.home import home
from robust_ledger.jobbook.profile_store import ProfileStore
from robust_ledger.jobbook.profiles import moved_on, said_then
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan


class OfficePage(Page):
    """Lines at the top; below them each profile of this job, and whether it has moved on."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        f = Fields(store)
        self.form = Form()
        for row, (place, field) in enumerate(
            (
                f("heading:company"),
                f("heading:contact"),
                f("heading:ahj"),
                f("heading:stands"),
                f("utility:order_form"),
                f("utility:fault_table"),
            )
        ):
            self.form.add(place, field, row)
        self.table = LedgerTable(
            "Profiles of this job",
            [Column("Made from", 110), Column("Profile", 200), Column("Today", 0)],
            row_height=25,
        )
        self.table.when_empty = "This job was made from no profile. Job, Profiles keeps what it has as one."
        self.table.chosen.connect(lambda _key: self._show())
        self.says = QListWidget()
        self.says.setAccessibleName("What the profile said when this job took it")
        self.words = label("", "section")
        for one, least in ((self.table, 84), (self.says, 60)):  # they take what is left of the page
            one.setMinimumHeight(LOOK.px(least))
            one.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 0)
        column.addWidget(self.form)
        column.addWidget(
            label(
                "The job keeps its own copy. What a profile has changed since is taken over under Job, Profiles.",
                "faint",
            )
        )
        column.addWidget(self.table, 2)
        column.addWidget(self.words)
        column.addWidget(self.says, 3)

    def start(self) -> None:
        self.form.focus_place("heading:company")

    def go_to(self, place: Place) -> bool:
        if place.kind != "profile":
            return super().go_to(place)
        self.table.choose(place.name)
        self.table.setFocus()
        return True

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        shelved = ProfileStore(home()).all() if plan.job.profiles else None
        rows = []
        for profile in plan.job.profiles:
            now = shelved.find(profile.kind, profile.name) if shelved is not None else None
            moved = moved_on(plan.job, now) if now is not None else []
            today = (
                "is not on this computer"
                if now is None
                else f"has moved on: {'; '.join(moved)}"
                if moved
                else "says the same"
            )
            rows.append(Row(profile.kind, (profile.kind, profile.name, today), "", (2,) if moved else ()))
        self.table.show_rows(rows)
        self._show()

    def _show(self) -> None:
        one = next((profile for profile in self.store.job.profiles if profile.kind == self.table.current_key()), None)
        self.says.clear()
        self.words.setText("It said then:" if one is not None else "")
        if one is not None:
            self.says.addItems(said_then(one))
