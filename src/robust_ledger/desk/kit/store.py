"""The job in hand: the only thing views listen to. An edit makes a new job and a new plan; undo is the job before."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from robust_ledger.desk.kit.recovery import Recovery
from robust_ledger.job.files import read_job, write_job
from robust_ledger.job.job import Job, blank_job
from robust_ledger.job.whole import write_whole
from robust_ledger.plan import Plan, plan

AUTOSAVE_AFTER_MS = 250


class SwapJob(QUndoCommand):
    """One step of undo: the job before and the job after."""

    def __init__(self, store: JobStore, label: str, before: Job, after: Job) -> None:
        super().__init__(label)
        self.store, self.before, self.after = store, before, after

    def redo(self) -> None:
        self.store._show(self.after)

    def undo(self) -> None:
        self.store._show(self.before)


class JobStore(QObject):
    """Holds the job, its plan, its undo steps and its file; says what is selected."""

    plan_changed = pyqtSignal(object)
    file_changed = pyqtSignal()
    entry_chosen = pyqtSignal(str)
    entries_chosen = pyqtSignal(tuple)
    place_chosen = pyqtSignal(str)
    place_asked = pyqtSignal(str)
    noticed = pyqtSignal(str, bool)

    def __init__(self, recovery: Recovery) -> None:
        super().__init__()
        self.recovery = recovery
        self.undo_stack = QUndoStack(self)
        self.job = blank_job()
        self.plan: Plan = plan(self.job)
        self.path: Path | None = None
        self.folder: Path | None = None
        self.saved_at = ""
        self.beside: dict[str, Path] = {}  # files the job names, and where they are until it is saved
        self.opened = 0  # counts the jobs put on the desk, so that a page can tell another job from an edit
        self._autosave = QTimer(self)
        self._autosave.setSingleShot(True)
        self._autosave.setInterval(AUTOSAVE_AFTER_MS)
        self._autosave.timeout.connect(self.autosave)
        self.undo_stack.cleanChanged.connect(lambda _: self.file_changed.emit())

    def edit(self, label: str, change: Callable[[Job], Job]) -> None:
        """Replace the job by what `change` makes of it; one call is one undo step. An edit to the same is none."""
        after = change(self.job)
        if after != self.job:
            self.undo_stack.push(SwapJob(self, label, self.job, after))
            self._autosave.start()

    def open_job(self, job: Job, path: Path | None, unsaved: bool = False, folder: Path | None = None) -> None:
        """Put another job on the desk. `folder` is where the files beside it are, when it has no file of its own."""
        self.discard_recovery()
        self.undo_stack.clear()
        self.undo_stack.setClean()
        if unsaved:
            self.undo_stack.resetClean()
        self.path, self.saved_at = path, ""
        self.beside = {}
        self.opened += 1
        self.folder = path.parent if path else folder
        self._show(job)
        self.file_changed.emit()

    def open_file(self, path: Path) -> None:
        """Raises JobFileError; the job on the desk stays."""
        self.open_job(read_job(path), path)

    def find_beside(self, name: str) -> Path | None:
        """The file a job names, beside the job or where it was opened from; None when it is nowhere."""
        if not name or Path(name).is_absolute() or ".." in Path(name).parts:
            return None
        places = [self.folder / name] if self.folder else []
        places += [self.beside[name]] if name in self.beside else []
        return next((place for place in places if place.is_file()), None)

    def save(self, path: Path) -> None:
        """Save the job, and bring along the recording and photos it names; a file that is there already is left alone.

        Raises JobFileError; what was there stays, and so does the undo history.
        """
        write_job(self.job, path)
        for name in self.job.attachments:
            self._bring(name, path.parent)
        self.path, self.folder = path, path.parent
        self.saved_at = datetime.now().strftime("%H:%M")
        self.undo_stack.setClean()
        self.discard_recovery()
        self.file_changed.emit()

    def _bring(self, name: str, folder: Path) -> None:
        """Put a file the job names beside it; one sentence when that cannot be done."""
        source, target = self.find_beside(name), folder / name
        if source is None or target.exists():
            return
        try:
            target.parent.mkdir(parents=True, exist_ok=True)
            write_whole(target, lambda temporary: temporary.write_bytes(source.read_bytes()))
        except OSError as problem:
            reason = (problem.strerror or "unknown reason").lower()
            self.notice(f"The job is kept; {name} could not be put beside it: {reason}.", serious=True)

    def attach(self, source: Path) -> str:
        """Take a photo along: its name beside the job, unlike any other there. Copied at once where the job has a file,
        else when it is saved."""
        plain = "".join(c if c.isalnum() or c in "-_." else "-" for c in source.name).lstrip(".")[-80:] or "photo"
        names = [f"photos/{plain}", *(f"photos/{n}-{plain}" for n in range(2, 1000))]
        folder = self.path.parent if self.path else None
        taken = {*self.beside, *self.job.attachments}
        name = next(one for one in names if one not in taken and not (folder and (folder / one).exists()))
        self.beside[name] = source
        if folder:
            self._bring(name, folder)
        return name

    @property
    def unsaved(self) -> bool:
        return not self.undo_stack.isClean()

    def autosave(self) -> None:
        """Keep a copy of unsaved work aside, so that a crash loses at most the edit being typed."""
        if not self.unsaved:
            self.recovery.clear()
        elif problem := self.recovery.keep(self.job, self.path):
            self.notice(problem, serious=True)

    def close(self) -> None:
        """Put the job away for good. The undo steps go first: left to the end of the program, Python and Qt would both
        take them apart, which ends in a crash."""
        self.discard_recovery()
        self.undo_stack.clear()

    def discard_recovery(self) -> None:
        self._autosave.stop()
        self.recovery.clear()

    def notice(self, text: str, serious: bool = False) -> None:
        """Say something in the notice line; no dialogs."""
        self.noticed.emit(text, serious)

    def choose_entry(self, entry_id: str) -> None:
        self.entry_chosen.emit(entry_id)

    def choose_entries(self, entry_ids: tuple[str, ...]) -> None:
        """Show the working of several entries, one under the other."""
        self.entries_chosen.emit(entry_ids)

    def ask_place(self, place: str) -> None:
        """Ask the window to go to a place, on whatever stage it is."""
        self.place_asked.emit(place)

    def choose_place(self, place: str) -> None:
        self.place_chosen.emit(place)

    def _show(self, job: Job) -> None:
        self.job, self.plan = job, plan(job)
        self.plan_changed.emit(self.plan)
        self._autosave.start()
