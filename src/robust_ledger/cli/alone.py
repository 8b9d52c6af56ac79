"""Having a job to oneself."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from robust_ledger.job.files import JobFileError


@contextmanager
def alone(path: Path) -> Iterator[None]:
    """Have a job to oneself, from reading it to writing it. Raises JobFileError, naming who has it open."""
    from robust_ledger.jobbook.lock import JobLock

    lock = JobLock(path)
    if (holder := lock.take()) is not None:
        raise JobFileError(f"{path.name} is open: {holder.words}; nothing was written.")
    try:
        yield
    finally:
        lock.release()
