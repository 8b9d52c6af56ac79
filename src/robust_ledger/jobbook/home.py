"""Where settings, profiles, the index, versions and unsaved work live."""

from __future__ import annotations

import os
import stat
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

NAME = "robust-ledger"
# What this program keeps in its state folder: nothing else that may lie there is touched.
OWN = (
    "recovery",
    "history",
    "profiles",
    "runs",
    "book.sqlite",
    "desk.",
    "caution-list.csv",
    "practice.jsonl",
    "utilities.json",
)


def home() -> Path:
    """The user's state folder; ROBUST_LEDGER_HOME overrides it (tests, a stick)."""
    override = os.environ.get("ROBUST_LEDGER_HOME")
    if override:
        return Path(override)
    state = os.environ.get("XDG_STATE_HOME", "")
    return (Path(state) if os.path.isabs(state) else Path.home() / ".local" / "state") / NAME


def close_to_others(folder: Path) -> int:
    """Take the rights of everybody else from what earlier versions kept here for all to read: addresses are in it. Answers how many files and
    folders were closed; links are not followed, and what cannot be changed stays as it is."""
    closed = 0
    with suppress(OSError):
        if folder not in (
            Path.home(),
            *Path.home().parents,
        ):  # a folder of one's own, not one that was named by mistake
            closed += _closed(folder)
        for name in sorted(os.listdir(folder)):
            if name.startswith(OWN):
                closed += sum(_closed(path) for path in _all_of(folder / name))
    return closed


def _all_of(path: Path) -> Iterator[Path]:
    yield path
    if path.is_dir() and not path.is_symlink():
        for place, folders, files in os.walk(path):
            yield from (Path(place) / name for name in (*folders, *files))


def _closed(path: Path) -> int:
    with suppress(OSError):
        mode = os.lstat(path).st_mode
        if mode & 0o077 and (stat.S_ISREG(mode) or stat.S_ISDIR(mode)):
            os.chmod(path, mode & 0o700)
            return 1
    return 0
