"""Tools over the table of circuits: order, filter, one value for many, and rows to and from a spreadsheet."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QApplication, QComboBox, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from robust_ledger.callout.listing import FIELDS, ORDERS, SHOWN, listed, set_for, value_of
from robust_ledger.callout.session import lines_of_rows, replay
from robust_ledger.desk.kit.fields import Choice
from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.words import Label
from robust_ledger.exchange.rows import as_rows, pasted, rows_in
from robust_ledger.job.edits import add_readings
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.circuits import Circuit, ClampReading

if TYPE_CHECKING:  # numpy is loaded when the clamp is first used
    from robust_ledger.measure.simulate.clamp import ClampMeter, SimulatedClamp

MOST_ROWS = 500


class CircuitTools(QWidget):
    """Two lines: what is shown and in which order; what is set for the rows chosen."""

    changed = pyqtSignal()

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store = store
        self.tags: list[int] = []
        self.meter: SimulatedClamp | None = None
        self.order = self._combo("Order of the table", ORDERS)
        self.shown = self._combo("Circuits shown", SHOWN)
        self.words = QLineEdit()
        self.words.setPlaceholderText("filter")
        self.words.setAccessibleName("Filter")
        self.words.setClearButtonEnabled(True)
        self.field = self._combo("Field to set", FIELDS)
        self.value = QLineEdit()
        self.value.setAccessibleName("Value for the rows chosen")
        self.value.setPlaceholderText("value for the rows chosen")
        self.button = QPushButton("Set")
        self.fill = QPushButton("Fill down")
        self.fill.setToolTip("Ctrl+D: the first chosen row's value for the others")
        self.clamp = QPushButton("Clamp")
        self.clamp.setToolTip("Read the chosen circuits with the clamp meter; the one that ships is simulated")
        self.clamp.clicked.connect(self.read_clamp)
        self.readings = QPushButton("Readings")
        self.readings.setCheckable(True)
        self.readings.setToolTip("Clamp readings of the chosen circuit, to be written down and looked at")
        self.fault = Label()
        self.fault.setProperty("role", "fault")
        self.fault.setWordWrap(True)
        self.fault.hide()
        self._lay_out()
        self.order.activated.connect(lambda _: self.changed.emit())
        self.shown.activated.connect(lambda _: self.changed.emit())
        self.words.textChanged.connect(lambda _: self.changed.emit())
        self.value.returnPressed.connect(self.set_value)
        self.button.clicked.connect(self.set_value)
        self.fill.clicked.connect(self.fill_down)

    def _combo(self, name: str, choices: dict[str, str]) -> QComboBox:
        made = Choice()
        made.setAccessibleName(name)
        for key, words in choices.items():
            made.addItem(words, key)
        return made

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        row = QHBoxLayout()
        row.setSpacing(5)
        for widget in (self.order, self.shown):
            row.addWidget(widget)
        row.addWidget(self.words, 1)
        row.addWidget(self.clamp)
        row.addWidget(self.readings)
        self.setting = QWidget()
        second = QHBoxLayout(self.setting)
        second.setContentsMargins(0, 0, 0, 0)
        second.setSpacing(5)
        second.addWidget(self.field)
        second.addWidget(self.value, 1)
        second.addWidget(self.button)
        second.addWidget(self.fill)
        column.addLayout(row)
        column.addWidget(self.setting)
        column.addWidget(self.fault)

    def circuits(self) -> list[Circuit]:
        """Those to be listed, in their order."""
        plan = self.store.plan
        found = [int(f.place[8:]) for f in plan.findings if (f.open or f.cured) and f.place.startswith("circuit:")]
        return listed(
            plan.job, plan.codebook, self.order.currentData(), self.shown.currentData(), self.words.text(), found
        )

    def show_chosen(self, tags: list[int]) -> None:
        """The rows a value would be set for; a single one is better changed in the line."""
        self.tags = tags
        self.button.setText(f"Set for {len(tags)}")
        self.setting.setVisible(len(tags) > 1)

    def set_value(self) -> None:
        self._set(self.tags, self.value.text())

    def fill_down(self) -> None:
        """The value of the first chosen row for the others."""
        first = self.store.job.circuit(self.tags[0]) if len(self.tags) > 1 else None
        if first is not None:
            self._set(self.tags[1:], value_of(first, self.field.currentData()))

    def _set(self, tags: list[int], text: str) -> None:
        name, book = self.field.currentData(), self.store.plan.codebook
        try:
            after = set_for(self.store.job, tags, name, text, book)
        except ValueError as problem:
            self.say(str(problem))
            return
        self.say("")
        self.store.edit(f"set {FIELDS[name]} for {len(tags)}", lambda _job: after)

    def read_clamp(self) -> None:
        """Put the clamp around the chosen circuits, one after the other, and write down what it shows and when."""
        meter = self._meter()
        if meter is None:
            return
        now = datetime.now()
        made = [
            ClampReading(
                tag=tag,
                leg="A" if moment.leg == "A" else "B",
                amperes=moment.amperes,
                at=now.strftime("%Y-%m-%d %H:%M"),
                running=", ".join(moment.running)[:200],
                simulated=meter.simulated,
            )
            for tag in self.tags
            for moment in meter.read(CircuitKey.of_tag(tag), now)
        ]
        if not made:
            self.store.notice("Choose a circuit that is in use; a capped one has no current to read.", serious=True)
            return
        told = "; ".join(
            f"tag {one.tag} leg {one.leg} {one.amperes:.1f} A" + (f" ({one.running})" if one.running else "")
            for one in made[:4]
        )
        self.store.edit(f"read {len(made)} with the clamp", lambda job: add_readings(job, tuple(made)))
        self.store.notice(f"Simulated clamp meter: {told}. One moment, no maximum demand.")

    def _meter(self) -> ClampMeter | None:
        """The clamp meter at hand: the simulated one, made anew when the house has changed."""
        from robust_ledger.measure.simulate.clamp import SimulatedClamp
        from robust_ledger.measure.simulate.house import house_of

        house = house_of(self.store.plan)
        if house is None or not house.sources:
            self.store.notice(
                "The simulated clamp needs a house: a floor area, loads or circuits, and a main.", serious=True
            )
            return None
        if self.meter is None or self.meter.house != house:
            self.meter = SimulatedClamp(house)
        return self.meter

    def copy(self) -> None:
        """The rows chosen, or all that are listed, to the clipboard: tabs between the cells."""
        chosen = (
            [circuit for circuit in self.circuits() if circuit.tag in self.tags]
            if len(self.tags) > 1
            else self.circuits()
        )
        there(QApplication.clipboard()).setText(as_rows(chosen))
        self.store.notice(f"{len(chosen)} rows copied; paste them into a spreadsheet.")

    def paste(self) -> None:
        """Rows or lines from the clipboard, each called out: good ones are kept, the others told apart."""
        text = there(QApplication.clipboard()).text()
        rows = rows_in(text)
        lines = lines_of_rows(text) if rows is None else []
        if not text.strip() or max(len(lines), len(rows or ())) > MOST_ROWS:
            self.store.notice(f"There is nothing to paste, or more than {MOST_ROWS} rows.", serious=True)
            return
        if rows is not None:
            taken = pasted(rows, self.store.job)
            after, made = taken.job, len(taken.tags)
            left = [(one.row, one.text) for one in taken.faults]
        else:
            after, outcomes = replay(lines, self.store.job, self.store.plan.codebook)
            left = [(one.number, one.fault) for one in outcomes if one.fault]
            made = len(outcomes) - len(left)
        if made:
            self.store.edit(f"paste {made} circuits", lambda _job: after)
        told = "; ".join(f"row {number}: {fault.rstrip('.')}" for number, fault in left[:4])
        more = f"; and {len(left) - 4} more" if len(left) > 4 else ""
        self.store.notice(
            f"{made} circuits written down"
            + (f", {len(left)} rows {'to look at' if rows is not None else 'left'}: {told}{more}." if left else "."),
            serious=bool(left),
        )

    def say(self, text: str) -> None:
        self.fault.setText(text)
        self.fault.setVisible(bool(text))
