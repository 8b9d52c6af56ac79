"""The job book: a folder of jobs, local or shared, kept in step with its index."""

from __future__ import annotations

import os
import sqlite3
import stat
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path

from msgspec import Struct

from robust_ledger.job.files import SUFFIX
from robust_ledger.jobbook.digest import Digest, digest_file, stamp_of
from robust_ledger.jobbook.index import Index, is_damage
from robust_ledger.ledger.progress import Progress, go_on, unwatched
from robust_ledger.ledger.text import reason_of

MOST = 20_000
DEEPEST = 8
AT_ONCE = 40  # jobs that are written into the index together
DAMAGE = (sqlite3.Error, TypeError, ValueError, UnicodeError)  # what a damaged index answers with
MANY = 60  # from so many jobs on the other cores help


class BookError(Exception):
    """A folder of jobs that cannot be looked through, or an index that cannot be written; the message is one sentence."""


class Kept(Struct, frozen=True):
    """What a look through the folder came to."""

    jobs: int
    read: int
    gone: int
    damaged: int
    words: str = ""


def job_files(folder: Path) -> list[str]:
    """The job files of a folder and those within it, by their real ways. Raises BookError when the folder itself cannot be read."""
    if not str(folder) or not os.path.lexists(folder):
        raise BookError(f"The folder of jobs {folder} is not there; what the book knew of it is still shown.")
    try:
        os.listdir(folder)
    except OSError as problem:
        raise BookError(
            f"The folder of jobs {folder} cannot be read: {reason_of(problem)}; what the book knew of it is still shown."
        ) from None
    made: list[str] = []
    base = os.path.realpath(folder)
    for place, folders, names in os.walk(base):
        deep = place[len(base) :].count(os.sep)
        folders[:] = sorted(name for name in folders if not name.startswith(".")) if deep < DEEPEST else []
        made += (
            os.path.join(place, name) for name in sorted(names) if name.endswith(SUFFIX) and not name.startswith(".")
        )
        if len(made) > MOST:
            return made[:MOST]
    return made


def keep_in_step(
    index: Index, folder: Path | None, others: Iterable[Path] = (), progress: Progress = unwatched
) -> Kept:
    """Read what is new or changed in the folder, and of the others by name, into the index; forget what is gone. A file counts as changed when
    its time or its size is another, earlier or later: clocks differ. Raises BookError, CanceledError; what was read until then stays."""
    outside = [os.path.realpath(path) for path in others if _is_file(path)]
    wanted = list(dict.fromkeys([*(job_files(folder) if folder is not None else ()), *outside]))
    for is_last in (False, True):
        try:
            return _in_step(index, wanted, progress)
        except DAMAGE as problem:
            if is_last or not is_damage(problem):
                raise BookError(
                    f"The job book's index could not be written: {problem}. The jobs themselves are untouched."
                ) from None
            index.begin_anew()
    raise AssertionError("one of the two has answered")


def _in_step(index: Index, wanted: list[str], progress: Progress) -> Kept:
    """Bring the index in step with these files. Raises CanceledError, and whatever a damaged index answers with."""
    known = index.stamps()
    due = [path for path in wanted if (stamp := stamp_of(path)) is not None and known.get(path) != stamp]
    there = set(wanted)
    gone = [path for path in known if path not in there]
    with index.together():
        for path in gone:
            index.drop(path)
    waiting = list[Digest]()
    with _digests(due) as made:
        try:
            for number, one in enumerate(made, 1):
                waiting.append(one)
                if len(waiting) >= AT_ONCE:
                    _put(index, waiting)
                    waiting = []
                go_on(progress, number / len(due))
        finally:
            _put(index, waiting)
    damaged = index.count("damaged")
    return Kept(len(wanted), len(due), len(gone), damaged, _words(len(wanted), damaged))


def put_file(index: Index, path: Path) -> None:
    """Read one job into the index, as after it was saved. Raises BookError."""
    try:
        _put(index, [digest_file(os.path.realpath(path))])
    except sqlite3.Error as problem:
        raise BookError(f"The job book's index could not be written: {problem}. The job itself is saved.") from None


def _put(index: Index, made: Iterable[Digest]) -> None:
    with index.together():
        for one in made:
            index.put(one)


@contextmanager
def _digests(paths: list[str]) -> Iterator[Iterator[Digest]]:
    """The digests of jobs as they come; those of many by the other cores, so that the window has its own to itself."""
    if len(paths) < MANY:
        yield map(digest_file, paths)
        return
    from concurrent.futures import ProcessPoolExecutor
    from multiprocessing import get_context

    pool = ProcessPoolExecutor(max_workers=max(1, (os.cpu_count() or 2)), mp_context=get_context("spawn"))
    try:
        yield pool.map(digest_file, paths, chunksize=8)
    finally:
        pool.shutdown(wait=False, cancel_futures=True)


def _is_file(path: Path) -> bool:
    try:
        return stat.S_ISREG(os.stat(path).st_mode)
    except (OSError, ValueError):
        return False


def _words(jobs: int, damaged: int) -> str:
    words = f"{jobs:,} {'job' if jobs == 1 else 'jobs'}"
    return words + (f", {damaged} of them damaged" if damaged else "")
