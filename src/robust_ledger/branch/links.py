"""Loads and circuits joined: which load a description may mean, though it does not say it in full, and what is to spare."""

from __future__ import annotations

import re

from msgspec import Struct

from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.house import Load, When

_EMPTY = {"the", "of", "and", "in", "for", "a", "old", "new", "circuit"}


def proposed(job: Job, circuit: Circuit) -> Load | None:
    """The one load without a circuit that a description most likely means: its words share the most with the load's name or
    room, and no other load's as many. None when nothing or two fit; a proposal is never taken unasked."""
    mine = _words(f"{circuit.feeds} {circuit.room}")
    scored = []
    for load in job.loads:
        if load.id in job.fed_loads or load.when is When.LATER or load.poles != circuit.poles:
            continue
        shared = len(mine & _words(load.name)) * 2 + len(mine & _words(load.room))
        if mine & _words(load.name):
            scored.append((shared, load))
    scored.sort(key=lambda pair: -pair[0])
    if not scored or (len(scored) > 1 and scored[0][0] == scored[1][0]):
        return None
    return scored[0][1]


class Loose(Struct, frozen=True):
    """A load without a circuit, or a dedicated circuit without a load, and what it most likely belongs to. `load_id` or `tag` is
    empty (None) where nothing is proposed."""

    about: str
    words: str
    load_id: str
    tag: int | None
    proposal: str


def not_joined(job: Job) -> tuple[Loose, ...]:
    """Loads of the house that no live circuit feeds, then 240 V circuits that feed no listed load."""
    near = {one.tag: load for one in job.circuits if not one.off and (load := proposed(job, one))}
    made = []
    for load in job.loads:
        if load.when is not When.EXISTING or load.id in job.fed_loads:
            continue
        tags = [tag for tag, likely in near.items() if likely.id == load.id]
        circuit = job.circuit(tags[0]) if len(tags) == 1 else None
        words = f"tag {circuit.tag}, {circuit.feeds}" if circuit else ""
        made.append(Loose("load", _named(load.name, load.room), load.id, circuit.tag if circuit else None, words))
    for one in job.circuits:
        if one.poles == 2 and not one.off and not any(job.load(load_id) for load_id in one.load_ids):
            likely = near.get(one.tag)
            name = f"tag {one.tag}, {one.feeds or 'unknown'}"
            made.append(Loose("circuit", name, likely.id if likely else "", one.tag, likely.name if likely else ""))
    return tuple(made)


def _named(name: str, room: str) -> str:
    return f"{name}, {room}" if room else name


def _words(text: str) -> set[str]:
    return {word.rstrip("s") for word in re.findall(r"[^\W\d_]{2,}", text.lower())} - _EMPTY
