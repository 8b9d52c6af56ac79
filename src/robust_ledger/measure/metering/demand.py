"""What a recording comes to: the maximum demand and when, the load duration curve, coverage, and what is missing."""

from __future__ import annotations

from collections.abc import Collection
from datetime import date, timedelta
from typing import Any, Literal

import numpy as np
from msgspec import Struct

from robust_ledger.job.parts.measured import Measured
from robust_ledger.measure.metering.checks import Kind, Series
from robust_ledger.measure.metering.recording import Floats, MeterFileError
from robust_ledger.measure.metering.stamps import stamp_date, stamp_text

WINDOW_MIN = 15
# A recording longer than this is meant as the year's, a shorter one as the 30 days'.
YEAR_FROM_DAYS = 200


class Demand(Struct, frozen=True):
    """The reduced recording. `peak` is the highest average over an interval of at least 15 minutes, kW or A, on the leg
    with most where there are two (`leg_peaks` each); `duration` all averages in falling order, `share` the part of
    time [0 to 1] each is reached or exceeded."""

    series: Series
    peak: float
    peak_at_min: int
    leg_peaks: tuple[float, ...]
    duration: Floats
    share: Floats
    coverage: float
    days: float
    longest_days: float
    missing: tuple[str, ...]
    months: dict[str, float]
    excluded: int
    exports: bool

    @property
    def peak_text(self) -> str:
        """The peak with its time."""
        return f"{self.peak:.2f} {self.series.unit} at {stamp_text(self.peak_at_min)}"


