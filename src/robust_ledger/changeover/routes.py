"""Fewest trips: who does which task, and in which order, when the dark and the end of the day are given."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from robust_ledger.changeover.catalogue import PHASES, catalogue
from robust_ledger.changeover.day_model import modeled, solver_for
from robust_ledger.changeover.demands import Demands
from robust_ledger.changeover.slots import LUNCH
from robust_ledger.changeover.tasks import Task
from robust_ledger.changeover.trips import TRUCK

TRIP = 1000  # what a trip counts, against a pound carried up


def routed(
    tasks: Sequence[Task], demands: Demands, values: Mapping[str, int], seconds: float
) -> tuple[dict[str, int], dict[str, int] | None, bool]:
    """Lanes by task, the values of the schedule, and whether fewer trips are not possible. None where nothing better was found in that time."""
    from ortools.sat.python import cp_model

    if demands.happened or demands.pauses or any(one.people > 1 and one.id != LUNCH for one in tasks):
        return {}, None, False  # as it goes, who does what is for those on the spot
    model = modeled(tasks, demands)
    cp = model.cp
    cp.add(model.off == values["off"])
    cp.add(model.on == values["on"])
    cp.add(model.end == values["end"])
    ours = [task for task in tasks if task.who == "us" and task.id != LUNCH]
    if not ours:
        return {}, None, True
    numbers = {one.id: number for number, one in enumerate(ours, 1)}
    cost: list[Any] = []
    arcs: list[tuple[int, int, Any]] = []
    for one in ours:
        for begin, end, at in ((0, numbers[one.id], TRUCK), (numbers[one.id], 0, "")):
            used = cp.new_bool_var("")
            arcs.append((begin, end, used))
            if at and one.place != at:
                cost.append((TRIP + _up_lb(one, None)) * used)
    behind = _behind(ours)
    for first in ours:
        for then in ours:
            if first is then or first.id in behind[then.id] or PHASES.index(then.phase) < PHASES.index(first.phase):
                continue
            used = cp.new_bool_var("")
            arcs.append((numbers[first.id], numbers[then.id], used))
            cp.add(model.starts[then.id] >= model.ends[first.id]).only_enforce_if(used)
            away = first.place != then.place
            if weight := (TRIP if away else 0) + _up_lb(then, None if away else first):
                cost.append(weight * used)
    cp.add_multiple_circuit(arcs)
    cp.add(sum(used for begin, _end, used in arcs if begin == 0) <= demands.people)
    cp.minimize(sum(cost) if cost else 0)
    for key, variable in model.starts.items():
        cp.add_hint(variable, values[f"s.{key}"])
    solver = solver_for(seconds if demands.people == 1 else 2 * seconds)
    state = solver.solve(cp)
    if state not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return {}, None, False
    follows = {(begin, end) for begin, end, used in arcs if solver.value(used)}
    made = {f"s.{key}": int(solver.value(one)) for key, one in model.starts.items()}
    made |= {name: values[name] for name in ("off", "on", "end")}
    return _lanes(follows, {number: key for key, number in numbers.items()}), made, state == cp_model.OPTIMAL


def _up_lb(task: Task, before: Task | None) -> int:
    """Pounds carried up for a task, what the task before has brought there left out."""
    known = catalogue()
    if task.place not in known.up:
        return 0
    things = set(task.tools) - (set(before.tools) if before else set())
    material = dict(task.material)
    return round(
        sum(known.pounds.get(t, 0) for t in things) + sum(known.pounds.get(i, 0) * a for i, a in material.items())
    )


def _behind(tasks: Sequence[Task]) -> dict[str, set[str]]:
    """Every task that comes behind one, by its needs and theirs."""
    by_id = {task.id: task for task in tasks}
    behind: dict[str, set[str]] = {one.id: set() for one in tasks}
    for one in tasks:
        seen, left = set[str](), list(one.needs)
        while left:
            need = left.pop()
            if need in by_id and need not in seen:
                seen.add(need)
                behind[need].add(one.id)
                left += by_id[need].needs
    return behind


def _lanes(follows: set[tuple[int, int]], names: Mapping[int, str]) -> dict[str, int]:
    """Which person each task is done by: the route it is on, the first to begin being the first person."""
    made = {}
    for person, (_zero, first) in enumerate(sorted(arc for arc in follows if arc[0] == 0), 1):
        at = first
        while at:
            made[names[at]] = person
            at = next(end for begin, end in follows if begin == at)
    return made
