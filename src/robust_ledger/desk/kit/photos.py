"""Photos of a thing in the job: small pictures, added from files and kept beside the job by relative names."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QIcon, QImageReader, QPainter, QPaintEvent, QPixmap
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.job.job import Job
from robust_ledger.ledger.text import reason_of

MOST_BYTES, MOST_PHOTOS = 40_000_000, 40

Get = Callable[[Job], tuple[str, ...] | None]
Put = Callable[[Job, tuple[str, ...]], Job]


class _Pictures(QListWidget):
    """The list itself; an empty one says so."""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if not self.count():
            painter = QPainter(self.viewport())
            painter.setPen(LOOK.color("faint"))
            painter.setFont(LOOK.font(12))
            painter.drawText(there(self.viewport()).rect(), Qt.AlignmentFlag.AlignCenter, "no photo yet")


class PhotoStrip(QWidget):
    """The photos of whatever `get` reads (None: nothing is chosen), written back by `put`."""

    def __init__(self, store: JobStore, name: str, get: Get, put: Put, height: int = 104) -> None:
        super().__init__()
        self.store, self.get, self.put = store, get, put
        self.list = _Pictures()
        self.list.setAccessibleName(name)
        self.list.setIconSize(QSize(height - 8, height - 40))
        self.list.setViewMode(QListWidget.ViewMode.IconMode)
        self.list.setFixedHeight(height)
        self.list.setProperty("role", "photos")
        self.add = QPushButton("Add photo…")
        self.add.clicked.connect(self.ask)
        self.drop = QPushButton("Take out")
        self.drop.clicked.connect(self._drop)
        row = QHBoxLayout()
        row.addWidget(self.add)
        row.addWidget(self.drop)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.list)
        column.addLayout(row)

    def refresh(self) -> None:
        """Show the photos of what is chosen now."""
        names = self.get(self.store.job)
        self.add.setEnabled(names is not None)
        self.drop.setEnabled(bool(names))
        shown = [there(self.list.item(n)).data(Qt.ItemDataRole.UserRole) for n in range(self.list.count())]
        if list(names or ()) == shown:
            return
        self.list.clear()
        for name in names or ():
            self.list.addItem(self._item(name))

    def _item(self, name: str) -> QListWidgetItem:
        path = self.store.beside.find(name)
        item = QListWidgetItem(_words(name) if path else f"{_words(name)}, not found")
        item.setData(Qt.ItemDataRole.UserRole, name)
        if path:
            reader = QImageReader(str(path))
            reader.setAutoTransform(True)
            reader.setScaledSize(reader.size().scaled(192, 128, Qt.AspectRatioMode.KeepAspectRatio))
            item.setIcon(QIcon(QPixmap.fromImage(reader.read())))
        return item

    def ask(self) -> None:
        kinds = "Pictures (*.png *.jpg *.jpeg *.webp *.bmp)"
        names, _ = QFileDialog.getOpenFileNames(self, "Add photos", str(Path.home()), kinds)
        for name in names:
            self.attach(Path(name))

    def attach(self, path: Path) -> None:
        """Attach a picture; what is no picture gets one sentence."""
        photos = self.get(self.store.job)
        if photos is None:
            return
        if not path.is_file() or path.stat().st_size > MOST_BYTES or not QImageReader(str(path)).canRead():
            self.store.notice(
                f"{path.name} is no picture that can be read, or is larger than 40 MB; it was not attached.",
                serious=True,
            )
            return
        if len(photos) >= MOST_PHOTOS:
            self.store.notice(f"There are {MOST_PHOTOS} photos already; take one out first.", serious=True)
            return
        try:
            name = self.store.attach(path)
        except OSError as problem:
            self.store.notice(f"{path.name} could not be read: {reason_of(problem)}.", True)
            return
        if name in photos:
            self.store.notice(f"{path.name} is attached already.")
            return
        self.store.edit("attach a photo", lambda job: self.put(job, (*photos, name)))

    def _drop(self) -> None:
        photos, item = self.get(self.store.job), self.list.currentItem()
        if photos and item is not None:
            after = tuple(photo for photo in photos if photo != item.data(Qt.ItemDataRole.UserRole))
            self.store.edit("take a photo out", lambda job: self.put(job, after))


def _words(name: str) -> str:
    """A photo's name without the mark of what is in it."""
    return re.sub(r"-[0-9a-f]{10}(?=\.\w+$)", "", Path(name).name)
