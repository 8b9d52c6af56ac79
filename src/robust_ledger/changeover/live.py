"""The day as it goes: what has happened by the wall clock, the rest planned again from now, what slipped and what it costs."""

from __future__ import annotations

from datetime import datetime

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.changeover.clock import DayClock, clock_text
from robust_ledger.changeover.demands import DayError, Demands, Happened, Pause, demands_of
from robust_ledger.changeover.infeasible import clash, demand_words
from robust_ledger.changeover.planned import Planned, planned
from robust_ledger.changeover.record import moment
from robust_ledger.changeover.room import DayTasks
from robust_ledger.changeover.slots import Slot
from robust_ledger.changeover.tasks import Task
from robust_ledger.job.job import Job
from robust_ledger.ledger.progress import Progress, unwatched


class Slip(Struct, frozen=True):
    """A task that took longer or shorter than usual [min]."""

    task: Task
    took_min: float

    @property
    def late_min(self) -> float:
        """Minutes it took more than usual [min]; fewer are below zero."""
        return self.took_min - self.task.usual_min


class Live(Struct, frozen=True):
    """The day at a moment. `off_min`: when the power went off, None before; `back_min`: when it came back, None before; `plan`: what is left,
    planned from now; `was`: the day as it was planned; `given_up`: demands that cannot hold any more, in words; it is planned without them."""

    clock: DayClock
    now_min: float
    off_min: int | None
    back_min: int | None
    plan: Planned
    was: Planned | None
    slips: tuple[Slip, ...]
    waiting: tuple[Pause, ...]
    given_up: tuple[str, ...] = ()

    @property
    def going(self) -> frozenset[str]:
        """Ids of the tasks that are being done."""
        return frozenset(one.task_id for one in self.plan.demands.happened if one.end_min is None)

    @property
    def dark_so_far_min(self) -> float:
        """Minutes without power so far."""
        if self.off_min is None:
            return 0.0
        return (self.now_min if self.back_min is None else self.back_min) - self.off_min

    @property
    def late_min(self) -> int | None:
        """By how much the power is back later than was planned; None where nothing was."""
        return None if self.was is None else self.plan.day.on_min - self.was.day.on_min

    def turn(self, person: int) -> tuple[Slot | None, Slot | None]:
        """What a person does now, and what next; None for nothing."""
        mine = [slot for slot in self.plan.day.slots if person in slot.people and not slot.done]
        going = next((one for one in mine if one.task.id in self.going), None)
        rest = [one for one in mine if one is not going]
        return going, rest[0] if rest else None

    @property
    def next_of_others(self) -> Slot | None:
        """What utility or inspector do next."""
        return next((slot for slot in self.plan.day.slots if not slot.people and not slot.done), None)


def clock_of(job: Job, now: datetime) -> DayClock:
    """The clock of the day that is going: the date of its first entry, before that today's."""
    first = moment(job.record.events[0].at) if job.record.events else None
    at = first or (now if now.tzinfo else now.astimezone())
    return DayClock(at.date(), job.day.zone)


def happened(room: DayTasks, clock: DayClock) -> tuple[Happened, ...]:
    """Every task that has begun, with its minutes of the day. One that was only said to be done has begun when the same person's last one was over,
    or its usual time before."""
    usual = {task.id: task.usual_min for task in room.tasks} | {"lunch": room.job.day.lunch_min}
    made: dict[str, Happened] = {}
    free: dict[int, int] = {}
    for event in room.job.record.events:
        at = moment(event.at)
        if at is None or event.task not in usual:
            continue
        minute = round(clock.minutes(at))
        if event.kind == "start":
            made[event.task] = Happened(event.task, minute, None, event.person)
        elif event.kind == "undone":
            made.pop(event.task, None)
        elif event.kind == "done":
            begun = made.get(event.task)
            if event.minutes is not None:
                start = minute - round(event.minutes)
            elif begun is not None:
                start = begun.start_min
            else:
                start = max(free.get(event.person, minute - usual[event.task]), minute - 2 * usual[event.task])
            made[event.task] = Happened(event.task, min(start, minute), minute, event.person)
            free[event.person] = minute
    return tuple(sorted(made.values(), key=lambda one: one.start_min))


def _pauses(job: Job, clock: DayClock, now_min: int) -> tuple[Pause, ...]:
    """Waits and breaks that last beyond now."""
    made = []
    for event in job.record.events:
        at = moment(event.at)
        if event.kind == "wait" and at is not None:
            until = round(clock.minutes(at) + (event.minutes or 0))
            if until > now_min:
                made.append(Pause(event.who, event.person if event.who == "us" else 0, until))
    return tuple(made)


