"""A desk without a window, to be killed: it edits, types, saves, writes sheets and takes work up, and says what it has acknowledged.

    driver.py HOME JOB MODE SEED [KILL_AT]

Each edit has a number, in the title of the job. A line "ack N" is printed once the edit of that number has returned. In the mode "half"
half a line of the call-out is typed before each save: "half N" is printed once it is typed, "entered N" once it is entered. With KILL_AT
the process kills itself before its so-manieth file operation.
"""

from __future__ import annotations

import os
import random
import signal
import sys
import time
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QCoreApplication

from robust_ledger.desk.kit.store import JobStore
from robust_ledger.job.edits import with_part
from robust_ledger.job.files import JobFileError, read_job
from robust_ledger.job.job import Job, blank_job
from robust_ledger.jobbook.disk import OnDisk
from robust_ledger.jobbook.lock import JobLock
from robust_ledger.jobbook.unsaved import left_behind, of_file

HALF = "call-out line"
OPERATIONS = ("write", "replace", "rename", "unlink", "fsync", "open", "mkdir", "rmdir", "chmod")


def number_of(job: Job) -> int:
    """The number of the last edit in a job."""
    return int(job.heading.title.split()[-1]) if job.heading.title.startswith("edit ") else 0


def count_down(kill_at: int) -> None:
    """Die before the file operation of that number."""
    left = [kill_at]

    def watched(name: str):
        real = getattr(os, name)

        def operation(*arguments, **named):
            left[0] -= 1
            if left[0] == 0:
                os.kill(os.getpid(), signal.SIGKILL)
            return real(*arguments, **named)

        return operation

    for name in OPERATIONS:
        setattr(os, name, watched(name))


def say(words: str) -> None:
    sys.stdout.write(words + "\n")
    sys.stdout.flush()


def opened(store: JobStore, path: Path) -> None:
    """Open the job as the desk does: work that waits and is newer is taken up."""
    waiting = of_file(left_behind(store.journals), path)
    lock = JobLock(path)
    assert lock.take() is None, "the lock of a run that was killed is free"
    try:
        job = read_job(path) if path.exists() else blank_job()
    except JobFileError as problem:
        say(f"broken {problem}")
        sys.exit(1)
    disk = OnDisk.of(path)
    newest = max(waiting, key=lambda one: number_of(one.job), default=None)
    if newest is not None and number_of(newest.job) > number_of(job):
        store.take_up(newest, disk)
    else:
        store.open_job(job, path, disk=disk)
        for one in waiting:
            one.put_away()
    store.path = path
    store.hold(lock)


def main() -> None:
    _home, job, mode, seed, *rest = sys.argv[1:]
    path, dice = Path(job), random.Random(int(seed))
    _app = QCoreApplication([])
    store = JobStore(Path(_home))
    if rest:
        count_down(int(rest[0]))
    opened(store, path)
    number = number_of(store.job)
    say(f"ready {number}")
    steps = 12 if rest else 100_000
    for step in range(steps):
        number += 1
        title = f"edit {number}"
        if mode != "burst" and dice.random() < 0.3:
            store.typing("Title", title, lambda one, title=title: with_part(one, "heading", title=title))
        store.edit("change title", partial(with_part, part="heading", title=title, notes="x" * (step % 50)))
        say(f"ack {number}")
        if mode == "human":
            time.sleep(dice.uniform(0.005, 0.05))
        if mode == "half":
            store.typing(HALF, f"{number} twenty twe", None, waits=True)
            say(f"half {number}")
            time.sleep(dice.uniform(0.0, 0.01))
        if mode in ("save", "half") or (rest and step % 4 == 3):
            store.save(path)
        if mode == "half" and dice.random() < 0.3:
            say(f"entering {number}")
            store.typed_nothing(HALF)
        if mode == "export" and step % 3 == 0:
            from robust_ledger.papers.packet import all_sheets, write_sheet

            write_sheet(all_sheets()[0], store.plan, path.parent / "job-directory.pdf")
        if mode == "recover":
            store.abandon()
            store.is_closed = False
            store.undo_stack.blockSignals(False)
            opened(store, path)
    store.close()
    say("done")


if __name__ == "__main__":
    main()
