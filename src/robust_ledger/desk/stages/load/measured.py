"""Measured demand: a recording is read, checked, looked at, and taken into the job once the user agrees to it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from robust_ledger.desk.kit.examples import EXAMPLES
from robust_ledger.desk.kit.fields import Choice
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.words import Label, label
from robust_ledger.desk.kit.worker import ProgressRow, Worker
from robust_ledger.desk.stages.load.measured_fields import build_said, with_measured
from robust_ledger.desk.stages.load.measured_plot import DurationPlot, RecordingPlot
from robust_ledger.job.parts.measured import Measured
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.progress import Progress, go_on
from robust_ledger.ledger.text import number_text
from robust_ledger.measure.metering.checks import Series, checked, service_limit_kw
from robust_ledger.measure.metering.crowds import lines_of, ticked_with
from robust_ledger.measure.metering.csv_reader import Guess, Reading, guess
from robust_ledger.measure.metering.demand import Demand, reduce, to_measured
from robust_ledger.measure.metering.read import guess_file, read_recording
from robust_ledger.measure.metering.recording import UNITS, MeterFileError, Recording
from robust_ledger.plan import Plan

FILTER = "Interval data (*.csv *.txt *.tsv *.xml);;All files (*)"
_DELIMITERS = ((",", "comma"), (";", "semicolon"), ("\t", "tab"), ("|", "bar"))
_ORDERS = (("ymd", "year-month-day"), ("mdy", "month/day/year"), ("dmy", "day.month.year"))


class MeasuredPage(Page):
    """Open, confirm how it is read, look at what is wrong, leave readings out by a tick, use it."""

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.path: Path | None = None
        self.guess: Guess | None = None
        self.recording: Recording | None = None
        self.series: Series | None = None
        self.demand: Demand | None = None
        self.excluded: set[str] = set()
        self.shown: str | None = None
        self.opened = 0
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 2, 0, 0)
        column.setSpacing(5)
        column.addLayout(self._build_file_row())
        column.addWidget(self._build_reading_row())
        self.fault = label("", "fault")
        self.fault.setWordWrap(True)
        self.fault.hide()
        column.addWidget(self.fault)
        self.progress = ProgressRow()
        column.addWidget(self.progress)
        self.plot = RecordingPlot()
        column.addWidget(self.plot, 3)
        self.result = label("", "live")
        self.result.setWordWrap(True)
        column.addWidget(self.result)
        lower = QHBoxLayout()
        lower.setSpacing(12)
        self.issues = QListWidget()
        self.issues.setAccessibleName("What is wrong in the recording; ticked readings are left out")
        self.issues.itemChanged.connect(self._issue_ticked)
        self.issues.currentRowChanged.connect(self._issue_chosen)
        self.issues.setMinimumHeight(96)
        self.issues.setWordWrap(True)
        self.issues.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.issues.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)
        lower.addWidget(self.issues, 5)
        self.duration = DurationPlot()
        lower.addWidget(self.duration, 4)
        column.addLayout(lower, 2)
        self.said = build_said(self.store)
        for form in self.said:
            column.addWidget(form)

    # --- building -------------------------------------------------------------------------------------------------
    def _build_file_row(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.open_button = QPushButton("O&pen a recording…")
        self.open_button.clicked.connect(self.ask_open)
        self.source = Label()
        self.use_button = QPushButton("Use this recordin&g")
        self.use_button.setProperty("role", "main")
        self.use_button.clicked.connect(self._use)
        self.drop_button = QPushButton("&Forget it")
        self.drop_button.clicked.connect(
            lambda: self.store.edit("forget the recording", lambda job: with_measured(job, None))
        )
        row.addWidget(self.open_button)
        row.addWidget(self.source, 1)
        row.addWidget(self.drop_button)
        row.addWidget(self.use_button)
        return row

    def _build_reading_row(self) -> QWidget:
        """How a text file is read: what was guessed, to be confirmed or changed."""
        self.reading_row = QWidget()
        row = QHBoxLayout(self.reading_row)
        row.setContentsMargins(0, 0, 0, 0)
        self.delimiter, self.column, self.unit, self.order = Choice(), Choice(), Choice(), Choice()
        for box, words, choices in (
            (self.delimiter, "Delimiter", _DELIMITERS),
            (self.column, "Reading", ()),
            (self.unit, "Unit", tuple((unit, unit) for unit in UNITS)),
            (self.order, "Dates", _ORDERS),
        ):
            name = Label(words)
            name.setProperty("role", "faint")
            name.setBuddy(box)
            box.setAccessibleName(words)
            for value, text in choices:
                box.addItem(text, value)
            box.activated.connect(lambda _index: self._confirm())
            row.addWidget(name)
            row.addWidget(box)
        row.addStretch(1)
        self.reading_row.hide()
        return self.reading_row

    # --- showing --------------------------------------------------------------------------------------------------
    def start(self) -> None:
        self.open_button.setFocus(Qt.FocusReason.OtherFocusReason)
        self.store.choose_entries(("load.measured.demand", "load.measured.open"))

    def stop(self) -> None:
        self.progress.cancel(wait=True)

    def apply_look(self) -> None:
        self.plot.apply_look()
        self.duration.apply_look()
        if self.demand:
            self._show_demand()

    def go_to(self, place: Place) -> bool:
        return any(form.focus_place(place) for form in self.said) or place.startswith("measured")

    def show_plan(self, plan: Plan) -> None:
        measured = plan.job.measured
        self.drop_button.setEnabled(measured is not None)
        ticks, figures = self.said
        ticks.setVisible(measured is not None and measured.route == "thirty_days")
        figures.setVisible(measured is not None)
        for form in self.said:
            form.refresh()
        if self.opened != self.store.opened:
            self.opened, self.path, self.guess, self.shown, self.excluded = self.store.opened, None, None, None, set()
            self._complain("")
        source = measured.source if measured else ""
        if source != self.shown and self.path is None:
            self.shown = source
            self._read_again(measured)
        self._show_state()

    def _show_state(self) -> None:
        """Which file is shown, and whether it is the one in use."""
        measured = self.store.job.measured
        in_use = bool(measured and self.demand and measured == self._as_measured())
        if self.path is not None:
            self.source.setText(f"{self.path.name}, {'in use' if in_use else 'not in use yet'}")
        elif measured:
            self.source.setText(f"{measured.source}, in use; the file itself is not here")
        else:
            self.source.setText(
                "No recording yet: the utility's interval data (CSV or ESPI XML), or 30 days of a recorder."
            )
        self.use_button.setEnabled(self.demand is not None and not in_use)
        own = measured is not None and (self.path is None or self.path.name == Path(measured.source).name)
        if self.demand is None and own and measured and measured.peak is not None:
            self.result.setText(
                f"Maximum demand {measured.peak:g} {measured.peak_unit} at {measured.peak_at}, {measured.days:g} days."
            )

    # --- reading --------------------------------------------------------------------------------------------------
    def ask_open(self) -> None:
        folder = self.path.parent if self.path else self.store.folder
        shipped = EXAMPLES / "interval-data"
        start = folder or (shipped if shipped.exists() else Path.home())
        name, _ = QFileDialog.getOpenFileName(self, "Open a demand recording", str(start), FILTER)
        if name:
            self.open_path(Path(name))

    def open_path(self, path: Path) -> None:
        """Look at a file, guess how it is to be read, and read it so."""
        try:
            found = guess_file(path)
        except MeterFileError as problem:
            self._complain(str(problem))
            return
        self.path, self.guess, self.excluded = path, found, set()
        self._show_guess()
        if found is not None and not found.unit_known:  # figures of no unit are no demand
            self._clear_result()
            return
        self._read(found.reading if found else None)

    def _clear_result(self) -> None:
        self.series = self.demand = None
        self.plot.clear_all()
        self.duration.clear_all()
        self.issues.clear()
        self.result.setText("")
        self._show_state()

    def _read_again(self, measured: Measured | None) -> None:
        """Show the recording a job rests on, if its file is still there."""
        self.series = self.demand = None
        self.plot.clear_all()
        self.duration.clear_all()
        self.issues.clear()
        self.reading_row.hide()
        self.result.setText("")
        path = self.store.beside.find(measured.source) if measured else None
        if measured is None or path is None:
            return
        try:
            self.guess = guess_file(path)
            reading = Reading.from_dict(measured.reading) if self.guess and measured.reading else None
        except MeterFileError as problem:
            self._complain(str(problem))
            return
        self.path = path
        if self.guess and reading:
            self.guess = replace(self.guess, reading=reading, doubts=(), unit_known=True)
        self._show_guess()
        self._read(self.guess.reading if self.guess else None)

    def _show_guess(self) -> None:
        found = self.guess
        self.reading_row.setVisible(found is not None)
        self._complain(" ".join(found.doubts) if found else "")
        if found is None:
            return
        self.column.clear()
        reading = found.reading
        for number, head in enumerate(found.heads):
            if number not in (reading.date_column, reading.time_column):
                self.column.addItem(head, (number,))
        if legs := found.legs or (reading.columns if len(reading.columns) == 2 else None):
            self.column.addItem("both legs", tuple(legs))
        for box, value in (
            (self.delimiter, reading.delimiter),
            (self.column, reading.columns),
            (self.unit, reading.unit if found.unit_known else None),
            (self.order, reading.date_order),
        ):
            box.setCurrentIndex(next((n for n in range(box.count()) if box.itemData(n) == value), -1))

    def _confirm(self) -> None:
        """Read anew as the boxes say; another delimiter means looking at the columns anew too."""
        if self.guess is None or self.path is None:
            return
        old = self.guess.reading
        if self.delimiter.currentData() != old.delimiter:
            self._cut_anew(self.delimiter.currentData())
            return
        chosen: dict[str, Any] = {
            "columns": tuple(self.column.currentData()),
            "unit": self.unit.currentData(),
            "date_order": self.order.currentData(),
        }
        if chosen["unit"] is None:
            self._complain(
                "Choose the unit of the readings: kWh, kW or A, as the recorder's setting or the utility says."
            )
            return
        reading = Reading(**{**old.as_dict(), **chosen})
        self.guess = replace(self.guess, reading=reading, doubts=(), unit_known=True)
        self._complain("")
        self._read(reading)

    def _cut_anew(self, delimiter: str) -> None:
        """Look at the columns as another delimiter cuts them; where that gives none, all stays as it was."""
        assert self.path is not None and self.guess is not None
        try:
            self.guess = guess(self.path, delimiter)
        except MeterFileError as problem:
            self.delimiter.setCurrentIndex(self.delimiter.findData(self.guess.reading.delimiter))
            self._complain(f"Not with this delimiter: {problem} It is shown as it was.")
            return
        self._show_guess()
        if self.guess.unit_known:
            self._read(self.guess.reading)
        else:
            self._clear_result()

    def _read(self, reading: Reading | None) -> None:
        path, limit_kw = (
            self.path,
            service_limit_kw(self.store.job.old_panel.main_a, self.store.plan.load.inputs.line_volts.amount),
        )
        assert path is not None

        excluded = set(self.excluded)

        def work(progress: Progress) -> tuple[Recording, Series, Demand | str]:
            recording = read_recording(path, reading, progress)
            series = checked(recording, limit_kw)
            go_on(progress, 1.0)
            try:
                return recording, series, reduce(series, excluded)
            except MeterFileError as problem:
                return recording, series, str(problem)

        worker = Worker(work, (MeterFileError,))
        self.progress.run(f"Reading {path.name}", worker, self._read_done, self._read_failed)

    def _read_done(self, answer: tuple[Recording, Series, Demand | str]) -> None:
        self.recording, self.series, reduced = answer
        faults = self.recording.faults
        if faults:
            more = f" and {len(faults) - 3} more" if len(faults) > 3 else ""
            self._complain(f"Left out: {' '.join(faults[:3])}{more}")
        if isinstance(reduced, str):
            self._read_failed(reduced)
            return
        self.demand = reduced
        self._show_demand()
        self._show_state()
        self._show_issues()

    def _read_failed(self, sentence: str) -> None:
        self.series = self.demand = None
        self._complain(sentence)
        self.plot.clear_all()
        self.duration.clear_all()
        self.issues.clear()
        self.result.setText("")
        self._show_state()

    def _reduce(self) -> None:
        if self.series is None:
            return
        try:
            self.demand = reduce(self.series, self.excluded)
        except MeterFileError as problem:
            self._complain(str(problem))
            return
        self._show_demand()
        self._show_state()

    # --- results --------------------------------------------------------------------------------------------------
    def _show_demand(self) -> None:
        demand = self.demand
        assert demand is not None
        self.plot.show_demand(demand, self.excluded)
        self.duration.show_demand(demand)
        self.result.setText(_summary(demand))

    def _show_issues(self) -> None:
        series = self.series
        assert series is not None
        self.issues.blockSignals(True)
        row = self.issues.currentRow()
        self.issues.clear()
        for note in series.notes:
            self.issues.addItem(note)
        for issue, words in lines_of(series):
            item = QListWidgetItem(words)
            if issue.excludable:
                item.setFlags(
                    Qt.ItemFlag.ItemIsUserCheckable | Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
                )
                item.setCheckState(Qt.CheckState.Checked if issue.key in self.excluded else Qt.CheckState.Unchecked)
                item.setToolTip("Ticked: left out of the maximum demand")
            else:
                item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable)
            item.setData(Qt.ItemDataRole.UserRole, issue.key)
            self.issues.addItem(item)
        if self.demand and len(self.demand.months) > 1:
            highest = ", ".join(f"{month[5:]}: {number_text(top, 1)}" for month, top in self.demand.months.items())
            self.issues.addItem(f"Highest by month, {series.unit}: {highest}")
        if not series.issues:
            self.issues.addItem("Nothing wrong was found: no gaps, doubles, resets or spikes.")
        self.issues.setCurrentRow(row)
        self.issues.blockSignals(False)

    def _issue_ticked(self, item: QListWidgetItem) -> None:
        key = item.data(Qt.ItemDataRole.UserRole)
        keys = {key, *ticked_with(self.series, key)} if self.series else {key}
        if item.checkState() == Qt.CheckState.Checked:
            self.excluded |= keys
        else:
            self.excluded -= keys
        self._reduce()  # the list stays as it is: it must not be taken apart while it tells of a tick

    def _issue_chosen(self, row: int) -> None:
        item = self.issues.item(row)
        key = item.data(Qt.ItemDataRole.UserRole) if item else None
        issue = next((i for i in self.series.issues if i.key == key), None) if self.series else None
        if issue:
            self.plot.look_at(issue)

    def _as_measured(self) -> Measured:
        assert self.demand is not None and self.path is not None
        reading = self.guess.reading.as_dict() if self.guess else {}
        source = _relative(self.path, self.store.folder)
        return to_measured(self.demand, source, reading, self.store.job.measured)

    def _use(self) -> None:
        assert self.path is not None
        measured = self._as_measured()
        self.shown = measured.source
        path = self.path
        self.store.edit("use the recording", lambda job: with_measured(job, measured))
        self.store.goes_along(measured.source, path)
        self.store.choose_entries(("load.measured.demand", "load.measured.open"))

    def _complain(self, sentence: str) -> None:
        self.fault.setText(sentence)
        self.fault.setVisible(bool(sentence))


def _summary(demand: Demand) -> str:
    legs = ""
    if len(demand.leg_peaks) == 2:
        a, b = (number_text(peak, 1) for peak in demand.leg_peaks)
        legs = f" Leg A {a}, leg B {b} {demand.series.unit}."
    left_out = f" {demand.excluded} readings left out." if demand.excluded else ""
    missing = f" Missing: {', '.join(demand.missing[:2])}." if demand.missing and demand.coverage < 1 else ""
    return (
        f"Maximum demand {demand.peak_text}.{legs} {number_text(demand.days, 0)} days every {demand.series.interval_min} min, "
        f"{number_text(demand.coverage * 100, 1)}% there.{missing}{left_out}"
    )


def _relative(path: Path, folder: Path | None) -> str:
    """The file's name as the job keeps it: below the job's folder where it is, else its bare name."""
    try:
        return path.resolve().relative_to(folder.resolve()).as_posix() if folder else path.name
    except ValueError:
        return path.name
