"""The first start: three things that are the same on every job. They become profiles that new jobs start from; all of it can be skipped."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from robust_ledger.desk.kit.fields import Choice
from robust_ledger.desk.kit.words import Label, label
from robust_ledger.job.readers.quantity import QuantityError, read_inches
from robust_ledger.jobbook.first import FirstAnswers, keep_first
from robust_ledger.jobbook.profile_store import ProfileStore
from robust_ledger.jobbook.profiles import ProfileError
from robust_ledger.ledger.editions import DEFAULT_EDITION, EDITIONS

HIGHEST_IN = 120  # no meter is set higher


class FirstRun(QFrame):
    """Edition, the utility's meter heights, the company's heading."""

    over = pyqtSignal()

    def __init__(self, profile_store: ProfileStore) -> None:
        super().__init__()
        self.profile_store = profile_store
        self.setObjectName("notice")
        self.edition = Choice()
        self.edition.setAccessibleName("Code edition")
        for edition in EDITIONS:
            self.edition.addItem(f"NEC {edition}", edition)
        self.edition.setCurrentIndex(self.edition.findData(DEFAULT_EDITION))
        self.ahj = _line("AHJ by name", "county or city")
        self.utility = _line("Utility", "name")
        self.low, self.high = (
            _line("Lowest meter center, in", "lowest, in"),
            _line("Highest meter center, in", "highest, in"),
        )
        self.company, self.license = _line("Company", "name for the head of every sheet"), _line("License", "license")
        self.fault = label("", "fault")
        keep, skip = QPushButton("&Keep for every job"), QPushButton("S&kip")
        keep.clicked.connect(self._keep)
        skip.clicked.connect(self.over)
        grid, row, column = QGridLayout(), QHBoxLayout(), QVBoxLayout(self)
        asked: tuple[tuple[str, tuple[QWidget, ...]], ...] = (
            ("Code edition in force", (self.edition, self.ahj)),
            ("Utility, and its window for the meter's center above grade", (self.utility, self.low, self.high)),
            ("Company, and license", (self.company, self.license)),
        )
        for number, (words, fields) in enumerate(asked):
            grid.addWidget(Label(words), number, 0)
            for place, field in enumerate(fields, 1):
                grid.addWidget(field, number, place)
        row.addWidget(self.fault, 1)
        row.addWidget(keep)
        row.addWidget(skip)
        column.addWidget(label("Three things that are the same on every job", "section"))
        column.addLayout(grid)
        column.addLayout(row)

    def _keep(self) -> None:
        """Make a profile of each that something was said of, for new jobs."""
        try:
            texts = {name: getattr(self, name).text().strip() for name in ("ahj", "utility", "company", "license")}
            low, high = (read_inches(line.text(), HIGHEST_IN) for line in (self.low, self.high))
            said = FirstAnswers(self.edition.currentData(), meter_low_in=low, meter_high_in=high, **texts)
            keep_first(self.profile_store, said)
        except (QuantityError, ProfileError) as problem:
            self.fault.setText(str(problem))
        else:
            self.over.emit()


def _line(name: str, hint: str) -> QLineEdit:
    line = QLineEdit()
    line.setAccessibleName(name)
    line.setPlaceholderText(hint)
    return line
