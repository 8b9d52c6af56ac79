"""The last saves of a job, kept aside and thinned out with age, to look through and to take back."""

from __future__ import annotations

import os
import zlib
from contextlib import suppress
from datetime import datetime, timedelta
from pathlib import Path

from msgspec import Struct

from robust_ledger.job.files import MAX_BYTES, JobFileError, job_bytes, parse_job, text_of
from robust_ledger.job.job import Job
from robust_ledger.job.whole import write_whole
from robust_ledger.ledger.text import reason_of

NEWEST = 12  # kept whatever their age
_STAMP = "%Y%m%d-%H%M%S"


class Version(Struct, frozen=True):
    """A save of a job: when, and why it was kept ("" for a save, else in words)."""

    file: Path
    at: datetime
    why: str = ""

    @property
    def words(self) -> str:
        """As the list of versions shows it."""
        return f"{self.at:%Y-%m-%d %H:%M:%S}" + (f", {self.why}" if self.why else "")


class History:
    """The versions of the jobs of this user, in folders by the job's own path."""

    def __init__(self, root: Path) -> None:
        self.root = root

    def keep(self, path: Path, job: Job, why: str = "", now: datetime | None = None) -> str:
        """Keep a job as a version of its file; "" or a sentence that it could not be kept. The same as the last is not kept twice."""
        import gzip

        data = job_bytes(job)
        folder, now = self._folder(path), now or datetime.now()
        try:
            folder.mkdir(parents=True, exist_ok=True)
            if (before := self.versions(path)) and not why and _bytes_of(before[0].file) == data:
                return ""
            slug = "".join(c if c.isalnum() else "-" for c in why)[:40]
            name = f"{now.strftime(_STAMP)}-{len(before):04d}{'-' + slug if slug else ''}.json.gz"
            write_whole(folder / name, lambda temporary: temporary.write_bytes(gzip.compress(data, 6, mtime=0)))
            for one in thinned(self.versions(path), now):
                one.file.unlink(missing_ok=True)
        except OSError as problem:
            return f"The versions before could not be kept: {reason_of(problem)}."
        return ""

    def versions(self, path: Path) -> list[Version]:
        """The versions of a job's file, the newest first."""
        made = []
        with suppress(OSError):
            for name in os.listdir(self._folder(path)):
                stem = name.removesuffix(".json.gz")
                with suppress(ValueError):
                    at = datetime.strptime(stem[:15], _STAMP)
                    made.append(Version(self._folder(path) / name, at, stem[21:].replace("-", " ")))
        return sorted(made, key=lambda one: one.file.name, reverse=True)

    def job(self, version: Version) -> Job:
        """The job as it was. Raises JobFileError."""
        data = _bytes_of(version.file)
        if data is None:
            raise JobFileError(f"The version of {version.words} is damaged.")
        return parse_job(text_of(data, "The version"), f"The version of {version.words}")

    def _folder(self, path: Path) -> Path:
        import hashlib

        real = os.path.realpath(path)
        return self.root / hashlib.sha256(os.fsencode(real)).hexdigest()[:24]


def thinned(versions: list[Version], now: datetime) -> list[Version]:
    """Those that go: beyond the newest twelve one an hour stays for a day, one a day for two months, then one a month."""
    seen: set[str] = set()
    gone = []
    for number, one in enumerate(versions):
        age = now - one.at
        grain = "%Y%m%d%H" if age < timedelta(days=1) else "%Y%m%d" if age < timedelta(days=62) else "%Y%m"
        slot = f"{grain}{one.at.strftime(grain)}"
        if number >= NEWEST and slot in seen:
            gone.append(one)
        seen.add(slot)
    return gone


def _bytes_of(file: Path) -> bytes | None:
    import gzip

    try:
        with gzip.open(file) as inner:
            data = inner.read(MAX_BYTES + 1)
    except (OSError, EOFError, zlib.error):
        return None
    return data if len(data) <= MAX_BYTES else None
