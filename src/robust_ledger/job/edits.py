"""Editing commands: each takes a job and returns the next one. The desk names them for undo."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from msgspec.structs import replace

from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.changes import CircuitChange
from robust_ledger.job.parts.circuits import Circuit, ClampReading
from robust_ledger.job.parts.defects import Defect
from robust_ledger.job.parts.futures import Future
from robust_ledger.job.parts.house import Load
from robust_ledger.job.parts.local import LocalRule


def with_part(job: Job, part: str, **changes: Any) -> Job:
    """Change fields of one part ("heading", "dwelling", "panel", "old_panel", "decisions"), with validation."""
    current = getattr(job, part)
    return replace(job, **{part: current.changed(**changes)})


def add_circuit(job: Job, circuit: Circuit) -> Job:
    return replace(job, circuits=(*job.circuits, circuit))


def change_circuit(job: Job, tag: int, **changes: Any) -> Job:
    circuits = tuple(c.changed(**changes) if c.tag == tag else c for c in job.circuits)
    return replace(job, circuits=circuits)


def add_readings(job: Job, readings: tuple[ClampReading, ...]) -> Job:
    """Put clamp readings down; a circuit shows the most its last reading had on a leg."""
    after = replace(job, readings=(*job.readings, *readings))
    for tag in dict.fromkeys(reading.tag for reading in readings):
        most = max(reading.amperes for reading in readings if reading.tag == tag)
        after = change_circuit(after, tag, clamp_a=most)
    return after


def drop_readings(job: Job, gone: set[int]) -> Job:
    """Take readings out by their place in the list; a circuit then shows the one before."""
    tags = {job.readings[number].tag for number in gone if number < len(job.readings)}
    left = tuple(one for number, one in enumerate(job.readings) if number not in gone)
    after = replace(job, readings=left)
    for tag in tags:
        mine = [one for one in left if one.tag == tag]
        most = max((one.amperes for one in mine if one.at == mine[-1].at), default=None)
        after = change_circuit(after, tag, clamp_a=most)
    return after


def remove_circuits(job: Job, tags: set[int]) -> Job:
    """Take circuits out, with what points to them: shared neutrals, futures and placements."""
    circuits = tuple(
        replace(c, shares_neutral_with=None) if c.shares_neutral_with in tags else c
        for c in job.circuits
        if c.tag not in tags
    )
    futures = tuple(replace(f, frees=tuple(t for t in f.frees if t not in tags)) for f in job.futures)
    readings = tuple(reading for reading in job.readings if reading.tag not in tags)
    changed = replace(job, circuits=circuits, futures=futures, readings=readings)
    return _drop_placements(changed, {CircuitKey.of_tag(tag) for tag in tags})


def add_load(job: Job, load: Load) -> Job:
    return replace(job, loads=(*job.loads, load))


def change_load(job: Job, load_id: str, **changes: Any) -> Job:
    loads = tuple(one.changed(**changes) if one.id == load_id else one for one in job.loads)
    return replace(job, loads=loads)


def remove_loads(job: Job, load_ids: set[str]) -> Job:
    """Take loads out of the house, off their circuits, out of the futures and out of the panel."""
    circuits = tuple(replace(c, load_ids=tuple(i for i in c.load_ids if i not in load_ids)) for c in job.circuits)
    loads = tuple(load for load in job.loads if load.id not in load_ids)
    futures = tuple(
        replace(
            future,
            load_ids=tuple(i for i in future.load_ids if i not in load_ids),
            removes=tuple(i for i in future.removes if i not in load_ids),
        )
        for future in job.futures
    )
    changed = replace(job, circuits=circuits, loads=loads, futures=futures)
    return _drop_placements(changed, {CircuitKey.of_load(i) for i in load_ids})


def link_load(job: Job, load_id: str, tag: int | None) -> Job:
    """Say which existing circuit feeds a load; None for none of them."""

    def fed(circuit: Circuit) -> Circuit:
        others = tuple(i for i in circuit.load_ids if i != load_id)
        return replace(circuit, load_ids=(*others, load_id) if circuit.tag == tag else others)

    return replace(job, circuits=tuple(fed(circuit) for circuit in job.circuits))


def new_load_id(job: Job, name: str) -> str:
    """A short stable id made of the name: "sauna-heater", "sauna-heater-2"."""
    return _new_id(name, {load.id for load in job.loads}, "load")


def new_future_id(job: Job, name: str) -> str:
    """A short stable id for a future, made of its name."""
    return _new_id(name, {future.id for future in job.futures}, "future")


def add_future(job: Job, future: Future) -> Job:
    return replace(job, futures=(*job.futures, future))


def change_future(job: Job, future_id: str, **changes: Any) -> Job:
    """Change fields of one future; spaces of circuits that are no longer reserved are given free."""
    futures = tuple(f.changed(**changes) if f.id == future_id else f for f in job.futures)
    return _drop_gone_reservations(replace(job, futures=futures))


def remove_future(job: Job, future_id: str) -> Job:
    """Take a future out; its loads stay in the list."""
    futures = tuple(future for future in job.futures if future.id != future_id)
    return _drop_gone_reservations(replace(job, futures=futures))


def add_defect(job: Job, defect: Defect) -> Job:
    return replace(job, defects=(*job.defects, defect))


def change_defect(job: Job, defect_id: str, **changes: Any) -> Job:
    defects = tuple(d.changed(**changes) if d.id == defect_id else d for d in job.defects)
    return replace(job, defects=defects)


def remove_defects(job: Job, defect_ids: set[str]) -> Job:
    return replace(job, defects=tuple(d for d in job.defects if d.id not in defect_ids))


def new_defect_id(job: Job, name: str) -> str:
    """A short stable id for a defect, made of what it is."""
    return _new_id(name, {defect.id for defect in job.defects}, "defect")


def amend(job: Job, key: str, value: float | None, section: str) -> Job:
    """Put a local figure or section in place of the edition's; neither takes the amendment out."""
    rules = [rule for rule in job.local_rules if rule.key != key]
    if value is not None or section:
        rules.append(LocalRule.read({"key": key, "value": value, "section": section}))
    return replace(job, local_rules=tuple(rules))


