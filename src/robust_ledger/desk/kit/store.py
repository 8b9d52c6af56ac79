"""The job in hand: the only thing views listen to. An edit makes a new job and a new plan; undo is the job before.

Every edit is checked as a file is, and is in the journal before it is on the screen.
"""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from robust_ledger.desk.kit.beside import Beside
from robust_ledger.job.files import write_job
from robust_ledger.job.job import Job, blank_job
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.jobbook.disk import OnDisk
from robust_ledger.jobbook.history import History
from robust_ledger.jobbook.journal import Journal
from robust_ledger.jobbook.lock import BEAT_S, JobLock
from robust_ledger.jobbook.unsaved import Unsaved
from robust_ledger.plan import Plan, plan

LOOK_EVERY_MS = 2000  # at the job's file and its lock


class SwapJob(QUndoCommand):
    """One step of undo: the job before and the job after."""

    def __init__(self, store: JobStore, label: str, before: Job, after: Job) -> None:
        super().__init__(label)
        self.store, self.before, self.after = store, before, after

    def redo(self) -> None:
        self.store.swap(self.after, self.text())

    def undo(self) -> None:
        self.store.swap(self.before, f"undo {self.text()}")


class JobStore(QObject):
    """Holds the job, its plan, its undo steps and its file; says what is selected."""

    plan_changed = pyqtSignal(object)
    file_changed = pyqtSignal()
    entry_chosen = pyqtSignal(str)
    entries_chosen = pyqtSignal(tuple)
    place_chosen = pyqtSignal(str)
    place_asked = pyqtSignal(str)
    noticed = pyqtSignal(str, bool)
    other_on_disk = pyqtSignal()
    taken_over = pyqtSignal(object)
    panel_looked_at = pyqtSignal(str)

    def __init__(self, home: Path) -> None:
        super().__init__()
        self.journals = home / "recovery"
        self.journal = Journal(self.journals)
        self.history = History(home / "history")
        self.undo_stack = QUndoStack(self)
        self.job = blank_job()
        self.plan: Plan = plan(self.job)
        self.panel_id = MAIN  # the panel in view, where a page shows one of several
        self.path: Path | None = None
        self.saved_at = ""
        self.read_only = ""  # why nothing may be changed, in words; empty: it may
        self.beside = Beside()
        self.lock: JobLock | None = None
        self.disk = OnDisk()
        # By the name of the field: what was typed when a run ended and could not be read, and what is in the way now.
        self.unread: dict[str, str] = {}
        self.faulty: dict[str, str] = {}
        self.opened = 0  # counts the jobs put on the desk, so that a page can tell another job from an edit
        self.photos_wait = False  # a photo or recording could not be put beside the saved job
        self.is_closed = False  # a field that loses the focus as the window goes edits nothing any more
        self._looks = 0
        self._said = ""
        self._look = QTimer(self)
        self._look.setInterval(LOOK_EVERY_MS)
        self._look.timeout.connect(self._look_at_disk)
        self.undo_stack.cleanChanged.connect(self._clean_changed)

    def _clean_changed(self, _is_clean: bool) -> None:
        self.file_changed.emit()

    # --- edits ----------------------------------------------------------------------------------------------------
    def edit(self, label: str, change: Callable[[Job], Job], say: Callable[[str], None] | None = None) -> bool:
        """Replace the job by what `change` makes of it; one call is one undo step. An edit to the same is none. What a job file
        could not hold is refused: `say` is given the reason, in place of the notice line. True when the job is as asked."""
        if self.is_closed:
            return False
        try:
            after = change(self.job).checked(self.job)
        except ModelError as fault:
            words = f"{str(fault)[:1].upper()}{str(fault)[1:]}." if say else f"Not taken: {fault.sentence}."
            (say or self._refuse)(words)
            return False
        if after == self.job:
            self.typed_nothing()
            return True
        if self.read_only:
            (say or self._refuse)(f"Read only: {self.read_only}.")
            return False
        if self.job.practice.handed_in:
            (say or self._refuse)("Handed in: what was handed in is not changed any more.")
            return False
        self.undo_stack.push(SwapJob(self, label, self.job, after))
        return True

    def seal(self) -> None:
        """Nothing that was done so far is undone any more; it is still to be saved."""
        self.undo_stack.clear()
        self.undo_stack.resetClean()
        self.file_changed.emit()

    def typing(self, label: str, text: str, change: Callable[[Job], Job] | None, waits: bool = False) -> None:
        """Note what is being typed into a field, so that it is not lost either: as the job would be, or as text as long as it
        cannot be read (`change` is None). `waits`: it stays in its line while something else is edited."""
        after = None
        if self.is_closed:
            return
        if change is not None and not self.read_only:
            try:
                after = change(self.job).checked(self.job)
            except ValueError:
                after = None
        self._kept(self.journal.typing(label, text, self.job, after, waits))

    def typed_nothing(self, label: str | None = None) -> None:
        """What was being typed into a line is in the job, or was given up; without a label, what does not wait."""
        if self.journal.is_begun:
            self._kept(self.journal.typed_nothing(label))

    def _refuse(self, words: str) -> None:
        self.notice(words, serious=True)

    def _kept(self, problem: str) -> None:
        """Say once what keeps unsaved work from being kept aside."""
        if problem and problem != self._said:
            self.notice(problem, serious=True)
        self._said = problem

    # --- the job and its file -------------------------------------------------------------------------------------
    @property
    def folder(self) -> Path | None:
        """Where the files beside the job are."""
        return self.beside.folder

    @property
    def unsaved(self) -> bool:
        return not self.undo_stack.isClean()

    def open_job(self, job: Job, path: Path | None, folder: Path | None = None, disk: OnDisk | None = None) -> None:
        """Put another job on the desk. `folder` is where the files beside it are, when it has no file of its own; `disk` how its
        file was when it was read."""
        self._put(job, path, folder, disk or OnDisk())

    def take_up(self, waiting: Unsaved, disk: OnDisk) -> bool:
        """Put work on the desk that waited: it is unsaved still. It is put away only once this run's journal has it."""
        self._put(waiting.job, waiting.path, waiting.folder, disk, waiting.files)
        self.undo_stack.resetClean()
        problem = self.journal.edited("restored", waiting.job)
        for name, source in waiting.files:
            problem = problem or self.journal.keeps_file(name, source, self.beside.found)
        problem = problem or self.journal.is_safe()
        self.unread = dict(waiting.unread)
        for label, text in waiting.unread:
            problem = problem or self.journal.typing(label, text, self.job, None, True)
        if not problem:
            waiting.put_away()
        self._kept(problem)
        self.file_changed.emit()
        return not problem

    def _put(
        self, job: Job, path: Path | None, folder: Path | None, disk: OnDisk, files: tuple[tuple[str, Path], ...] = ()
    ) -> None:
        self.put_away()
        self.undo_stack.clear()
        self.undo_stack.setClean()
        self.path, self.saved_at, self.read_only, self.disk = path, "", "", disk
        self.beside.begin(path.parent if path else folder, files)
        self.journal.about(path, self.folder)
        self.unread, self.faulty = {}, {}
        self.opened += 1
        self.panel_id = MAIN
        self.swap(job, "")
        self.file_changed.emit()
        self._look.start() if path else self._look.stop()

    def hold(self, lock: JobLock | None, read_only: str = "") -> None:
        """The lock of the job's file is ours, or the job is only to be read, and why."""
        if self.lock is not None and self.lock is not lock:
            self.lock.release()
        self.lock, self.read_only = lock, read_only
        self.file_changed.emit()

    def save(self, path: Path) -> None:
        """Save the job, keep it as a version, and bring along the recording and photos it names.

        Raises JobFileError; what was there stays, and so does the undo history.
        """
        write_job(self.job, path)
        self.disk = OnDisk.of(path)
        problems = [problem for name in self.job.attachments if (problem := self.beside.bring(name, path.parent))]
        for problem in problems:
            self.notice(problem, serious=True)
        self.photos_wait = bool(problems)
        if problem := self.history.keep(path, self.job):
            self.notice(problem, serious=True)
        self.path, self.beside.folder = path, path.parent
        self.saved_at = datetime.now().strftime("%H:%M")
        self.undo_stack.setClean()
        if not self.photos_wait:
            self._kept(self.journal.saved(path, self.job))
            if not self.journal.is_typing:  # half a line of the call-out is in no job, and waits
                self.journal.end()
        self.journal.about(path, path.parent)
        self._look.start()
        self.file_changed.emit()

    def attach(self, source: Path) -> str:
        """Take a photo along: its name beside the job. Copied at once, to the job's folder or, where that cannot be or it has
        none yet, to the journal. Raises OSError."""
        name = self.beside.name_for(source)
        self.beside.found[name] = source
        problem = self.beside.bring(name, self.path.parent) if self.path else ""
        if problem:
            self.notice(problem, serious=True)
        if problem or self.path is None:
            self._kept(self.journal.keeps_file(name, source, self.beside.found))
        return name

    def goes_along(self, name: str, source: Path) -> None:
        """A file that the job names is elsewhere until the job is saved, when it is copied."""
        self.beside.found[name] = source
        self._kept(self.journal.goes_along(name, source))

    def put_away(self) -> None:
        """The job leaves the desk for good: nothing of it waits, and others may write it."""
        self._look.stop()
        if self.photos_wait:
            self.journal.abandon()  # the only copy of a photo can be in it
        else:
            self.journal.end()
        self.photos_wait = False
        self._said = ""
        self.hold(None)

    def close(self) -> None:
        """Put the job away. The undo steps go first: left to the end of the program, Python and Qt would both take them
        apart, which ends in a crash."""
        self.is_closed = True
        self.put_away()
        self.undo_stack.clear()
        self.undo_stack.blockSignals(True)

    def abandon(self) -> None:
        """The session ends without a word from the user: the journal stays, for the next start."""
        self.is_closed = True
        self._look.stop()
        if self.unsaved or self.journal.is_begun:
            self.journal.abandon()
        self.hold(None)
        self.undo_stack.clear()
        self.undo_stack.blockSignals(True)

    def _look_at_disk(self) -> None:
        """Every two seconds: is the lock still ours, and is the job's file as it was."""
        self._looks += 1
        if self.lock is not None and not self.read_only:
            if not self.lock.is_ours and (holder := self.lock.holder()) is not None:
                self.read_only = f"taken over by {holder.words}"
                self.file_changed.emit()
                self.taken_over.emit(holder)
            elif self._looks % max(1, int(BEAT_S * 1000 / LOOK_EVERY_MS)) == 0:
                self.lock.beat()
        if self.path is not None and self.disk.has_news(self.path):
            self.other_on_disk.emit()

    # --- the panel in view ----------------------------------------------------------------------------------------
    @property
    def seen(self) -> Plan:
        """The plan as seen from the panel in view."""
        return self.plan.seen_from(self.panel_id)

    def look_at(self, panel_id: str) -> None:
        """Take another panel into view."""
        if panel_id != self.panel_id and panel_id in self.plan.benches:
            self.panel_id = panel_id
            self.panel_looked_at.emit(panel_id)

    # --- what is shown --------------------------------------------------------------------------------------------
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

    def swap(self, job: Job, label: str) -> None:
        """Put another state of the job on the desk; with a label it is one that the journal has to keep."""
        if label:
            self._kept(self.journal.edited(label, job))
        self.job, self.plan = job, plan(job)
        if self.panel_id not in self.plan.benches:
            self.panel_id = MAIN
        self.plan_changed.emit(self.plan)
