"""Find anything from one field: circuits, loads, findings, figures and sections."""

from __future__ import annotations

from msgspec import Struct
from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from robust_ledger.desk.kit.qt import there
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan

MOST = 40


class Hit(Struct, frozen=True):
    """Something to go to: how it is listed, what is searched, where it is ("circuit:7", "entry:service.main")."""

    text: str
    place: str
    words: str


def hits(plan: Plan, query: str) -> list[Hit]:
    """Everything whose words all contain the query's words; findings first, then circuits, loads and figures."""
    wanted = query.lower().split()
    if not wanted:
        return []
    every: list[Hit] = []
    for finding in plan.findings:
        cites = " ".join(str(c) for c in finding.cites)
        every.append(
            Hit(f"{finding.severity}  {finding.title}", finding.place, f"{finding.title} {finding.text} {cites}")
        )
    for branch in plan.circuits.branches:
        tag = branch.key.tag
        place = Place.circuit(tag) if tag is not None else Place.branch(branch.key)
        every.append(
            Hit(
                f"Tag {branch.tag}  {branch.directory_text}",
                place,
                f"tag {branch.tag} {branch.directory_text} {branch.room}",
            )
        )
    for load in plan.job.loads:
        every.append(Hit(f"Load  {load.name}", Place.load(load.id), f"load {load.name} {load.room}"))
    for defect in plan.job.defects:
        every.append(
            Hit(f"Defect  {defect.what}", Place.of("defect", defect.id), f"defect {defect.what} {defect.where}")
        )
    for entry in plan.entries.values():
        cites = " ".join(str(c) for c in entry.sections())
        every.append(Hit(f"{entry.label}  {entry.text()}", Place.entry(entry.id), f"{entry.label} {cites}"))
    return [hit for hit in every if all(word in hit.words.lower() for word in wanted)][:MOST]


class FindPanel(QFrame):
    """A field with a list under it, over the page; Enter goes there, Escape closes."""

    found = pyqtSignal(str)
    closed = pyqtSignal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.plan: Plan | None = None
        self.setFrameShape(QFrame.Shape.Box)
        self.setAutoFillBackground(True)
        self.field = QLineEdit()
        self.field.setPlaceholderText("find a circuit, load, finding, figure or section")
        self.field.setAccessibleName("Find")
        self.list = QListWidget()
        self.list.setAccessibleName("Found")
        layout = QVBoxLayout(self)
        layout.addWidget(self.field)
        layout.addWidget(self.list)
        self.field.textChanged.connect(self._search)
        self.field.installEventFilter(self)
        self.list.itemActivated.connect(lambda _: self._go())
        self.list.itemClicked.connect(lambda _: self._go())
        self.hide()

    def open(self, plan: Plan) -> None:
        self.plan = plan
        width, height = there(self.parentWidget()).width(), there(self.parentWidget()).height()
        self.setGeometry(width // 2 - 290, 52, 580, min(430, height - 120))
        self.field.clear()
        self._search("")
        self.show()
        self.raise_()
        self.field.setFocus()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() == Qt.Key.Key_Escape:
                self.close_panel()
                return True
            if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                step = 1 if event.key() == Qt.Key.Key_Down else -1
                self.list.setCurrentRow(max(0, min(self.list.count() - 1, self.list.currentRow() + step)))
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._go()
                return True
        return super().eventFilter(watched, event)

    def close_panel(self) -> None:
        self.hide()
        self.closed.emit()

    def _search(self, text: str) -> None:
        self.list.clear()
        for hit in hits(self.plan, text) if self.plan else []:
            item = QListWidgetItem(hit.text)
            item.setData(Qt.ItemDataRole.UserRole, hit.place)
            self.list.addItem(item)
        self.list.setCurrentRow(0)

    def _go(self) -> None:
        item = self.list.currentItem()
        if item is not None:
            self.hide()
            self.found.emit(item.data(Qt.ItemDataRole.UserRole))
