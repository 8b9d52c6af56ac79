"""The journal of an open job: every edit is written down at once and flushed to the disk, and read back after a crash.

A journal is a folder of its own with a name that is given once. In it: `journal`, one record a line, appended only; `held`, locked
as long as the run that writes it lives; `files`, photos that have no job's folder yet. A record is a checksum and a JSON object:

    start   whose journal it is        whole   the job as a whole
    edit    what changed               draft   what is being typed, with the parts as they would be
    drop    what was typed is not      saved   the job is in its file as it is here
    file    a file that is to go along

What is being typed is known by the label of its line. A draft goes with the next edit, which takes it in, unless it waits: half a line of the
call-out stays until that line is entered or given up, whatever is edited meanwhile. No draft goes because the job is saved.
"""

from __future__ import annotations

import json
import os
import threading
import uuid
import zlib
from datetime import datetime
from pathlib import Path
from typing import Any

from robust_ledger.job.doors import put_inside, read_source
from robust_ledger.job.job import Job
from robust_ledger.job.parts.base import plain
from robust_ledger.job.whole import private_folder
from robust_ledger.jobbook.held import hold, remove_tree
from robust_ledger.ledger.text import reason_of

JOURNAL, HELD, FILES = "journal", "held", "files"
LONGEST_BYTES = 8_000_000  # then it begins anew with the job as it is
AFTER_S = 0.04  # from an edit to its flush: the screen comes first, and what comes at once is flushed at once
PARTS = tuple(name for name in Job.__struct_fields__ if name != "unknown")


