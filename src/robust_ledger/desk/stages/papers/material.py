"""The material: what the plan takes, what is on hand, what it costs; the working behind every number of it."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton, QVBoxLayout

from robust_ledger.desk.kit.fields import Form, TextField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields, lay_out
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.desk.kit.worker import ProgressRow, Worker
from robust_ledger.exchange.books import TableError, read_table, write_table
from robust_ledger.exchange.tables import TABLES, exported, guessed, imported
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.job.readers.numbers import read_number
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import UNKNOWN, number_text, reason_of
from robust_ledger.material.item import Item, total_cost
from robust_ledger.plan import Plan

KINDS = "Tables (*.csv *.xlsx)"


class MaterialPage(Page):
    """A row for each item; two fields for the chosen one."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.shown = ""
        self.words = label("", "live")
        self.words.setWordWrap(True)
        self.table = LedgerTable(
            "Material",
            [
                Column("Item", 0),
                Column("How many", 86, True),
                Column("On hand", 72, True),
                Column("To buy", 66, True),
                Column("Each", 66, True),
                Column("Cost", 76, True),
            ],
            row_height=22,
        )
        self.table.chosen.connect(self._chosen)
        self.table.opened.connect(lambda _key: self.form.focus_place("stock:on_hand"))
        self.form = lay_out(
            Form(),
            [
                [
                    ("stock:on_hand", self._field("On hand", "on_hand")),
                    ("stock:prices", self._field("Price each", "prices")),
                    Fields(store)("stock:waste_percent"),
                ]
            ],
            84,
        )
        self.progress = ProgressRow()
        self.save = QPushButton("&Write the list…")
        self.save.clicked.connect(self._ask_save)
        self.prices = QPushButton("Prices from a &list…")
        self.prices.clicked.connect(self._ask_prices)
        row = QHBoxLayout()
        row.addWidget(self.form, 1)
        row.addWidget(self.prices)
        row.addWidget(self.save)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.words)
        column.addWidget(self.progress)
        column.addWidget(self.table, 1)
        column.addLayout(row)

    def _field(self, words: str, name: str) -> TextField:
        def get(job: Job) -> float | None:
            held: dict[str, float] = getattr(job.stock, name)
            return held.get(self.shown)

        def put(job: Job, value: float | None) -> Job:
            held = dict(getattr(job.stock, name))
            if value is None:
                held.pop(self.shown, None)
            elif self.shown:
                held[self.shown] = value
            return with_part(job, "stock", **{name: held})

        return TextField(self.store, words, get, put, read_number(0, 1e6), lambda v: number_text(v, 2), "not entered")

    def start(self) -> None:
        self.table.setFocus()

    def show_plan(self, plan: Plan) -> None:
        rows, group = [], ""
        for item in plan.material.items:
            if item.group != group:
                group = item.group
                rows.append(Row(f"group:{group}", (group,), "group"))
            rows.append(_row(item, plan))
        self.table.show_rows(rows)
        cost, unknown = total_cost(plan.material.items, plan.job.stock)
        words = f"{len(plan.material.items)} items; what is to buy and priced comes to {cost:,.2f}."
        if unknown:
            words += f" Of {unknown} items the number or the price is not known."
        self.words.setText(words)
        self.form.refresh()

    def go_to(self, place: Place) -> bool:
        if place.kind == "material":
            self._chosen(place.name)
            self.table.choose(place.name)
            self.table.setFocus()
            return True
        return self.form.focus_place(place)

    def _chosen(self, key: str) -> None:
        if key.startswith("group:"):
            return
        if key != self.shown:
            for field in self.form.fields.values():
                field.give_up()
        self.shown = key
        self.form.refresh()
        self.store.choose_entry(f"material.{key}")

    # --- out and in -----------------------------------------------------------------------------------------------
    def _ask_save(self) -> None:
        name, _kind = QFileDialog.getSaveFileName(self, "Write the material list", "material.xlsx", KINDS)
        if name:
            self.write(Path(name))

    def write(self, path: Path) -> None:
        """Write the list as CSV or XLSX."""
        try:
            write_table(exported(TABLES["material"], self.store.plan), path, "material")
        except OSError as problem:
            self.store.notice(f"{path.name} could not be written: {reason_of(problem)}.", serious=True)
            return
        self.store.notice(f"Written: {path.name}.")

    def _ask_prices(self) -> None:
        name, _kind = QFileDialog.getOpenFileName(self, "Prices and what is on hand", "", KINDS)
        if name:
            self.take_prices(Path(name))

    def take_prices(self, path: Path) -> None:
        """Take prices and numbers on hand from a list of one's own, by the key of the item."""
        worker = Worker(lambda progress: read_table(path, progress), (TableError,))
        self.progress.run(
            f"Reading {path.name}",
            worker,
            lambda rows: self._take_rows(rows, path),
            lambda words: self.store.notice(words, serious=True),
        )

    def _take_rows(self, rows: list[list[str]], path: Path) -> None:
        table = TABLES["material"]
        taken = imported(rows, guessed(rows[0], table), table, self.store.job)
        self.store.edit("take prices", lambda _job: taken.job)
        faults = f" {taken.faults[0].sentence}" if taken.faults else ""
        self.store.notice(f"{taken.good} rows of {path.name} taken.{faults}", serious=bool(taken.faults))

    def stop(self) -> None:
        """The window closes: whatever is being read is let go."""
        self.progress.cancel(wait=True)


def _row(item: Item, plan: Plan) -> Row:
    stock = plan.job.stock
    left, cost = item.to_buy(stock), item.cost(stock)
    hand, price = stock.on_hand.get(item.key), item.price(stock)
    cells = (
        item.words, item.entry.text(), "" if hand is None else number_text(hand, 1), UNKNOWN if left is None else number_text(left, 1),
        "" if price is None else f"{price:,.2f}", "" if cost is None else f"{cost:,.2f}",
    )  # fmt: skip
    return Row(item.key, cells, "faint" if left == 0 else "", (1,) if left is None else ())
