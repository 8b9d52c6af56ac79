"""The day as an exact solver has it: when each task starts, who is busy, what comes after what, where the dark begins and ends."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.changeover.catalogue import catalogue
from robust_ledger.changeover.demands import HORIZON_MIN, Demands
from robust_ledger.changeover.rules import allowed
from robust_ledger.changeover.slots import LUNCH
from robust_ledger.changeover.tasks import Task

PATIENCE = 8  # so many times as long by the clock a slow machine may take for it


class Model(Struct):
    """A day as the solver has it: variables by task."""

    cp: Any
    starts: dict[str, Any]
    ends: dict[str, Any]
    off: Any
    on: Any
    end: Any


def going(tasks: Sequence[Task], demands: Demands) -> dict[str, int]:
    """When the tasks that are going on end: as long as they usually take, and not before now."""
    usual = {task.id: task.usual_min for task in tasks}
    return {
        one.task_id: max(one.start_min + usual[one.task_id], demands.begin_min + 1)
        for one in demands.happened
        if one.end_min is None and one.task_id in usual
    }


def modeled(
    tasks: Sequence[Task], demands: Demands, without: frozenset[str] = frozenset(), promised: bool = False
) -> Model:
    """The day as a model. `without`: demands that are left out of it ("utility", "daylight", ...); `promised`: the promise has to hold."""
    from ortools.sat.python import cp_model  # when a day is first planned: it takes a moment to load

    cp = cp_model.CpModel()
    begin = demands.begin_min
    horizon = begin + HORIZON_MIN + sum(task.usual_min for task in tasks)
    past = min([begin, *(one.start_min for one in demands.happened)])
    over = {one.task_id: one for one in demands.happened}
    on_the_way = going(tasks, demands)
    starts: dict[str, Any] = {}
    ends: dict[str, Any] = {}
    spans: dict[str, Any] = {}
    for one in tasks:
        gone = over.get(one.id)
        if gone is not None and gone.end_min is not None:
            ends[one.id] = gone.end_min
            starts[one.id] = gone.start_min
        elif gone is not None:
            starts[one.id], ends[one.id] = gone.start_min, on_the_way[one.id]
            spans[one.id] = cp.new_fixed_size_interval_var(begin, max(1, on_the_way[one.id] - begin), one.id)
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
    ours = [task for task in tasks if task.who == "us" and task.id in spans]
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
    for task in tasks:
        loose = task.id not in over
        for need in task.needs:
            if need in ends and loose:
                cp.add(starts[task.id] >= ends[need])
        cp.add(model.end >= ends[task.id])
        if task.id == LUNCH:
            continue
        if task.phase == "dark":
            cp.add(model.on >= ends[task.id])
            if not fixed and (loose or over[task.id].end_min is None):
                cp.add(starts[task.id] >= model.off)
        elif task.phase == "before" and not fixed:
            cp.add(ends[task.id] <= model.off)
        elif task.phase == "after" and loose:
            cp.add(starts[task.id] >= model.on)
    cp.add(model.on >= model.off)


def solver_for(seconds: float, times: bool = False) -> Any:
    """A solver that gives the same answer to the same job every time, on a slow machine as on a fast one: its time is counted in work done,
    about so many seconds; the clock ends it only where that takes many times as long. `times`: only when things are done is looked for, not
    the ways between them."""
    from ortools.sat.python import cp_model

    solver = cp_model.CpSolver()
    solver.parameters.max_deterministic_time = seconds
    solver.parameters.max_time_in_seconds = PATIENCE * seconds
    solver.parameters.num_search_workers = 1
    solver.parameters.random_seed = 1
    if times:  # days are proven with these that are only found without: one person is in one place
        solver.parameters.use_overload_checker_in_cumulative = True
        solver.parameters.use_timetable_edge_finding_in_cumulative = True
        solver.parameters.use_disjunctive_constraint_in_cumulative = True
        solver.parameters.linearization_level = 0
    return solver
