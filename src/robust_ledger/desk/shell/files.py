"""Opening, saving and closing jobs: waiting work is offered, a job that is open elsewhere is not overwritten, nor is a file that
changed in the meantime."""

from __future__ import annotations

import os
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QFileDialog, QMessageBox

from robust_ledger.desk.kit import words as words_box
from robust_ledger.desk.kit.examples import EXAMPLES
from robust_ledger.desk.shell.decision import CANCEL, Decision
from robust_ledger.job.doors import is_inside, read_plain
from robust_ledger.job.files import SUFFIX, JobFileError, read_job
from robust_ledger.job.job import Job, blank_job
from robust_ledger.jobbook.differences import summary
from robust_ledger.jobbook.disk import OnDisk
from robust_ledger.jobbook.lock import JobLock
from robust_ledger.jobbook.unsaved import Unsaved, left_behind, of_file

if TYPE_CHECKING:
    from robust_ledger.desk.shell.window import Window

FILTER = f"Robust Ledger jobs (*{SUFFIX});;All files (*)"


class Files:
    """The desk's dealings with job files."""

    def __init__(self, window: Window) -> None:
        self.window, self.store = window, window.store
        self.store.other_on_disk.connect(self._told_of_other)
        self.store.taken_over.connect(self._told_of_taking)

    @property
    def _home(self) -> Path:
        """Where jobs are looked for first: in their folder."""
        return self.window.book.folder or Path.home()

    # --- opening --------------------------------------------------------------------------------------------------
    def new_job(self) -> None:
        if self.may_leave():
            self.store.open_job(self.window.book.new_job(), None)
            self.window.show_ledger()

    def new_job_with(self) -> None:
        """A new job with profiles, name and panels chosen."""
        from robust_ledger.desk.shell.newjob import NewJob

        if self.may_leave():
            asked = NewJob(self.window, self.window.book.profile_store)
            if asked.exec() and asked.job is not None:
                self.store.open_job(self.window.book.with_minutes(asked.job), None)
                self.window.show_ledger()

    def practice(self) -> None:
        """Ask what to practice, and begin a panel that was chosen."""
        from robust_ledger.desk.shell.practice import PracticeDialog

        asked = PracticeDialog(self.window)
        if asked.exec() and asked.job is not None and self.may_leave():
            self.store.open_job(asked.job, None)
            self.window.show_ledger()

    def open_demo(self, path: Path) -> None:
        """Open a shipped example as a job without a file, so that the example stays as it is."""
        if self.may_leave():
            self.store.open_job(read_job(path), None, folder=path.parent)
            self.window.show_ledger()

    def ask_open(self) -> None:
        start = str(self.store.path.parent if self.store.path else self._home)
        name, _ = QFileDialog.getOpenFileName(self.window, "Open a job", start, FILTER)
        if name:
            self.open_path(Path(name))

    def open_path(self, path: Path) -> None:
        """Open a job's file, or the work that waits for it."""
        if not self.may_leave():
            return
        if os.path.dirname(os.path.realpath(path)) == os.path.realpath(EXAMPLES):
            self.open_demo(path)
            return
        self.window.doing.emit("opening a job")
        disk, waiting = OnDisk.of(path), of_file(left_behind(self.store.journals), path)
        try:
            job: Job | None = read_job(path)
        except JobFileError as problem:
            if not waiting:
                self.window.complain(str(problem))
                return
            job = None
        for one in [one for one in waiting if _is_in_file(one, job)]:
            one.put_away()
            waiting.remove(one)
        chosen = self._offered(waiting, job, path) if waiting else None
        if chosen == CANCEL or (job is None and not isinstance(chosen, Unsaved)):
            return
        lock, read_only = self._locked(path)
        if lock is None and not read_only:
            return
        if isinstance(chosen, Unsaved):
            self._keep_version(path, "before the recovery")
            self._take_up(chosen, disk)
        elif job is not None:
            self.store.open_job(job, path, disk=disk)
        self.store.hold(lock, read_only)
        self.window.settings.add_recent(path)
        self.window.show_ledger()
        self._tell_moved()

    def _tell_moved(self) -> None:
        """Say which profiles have moved on since this job was made from them."""
        moved = self.window.book.profile_store.moved(self.store.job) if self.store.job.profiles else []
        if moved:
            told = "; ".join(
                f'{one.kind} profile "{one.name}": {words[0]}'
                + (f" and {len(words) - 1} more" if len(words) > 1 else "")
                for one, words in moved
            )
            self.store.notice(
                f"Changed since this job was made: {told}. The job keeps its own copy; Job, Profiles takes it over."
            )

    def recover(self, found: Unsaved) -> None:
        """Take up unsaved work from the first page: by way of its job's file where there is one."""
        if found.path is not None and os.path.exists(found.path):
            self.open_path(found.path)
        elif self.may_leave():
            self._take_up(found, OnDisk())
            self.window.show_ledger()

    def discard(self, found: Unsaved) -> None:
        """Give unsaved work up, after a question: it cannot be taken again."""
        name = found.path.name if found.path else found.job.heading.title
        question = f'Discard the unsaved work on "{name}" of {_when(found.kept_at)} for good?'
        if Decision(self.window, question, (), (("keep", "Keep it"), ("discard", "Discard it"))).ask() == "discard":
            found.put_away()
        self.window.show_start()

    def _offered(self, waiting: list[Unsaved], job: Job | None, path: Path) -> Unsaved | str | None:
        """Ask what is to be opened: the work that waits, or the file as it is (None)."""
        one, saved = waiting[0], _saved_at(path)
        newer = "newer" if one.kept_at >= saved else "OLDER"
        question = (
            f"Unsaved work on {path.name} of {_when(one.kept_at)} waits. It is {newer} than the file, saved {_when(saved)}. "
            "What it changes in the file:"
        )
        if job is None:
            question = f"Unsaved work on {path.name} of {_when(one.kept_at)} waits; the file itself cannot be read."
        details = summary(job, one.job) if job is not None else []
        details += [f'still being typed, not read: {label}: "{text}"' for label, text in one.unread]
        details += [f"{len(waiting) - 1} older ones wait too"] if len(waiting) > 1 else []
        restore, leave = ("restore", "Restore the unsaved work"), ("file", "Open the file, let the work wait")
        answers = [restore, leave] if newer == "newer" else [leave, restore]
        answers = [one for one in answers if job is not None or one is restore]
        answer = Decision(self.window, question, details, [*answers, ("discard", "Discard the unsaved work")]).ask()
        if answer == "discard":
            one.put_away()
        return one if answer == "restore" else CANCEL if answer == CANCEL else None

    def _locked(self, path: Path) -> tuple[JobLock | None, str]:
        """The lock of a job, or why it is only to be read; neither when the user leaves it."""
        lock = JobLock(path)
        if self.store.lock is not None and self.store.lock.file == lock.file:
            self.store.hold(None)  # it is this desk that has it open
        holder = lock.take()
        if holder is None:
            return lock, ""
        question = f"{path.name} is open: {holder.words}. Two who write it would undo each other's work."
        answers = (("read", "Open it to read only"), ("over", "Take it over"))
        answer = Decision(self.window, question, (), answers).ask()
        if answer == "over":
            if (other := lock.take(over=holder)) is not None:
                self.window.complain(f"{path.name} is open: {other.words}.")
                return None, ""
            self._keep_version(path, "before it was taken over")
            return lock, ""
        return (None, f"open: {holder.words}") if answer == "read" else (None, "")

    def _take_up(self, found: Unsaved, disk: OnDisk) -> None:
        safe = self.store.take_up(found, disk)
        unread = "; ".join(f'{label}: "{text}"' for label, text in found.unread)
        words = f"Restored as of {_when(found.kept_at)}, not saved yet."
        words += f" Still being typed when it ended, and not read: {unread}." if unread else ""
        if safe:
            self.store.notice(words)

    # --- saving ---------------------------------------------------------------------------------------------------
    def save(self) -> bool:
        """Save to the job's file, or ask for one; False when it was not saved."""
        self.window.settle_typing()
        if self.store.path is None:
            return self.save_as()
        return self.save_to(self.store.path)

    def save_as(self) -> bool:
        """Ask for a name; it gets its suffix before anything is asked about replacing."""
        self.window.settle_typing()
        folder = self.store.path.parent if self.store.path else self._home
        stem = "".join(c if c.isalnum() else "-" for c in self.store.job.heading.title.lower()).strip("-")[:60] or "job"
        start = str(self.store.path or folder / f"{stem}{SUFFIX}")
        plain = QFileDialog.Option.DontConfirmOverwrite
        name, _ = QFileDialog.getSaveFileName(self.window, "Save the job as", start, FILTER, options=plain)
        if not name:
            return False
        path = Path(name if name.endswith(".json") else name + SUFFIX)
        if path != self.store.path and os.path.lexists(path):
            question = f"{path.name} is there already. Replace it? What is in it now is kept among its versions."
            if (
                Decision(self.window, question, (), (("keep", "Leave it"), ("replace", "Replace it"))).ask()
                != "replace"
            ):
                return False
            if not self._keep_version(path, "replaced"):
                return False
        return self.save_to(path)

    def save_to(self, path: Path) -> bool:
        """Save under a name, where nothing stands against it; False when it was not saved."""
        store = self.store
        own = path == store.path
        if own and store.read_only:
            self.window.complain(
                f"Read only: {store.read_only}. Save it under another name, or open it again to take it over."
            )
            return False
        if own and store.disk.is_other(path):
            return self._other_in_file(path)
        if path.exists() and not os.access(path, os.W_OK):
            question = f"{path.name} is marked read only. Save into it all the same?"
            if (
                Decision(self.window, question, (), (("no", "Leave it"), ("write", "Save all the same"))).ask()
                != "write"
            ):
                return False
        return self._write(path)

    def _write(self, path: Path) -> bool:
        store = self.store
        lock = store.lock if store.lock is not None and path == store.path else JobLock(path)
        if not lock.is_ours and (holder := lock.take()) is not None:
            self.window.complain(f"{path.name} is open: {holder.words}. Save it under another name.")
            return False
        self.window.doing.emit("saving")
        try:
            store.save(path)
        except JobFileError as problem:
            if lock is not store.lock:
                lock.release()
            self.window.complain(f"{problem} Nothing is lost: the job is still open here.")
            return False
        store.hold(lock)
        self.window.settings.add_recent(path)
        self.window.book.saved(path)
        return True

    def _other_in_file(self, path: Path) -> bool:
        """The file holds something else than when it was opened: theirs, mine, or both; none of the two is lost."""
        try:
            theirs: Job | None = read_job(path)
        except JobFileError:
            theirs = None
        question = f"{path.name} was changed by another since it was opened here (saved {_when(_saved_at(path))})."
        question += " What yours changes in it:" if theirs is not None else " It cannot be read as a job."
        answers = [("both", "Keep both: save mine beside it"), ("mine", "Keep mine"), ("theirs", "Take theirs")]
        answers = [one for one in answers if theirs is not None or one[0] != "theirs"]
        answer = Decision(self.window, question, summary(theirs, self.store.job) if theirs else (), answers).ask()
        if answer == "both":
            return self._write(_free_name(path))
        if answer == "mine":
            return self._keep_version(path, "theirs") and self._write(path)
        if answer == "theirs" and theirs is not None:
            if problem := self.store.history.keep(path, self.store.job, "mine"):
                self.window.complain(f"{problem} Nothing was changed.")
                return False
            lock = self.store.lock
            self.store.lock = None
            self.store.open_job(theirs, path, disk=OnDisk.of(path))
            self.store.hold(lock)
            self.store.notice("Theirs is open now. Yours is kept among the versions (Job, Versions).")
            return True
        return False

    def _keep_version(self, path: Path, why: str) -> bool:
        """Keep what is in a job's file now among its versions, whatever it is; False, and said, where that cannot be."""
        try:
            before = read_plain(path)
        except OSError:
            return True  # there is nothing to keep
        if problem := self.store.history.keep(path, before, why):
            self.window.complain(f"{problem} Nothing was changed.")
        return not problem

    # --- leaving --------------------------------------------------------------------------------------------------
    def close_job(self) -> None:
        if self.may_leave():
            self.store.open_job(blank_job(), None)
            self.window.show_start()

    def may_leave(self) -> bool:
        """Whether the job on the desk may go; asks when it is not saved, or when something typed could not be read."""
        left = self.window.settle_typing()
        if not self.store.unsaved and not left:
            return True
        buttons = QMessageBox.StandardButton
        words = f'"{self.store.job.heading.title}" is not saved.' if self.store.unsaved else ""
        words += f" {left}" if left else ""
        answer = words_box.ask(
            self.window, words.strip(), buttons.Save | buttons.Discard | buttons.Cancel, buttons.Save
        )
        if answer == buttons.Save:
            return self.save()
        return answer == buttons.Discard

    # --- what happens meanwhile -----------------------------------------------------------------------------------
    def _told_of_other(self) -> None:
        assert self.store.path is not None
        self.store.notice(
            f"{self.store.path.name} was changed by another. Nothing is overwritten: you are asked when you save.",
            serious=True,
        )

    def _told_of_taking(self, holder: object) -> None:
        self.store.notice(
            f"This job was {self.store.read_only}. What you have is here to read; save it under another name.", True
        )


def _is_in_file(one: Unsaved, job: Job | None) -> bool:
    """Whether waiting work is in its file already, with all that goes along: then nobody need be asked."""
    if job != one.job or one.unread or one.path is None:
        return False
    return all(is_inside(one.path.parent, name) for name, _source in one.files)


def _saved_at(path: Path) -> str:
    try:
        return datetime.fromtimestamp(os.stat(path).st_mtime).isoformat(timespec="seconds")
    except OSError:
        return ""


def _when(stamp: str) -> str:
    return stamp.replace("T", " ")[:16] or "at an unknown time"


def _free_name(path: Path) -> Path:
    """A name beside a job's file that is not taken: "job (mine).ledger.json"."""
    stem = path.name.removesuffix(SUFFIX) if path.name.endswith(SUFFIX) else path.stem
    names = (path.with_name(f"{stem} (mine{'' if n == 1 else f' {n}'}){SUFFIX}") for n in range(1, 10_000))
    return next(name for name in names if not os.path.lexists(name))
