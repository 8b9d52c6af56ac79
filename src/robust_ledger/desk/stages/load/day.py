"""The simulated day: what flows through the main minute by minute, against the sum of all the handles."""

from __future__ import annotations

from typing import Any

from msgspec import Struct
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QSpinBox, QVBoxLayout

from robust_ledger.desk.kit.fields import Choice
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import Label, label
from robust_ledger.desk.kit.worker import ProgressRow, Worker
from robust_ledger.desk.stages.load.day_plot import DayPlot
from robust_ledger.job.readers.numbers import temperature_text
from robust_ledger.ledger.progress import Progress
from robust_ledger.ledger.text import number_text
from robust_ledger.load.whatif import states
from robust_ledger.measure.simulate.house import House, house_of
from robust_ledger.measure.simulate.study import Day, Study, day_of, notable_days, study
from robust_ledger.measure.simulate.trip import TripCurve
from robust_ledger.measure.simulate.year import Year, simulate_year
from robust_ledger.plan import Plan, plan

RUNS = 200
CURVE = TripCurve()


class Simulated(Struct, frozen=True):
    """A year that was simulated, and its days worth looking at."""

    year: Year
    days: dict[str, int]


class DayPage(Page):
    """Which house, which year, which day; the day's plot, its circuits, and what 200 years say."""

    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.simulated: Simulated | None = None
        self.study: Study | None = None
        self.shown: Day | None = None
        self.of: Any = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 2, 0, 0)
        column.setSpacing(5)
        column.addLayout(self._build_choices())
        self.progress = ProgressRow()
        column.addWidget(self.progress)
        self.plot = DayPlot()
        column.addWidget(self.plot, 5)
        self.words = label("", "live")
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        lower = QHBoxLayout()
        self.table = LedgerTable(
            "Circuits on this day",
            [Column("Circuit (choose one to see it)", 0), Column("A", 52, True), Column("at", 56, True)],
            row_height=20,
        )
        self.table.chosen.connect(self._circuit_chosen)
        lower.addWidget(self.table, 4)
        self.report = Label()
        self.report.setWordWrap(True)
        self.report.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.report.setTextInteractionFlags(
            Qt.TextInteractionFlag.TextSelectableByMouse | Qt.TextInteractionFlag.TextSelectableByKeyboard
        )
        self.report.setAccessibleName("What many years say")
        lower.addWidget(self.report, 5)
        column.addLayout(lower, 4)
        note = label(
            "Made up from this job's loads and our own assumptions about how people live (F1). It sizes nothing: it shows why "
            "adding up breaker handles means nothing.",
            "faint",
        )
        note.setWordWrap(True)
        column.addWidget(note)

    def _build_choices(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.house, self.day, self.seed = Choice(), Choice(), QSpinBox()
        for choice in (self.house, self.day):
            choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.seed.setRange(1, 9999)
        self.seed.setValue(1)
        self.seed.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        self.seed.setToolTip("Another number, another made-up year; up and down count on")
        self.seed.setKeyboardTracking(False)
        for box, words in ((self.house, "House"), (self.day, "Day"), (self.seed, "Year no.")):
            name = Label(words)
            name.setProperty("role", "faint")
            name.setBuddy(box)
            box.setAccessibleName(words)
            row.addWidget(name)
            row.addWidget(box)
        self.house.activated.connect(lambda _index: self._simulate())
        self.day.activated.connect(lambda _index: self._show_day())
        self.seed.valueChanged.connect(lambda _value: self._simulate())
        row.addStretch(1)
        self.study_button = QPushButton(f"&Simulate {RUNS} years")
        self.study_button.clicked.connect(self._study)
        row.addWidget(self.study_button)
        return row

    # --- showing --------------------------------------------------------------------------------------------------
    def start(self) -> None:
        self.house.setFocus(Qt.FocusReason.OtherFocusReason)

    def stop(self) -> None:
        self.progress.cancel(wait=True)

    def apply_look(self) -> None:
        self.table.resize_columns()
        self.plot.apply_look()
        self._show_day()

    def show_plan(self, plan: Plan) -> None:
        if self.of is plan.job:
            return
        self.of = plan.job
        wanted = self.house.currentData() or "after"
        self.house.clear()
        for key, title, _job in states(plan.job):
            self.house.addItem(title.lower(), key)
        self.house.setCurrentIndex(max(0, self.house.findData(wanted)))
        self._simulate()

    def _house(self) -> House | None:
        key = self.house.currentData()
        job = next((job for name, _title, job in states(self.store.job) if name == key), self.store.job)
        return house_of(self.store.plan if job is self.store.job else plan(job))

    def _simulate(self) -> None:
        """One year of the chosen house; quick, but beside the window all the same."""
        house = self._house()
        self.study = None
        self.report.setText(f"{RUNS} years say how often the main would trip, and what a clamp reading is worth.")
        if house is None or not house.sources:
            self.simulated = None
            self.plot.clear_all()
            self.table.show_rows([])
            self.words.setText(
                "There is nothing to simulate yet: the house needs a floor area, loads or circuits, and a main."
            )
            self.study_button.setEnabled(False)
            return
        self.study_button.setEnabled(True)
        seed = self.seed.value()

        def work(_progress: Progress) -> Simulated:
            year = simulate_year(house, seed)
            return Simulated(year, notable_days(year))

        self.progress.run("Simulating a year", Worker(work), self._year_done, self.words.setText)

    def _year_done(self, simulated: Simulated) -> None:
        self.simulated = simulated
        wanted = self.day.currentText() or next(iter(simulated.days))
        self.day.clear()
        for words, number in simulated.days.items():
            self.day.addItem(words, number)
        self.day.setCurrentIndex(max(0, self.day.findText(wanted)))
        self._show_day()

    def _show_day(self) -> None:
        if self.simulated is None or self.day.currentData() is None:
            return
        year = self.simulated.year
        day = self.shown = day_of(year, self.day.currentData(), CURVE)
        self.plot.show_day(day, year.house.main_a)
        self.words.setText(_day_words(day, year.house))
        rows = []
        for name, amperes in sorted(day.circuits, key=lambda one: -one[1].max()):
            if amperes.max() >= 0.05:
                at = int(amperes.argmax())
                rows.append(Row(name, (name, number_text(float(amperes.max()), 1), f"{at // 60:02d}:{at % 60:02d}")))
        self.table.show_rows(rows)

    def _circuit_chosen(self, name: str) -> None:
        """Show one circuit's own current through the day."""
        amperes = dict(self.shown.circuits).get(name) if self.shown else None
        if amperes is not None:
            self.plot.show_circuit(amperes)

    # --- many years -----------------------------------------------------------------------------------------------
    def _study(self) -> None:
        house, seed = self._house(), self.seed.value()
        if house is None:
            return
        worker = Worker(lambda progress: study(house, RUNS, seed, progress, CURVE))
        self.progress.run(f"Simulating {RUNS} years", worker, self._study_done, self.words.setText)

    def _study_done(self, made: Study) -> None:
        self.study = made
        self.report.setText(_report(made))


def _day_words(day: Day, house: House) -> str:
    top = day.legs.max(axis=1)
    at = int(day.legs[int(top.argmax())].argmax())
    trip = " The main would trip." if day.heat.max() >= 1 else ""
    left_out = f" Left out, rating not known: {', '.join(house.left_out)}." if house.left_out else ""
    return (
        f"Breaker handles add up to {number_text(house.handles_a)} A. On this day at most {top[0]:.0f} A flow on leg A and {top[1]:.0f} A on "
        f"leg B, at {at // 60:02d}:{at % 60:02d}; the main is {number_text(house.main_a)} A. "
        f"Outside {temperature_text(round(float(day.outdoor_c.min())))} to {temperature_text(round(float(day.outdoor_c.max())))} °F.{trip}{left_out}"
    )


def _report(made: Study) -> str:
    """What many years say, in sentences."""
    house, years = made.house, len(made.years)
    low, middle, high = (100 * part for part in made.clamp_quantiles())
    causes = ", ".join(f"{name} ({count})" for name, count in made.causes())
    chance = made.trip_chance * 100
    trips = (
        f"The main would trip in {chance:.0f}% of the years, {made.trips_a_year:.2f} times a year; then runs: {causes}."
        if made.trip_chance
        else f"The main never trips in {years} years."
    )
    running = ", ".join(f"{name} ({part * 100:.0f}%)" for name, part in made.at_peaks())
    curve = made.curve
    return (
        f"{years} years. Of {number_text(house.handles_a)} A of breaker handles the most that ever flows is "
        f"{made.highest_a:.0f} A; half of the years stay below {made.peak_quantile_a(0.5):.0f} A, "
        f"and below {made.demand_quantile_a(0.5):.0f} A over a quarter of an hour.\n"
        f"{trips}\nAt the peaks run: {running}.\n"
        f"A clamp at 3 pm reads {made.clamp_a():.0f} A on half of the days: {middle:.0f}% of that year's peak, and between "
        f"{low:.0f} and {high:.0f}% on eight days of ten. It is no maximum demand.\n"
        f"The main is taken to hold {curve.holds:.2f} × its rating for ever and to heat with a time constant of "
        f"{curve.minutes:g} min: 135% opens it in {(curve.seconds_to_trip(1.35) or 0) / 60:.0f} min, 200% in "
        f"{(curve.seconds_to_trip(2) or 0) / 60:.0f}."
    )
