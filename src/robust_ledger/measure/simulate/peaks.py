"""What each circuit draws when the simulated house draws most: a basis for the balance of the legs that knows what runs together."""

from __future__ import annotations

import numpy as np

from robust_ledger.job.keys import CircuitKey
from robust_ledger.measure.simulate.house import House
from robust_ledger.measure.simulate.year import simulate_year

DAY = 24 * 60


def daily_peak_amps(house: House, seed: int = 1) -> dict[CircuitKey, float]:
    """Amperes per pole of each circuit by its key, the mean over the 365 minutes at which a day of the simulated year peaks."""
    year = simulate_year(house, seed)
    days = year.legs.sum(axis=0).reshape(-1, DAY)
    peaks = np.arange(len(days)) * DAY + days.argmax(axis=1)
    counts = np.searchsorted(peaks, year.runs.end) - np.searchsorted(peaks, year.runs.start)
    per_pole = np.array([max(source.amperes) for source in house.sources] or [0.0])
    drawn = counts * year.runs.level * per_pole[year.runs.source] if len(counts) else np.zeros(0)
    circuit_of = np.array([source.circuit for source in house.sources] or [0])
    sums = np.bincount(circuit_of[year.runs.source], drawn, len(house.circuits)) / len(days)
    return dict(zip(house.keys, sums.tolist(), strict=False))