def off_at(room: DayTasks, clock: DayClock, begun: tuple[Happened, ...]) -> int | None:
    """When the power went off: as it was said, or with the first task of the dark; None before."""
    said = [moment(event.at) for event in room.job.record.events if event.kind == "off"]
    if said and said[-1] is not None:
        return round(clock.minutes(said[-1]))
    dark = {task.id for task in room.tasks if task.phase == "dark"}
    return min((one.start_min for one in begun if one.task_id in dark), default=None)


def demands_now(room: DayTasks, now: datetime) -> Demands:
    """What the rest of the day has to keep to. Raises DayError."""
    clock = clock_of(room.job, now)
    said = demands_of(room.job.day)
    begun = happened(room, clock)
    now_min = round(clock.minutes(now))
    if not room.job.record.events:
        return (
            replace(said, now_min=max(now_min, said.start_min)) if clock.day.isoformat() == room.job.day.date else said
        )
    return replace(
        said,
        happened=begun,
        pauses=_pauses(room.job, clock, now_min),
        now_min=now_min,
        off_min=off_at(room, clock, begun),
    )


def _possible(room: DayTasks, demands: Demands) -> tuple[Demands, tuple[str, ...]]:
    """The demands that can still hold, and in words those that cannot: what is left of the day is planned all the same."""
    given_up: list[str] = []
    promise = demands.promise_min
    demands = replace(demands, promise_min=None)
    while names := [name for name in clash(room.tasks, demands) if name != "start"]:
        given_up.append(demand_words(names[0], demands))
        demands = replace(demands, **{names[0]: None})
    return replace(demands, promise_min=promise), tuple(given_up)


def _as_planned(room: DayTasks) -> Planned | None:
    """The day as it was planned; None where there is none any more."""
    try:
        return room.schedule()
    except DayError:
        return None


def live(room: DayTasks, now: datetime, progress: Progress = unwatched) -> Live:
    """The day at a moment. Raises DayError."""
    room.refuse_withheld()
    clock = clock_of(room.job, now)
    demands, given_up = _possible(room, demands_now(room, now))
    made = planned(room.tasks, demands, progress)
    was = _as_planned(room) if room.job.record.events else None
    usual = {task.id: task for task in room.tasks}
    slips = [
        Slip(usual[one.task_id], one.end_min - one.start_min)
        for one in demands.happened
        if one.end_min is not None and one.task_id in usual
    ]
    slips.sort(key=lambda one: -abs(one.late_min))
    dark = [one for one in room.tasks if one.phase == "dark"]
    over = {one.task_id: one.end_min for one in demands.happened if one.end_min is not None}
    back = max((over[one.id] for one in dark), default=None) if dark and all(one.id in over for one in dark) else None
    return Live(
        clock,
        clock.minutes(now),
        demands.off_min,
        back,
        made,
        was,
        tuple(one for one in slips if one.late_min),
        demands.pauses,
        given_up,
    )


def live_words(made: Live) -> str:
    """How the day stands, in a few sentences: what slipped, what it costs, what would help."""
    words = [f"{one[:1].upper()}{one[1:]} cannot be kept any more." for one in made.given_up]
    if made.late_min is not None and made.late_min:
        late = made.late_min
        words.append(f"The power is back {abs(late)} min {'later' if late > 0 else 'earlier'} than planned.")
    slips = [f"{one.task.words[:40]} {one.late_min:+.0f} min" for one in made.slips[:3]]
    if slips:
        words.append(f"Slipped: {', '.join(slips)}.")
    for pause in made.waiting:
        who = "Break" if pause.who == "us" else f"The {pause.who} is late:"
        words.append(f"{who} until {made.clock.text(pause.until_min)}.")
    promise = made.plan.demands.promise_min
    if promise is not None and made.plan.day.on_min > promise:
        words.append(
            f"The promise of {clock_text(promise)} is missed by {made.plan.day.on_min - promise} min. {made.plan.clash}".strip()
        )
    if made.plan.gains and (made.late_min or 0) >= 0:
        words.append(
            f"{made.plan.gains[0].words[:1].upper()}{made.plan.gains[0].words[1:]} saves {made.plan.gains[0].saves_min} dark minutes."
        )
    return " ".join(words)


def durations(room: DayTasks) -> dict[str, float]:
    """Minutes each time that the tasks of this day really took, by id: what is learned from it. A task whose beginning nobody wrote down teaches
    nothing."""
    events = room.job.record.events
    if not events or (first := moment(events[0].at)) is None:
        return {}
    clock = DayClock(first.date(), room.job.day.zone)
    told = {
        event.task for event in events if event.kind == "start" or (event.kind == "done" and event.minutes is not None)
    }
    times = {task.id: task.times for task in room.tasks if not task.own}
    return {
        one.task_id: (one.end_min - one.start_min) / times[one.task_id]
        for one in happened(room, clock)
        if one.end_min is not None and one.task_id in told and times.get(one.task_id) and one.end_min > one.start_min
    }
