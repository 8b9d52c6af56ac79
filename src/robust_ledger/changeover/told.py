"""The planned day in words and as data: when the power goes off and comes back, what holds it up, what would save dark minutes, and the working
of each figure."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from threading import Lock
from typing import Any

from msgspec import Struct

from robust_ledger.changeover.catalogue import PHASE_WORDS
from robust_ledger.changeover.clock import clock_text
from robust_ledger.changeover.demands import DayError, Demands, demands_of, faults_of_people, not_said
from robust_ledger.changeover.gains import Gain, gains
from robust_ledger.changeover.infeasible import told as clash_words
from robust_ledger.changeover.risk import Risk, simulated
from robust_ledger.changeover.room import DayTasks
from robust_ledger.changeover.slots import Day, Slot
from robust_ledger.changeover.solver import day
from robust_ledger.changeover.tasks import Task
from robust_ledger.changeover.trips import Visit, visits
from robust_ledger.job.job import Job
from robust_ledger.job.parts.practice import KEPT_BACK
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.progress import Progress, unwatched
from robust_ledger.ledger.working import Working


class Planned(Struct, frozen=True):
    """A day with what may become of it. `other`: the same day for one person where this is for two, and the other way; None where that one cannot
    be; `gains`: what would save dark minutes, the most first; `clash`: which demands stand against the promise; "" where none does."""

    day: Day
    demands: Demands
    risk: Risk
    other: Day | None
    gains: tuple[Gain, ...]
    clash: str

    @property
    def likely_min(self) -> float:
        """When the power is back on four days of five."""
        return self.risk.on_min

    @property
    def second_saves_min(self) -> int | None:
        """Dark minutes that a second person is worth; None where one of the two days cannot be."""
        if self.other is None:
            return None
        one, two = (self.day, self.other) if self.day.people == 1 else (self.other, self.day)
        return one.dark_min - two.dark_min

    @property
    def latest_off_min(self) -> float | None:
        """When the power has to be off for the promise to hold on four days of five; None where nothing was promised."""
        promise = self.demands.promise_min
        return None if promise is None else promise - self.risk.dark_min

    @property
    def kept(self) -> bool:
        """Whether the promise can be counted on; so it can where there is none."""
        promise = self.demands.promise_min
        return promise is None or self.likely_min <= promise

    @property
    def visits(self) -> tuple[Visit, ...]:
        """Every stay at a place, with what is carried there."""
        return visits(self.day.slots, self.day.people)


def planned(work: Sequence[Task], demands: Demands, progress: Progress = unwatched) -> Planned:
    """Plan a day, proven where that can be. Raises DayError, CanceledError."""
    return _planned(tuple(work), demands, progress)


_KEPT: dict[tuple[tuple[Task, ...], Demands], Planned] = {}
MOST_KEPT = 24
_KEEPING = Lock()


def _planned(work: tuple[Task, ...], demands: Demands, progress: Progress) -> Planned:
    """A day is searched for once: page, margin and live view ask for the same one."""
    key = (work, demands)
    if (known := _KEPT.get(key)) is not None:
        return known
    made = day(work, demands, lambda part: progress(0.5 * part))
    other = None
    if not demands.happened:
        try:
            other = _for_people(work, demands, 3 - demands.people, progress)
        except DayError:
            other = None  # a task takes two people, or the windows leave no room for one
    saved = gains(work, demands, made.dark_min)
    risk = simulated(made, demands)
    clash = clash_words(work, demands) if demands.promise_min is not None and made.on_min > demands.promise_min else ""
    found = Planned(made, demands, risk, other, saved, clash)
    with _KEEPING:  # pages work theirs out beside one another
        while len(_KEPT) >= MOST_KEPT:
            _KEPT.pop(next(iter(_KEPT)))
        _KEPT[key] = found
    return found


def _for_people(work: Sequence[Task], demands: Demands, people: int, progress: Progress) -> Day:
    from msgspec.structs import replace

    return day(work, replace(demands, people=people), lambda part: progress(0.5 + 0.5 * part))


def refuse_in_exercise(job: Job) -> None:
    """Raises DayError while a job is an exercise whose day is the learner's to put in order."""
    if job.practice.veiled:
        raise DayError(f"The order of the day is {KEPT_BACK}: put yours together on Practice.")


def planned_job(room: DayTasks, people: int | None = None, progress: Progress = unwatched) -> Planned:
    """The day of a job as it was said. Raises DayError, CanceledError."""
    refuse_in_exercise(room.job)
    return planned(room.tasks, demands_of(room.job.day, people), progress)


def _outside(work: tuple[Task, ...]) -> bool:
    return any(one.dry or one.daylight for one in work)


