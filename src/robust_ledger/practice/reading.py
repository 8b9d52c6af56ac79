"""How truly a learner has read what is to be seen: every breaker with its wire, and from the higher levels on the panel and the house."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from msgspec import Struct

from robust_ledger.job.conductors import Conductors
from robust_ledger.job.fields import Field, field_at
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.practice.exercise import Exercise
from robust_ledger.practice.faults import at_spaces

OF_CIRCUIT = ("breaker_a", "poles", "gauge", "metal")
# What is read of the panel and the house, by the level from which on it is drawn. What it is called and what its values are, its field says.
OF_HOUSE = {
    "old_panel.main_a": 1, "old_panel.kind": 3, "old_panel.tandem_spaces": 3, "existing.meter_label_a": 4, "existing.riser_conductors": 4,
    "existing.load_conductors": 4, "grounding.gec": 4, "grounding.unspliced": 4, "grounding.rod_spacing_ft": 4, "grounding.water_jumper": 4,
    "grounding.water_bonded": 4, "grounding.gas": 4, "grounding.intersystem": 4, "fit.space_width_in": 4, "fit.space_depth_in": 4,
}  # fmt: skip


class Misread(Struct, frozen=True):
    """What was called out otherwise than it is, or not at all: spaces of a circuit, none for what is of the house."""

    spaces: tuple[str, ...]
    words: str

    @property
    def where(self) -> str:
        """Its spaces in words."""
        return at_spaces(self.spaces)


class Read(Struct, frozen=True):
    """The reading: how much there was to read, and what of it was not read truly. `circuits`: how many were called out at all."""

    count: int
    misread: tuple[Misread, ...]
    circuits: int


def read(job: Job, made: Exercise) -> Read:
    """What was read, against what is to be seen; what is as a new job has it needs no reading."""
    theirs = {space: one for one in job.circuits for space in one.spaces}
    facts = [
        path
        for path, level in OF_HOUSE.items()
        if level <= made.code.level and _fact(made.truth, path) != _fact(made.start, path)
    ]
    wrong = [*_circuits(made.truth, theirs), *_facts(job, made.truth, facts)]
    called = sum(1 for circuit in made.truth.circuits if circuit.spaces[0] in theirs)
    return Read(len(made.truth.circuits) + len(facts), tuple(wrong), called)


def _circuits(truth: Job, theirs: dict[str, Circuit]) -> Iterator[Misread]:
    for true in truth.circuits:
        one = theirs.get(true.spaces[0])
        if one is None:
            yield Misread(true.spaces, "not called out")
        elif words := _differs(true, one):
            yield Misread(true.spaces, words)


def _differs(true: Circuit, one: Circuit) -> str:
    parts = [
        _otherwise(field_at(f"circuits.{name}"), getattr(one, name), getattr(true, name))
        for name in OF_CIRCUIT
        if getattr(one, name) != getattr(true, name)
    ]
    if one.spaces != true.spaces:
        parts.append(f"spaces {' and '.join(one.spaces)}, they are {' and '.join(true.spaces)}")
    return "; ".join(parts)


def _facts(job: Job, truth: Job, paths: Sequence[str]) -> Iterator[Misread]:
    for path in paths:
        mine, true = _fact(job, path), _fact(truth, path)
        if _plain(mine) != _plain(true):
            yield Misread((), _otherwise(field_at(path), mine, true))


def _otherwise(field: Field, mine: Any, true: Any) -> str:
    return f"{field.words} {_text(field, mine)}, it is {_text(field, true)}"


def _fact(job: Job, path: str) -> Any:
    part, _, name = path.partition(".")
    return getattr(getattr(job, part), name)


def _plain(value: Any) -> Any:
    """Conductors however they were written; anything else as it is."""
    found = Conductors.read(value) if isinstance(value, str) else None
    return (found.size, found.metal, found.sets) if found is not None else value


def _text(field: Field, value: Any) -> str:
    if value is None or value == "":
        return "not read"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if value in field.choices:
        return str(field.choices[value])
    if isinstance(value, tuple):
        return ", ".join(map(str, value)) or "none"
    return f"{value:g}" if isinstance(value, float) else str(value)
