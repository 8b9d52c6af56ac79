"""A job as lines that read in again to the same job: in the trade's tongue where somebody would say it so, else in the formal writing."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import cache, lru_cache
from typing import Any

from msgspec import NODEFAULT
from msgspec.structs import fields, replace

from robust_ledger.callout.circuit import Reading, read_callout
from robust_ledger.callout.fields import read_fields, set_fields
from robust_ledger.callout.formal import added, formal
from robust_ledger.callout.frame_lexicon import odd_figures
from robust_ledger.callout.loads import read_load
from robust_ledger.callout.phrases import Phrase, vocabulary
from robust_ledger.callout.text import callout_text
from robust_ledger.callout.writing import joined, write_down
from robust_ledger.codebook.codebook import Codebook, load_codebook
from robust_ledger.job.edits import add_load
from robust_ledger.job.fields import fields_of
from robust_ledger.job.job import Job
from robust_ledger.job.parts.base import AsGiven, Model, plain
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.house import Load
from robust_ledger.ledger.editions import DEFAULT_EDITION

_HEADS = {"walkthrough": "walk", "house": "load"}
_SECTIONS = (
    ("walk", ("heading", "scope", "existing", "utility", "grounding", "fit", "overhead", "location", "old_panel")),
    ("walk", ("old_boxes", "defects", "cautions", "pull_off")),
    ("load", ("dwelling", "management", "loads", "measured")),
    ("circuits", ("circuits", "readings")),
    ("service", ("edition", "local_rules", "service_run", "main_feed", "equipment", "conventions", "panel", "panels")),
    ("load", ("futures",)),
    ("service", ("decisions",)),
    ("changeover", ("day", "stock", "record", "profiles", "practice")),
)  # fmt: skip
_BLANK = Job()


def facts(job: Job) -> list[str]:
    """The lines, with a heading for each stage. Fields that another version of the job format has are in none of them."""
    lines: list[str] = []
    on = ""
    for head, parts in _SECTIONS:
        for line, stage in (one for name in parts for one in _part(job, name)):
            if (wanted := _HEADS.get(stage, stage) or head) != on:
                lines += ([""] if lines else []) + [f"{wanted}:"]
                on = wanted
            lines.append(line)
    return lines


def _part(job: Job, name: str) -> Iterator[tuple[str, str]]:
    """The lines of a part, each with the stage whose grammar reads it; "" where that does not matter."""
    value = getattr(job, name)
    if name == "circuits":
        yield from ((line, "circuits") for line in _circuits(job))
    elif name == "loads":
        yield from ((line, "load") for line in _loads(job))
    elif isinstance(value, tuple):
        yield from ((added(name, _told(one)), "") for one in value)
    elif name == "measured":
        if value is not None:
            yield formal(name, _told(value)), ""
    elif isinstance(value, Model):
        yield from _fields(name, value, getattr(_BLANK, name), "")
    elif value != getattr(_BLANK, name):
        yield _said(name, value)


def _fields(part: str, held: Model, usual: Model, before: str) -> Iterator[tuple[str, str]]:
    for field in held.__struct_fields__:
        value, default = getattr(held, field), getattr(usual, field)
        if field == "unknown" or value == default:
            continue
        path = f"{before}{field}"
        if isinstance(value, Model) and isinstance(default, Model):
            yield from _fields(part, value, default, f"{path}.")
        else:
            yield _said(f"{part}.{path}", value)


def _told(one: Model) -> dict[str, Any]:
    """An entry of a list as data: only what is not by default, and what has none."""
    data = {}
    for field in one.__struct_fields__:
        value = getattr(one, field)
        if field == "unknown":
            continue
        usual = _usual(type(one)).get(field, one)  # no default: always told
        if value != usual:
            data[field] = _told(value) if isinstance(value, Model) else plain(value)
    return data


@cache
def _usual(kind: type[Model]) -> dict[str, Any]:
    """The defaults of a part by field; a field without one is in it not."""
    made: dict[str, Any] = {}
    for field in fields(kind):
        if field.default is not NODEFAULT:
            made[field.name] = field.default
        elif field.default_factory is not NODEFAULT:
            made[field.name] = field.default_factory()
    return made


def _said(path: str, value: Any) -> tuple[str, str]:
    """A fact as somebody would say it on a stage, where that reads back to just this; else formally."""
    if isinstance(value, str | float | int | bool) and (said := _natural(path, value, type(value).__name__)):
        return said
    return formal(path, plain(value) if not isinstance(value, AsGiven) else dict(value)), ""


@lru_cache(maxsize=8192)
def _natural(path: str, value: Any, _kind: str) -> tuple[str, str] | None:
    if (line := _of_day(path, value)) is not None:
        return line, "changeover"
    for stage, phrase in _by_path().get(path, ()):
        line = _written(phrase, value)
        if not line:
            continue
        read = read_fields(line, _BLANK, _book(), stage)
        sure = read.certainty == "sure" and not odd_figures(read.facts)
        if sure and _alike(read.facts, path, value):
            return line, stage
    return None


# How a fact of the changeover day is said; {} is its value.
_DAY = {
    "day.start": "begin at {}", "day.promise": "promise {}", "day.date": "the day is {}", "day.lunch_min": "lunch {}",
    "record.torque.calibrated": "torque tool calibrated {}", "record.torque.tool": "torque tool {}",
}  # fmt: skip
_DAY_VALUES = {("day.people", 2): "two people", ("day.weather", "dry"): "dry", ("day.weather", "rain"): "rain"}


def _of_day(path: str, value: Any) -> str | None:
    """A fact of the day as it is said, where it reads back to just this."""
    said = _DAY_VALUES.get((path, value)) or (_DAY[path].format(value) if path in _DAY else "")
    if not said or isinstance(value, bool):
        return None
    from robust_ledger.callout.stages import Context, read_line  # which knows every grammar

    spoken = read_line(said, Context(_BLANK, _book()), "changeover")
    if spoken.edit is None or spoken.certainty != "sure" or spoken.stage != "changeover":
        return None
    return said if spoken.edit(_BLANK) == set_fields(_BLANK, {path: value}) else None


def _alike(facts: dict[str, Any], path: str, value: Any) -> bool:
    return list(facts) == [path] and facts[path] == value and isinstance(facts[path], bool) is isinstance(value, bool)


@cache
def _book() -> Codebook:
    return load_codebook(DEFAULT_EDITION)


@cache
def _by_path() -> dict[str, list[tuple[str, Phrase]]]:
    """The phrases that set one field alone, by its place."""
    made: dict[str, list[tuple[str, Phrase]]] = {}
    for stage in ("walkthrough", "service", "house"):
        for phrase in vocabulary(stage).phrases:
            if len(phrase.value) == 1:
                made.setdefault(next(iter(phrase.value)), []).append((stage, phrase))
    return made


def _written(phrase: Phrase, value: Any) -> str:
    """A phrase with a value in its place, and the first way to say each of its words; "" where the phrase stands for another value."""
    stands_for = next(iter(phrase.value.values()))
    slot = isinstance(stands_for, str) and stands_for[:1] == "{"
    if not slot and (stands_for != value or isinstance(stands_for, bool) is not isinstance(value, bool)):
        return ""
    said = re.sub(r"\([^)]*\)", " ", phrase.said)
    said = re.sub(r"<([a-z]+)>", lambda found: _LISTED.get(found[1], ""), said)
    said = re.sub(r"\{[a-z_]+\}", lambda _: "\0", said)
    words = [part.split("|")[0] for part in said.split()]
    text = value if isinstance(value, str) else f"{value:.10g}" if isinstance(value, float) else str(value)
    return " ".join(words).replace("\0", text)


# The word of a list that is written.
_LISTED = {
    "is": "is", "amps": "amp", "meter": "meter", "no": "no", "pipe": "pipe", "square": "square", "feet": "feet", "main": "main", "yes": "yes",
    "found": "found", "the": "the", "conductors": "conductors",
}  # fmt: skip


def _loads(job: Job) -> Iterator[str]:
    so_far = _BLANK
    for load in job.loads:
        line = _load_line(load, so_far)
        yield line
        so_far = add_load(so_far, load)


def _load_line(load: Load, so_far: Job) -> str:
    """A load as it is said, where that reads back to it."""
    plate = load.nameplate
    parts = [load.name]
    if plate.amount is not None:
        parts.append(f"{plate.amount:.10g} {plate.unit}" + (f" at {plate.volts:g}" if plate.volts else ""))
    else:
        parts.append(f"{plate.volts:g} volts")
    parts += [f"mca {load.mca_a:g}"] if load.mca_a is not None else []
    parts += [f"mocp {load.mocp_a:g}"] if load.mocp_a is not None else []
    parts += [f"motor {load.motor_hp:g} hp"] if load.motor_hp is not None else []
    parts += [] if load.uses_neutral is None else ["with neutral" if load.uses_neutral else "no neutral"]
    parts += [] if load.is_motor is None else ["is a motor" if load.is_motor else "no motor"]
    parts += [
        word
        for word, on in (("continuous", load.continuous), ("managed", load.managed), ("interlocked", load.interlocked))
        if on
    ]
    parts += [f"{load.controls} controls"] if load.controls != 1 else []
    parts += (
        [str(load.when).replace("existing", "").replace("added", "with this job")] if load.when != "existing" else []
    )
    parts += [load.room] if load.room else []
    line = ", ".join(part for part in parts if part)
    for said in (line, f"as {load.id}: {line}"):
        read = read_load(said, so_far, _book())
        if read.certainty == "sure" and read.edit is not None:
            after = read.edit(so_far)
            if len(after.loads) == len(so_far.loads) + 1 and after.loads[-1] == load:
                return said
    return added("loads", _told(load))


def _circuits(job: Job) -> Iterator[str]:
    """Each circuit as it is called out, then what no line says of it."""
    late: list[str] = []
    here = _ready(job)
    for circuit in job.circuits:
        plain_tag = here.tag_for(circuit.spaces) == circuit.tag
        line = callout_text(circuit, job)
        read = read_callout(line, here, _book(), circuit.tag)
        if read.circuit is None or read.asks:
            yield added("circuits", _told(circuit))
            here = write_down(here, circuit)
            continue
        yield (line if plain_tag and _is_sure(read_callout(line, here, _book())) else f"as tag {circuit.tag}: {line}")
        here = joined(write_down(here, read.circuit), circuit.tag)
        late += _rest(circuit, here)
        here = write_down(here, circuit)
    yield from late


def _is_sure(reading: Reading) -> bool:
    """Whether a line is written down without a question."""
    return reading.circuit is not None and not reading.asks and reading.rival is None


def _ready(job: Job) -> Job:
    """The job as it is when its circuits are read."""
    return replace(_BLANK, old_panel=job.old_panel, old_boxes=job.old_boxes, pull_off=job.pull_off, loads=job.loads)


def _rest(circuit: Circuit, here: Job) -> list[str]:
    """What is to be set of a circuit beside its line."""
    read = here.circuit(circuit.tag)
    made = []
    for field in fields_of(Circuit):
        value = getattr(circuit, field)
        if read is not None and getattr(read, field) != value:
            made.append(formal(f"circuits[{circuit.tag}].{field}", plain(value)))
    return made
