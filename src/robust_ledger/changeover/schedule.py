"""A day's schedule at once, without proof; and who does what in one that was found."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from msgspec.structs import replace

from robust_ledger.changeover.catalogue import PHASES, Phase, catalogue
from robust_ledger.changeover.demands import DayError, Demands
from robust_ledger.changeover.risk import slack
from robust_ledger.changeover.rules import allowed, checked
from robust_ledger.changeover.slots import LUNCH, Day, Slot
from robust_ledger.changeover.tasks import Task
from robust_ledger.changeover.trips import trips_of
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working


def first_day(tasks: Sequence[Task], demands: Demands) -> Day:
    """A day at once, each task as early as may be in its order: a good one, not proven to be the best. Raises DayError where the windows leave no
    room even for that; an exact search may still find one."""
    in_order = checked(tasks, demands)
    narrow = catalogue().narrow
    busy: list[tuple[int, int, int, str]] = []  # from, to, how many of us, place
    starts: dict[str, int] = {}
    ends: dict[str, int] = {one.task_id: one.end_min for one in demands.happened if one.end_min is not None}
    for pause in demands.pauses:
        if pause.who == "us":
            busy.append((demands.begin_min, pause.until_min, demands.people if pause.person == 0 else 1, ""))
    if (lunch := lunch_task(demands)) is not None and demands.lunch is not None:
        at = max(demands.begin_min, demands.lunch.window.start_min)
        busy.append((at, at + demands.lunch.minutes, demands.people, ""))
        starts[LUNCH], ends[LUNCH] = at, at + demands.lunch.minutes
    edge = demands.begin_min
    for phase in PHASES:
        for one in (task for task in in_order if task.phase == phase):
            if one.id in ends:
                continue
            minutes = one.usual_min
            going = next((h for h in demands.happened if h.task_id == one.id), None)
            if going is not None:
                starts[one.id], ends[one.id] = going.start_min, max(going.start_min + minutes, demands.begin_min + 1)
            else:
                ready = max([edge, *(ends[need] for need in one.needs if need in ends)])
                starts[one.id] = _fitted(one, ready, minutes, demands, busy, narrow)
                ends[one.id] = starts[one.id] + minutes
            if one.who == "us":
                busy.append((starts[one.id], ends[one.id], one.people, one.place))
        edge = max([edge, *(ends[one.id] for one in in_order if one.phase == phase)])
    return made_day([*in_order, *([lunch] if lunch else [])], starts, ends, demands)


def _fitted(
    task: Task,
    ready: int,
    minutes: int,
    demands: Demands,
    busy: Sequence[tuple[int, int, int, str]],
    narrow: frozenset[str],
) -> int:
    """The first minute from `ready` on when a task can begin. Raises DayError."""
    when, at = allowed(task, demands), ready
    while True:
        start = when.next_start(at, minutes)
        if start is None:
            raise DayError(f'No time is left for "{task.words[:60]}".')
        if task.who != "us":
            return start
        clash = [
            end
            for begin, end, people, place in busy
            if begin < start + minutes
            and end > start
            and (
                (place == task.place and place in narrow)
                or _most_at_once(busy, start, start + minutes) + task.people > demands.people
            )
        ]
        if not clash:
            return start
        at = min(clash)


def _most_at_once(busy: Sequence[tuple[int, int, int, str]], start: int, end: int) -> int:
    """How many of us are busy at once between two minutes, at the most."""
    marks = [start, *(begin for begin, _end, _people, _place in busy if start < begin < end)]
    return max(sum(people for begin, stop, people, _place in busy if begin <= mark < stop) for mark in marks)


def made_day(
    in_order: Sequence[Task],
    starts: Mapping[str, int],
    ends: Mapping[str, int],
    demands: Demands,
    proven: bool = False,
    least_min: int = 0,
    lanes: Mapping[str, int] | None = None,
    trips_proven: bool = False,
) -> Day:
    """A day of starts and ends: who does what, its edges and slack."""
    slots = _early(manned(in_order, starts, ends, demands, lanes or {}), demands)
    dark = [slot for slot in slots if slot.task.phase == "dark"]
    before = [one.end_min for one in slots if one.task.phase == "before"]
    off = (
        demands.off_min
        if demands.off_min is not None
        else min((one.start_min for one in dark), default=max(before, default=demands.begin_min))
    )
    on = max((one.end_min for one in dark), default=off)
    end = max((one.end_min for one in slots), default=on)
    slots = tuple(_phased(one, off, on) for one in slots)
    found = tuple(slack(slots, on, end).items())
    return Day(demands.people, slots, off, on, end, proven, least_min, found, trips_of(slots), trips_proven)


def _early(slots: Sequence[Slot], demands: Demands) -> tuple[Slot, ...]:
    """Every task as early as its needs, its people and its place allow in this order; the edges of the dark stay where they are."""
    narrow = catalogue().narrow
    dark = [slot for slot in slots if slot.task.phase == "dark"]
    off = min((one.start_min for one in dark), default=0)
    on = max((one.end_min for one in dark), default=0)
    begun = {one.task_id for one in demands.happened}
    ends: dict[str, int] = {}
    free: dict[int, int] = {}
    held: dict[str, int] = {}
    for pause in demands.pauses:
        if pause.who == "us":
            for person in (1, 2) if pause.person == 0 else (pause.person,):
                free[person] = max(free.get(person, 0), pause.until_min)
    made = []
    for one in sorted(slots, key=lambda one: (one.start_min, one.end_min)):
        task, minutes = one.task, one.end_min - one.start_min
        first = {"dark": off, "after": on}.get(task.phase, demands.begin_min) if task.id != LUNCH else one.start_min
        ready = [
            first,
            demands.begin_min,
            *(ends[need] for need in task.needs if need in ends),
            *(free.get(p, 0) for p in one.people),
        ]
        if task.place in narrow and one.people:
            ready.append(held.get(task.place, 0))
        start = allowed(task, demands).next_start(max(ready), minutes)
        if task.id in begun or start is None or start > one.start_min:
            start = one.start_min
        end = start + minutes
        ends[task.id] = end
        for person in one.people:
            free[person] = max(free.get(person, 0), end)
        if one.people:
            held[task.place] = max(held.get(task.place, 0), end)
        made.append(replace(one, start_min=start, end_min=end))
    return tuple(sorted(made, key=lambda one: (one.start_min, one.task.id)))


def _phased(slot: Slot, off: int, on: int) -> Slot:
    """The break belongs to the phase it falls in."""
    if slot.task.id != LUNCH:
        return slot
    phase: Phase = "before" if slot.start_min <= off else "dark" if slot.end_min <= on else "after"
    return replace(slot, task=replace(slot.task, phase=phase))


def lunch_task(demands: Demands) -> Task | None:
    """The break of all who work, as a task; None where there is none, or it is over."""
    lunch = demands.lunch
    if lunch is None or lunch.window.end_min - lunch.minutes < demands.begin_min:
        return None
    if any(one.task_id == LUNCH for one in demands.happened):
        return None
    work = Working(f"day.task.{LUNCH}", "break", Place("day:lunch_min"))
    entry = work.entry(work.given("as said", lunch.minutes, "min", Place("day:lunch_min")))
    minutes = (float(lunch.minutes),) * 3
    return Task(LUNCH, "break", "after", "truck", 1, minutes, (), "", "us", False, entry, demands.people)


def manned(
    in_order: Sequence[Task],
    starts: Mapping[str, int],
    ends: Mapping[str, int],
    demands: Demands,
    lanes: Mapping[str, int],
) -> tuple[Slot, ...]:
    """Who does what: those the schedule has said, else the first who are free, rather where they were."""
    happened = {one.task_id: one for one in demands.happened}
    free = [0] * demands.people
    at_place = [""] * demands.people
    made = []
    for pause in demands.pauses:
        for person in range(demands.people):
            if pause.who == "us" and pause.person in (0, person + 1):
                free[person] = max(free[person], pause.until_min)
    for one in sorted(
        in_order, key=lambda one: (happened[one.id].start_min if one.id in happened else starts[one.id], one.id)
    ):
        past = happened.get(one.id)
        start = past.start_min if past else starts[one.id]
        end = past.end_min if past and past.end_min is not None else ends[one.id]
        people: tuple[int, ...] = ()
        if one.who == "us":
            if past and 1 <= past.person <= demands.people:
                people = (past.person,) if one.people == 1 else (1, 2)[: demands.people]
            elif one.id in lanes:
                people = (lanes[one.id],)
            else:
                able = [n for n in range(demands.people) if free[n] <= start] or list(range(demands.people))
                able.sort(key=lambda n: (at_place[n] != one.place, n))
                people = tuple(sorted(n + 1 for n in able[: one.people]))
            for person in people:
                free[person - 1], at_place[person - 1] = max(end, free[person - 1]), one.place
        made.append(Slot(one, start, end, people, past is not None and past.end_min is not None))
    return tuple(made)
