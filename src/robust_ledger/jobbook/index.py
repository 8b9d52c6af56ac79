"""The index of the job book: a SQLite file with what each job is found by. It holds nothing of its own: it is made anew at will, from the
jobs themselves, whenever it is damaged, of another version, or gone."""

from __future__ import annotations

import os
import re
import sqlite3
import unicodedata
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager, suppress
from functools import wraps
from pathlib import Path
from threading import RLock
from typing import Any, Concatenate, ParamSpec, TypeVar

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.whole import private_folder
from robust_ledger.jobbook.digest import COLUMNS, Digest

INDEX_VERSION = 1
SHOWN = 100
WAIT_S = 5.0
_SCHEMA = f"""
CREATE TABLE job (id INTEGER PRIMARY KEY, path BLOB UNIQUE NOT NULL, mtime_ns INTEGER, size INTEGER, title TEXT, stands TEXT, address TEXT,
  customer TEXT, day TEXT, stop INTEGER, fix INTEGER, hours REAL, fault TEXT);
CREATE INDEX by_day ON job (day);
CREATE VIRTUAL TABLE words USING fts5({", ".join(COLUMNS)}, tokenize = "unicode61 remove_diacritics 2", prefix = '1 2 3');
CREATE TABLE defect (job INTEGER, kind TEXT);
CREATE TABLE minutes (job INTEGER, task TEXT, minutes REAL);
PRAGMA user_version = {INDEX_VERSION};
"""
P = ParamSpec("P")
T = TypeVar("T")
AROUND = 40  # letters shown around what was found
_ROW = "job.path, job.title, job.stands, job.address, job.customer, job.day, job.stop, job.fix, job.hours, job.fault"
_ORDER = "job.mtime_ns DESC, job.id"


class Hit(Struct, frozen=True):
    """A job of the book as it is listed; `found`: where the words were found, as column and text, when that is not who or where."""

    path: str
    title: str
    stands: str
    address: str
    customer: str
    day: str
    stop: int
    fix: int
    hours: float | None
    fault: str
    found: tuple[str, str] = ("", "")


class Answer(Struct, frozen=True):
    """The first jobs that were found, and how many there are in all."""

    hits: tuple[Hit, ...]
    count: int


class BookSummary(Struct, frozen=True):
    """What the jobs tell together: how many there are by how they stand, defects by kind with the number of jobs, minutes each time by task,
    and the hours of all that have a record, with their number."""

    stands: dict[str, int]
    defects: tuple[tuple[str, int], ...]
    minutes: dict[str, tuple[float, ...]]
    hours: float
    recorded: int


def _alone(do: Callable[Concatenate[Index, P], T]) -> Callable[Concatenate[Index, P], T]:
    """One thread at a time: an index in memory is one connection for the window and for whoever reads the jobs beside it."""

    @wraps(do)
    def done(self: Index, /, *given: P.args, **named: P.kwargs) -> T:
        with self.lock:
            return do(self, *given, **named)

    return done