class Journal:
    """This run's journal. Nothing is put on the disk before there is something to keep. Its methods return a sentence when that
    cannot be written, "" otherwise; the next one that can writes the job as a whole."""

    def __init__(self, root: Path) -> None:
        self.root = root
        self.folder = root / uuid.uuid4().hex  # a name of its own: another process can have this one's number
        self._flusher_failed = ""
        self._file: int | None = None
        self._held: int | None = None
        self._size = 0
        self._known: Job | None = None  # the job as the journal has it
        self._about: dict[str, Any] = {}
        self._flusher: _Flusher | None = None
        self._torn = False
        self._drafts: dict[str, dict[str, Any]] = {}  # what is being typed, by its label

    @property
    def is_begun(self) -> bool:
        """Whether something was written."""
        return self._file is not None

    @property
    def is_typing(self) -> bool:
        """Whether something is being typed that no edit has taken in."""
        return bool(self._drafts)

    def about(self, path: Path | None, folder: Path | None) -> None:
        """Whose journal it is: the job's file, or the folder that the files beside it are in."""
        self._about = {"path": str(path) if path else None, "folder": str(folder) if folder else None}

    def edited(self, label: str, job: Job) -> str:
        """Write an edit down: the parts that it changed."""
        self._drafts = unsaved_drafts(self._drafts)
        if self._known is None or self._known.unknown != job.unknown:
            return self._whole(label, job)
        return self._write({"k": "edit", "label": label, **_changes(self._known, job)}, job)

    def typing(self, label: str, text: str, before: Job, after: Job | None, waits: bool = False) -> str:
        """Write down what is being typed: the job as it would be, or None as long as the text cannot be read. `waits`: no edit of
        something else does away with it."""
        if self._known is None and (problem := self._whole("", before, clean=not self._torn)):
            return problem
        drafted = {} if after is None else _changes(before, after)
        record = {"k": "draft", "label": label, "text": text, **({"waits": True} if waits else {}), **drafted}
        self._drafts[label] = record
        return self._write(record, before)

    def typed_nothing(self, label: str | None = None) -> str:
        """What was being typed into a line was given up, or entered; without a label, all that does not wait."""
        gone = [
            draft
            for draft in self._drafts
            if draft == label or (label is None and not self._drafts[draft].get("waits"))
        ]
        for one in gone:
            del self._drafts[one]
        return self._write({"k": "drop", "of": gone}, self._known) if gone and self._known is not None else ""

    def goes_along(self, name: str, source: Path) -> str:
        """A file that the job names is somewhere else until the job is saved."""
        return self._write({"k": "file", "name": name, "source": str(source)}, self._known) if self.is_begun else ""

    def keeps_file(self, name: str, source: Path, found: dict[str, Path]) -> str:
        """Copy a file that the job names into the journal, and say in `found` that it is there."""
        try:
            found[name] = put_inside(private_folder(self.folder / FILES), name, read_source(source), private=True)
        except OSError as problem:
            return f"{Path(name).name} could not be copied: {reason_of(problem)}."
        return ""

    def is_safe(self) -> str:
        """Wait until what was written is on the disk; "" when it is, else a sentence."""
        try:
            if self._file is not None:
                os.fsync(self._file)
        except OSError as problem:
            self._flush_failed(problem)
        failed, self._flusher_failed = self._flusher_failed, ""
        return failed or ("Unsaved work is not kept aside." if self._torn or self._file is None else "")

    def saved(self, path: Path, job: Job) -> str:
        """The job is in its file as it is here; what is being typed is not, and waits still."""
        self.about(path, path.parent)
        return self._write({"k": "saved", **self._about}, job) if self.is_begun else ""

    def end(self) -> None:
        """Nothing waits any more: the journal goes."""
        self._drafts = {}
        self._close()
        if self.folder.exists():
            remove_tree(self.folder)
        self.folder = self.root / uuid.uuid4().hex

    def _whole(self, label: str, job: Job, clean: bool = False) -> str:
        """Write the job down as a whole; `clean` when nothing of it waits: it is what the typing that follows goes on from."""
        return self._write({"k": "whole", "label": label, "clean": clean, "job": job.as_data()}, job)

    def _write(self, record: dict[str, Any], job: Job | None) -> str:
        """Append a record; it is with the system when this returns, and on the disk as soon as the disk is ready."""
        try:
            file = self._open()
            if os.fstat(file).st_nlink == 0:  # somebody took the file away: what is written would be nowhere
                self._close()
                file, self._torn = self._open(), True
            if self._torn or self._size > LONGEST_BYTES:
                self._begin_anew(job)
                file = self._open()
            self._append(file, record)
        except OSError as problem:
            self._torn = True
            return f"Unsaved work cannot be kept aside in {self.root}: {reason_of(problem)}."
        self._known = job
        failed, self._flusher_failed = self._flusher_failed, ""
        return failed

    def _append(self, file: int, record: dict[str, Any]) -> None:
        line = line_of({**record, "at": datetime.now().isoformat(timespec="seconds")})
        done = os.write(file, line)
        if done < len(line):
            raise OSError(28, "no space left on device")
        self._size += done
        if self._flusher is not None:
            self._flusher.wanted.set()

    def _open(self) -> int:
        if self._file is None:
            private_folder(self.root)
            private_folder(self.folder / FILES)
            self._held = self._held or hold(self.folder / HELD)
            self._file = os.open(self.folder / JOURNAL, os.O_WRONLY | os.O_APPEND | os.O_CREAT, 0o600)
            self._size = os.fstat(self._file).st_size
            self._flusher = _Flusher(self._file, self._flush_failed)
            try:
                self._append(self._file, {"k": "start", **self._about})
            except OSError:
                self._close(keep_held=True)  # without its beginning nobody would know whose it is
                raise
        return self._file

    def _begin_anew(self, job: Job | None) -> None:
        """Put a journal in its place that begins with the job as a whole: when it has become long, or a record is torn."""
        if job is None:
            return
        fresh = self.folder / f"{JOURNAL}.new"
        whole = {"k": "whole", "label": "", "job": job.as_data()}
        lines = ({"k": "start", **self._about}, whole, *self._drafts.values())
        file = os.open(fresh, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
        with os.fdopen(file, "wb") as written:
            written.write(b"".join(line_of(line) for line in lines))
            written.flush()
            os.fsync(file)
        self._close(keep_held=True)
        os.replace(fresh, self.folder / JOURNAL)
        self._torn = False

    def _flush_failed(self, problem: OSError) -> None:
        words = reason_of(problem)
        self._flusher_failed = f"Unsaved work may not be on the disk in {self.root}: {words}."

    def _close(self, keep_held: bool = False) -> None:
        if self._flusher is not None:
            self._flusher.stop()
            self._flusher = None
        for name in ("_file",) if keep_held else ("_file", "_held"):
            if (file := getattr(self, name)) is not None:
                os.close(file)
                setattr(self, name, None)
        if not keep_held:
            self._known = None

    def abandon(self) -> None:
        """Let go of the journal and leave it where it is, for the next run."""
        self._drafts = {}
        self._close()
        self.folder = self.root / uuid.uuid4().hex


class _Flusher(threading.Thread):
    """Flushes the journal to the disk whenever something was written, so that an edit never waits for the disk."""

    def __init__(self, file: int, failed: Any) -> None:
        super().__init__(daemon=True, name="journal")
        self.file, self.failed = os.dup(file), failed
        self.wanted, self.ending = threading.Event(), threading.Event()
        self.start()

    def run(self) -> None:
        """Flush as often as something is wanted, until the end."""
        while True:
            self.wanted.wait()
            self.ending.wait(AFTER_S)
            self.wanted.clear()
            try:
                os.fsync(self.file)
            except OSError as problem:
                self.failed(problem)
            if self.ending.is_set():
                os.close(self.file)
                return

    def stop(self) -> None:
        """Flush once more, and end."""
        self.ending.set()
        self.wanted.set()
        self.join()


def line_of(record: dict[str, Any]) -> bytes:
    """A record as a line: its checksum and itself."""
    text = json.dumps(record, separators=(",", ":")).encode()
    return b"%08x %s\n" % (zlib.crc32(text), text)


def record_of(line: bytes) -> dict[str, Any] | None:
    """The record of a line; None when it is torn or damaged."""
    check, _, text = line.rstrip(b"\n").partition(b" ")
    try:
        if not line.endswith(b"\n") or int(check, 16) != zlib.crc32(text):
            return None
        record = json.loads(text)
    except (ValueError, RecursionError):
        return None
    return record if isinstance(record, dict) else None


def unsaved_drafts(drafts: dict[str, dict[str, Any]]) -> dict[str, dict[str, Any]]:
    """The drafts that an edit of something else does not do away with."""
    return {label: one for label, one in drafts.items() if one.get("waits")}


def _changes(before: Job, after: Job) -> dict[str, Any]:
    """What differs, as data: "set" whole parts, "put" items of a list at their places. Most parts, and most items, are the very same
    object, which is quickly seen."""
    parts: dict[str, Any] = {}
    items: dict[str, Any] = {}
    for name in PARTS:
        new, old = getattr(after, name), getattr(before, name)
        if new is old or new == old:
            continue
        if isinstance(new, tuple) and isinstance(old, tuple) and len(new) == len(old):
            items[name] = {str(n): plain(one) for n, one in enumerate(new) if one is not old[n]}
        else:
            parts[name] = plain(new)
    return {"set": parts, "put": items}


def changed(data: dict[str, Any], record: dict[str, Any]) -> dict[str, Any]:
    """The data of a job with what a record says of it. Raises KeyError, IndexError, TypeError or ValueError for one that does not fit."""
    made = {**data, **record["set"]}
    for name, items in record.get("put", {}).items():
        made[name] = list(made[name])
        for place, one in items.items():
            made[name][int(place)] = one
    return made
