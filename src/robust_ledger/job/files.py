"""Reading and writing the job file: one documented JSON document, written atomically, refused in one clear sentence."""

from __future__ import annotations

import errno
import json
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from robust_ledger.job.doors import DoorError, read_plain
from robust_ledger.job.job import FORMAT, VERSION, Job
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.job.upgrades import UPGRADES
from robust_ledger.job.whole import write_whole

SUFFIX = ".ledger.json"
MAX_BYTES = 20_000_000
DEEPEST = 60
MOST_PARTS = 200_000  # lists and objects: the fullest job has a tenth of that


class JobFileError(Exception):
    """A job file that cannot be read or written; the message is one sentence for the user."""


def read_job(path: Path) -> Job:
    """Read a job file. Raises JobFileError; the file itself is never touched."""
    return parse_job(text_of(read_whole(path), path.name), path.name)


def read_whole(path: Path) -> bytes:
    """The bytes of a job file. Raises JobFileError: no file, none that may be read, none that ends."""
    try:
        data = read_plain(path, MAX_BYTES)
    except DoorError:
        raise JobFileError(f"{path.name} is a pipe or a device, not a job file.") from None
    except (OSError, ValueError) as problem:
        raise JobFileError(f"{path.name} cannot be read: {_reason(problem)}.") from None
    if len(data) > MAX_BYTES:
        raise JobFileError(f"{path.name} is larger than a job file can be ({MAX_BYTES // 1_000_000} MB).")
    return data


def text_of(data: bytes, name: str) -> str:
    """The text of a job file's bytes. Raises JobFileError."""
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise JobFileError(f"{name} is not a text file in UTF-8.") from None


def parse_job(text: str, name: str) -> Job:
    """Read a job from JSON text; `name` is what messages call it. Raises JobFileError."""
    return job_of(document_of(text, name), name)


def document_of(text: str, name: str) -> Any:
    """The data of a JSON document, of a size and depth that a document of ours can have. Raises JobFileError."""
    if (
        text.count("[") + text.count("{") > MOST_PARTS or text.count(",") > 5 * MOST_PARTS
    ):  # which would take gigabytes, and minutes
        raise JobFileError(f"{name} has more in it than a job file can have.")
    try:
        data = json.loads(text, object_pairs_hook=_no_duplicates, parse_constant=_refuse_constant)
    except json.JSONDecodeError as problem:
        raise JobFileError(
            f"{name} is damaged at line {problem.lineno}, column {problem.colno}: {problem.msg.lower()}."
        ) from None
    except RecursionError:
        raise JobFileError(f"{name} is nested too deeply to be a job file.") from None
    except ValueError as problem:
        words = "a number in it has thousands of digits" if "digits" in str(problem) else str(problem)
        raise JobFileError(f"{name} is not a job file: {words}.") from None
    if not _is_shallow(data, DEEPEST):
        raise JobFileError(f"{name} is nested too deeply to be a job file.")
    return data


def job_of(data: Any, name: str) -> Job:
    """Read a job from its JSON object, of this format or an older one. Raises JobFileError."""
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise JobFileError(f"{name} is not a Robust Ledger job.")
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise JobFileError(f"{name} does not say which version of the job format it has.")
    if version > VERSION:
        raise JobFileError(
            f"{name} was written by a newer version of Robust Ledger (format {version}); nothing was changed."
        )
    while version < VERSION:
        data, version = UPGRADES[version](data), version + 1
    try:
        return Job.read(data)
    except ModelError as fault:
        raise JobFileError(f"{name}: {fault.sentence}.") from None


def job_text(job: Job) -> str:
    """The job as it is written to a file: stable order, two-space indent, one final newline."""
    return json.dumps(job.as_data(), indent=2, ensure_ascii=False, allow_nan=False) + "\n"


def job_bytes(job: Job) -> bytes:
    """The job's text as its file has it: UTF-8. A lone half of a letter is written as JSON writes it, and so reads back."""
    return job_text(job).encode("utf-8", "backslashreplace")


def write_new_job(job: Job, path: Path) -> None:
    """Write a job file where there is none. Raises JobFileError, also when one comes while this is written."""
    try:
        write_whole(path, lambda temporary: temporary.write_bytes(job_bytes(job)), new=True)
    except FileExistsError:
        raise JobFileError(f"{path.name} is there already; nothing was written.") from None
    except (OSError, ValueError) as problem:
        raise JobFileError(f"{path.name} could not be saved in {path.parent}: {_reason(problem)}.") from None


def write_job(job: Job, path: Path) -> None:
    """Write a job file atomically, keeping what was there as "name~". Only who has its lock may do so (`cli.alone`, the desk's store).
    Raises JobFileError and leaves the old file whole."""
    try:
        real = Path(os.path.realpath(path))  # a link stays one: what it leads to is written
        if real.exists():
            kept = read_plain(real)
            with suppress_too_long():
                write_whole(real.with_name(real.name + "~"), lambda temporary: temporary.write_bytes(kept))
        write_whole(real, lambda temporary: temporary.write_bytes(job_bytes(job)))
    except (OSError, ValueError) as problem:
        raise JobFileError(f"{path.name} could not be saved in {path.parent}: {_reason(problem)}.") from None


@contextmanager
def suppress_too_long() -> Iterator[None]:
    """Do without a second name where the first is as long as names can be."""
    try:
        yield
    except OSError as problem:
        if problem.errno != errno.ENAMETOOLONG:
            raise


def _reason(problem: OSError | ValueError) -> str:
    return str(getattr(problem, "strerror", "") or "not a name a file can have").lower()


def _is_shallow(data: Any, left: int) -> bool:
    """Whether JSON data is nested no deeper than so many levels."""
    if not isinstance(data, (dict, list)):
        return True
    inner = data.values() if isinstance(data, dict) else data
    return left > 0 and all(_is_shallow(one, left - 1) for one in inner)


def _no_duplicates(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    result = dict(pairs)
    if len(result) < len(pairs):
        keys = [key for key, _ in pairs]
        raise ValueError(f'"{next(key for key in keys if keys.count(key) > 1)}" is given twice in one place')
    return result


def _refuse_constant(name: str) -> float:
    raise ValueError(f"{name} is not a number that a job can hold")
