"""How truly a learner has read what is to be seen: every breaker with its wire, and from the higher levels on the panel and the house."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from msgspec import Struct

from robust_ledger.job.conductors import Conductors
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.practice.exercise import Exercise
from robust_ledger.practice.faults import at_spaces

OF_CIRCUIT = ("breaker_a", "poles", "gauge", "metal")
# What is read of the panel and the house, by the level from which on it is drawn: the part of the job, its field, and how it is called.
OF_HOUSE = (
    (1, "old_panel", "main_a", "main"),
    (3, "old_panel", "kind", "kind of panel"),
    (3, "old_panel", "tandem_spaces", "spaces for tandems"),
    (4, "existing", "meter_label_a", "label of the meter socket"),
    (4, "existing", "riser_conductors", "service-entrance conductors"),
    (4, "existing", "load_conductors", "meter-to-panel conductors"),
    (4, "grounding", "gec", "GEC"),
    (4, "grounding", "unspliced", "GEC in one piece"),
    (4, "grounding", "rod_spacing_ft", "distance of the rods"),
    (4, "grounding", "water_jumper", "bonding jumper around the water meter"),
    (4, "grounding", "water_bonded", "water pipes bonded"),
    (4, "grounding", "gas", "gas pipe"),
    (4, "grounding", "intersystem", "terminals of the IBT"),
    (4, "fit", "space_width_in", "width of the working space"),
    (4, "fit", "space_depth_in", "depth of the working space"),
)


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
        (part, field, words)
        for level, part, field, words in OF_HOUSE
        if level <= made.code.level and _fact(made.truth, part, field) != _fact(made.start, part, field)
    ]
    wrong = [*_circuits(made.truth, theirs), *_facts(job, made.truth, facts)]
    called = sum(1 for one in made.truth.circuits if one.spaces[0] in theirs)
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
        f"{name.removesuffix('_a')} {_text(getattr(one, name))}, it is {_text(getattr(true, name))}"
        for name in OF_CIRCUIT
        if getattr(one, name) != getattr(true, name)
    ]
    if one.spaces != true.spaces:
        parts.append(f"spaces {' and '.join(one.spaces)}, they are {' and '.join(true.spaces)}")
    return "; ".join(parts)


def _facts(job: Job, truth: Job, facts: list[tuple[str, str, str]]) -> Iterator[Misread]:
    for part, field, words in facts:
        mine, true = _fact(job, part, field), _fact(truth, part, field)
        if _plain(mine) != _plain(true):
            yield Misread((), f"{words} {_text(mine)}, it is {_text(true)}")


def _fact(job: Job, part: str, field: str) -> Any:
    return getattr(getattr(job, part), field)


def _plain(value: Any) -> Any:
    """Conductors however they were written; anything else as it is."""
    found = Conductors.read(value) if isinstance(value, str) else None
    return (found.size, found.metal, found.sets) if found is not None else value


def _text(value: Any) -> str:
    if value is None or value == "":
        return "not read"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, tuple):
        return ", ".join(map(str, value)) or "none"
    return f"{value:g}" if isinstance(value, float) else str(value).replace("_", " ")
