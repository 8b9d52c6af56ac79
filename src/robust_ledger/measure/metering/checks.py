"""A recording laid out on an even clock, with what is wrong in it: gaps, doubles, resets, spikes, energy sent out."""

from __future__ import annotations

from enum import StrEnum

import numpy as np
from msgspec import Struct

from robust_ledger.measure.metering.recording import Floats, MeterFileError, Minutes, Recording
from robust_ledger.measure.metering.stamps import clock_changes, stamp_date, stamp_text

# A reading alone that is this many times what all but one in a thousand (or three) reach is taken for a spike.
SPIKE_TIMES = 3.0
_QUIET_MIN = 180
# A recording is of a year or a few; a reading farther from the middle one has a wrong date.
MOST_YEARS = 4
# What a main can have let through for a quarter of an hour, in parts of its rating.
_MAIN_PASSES = 1.25


class Kind(StrEnum):
    """What can be wrong with a recording, in the word that users see."""

    GAP = "gap"
    DOUBLE = "double"
    RESET = "reset"
    SPIKE = "spike"
    SENT_OUT = "sent out"
    SILENT = "zero"


class Issue(Struct, frozen=True):
    """One thing wrong: readings `first` to `last` (positions in the series; a gap lies between its two), in words.
    Its readings are left out only when the user says so; a gap has none."""

    kind: Kind
    first: int
    last: int
    words: str

    @property
    def key(self) -> str:
        """What tells it apart: its kind and the readings it is about."""
        return f"{self.kind}:{self.first}:{self.last}"

    @property
    def excludable(self) -> bool:
        """Whether it can be left out: a gap has nothing to leave out."""
        return self.kind is not Kind.GAP


class Series(Struct, frozen=True):
    """Readings in order of time, each an average over its interval. `at_min` is an even clock without changes (shape
    (n,)), `stamp_min` the wall clock, `value` kW or A (shape (n, legs)), `unit` which; `sent_out`: the file says that energy went out too."""

    at_min: Minutes
    stamp_min: Minutes
    value: Floats
    unit: str
    interval_min: int
    issues: tuple[Issue, ...]
    notes: tuple[str, ...]
    sent_out: bool = False

    @property
    def gaps(self) -> list[Issue]:
        """The gaps among the issues."""
        return [issue for issue in self.issues if issue.kind is Kind.GAP]


def service_limit_kw(main_a: float | None, line_volts: float) -> float | None:
    """More than this a service with such a main cannot have carried over an interval [kW]; None while it is not known."""
    return main_a * line_volts / 1000 * _MAIN_PASSES if main_a else None


def checked(recording: Recording, limit_kw: float | None = None) -> Series:
    """Order a recording, turn it into averages and look for what is wrong.

    `limit_kw` is the most that the service can have carried, where known; a reading above it is a spike in any case.
    Raises MeterFileError when the readings are not at even intervals of an hour or less.
    """
    recording = _near(recording)
    interval = _interval(recording)
    at, notes = _even_clock(recording, interval)
    order = np.argsort(at, kind="stable")
    at, stamp, raw = at[order], recording.stamp_min[order], recording.value[order]
    notes += list(recording.notes)
    issues: list[Issue] = []
    value, resets = _averages(recording, raw, at, interval)
    if recording.unit == "register kWh":
        at, stamp = at[1:], stamp[1:]
    issues += [Issue(Kind.RESET, int(n), int(n), f"the register falls back at {stamp_text(stamp[n])}") for n in resets]
    unit = "A" if recording.unit == "A" else "kW"
    issues += _gaps(at, stamp, interval)
    issues += _doubles(at, stamp, value)
    issues += _spikes(stamp, value, unit, limit_kw)
    issues += _register_resets(value, stamp)
    issues += _runs(value, stamp, interval)
    if recording.sent_out:
        notes.append("The file has a channel of energy sent out too: there is a source behind the meter.")
    issues.sort(key=lambda issue: issue.first)
    return Series(at, stamp, value, unit, interval, tuple(issues), tuple(notes), recording.sent_out)


