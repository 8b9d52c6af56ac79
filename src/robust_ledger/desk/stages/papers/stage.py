"""Papers: every sheet as it will print, what is missing for it, and the heading they share."""

from __future__ import annotations

import tempfile
from pathlib import Path

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPdfWidgets import QPdfView
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from robust_ledger.desk.kit.fields import Form, TextField, of
from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.stage import Stage, label
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import reason_of
from robust_ledger.papers.packet import write_packet, write_sheet
from robust_ledger.papers.sheet import all_sheets
from robust_ledger.plan import Plan

_HEADING = (
    ("title", "Job"), ("address", "Address"), ("customer", "Customer"), ("electrician", "Electrician"),
    ("license", "License no."), ("permit", "Permit"), ("date", "Date"), ("notes", "Notes"),
)  # fmt: skip


class PapersStage(Stage):
    """Sheets on the left, the chosen one as it prints on the right: the very PDF, not a likeness of it."""

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.folder = tempfile.TemporaryDirectory(prefix="robust-ledger-")
        self.document = QPdfDocument(self)
        self.view = QPdfView(self)
        self.view.setPageMode(QPdfView.PageMode.MultiPage)
        self.view.setZoomMode(QPdfView.ZoomMode.FitToWidth)
        self.view.setDocument(self.document)
        self.view.setAccessibleName("The sheet as it prints")
        self.sheets = QListWidget()
        self.sheets.setAccessibleName("Sheets")
        self.sheets.setWordWrap(True)
        for sheet in all_sheets():
            self.sheets.addItem(QListWidgetItem(sheet.title))
        self.sheets.setCurrentRow(0)
        self.sheets.currentRowChanged.connect(lambda _: self._render_soon())
        self.heading = Form()
        for row, (name, words) in enumerate(_HEADING):
            self.heading.add(
                f"heading:{name}",
                TextField(
                    store,
                    words,
                    *of("heading", name),
                    str.strip,
                ),
                row,
            )
        self.export_button = QPushButton("&Write all sheets…")
        self.export_button.setProperty("role", "main")
        self.export_button.clicked.connect(self.ask_export)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(120)
        self._timer.timeout.connect(self._render)
        self._lay_out()

    def _lay_out(self) -> None:
        left = QVBoxLayout()
        left.setContentsMargins(0, 0, 0, 0)
        left.addWidget(label("Sheets", "section"))
        left.addWidget(self.sheets)
        left.addWidget(self.export_button)
        left.addSpacing(10)
        left.addWidget(label("Heading, on every sheet", "section"))
        left.addWidget(self.heading)
        left.addStretch(1)
        self.left = QWidget()
        self.left.setLayout(left)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(18, 12, 14, 10)
        outer.addWidget(label("Papers: as they will print", "heading"))
        columns = QHBoxLayout()
        columns.setSpacing(16)
        columns.addWidget(self.left)
        columns.addWidget(self.view, 1)
        outer.addLayout(columns, 1)

    def start(self) -> None:
        self.sheets.setFocus(Qt.FocusReason.OtherFocusReason)
        self._render_soon()

    def apply_look(self) -> None:
        self.left.setFixedWidth(LOOK.px(290))
        self.sheets.setFixedHeight(LOOK.px(46 * len(all_sheets()) + 8))

    def show_plan(self, plan: Plan) -> None:
        self.heading.refresh()
        for number, sheet in enumerate(all_sheets()):
            missing = sheet.missing(plan)
            words = f"{sheet.title}\nmissing: {', '.join(missing)}" if missing else f"{sheet.title}\nready"
            there(self.sheets.item(number)).setText(words)
        if self.isVisible():
            self._render_soon()

    def go_to(self, place: Place) -> bool:
        return self.heading.focus_place(place)

    def stop(self) -> None:
        self._timer.stop()

    def _render_soon(self) -> None:
        self._timer.start()

    def _render(self) -> None:
        """Write the chosen sheet and show that file."""
        sheet = all_sheets()[max(0, self.sheets.currentRow())]
        try:
            path = write_sheet(sheet, self.store.plan, Path(self.folder.name) / f"{sheet.name}.pdf")
        except OSError as problem:
            self.store.notice(f"The sheet cannot be shown: {reason_of(problem)}.", serious=True)
            return
        self.document.load(str(path))

    def ask_export(self) -> None:
        """Ask for a folder and write every sheet there."""
        start = str(self.store.path.parent if self.store.path else Path.home())
        folder = QFileDialog.getExistingDirectory(self, "Write all sheets to", start)
        if folder:
            self.export(Path(folder))

    def export(self, folder: Path) -> None:
        """Write every sheet into a folder; one sentence says what came of it."""
        stem = self.store.path.name.removesuffix(".json").removesuffix(".ledger") if self.store.path else "job"
        try:
            paths = write_packet(self.store.plan, folder, stem)
        except OSError as problem:
            self.store.notice(
                f"The sheets could not be written to {folder}: {reason_of(problem)}.",
                serious=True,
            )
            return
        self.store.notice(f"Written to {folder}: {', '.join(path.name for path in paths)}.")
