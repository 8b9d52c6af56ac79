"""Reading and writing the job file: one documented JSON document, written atomically, refused in one clear sentence."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from robust_ledger.job.job import FORMAT, VERSION, Job
from robust_ledger.job.parts.base import ModelError
from robust_ledger.job.upgrades import UPGRADES
from robust_ledger.job.whole import write_text, write_whole

SUFFIX = ".ledger.json"
MAX_BYTES = 20_000_000


class JobFileError(Exception):
    """A job file that cannot be read or written; the message is one sentence for the user."""


def read_job(path: Path) -> Job:
    """Read a job file. Raises JobFileError; the file itself is never touched."""
    try:
        if path.stat().st_size > MAX_BYTES:
            raise JobFileError(f"{path.name} is larger than a job file can be ({MAX_BYTES // 1_000_000} MB).")
        text = path.read_text(encoding="utf-8-sig")
    except UnicodeDecodeError:
        raise JobFileError(f"{path.name} is not a text file in UTF-8.") from None
    except OSError as problem:
        raise JobFileError(f"{path.name} cannot be read: {_reason(problem)}.") from None
    return parse_job(text, path.name)


def parse_job(text: str, name: str) -> Job:
    """Read a job from JSON text; `name` is what messages call it. Raises JobFileError."""
    try:
        data = json.loads(text, object_pairs_hook=_no_duplicates, parse_constant=_refuse_constant)
    except json.JSONDecodeError as problem:
        raise JobFileError(
            f"{name} is damaged at line {problem.lineno}, column {problem.colno}: {problem.msg.lower()}."
        ) from None
    except RecursionError:
        raise JobFileError(f"{name} is nested too deeply to be a job file.") from None
    except ValueError as problem:
        raise JobFileError(f"{name} is not a job file: {problem}.") from None
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


def write_job(job: Job, path: Path) -> None:
    """Write a job file atomically, keeping what was there as "name~". Raises JobFileError and leaves the old file whole."""
    try:
        kept = path.read_bytes() if path.exists() else None
        if kept is not None:
            write_whole(path.with_name(path.name + "~"), lambda temporary: temporary.write_bytes(kept))
        write_text(path, job_text(job))
    except OSError as problem:
        raise JobFileError(f"{path.name} could not be saved in {path.parent}: {_reason(problem)}.") from None


def _reason(problem: OSError) -> str:
    return (problem.strerror or type(problem).__name__).lower()


def _no_duplicates(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    result = dict(pairs)
    if len(result) < len(pairs):
        keys = [key for key, _ in pairs]
        raise ValueError(f'"{next(key for key in keys if keys.count(key) > 1)}" is given twice in one place')
    return result


def _refuse_constant(name: str) -> float:
    raise ValueError(f"{name} is not a number that a job can hold")
