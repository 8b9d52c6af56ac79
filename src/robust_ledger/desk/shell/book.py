"""What keeps the job book in step with its folder, beside the window. What it takes to do so is loaded when it is first asked: the desk's
start need not wait for it."""

from __future__ import annotations

import os
from datetime import date
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from robust_ledger.desk.kit.settings import Settings
from robust_ledger.desk.kit.worker import ProgressRow, Worker
from robust_ledger.job.job import Job
from robust_ledger.jobbook.home import home
from robust_ledger.ledger.progress import Progress

if TYPE_CHECKING:
    from robust_ledger.jobbook.book import Kept
    from robust_ledger.jobbook.index import Answer, BookSummary, Index
    from robust_ledger.jobbook.profile_store import ProfileStore

NAME = "book.sqlite"
PATIENCE_MS = 2000
STUCK: list[Worker] = []  # threads that did not end: they are kept, as Qt takes the program down with one that it loses


class BookKeeper(QObject):
    """The index of the jobs, its folder, and the stored profiles."""

    changed = pyqtSignal()  # the index has something new
    told = pyqtSignal(str)  # how the last look through the folder went

    def __init__(self, settings: Settings, parent: QObject) -> None:
        super().__init__(parent)
        self.settings = settings
        self.progress: ProgressRow | None = None  # where the list shows it
        self.saving: list[Worker] = []
        self._index: Index | None = None

    @cached_property
    def profile_store(self) -> ProfileStore:
        from robust_ledger.jobbook.profile_store import ProfileStore

        return ProfileStore(home())

    @property
    def folder(self) -> Path | None:
        """The folder of jobs; None as long as none was chosen."""
        name = self.settings.text("book", "")
        return Path(name) if name else None

    def choose_folder(self, folder: Path) -> None:
        """Take another folder of jobs."""
        self.settings.put("book", str(folder.absolute()))
        self.look_through()

    @property
    def index(self) -> Index:
        """The index, opened when first asked."""
        from robust_ledger.jobbook.index import Index

        if self._index is None:
            self._index = Index(home() / NAME)
        return self._index

    def search(self, text: str = "", stands: str = "", open_only: bool = False) -> Answer:
        """Jobs as the book has them now; none when the index cannot be asked, which is told."""
        from robust_ledger.jobbook.book import DAMAGE
        from robust_ledger.jobbook.index import Answer, is_damage

        try:
            return self.index.search(text, stands, open_only, date.today().isoformat())
        except DAMAGE as problem:
            if is_damage(problem):
                self.index.begin_anew()
                self.look_through()
                self.told.emit("The job book's index was damaged; it is being made anew.")
            else:
                self.told.emit(f"The job book's index cannot be read just now: {problem}.")
            return Answer((), 0)

    def tells(self) -> BookSummary:
        """What the jobs tell together."""
        from robust_ledger.jobbook.book import DAMAGE
        from robust_ledger.jobbook.index import BookSummary

        try:
            return self.index.tells()
        except DAMAGE:
            return BookSummary({}, (), {}, 0.0, 0)

    def new_job(self) -> Job:
        """An empty job from the chosen profiles, with the minutes of one's own earlier days."""
        return self.with_minutes(self.profile_store.new_job())

    def with_minutes(self, job: Job) -> Job:
        """A job whose day is planned with minutes of one's own earlier days, where there are any."""
        from robust_ledger.job.edits import with_part

        minutes = self.tells().minutes if os.path.exists(home() / NAME) else {}
        return with_part(job, "day", own_minutes=minutes) if minutes else job

    def look_through(self) -> None:
        """Bring the index in step with the folder and the recent jobs, beside the window."""
        from robust_ledger.jobbook.book import BookError, keep_in_step
        from robust_ledger.jobbook.index import Index

        if self.progress is None:
            return
        index, folder, recent = self.index, self.folder, self.settings.recent_names()

        def work(progress: Progress) -> Kept:
            own = index if index.fault else Index(index.file)
            try:
                return keep_in_step(own, folder, [Path(name) for name in recent], progress)
            finally:
                if own is not index:
                    own.close()

        worker = Worker(work, (BookError,))
        worker.progressed.connect(lambda _part: self.changed.emit())
        self.progress.run("Reading the jobs", worker, self._kept, self._failed)

    def begin_anew(self) -> None:
        """Make the index anew from the jobs."""
        if self.progress is not None:
            self.progress.cancel(wait=True)
        self.index.begin_anew()
        self.look_through()

    def saved(self, path: Path) -> None:
        """A job was saved: read that one."""
        from robust_ledger.jobbook.book import BookError, put_file
        from robust_ledger.jobbook.index import Index

        index = self.index

        def work(_progress: Progress) -> None:
            own = index if index.fault else Index(index.file)
            put_file(own, path)
            if own is not index:
                own.close()

        worker = Worker(work, (BookError,))
        worker.answered.connect(lambda _answer: self.changed.emit())
        self.saving = [*(one for one in self.saving if one.isRunning()), worker]
        worker.start()

    def stop(self) -> None:
        """The window closes, and waits for nobody: what still reads from a share that is gone is left to the end of the program."""
        if self.progress is not None:
            STUCK.extend(self.progress.end(PATIENCE_MS))
        for one in self.saving:
            one.blockSignals(True)
            if not one.wait(PATIENCE_MS):
                STUCK.append(one)
        if self._index is not None:
            self._index.close()
            self._index = None

    def _kept(self, made: Kept) -> None:
        where = f"In {_short(self.folder)}: " if self.folder is not None else "Opened here before: "
        words = f"{where}{made.words}." if made.jobs or self.folder is not None else ""
        self.told.emit(f"{words} {self.index.fault}".strip())
        self.changed.emit()

    def _failed(self, words: str) -> None:
        canceled = words.startswith("Canceled")
        self.told.emit("Stopped; the jobs read until then are in the book." if canceled else words)
        self.changed.emit()


def _short(folder: Path) -> str:
    """A folder as it is shown: below the user's own, from there."""
    return f"~/{folder.relative_to(Path.home())}" if folder.is_relative_to(Path.home()) else str(folder)
