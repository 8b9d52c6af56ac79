"""The head of the window: the menus, which job is on the desk by which code, what undo would take back, and whether it is saved."""

from __future__ import annotations

from PyQt6.QtWidgets import QFrame, QHBoxLayout, QMenuBar, QSizePolicy

from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.words import Label


class Head(QFrame):
    """One line across the window; `bar` is for the menus."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("head")
        self.title = Label()
        self.title.setObjectName("title")
        self.subtitle, self.state = Label(), Label()
        self.subtitle.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.bar = QMenuBar()
        self.bar.setNativeMenuBar(False)
        self.bar.setSizePolicy(QSizePolicy.Policy.Minimum, QSizePolicy.Policy.Preferred)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 3, 14, 3)
        row.addWidget(self.bar)
        row.addSpacing(14)
        row.addWidget(self.title)
        row.addSpacing(12)
        row.addWidget(self.subtitle, 1)
        row.addWidget(self.state)

    def show_none(self) -> None:
        """No job is on the desk."""
        self.title.setText("Robust Ledger")
        self.subtitle.setText("")
        self.state.setText("")

    def show_job(self, store: JobStore) -> str:
        """The job with its file; the title that the window's own frame has."""
        job = store.job
        name = job.heading.title or "Untitled job"
        self.title.setText(name)
        self.subtitle.setText(f"NEC {job.edition}")
        undo = f"Undo: {store.undo_stack.undoText()}" if store.undo_stack.canUndo() else ""
        self.state.setText("   ·   ".join(part for part in (undo, _saved(store)) if part))
        return f"{name}{'*' if store.unsaved else ''} — Robust Ledger"


def _saved(store: JobStore) -> str:
    """How the job stands to its file."""
    if store.read_only:
        return "READ ONLY"
    if store.unsaved:
        return "not saved"
    if store.saved_at:
        return f"saved {store.saved_at}"
    return store.path.name if store.path else "no file yet"
