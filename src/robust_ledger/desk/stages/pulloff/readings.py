"""Clamp readings of a circuit: written down by hand, listed with their time, taken out again."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from robust_ledger.branch.readings import read_reading, reading_text
from robust_ledger.desk.kit.fields import keep_typing
from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.job.edits import add_readings, drop_readings

HINT = "4.1 B 18:20 what was running"
ROWS_SHOWN = 3


class ReadingsSheet(QWidget):
    """The readings of the circuit chosen in the table."""

    def __init__(self, store: JobStore, chosen_tag: Callable[[], int | None]) -> None:
        super().__init__()
        self.store, self.chosen_tag = store, chosen_tag
        self.title = label("", "section")
        self.line = QLineEdit()
        self.line.setPlaceholderText(HINT)
        self.line.setAccessibleName("Clamp reading: amperes, leg, time, what was running")
        self.line.returnPressed.connect(self._write)
        keep_typing(self.line, store, "clamp reading")
        self.fault = label("", "fault")
        self.fault.hide()
        columns = [Column("Read at", 142), Column("Leg", 36), Column("A", 48, True), Column("What was running", 0)]
        self.table = LedgerTable("Clamp readings", columns, row_height=20, multiple=True)
        self.table.when_empty = "No reading of this circuit yet."
        self.table.removal_asked.connect(self._drop)
        self.table.opened.connect(self._again)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 2)
        column.setSpacing(3)
        for widget in (self.title, self.line, self.fault, self.table):
            column.addWidget(widget)

    def show_readings(self) -> None:
        """Those of the chosen circuit, the latest on top."""
        tag = self.chosen_tag()
        self.title.setText(
            f"Clamp readings of tag {tag}" if tag is not None else "Choose a circuit for its clamp readings"
        )
        self.line.setEnabled(tag is not None)
        rows = [
            Row(
                str(number),
                (
                    reading.at,
                    reading.leg or "?",
                    f"{reading.amperes:.1f}",
                    reading.running + (" (simulated)" if reading.simulated else ""),
                ),
            )
            for number, reading in enumerate(self.store.job.readings)
            if reading.tag == tag
        ]
        self.table.show_rows(rows[::-1])
        self.table.setFixedHeight(
            there(self.table.horizontalHeader()).height()
            + ROWS_SHOWN * there(self.table.verticalHeader()).defaultSectionSize()
        )

    def _write(self) -> None:
        circuit = self.store.job.circuit(tag) if (tag := self.chosen_tag()) is not None else None
        if circuit is None:
            return
        try:
            reading = read_reading(self.line.text(), circuit, datetime.now())
        except ValueError as problem:
            self.fault.setText(str(problem))
            self.fault.show()
            return
        self.fault.hide()
        if self.store.edit(f"write down a reading of tag {circuit.tag}", lambda job: add_readings(job, (reading,))):
            self.line.clear()

    def _again(self, key: str) -> None:
        """Put a reading back into the line, to be written down anew."""
        self.line.setText(reading_text(self.store.job.readings[int(key)]))
        self.line.setFocus()

    def _drop(self, keys: list[str]) -> None:
        gone = {int(key) for key in keys}
        self.store.edit(f"take out {len(gone)} readings", lambda job: drop_readings(job, gone))
