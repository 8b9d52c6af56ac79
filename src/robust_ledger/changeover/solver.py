"""The best day, proven: fewest dark minutes first, then the earliest end, then the fewest trips with the least carried up.

What is asked is put to an exact solver one after the other, each answer becoming a condition of the next. That the dark is no shorter is
shown twice: it is never below the work at its narrowest (the hours shared out evenly, one place for one person, the longest chain of needs), and
the solver proves the rest.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from msgspec import Struct

from robust_ledger.changeover.catalogue import catalogue
from robust_ledger.changeover.demands import HORIZON_MIN, DayError, Demands
from robust_ledger.changeover.rules import allowed, checked, ordered
from robust_ledger.changeover.schedule import first_day, lunch_task, made_day
from robust_ledger.changeover.slots import LUNCH, Day
from robust_ledger.changeover.tasks import Task
from robust_ledger.ledger.progress import CanceledError, Progress, unwatched

TELLS_S = 5.0  # a proof is given up after so long, and that is told
TRIPS_S = 1.5
PATIENCE = 8  # so many times as long by the clock a slow machine may take for it


class Model(Struct):
    """A day as the solver has it: variables by task."""

    cp: Any
    starts: dict[str, Any]
    ends: dict[str, Any]
    off: Any
    on: Any
    end: Any


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
    _watch(progress, 0.1)
    values, proven = _best(model, model.on - model.off, _hint(hint), TELLS_S)
    if values is None:
        if hint is not None:
            return hint
        from robust_ledger.changeover.infeasible import told

        raise DayError(told(tasks, demands) or "No day was found that keeps to all that is required of it.")
    dark = values["on"] - values["off"]
    model.cp.add(model.on - model.off <= dark)
    _watch(progress, 0.5)
    better, sure = _best(model, model.end, values, TELLS_S / 2)
    values = better or values
    _watch(progress, 0.7)
    from robust_ledger.changeover.routes import routed  # which models the day again, in its order

    lanes, ways, fewest = routed(every, demands, values, TRIPS_S)
    values = ways or values
    starts = {key: values[f"s.{key}"] for key in model.starts}
    ends = {one.id: starts[one.id] + one.usual_min for one in every if one.id in starts}
    ends |= {key: values[f"e.{key}"] for key in model.ends if key not in ends}
    ends |= _going(every, demands)
    progress(1.0)
    return made_day(every, starts, ends, demands, proven and sure, dark if proven else least, lanes, fewest)


def _watch(progress: Progress, part: float) -> None:
    if not progress(part):
        raise CanceledError


def _hint(found: Day | None) -> Mapping[str, int] | None:
    if found is None:
        return None
    made = {f"s.{one.task.id}": one.start_min for one in found.slots}
    return {**made, "off": found.off_min, "on": found.on_min, "end": found.end_min}


def _going(tasks: Sequence[Task], demands: Demands) -> dict[str, int]:
    """When the tasks that are going on end: as long as they usually take, and not before now."""
    usual = {one.id: one.usual_min for one in tasks}
    return {
        one.task_id: max(one.start_min + usual[one.task_id], demands.begin_min + 1)
        for one in demands.happened
        if one.end_min is None and one.task_id in usual
    }


def dark_least_min(in_order: Sequence[Task], demands: Demands) -> int:
    """What no schedule's dark is below, by what is still to do: hours shared out evenly, a narrow place, the longest chain of needs."""
    over = {one.task_id for one in demands.happened}
    dark = [one for one in in_order if one.phase == "dark" and one.id not in over]
    work = sum(one.usual_min * one.people for one in dark if one.who == "us")
    chain: dict[str, int] = {}
    for one in ordered(dark):
        chain[one.id] = one.usual_min + max((chain[need] for need in one.needs if need in chain), default=0)
    narrow = catalogue().narrow
    at_place = [sum(one.usual_min for one in dark if one.place == place and one.who == "us") for place in narrow]
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
    from msgspec.structs import replace

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


