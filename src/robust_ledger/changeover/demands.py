"""What a day has to keep to: who works, windows of others, daylight, rain, lunch, the promise; and what has happened of it already."""

from __future__ import annotations

from msgspec import Struct

from robust_ledger.changeover.clock import DayClock, clock_text, read_clock
from robust_ledger.changeover.daylight import daylight_min
from robust_ledger.changeover.torque import read_day
from robust_ledger.job.parts.day import ChangeoverDay

HORIZON_MIN = 36 * 60  # a window without an end lasts so long, and a day at the least may
ALL_DAY_MIN = 60 * 24 * 60  # rain without an end outlasts every day that is planned


class DayError(ValueError):
    """A day that cannot be planned; the message is one sentence."""


class Window(Struct, frozen=True):
    """From one minute of the day to another."""

    start_min: int
    end_min: int

    @property
    def text(self) -> str:
        """From when until when, in words."""
        return f"{clock_text(self.start_min)} to {clock_text(self.end_min)}"


class Lunch(Struct, frozen=True):
    """A break for everybody at once, so many minutes within a window."""

    minutes: int
    window: Window


class Happened(Struct, frozen=True):
    """A task that has begun. `end_min` None: it is still going on."""

    task_id: str
    start_min: int
    end_min: int | None
    person: int


class Pause(Struct, frozen=True):
    """Somebody is not to be had for a while: one of us (`person`, 0 for all), or those we wait for (`who`)."""

    who: str
    person: int
    until_min: int


class Demands(Struct, frozen=True):
    """What the day has to keep to. Windows are None where nothing is said. `happened`, `pauses`, `now_min`, `off_min`: the day as it goes, once it
    has begun."""

    people: int = 1
    start_min: int = 8 * 60
    utility: Window | None = None
    inspector: Window | None = None
    daylight: Window | None = None
    rain: Window | None = None
    lunch: Lunch | None = None
    promise_min: int | None = None
    happened: tuple[Happened, ...] = ()
    pauses: tuple[Pause, ...] = ()
    now_min: int | None = None
    off_min: int | None = None

    @property
    def begin_min(self) -> int:
        """From when on work can be planned."""
        return self.start_min if self.now_min is None else self.now_min

    def windows(self, who: str) -> Window | None:
        """When the utility or the inspector can come; None for anybody else."""
        return {"utility": self.utility, "inspector": self.inspector}.get(who)


def demands_of(day: ChangeoverDay, people: int | None = None) -> Demands:
    """The demands of a day as it was said. Raises DayError with one sentence for what cannot be."""
    try:
        return Demands(
            people or day.people,
            read_clock(day.start or "8:00"),
            _window("utility", day.utility_from, day.utility_until),
            _window("inspector", day.inspector_from, day.inspector_until),
            daylight_of(day),
            _rain(day),
            _lunch(day),
            read_clock(day.promise) if day.promise else None,
        )
    except DayError:
        raise
    except ValueError as problem:
        raise DayError(str(problem)) from None


def _window(name: str, begin: str, end: str, from_min: int = 0, until_min: int = HORIZON_MIN) -> Window | None:
    if not begin and not end:
        return None
    made = Window(read_clock(begin) if begin else from_min, read_clock(end) if end else until_min)
    if made.end_min <= made.start_min:
        raise DayError(
            f"The {name}'s window ends before it begins: {clock_text(made.start_min)} to {clock_text(made.end_min)}."
        )
    return made


def daylight_of(day: ChangeoverDay) -> Window | None:
    """From sunrise to sunset; None where date or place were not said. Raises ValueError."""
    at = read_day(day.date)
    if day.date and at is None:
        raise DayError(f'"{day.date}" is no date; write it like 2026-12-01.')
    if at is None or day.latitude_deg is None or day.longitude_deg is None:
        return None
    return Window(*daylight_min(at, day.latitude_deg, day.longitude_deg, day.zone))


def _rain(day: ChangeoverDay) -> Window | None:
    if day.weather != "rain":
        return None
    return _window("rain", day.rain_from, day.rain_until, 0, ALL_DAY_MIN) or Window(0, ALL_DAY_MIN)


def _lunch(day: ChangeoverDay) -> Lunch | None:
    if day.lunch_min == 0:
        return None
    window = _window("lunch break", day.lunch_from, day.lunch_until) or Window(0, HORIZON_MIN)
    if day.lunch_min < 0 or day.lunch_min > window.end_min - window.start_min:
        raise DayError(f"A break of {day.lunch_min} minutes does not fit between {window.text}.")
    return Lunch(day.lunch_min, window)


def faults_of_people(day: ChangeoverDay) -> tuple[str, ...]:
    """What is not said about who works."""
    if day.people == 2 and len([name for name in day.names if name.strip()]) < 2:
        return ("Two people are planned and not both are named.",)
    return ()


def not_said(day: ChangeoverDay, outside: bool) -> tuple[str, ...]:
    """What the day is planned without, because nobody said it. `outside`: something is done on the roof or at the meter."""
    made = []
    if outside and daylight_of(day) is None:
        made.append("daylight, for want of date or place")
    if outside and day.weather == "":
        made.append("whether it stays dry")
    return tuple(made)


def day_clock(day: ChangeoverDay) -> DayClock | None:
    """The clock of the day; None while it has no date. Raises ValueError for a zone that there is none of."""
    at = read_day(day.date)
    return DayClock(at, day.zone) if at is not None else None
