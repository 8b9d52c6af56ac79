"""Every sheet as it will print, what is missing for it with a way there, and the heading they share."""

from __future__ import annotations

import tempfile
from pathlib import Path

from PyQt6.QtCore import QPointF, QSize, Qt, QTimer
from PyQt6.QtGui import QCursor, QHideEvent, QPainter, QShowEvent
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPdfWidgets import QPdfView
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import (
    QApplication,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QMenu,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from robust_ledger.desk.kit.fields import Choice, Form
from robust_ledger.desk.kit.flow import FlowLayout
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.specs import Fields
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import label
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import reason_of
from robust_ledger.papers.cut import stock
from robust_ledger.papers.packet import PACKETS, all_sheets, sheets_of, write_bound, write_packet, write_sheet
from robust_ledger.papers.sheet import Lack, Sheet
from robust_ledger.papers.sheets.permit_facts import facts as permit_facts
from robust_ledger.plan import Plan

_HEADING = ("title", "address", "customer", "electrician", "license", "permit", "date", "notes")
ALL = "all"
ZOOM = 1.25
PRINT_DPI = 300


class SheetsPage(Page):
    """The packet on the left, the chosen sheet as it prints on the right: the very PDF, not a likeness of it."""

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.folder = tempfile.TemporaryDirectory(prefix="robust-ledger-")
        self.document = QPdfDocument(self)
        self.view = QPdfView(self)
        self.view.setPageMode(QPdfView.PageMode.MultiPage)
        self.view.setZoomMode(QPdfView.ZoomMode.FitToWidth)
        self.view.setDocument(self.document)
        self.view.setAccessibleName("The sheet as it prints")
        self.packet = Choice()
        self.packet.setAccessibleName("Packet")
        self.packet.addItem("Every sheet", ALL)
        for key, words in PACKETS.items():
            self.packet.addItem(words, key)
        self.packet.activated.connect(lambda _n: self._list_again())
        f = Fields(store)
        self.paper = f("stock:page")[1]
        doors = [(key, one["words"]) for key, one in stock()["door"].items()]
        self.door = f("stock:door", choices=doors)[1]
        self.qr = f("stock:qr")[1]
        kinds = [(key, one["words"]) for key, one in stock()["labels"].items()]
        self.label_stock = f("stock:label_stock", choices=kinds)[1]
        self.sheets = QListWidget()
        self.sheets.setAccessibleName("Sheets")
        self.sheets.setWordWrap(True)
        self.sheets.currentRowChanged.connect(lambda _: self._chosen())
        self.lacking = QListWidget()
        self.lacking.setAccessibleName("What is missing for this sheet; Enter goes there")
        self.lacking.itemActivated.connect(self._go)
        self.heading = Form()
        for row, name in enumerate(_HEADING):
            self.heading.add(*f(f"heading:{name}"), row)
        self.form = self.heading
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(120)
        self._timer.timeout.connect(self._render)
        self._lay_out()
        self._list_again()

    def _lay_out(self) -> None:
        self.export_button = QPushButton("&Write them…")
        self.export_button.setProperty("role", "main")
        self.export_button.clicked.connect(self.ask_export)
        self.print_button = QPushButton("&Print…")
        self.print_button.clicked.connect(self.ask_print)
        top, buttons = QHBoxLayout(), QHBoxLayout()
        above = QWidget()
        zoom = FlowLayout(above)
        top.addWidget(self.packet, 1)
        top.addWidget(self.paper)
        buttons.addWidget(self.export_button, 1)
        buttons.addWidget(self.print_button)
        self.copy_button = QPushButton("&Copy a fact…")
        self.copy_button.clicked.connect(lambda: self.facts_menu().exec(QCursor.pos()))
        self.zooms = []
        for words, name, factor in (
            ("–", "Smaller", 1 / ZOOM),
            ("+", "Larger", ZOOM),
            ("fit", "As wide as the page", 0.0),
        ):
            button = QPushButton(words)
            button.setAccessibleName(name)
            button.clicked.connect(lambda _on, factor=factor: self.zoom(factor))
            zoom.addWidget(button)
            self.zooms.append(button)
        for chooser in (self.door, self.label_stock):
            chooser.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            chooser.setMinimumContentsLength(14)
            zoom.addWidget(chooser)
        zoom.addWidget(self.qr)
        self.book = QPushButton("&Field book…")
        self.book.clicked.connect(self._ask_book)
        zoom.addWidget(self.copy_button)
        zoom.addWidget(self.book)
        left = QVBoxLayout()
        left.setContentsMargins(0, 0, 0, 0)
        left.addLayout(top)
        left.addWidget(self.sheets, 3)
        left.addLayout(buttons)
        self.missing_title = label("Missing", "section")
        left.addWidget(self.missing_title)
        left.addWidget(self.lacking, 1)
        left.addWidget(label("Heading, on every sheet", "section"))
        left.addWidget(self.heading)
        self.left = QWidget()
        self.left.setLayout(left)
        right = QVBoxLayout()
        right.addWidget(above)
        right.addWidget(self.view, 1)
        columns = QHBoxLayout(self)
        columns.setContentsMargins(0, 0, 0, 0)
        columns.setSpacing(16)
        columns.addWidget(self.left)
        columns.addLayout(right, 1)

    # --- what is shown --------------------------------------------------------------------------------------------
    @property
    def listed(self) -> tuple[Sheet, ...]:
        """The sheets of the packet that is chosen."""
        packet = self.packet.currentData()
        return all_sheets() if packet == ALL else sheets_of(packet)

    def _list_again(self) -> None:
        self.sheets.blockSignals(True)
        self.sheets.clear()
        for sheet in self.listed:
            self.sheets.addItem(QListWidgetItem(sheet.title))
        self.sheets.setCurrentRow(0)
        self.sheets.blockSignals(False)
        self.show_plan(self.store.plan)

    def start(self) -> None:
        self.sheets.setFocus(Qt.FocusReason.OtherFocusReason)
        self._render_soon()

    def apply_look(self) -> None:
        self.left.setFixedWidth(LOOK.px(290))
        self.lacking.setFixedHeight(LOOK.px(66))

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._render_soon()

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        self._timer.stop()

    def show_plan(self, plan: Plan) -> None:
        self.heading.refresh()
        for field in (self.paper, self.door, self.label_stock, self.qr):
            field.refresh()
        for number, sheet in enumerate(self.listed):
            missing = sheet.missing(plan)
            words = f"{sheet.title}\nmissing: {', '.join(missing)}" if missing else f"{sheet.title}\nready"
            there(self.sheets.item(number)).setText(words)
        self._show_missing(plan)
        if self.isVisible():
            self._render_soon()

    def _sheet(self) -> Sheet:
        return self.listed[max(0, self.sheets.currentRow())]

    def _chosen(self) -> None:
        self._show_missing(self.store.plan)
        self._render_soon()

    def _show_missing(self, plan: Plan) -> None:
        """What the chosen sheet lacks, a line each that leads there."""
        missing = self._sheet().missing(plan)
        self.lacking.clear()
        for one in missing:
            item = QListWidgetItem(one)
            item.setData(Qt.ItemDataRole.UserRole, one.place if isinstance(one, Lack) else "")
            self.lacking.addItem(item)
        self.missing_title.setText("Missing; Enter goes there" if missing else "Nothing is missing")
        self.lacking.setVisible(bool(missing))

    def _go(self, item: QListWidgetItem) -> None:
        place = item.data(Qt.ItemDataRole.UserRole)
        if place:
            self.store.ask_place(place)
        else:
            self.store.notice("This is found out on the stages themselves.")

    def go_to(self, place: Place) -> bool:
        mine = {
            "stock:page": self.paper,
            "stock:door": self.door,
            "stock:label_stock": self.label_stock,
            "stock:qr": self.qr,
        }
        if place in mine:
            mine[place].setFocus(Qt.FocusReason.OtherFocusReason)
            return True
        return self.heading.focus_place(place)

    def stop(self) -> None:
        self._timer.stop()

    def zoom(self, factor: float) -> None:
        """Larger or smaller by a factor; 0 for as wide as there is room."""
        if not factor:
            self.view.setZoomMode(QPdfView.ZoomMode.FitToWidth)
            return
        now = self.view.zoomFactor() if self.view.zoomMode() is QPdfView.ZoomMode.Custom else 1.0
        self.view.setZoomMode(QPdfView.ZoomMode.Custom)
        self.view.setZoomFactor(min(5.0, max(0.25, now * factor)))

    def _render_soon(self) -> None:
        self._timer.start()

    def _render(self) -> None:
        """Write the chosen sheet and show that file."""
        sheet = self._sheet()
        try:
            path = write_sheet(sheet, self.store.plan, Path(self.folder.name) / f"{sheet.name}.pdf")
        except OSError as problem:
            self.store.notice(f"The sheet cannot be shown: {reason_of(problem)}.", serious=True)
            return
        self.document.load(str(path))

    # --- out ------------------------------------------------------------------------------------------------------
    @property
    def stem(self) -> str:
        """What the files' names begin with."""
        return self.store.path.name.removesuffix(".json").removesuffix(".ledger") if self.store.path else "job"

    def ask_export(self) -> None:
        """Ask for a folder and write the packet there."""
        start = str(self.store.path.parent if self.store.path else Path.home())
        folder = QFileDialog.getExistingDirectory(self, "Write to", start)
        if folder:
            self.export(Path(folder))

    def export(self, folder: Path) -> None:
        """Write every sheet and drawing, or the packet chosen as one PDF; one sentence says what came of it."""
        packet = self.packet.currentData()
        try:
            if packet == ALL:
                paths = write_packet(self.store.plan, folder, self.stem)
            else:
                paths = [write_bound(packet, self.store.plan, folder / f"{self.stem}-{packet}.pdf")]
        except OSError as problem:
            self.store.notice(f"The sheets could not be written to {folder}: {reason_of(problem)}.", serious=True)
            return
        self.store.notice(f"Written to {folder}: {', '.join(path.name for path in paths)}.")

    def facts_menu(self) -> QMenu:
        """What a permit's form asks for, one fact an entry; choosing one puts it on the clipboard."""
        menu = QMenu(self)
        for name, value in permit_facts(self.store.plan):
            menu.addAction(
                f"{name}: {value}".replace("&", "&&"), lambda name=name, value=value: self._copy(name, value)
            )
        return menu

    def _copy(self, name: str, value: str) -> None:
        if (clipboard := QApplication.clipboard()) is not None:
            clipboard.setText(value)
            self.store.notice(f"Copied: {name}.")

    def _ask_book(self) -> None:
        name, _kind = QFileDialog.getSaveFileName(
            self, "Write the field book", f"{self.stem}-field-book.html", "Web pages (*.html)"
        )
        if name:
            self.write_book(Path(name))

    def write_book(self, path: Path) -> None:
        """Write the field book for the phone."""
        from robust_ledger.fieldbook.book import write_book  # when it is asked for: the desk is up sooner

        try:
            write_book(self.store.plan, path)
        except OSError as problem:
            self.store.notice(f"{path.name} could not be written: {reason_of(problem)}.", serious=True)
            return
        self.store.notice(f"Written: {path.name}. Send it to the phone; it needs no network.")

    def ask_print(self) -> None:
        """The system's own print dialog, for the sheet in view."""
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        printer.setResolution(PRINT_DPI)
        if QPrintDialog(printer, self).exec():
            self.print_to(printer)

    def print_to(self, printer: QPrinter) -> None:
        """Print the sheet in view, page by page, as large as the paper."""
        self._render()
        painter = QPainter(printer)
        for page in range(self.document.pageCount()):
            if page:
                printer.newPage()
            size = self.document.pagePointSize(page) * PRINT_DPI / 72
            painter.drawImage(
                QPointF(0, 0), self.document.render(page, QSize(round(size.width()), round(size.height())))
            )
        painter.end()
        self.store.notice(f"Sent to the printer: {self._sheet().title}.")
