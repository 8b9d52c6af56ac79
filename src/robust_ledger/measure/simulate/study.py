"""Many simulated years of one house: what ever flows, how often and why the main trips, what a clamp reading tells."""

from __future__ import annotations

from collections import Counter
from concurrent.futures import ThreadPoolExecutor

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from robust_ledger.ledger.progress import CanceledError, Progress, unwatched
from robust_ledger.measure.simulate.house import House
from robust_ledger.measure.simulate.trip import TripCurve
from robust_ledger.measure.simulate.year import DAYS, Runs, Year, leg_currents, simulate_year

CLAMP_MINUTE = 15 * 60
WORKERS = 2


class YearPeak(Struct, frozen=True):
    """What one year leaves behind: the highest minute on either leg [A] and its leg and minute, the highest 15-minute
    demand of the more loaded leg [A], clamp readings at 3 pm [A] (shape (365,)), trips and their causes."""

    peak_a: float
    leg: int
    minute: int
    demand_a: float
    clamp_a: NDArray[np.float64]
    trips: int
    causes: tuple[str, ...]
    running: tuple[str, ...]


class Study(Struct, frozen=True):
    """All years of a study together."""

    house: House
    seed: int
    years: tuple[YearPeak, ...]
    curve: TripCurve

    @property
    def highest_a(self) -> float:
        """The most that ever flowed on a leg in any year [A]."""
        return max(year.peak_a for year in self.years)

    def peak_quantile_a(self, part: float) -> float:
        """The peak current [A] that a part of the years stays below."""
        return float(np.quantile([year.peak_a for year in self.years], part))

    def demand_quantile_a(self, part: float) -> float:
        """The highest quarter of an hour [A] that so large a part of the years does not exceed."""
        return float(np.quantile([year.demand_a for year in self.years], part))

    @property
    def trip_chance(self) -> float:
        """The part of the years in which the main opens at least once."""
        return sum(year.trips > 0 for year in self.years) / len(self.years)

    @property
    def trips_a_year(self) -> float:
        """How often the main trips in a year."""
        return sum(year.trips for year in self.years) / len(self.years)

    def causes(self, most: int = 4) -> list[tuple[str, int]]:
        """What ran when the main opened, the most frequent first."""
        return Counter(name for year in self.years for name in year.causes).most_common(most)

    def at_peaks(self, most: int = 5) -> list[tuple[str, float]]:
        """What ran at the years' peaks, and in which part of the years."""
        found = Counter(name for year in self.years for name in set(year.running))
        return [(name, count / len(self.years)) for name, count in found.most_common(most)]

    def clamp_quantiles(self, parts: tuple[float, ...] = (0.1, 0.5, 0.9)) -> list[float]:
        """A reading at 3 pm as a part of that year's peak: the part that so many of all readings do not exceed."""
        ratios = np.concatenate([year.clamp_a / max(year.peak_a, 1e-9) for year in self.years])
        return [float(x) for x in np.quantile(ratios, parts)]

    def clamp_a(self, part: float = 0.5) -> float:
        """What a clamp reads [A], on the middle of the years or at another part."""
        return float(np.quantile(np.concatenate([year.clamp_a for year in self.years]), part))


class Day(Struct, frozen=True):
    """A day of a year: leg currents [A] by the minute (shape (2, 1440)), circuits with theirs, and the heat of the main."""

    number: int
    legs: NDArray[np.float64]
    circuits: tuple[tuple[str, NDArray[np.float64]], ...]
    heat: NDArray[np.float64]
    outdoor_c: NDArray[np.float32]


def study(
    house: House,
    runs: int,
    seed: int,
    progress: Progress = unwatched,
    curve: TripCurve | None = None,
) -> Study:
    """Simulate `runs` years; each depends on the seed and its number only, so neither threads nor order matter.

    Raises CanceledError when `progress`, told the part done, answers False.
    """
    used = curve or TripCurve()
    done: list[YearPeak] = []
    with ThreadPoolExecutor(WORKERS) as pool:
        for peak in pool.map(lambda run: _peak(simulate_year(house, seed, run), used), range(runs)):
            done.append(peak)
            if not progress(len(done) / runs):
                pool.shutdown(cancel_futures=True)
                raise CanceledError
    return Study(house, seed, tuple(done), used)


def _peak(year: Year, curve: TripCurve) -> YearPeak:
    legs = year.legs
    tops = legs.max(axis=1)
    leg = int(tops.argmax())
    minute = int(legs[leg].argmax())
    demand = legs.reshape(2, -1, 15).mean(axis=2).max()
    clamp = legs[:, CLAMP_MINUTE::1440].max(axis=0)
    trips: list[tuple[int, int]] = []
    for one in (0, 1):
        trips += [(int(at), one) for at in curve.trips(legs[one], year.house.main_a)]
    causes = tuple(name for at, one in trips for name in running_at(year, at, one, 2))
    running = tuple(running_at(year, minute, leg, 4))
    return YearPeak(float(tops[leg]), leg, minute, float(demand), clamp, len(trips), causes, running)


def running_at(year: Year, minute: int, leg: int, most: int) -> list[str]:
    """What draws most on a leg at a minute, the largest first."""
    runs = year.runs
    on = np.flatnonzero((runs.start <= minute) & (minute < runs.end))
    drawn: Counter[str] = Counter()
    for n in on:
        source = year.house.sources[int(runs.source[n])]
        drawn[source.name] += source.amperes[leg] * float(runs.level[n])  # type: ignore[assignment]
    return [name for name, amperes in drawn.most_common(most) if amperes >= 1]


def day_of(year: Year, number: int, curve: TripCurve) -> Day:
    """One day cut out of a year, with every circuit on its own; what began the day before runs on."""
    first = number * 1440
    runs, house = year.runs, year.house
    near = (runs.end > first) & (runs.start < first + 1440)
    picked = Runs(runs.start[near], runs.end[near], runs.level[near], runs.source[near])
    circuit_of = np.array([source.circuit for source in house.sources])[picked.source]
    circuits = []
    for number_of, name in enumerate(house.circuits):
        its = circuit_of == number_of
        alone = Runs(picked.start[its], picked.end[its], picked.level[its], picked.source[its])
        circuits.append((name, leg_currents(house, alone, first, 1440).max(axis=0)))
    before = max(0, first - int(8 * curve.minutes))
    legs = year.legs[:, first : first + 1440]
    hotter = year.legs[int(legs.max(axis=1).argmax())]
    heat = curve.heat(hotter[before : first + 1440], house.main_a)[first - before :]
    return Day(number, legs, tuple(circuits), heat, year.outdoor_c[number * 24 : number * 24 + 24])


def notable_days(year: Year) -> dict[str, int]:
    """Days worth looking at: that of the year's peak, the coldest, the hottest, and a plain one in spring."""
    by_day = year.outdoor_c.reshape(DAYS, 24).mean(axis=1)
    peaks = year.legs.reshape(2, DAYS, 1440).max(axis=(0, 2))
    spring = 90 + int(np.argsort(peaks[90:121])[15])
    return {
        "the year's peak": int(peaks.argmax()),
        "the coldest": int(by_day.argmin()),
        "the hottest": int(by_day.argmax()),
        "a plain one in April": spring,
    }