def _drop_gone_reservations(job: Job) -> Job:
    reserved = {CircuitKey.of_future(f.id, n) for f in job.futures if f.reserve for n in range(1, len(f.circuits) + 1)}
    gone = {key for key in job.decisions.placements if key.kind == "future" and key not in reserved}
    return _drop_placements(job, gone)


def _new_id(name: str, taken: set[str], otherwise: str) -> str:
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or otherwise
    if stem not in taken:
        return stem
    return next(f"{stem}-{n}" for n in range(2, len(taken) + 3) if f"{stem}-{n}" not in taken)


def place(job: Job, placements: Mapping[CircuitKey, str]) -> Job:
    """Fix the whole layout of the new panel as given: circuit key → space."""
    return with_part(job, "decisions", placements=dict(placements))


def pin(job: Job, key: CircuitKey, placements: Mapping[CircuitKey, str]) -> Job:
    """Pin a circuit where it is, or take its pin out; the layout stays as it is with it."""
    pins = job.decisions.pins
    if key in pins:
        return with_part(job, "decisions", pins=tuple(one for one in pins if one != key))
    return with_part(job, "decisions", pins=(*pins, key), placements=dict(placements))


def change_branch(job: Job, key: CircuitKey, **changes: Any) -> Job:
    """Decide what becomes of a circuit, or say what is known of it; what is as by default is not written down."""
    change = job.change(key).changed(**changes)
    circuits = {name: one for name, one in job.decisions.circuits.items() if name != key}
    if change != CircuitChange():
        circuits[key] = change
    return with_part(job, "decisions", circuits=circuits)


def accept_finding(job: Job, finding_id: str, reason: str) -> Job:
    """Accept a finding with a reason that is printed; an empty reason takes the acceptance back."""
    accepted = {key: text for key, text in job.decisions.accepted.items() if key != finding_id}
    if reason.strip():
        accepted[finding_id] = reason.strip()
    return with_part(job, "decisions", accepted=accepted)


def _drop_placements(job: Job, keys: set[CircuitKey]) -> Job:
    decided = job.decisions
    kept = {key: space for key, space in decided.placements.items() if key not in keys}
    pins = tuple(key for key in decided.pins if key not in keys)
    circuits = {key: change for key, change in decided.circuits.items() if key not in keys}
    if (kept, pins, circuits) == (decided.placements, decided.pins, decided.circuits):
        return job
    return with_part(job, "decisions", placements=kept, pins=pins, circuits=circuits)