def reduce(series: Series, excluded: Collection[str] = ()) -> Demand:
    """Reduce a checked series, leaving out the issues whose keys are named. Doubles count with the higher reading.

    Raises MeterFileError when nothing is left.
    """
    keep = np.ones(len(series.at_min), dtype=bool)
    for issue in series.issues:
        if issue.key in excluded and issue.excludable:
            if issue.kind is Kind.SENT_OUT:  # scattered: found by sign, not by stretch
                keep &= series.value.min(axis=1) >= 0
            else:
                keep[issue.first : issue.last + 1] = False
    at, stamp, value = series.at_min[keep], series.stamp_min[keep], series.value[keep]
    if not len(at):
        raise MeterFileError("Nothing is left of the recording; take some of the readings in again.")
    step = series.interval_min
    slot = (at - at[0]) // step
    slots = int(slot[-1]) + 1
    grid = np.full((slots, value.shape[1]), -np.inf)
    np.maximum.at(grid, slot, value)
    there = np.isfinite(grid[:, 0])
    grid[~there] = np.nan
    windows = _windows(grid, max(1, WINDOW_MIN // step))
    whole = windows.max(axis=1)
    if not np.isfinite(whole).any():
        raise MeterFileError("No quarter of an hour in it is without a hole: a demand cannot be read from it.")
    top = int(np.nanargmax(whole))
    averages = whole[np.isfinite(whole)]
    duration = np.sort(averages)[::-1]
    wall = int(np.searchsorted(slot, top))
    return Demand(
        series,
        float(whole[top]),
        int(stamp[min(wall, len(stamp) - 1)]),
        tuple(float(x) for x in np.nanmax(windows, axis=0)),
        duration,
        (np.arange(len(duration)) + 1) / len(duration),
        float(np.count_nonzero(there)) / slots,
        slots * step / 1440,
        _longest(there) * step / 1440,
        _missing(series, keep),
        _months(stamp, value),
        int(np.count_nonzero(~keep)),
        series.sent_out or any(issue.kind is Kind.SENT_OUT for issue in series.issues),
    )


def _windows(grid: Floats, width: int) -> Floats:
    """Averages over `width` slots that follow one another; not a number where one of them is missing."""
    if width == 1:
        return grid
    if len(grid) < width:
        raise MeterFileError("The recording is shorter than 15 minutes.")
    sums = np.cumsum(np.vstack([np.zeros((1, grid.shape[1])), np.nan_to_num(grid)]), axis=0)
    holes = np.cumsum(np.concatenate([[0], np.isnan(grid[:, 0]).astype(np.int64)]))
    averages: Floats = (sums[width:] - sums[:-width]) / width
    averages[(holes[width:] - holes[:-width]) > 0] = np.nan
    return averages


def _longest(there: np.ndarray) -> int:
    """Slots in the longest stretch without a hole."""
    edges = np.flatnonzero(np.diff(np.concatenate(([0], there.astype(np.int8), [0]))))
    return int((edges[1::2] - edges[::2]).max()) if len(edges) else 0


def _missing(series: Series, keep: np.ndarray) -> tuple[str, ...]:
    """Stretches without readings, the longest first: for a year the days that no reading covers, then the gaps."""
    stamp = series.stamp_min[keep]
    covered = {stamp_date(day * 1440) for day in np.unique(stamp // 1440)}
    in_year = {(day.month, day.day) for day in covered}
    runs = sorted(_runs_of_days(in_year), key=lambda run: run[0] - run[1])
    words = [_stretch(run) for run in runs] if len(covered) > YEAR_FROM_DAYS else []
    gaps = sorted(series.gaps, key=lambda gap: int(series.at_min[gap.first] - series.at_min[gap.last]))
    return (*words[:6], *(gap.words for gap in gaps[:6]))


def _runs_of_days(in_year: Collection[tuple[int, int]]) -> list[tuple[date, date]]:
    """Runs of calendar days that are not there, within a common year."""
    runs: list[tuple[date, date]] = []
    day = date(2025, 1, 1)
    while day.year == 2025:
        if (day.month, day.day) not in in_year:
            if runs and runs[-1][1] == day - timedelta(days=1):
                runs[-1] = (runs[-1][0], day)
            else:
                runs.append((day, day))
        day += timedelta(days=1)
    return runs


def _stretch(run: tuple[date, date]) -> str:
    first, last = (f"{day.day} {day:%B}" for day in run)
    return first if run[0] == run[1] else f"{first} to {last}"


def _months(stamp: np.ndarray, value: Floats) -> dict[str, float]:
    """The highest reading of each month, "2025-07": kW or A."""
    months = stamp.astype("datetime64[m]").astype("datetime64[M]")
    found: dict[str, float] = {}
    names, start = np.unique(months, return_index=True)
    if bool((np.diff(months.astype(np.int64)) >= 0).all()):
        for name, top in zip(names, np.maximum.reduceat(value.max(axis=1), start), strict=True):
            found[str(name)] = float(top)
    return found


def to_measured(demand: Demand, source: str, reading: dict[str, Any], known: Measured | None = None) -> Measured:
    """What the job keeps of a recording; what only people can say of it is taken over from `known`.

    A recording of kilowatts by leg counts as if both legs carried what the higher one does.
    """
    series = demand.series
    legs = len(demand.leg_peaks)
    peak = demand.peak * (2 if legs == 2 and series.unit == "kW" else 1)
    unit: Literal["kW", "A"] = "A" if series.unit == "A" else "kW"
    facts = {
        "source": source,
        "route": "year" if demand.days > YEAR_FROM_DAYS else "thirty_days",
        "first": stamp_text(series.stamp_min[0]),
        "last": stamp_text(series.stamp_min[-1] + series.interval_min),
        "interval_min": series.interval_min,
        "days": round(demand.days, 3),
        "longest_days": round(demand.longest_days, 3),
        "coverage": round(demand.coverage, 6),
        "missing": demand.missing,
        "peak": round(peak, 4),
        "peak_unit": unit,
        "peak_at": stamp_text(demand.peak_at_min),
        "exports": demand.exports,
        "excluded": demand.excluded,
        "reading": reading,
    }
    said = known or Measured()
    return said.changed(**facts)
