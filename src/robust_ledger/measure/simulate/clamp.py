"""The clamp meter: the small interface a real one would have behind it, and the stand-in that ships, fed by the simulated
house. A reading is one moment; it is kept apart from the calculated demand."""

from __future__ import annotations

from datetime import datetime
from typing import Protocol

import numpy as np
from msgspec import Struct

from robust_ledger.measure.simulate.house import House
from robust_ledger.measure.simulate.year import MINUTES, simulate_year

# A usual hand-held clamp: 2% of the reading and five counts of a tenth.
GAIN_PART, OFFSET_A, RESOLUTION_A = 0.02, 0.05, 0.1


class Moment(Struct, frozen=True):
    """What a clamp showed around one wire: amperes, which leg, and what was running on that circuit."""

    amperes: float
    leg: str
    running: tuple[str, ...]


class ClampMeter(Protocol):
    """Anything that can be put around the wires of a circuit."""

    simulated: bool

    def read(self, key: str, at: datetime) -> tuple[Moment, ...]:
        """A reading for each leg of a circuit ("tag:7"), two for a 2-pole; empty when the meter cannot reach it."""


class SimulatedClamp:
    """Reads what flows in the simulated house at that minute of its year, as exactly as a hand-held clamp does."""

    simulated = True

    def __init__(self, house: House, seed: int = 1) -> None:
        self.house = house
        self.year = simulate_year(house, seed)
        self.rng = np.random.default_rng([seed, 7])

    def read(self, key: str, at: datetime) -> tuple[Moment, ...]:
        """What flows [A] on each leg of a circuit at a date and time, by the minute of the simulated year."""
        if key not in self.house.keys:
            return ()
        circuit = self.house.keys.index(key)
        minute = ((at.timetuple().tm_yday - 1) * 1440 + at.hour * 60 + at.minute) % MINUTES
        runs = self.year.runs
        on = np.flatnonzero((runs.start <= minute) & (minute < runs.end))
        amperes, names = np.zeros(2), ["", ""]
        for run in on:
            source = self.house.sources[runs.source[run]]
            if source.circuit == circuit:
                amperes += np.array(source.amperes) * runs.level[run]
                names.append(source.name)
        legs = self.house.legs[circuit]
        running = tuple(dict.fromkeys(name for name in names if name))
        return tuple(Moment(self._shown(amperes[leg]), "AB"[leg], running) for leg in (0, 1) if legs[leg])

    def _shown(self, amperes: float) -> float:
        """With the meter's own error, in its steps; a wire without current shows none."""
        if amperes <= 0:
            return 0.0
        gain = 1 + self.rng.uniform(-GAIN_PART, GAIN_PART)
        shown = amperes * gain + self.rng.uniform(-OFFSET_A, OFFSET_A)
        return round(max(0.0, shown) / RESOLUTION_A) * RESOLUTION_A
