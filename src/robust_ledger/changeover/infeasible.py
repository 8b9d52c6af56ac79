"""Why no day can be: which demand cannot hold at all, or which two cannot both."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import combinations

from msgspec.structs import replace

from robust_ledger.changeover.clock import clock_text
from robust_ledger.changeover.day_model import modeled, solver_for
from robust_ledger.changeover.demands import Demands
from robust_ledger.changeover.rules import checked
from robust_ledger.changeover.schedule import lunch_task
from robust_ledger.changeover.tasks import Task

NAMES = ("start", "utility", "inspector", "daylight", "rain", "lunch", "promise")


def demand_words(name: str, demands: Demands) -> str:
    """A demand in words, with its times."""
    windows = {
        "utility": demands.utility,
        "inspector": demands.inspector,
        "daylight": demands.daylight,
        "rain": demands.rain,
    }
    called = {
        "utility": "the utility's window",
        "inspector": "the inspector's window",
        "daylight": "daylight",
        "rain": "rain",
    }
    if name in called:
        window = windows[name]
        return f"{called[name]} ({window.text})" if window else called[name]
    if name == "promise":
        return f"the promise of {clock_text(demands.promise_min or 0)}"
    if name == "lunch":
        return f"the break ({demands.lunch.window.text})" if demands.lunch else "the break"
    return f"the beginning at {clock_text(demands.start_min)}"


def _held(demands: Demands) -> list[str]:
    """The demands that this day has."""
    there = {
        "start": True, "utility": demands.utility, "inspector": demands.inspector, "daylight": demands.daylight, "rain": demands.rain,
        "lunch": demands.lunch, "promise": demands.promise_min is not None,
    }  # fmt: skip
    return [name for name in NAMES if there[name]]


def possible(tasks: Sequence[Task], demands: Demands, kept: Sequence[str]) -> bool:
    """Whether there is a day that keeps to these demands alone."""
    from ortools.sat.python import cp_model

    if "start" not in kept:
        demands = replace(demands, start_min=0)
    if "lunch" not in kept:
        demands = replace(demands, lunch=None)
    lunch = lunch_task(demands)
    every = [*checked(tasks, demands), *([lunch] if lunch else [])]
    model = modeled(every, demands, frozenset(NAMES) - set(kept), "promise" in kept)
    state = solver_for(2.0).solve(model.cp)
    return bool(state != cp_model.INFEASIBLE)


def clash(tasks: Sequence[Task], demands: Demands) -> tuple[str, ...]:
    """The demand that cannot hold by itself, or the two that cannot both, or the fewest that cannot all; none where every one can."""
    held = _held(demands)
    if possible(tasks, demands, held):
        return ()
    for many in (1, 2):
        for some in combinations(held, many):
            if not possible(tasks, demands, some):
                return some
    left = list(held)
    for name in held:
        fewer = [one for one in left if one != name]
        if not possible(tasks, demands, fewer):
            left = fewer
    return tuple(left)


def clash_words(tasks: Sequence[Task], demands: Demands) -> str:
    """The same in one sentence; "" where every demand can hold."""
    found = clash(tasks, demands)
    words = [demand_words(name, demands) for name in found]
    if not words:
        return ""
    if len(words) == 1:
        return f"{words[0][:1].upper()}{words[0][1:]} leaves no time for what has to be done."
    if len(words) == 2:
        return f"{words[0][:1].upper()}{words[0][1:]} and {words[1]} cannot both hold."
    return f"{', '.join(words[:-1])} and {words[-1]} cannot all hold.".capitalize()
