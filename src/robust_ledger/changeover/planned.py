"""A planned day: its schedule with what may become of it, and the working of each of its figures. It is searched for once."""

from __future__ import annotations

from collections.abc import Sequence
from threading import Lock

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.changeover.clock import clock_text
from robust_ledger.changeover.demands import DayError, Demands
from robust_ledger.changeover.gains import Gain, gains
from robust_ledger.changeover.infeasible import clash_words
from robust_ledger.changeover.risk import Risk, simulated
from robust_ledger.changeover.slots import Day, Slot
from robust_ledger.changeover.solver import day
from robust_ledger.changeover.tasks import Task
from robust_ledger.changeover.trips import Visit, visits
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
    return day(work, replace(demands, people=people), lambda part: progress(0.5 + 0.5 * part))


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
    dark = [slot for slot in found.slots if slot.task.phase == "dark"]
    made: list[Slot] = []
    at = found.on_min
    while True:
        fits = [one for one in dark if one.end_min <= at and one not in made]
        if not fits:
            return made
        last = max(fits, key=lambda one: (one.end_min, one.task.id in found.critical, -one.start_min))
        made.append(last)
        at = last.start_min
