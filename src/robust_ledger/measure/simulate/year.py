"""One simulated year: when everything in the house runs, and the current on both legs minute by minute."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.random import Generator
from numpy.typing import NDArray

from robust_ledger.measure.simulate.habits import Cycles, Habit, Uses, Weather
from robust_ledger.measure.simulate.house import House

DAYS = 365
MINUTES = DAYS * 1440
FIRST_WEEKDAY = 2  # the year begins on a Wednesday

# The climate: yearly mean, half the difference of the seasons, half the difference of day and night, and how far whole
# spells of weather stray, all in °C.
MEAN_C, SEASONS_C, DAY_C, SPELL_C = 10.0, 13.0, 4.5, 4.0
AWAY_WEEKDAY, AWAY_WEEKEND, ABSENT = 0.6, 0.25, 0.03

Floats = NDArray[np.float32]
Whole = NDArray[np.int64]


class Runs(Struct, frozen=True):
    """When things run: `start` and `end` in minutes of the year, `level` the part of the rating, `source` which of the
    house's sources; all of shape (n,)."""

    start: Whole
    end: Whole
    level: Floats
    source: Whole


class Year(Struct, frozen=True):
    """A year of a house: its runs, the leg currents [A] by the minute (shape (2, 525 600)), hourly temperature [°C]."""

    house: House
    runs: Runs
    legs: NDArray[np.float64]
    outdoor_c: Floats


def simulate_year(house: House, seed: int, run: int = 0) -> Year:
    """The year number `run` of a study with this seed. Same house, seed and run: the same year to the last digit."""
    rng = np.random.default_rng([seed, run])
    outdoor_c = _weather(rng)
    at_home = _at_home(rng)
    parts = []
    for number, source in enumerate(house.sources):
        start, length, level = _one_at_a_time([_runs_of(habit, rng, at_home, outdoor_c) for habit in source.habits])
        parts.append((start, length, level, np.full(len(start), number, dtype=np.int64)))
    start, length, level, which = (
        (np.concatenate(columns) for columns in zip(*parts, strict=True)) if parts else _nothing()
    )
    runs = Runs(start, np.minimum(start + np.maximum(length, 1), MINUTES), level, which)
    return Year(house, runs, leg_currents(house, runs), outdoor_c)


def leg_currents(house: House, runs: Runs, first: int = 0, minutes: int = MINUTES) -> NDArray[np.float64]:
    """Amperes on leg A and B by the minute (shape (2, minutes)) from minute `first` of the year on: what starts is
    added, what ends is taken off."""
    amperes = np.array([source.amperes for source in house.sources] or [(0.0, 0.0)])
    start = np.clip(runs.start - first, 0, minutes)
    end = np.clip(runs.end - first, 0, minutes)
    legs = np.empty((2, minutes))
    for leg in (0, 1):
        weight = amperes[runs.source, leg] * runs.level
        change = np.bincount(start, weight, minutes + 1)
        change -= np.bincount(end, weight, minutes + 1)
        np.cumsum(change[:-1], out=legs[leg])
    return np.maximum(legs, 0.0, out=legs)


def _runs_of(
    habit: Habit, rng: Generator, at_home: NDArray[np.bool_], outdoor_c: Floats
) -> tuple[Whole, Whole, Floats]:
    if isinstance(habit, Uses):
        return _uses(habit, rng, at_home)
    if isinstance(habit, Cycles):
        return _cycles(habit, rng)
    return _thermostat(habit, rng, outdoor_c)


def _one_at_a_time(parts: list[tuple[Whole, Whole, Floats]]) -> tuple[Whole, Whole, Floats]:
    """All runs of one thing in order, each ended by the next: nothing runs twice at once."""
    start, length, level = (np.concatenate(columns) for columns in zip(*parts, strict=True))
    order = np.argsort(start, kind="stable")
    start, length, level = start[order], length[order], level[order]
    length[:-1] = np.minimum(length[:-1], np.diff(start))
    on = length > 0
    return start[on], length[on], level[on]


def _nothing() -> tuple[Whole, Whole, Floats, Whole]:
    none = np.array([], dtype=np.int64)
    return none, none, np.array([], dtype=np.float32), none