class Index:
    """The index in its file; where none can be written, in memory, and `fault` says why."""

    def __init__(self, file: Path) -> None:
        self.file, self.fault, self.lock = file, "", RLock()
        self._begin()

    def _begin(self) -> None:
        file, self.fault = self.file, ""
        try:
            private_folder(file.parent)
            os.close(os.open(file, os.O_RDWR | os.O_CREAT, 0o600))  # customers' names are in it: nobody else's to read
            self.base = self._opened(str(file))
        except (sqlite3.Error, OSError, ValueError) as problem:
            self.fault = (
                f"The job book's index cannot be kept in {file}: {_reason(problem)}. It is made anew at each start."
            )
            self.base = self._opened(":memory:")

    def _opened(self, name: str) -> sqlite3.Connection:
        """A connection with the tables of this version; a file that is damaged or of another version is begun anew."""
        for trial in (1, 2):
            base = sqlite3.connect(name, timeout=WAIT_S, isolation_level=None, check_same_thread=False)
            try:
                with suppress(sqlite3.OperationalError):  # where a file system has no shared memory
                    base.execute("PRAGMA journal_mode = WAL")
                base.execute("PRAGMA synchronous = NORMAL")
                (version,) = base.execute("PRAGMA user_version").fetchone()
                if version == INDEX_VERSION:
                    base.execute(f"SELECT {_ROW} FROM job LIMIT 1").fetchone()
                    base.execute("SELECT rowid FROM words LIMIT 1").fetchone()
                    return base
                if version == 0 and not base.execute("SELECT name FROM sqlite_master").fetchone():
                    base.executescript(_SCHEMA)
                    return base
            except sqlite3.DatabaseError as problem:
                base.close()
                if trial == 2 or "locked" in str(problem) or "readonly" in str(problem) or "full" in str(problem):
                    raise
            else:
                base.close()
            if name != ":memory:":
                _unlinked(name)
        raise sqlite3.DatabaseError("it is of another version and in use")

    @_alone
    def close(self) -> None:
        """Let go of the file."""
        with suppress(sqlite3.Error):
            self.base.close()

    @_alone
    def begin_anew(self) -> None:
        """Throw the file away and begin an empty one: nothing in it is lost that the jobs do not have."""
        self.close()
        if not self.fault:
            _unlinked(str(self.file))
        self._begin()

    # --- filling --------------------------------------------------------------------------------------------------
    @contextmanager
    def together(self) -> Iterator[None]:
        """What is done within it is written at once, or not at all."""
        with self.lock:
            self.base.execute("BEGIN IMMEDIATE")
            try:
                yield
            except BaseException:
                self.base.execute("ROLLBACK")
                raise
            self.base.execute("COMMIT")

    @_alone
    def put(self, one: Digest) -> None:
        """Put a job in, in the place of what was known of its file. Raises sqlite3.Error."""
        self.drop(one.path)
        row: tuple[object, ...] = (
            os.fsencode(one.path), *one.stamp, one.title, one.stands, one.address, one.customer, one.day, one.stop, one.fix, one.hours, one.fault,
        )  # fmt: skip
        texts = tuple(_storable(text) for text in one.words)
        row = tuple(_storable(value) if isinstance(value, str) else value for value in row)
        number = self.base.execute(
            "INSERT INTO job (path, mtime_ns, size, title, stands, address, customer, day, stop, fix, hours, fault)"
            " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
            row,
        ).lastrowid
        marks = ", ".join("?" * len(COLUMNS))
        self.base.execute(f"INSERT INTO words (rowid, {', '.join(COLUMNS)}) VALUES (?, {marks})", (number, *texts))
        self.base.executemany("INSERT INTO defect VALUES (?, ?)", [(number, _storable(kind)) for kind in one.defects])
        self.base.executemany(
            "INSERT INTO minutes VALUES (?, ?, ?)", [(number, task, minutes) for task, minutes in one.minutes]
        )

    @_alone
    def drop(self, path: str) -> None:
        """Forget a job."""
        found = self.base.execute("SELECT id FROM job WHERE path = ?", (os.fsencode(path),)).fetchone()
        if found is not None:
            for table, key in (("words", "rowid"), ("defect", "job"), ("minutes", "job"), ("job", "id")):
                self.base.execute(f"DELETE FROM {table} WHERE {key} = ?", found)

    @_alone
    def stamps(self) -> dict[str, tuple[int, int]]:
        """Time of change and size of each file that is in the book, as it was read."""
        return {
            os.fsdecode(path): (mtime, size)
            for path, mtime, size in self.base.execute("SELECT path, mtime_ns, size FROM job")
        }

    @_alone
    def count(self, stands: str) -> int:
        """How many jobs stand so."""
        (many,) = self.base.execute("SELECT count(*) FROM job WHERE stands = ?", (stands,)).fetchone()
        return int(many)

    # --- asking ---------------------------------------------------------------------------------------------------
    @_alone
    def search(
        self, text: str = "", stands: str = "", open_only: bool = False, today: str = "", most: int = SHOWN
    ) -> Answer:
        """Jobs that have all the words, each by its beginning: those that have them in who and where first, then the last changed. Without any
        words today's first. Raises sqlite3.Error."""
        wanted, values = _wanted(stands, open_only)
        words = _query(text)
        if not words:
            where = f" WHERE {' AND '.join(wanted)}" if wanted else ""
            (count,) = self.base.execute(f"SELECT count(*) FROM job{where}", values).fetchone()
            asked = f"SELECT {_ROW} FROM job{where} ORDER BY (job.day = ?) DESC, {_ORDER} LIMIT ?"
            return Answer(tuple(_hit(row) for row in self.base.execute(asked, (*values, today, most))), count)
        where = " AND ".join(("job.id IN (SELECT rowid FROM words WHERE words MATCH ?)", *wanted))
        (count,) = self.base.execute(f"SELECT count(*) FROM job WHERE {where}", (words, *values)).fetchone()
        first = "job.id IN (SELECT rowid FROM words WHERE words MATCH ?) DESC"
        asked = f"SELECT job.id, {_ROW} FROM job WHERE {where} ORDER BY {first}, {_ORDER} LIMIT ?"
        rows = self.base.execute(asked, (words, *values, f"who : ({words})", most)).fetchall()
        texts = f"SELECT {', '.join(COLUMNS)} FROM words WHERE rowid = ?"
        return Answer(
            tuple(_hit(row, _found(text, self.base.execute(texts, (number,)).fetchone())) for number, *row in rows),
            count,
        )

    @_alone
    def tells(self) -> BookSummary:
        """What the jobs tell together. Raises sqlite3.Error."""
        stands = dict(self.base.execute("SELECT stands, count(*) FROM job GROUP BY stands"))
        kinds = self.base.execute(
            "SELECT kind, count(DISTINCT job) AS many FROM defect GROUP BY kind ORDER BY many DESC, kind"
        ).fetchall()
        minutes: dict[str, list[float]] = {}
        for task, one in self.base.execute(
            "SELECT task, minutes FROM minutes JOIN job ON job.id = minutes.job ORDER BY job.day DESC, job.id"
        ):
            minutes.setdefault(task, []).append(round(one, 2))
        hours, many = self.base.execute("SELECT sum(hours), count(hours) FROM job").fetchone()
        return BookSummary(
            stands, tuple(kinds), {task: tuple(each[:40]) for task, each in sorted(minutes.items())}, hours or 0.0, many
        )


