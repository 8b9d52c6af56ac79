"""How sure a day is: slack of each task, and two thousand days drawn from least, usual and most minutes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from msgspec import Struct

from robust_ledger.changeover.demands import Demands
from robust_ledger.changeover.rules import allowed
from robust_ledger.changeover.slots import LUNCH, Day, Slot

DAYS = 2000
LIKELY = 0.8  # the power is back by then on so many days of all


def _behind(one: Slot, other: Slot) -> bool:
    """Whether a task waits for another: it needs it, or the same person does it later, or the same place."""
    if one is other or other.start_min < one.end_min:
        return False
    return one.task.id in other.task.needs or bool(set(one.people) & set(other.people))


def slack(slots: Sequence[Slot], on_min: int, end_min: int) -> dict[str, int]:
    """Minutes that each task may take longer before the next edge of the day moves: the end of its phase, in this order of work."""
    off_min = min((one.start_min for one in slots if one.task.phase == "dark"), default=end_min)
    edges = {"before": off_min, "dark": on_min, "after": end_min}
    latest: dict[str, int] = {}
    for one in sorted(slots, key=lambda one: (-one.end_min, -one.start_min)):
        after = [
            latest[other.task.id]
            for other in slots
            if other.task.id in latest and other.task.phase == one.task.phase and _behind(one, other)
        ]
        latest[one.task.id] = min(after, default=edges[one.task.phase]) - (one.end_min - one.start_min)
    return {slot.task.id: max(0, latest[slot.task.id] - slot.start_min) for slot in slots}


class Risk(Struct, frozen=True):
    """What two thousand days come to. `on_min`, `dark_min`: quantiles at LIKELY; `share`: on what part of the days each task held up the power,
    by its id."""

    on_min: float
    dark_min: float
    dark_mean_min: float
    share: tuple[tuple[str, float], ...]


def simulated(found: Day, demands: Demands, days: int = DAYS, seed: int = 1) -> Risk:
    """The day many times over: durations drawn between least, usual and most, the order of work and the windows kept; what has happened stays."""
    import numpy as np

    dice = np.random.default_rng(seed)
    work = sorted(
        (slot for slot in found.slots if slot.task.phase != "after"),
        key=lambda one: (one.start_min, one.task.phase != "before"),
    )
    begins: dict[str, Any] = {}
    ends: dict[str, Any] = {}
    before = np.full(days, float(demands.begin_min))
    for one in work:
        if one.done:
            begins[one.task.id], ends[one.task.id] = (
                np.full(days, float(one.start_min)),
                np.full(days, float(one.end_min)),
            )
        else:
            begins[one.task.id], ends[one.task.id] = _drawn(one, work, ends, demands, dice, days, before)
        if one.task.phase == "before":
            before = np.maximum(before, ends[one.task.id])
    dark = [one for one in work if one.task.phase == "dark"]
    if not dark:
        return Risk(found.on_min, 0.0, 0.0, ())
    on = np.max(np.stack([ends[one.task.id] for one in dark]), axis=0)
    off = np.min(np.stack([begins[one.task.id] for one in dark]), axis=0)
    if demands.off_min is not None:
        off = np.full(days, float(demands.off_min))
    spans = np.sort(on - off)
    at = min(days - 1, int(LIKELY * days))
    return Risk(float(np.sort(on)[at]), float(spans[at]), float(spans.mean()), _shares(dark, begins, ends, on))


def _drawn(
    one: Slot, work: Sequence[Slot], ends: Any, demands: Demands, dice: Any, days: int, before: Any
) -> tuple[Any, Any]:
    """Begin and end of a task on every day."""
    import numpy as np

    low, usual, high = one.task.minutes
    now = demands.begin_min
    minutes = dice.triangular(low, usual, high, days) if high > low else np.full(days, float(usual))
    if one.start_min < now:  # it is going on: as long as drawn, and a minute more at the least
        return np.full(days, float(one.start_min)), np.maximum(one.start_min + minutes, now + 1)
    when = allowed(one.task, demands)
    begin = np.maximum(
        np.full(days, float(when.first_min)), before if one.task.phase == "dark" and demands.off_min is None else now
    )
    for other in work:
        if other.task.id in ends and _behind(other, one):
            begin = np.maximum(begin, ends[other.task.id])
    if one.task.id == LUNCH:
        begin = np.maximum(begin, one.start_min)
    if when.never is not None:
        begin = np.where(
            (begin < when.never.end_min) & (begin + minutes > when.never.start_min), when.never.end_min, begin
        )
    return begin, begin + minutes


def _shares(dark: Sequence[Slot], begins: Any, ends: Any, on: Any) -> tuple[tuple[str, float], ...]:
    """On what part of the days each task held up the power: going back from the last one, task by task."""
    import numpy as np

    held: dict[str, Any] = {}
    for one in sorted(dark, key=lambda one: -one.end_min):
        mine = np.abs(ends[one.task.id] - on) < 1e-6
        for other in dark:
            if other.task.id in held and _behind(one, other):
                mine = mine | (held[other.task.id] & (np.abs(begins[other.task.id] - ends[one.task.id]) < 1e-6))
        held[one.task.id] = mine
    return tuple((one.task.id, float(held[one.task.id].mean())) for one in dark)
