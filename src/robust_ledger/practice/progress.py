"""How a learner comes along: every panel and every drill with its result, kept in a file of this computer, a line each; exported as a table."""

from __future__ import annotations

import os
from collections.abc import Iterable
from datetime import datetime
from pathlib import Path

import msgspec
from msgspec import Struct

from robust_ledger.job.doors import read_plain
from robust_ledger.job.whole import private_folder
from robust_ledger.practice.drills.model import Run
from robust_ledger.practice.drills.run import TITLES
from robust_ledger.practice.score import Score

NAME = "practice.jsonl"
COLUMNS = ("date", "exercise", "code", "points of 100", "right", "asked", "minutes")


class Done(Struct, frozen=True):
    """An exercise that was done. `points` of a panel; `right` of `asked` of a drill; the others are 0."""

    at: str
    exercise: str
    code: str = ""
    points: int = 0
    right: int = 0
    asked: int = 0
    minutes: float = 0.0

    @property
    def words(self) -> str:
        """ "11/28/2026  Panel 14-9YDJS-V: 83 of 100, 24 min"."""
        what = (
            f"Panel {self.code}: {self.points} of 100"
            if self.code
            else f"{self.exercise}: {self.right} of {self.asked} right"
        )
        time = f", {self.minutes:.0f} min" if self.minutes >= 1 else ""
        return f"{_date(self.at)}  {what}{time}"


class Progress(Struct, frozen=True):
    """What was done, the oldest first, and how many lines of the file could not be read."""

    done: tuple[Done, ...]
    unread: int = 0


def of_panel(score: Score, at: datetime) -> Done:
    """A panel that was handed in."""
    found, faults = len(score.found), len(score.found) + len(score.missed)
    return Done(
        at.isoformat(timespec="seconds"),
        "panel",
        score.code,
        score.points,
        found,
        faults,
        round(score.minutes or 0.0, 1),
    )


def of_drill(run: Run, at: datetime) -> Done:
    """A drill that is over."""
    return Done(
        at.isoformat(timespec="seconds"), TITLES[run.drill], "", 0, run.right, run.asked, round(run.seconds / 60, 1)
    )


def keep(folder: Path, one: Done) -> None:
    """Write it behind the others. Raises OSError."""
    private_folder(folder)
    with os.fdopen(os.open(folder / NAME, os.O_RDWR | os.O_APPEND | os.O_CREAT, 0o600), "ab+") as file:
        if file.tell():
            file.seek(-1, 2)
            whole = file.read(1) == b"\n"
        else:
            whole = True
        file.write((b"" if whole else b"\n") + msgspec.json.encode(one) + b"\n")


def kept(folder: Path) -> Progress:
    """Everything that was done; lines that cannot be read are counted and passed over. Raises OSError."""
    path, done, unread = folder / NAME, [], 0
    if not path.exists():
        return Progress(())
    for line in read_plain(path).splitlines():
        try:
            done.append(msgspec.json.decode(line, type=Done))
        except (msgspec.DecodeError, UnicodeDecodeError):
            unread += bool(line.strip())
    return Progress(tuple(done), unread)


def rows(done: Iterable[Done]) -> list[list[str]]:
    """The progress as a table, its head first."""
    made = [list(COLUMNS)]
    for one in done:
        points = str(one.points) if one.code else ""
        made.append([one.at, one.exercise, one.code, points, str(one.right), str(one.asked), f"{one.minutes:g}"])
    return made


def _date(at: str) -> str:
    try:
        return datetime.fromisoformat(at).strftime("%m/%d/%Y")
    except ValueError:
        return "?"
