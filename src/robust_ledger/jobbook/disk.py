"""A job's file as it was when this run read or wrote it, to notice when another has changed it."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Self

from robust_ledger.job.files import JobFileError, read_whole

Stamp = tuple[int, int, int]


class OnDisk:
    """What is known of a job's file: its stamp, which is quickly looked at, and a digest of what is in it."""

    def __init__(self, digest: str = "", stamp: Stamp | None = None) -> None:
        self.digest, self.stamp = digest, stamp
        self._told: Stamp | None = None

    @classmethod
    def of(cls, path: Path) -> Self:
        """The file as it is now; an empty one when it cannot be read."""
        import hashlib  # only where there is a file: it costs the desk's start three milliseconds

        stamp = _stamp(path)
        try:
            return cls(hashlib.sha256(read_whole(path)).hexdigest(), stamp)
        except JobFileError:
            return cls()

    def is_other(self, path: Path) -> bool:
        """Whether the file holds something else than it did. One that is gone or cannot be read is none: saving brings it back."""
        stamp = _stamp(path)
        if stamp is None or stamp == self.stamp:
            return False
        now = OnDisk.of(path)
        if now.digest == self.digest:
            self.stamp = stamp
        return now.digest not in ("", self.digest)

    def has_news(self, path: Path) -> bool:
        """As `is_other`, but each change of the file is told once."""
        stamp = _stamp(path)
        if stamp is None or stamp in (self.stamp, self._told):
            return False
        self._told = stamp
        return self.is_other(path)


def _stamp(path: Path) -> Stamp | None:
    try:
        status = os.stat(path)
    except (OSError, ValueError):
        return None
    return status.st_mtime_ns, status.st_size, status.st_ino
