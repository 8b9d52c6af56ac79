"""The main as an inverse-time device: it heats with the square of the current, cools slowly, and remembers."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray


class TripCurve(Struct, frozen=True):
    """A breaker's thermal element. It never opens below `holds` × its rating; above, it opens when its heat reaches
    that of `holds`, with the time constant `minutes`. Our figures lie inside what the product standard leaves open:
    135% within two hours, 200% within minutes. The magnetic part is left out: no load of a house reaches it.
    """

    holds: float = 1.15
    minutes: float = 10.0

    def seconds_to_trip(self, multiple: float) -> float | None:
        """From cold, at a steady multiple of the rating; None when it holds for ever."""
        if multiple <= self.holds:
            return None
        return float(60 * self.minutes * np.log(multiple**2 / (multiple**2 - self.holds**2)))

    def heat(self, amperes: NDArray[np.float64], rating_a: float) -> NDArray[np.float64]:
        """Heat of the element by the minute, 1 where it opens (same shape as `amperes`, one leg): each minute it goes
        a part of the way to where the square of the current would take it."""
        step = 1 - np.exp(-1 / self.minutes)
        taps = int(8 * self.minutes)
        kernel = step * np.exp(-np.arange(taps) / self.minutes)
        kernel /= kernel.sum()
        drive = (amperes / rating_a / self.holds) ** 2
        return np.convolve(drive, kernel)[: len(drive)]

    def trips(self, amperes: NDArray[np.float64], rating_a: float) -> NDArray[np.int64]:
        """The minutes at which it opens; after each it is taken as closed again and cold enough once below the mark."""
        if not len(amperes) or amperes.max() <= self.holds * rating_a:
            return np.array([], dtype=np.int64)
        over = self.heat(amperes, rating_a) >= 1
        return np.flatnonzero(over & ~np.concatenate(([False], over[:-1])))
