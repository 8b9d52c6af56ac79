"""The best reading of a line and its rival: every word is covered by items, each item costs something, and the cheapest cover wins.

An item is a piece of the line that can mean something: "20 amp", "shares the neutral with tag 4", a word of a description. Two that fill
the same slot exclude each other. The search goes through the line once and keeps, at each word, the cheapest ways that are still apart in
what they have filled.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from msgspec import Struct

WIDTH = 16  # ways kept at each word
ALIKE = 2  # of those that have filled the same: the best and its rival


class Item(Struct, frozen=True):
    """A piece of the line, from token to token. `fills`: bits of the slots it fills; 0 for those that may come again. `sort` is known
    to the grammar's own rule of what an item costs where it stands."""

    first: int
    after: int
    sort: str
    value: Any
    cost: float
    fills: int = 0
    at: int = -1  # token that is to blame when the value cannot be


class Way(Struct, frozen=True):
    """Items that cover the line up to a token. `state` is the grammar's own."""

    cost: float
    filled: int
    state: int
    items: tuple[Item, ...]


Extra = Callable[[Item, Way], tuple[float, int] | None]
"""What an item costs beside its own cost after a way, and the state it leaves; None where it cannot stand there."""


def ways_through(
    items: Sequence[Sequence[Item]], extra: Extra, missing: Callable[[Way], float]
) -> list[tuple[float, Way]]:
    """The ways to read a whole line, the best first. `items`: by the token they begin at; `missing`: what a complete way still costs
    for what it does not say."""
    length = len(items)
    kept: list[dict[tuple[int, int], list[Way]]] = [{} for _ in range(length + 1)]
    kept[0][0, 0] = [Way(0.0, 0, 0, ())]
    for at in range(length):
        ways = sorted((way for alike in kept[at].values() for way in alike), key=lambda way: way.cost)[:WIDTH]
        for way in ways:
            for item in items[at]:
                if item.fills & way.filled:
                    continue
                more = extra(item, way)
                if more is None:
                    continue
                cost, filled = way.cost + item.cost + more[0], way.filled | item.fills
                alike = kept[item.after].setdefault((filled, more[1]), [])
                if len(alike) < ALIKE or cost < alike[-1].cost:
                    alike.append(Way(cost, filled, more[1], (*way.items, item)))
                    alike.sort(key=_cost)
                    del alike[ALIKE:]
    done = [(way.cost + missing(way), way) for alike in kept[length].values() for way in alike]
    done.sort(key=lambda pair: pair[0])
    return done


def _cost(way: Way) -> float:
    return way.cost


def slots(names: Sequence[str]) -> Mapping[str, int]:
    """A bit for each slot."""
    return {name: 1 << number for number, name in enumerate(names)}