def _weather(rng: Generator) -> Floats:
    """Outdoor temperature by the hour (shape (8760,)): season, time of day, and spells that last some days."""
    hours = np.arange(DAYS * 24)
    spells = np.empty(DAYS)
    noise = rng.standard_normal(DAYS)
    spells[0] = noise[0]
    for day in range(1, DAYS):
        spells[day] = 0.75 * spells[day - 1] + 0.66 * noise[day]
    season = -np.cos(2 * np.pi * (hours / 24 - 20) / DAYS)
    daily = -np.cos(2 * np.pi * (hours % 24 - 4) / 24)
    return (MEAN_C + SEASONS_C * season + DAY_C * daily + SPELL_C * np.repeat(spells, 24)).astype(np.float32)


def _at_home(rng: Generator) -> NDArray[np.bool_]:
    """Whether someone is at home, by the hour (shape (365, 24)): away in working hours on most weekdays, some hours on
    weekends, and on a few days altogether."""
    home = np.ones((DAYS, 24), dtype=bool)
    weekday = (np.arange(DAYS) + FIRST_WEEKDAY) % 7 < 5
    out = rng.random(DAYS) < np.where(weekday, AWAY_WEEKDAY, AWAY_WEEKEND)
    home[np.ix_(out & weekday, np.arange(8, 17))] = False
    home[np.ix_(out & ~weekday, np.arange(11, 17))] = False
    home[rng.random(DAYS) < ABSENT] = False
    return home


def _uses(habit: Uses, rng: Generator, at_home: NDArray[np.bool_]) -> tuple[Whole, Whole, Floats]:
    rate = np.full(DAYS, float(habit.per_day))
    rate[(np.arange(DAYS) + FIRST_WEEKDAY) % 7 >= 5] *= habit.weekend
    day = np.repeat(np.arange(DAYS), rng.poisson(rate))
    n = len(day)
    edges = np.cumsum(np.asarray(habit.hours, dtype=float))
    hour = np.minimum(np.searchsorted(edges / edges[-1], rng.random(n), side="right"), 23)
    start = day * 1440 + hour * 60 + rng.integers(0, 60, n)
    length = _between(habit.minutes, rng, n).round().astype(np.int64)
    level = _between(habit.level, rng, n)
    if habit.home:
        there = at_home[day, hour]
        return start[there], length[there], level[there]
    return start, length, level


def _between(ends: tuple[float, float], rng: Generator, n: int) -> Floats:
    """Values between two ends, the middle likelier than either: the mean of two even draws."""
    low, high = ends
    if low == high:
        return np.full(n, low, dtype=np.float32)
    return (low + (high - low) * (rng.random(n, dtype=np.float32) + rng.random(n, dtype=np.float32)) / 2).astype(
        np.float32
    )


def _cycles(habit: Cycles, rng: Generator) -> tuple[Whole, Whole, Floats]:
    if habit.duty >= 1:
        return np.array([0]), np.array([MINUTES]), np.ones(1, dtype=np.float32)
    n = int(MINUTES / habit.period)
    start = (np.arange(n) * habit.period + rng.random() * habit.period + rng.random(n) * 4).astype(np.int64)
    start = start[start < MINUTES]
    return start, np.full(len(start), round(habit.period * habit.duty)), np.ones(len(start), dtype=np.float32)


def _thermostat(habit: Weather, rng: Generator, outdoor_c: Floats) -> tuple[Whole, Whole, Floats]:
    """Runs by outdoor temperature: on for a part of each cycle, or throughout at a part of the power."""
    need = np.clip((outdoor_c - habit.from_c) / (habit.full_c - habit.from_c), 0, None)
    duty = np.minimum(need, 1.0) * habit.most
    if habit.modulates:
        hour = np.flatnonzero(duty > 0.08)
        level = np.clip(duty[hour] * (0.8 + 0.4 * rng.random(len(hour))), 0.15, 1.0)
        return hour * 60, np.full(len(hour), 60), level.astype(np.float32)
    n = int(MINUTES / habit.period)
    start = np.arange(n) * habit.period + rng.random() * habit.period
    hour = np.minimum((start / 60).astype(np.int64), len(duty) - 1)
    length = duty[hour] * habit.period * (0.8 + 0.4 * rng.random(n))
    on = length >= 1
    begin = (start + rng.random(n) * (1 - duty[hour]) * habit.period)[on].astype(np.int64)
    keep = begin < MINUTES
    return begin[keep], np.rint(length[on]).astype(np.int64)[keep], np.ones(int(keep.sum()), dtype=np.float32)