def _near(recording: Recording) -> Recording:
    """The recording without the few readings whose dates lie years away from all others: a wrong year would stretch it over
    thousands. Raises MeterFileError when they are not few."""
    stamp = recording.stamp_min
    far = np.abs(stamp - int(np.median(stamp))) > MOST_YEARS * 366 * 1440
    many = int(np.count_nonzero(far))
    if not many:
        return recording
    if many > max(3, len(stamp) // 100):
        first, last = stamp_text(int(stamp.min())), stamp_text(int(stamp.max()))
        raise MeterFileError(
            f"The readings run from {first[:10]} to {last[:10]}, with years between them: the dates cannot be right."
        )
    words = (
        f"{many} readings lie years away from all others, first {stamp_text(int(stamp[far][0]))}; they were left out."
    )
    return Recording(
        stamp[~far],
        recording.value[~far],
        recording.unit,
        recording.offset_min[~far] if recording.offset_min is not None else None,
        recording.faults,
        (*recording.notes, words),
        recording.sent_out,
    )


def _interval(recording: Recording) -> int:
    steps = np.diff(np.unique(recording.stamp_min))
    if not len(steps):
        raise MeterFileError("The file has a single reading; a demand needs many.")
    sizes, counts = np.unique(steps, return_counts=True)
    interval = int(sizes[counts.argmax()])  # the most common distance, the smallest of equals
    if interval > 60:
        raise MeterFileError(f"The readings are {interval / 60:g} hours apart; a demand shows at an hour or less.")
    if 60 % interval:
        raise MeterFileError(f"The readings are {interval} minutes apart, which does not divide an hour.")
    return interval


def _even_clock(recording: Recording, interval: int) -> tuple[Minutes, list[str]]:
    """Stamps on a clock that never changes, and which changes were recognized.

    With offsets the file says it all. Without, summer time shows by the hour that is there twice in autumn or missing
    in spring; then everything between the two changes lies one hour back.
    """
    stamp = recording.stamp_min
    if recording.offset_min is not None:
        shift = recording.offset_min - int(recording.offset_min.min())
        changed = int(np.count_nonzero(np.diff(recording.offset_min)))
        return stamp - shift, [f"{changed} changes of the clock, as the file says."] if changed else []
    present = np.unique(stamp)
    changes: list[tuple[int, int]] = []
    summer = np.zeros(len(stamp), dtype=bool)
    for year in range(stamp_date(present[0]).year, stamp_date(present[-1]).year + 1):
        spring, autumn = clock_changes(year)
        second = _second_pass(stamp, autumn, interval)
        if _hour_missing(present, spring):
            changes.append((spring, 1))
        if second is not None:
            changes.append((autumn, -1))
        summer |= (stamp >= spring + 60) & (stamp < autumn - 60)
        hour = (stamp >= autumn - 60) & (stamp <= autumn)
        if second is not None:
            summer |= hour & ~second
            last = autumn if _ends(stamp, autumn) else autumn - 1
            summer &= ~((stamp > last) & (stamp <= autumn) & ~second)
    if not changes:
        return stamp, []
    words = ", ".join(f"{'forward' if way > 0 else 'back'} on {stamp_date(at)}" for at, way in sorted(changes))
    return stamp - 60 * summer.astype(np.int64), [f"Clock change recognized: {words}."]


def _hour_missing(present: Minutes, spring: int) -> bool:
    """Whether the hour after a spring change has no stamps, be they those of the start or of the end of intervals, while
    there are some close before and after it."""

    def any_in(first: int, last: int) -> bool:
        return bool(((present >= first) & (present <= last)).any())

    by_start = (
        any_in(spring - 120, spring - 1) and not any_in(spring, spring + 59) and any_in(spring + 60, spring + 180)
    )
    by_end = any_in(spring - 119, spring) and not any_in(spring + 1, spring + 60) and any_in(spring + 61, spring + 181)
    return by_start or by_end


def _ends(stamp: Minutes, autumn: int) -> bool:
    """Whether stamps tell the end of their interval: then 02:00 is there twice, and 01:00 once."""
    return int(np.count_nonzero(stamp == autumn)) > 1 and int(np.count_nonzero(stamp == autumn - 60)) == 1


def _second_pass(stamp: Minutes, autumn: int, interval: int) -> np.ndarray | None:
    """The readings of the repeated hour's second pass, in file order; None when the hour is not there twice."""
    hour = np.flatnonzero((stamp >= autumn - 60) & (stamp <= autumn))
    seen: set[int] = set()
    second = np.zeros(len(stamp), dtype=bool)
    for n in hour:
        if int(stamp[n]) in seen:
            second[n] = True
        seen.add(int(stamp[n]))
    return second if np.count_nonzero(second) >= max(1, 60 // interval - 1) else None


def _averages(recording: Recording, raw: Floats, at: Minutes, interval: int) -> tuple[Floats, Minutes]:
    """Readings as average kW (or A) over their interval; for a register, where it falls back. What a register counts
    across a gap is spread over all of it."""
    per_hour = 60 / interval
    none = np.array([], dtype=np.int64)
    if recording.unit == "register kWh":
        steps = np.diff(raw, axis=0)
        resets = np.flatnonzero((steps < 0).any(axis=1))
        hours = np.maximum(np.diff(at), interval) / 60
        return np.where(steps < 0, 0.0, steps) / hours[:, None], resets
    factor = {"kWh": per_hour, "Wh": per_hour / 1000, "kW": 1.0, "W": 0.001, "A": 1.0}[recording.unit]
    return raw * factor, none


def _gaps(at: Minutes, stamp: Minutes, interval: int) -> list[Issue]:
    found = []
    for n in np.flatnonzero(np.diff(at) > interval):
        missing = int(at[n + 1] - at[n]) // interval - 1
        if missing > 0:
            words = f"{missing} reading{'s' if missing > 1 else ''} missing after {stamp_text(stamp[n])}"
            if missing * interval >= 1440:
                words += f", until {stamp_text(stamp[n + 1])}"
            found.append(Issue(Kind.GAP, int(n), int(n + 1), words))
    return found


def _doubles(at: Minutes, stamp: Minutes, value: Floats) -> list[Issue]:
    found = []
    for n in np.flatnonzero(np.diff(at) == 0):
        same = bool((value[n] == value[n + 1]).all())
        words = f"two readings for {stamp_text(stamp[n + 1])}, {'alike' if same else 'not alike'}"
        found.append(Issue(Kind.DOUBLE, int(n + 1), int(n + 1), words))
    return found


def _spikes(stamp: Minutes, value: Floats, unit: str, limit_kw: float | None) -> list[Issue]:
    """Readings beyond what the service carries, or alone at a multiple of what all but one in a thousand reach."""
    most = value.max(axis=1)
    rare = max(3, len(most) // 1000)
    usual = float(np.partition(most, -rare - 1)[-rare - 1]) if len(most) > 200 else np.inf
    high = np.flatnonzero(most > SPIKE_TIMES * max(usual, 1e-9))
    over = np.flatnonzero(most > limit_kw) if limit_kw and unit == "kW" else np.array([], dtype=np.int64)
    found = []
    for n in np.union1d(high, over):
        before, after = most[max(0, n - 1)], most[min(len(most) - 1, n + 1)]
        beyond = limit_kw is not None and unit == "kW" and most[n] > limit_kw
        if beyond or max(before if n else 0, after if n + 1 < len(most) else 0) < most[n] / 2:
            why = f"more than the service carries ({limit_kw:.0f} kW)" if beyond else "alone, far above all others"
            found.append(Issue(Kind.SPIKE, int(n), int(n), f"{most[n]:,.1f} {unit} at {stamp_text(stamp[n])}: {why}"))
    return found


def _register_resets(value: Floats, stamp: Minutes) -> list[Issue]:
    """A single reading far below zero, alone in the file: a register that was set back, which the meter took off once. Energy sent out
    comes in many readings."""
    low = value.min(axis=1)
    negative = np.flatnonzero(low < 0)
    usual = float(np.median(np.abs(low))) if len(low) else 0.0
    if len(negative) != 1 or len(low) < 24 or abs(low[negative[0]]) < SPIKE_TIMES * max(usual, 1e-9):
        return []
    n = int(negative[0])
    words = f"one reading far below zero at {stamp_text(stamp[n])}, alone: the register was set back"
    return [Issue(Kind.RESET, n, n, words)]


def _runs(value: Floats, stamp: Minutes, interval: int) -> list[Issue]:
    """Stretches of negative readings by the day, and of zeros for hours on end."""
    found = []
    low = value.min(axis=1)
    negative = np.flatnonzero(low < 0)
    if len(negative) and not _register_resets(value, stamp):
        words = f"{len(negative):,} readings below zero, first at {stamp_text(stamp[negative[0]])}: energy was sent out"
        found.append(Issue(Kind.SENT_OUT, int(negative[0]), int(negative[-1]), words))
    silent = np.concatenate(([0], (value.max(axis=1) == 0).astype(np.int8), [0]))
    edges = np.flatnonzero(np.diff(silent))
    for first, end in zip(edges[::2], edges[1::2], strict=True):
        if (end - first) * interval >= _QUIET_MIN:
            hours = (end - first) * interval / 60
            words = f"zero for {hours:g} h from {stamp_text(stamp[first])}: no power, or nothing recorded"
            found.append(Issue(Kind.SILENT, int(first), int(end - 1), words))
    return found
