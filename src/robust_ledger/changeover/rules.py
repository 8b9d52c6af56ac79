"""What every schedule keeps to: an order without a circle, phases in their order, windows, daylight and rain."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

from robust_ledger.changeover.catalogue import PHASES, catalogue
from robust_ledger.changeover.demands import ALL_DAY_MIN, DayError, Demands, Window
from robust_ledger.changeover.tasks import Task, fault_of


def ordered(tasks: Sequence[Task]) -> list[Task]:
    """Tasks in an order in which each comes after what it needs. Raises DayError naming a circle."""
    by_id, done, made = {task.id: task for task in tasks}, set[str](), list[Task]()

    def visit(one: Task, on_way: tuple[str, ...]) -> None:
        """What a task needs, then the task itself."""
        if one.id in on_way:
            circle = " needs ".join(by_id[key].words[:40] for key in (*on_way[on_way.index(one.id) :], one.id))
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


def checked(tasks: Sequence[Task], demands: Demands) -> list[Task]:
    """Tasks in order, after what cannot be was refused. Raises DayError with one sentence."""
    if demands.people not in (1, 2):
        raise DayError("A day is planned for one person or two.")
    if not tasks:
        raise DayError("There is nothing to do on the day: no circuit is called out and the scope is not entered.")
    for task in tasks:
        if fault := fault_of(task):
            raise DayError(fault)
        if task.people > demands.people and task.who == "us":
            raise DayError(
                f'"{task.words[:1].upper()}{task.words[1:60]}" takes two people, and the day is planned for one.'
            )
        usual = catalogue().kinds.get(task.id)
        if usual is not None and usual.phase == "dark" and task.phase == "after" and usual.movable != "after":
            raise DayError(f'"{task.words[:60]}" is done in the dark alone: after it the panel is live.')
        phases = {other.id: PHASES.index(other.phase) for other in tasks}
        late = next((need for need in task.needs if phases.get(need, -1) > PHASES.index(task.phase)), None)
        if late is not None:
            first, then = _words(tasks, late), _in(tasks_phase(tasks, late))
            raise DayError(f'"{task.words[:50]}" comes {_in(task.phase)}, and needs "{first}", which comes {then}.')
    return ordered(tasks)


def _words(tasks: Sequence[Task], task_id: str) -> str:
    return next(task.words for task in tasks if task.id == task_id)[:50]


def tasks_phase(tasks: Sequence[Task], task_id: str) -> str:
    """The phase of a task by its id."""
    return next(task.phase for task in tasks if task.id == task_id)


def _in(phase: str) -> str:
    return {"before": "before the dark", "dark": "in the dark", "after": "after the dark"}[phase]


class Allowed(Struct, frozen=True):
    """When a task may be done: not before `first`, over by `last`, and not within `never`."""

    first_min: int
    last_min: int
    never: Window | None = None

    def next_start(self, at: int, minutes: int) -> int | None:
        """The first minute from `at` on when so many minutes fit; None where none is left."""
        at = max(at, self.first_min)
        if self.never and at < self.never.end_min and at + minutes > self.never.start_min:
            at = self.never.end_min
        return at if at + minutes <= self.last_min else None


def allowed(task: Task, demands: Demands) -> Allowed:
    """When a task may be done by windows, daylight and rain."""
    first, last = demands.begin_min, demands.begin_min + ALL_DAY_MIN
    for window in (demands.windows(task.who), demands.daylight if task.daylight else None):
        if window is not None:
            first, last = max(first, window.start_min), min(last, window.end_min)
    for pause in demands.pauses:
        if task.who != "us" and pause.who == task.who:
            first = max(first, pause.until_min)
    return Allowed(first, last, demands.rain if task.dry else None)