def missing(room: DayTasks) -> tuple[str, ...]:
    """What is not known of the day, in words; it is planned without."""
    return (
        *(f"not known how many: {words}" for words in room.unknown),
        *not_said(room.job.day, _outside(room.tasks)),
        *faults_of_people(room.job.day),
    )


def promise_words(made: Planned) -> str:
    """Whether the promise holds on four days of five, and when the power has to be off for it; "" where nothing was promised."""
    promise, off = made.demands.promise_min, made.latest_off_min
    if promise is None or off is None:
        return ""
    if made.kept:
        spare = promise - made.likely_min
        return f"The promise of {clock_text(promise)} holds with {spare:.0f} min to spare; power off by {clock_text(off)} at the latest."
    words = f"The promise of {clock_text(promise)} cannot be counted on: the power would have to be off by {clock_text(off)}."
    return f"{words} {made.clash}".strip()


def figure(room: DayTasks, entry_id: str) -> Entry | None:
    """The working of a figure of the schedule; None while the day cannot be planned."""
    try:
        made = planned_job(room)
    except DayError:
        return None
    return figures(made).get(entry_id)


def figures(made: Planned) -> dict[str, Entry]:
    """The figures of the day with their working, by id."""
    found, entries = made.day, []
    entries.append(_dark(made))
    for key, words, minutes in (
        ("day.off", "Power off", found.off_min),
        ("day.back", "Power back, by usual minutes", found.on_min),
        ("day.end", "End of the day", found.end_min),
    ):
        work = Working(key, words)
        first, last = {
            "day.off": ("before", found.off_min),
            "day.back": ("dark", found.on_min),
            "day.end": ("after", found.end_min),
        }[key]
        for one in found.slots:
            if one.task.phase == first and one.end_min == last:
                work.take(
                    Step(
                        f"last to be over: {one.task.words[:60]}",
                        clock_text(one.end_min),
                        place=Place.entry(one.task.entry.id),
                    )
                )
        entries.append(work.entry(work.note(words, clock_text(minutes))))
    work = Working("day.likely", "Power back on four days of five")
    work.note("two thousand days, each task drawn between its least, usual and most minutes")
    work.take(Step("dark, on the middle of them", round(made.risk.dark_mean_min), "min"))
    for key, share in sorted(made.risk.share, key=lambda one: -one[1])[:6]:
        work.take(
            Step(
                f"{found.slot(key).task.words[:60]} holds the power up on",
                f"{share:.0%} of the days",
                place=Place.entry(f"day.task.{key}"),
            )
        )
    entries.append(work.entry(work.note("on four of five it is back by", clock_text(made.likely_min))))
    if made.other is not None:
        alone, both = (made.day, made.other) if made.day.people == 1 else (made.other, made.day)
        work = Working("day.second", "What a second person is worth")
        first_step = work.take(Step("dark with one person", alone.dark_min, "min"))
        second_step = work.take(Step("dark with two", both.dark_min, "min"))
        entries.append(work.entry(work.difference("dark minutes saved", first_step, second_step, "min")))
    return {entry.id: entry for entry in entries}


def _dark(made: Planned) -> Entry:
    """Dark minutes as the chain of tasks that follow one another without slack, and the waits between them."""
    found, work = made.day, Working("day.dark", "Dark minutes")
    at, parts = found.off_min, []
    for one in sorted(_chain(found), key=lambda one: one.start_min):
        if one.start_min > at:
            parts.append(work.take(Step("wait", one.start_min - at, "min")))
        parts.append(
            work.take(
                Step(
                    one.task.words[:70],
                    one.end_min - max(at, one.start_min),
                    "min",
                    place=Place.entry(one.task.entry.id),
                )
            )
        )
        at = one.end_min
    if found.on_min > at:
        parts.append(work.take(Step("wait", found.on_min - at, "min")))
    total = work.total("dark", parts or [Step("nothing in the dark", 0, "min")], "min")
    work.note(
        "no schedule has a shorter dark"
        if found.proven
        else f"the best found; none is shorter than {found.least_min} min"
    )
    return work.entry(total)


def _chain(found: Day) -> list[Slot]:
    """Tasks of the dark, the break too, one after the other, back from the power's return."""
    dark = [one for one in found.slots if one.task.phase == "dark"]
    made: list[Slot] = []
    at = found.on_min
    while True:
        fits = [one for one in dark if one.end_min <= at and one not in made]
        if not fits:
            return made
        last = max(fits, key=lambda one: (one.end_min, one.task.id in found.critical, -one.start_min))
        made.append(last)
        at = last.start_min


