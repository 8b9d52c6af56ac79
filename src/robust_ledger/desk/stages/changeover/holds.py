"""The signed holds: the list on the left, the chosen one's items on the right; ticked by Enter, signed with a name."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout

from robust_ledger.changeover import clock as day_clock
from robust_ledger.changeover.holds import Hold, Item, hold_ids, holds
from robust_ledger.changeover.record import opened, signed, ticked
from robust_ledger.changeover.recorded import hold_words
from robust_ledger.desk.kit.fields import keep_typing
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan

_STATES = {
    "open": "open",
    "ready": "to be signed",
    "signed": "signed",
    "overridden": "open items",
    "reopened": "OPEN AGAIN",
}


class HoldsPage(Page):
    """Nothing behind a hold begins before it is passed."""

    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.shown = hold_ids()[0]
        self.table = LedgerTable(
            "Holds", [Column("Hold", 0), Column("State", 96), Column("Open", 48, True)], row_height=26
        )
        self.table.chosen.connect(self._chosen)
        self.table.opened.connect(lambda _key: self.items.setFocus())
        self.items = LedgerTable(
            "Items of the hold",
            [Column("No.", 38, True), Column("", 34), Column("Item", 0), Column("Reading", 70, True)],
            row_height=24,
        )
        self.items.opened.connect(self._opened)
        self.items.chosen.connect(lambda _key: self._show_item())
        self.title = label("", "section")
        self.words = label("", "live")
        self.words.setWordWrap(True)
        self.fault = label("", "fault")
        self.fault.setWordWrap(True)
        self.reading = self._line("Reading in volts", 90)
        self.reading.returnPressed.connect(self._enter_reading)
        self.by = self._line("Signed by", 150)
        self.reason = self._line("Reason for passing it with open items", 0)
        self._lay_out()

    def _line(self, name: str, width: int) -> QLineEdit:
        made = QLineEdit()
        made.setAccessibleName(name)
        made.setPlaceholderText(name.lower())
        if width:
            made.setFixedWidth(width)
        keep_typing(made, self.store, name.lower())
        return made

    def _lay_out(self) -> None:
        self.sign = QPushButton("&Sign")
        self.sign.setProperty("role", "main")
        self.sign.clicked.connect(lambda: self._sign(False))
        self.over = QPushButton("&Pass it with open items")
        self.over.clicked.connect(lambda: self._sign(True))
        self.again = QPushButton("&Open it again")
        self.again.clicked.connect(self._again)
        row = QHBoxLayout()
        for widget in (label("Reading", "faint"), self.reading, label("Name", "faint"), self.by, self.sign, self.again):
            row.addWidget(widget)
        row.addStretch(1)
        second = QHBoxLayout()
        second.addWidget(self.reason, 1)
        second.addWidget(self.over)
        right = QVBoxLayout()
        for one in (self.title, self.words):
            right.addWidget(one)
        right.addWidget(self.items, 1)
        right.addWidget(self.fault)
        right.addLayout(row)
        right.addLayout(second)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(self.table, 3)
        whole.addLayout(right, 5)

    def start(self) -> None:
        self.table.setFocus()
        self.table.choose(self.shown)

    def show_plan(self, plan: Plan) -> None:
        self.all = {hold.id: hold for hold in holds(plan.changeover)}
        rows = []
        for one in self.all.values():
            bad = one.state in ("reopened", "overridden")
            rows.append(
                Row(
                    one.id,
                    (one.words, _STATES[one.state], str(len(one.open_items)) if one.open_items else "–"),
                    "",
                    (1,) if bad else (),
                )
            )
        self.table.show_rows(rows)
        self._show()

    def _hold(self) -> Hold:
        return self.all[self.shown]

    def _show(self) -> None:
        hold = self._hold()
        self.title.setText(hold.words)
        self.words.setText(hold_words(hold) if hold.signed_by else "")
        self.words.setVisible(bool(hold.signed_by))
        self.items.show_rows([_row(number, item) for number, item in enumerate(hold.items, 1)])
        if not self.by.text() and not self.by.hasFocus():
            names = self.store.job.day.names
            self.by.setText(names[0] if names else self.store.job.heading.electrician)
            self.by.setCursorPosition(0)
        self.sign.setEnabled(not hold.passed)
        self.again.setEnabled(bool(hold.signed_by))
        self.over.setEnabled(not hold.passed and bool(hold.open_items))
        self.reason.setEnabled(not hold.passed and bool(hold.open_items))
        self._show_item()

    def _item(self) -> Item | None:
        key = self.items.current_key()
        return next((item for item in self._hold().items if item.key == key), None)

    def _show_item(self) -> None:
        item = self._item()
        self.reading.setEnabled(item is not None and bool(item.reading))
        if item is not None and item.reading and not self.reading.hasFocus():
            self.reading.setText(item.value)
        self.fault.setText(item.fault if item else "")

    def go_to(self, place: Place) -> bool:
        if place.kind != "hold" or place.name not in self.all:
            return False
        self.shown = place.name
        self.table.choose(self.shown)
        self._show()
        self.items.setFocus(Qt.FocusReason.OtherFocusReason)
        return True

    def _chosen(self, key: str) -> None:
        self.shown = key
        self._show()

    def _opened(self, key: str) -> None:
        """Tick the item, or go to its reading."""
        item = next((one for one in self._hold().items if one.key == key), None)
        if item is None:
            return
        if item.auto:
            self.store.notice(f'"{item.words}" is answered by the record itself. {item.fault}'.strip())
        elif item.reading:
            self.reading.setFocus()
            self.reading.selectAll()
        else:
            self._tick(item, "" if item.done else "yes")

    def _tick(self, item: Item, value: str) -> None:
        hold = self.shown
        self.store.edit(
            f"{'tick' if value else 'take back'} {item.words[:40]}", lambda job: ticked(job, hold, item.key, value)
        )
        self._next(item.key)

    def _next(self, key: str) -> None:
        """On to the next item that is open."""
        items = self._hold().items
        at = next((n for n, one in enumerate(items) if one.key == key), 0)
        left = [one for one in items[at + 1 :] if not one.done and not one.auto]
        if left:
            self.items.choose(left[0].key)
            self._show_item()

    def _enter_reading(self) -> None:
        item = self._item()
        if item is None or not item.reading:
            return
        self._tick(item, self.reading.text())
        self.items.setFocus()
        self._show_item()

    def _sign(self, overriding: bool) -> None:
        hold, by, why = self.shown, self.by.text(), self.reason.text() if overriding else ""
        if overriding and not why.strip():
            self.fault.setText("Say why it is passed with open items; it is printed in red on the record.")
            self.reason.setFocus()
            return
        room = self.store.plan.changeover

        def change(job: Any) -> Any:
            return signed(job, room, hold, by, day_clock.now(), why)

        said: list[str] = []
        if self.store.edit(f"sign {self._hold().words}", change, said.append):
            self.reason.clear()
            left = [one for one in self.all if not self.all[one].passed]
            if left:
                self.shown = left[0]
                self.table.choose(self.shown)
                self._show()
        self.fault.setText(" ".join(said))

    def _again(self) -> None:
        hold = self.shown
        self.store.edit(f"open {self._hold().words} again", lambda job: opened(job, hold))


def _row(number: int, item: Item) -> Row:
    mark = "✓" if item.done else "!" if item.fault else "·"
    reading = item.value if item.reading else ("record" if item.auto else "")
    return Row(
        item.key, (str(number), mark, item.words, reading), "faint" if item.done else "", (1, 3) if item.fault else ()
    )
