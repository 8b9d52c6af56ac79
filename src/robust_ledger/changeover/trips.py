"""Trips between places on the day, and what is carried on each."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

from robust_ledger.changeover.catalogue import catalogue
from robust_ledger.changeover.slots import Slot

TRUCK = "truck"


class Visit(Struct, frozen=True):
    """A stay of one person at one place: its tasks, and what is brought along for them, each thing once, with how many and how heavy [lb]."""

    person: int
    place: str
    start_min: int
    tasks: tuple[str, ...]
    carried: tuple[tuple[str, float], ...]
    pounds: float
    up: bool


def visits(slots: Sequence[Slot], people: int) -> tuple[Visit, ...]:
    """Every stay in the order of the day. Tools that are carried on from the place before come along too."""
    made = []
    for person in range(1, people + 1):
        stay: list[Slot] = []
        for one in [slot for slot in slots if person in slot.people]:
            if stay and stay[0].task.place != one.task.place:
                made.append(_visit(person, stay))
                stay = []
            stay.append(one)
        if stay:
            made.append(_visit(person, stay))
    return tuple(sorted(made, key=lambda one: (one.start_min, one.person)))


def _visit(person: int, stay: Sequence[Slot]) -> Visit:
    known = catalogue()
    things: dict[str, float] = {}
    for slot in stay:
        for tool in slot.task.tools:
            things.setdefault(tool, 1.0)
        for item, amount in slot.task.material:
            things[item] = things.get(item, 0.0) + amount
    pounds = sum(amount * known.pounds.get(item, 0.0) for item, amount in things.items())
    first = stay[0]
    return Visit(
        person,
        first.task.place,
        first.start_min,
        tuple(slot.task.words for slot in stay),
        tuple(things.items()),
        round(pounds, 1),
        first.task.place in known.up,
    )


def trips_of(slots: Sequence[Slot]) -> int:
    """Changes of place of all people; each begins at the truck."""
    trips = 0
    for person in (1, 2):
        at = TRUCK
        for slot in slots:
            if person in slot.people:
                trips += slot.task.place != at
                at = slot.task.place
    return trips
