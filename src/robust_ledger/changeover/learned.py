"""What a crew's own days teach: its minutes for each kind of task, drawn towards the catalogue while they are few."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from statistics import median

from robust_ledger.changeover.catalogue import Kind

AS_GOOD_AS = 4  # days of one's own that count as much as the catalogue


def blended(kind: Kind, own_min: tuple[float, ...]) -> tuple[float, float, float]:
    """Least, usual and most minutes each time: the crew's own middle and ends, weighed against the catalogue's by how many days there are.
    With no day of one's own the catalogue's."""
    own = sorted(one for one in own_min if one > 0)
    if not own:
        return kind.minutes
    weight = len(own) / (len(own) + AS_GOOD_AS)
    seen = (own[0], median(own), own[-1])
    low, usual, high = ((1 - weight) * kept + weight * new for kept, new in zip(kind.minutes, seen, strict=True))
    return min(low, usual), usual, max(high, usual)


def gathered(days: Iterable[Mapping[str, float]]) -> dict[str, tuple[float, ...]]:
    """Minutes each time of several days, by the id of the task; a day counts once."""
    made: dict[str, list[float]] = {}
    for one in days:
        for task, minutes in one.items():
            made.setdefault(task, []).append(round(minutes, 2))
    return {task: tuple(minutes) for task, minutes in sorted(made.items())}