def day_words(made: Planned, lacking: Sequence[str] = ()) -> str:
    """The day in a few sentences, with what it is planned without."""
    found = made.day
    proof = "proven" if found.proven else f"the best found, not below {found.least_min}"
    words = (
        f"Dark {found.dark_min} min ({proof}), {clock_text(found.off_min)} to {clock_text(found.on_min)}; back by {clock_text(made.likely_min)} on "
        f"four days of five. "
    )
    if made.other is not None:
        who = "two people" if made.other.people == 2 else "one person"
        words += f"With {who} {made.other.dark_min} min; a second person is worth {made.second_saves_min}. "
    words += f"Done at {clock_text(found.end_min)}, {found.trips} trips{'' if found.trips_proven else ' at the most'}. {promise_words(made)}"
    if lacking:
        words = f"{words.strip()} Not in it: {'; '.join(lacking)}."
    return words.strip()


def day_lines(made: Planned, clock: Callable[[float], str] = clock_text) -> list[str]:
    """The day, a line a task, and what it comes to. `clock`: how a minute of the day is shown."""
    lines = []
    phase = ""
    critical = set(made.day.critical)
    for one in made.day.slots:
        if one.task.phase != phase:
            phase = one.task.phase
            lines.append(f"{PHASE_WORDS[phase][:1].upper()}{PHASE_WORDS[phase][1:]}:")
        signs = (
            ("HOLD " if one.task.hold else "")
            + ("! " if one.task.id in critical else "")
            + ("done " if one.done else "")
        )
        times = f" ({one.task.times:g} ×)" if one.task.times != 1 else ""
        minutes = one.end_min - one.start_min
        lines.append(
            f"  {clock(one.start_min):>8}  {minutes:>4} min  {one.who:<9}  {one.task.place:<7} {signs}{one.task.words}{times}"
        )
    lines += summary_lines(made, clock)
    lines += ["Carried:"] + [f"  {_visit_words(one, clock)}" for one in made.visits if one.carried]
    return lines


def summary_lines(made: Planned, clock: Callable[[float], str] = clock_text) -> list[str]:
    """What the day comes to, a figure a line."""
    found = made.day
    proof = "proven" if found.proven else f"best found, not below {found.least_min}"
    fewest = "the fewest" if found.trips_proven else "the fewest found"
    lines = [
        f"Dark minutes:        {found.dark_min} ({proof}), {clock(found.off_min)} to {clock(found.on_min)}",
        f"Back on 4 days of 5: {clock(made.likely_min)}",
        f"End of the day:      {clock(found.end_min)}",
        f"Trips:               {found.trips} ({fewest}), {sum(v.pounds for v in made.visits if v.up):g} lb carried up",
    ]
    if made.second_saves_min is not None:
        lines.append(f"A second person:     {made.second_saves_min} dark minutes less")
    for gain in made.gains[:3]:
        lines.append(f"Would save:          {gain.saves_min} dark minutes: {gain.words}")
    return lines


def _visit_words(visit: Visit, clock: Callable[[float], str] = clock_text) -> str:
    """A trip and what comes along."""
    things = ", ".join(f"{amount:g} × {item}" if amount != 1 else item for item, amount in visit.carried)
    return f"{clock(visit.start_min):>8}  {visit.person}  {visit.place:<7} {things} ({visit.pounds:g} lb)"


def day_data(made: Planned) -> dict[str, Any]:
    """The same as data."""
    found, slack = made.day, dict(made.day.slack_min)
    return {
        "people": found.people,
        "off_min": found.off_min,
        "on_min": found.on_min,
        "dark_min": found.dark_min,
        "proven": found.proven,
        "least_dark_min": found.least_min,
        "likely_on_min": round(made.likely_min, 1),
        "end_min": found.end_min,
        "second_person_saves_min": made.second_saves_min,
        "promise_min": made.demands.promise_min,
        "promise_kept": made.kept,
        "latest_off_min": None if made.latest_off_min is None else round(made.latest_off_min, 1),
        "stands_against_it": made.clash,
        "critical": list(found.critical),
        "trips": found.trips,
        "trips_proven": found.trips_proven,
        "gains": [{"task": one.task_id, "words": one.words, "saves_min": one.saves_min} for one in made.gains],
        "daylight_min": [made.demands.daylight.start_min, made.demands.daylight.end_min]
        if made.demands.daylight
        else None,
        "visits": [
            {
                "person": one.person,
                "place": one.place,
                "start_min": one.start_min,
                "carried": dict(one.carried),
                "pounds": one.pounds,
            }
            for one in made.visits
        ],
        "tasks": [
            {
                "id": one.task.id,
                "words": one.task.words,
                "phase": one.task.phase,
                "place": one.task.place,
                "people": list(one.people),
                "who": one.task.who,
                "start_min": one.start_min,
                "end_min": one.end_min,
                "times": one.task.times,
                "hold": one.task.hold,
                "slack_min": slack.get(one.task.id, 0),
                "needs": list(one.task.needs),
                "done": one.done,
            }
            for one in found.slots
        ],
    }
