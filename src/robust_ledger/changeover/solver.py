"""The best day, proven: fewest dark minutes first, then the earliest end, then the fewest trips with the least carried up.

What is asked is put to an exact solver one after the other, each answer becoming a condition of the next. That the dark is no shorter is
shown twice: it is never below the work at its narrowest (the hours shared out evenly, one place for one person, the longest chain of needs), and
the solver proves the rest.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from msgspec.structs import replace

from robust_ledger.changeover.catalogue import catalogue
from robust_ledger.changeover.day_model import Model, going, modeled, solver_for
from robust_ledger.changeover.demands import DayError, Demands
from robust_ledger.changeover.infeasible import clash_words
from robust_ledger.changeover.routes import routed
from robust_ledger.changeover.rules import checked, ordered
from robust_ledger.changeover.schedule import first_day, lunch_task, made_day
from robust_ledger.changeover.slots import Day
from robust_ledger.changeover.tasks import Task
from robust_ledger.ledger.progress import CanceledError, Progress, unwatched

TELLS_S = 5.0  # a proof is given up after so long, and that is told
TRIPS_S = 1.5


def day(tasks: Sequence[Task], demands: Demands, progress: Progress = unwatched) -> Day:
    """The best day. Raises DayError when there is none, naming what cannot both hold; CanceledError."""
    in_order = checked(tasks, demands)
    lunch = lunch_task(demands)
    every = [*in_order, *([lunch] if lunch else [])]
    try:
        hint = first_day(tasks, demands)
    except DayError:
        hint = None
    least = dark_least_min(in_order, demands)
    model = modeled(every, demands)
    model.cp.add(model.on - model.off >= least)
    if not demands.happened:  # what follows from the rest anyway, said so that the end is proven sooner
        model.cp.add(model.off >= demands.begin_min + phase_least_min(in_order, demands, "before"))
        model.cp.add(model.end >= model.on + phase_least_min(in_order, demands, "after"))
    _watch(progress, 0.1)
    values, proven = _best(model, model.on - model.off, _hint(hint), TELLS_S)
    if values is None:
        if hint is not None:
            return hint
        raise DayError(clash_words(tasks, demands) or "No day was found that keeps to all that is required of it.")
    dark = values["on"] - values["off"]
    model.cp.add(model.on - model.off <= dark)
    _watch(progress, 0.5)
    better, sure = _best(model, model.end, values, TELLS_S / 2)
    values = better or values
    _watch(progress, 0.7)
    lanes, ways, fewest = routed(every, demands, values, TRIPS_S)
    values = ways or values
    starts = {key: values[f"s.{key}"] for key in model.starts}
    ends = {one.id: starts[one.id] + one.usual_min for one in every if one.id in starts}
    ends |= {key: values[f"e.{key}"] for key in model.ends if key not in ends}
    ends |= going(every, demands)
    progress(1.0)
    return made_day(every, starts, ends, demands, proven and sure, dark if proven else least, lanes, fewest)


def _watch(progress: Progress, part: float) -> None:
    if not progress(part):
        raise CanceledError


def _hint(found: Day | None) -> Mapping[str, int] | None:
    if found is None:
        return None
    made = {f"s.{slot.task.id}": slot.start_min for slot in found.slots}
    return {**made, "off": found.off_min, "on": found.on_min, "end": found.end_min}


def dark_least_min(in_order: Sequence[Task], demands: Demands) -> int:
    """What no schedule's dark is below, by what is still to do."""
    over = {one.task_id for one in demands.happened}
    return phase_least_min([one for one in in_order if one.id not in over], demands, "dark")


def phase_least_min(in_order: Sequence[Task], demands: Demands, phase: str) -> int:
    """What no schedule of a phase is below: hours shared out evenly, a narrow place, the longest chain of needs."""
    mine = [one for one in in_order if one.phase == phase]
    work = sum(one.usual_min * one.people for one in mine if one.who == "us")
    chain: dict[str, int] = {}
    for one in ordered(mine):
        chain[one.id] = one.usual_min + max((chain[need] for need in one.needs if need in chain), default=0)
    narrow = catalogue().narrow
    at_place = [sum(one.usual_min for one in mine if one.place == place and one.who == "us") for place in narrow]
    return max([-(-work // demands.people), *chain.values(), *at_place, 0])


def _around_others(dark: Sequence[Task], people: int) -> list[int]:
    """What the dark is not below for each task that others do: our work that it needs, shared out evenly, itself, and our work that needs it."""
    needs: dict[str, set[str]] = {}
    for one in ordered(dark):
        needs[one.id] = {far for near in one.needs if near in needs for far in (near, *needs[near])}
    found = []
    for other in (one for one in dark if one.who != "us"):
        before = sum(one.usual_min * one.people for one in dark if one.who == "us" and one.id in needs[other.id])
        behind = sum(one.usual_min * one.people for one in dark if one.who == "us" and other.id in needs[one.id])
        found.append(-(-before // people) + other.usual_min + -(-behind // people))
    return found


def dark_alone(tasks: Sequence[Task], demands: Demands) -> int:
    """The least dark minutes of what is still to do, windows and breaks left out: what two ways to work are compared by."""
    over = {one.task_id for one in demands.happened}
    dark = [one for one in ordered(tasks) if one.phase == "dark" and one.id not in over]
    bare = replace(Demands(demands.people), start_min=0)
    least = max([dark_least_min(dark, bare), *_around_others(dark, demands.people)])
    if demands.people == 1 and least == sum(one.usual_min for one in dark):
        return least  # one after the other: no order of them is longer
    from ortools.sat.python import cp_model  # which takes a moment to load

    model = modeled(dark, bare)
    model.cp.add(model.off == 0)
    model.cp.add(model.on >= least)
    model.cp.minimize(model.on)
    solver = solver_for(1.0)
    state = solver.solve(model.cp)
    return int(solver.value(model.on)) if state in (cp_model.OPTIMAL, cp_model.FEASIBLE) else least


def _best(
    model: Model, goal: Any, hint: Mapping[str, int] | None, seconds: float
) -> tuple[dict[str, int] | None, bool]:
    """The least of a figure: every variable's value, and whether it is proven. None where there is no day at all."""
    from ortools.sat.python import cp_model

    named = {f"s.{key}": one for key, one in model.starts.items()}
    named |= {f"e.{key}": one for key, one in model.ends.items()}
    named |= {"off": model.off, "on": model.on, "end": model.end}
    model.cp.clear_hints()
    for key, value in (hint or {}).items():
        if key in named and isinstance(named[key], cp_model.IntVar):
            model.cp.add_hint(named[key], value)
    model.cp.minimize(goal)
    solver = solver_for(seconds, times=True)
    state = solver.solve(model.cp)
    if state not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None, state == cp_model.INFEASIBLE
    values = {key: one if isinstance(one, int) else int(solver.value(one)) for key, one in named.items()}
    return values, state == cp_model.OPTIMAL