def modeled(
    tasks: Sequence[Task], demands: Demands, without: frozenset[str] = frozenset(), promised: bool = False
) -> Model:
    """The day as a model. `without`: demands that are left out of it ("utility", "daylight", ...); `promised`: the promise has to hold."""
    from ortools.sat.python import cp_model  # when a day is first planned: it takes a moment to load

    cp = cp_model.CpModel()
    begin = demands.begin_min
    horizon = begin + HORIZON_MIN + sum(one.usual_min for one in tasks)
    past = min([begin, *(one.start_min for one in demands.happened)])
    over = {one.task_id: one for one in demands.happened}
    going = _going(tasks, demands)
    starts: dict[str, Any] = {}
    ends: dict[str, Any] = {}
    spans: dict[str, Any] = {}
    for one in tasks:
        gone = over.get(one.id)
        if gone is not None and gone.end_min is not None:
            ends[one.id] = gone.end_min
            starts[one.id] = gone.start_min
        elif gone is not None:
            starts[one.id], ends[one.id] = gone.start_min, going[one.id]
            spans[one.id] = cp.new_fixed_size_interval_var(begin, max(1, going[one.id] - begin), one.id)
        else:
            starts[one.id] = cp.new_int_var(begin, horizon, f"s.{one.id}")
            ends[one.id] = starts[one.id] + one.usual_min
            spans[one.id] = cp.new_fixed_size_interval_var(starts[one.id], one.usual_min, one.id)
            _when(cp, one, starts[one.id], demands, without)
    off = cp.new_int_var(past, horizon, "off")
    on = cp.new_int_var(past, horizon, "on")
    end = cp.new_int_var(past, horizon, "end")
    model = Model(cp, starts, ends, off, on, end)
    _people(cp, tasks, spans, demands)
    _edges(model, tasks, demands, over)
    if promised and demands.promise_min is not None:
        cp.add(on <= demands.promise_min)
    return model


def _when(cp: Any, task: Task, start: Any, demands: Demands, without: frozenset[str]) -> None:
    """Windows, daylight, rain and the break's own window."""
    if task.id == LUNCH and demands.lunch is not None and "lunch" not in without:
        cp.add(start >= demands.lunch.window.start_min)
        cp.add(start + task.usual_min <= demands.lunch.window.end_min)
    kept = demands
    if without:
        from msgspec.structs import replace

        kept = replace(
            demands, **{name: None for name in without if name in ("utility", "inspector", "daylight", "rain")}
        )
    when = allowed(task, kept)
    cp.add(start >= when.first_min)
    cp.add(start + task.usual_min <= when.last_min)
    if when.never is not None:
        dry = cp.new_bool_var(f"dry.{task.id}")
        cp.add(start + task.usual_min <= when.never.start_min).only_enforce_if(dry)
        cp.add(start >= when.never.end_min).only_enforce_if(~dry)


def _people(cp: Any, tasks: Sequence[Task], spans: Mapping[str, Any], demands: Demands) -> None:
    """Nobody in two places at once; a narrow place holds one."""
    ours = [one for one in tasks if one.who == "us" and one.id in spans]
    busy, needed = [spans[one.id] for one in ours], [one.people for one in ours]
    for number, pause in enumerate(demands.pauses):
        if pause.who == "us" and pause.until_min > demands.begin_min:
            minutes = pause.until_min - demands.begin_min
            busy.append(cp.new_fixed_size_interval_var(demands.begin_min, minutes, f"pause {number}"))
            needed.append(demands.people if pause.person == 0 else 1)
    cp.add_cumulative(busy, needed, demands.people)
    for place in {one.place for one in ours} & catalogue().narrow:
        cp.add_no_overlap([spans[one.id] for one in ours if one.place == place])


def _edges(model: Model, tasks: Sequence[Task], demands: Demands, over: Mapping[str, Any]) -> None:
    """What comes after what, and where the dark begins and ends."""
    cp, starts, ends = model.cp, model.starts, model.ends
    fixed = demands.off_min is not None
    if fixed:
        cp.add(model.off == demands.off_min)
    for one in tasks:
        loose = one.id not in over
        for need in one.needs:
            if need in ends and loose:
                cp.add(starts[one.id] >= ends[need])
        cp.add(model.end >= ends[one.id])
        if one.id == LUNCH:
            continue
        if one.phase == "dark":
            cp.add(model.on >= ends[one.id])
            if not fixed and (loose or over[one.id].end_min is None):
                cp.add(starts[one.id] >= model.off)
        elif one.phase == "before" and not fixed:
            cp.add(ends[one.id] <= model.off)
        elif one.phase == "after" and loose:
            cp.add(starts[one.id] >= model.on)
    cp.add(model.on >= model.off)


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
    solver = solver_for(seconds)
    state = solver.solve(model.cp)
    if state not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None, state == cp_model.INFEASIBLE
    values = {key: one if isinstance(one, int) else int(solver.value(one)) for key, one in named.items()}
    return values, state == cp_model.OPTIMAL


def solver_for(seconds: float) -> Any:
    """A solver that gives the same answer to the same job every time, on a slow machine as on a fast one: its time is counted in work done,
    about so many seconds; the clock ends it only where that takes many times as long."""
    from ortools.sat.python import cp_model

    solver = cp_model.CpSolver()
    solver.parameters.max_deterministic_time = seconds
    solver.parameters.max_time_in_seconds = PATIENCE * seconds
    solver.parameters.num_search_workers = 1
    solver.parameters.random_seed = 1
    return solver
