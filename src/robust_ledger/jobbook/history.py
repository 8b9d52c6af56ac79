"""The last saves of a job, kept aside and thinned out with age, to look through and to take back. One that was kept for a reason, a conflict,
a take-over, a recovery, may be the only copy of somebody's work: it stays until somebody has looked at it or taken it back."""

from __future__ import annotations

import os
import zlib
from contextlib import suppress
from datetime import datetime, timedelta
from pathlib import Path

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.doors import read_plain
from robust_ledger.job.files import MAX_BYTES, JobFileError, job_bytes, parse_job, text_of
from robust_ledger.job.job import Job
from robust_ledger.job.whole import private_folder, write_whole
from robust_ledger.ledger.text import reason_of

NEWEST = 12  # kept whatever their age
_STAMP = "%Y%m%d-%H%M%S"
_SUFFIX, _SEEN = ".json.gz", "+seen"


class Version(Struct, frozen=True):
    """A save of a job: when, and why it was kept ("" for a save, else in words). `seen`: somebody has looked at it since."""

    file: Path
    at: datetime
    why: str = ""
    seen: bool = False

    @property
    def stays(self) -> bool:
        """Whether age does not thin it out."""
        return bool(self.why) and not self.seen

    @property
    def words(self) -> str:
        """As the list of versions shows it."""
        return f"{self.at:%Y-%m-%d %H:%M:%S}" + (f", {self.why}" if self.why else "")


class History:
    """The versions of the jobs of this user, in folders by the job's own path."""

    def __init__(self, root: Path) -> None:
        self.root = root

    def keep(self, path: Path, job: Job | bytes, why: str = "", now: datetime | None = None) -> str:
        """Keep a job, or what a file holds that cannot be read as one, as a version of its file; "" or a sentence that it could not be
        kept. A save that is the same as the last is not kept twice."""
        import gzip

        data = job if isinstance(job, bytes) else job_bytes(job)
        folder, now = self._folder(path), now or datetime.now()
        try:
            private_folder(self.root)
            private_folder(folder)
            before = self.versions(path)
            if before and not why and _bytes_of(before[0].file) == data:
                return ""
            slug = "".join(c if c.isalnum() else "-" for c in why)[:40]
            stamp = now.strftime(_STAMP)
            number = max(
                (int(one.file.name[16:20]) + 1 for one in before if one.file.name.startswith(stamp)), default=0
            )
            name = f"{stamp}-{number:04d}{'-' + slug if slug else ''}{_SUFFIX}"
            write_whole(folder / name, lambda temporary: temporary.write_bytes(gzip.compress(data, 6, mtime=0)), True)
            for one in thinned(self.versions(path), now):
                one.file.unlink(missing_ok=True)
        except OSError as problem:
            return f"The versions before could not be kept: {reason_of(problem)}."
        return ""

    def looked_at(self, version: Version) -> Version:
        """Somebody has looked at a version that was kept for a reason: from now on it goes as the others do."""
        if not version.stays:
            return version
        seen = version.file.with_name(version.file.name.removesuffix(_SUFFIX) + _SEEN + _SUFFIX)
        try:
            os.replace(version.file, seen)
        except OSError:  # then it stays
            return version
        return replace(version, file=seen, seen=True)

    def versions(self, path: Path) -> list[Version]:
        """The versions of a job's file, the newest first."""
        made = []
        with suppress(OSError):
            for name in os.listdir(self._folder(path)):
                stem = name.removesuffix(_SUFFIX)
                seen, stem = stem.endswith(_SEEN), stem.removesuffix(_SEEN)
                with suppress(ValueError):
                    int(stem[16:20])
                    at = datetime.strptime(stem[:15], _STAMP)
                    made.append(Version(self._folder(path) / name, at, stem[21:].replace("-", " "), seen))
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
    """Those that go: beyond the newest twelve one an hour stays for a day, one a day for two months, then one a month; what is kept for a
    reason that nobody has looked at stays, and takes no other's place."""
    seen: set[str] = set()
    gone = []
    for number, one in enumerate(version for version in versions if not version.stays):
        age = now - one.at
        grain = "%Y%m%d%H" if age < timedelta(days=1) else "%Y%m%d" if age < timedelta(days=62) else "%Y%m"
        slot = f"{grain}{one.at.strftime(grain)}"
        if number >= NEWEST and slot in seen:
            gone.append(one)
        seen.add(slot)
    return gone


def _bytes_of(file: Path) -> bytes | None:
    import gzip
    import io

    try:
        with gzip.open(io.BytesIO(read_plain(file, MAX_BYTES))) as inner:
            data = inner.read(MAX_BYTES + 1)
    except (OSError, EOFError, zlib.error):
        return None
    return data if len(data) <= MAX_BYTES else None
