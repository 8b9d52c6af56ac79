"""What the jobs of the book tell together: how they stand, defects that come up again, one's own minutes, hours."""

from __future__ import annotations

from PyQt6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import label
from robust_ledger.jobbook.index import BookSummary
from robust_ledger.jobbook.summary import own_minutes, summary_words


class SummaryPage(QDialog):
    """Two tables and a sentence."""

    def __init__(self, parent: QWidget, tells: BookSummary) -> None:
        super().__init__(parent)
        self.setWindowTitle("What the jobs tell")
        self.defects = LedgerTable("Defects found", [Column("Defect found", 0), Column("Jobs", 60, True)])
        self.minutes = LedgerTable(
            "Own minutes",
            [
                Column("Task, each time", 0),
                Column("Days", 50, True),
                Column("Least", 56, True),
                Column("Usual", 56, True),
                Column("Most", 56, True),
                Column("Planned", 66, True),
            ],
        )
        self.defects.when_empty, self.minutes.when_empty = "No defect noted yet.", "No day recorded yet."
        self.defects.show_rows([Row(kind, (kind, str(many))) for kind, many in tells.defects])
        self.minutes.show_rows(
            [
                Row(
                    one.task,
                    (one.words, str(one.days), *(f"{m:.0f}" for m in (one.least, one.usual, one.most, one.planned))),
                )
                for one in own_minutes(tells)
            ]
        )
        self.words = label(summary_words(tells), "section")
        note = label(
            "New jobs plan their day with these minutes: four days of your own count as much as the catalogue.", "faint"
        )
        close = QPushButton("&Close")
        close.clicked.connect(self.reject)
        tables, foot, column = QHBoxLayout(), QHBoxLayout(), QVBoxLayout(self)
        tables.addWidget(self.defects, 2)
        tables.addWidget(self.minutes, 3)
        foot.addWidget(note, 1)
        foot.addWidget(close)
        column.addWidget(self.words)
        column.addLayout(tables, 1)
        column.addLayout(foot)
        self.resize(LOOK.px(980), LOOK.px(520))
