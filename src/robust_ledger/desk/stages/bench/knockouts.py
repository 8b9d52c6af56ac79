"""Knockouts of the new enclosure: which cable comes in through which, with the connector it takes, and what is left free."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.desk.kit.fields import Form, TextField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields, form_of
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.job.readers.lists import knockouts_text, read_knockouts
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import number_text
from robust_ledger.panel.knockouts import Entering, Hole
from robust_ledger.plan import Plan


class KnockoutsPage(Page):
    """What the label and a tape say on top, a row for each knockout below."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        fields = Fields(store, in_view=True)
        place = "panel:interior.knockouts"
        holes = TextField(
            store, "Knockouts, in", *fields.of(place), read_knockouts, knockouts_text, "top 2, 4, 6; left 5, 8"
        )
        self.form = form_of([[(place, holes), fields("panel:cables_per_connector")]], 90)
        holes.setFixedWidth(360)
        self.words = label("", "faint")
        self.words.setWordWrap(True)
        self.table = LedgerTable(
            "Knockouts",
            [Column("Side", 70), Column("At, in", 60, True), Column("Size, in", 70, True), Column("Cables", 0)],
            row_height=22,
        )
        self.table.when_empty = "No cable comes in yet: call out circuits on the Pull-off."
        self.table.chosen.connect(lambda key: store.choose_place(Place(key)) if key.startswith("branch:") else None)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(self.form)
        column.addWidget(self.words)
        column.addWidget(self.table, 1)

    def start(self) -> None:
        self.table.setFocus(Qt.FocusReason.OtherFocusReason)

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        made = plan.bench.knockouts
        rows = [_row(plan, number, hole) for number, hole in enumerate(made.holes)]
        rows += [
            Row(_key(cable), (cable.side, "none", cable.trade_size, _named(plan, cable)), "bold", (1,))
            for cable in made.left_over
        ]
        self.table.show_rows(rows)
        connectors, free = (plan.entry(f"knockouts.{plan.panel_id}.{name}") for name in ("connectors", "free"))
        assert connectors is not None and free is not None
        written = any(hole.at_in is not None for hole in made.holes)
        rest = (
            f"{free.text()} free: close the opened ones, leave the rest."
            if written
            else "No knockouts are written down: a hole is made wherever a cable comes in."
        )
        self.words.setText(
            f"{connectors.text()} connectors or clamps with a bushing each. {rest} The connector's own label governs its size."
        )

    def go_to(self, place: Place) -> bool:
        return self.form.focus_place(str(place))


def _row(plan: Plan, number: int, hole: Hole) -> Row:
    at = number_text(hole.at_in) if hole.at_in is not None else "any"
    if hole.free:
        return Row(f"free:{number}", (hole.side, at, "", "free"), "faint")
    sizes = sorted({cable.trade_size for cable in hole.cables})
    words = ", ".join(_named(plan, cable) for cable in hole.cables)
    return Row(_key(hole.cables[0]), (hole.side, at, " and ".join(sizes), words))


def _key(cable: Entering) -> str:
    return str(Place.branch(cable.keys[0]))


def _named(plan: Plan, cable: Entering) -> str:
    named = [branch for key in cable.keys if (branch := plan.branch(key)) is not None]
    tags = {branch.key: f"{branch.tag} " if branch.tag != "new" else "" for branch in named}
    words = " and ".join(f"{tags[branch.key]}{branch.directory_text}" for branch in named)
    return f"{words} (new cable)" if cable.new else words
