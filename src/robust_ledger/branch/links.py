"""Loads and circuits joined: which load a description may mean, though it does not say it in full, and what is to spare."""

from __future__ import annotations

import re
from collections.abc import Sequence
from itertools import pairwise

from msgspec import Struct

from robust_ledger.branch.serves import OF_KIND
from robust_ledger.branch.vocabulary import OwnWords, read_words
from robust_ledger.job.edits import new_load_id
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.house import Load, LoadKind, When

_PARTS = re.compile(r"[,;+&/]|\band\b")
_EMPTY = {"the", "of", "and", "in", "for", "a", "old", "new", "circuit"}


def proposed(job: Job, circuit: Circuit) -> Load | None:
    """The one load without a circuit that a description most likely means; None when nothing, or several, fit."""
    near = proposals(job, circuit)
    return near[0] if len(near) == 1 else None


def proposals(job: Job, circuit: Circuit) -> tuple[Load, ...]:
    """The loads without a circuit that a description most likely means, each appliance it names with its own; by its words where it
    names none. A proposal is never taken unasked."""
    free = [load for load in job.loads if load.id not in job.fed_loads and load.when is not When.LATER]
    free = [load for load in free if load.poles == circuit.poles]
    made = []
    own = job.conventions.own
    for appliance in sorted(read_words(f"{circuit.feeds}, {circuit.room}", own).appliances):
        fitting = [load for load in free if appliance in appliances_of(load, own)]
        if len(fitting) > 1:  # two of a kind: the one whose room is named
            here = _words(f"{circuit.feeds} {circuit.room}")
            fitting = [load for load in fitting if here & (_words(load.room) | _words(load.name) - _words(appliance))]
        if len(fitting) == 1:
            made.append(fitting[0])
    by_words = _by_words(free, circuit)
    if by_words is not None and not made:
        made = [by_words]
    return tuple(dict.fromkeys(made))


_KIND_OF = {appliance: kind for kind, appliance in OF_KIND.items()} | {
    "wall oven": LoadKind.COOKING_UNIT,
    "cooktop": LoadKind.COOKING_UNIT,
    "tankless heater": LoadKind.WATER_HEATER,
}


def lacking(job: Job, circuit: Circuit) -> tuple[Load, ...]:
    """The loads that a 240 V circuit's words name and that the house does not list: proposed without a rating, which is for the
    nameplate to say."""
    if circuit.off or circuit.poles != 2 or circuit.load_ids:
        return ()
    own = job.conventions.own
    listed = {name for load in job.loads for name in appliances_of(load, own)}
    named = sorted(read_words(f"{circuit.feeds}, {circuit.room}", own).appliances)
    made = []
    for appliance in named:
        if appliance in _KIND_OF and appliance not in listed:
            kind, tankless = _KIND_OF[appliance], appliance == "tankless heater"
            name = new_load_id(job, appliance)
            made.append(Load(id=name, name=appliance, kind=kind, room=circuit.room, tankless=tankless))
    return tuple(made)


def appliances_of(load: Load, own: OwnWords = ()) -> frozenset[str]:
    """What a listed load is, in the words of the vocabulary."""
    named = read_words(f"{load.name} {load.room}", own).appliances
    return named | ({OF_KIND[load.kind]} if load.kind in OF_KIND and not named else frozenset())


def _by_words(free: Sequence[Load], circuit: Circuit) -> Load | None:
    """The load whose name or room shares the most words with the description, and no other as many."""
    mine = _words(f"{circuit.feeds} {circuit.room}")
    scored = []
    for load in free:
        shared = len(mine & _words(load.name)) * 2 + len(mine & _words(load.room))
        if mine & _words(load.name):
            scored.append((shared, load))
    scored.sort(key=lambda pair: -pair[0])
    if not scored or (len(scored) > 1 and scored[0][0] == scored[1][0]):
        return None
    return scored[0][1]


def loads_named(text: str, loads: Sequence[Load]) -> tuple[str, ...]:
    """Ids of the loads whose names stand in a description in full: the longer name where one holds another, none of two alike. Several
    only where something parts them: "dryer and fan" is two, "dryer fan" may be either."""
    lower = f" {text.lower()} "
    names = [load.name.lower() for load in loads]
    spans = []
    for load in loads:
        found = re.search(rf"(?<!\w){re.escape(load.name.lower())}(?!\w)", lower) if load.name else None
        if found is not None and names.count(load.name.lower()) == 1:
            spans.append((*found.span(), load.id))
    kept = [one for one in spans if not any(o is not one and o[0] <= one[0] and one[1] <= o[1] for o in spans)]
    kept.sort()
    if any(not _PARTS.search(lower[a[1] : b[0]]) for a, b in pairwise(kept)):
        return ()
    ids = {one[2] for one in kept}
    return tuple(load.id for load in loads if load.id in ids)


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
