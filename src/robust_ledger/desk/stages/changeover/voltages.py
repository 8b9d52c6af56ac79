"""Voltages at meter and panel, judged as they are entered; a simulated tester with a hidden fault to try it with."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QCheckBox, QGridLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from robust_ledger.changeover import clock as day_clock
from robust_ledger.changeover.record import measured, stamp, unmeasured
from robust_ledger.changeover.recorded import moment_words
from robust_ledger.changeover.volts import POINT_WORDS, Judgement, judged, judged_at
from robust_ledger.desk.kit.fields import Choice, keep_typing
from robust_ledger.desk.kit.flow import FlowLayout
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.job.parts.record import Volts
from robust_ledger.ledger.entry import Severity
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import number_text
from robust_ledger.measure.simulate.tester import FAULTS, Service, SimulatedTester
from robust_ledger.plan import Plan

FIGURES = (("leg_to_leg", "Leg to leg"), ("a_to_neutral", "Leg A to neutral"), ("b_to_neutral", "Leg B to neutral"),
           ("neutral_to_ground", "Neutral to ground"))  # fmt: skip
CAUTION = "The hold is passed with all of them good: line side, load side, the panel behind the open main, the panel with the main on."


class VoltagesPage(Page):
    """Point and readings above, the judgement in plain words, what was measured below."""

    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.point = Choice()
        self.point.setAccessibleName("Measured at")
        for key, words in POINT_WORDS.items():
            self.point.addItem(words, key)
        self.main = Choice()
        self.main.setAccessibleName("The main is")
        for value, words in ((None, "main: not entered"), (True, "main open"), (False, "main on")):
            self.main.addItem(words, value)
        self.load = Choice()
        self.load.setAccessibleName("Load")
        for value, words in ((None, "load: not entered"), (False, "no load"), (True, "loaded")):
            self.load.addItem(words, value)
        self.low_z = QCheckBox("&Low-impedance tester")
        self.lines: dict[str, QLineEdit] = {}
        for name, words in FIGURES:
            line = QLineEdit()
            line.setAccessibleName(words)
            line.setPlaceholderText("V")
            line.setFixedWidth(90)
            line.textEdited.connect(lambda _text: self._judge())
            line.returnPressed.connect(self._write)
            keep_typing(line, store, words.lower())
            self.lines[name] = line
        for choice in (self.point, self.main, self.load):
            choice.activated.connect(lambda _n: self._judge())
        self.low_z.clicked.connect(lambda _on: self._judge())
        self.verdict = label("", "verdict")
        self.verdict.setWordWrap(True)
        self.reason = label("", "live")
        self.reason.setWordWrap(True)
        self.table = LedgerTable(
            "Voltages measured",
            [
                Column("At", 118),
                Column("Point", 150),
                Column("Main", 52),
                Column("A–B", 56, True),
                Column("A–N", 56, True),
                Column("B–N", 56, True),
                Column("N–G", 50, True),
                Column("Judged", 0),
            ],
            row_height=24,
        )
        self.table.when_empty = "Nothing measured yet."
        self.table.removal_asked.connect(self._drop)
        self.tester: SimulatedTester | None = None
        self._lay_out()

    def _lay_out(self) -> None:
        self.write = QPushButton("&Write it down")
        self.write.setProperty("role", "main")
        self.write.clicked.connect(self._write)
        self.faults = Choice()
        self.faults.setAccessibleName("Fault of the simulated service")
        self.faults.addItem("a hidden fault", "")
        for fault in FAULTS:
            self.faults.addItem(fault, fault)
        self.faults.activated.connect(lambda _n: self._forget())
        self.measure = QPushButton("&Measure with the simulated tester")
        self.measure.clicked.connect(self._measure)
        grid = QGridLayout()
        for number, (name, words) in enumerate(FIGURES):
            text = label(words, "faint")
            text.setBuddy(self.lines[name])
            grid.addWidget(text, 0, number)
            grid.addWidget(self.lines[name], 1, number)
        grid.setColumnStretch(len(FIGURES), 1)
        above = QWidget()
        top = FlowLayout(above)
        for chooser in (self.point, self.main, self.load, self.low_z):
            top.addWidget(chooser)
        below = QWidget()
        foot = FlowLayout(below)
        for button in (self.write, self.measure, self.faults):
            foot.addWidget(button)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(above)
        column.addLayout(grid)
        column.addWidget(self.verdict)
        column.addWidget(self.reason)
        column.addWidget(below)
        column.addWidget(self.table, 1)
        caution = label(CAUTION, "faint")
        caution.setWordWrap(True)
        column.addWidget(caution)

    def start(self) -> None:
        self.lines["leg_to_leg"].setFocus()

    def go_to(self, place: Place) -> bool:
        if place.kind != "volts":
            return False
        at = self.point.findData(place.name)
        if at >= 0:
            self.point.setCurrentIndex(at)
        self.lines["leg_to_leg"].setFocus()
        return True

    def show_plan(self, plan: Plan) -> None:
        rows = []
        for number, reading in enumerate(plan.job.record.readings):
            found = judged(reading, supply=plan.job.dwelling.supply)
            main = "" if reading.main_open is None else "open" if reading.main_open else "on"
            shown = [
                number_text(v, 1) if v is not None else "" for v in (getattr(reading, name) for name, _words in FIGURES)
            ]
            words = found.words + (" (simulated)" if reading.simulated else "")
            rows.append(
                Row(
                    str(number),
                    (moment_words(reading.at), POINT_WORDS[reading.point], main, *shown, words),
                    "",
                    () if found.good else (7,),
                )
            )
        self.table.show_rows(rows[::-1])
        self._judge()

    def _reading(self) -> Volts:
        """What stands in the fields. Raises ValueError naming the one that is no number."""
        values: dict[str, Any] = {}
        for name, words in FIGURES:
            text = self.lines[name].text().strip().lower().removesuffix("v").strip()
            if not text:
                continue
            try:
                values[name] = float(text)
            except ValueError:
                raise ValueError(f'{words}: "{self.lines[name].text().strip()}" is no reading in volts.') from None
        return Volts.read(
            {
                "point": self.point.currentData(),
                "main_open": self.main.currentData(),
                "loaded": self.load.currentData(),
                "low_z": True if self.low_z.isChecked() else None,
                **values,
            }
        )

    def _judge(self) -> None:
        """Say what the fields mean, as they are typed."""
        try:
            reading = self._reading()
        except ValueError as problem:
            self._say(Judgement("not measured", None, str(problem)))
            return
        if all(getattr(reading, name) is None for name, _words in FIGURES):
            point = self.point.currentData()
            before = judged_at(self.store.job.record.readings, point, supply=self.store.job.dwelling.supply)
            self._say(before)
            return
        self._say(judged(reading, supply=self.store.job.dwelling.supply))

    def _say(self, found: Judgement) -> None:
        lead = "GOOD" if found.good and found.reason else found.severity or ""
        self.verdict.setText(f"{lead}  {found.words}".strip())
        self.reason.setText(" ".join(part for part in (f"{found.reason}." if found.reason else "", found.do) if part))
        bad = found.severity in (Severity.STOP, Severity.FIX)
        self.verdict.setProperty("role", "alarm" if bad else "verdict")
        there(self.verdict.style()).polish(self.verdict)

    def _write(self) -> None:
        try:
            reading = self._reading()
        except ValueError as problem:
            self.store.notice(str(problem), serious=True)
            return
        self._take(reading.changed(at=stamp(day_clock.now())))

    def _take(self, reading: Volts) -> None:
        if all(getattr(reading, name) is None for name, _words in FIGURES):
            self.store.notice("Nothing is entered to write down.")
            return
        if self.store.edit(f"write down voltages, {POINT_WORDS[reading.point]}", lambda job: measured(job, reading)):
            for line in self.lines.values():
                line.clear()
            self._judge()

    def _forget(self) -> None:
        self.tester = None

    def _measure(self) -> None:
        """Put the simulated tester to the point; it is told apart wherever it shows."""
        if self.tester is None:
            chosen = self.faults.currentData()
            minute = int(day_clock.now().timestamp() // 60)
            self.tester = SimulatedTester(Service(chosen or FAULTS[minute % len(FAULTS)]), minute)
        reading = self.tester.read(
            self.point.currentData(),
            main_open=bool(self.main.currentData()),
            loaded=bool(self.load.currentData()),
            low_z=self.low_z.isChecked(),
        )
        self._take(reading.changed(at=stamp(day_clock.now())))

    def _drop(self, keys: list[str]) -> None:
        gone = {int(key) for key in keys}
        self.store.edit("take out voltages", lambda job: unmeasured(job, gone))