def _hit(row: Sequence[Any], found: tuple[str, str] = ("", "")) -> Hit:
    return replace(Hit(os.fsdecode(row[0]), *row[1:]), found=found)


def _unlinked(name: str) -> None:
    """Take the file of an index away, with what SQLite keeps beside it."""
    for tail in ("", "-wal", "-shm"):
        Path(f"{name}{tail}").unlink(missing_ok=True)


def is_damage(problem: Exception) -> bool:
    """Whether an index answered so since it is damaged, and not since it is in use or the disk is full."""
    code = getattr(problem, "sqlite_errorcode", sqlite3.SQLITE_CORRUPT) & 0xFF
    return not isinstance(problem, sqlite3.Error) or code in (
        sqlite3.SQLITE_CORRUPT,
        sqlite3.SQLITE_NOTADB,
        sqlite3.SQLITE_ERROR,
        sqlite3.SQLITE_SCHEMA,
    )


def _wanted(stands: str, open_only: bool) -> tuple[list[str], list[str]]:
    wanted = ["job.stands = ?"] if stands else []
    return wanted + (["(job.stop > 0 OR job.fix > 0)"] if open_only else []), [stands] if stands else []


def _words(text: str) -> list[str]:
    return re.findall(r"\w+", text)[:12]


def _query(text: str) -> str:
    """The words as the index is asked for them; each stands for all that begin so."""
    return " ".join(f'"{word}"*' for word in _words(text))


def _found(asked: str, texts: Sequence[str]) -> tuple[str, str]:
    """The first column that has a word which who and where, shown anyway, have not; with the words around it."""
    shown = _folded(texts[0])
    for word in _words(_folded(asked)):
        pattern = re.compile(rf"(?<!\w){re.escape(word)}")
        if pattern.search(shown):
            continue
        for column, text in zip(COLUMNS[1:], texts[1:], strict=True):
            if match := pattern.search(_folded(text)):
                line_start = text.rfind("\n", 0, match.start()) + 1
                start, end = max(line_start, match.start() - AROUND), match.end() + AROUND
                words = " ".join(text[start:end].partition("\n")[0].split())
                return column, f"{'…' if start > line_start else ''}{words}"
    return "", ""


def _folded(text: str) -> str:
    """Letters without their accents and in small, each still in its place."""
    if text.isascii():
        return text.lower()
    return "".join((unicodedata.normalize("NFKD", c)[:1] or c).lower()[:1] or c for c in text)


def _storable(text: str) -> str:
    """A text as SQLite can hold it: without the halves of letters that a file's name may have."""
    return text.encode("utf-8", "surrogateescape").decode("utf-8", "replace") if not text.isascii() else text


def _reason(problem: Exception) -> str:
    return str(getattr(problem, "strerror", "") or problem or type(problem).__name__).lower().rstrip(".")
