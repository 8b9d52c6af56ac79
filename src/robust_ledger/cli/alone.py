"""Having a job to oneself: the only way in which a command writes one that is there."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from robust_ledger.job.files import JobFileError, read_job, write_job
from robust_ledger.job.job import Job


class Own:
    """A job that nobody else writes meanwhile, as it was when it was taken."""

    def __init__(self, path: Path) -> None:
        self.path, self.job = path, read_job(path)

    def write(self, job: Job) -> bool:
        """Write what became of it; False when that is what it was. Raises JobFileError."""
        if job == self.job:
            return False
        write_job(job, self.path)
        return True


@contextmanager
def alone(path: Path) -> Iterator[Own]:
    """Have a job to oneself, from reading it to writing it. Raises JobFileError, naming who has it open."""
    from robust_ledger.jobbook.lock import JobLock

    read_job(path)  # what is wrong with it is said first, and no lock is put where there is no job
    lock = JobLock(path)
    if (holder := lock.take()) is not None:
        raise JobFileError(f"{path.name} is open: {holder.words}; nothing was written.")
    try:
        yield Own(path)
    finally:
        lock.release()
