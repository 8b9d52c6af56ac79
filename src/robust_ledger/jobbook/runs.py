"""The trail of a run of the desk: what kind of thing was done when, so that after a crash the next start can say what was being done.

Nothing of the customer's is in it: kinds of actions and stages, no names, no figures, no paths.
"""

from __future__ import annotations

import os
import sys
import uuid
from contextlib import suppress
from datetime import datetime
from pathlib import Path
from typing import IO

from msgspec import Struct

from robust_ledger.job.doors import read_plain
from robust_ledger.job.whole import private_folder
from robust_ledger.jobbook.about import about
from robust_ledger.jobbook.held import hold, is_held, remove_tree

HELD, TRAIL, FAULT = "held", "trail", "fault"
LONGEST_BYTES = 200_000
LAST = 40  # lines of a trail that a report has


class Ended(Struct, frozen=True):
    """A run that ended without closing."""

    place: Path
    started: str
    trail: tuple[str, ...]
    fault: str

    @property
    def words(self) -> str:
        """What was being done, in a sentence."""
        last = self.trail[-1].partition(" ") if self.trail else ("", "", "")
        return (
            f"The desk ended at {last[0].replace('T', ' ')[:16]} without closing, at: {last[2]}."
            if self.trail
            else "The desk ended without closing."
        )

    def report(self) -> str:
        """What a developer needs to know of it, with nothing of the customer's in it."""
        import platform  # costs the desk's start more than all of this module

        head = (
            f"{about()}, Python {platform.python_version()}, {platform.system()} {platform.release()}",
            f"Started {self.started}. What was done last, by kind:",
        )
        return "\n".join([*head, *self.trail, "", self.fault or "No trace was left: the process was killed.", ""])

    def put_away(self) -> None:
        """Take the trail of the run away."""
        remove_tree(self.place)


class Run:
    """This run. A folder that cannot be written leaves it without a trail, and is no reason not to start."""

    def __init__(self, root: Path) -> None:
        self.place = root / uuid.uuid4().hex
        self.fault: IO[str] | None = None
        self._held: int | None = None
        self._trail: int | None = None
        self._size = 0
        with suppress(OSError):
            private_folder(root)
            private_folder(self.place)
            self._held = hold(self.place / HELD)
            self._trail = os.open(self.place / TRAIL, os.O_WRONLY | os.O_APPEND | os.O_CREAT, 0o600)
            fault = os.open(self.place / FAULT, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
            self.fault = os.fdopen(fault, "w", encoding="utf-8")

    def note(self, kind: str) -> None:
        """A kind of action, as "edit" or "stage load"."""
        if self._trail is not None and self._size < LONGEST_BYTES:
            line = f"{datetime.now().isoformat(timespec='milliseconds')} {kind}\n".encode("utf-8", "replace")
            with suppress(OSError):
                self._size += os.write(self._trail, line)

    def failed(self, kind: type[BaseException], frames: list[str]) -> None:
        """An error that nobody foresaw: its kind and where it came from; its message may hold the customer's words."""
        self.note(f"error {kind.__name__}")
        if self.fault is not None:
            with suppress(OSError):
                self.fault.write("\n".join([kind.__name__, *frames, ""]))
                self.fault.flush()

    def end(self) -> None:
        """The desk was closed."""
        for file in (self._held, self._trail):
            if file is not None:
                os.close(file)
        self._held = self._trail = None
        if self.fault is not None:
            self.fault.close()
            self.fault = None
        remove_tree(self.place)


def ended(root: Path) -> list[Ended]:
    """Runs that ended without closing, the last one first."""
    made = []
    with suppress(OSError):
        for name in os.listdir(root):
            one = None if is_held(root / name / HELD) else _ended(root / name)
            if one is not None:
                made.append(one)
    return sorted(made, key=lambda one: one.trail[-1:], reverse=True)


def _ended(place: Path) -> Ended | None:
    try:
        lines = read_plain(place / TRAIL).decode("utf-8", "replace").splitlines()
        fault = read_plain(place / FAULT).decode("utf-8", "replace")[-20_000:]
    except OSError:
        return None
    started = lines[0].partition(" ")[0] if lines else "at an unknown time"
    return Ended(place, started, tuple(lines[-LAST:]), _without_home(fault))


def _without_home(text: str) -> str:
    """Paths shortened to the program's own: a folder's name may be a person's."""
    for path in sorted(
        {p for p in (str(Path.home()), sys.prefix, sys.base_prefix, *sys.path) if len(p) > 1}, key=len, reverse=True
    ):
        text = text.replace(path, "…")
    return text
