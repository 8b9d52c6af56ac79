"""Unsaved work that runs which have ended left behind: read back from their journals, and put away once it is safe elsewhere."""

from __future__ import annotations

import json
import os
import time
from contextlib import suppress
from pathlib import Path
from typing import Any

from msgspec import Struct

from robust_ledger.job.doors import inside, is_inside, open_plain, read_plain
from robust_ledger.job.files import MAX_BYTES, JobFileError, job_of, parse_job
from robust_ledger.job.job import Job
from robust_ledger.jobbook.held import is_held, remove_tree
from robust_ledger.jobbook.journal import FILES, HELD, JOURNAL, changed, record_of, unsaved_drafts

FORGOTTEN_S = 86_400.0
LONGEST_START = 20_000  # bytes: the first record has two paths


class Unsaved(Struct, frozen=True):
    """Work that waits: the job with what was being typed taken in, when it was last touched, and `unread`: what was typed and
    could not be read, as label and text. `files`: where the files are that the job names and that are not beside it."""

    place: Path
    job: Job
    path: Path | None
    kept_at: str
    folder: Path | None = None
    files: tuple[tuple[str, Path], ...] = ()
    unread: tuple[tuple[str, str], ...] = ()
    last: str = ""

    def put_away(self) -> None:
        """Take it off the disk: only when the work is safe elsewhere, or was given up."""
        if self.place.is_dir():
            remove_tree(self.place)
        else:
            with suppress(OSError):
                self.place.unlink(missing_ok=True)


class Found(Struct, frozen=True):
    """All that waits, the newest first, and the names of what could not be read: that is left where it is."""

    waiting: tuple[Unsaved, ...] = ()
    unreadable: tuple[str, ...] = ()


def left_behind(root: Path) -> Found:
    """What runs that have ended left without saving. Journals of living runs are theirs; those of which nothing waits go."""
    waiting, unreadable = [], []
    for place in _places(root):
        try:
            one = _from_journal(place) if place.is_dir() else _from_copy(place)
        except (OSError, ValueError, KeyError, IndexError, TypeError, AttributeError, RecursionError, JobFileError):
            unreadable.append(place.name)
            continue
        if one is not None:
            waiting.append(one)
    waiting.sort(key=lambda one: one.kept_at, reverse=True)
    return Found(tuple(waiting), tuple(unreadable))


def of_file(found: Found, path: Path) -> list[Unsaved]:
    """What waits for one job's file, the newest first, by whatever way it is reached."""
    real = os.path.realpath(path)
    return [one for one in found.waiting if one.path is not None and os.path.realpath(one.path) == real]


def _places(root: Path) -> list[Path]:
    try:
        names = sorted(os.listdir(root))
    except OSError:
        return []
    folders = []
    for name in names:
        if os.path.isfile(root / name / JOURNAL):
            folders.append(root / name)
        elif os.path.isdir(root / name) and not is_held(root / name / HELD) and _age_s(root / name) > FORGOTTEN_S:
            remove_tree(root / name)  # a run that was killed before it had written anything
    return folders + [root / name for name in names if name.startswith("unsaved-") and name.endswith(".json")]


def _age_s(place: Path) -> float:
    try:
        return time.time() - os.stat(place).st_mtime
    except OSError:
        return 0.0


def _from_journal(place: Path) -> Unsaved | None:
    """Read a journal; None when its run is alive or nothing of it waits. Raises ValueError when nothing of it can be read."""
    if is_held(place / HELD):
        return None
    state = _State(place)
    with open_plain(place / JOURNAL) as lines:
        for line in lines:
            state.take(record_of(line))
    if state.data is None:
        if state.started or _was_never_begun(place / JOURNAL):
            remove_tree(place)
            return None
        raise ValueError("nothing of it can be read")
    if state.is_saved and not state.drafts:
        remove_tree(place)
        return None
    return state.result()


def _was_never_begun(journal: Path) -> bool:
    """Whether its run died before even the first record was down: then nothing that was done is missing."""
    data = read_plain(journal, LONGEST_START)
    return b"\n" not in data and len(data) < LONGEST_START and (not data or b'"k":"start"'.startswith(data[10:21]))


class _State:
    """What a journal says, as far as it was read."""

    def __init__(self, place: Path) -> None:
        self.place = place
        self.data: dict[str, Any] | None = None
        self.about: dict[str, Any] = {}
        self.drafts: dict[str, dict[str, Any]] = {}
        self.files: dict[str, Path] = {}
        self.started = self.is_saved = self.lost = False
        self.at = self.last = ""

    def take(self, record: dict[str, Any] | None) -> None:
        """The next record; None is one that is torn or damaged."""
        if record is None:
            self.lost = True  # what follows rests on what is missing, up to the next whole job
            return
        kind = record.get("k")
        if kind == "whole":
            self.data, self.lost, self.drafts = dict(record["job"]), False, unsaved_drafts(self.drafts)
            self.is_saved = bool(record.get("clean"))
        elif kind in ("start", "saved"):
            self.about = {"path": record.get("path"), "folder": record.get("folder")}
            self.started = True
            self.is_saved = self.is_saved or kind == "saved"
        elif self.lost or self.data is None:
            return
        elif kind == "edit":
            self.data = changed(self.data, record)
            self.is_saved, self.drafts = False, unsaved_drafts(self.drafts)
        elif kind == "draft":
            self.drafts[str(record.get("label", ""))] = record
        elif kind == "drop":
            gone = record.get("of", list(self.drafts))  # journals of earlier versions only knew one draft
            self.drafts = {label: one for label, one in self.drafts.items() if label not in gone}
        elif kind == "file":
            self.files[str(record["name"])] = Path(record["source"])
        self.at = str(record.get("at", self.at))
        self.last = str(record.get("label") or self.last)

    def result(self) -> Unsaved:
        """What waits. Raises JobFileError when the job that was written down is none."""
        assert self.data is not None
        job = job_of(self.data, self.place.name)
        data, unread = self.data, list[tuple[str, str]]()
        for label, draft in self.drafts.items():
            try:
                data = changed(data, draft)
                job = job_of(data, self.place.name)
            except (KeyError, IndexError, TypeError, ValueError, JobFileError):
                unread.append((label, str(draft.get("text", ""))))
        path, folder = (Path(value) if value else None for value in (self.about.get("path"), self.about.get("folder")))
        files = dict(self.files)
        for name in job.attachments:
            if is_inside(self.place / FILES, name):
                files[name] = inside(self.place / FILES, name)
        return Unsaved(self.place, job, path, self.at, folder, tuple(files.items()), tuple(unread), self.last)


def _from_copy(file: Path) -> Unsaved | None:
    """A copy as the desk kept it before there were journals."""
    data = json.loads(read_plain(file, 3 * MAX_BYTES))
    path = Path(data["path"]) if data["path"] else None
    return Unsaved(file, parse_job(data["job"], file.name), path, str(data["kept_at"]))
