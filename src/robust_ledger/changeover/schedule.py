"""The day as an exact schedule: fewest dark minutes first, then the earliest end; for one person or two.

What is done before and after the dark cannot shorten it, so the dark is scheduled first and by itself: its least length is proven. Then
everything is put in time around it. A place that is narrow holds one person; a hold and what the utility does are tasks as others are.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from msgspec import Struct

from robust_ledger.changeover.tasks import PHASES, Task

TELLS_S = 8.0  # the proof is given up after so long, and the gap is told


class Slot(Struct, frozen=True):
    """A task in time: minutes from the start of the day, and who does it, counted from 1; 0 for the utility."""

    task: Task
    start_min: int
    end_min: int
    person: int


class Day(Struct, frozen=True):
    """A day's schedule. `dark_min`: from the power's going off to its coming back; `proven`: no schedule has a shorter dark; `critical`: ids of the
    tasks that the dark is as long as it is for."""

    people: int
    slots: tuple[Slot, ...]
    off_min: int
    on_min: int
    end_min: int
    proven: bool
    critical: tuple[str, ...]

    @property
    def dark_min(self) -> int:
        return self.on_min - self.off_min

    def slot(self, task_id: str) -> Slot:
        """The slot of a task."""
        return next(one for one in self.slots if one.task.id == task_id)


class DayError(ValueError):
    """A day that cannot be planned; the message is one sentence."""


def ordered(tasks: Sequence[Task]) -> list[Task]:
    """Tasks in an order in which each comes after what it needs. Raises DayError naming a circle."""
    by_id, done, made = {one.id: one for one in tasks}, set[str](), list[Task]()

    def visit(one: Task, on_way: tuple[str, ...]) -> None:
        """What a task needs, then the task itself."""
        if one.id in on_way:
            circle = " needs ".join((*on_way[on_way.index(one.id) :], one.id))
            raise DayError(f"Tasks wait for each other: {circle}.")
        if one.id not in done:
            for need in one.needs:
                if need in by_id:
                    visit(by_id[need], (*on_way, one.id))
            done.add(one.id)
            made.append(one)

    for one in tasks:
        visit(one, ())
    return made


def day(tasks: Sequence[Task], people: int = 1, narrow: frozenset[str] = frozenset(), start_min: int = 8 * 60) -> Day:
    """The best day for so many people. Raises DayError when tasks wait for each other, or there is nothing to do."""
    if people not in (1, 2):
        raise DayError("A day is planned for one person or two.")
    if not tasks:
        raise DayError("There is nothing to do on the day.")
    in_order = ordered(tasks)
    at, proven = start_min, True
    starts: dict[str, int] = {}
    edges: dict[str, int] = {}
    for phase in PHASES:
        mine = [one for one in in_order if one.phase == phase]
        edges[phase] = at
        found, span, sure = _packed(mine, people, narrow)
        starts |= {key: at + offset for key, offset in found.items()}
        proven = proven and sure
        at += span
    edges["end"] = at
    slots = _manned(in_order, starts, people)
    dark = [one for one in slots if one.task.phase == "dark"]
    critical = _critical(dark, edges["after"])
    return Day(people, slots, edges["dark"], edges["after"], edges["end"], proven, critical)


def _packed(tasks: Sequence[Task], people: int, narrow: frozenset[str]) -> tuple[dict[str, int], int, bool]:
    """The tasks of one phase in the shortest time: offsets, span, and whether no shorter one is possible."""
    if not tasks:
        return {}, 0, True
    from ortools.sat.python import cp_model  # when a day is first planned: it takes a moment to load

    model = cp_model.CpModel()
    horizon = sum(one.usual_min for one in tasks)
    starts = {one.id: model.new_int_var(0, horizon, one.id) for one in tasks}
    spans = {one.id: model.new_fixed_size_interval_var(starts[one.id], one.usual_min, one.id) for one in tasks}
    ours = [one for one in tasks if one.who == "us"]
    model.add_cumulative([spans[one.id] for one in ours], [1] * len(ours), people)
    for place in {one.place for one in ours} & narrow:
        model.add_no_overlap([spans[one.id] for one in ours if one.place == place])
    for one in tasks:
        for need in one.needs:
            if need in starts:
                before = next(other for other in tasks if other.id == need)
                model.add(starts[one.id] >= starts[need] + before.usual_min)
    end = model.new_int_var(_least(tasks, people), horizon, "end")
    for one in tasks:
        model.add(end >= starts[one.id] + one.usual_min)
    model.minimize(end)
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = TELLS_S
    solver.parameters.num_search_workers = 1  # the same job gives the same day
    solver.parameters.random_seed = 1
    state = solver.solve(model)
    return (
        {key: int(solver.value(start)) for key, start in starts.items()},
        int(solver.value(end)),
        state == cp_model.OPTIMAL,
    )


def _least(tasks: Sequence[Task], people: int) -> int:
    """What no schedule can be shorter than: the work shared out evenly, and the longest chain of needs."""
    work = sum(one.usual_min for one in tasks if one.who == "us")
    chain: dict[str, int] = {}
    for one in ordered(tasks):
        chain[one.id] = one.usual_min + max((chain[need] for need in one.needs if need in chain), default=0)
    return max(-(-work // people), *chain.values())


def _manned(tasks: Sequence[Task], starts: Mapping[str, int], people: int) -> tuple[Slot, ...]:
    """Who does what: the first person who is free."""
    free = [0] * people
    made = []
    for one in sorted(tasks, key=lambda one: (starts[one.id], one.id)):
        start, end = starts[one.id], starts[one.id] + one.usual_min
        person = 0
        if one.who == "us":
            person = next(n for n in range(people) if free[n] <= start) + 1
            free[person - 1] = end
        made.append(Slot(one, start, end, person))
    return tuple(made)


def _critical(dark: Sequence[Slot], on_min: int) -> tuple[str, ...]:
    """Tasks without slack: a minute more on any of them is a minute more of dark, in this order of work."""
    latest: dict[str, int] = {}
    by_end = sorted(dark, key=lambda one: -one.end_min)
    for one in by_end:
        after = [
            latest[other.task.id]
            for other in dark
            if other.task.id in latest
            and (
                one.task.id in other.task.needs
                or (one.person and other.person == one.person and other.start_min >= one.end_min)
            )
        ]
        latest[one.task.id] = min(after, default=on_min) - (one.end_min - one.start_min)
    return tuple(one.task.id for one in dark if latest[one.task.id] == one.start_min)


def simulated_dark(found: Day, times: int = 2000, seed: int = 1) -> Any:
    """Dark minutes of many days, durations drawn between least, usual and most, the order of work kept. An array of `times` figures."""
    import numpy as np

    dice = np.random.default_rng(seed)
    dark = sorted((one for one in found.slots if one.task.phase == "dark"), key=lambda one: one.start_min)
    ends: dict[str, Any] = {}
    free = {person: np.zeros(times) for person in range(found.people + 1)}
    for one in dark:
        low, usual, high = one.task.minutes
        drawn = dice.triangular(low, min(max(usual, low), high), high, times) if high > low else np.full(times, usual)
        begin = np.zeros(times) if one.person == 0 else free[one.person].copy()
        for need in one.task.needs:
            if need in ends:
                begin = np.maximum(begin, ends[need])
        ends[one.task.id] = begin + drawn
        free[one.person] = ends[one.task.id]
    return np.max(np.stack(list(ends.values())), axis=0) if ends else np.zeros(times)
