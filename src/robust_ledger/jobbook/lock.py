"""The lock beside a job: who has it open, on which machine, since when. One of them writes, the others read.

It is a small file `.name.lock` with the words, held by a lock of the system as long as its run lives, and touched every so often. Who looks
whether it is free, takes it, or lets it go, does so alone: the job's folder is held meanwhile, so that two who come at the same moment come
one after the other. On its own machine a lock that no run holds was left behind, and counts for nothing. Another machine's is never taken
for that by its age alone: two clocks may be an hour apart. It is told for how long nothing was heard of it, and the user decides.
"""

from __future__ import annotations

import fcntl
import json
import os
import pwd
import time
import uuid
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from datetime import datetime
from functools import cache
from pathlib import Path

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.doors import read_plain

BEAT_S = 20.0  # how often a lock is touched
MACHINE = 12  # letters of an id that say which machine it is of
WAIT_S = 3.0  # for another who looks at the lock just now
UNSURE_S = 0.25
SILENT_S = 75.0  # one that was not touched for so long may have been left behind
_WRITTEN = ("who", "host", "since", "id")


class Holder(Struct, frozen=True):
    """Who has a job open. `silent_min`: for how long nothing was heard of them, by this machine's clock; 0 when they were just now."""

    who: str
    host: str
    since: str
    id: str
    silent_min: int = 0

    @property
    def words(self) -> str:
        """As the desk says it."""
        words = f"{self.who or 'somebody'} on {self.host or 'another machine'} since {self.since.replace('T', ' ') or 'an unknown time'}"
        return words + (
            f", not heard of for {self.silent_min:,} min by this machine's clock" if self.silent_min else ""
        )


SOMEBODY = Holder("", "", "", "")  # who cannot be told


class JobLock:
    """The lock of one job, as this run holds it or not."""

    def __init__(self, path: Path) -> None:
        self.file = lock_file(path)
        self.me = Holder(
            _user(), os.uname().nodename, datetime.now().isoformat(timespec="minutes"), _machine() + uuid.uuid4().hex
        )
        self._open: int | None = None

    def take(self, over: Holder | None = None) -> Holder | None:
        """Take the lock; answers who has it, None when it is ours now. `over`: take it from that holder, with the user's consent; one who
        has come since is answered. Where no lock can be written, in a folder that is read only, there is none and nobody has it."""
        with _folder_held(self.file.parent) as sure:
            if sure is None:
                return self.holder() or SOMEBODY
            if (holder := self.holder()) is not None and (over is None or holder.id != over.id):
                return holder
            taken = self._write()
        if taken and not sure:
            time.sleep(UNSURE_S)  # a file system that holds no folders: who came at the same moment has written by now
        now = self._written()
        return None if now is None or now.id == self.me.id else now

    def _write(self) -> bool:
        """Put our words in the place of what is there; False where nothing can be written."""
        temporary = self.file.with_name(f"{self.file.name}-{self.me.id[:8]}")
        try:
            file = os.open(temporary, os.O_RDWR | os.O_CREAT | os.O_TRUNC | os.O_NOFOLLOW, 0o644)
        except OSError:
            return False
        try:
            os.write(file, json.dumps({name: getattr(self.me, name) for name in _WRITTEN}).encode())
            with suppress(OSError):  # a file system without locks: then the beat alone tells
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            os.replace(temporary, self.file)
        except OSError:
            os.close(file)
            with suppress(OSError):
                temporary.unlink()
            return False
        self._close()
        self._open = file
        return True

    def holder(self) -> Holder | None:
        """Who else has the job open; None when nobody does, or only a run that has ended."""
        written = self._written()
        if written is None or written.id == self.me.id:
            return None
        try:
            file = os.open(self.file, os.O_RDONLY | os.O_NONBLOCK)
        except OSError:
            return None
        try:
            age_s = time.time() - os.fstat(file).st_mtime
            fcntl.flock(file, fcntl.LOCK_SH | fcntl.LOCK_NB)
        except BlockingIOError:
            return written  # a living run of this machine
        except OSError:
            pass  # a file system without locks: nobody can tell
        else:
            if self._is_from_here(written):
                return None
        finally:
            os.close(file)
        return replace(written, silent_min=round(age_s / 60)) if age_s >= SILENT_S else written

    def _is_from_here(self, other: Holder) -> bool:
        """Whether another lock is of this machine; those of earlier versions only say its name."""
        if len(other.id) == len(self.me.id):
            return other.id[:MACHINE] == self.me.id[:MACHINE]
        return other.host == self.me.host

    @property
    def is_ours(self) -> bool:
        """Whether this run still has it: another may have taken it over."""
        written = self._written()
        return self._open is not None and written is not None and written.id == self.me.id

    def beat(self) -> None:
        """Show other machines that this run is alive."""
        if self.is_ours:
            with suppress(OSError):
                os.utime(self.file)

    def release(self) -> None:
        """Let it go; one that was taken over stays with who has it."""
        if self._open is not None:
            with _folder_held(self.file.parent):
                if self.is_ours:
                    with suppress(OSError):
                        self.file.unlink(missing_ok=True)
        self._close()

    def _written(self) -> Holder | None:
        try:
            data = json.loads(read_plain(self.file, 4000))
            return Holder(**{name: str(data[name])[:200] for name in _WRITTEN})  # type: ignore[arg-type]
        except (OSError, ValueError, KeyError, TypeError):
            return None

    def _close(self) -> None:
        if self._open is not None:
            os.close(self._open)
            self._open = None


@contextmanager
def _folder_held(folder: Path) -> Iterator[bool | None]:
    """Hold a job's folder for as long as its lock is looked at and taken: True when it is held, False where the file system does not do
    that, None when another has held it for longer than anybody needs."""
    try:
        file = os.open(folder, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC)
    except OSError:
        yield False
        return
    try:
        yield _held_within(file, WAIT_S)
    finally:
        os.close(file)


def _held_within(file: int, wait_s: float) -> bool | None:
    until = time.monotonic() + wait_s
    while True:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            if time.monotonic() > until:
                return None
            time.sleep(0.002)
        except OSError:
            return False
        else:
            return True


def lock_file(path: Path) -> Path:
    """Where the lock of a job is: beside the file itself, however it is reached."""
    real = Path(os.path.realpath(path))
    name = f".{real.name}.lock"
    if len(name.encode()) > 200:  # names have 255 bytes, and a second one is needed while it is written
        import hashlib

        name = f".{hashlib.sha256(real.name.encode()).hexdigest()[:32]}.lock"
    return real.with_name(name)


def _machine() -> str:
    """A mark of this machine; many machines have the same name. What could not be read just now is read again the next time: kept for
    good, it would make every run of this desk one of another machine."""
    import hashlib

    own = os.uname().nodename.encode()
    with suppress(OSError):
        own += _machine_id()
    return hashlib.sha256(own).hexdigest()[:MACHINE]


@cache
def _machine_id() -> bytes:
    """What the system says of itself. Raises OSError."""
    return read_plain(Path("/etc/machine-id"), 100)


def _user() -> str:
    try:
        return pwd.getpwuid(os.getuid()).pw_name
    except (OSError, KeyError):  # no name for this user on this machine
        return ""
