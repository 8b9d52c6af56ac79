"""Facts in their formal writing, which holds anything a job can hold: `set fit.ceiling_in = 96`, `set circuits[7].note = "warm"`,
`add futures = {"id": "sauna", "name": "sauna"}`. It is what is written where nobody would say it."""

from __future__ import annotations

import json
import re
from typing import Any

from msgspec.structs import replace

from robust_ledger.callout.spoken import Fault, Spoken
from robust_ledger.job.job import Job
from robust_ledger.job.parts.base import Model
from robust_ledger.job.parts.errors import ModelError

_SET = re.compile(r"\s*set\s+([a-z_]+)(?:\[([^\]]+)\])?((?:\.[a-z_0-9]+)*)\s*=\s*(.+)", re.I | re.S)
_ADD = re.compile(r"\s*add\s+([a-z_]+)\s*=\s*(.+)", re.I | re.S)
_KEYS = {
    "circuits": "tag",
    "loads": "id",
    "futures": "id",
    "defects": "id",
    "panels": "id",
    "old_boxes": "mark",
    "local_rules": "key",
}


def is_formal(line: str) -> bool:
    """Whether a line is in the formal writing."""
    return bool(_SET.fullmatch(line) or _ADD.fullmatch(line))


def read_formal(line: str, job: Job) -> Spoken:
    """Read a formal line; a name or value that cannot be is told."""
    try:
        after = _after(line, job)
        after.checked(job)
        after.check()
    except (ModelError, KeyError, ValueError, TypeError, RecursionError) as problem:
        words = problem.sentence if isinstance(problem, ModelError) else str(problem).strip("'\"") or "it is none"
        return Spoken("", fault=Fault(f"This cannot be set: {words.rstrip('.')}.", 0, len(line)))
    name = " ".join(line.split())
    short = name if len(name) <= 80 else f"{name[:78]}…"
    return Spoken("", (short,), lambda job: _after(line, job), short, facts={"formal": name})


def _after(line: str, job: Job) -> Job:
    if match := _ADD.fullmatch(line):
        name, text = match[1].lower(), match[2]
        held = getattr(job, name, None)
        if not isinstance(held, tuple):
            raise KeyError(f"a job has no list {name}")
        return _read(job, name, [*held, _value(text)])
    match = _SET.fullmatch(line)
    if match is None:
        raise ValueError("it is no formal line")
    name, key, path, value = (
        match[1].lower(),
        match[2],
        [part for part in match[3].split(".") if part],
        _value(match[4]),
    )
    if name not in job.__struct_fields__ or name in ("unknown", "format", "version"):
        raise KeyError(f"a job has no part {name}")
    if key is None:
        return _read(job, name, _put(getattr(job, name), path, value)) if path else _read(job, name, value)
    by = _KEYS.get(name, "")
    entries = list(getattr(job, name))
    at = next((n for n, entry in enumerate(entries) if str(getattr(entry, by, "")) == key), None)
    if at is None:
        raise KeyError(f"there is no {name} {key}")
    entries[at] = _put(entries[at], path, value)
    return _read(job, name, entries)


def _read(job: Job, name: str, value: Any) -> Job:
    """The job with a part read anew, as from a file."""
    data = {"format": job.format, "version": job.version, name: _plain(value)}
    return replace(job, **{name: getattr(Job.read(data) if name != "edition" else Job.read({"edition": value}), name)})


def _plain(value: Any) -> Any:
    if isinstance(value, Model):
        return value.as_data()
    if isinstance(value, list | tuple):
        return [_plain(one) for one in value]
    return value


def _put(held: Any, path: list[str], value: Any) -> Any:
    """A part as plain data with a value put in place."""
    data = held.as_data() if isinstance(held, Model) else dict(held) if isinstance(held, dict) else {}
    if isinstance(held, Model) and path and path[0] not in held.__struct_fields__:
        raise KeyError(f"it has no field {path[0]}")
    if not path:
        return value
    inner = getattr(held, path[0], None) if isinstance(held, Model) else data.get(path[0])
    data[path[0]] = value if len(path) == 1 else _put(inner, path[1:], value)
    return data


def _value(text: str) -> Any:
    try:
        return json.loads(text, parse_constant=_refuse)
    except (json.JSONDecodeError, RecursionError):
        raise ValueError(
            f'"{text[:40]}" is no value; write text in quotes, numbers plain, true, false or null'
        ) from None


def _refuse(name: str) -> Any:
    raise ValueError(f"{name} is no number")


def formal(path: str, value: Any) -> str:
    """A fact in the formal writing."""
    return f"set {path} = {json.dumps(value, ensure_ascii=False, allow_nan=False)}"


def added(name: str, value: Any) -> str:
    """One more of a list in the formal writing."""
    return f"add {name} = {json.dumps(value, ensure_ascii=False, allow_nan=False)}"
