"""A demand recording: readings in file order, as read, before anything is judged. Its files and its faults."""

from __future__ import annotations

from typing import Literal

import numpy as np
from msgspec import Struct, field
from numpy.typing import NDArray

Unit = Literal["kWh", "Wh", "kW", "W", "register kWh", "A"]
UNITS: tuple[Unit, ...] = ("kWh", "Wh", "kW", "W", "register kWh", "A")

Floats = NDArray[np.float64]
Minutes = NDArray[np.int64]


class MeterFileError(Exception):
    """A file that cannot be read as a recording; the message is one sentence for the user."""


class Recording(Struct, frozen=True):
    """Readings in file order. `stamp_min` are minutes since 1970 on the wall clock (shape (n,)), `value` what was read
    in `unit` (shape (n, legs): one column for the whole service or two for its legs).

    `offset_min` are the minutes by which each stamp is ahead of universal time, where the file says so.
    """

    stamp_min: Minutes
    value: Floats
    unit: Unit
    offset_min: Minutes | None = None
    faults: tuple[str, ...] = ()
    notes: tuple[str, ...] = field(default=())
    sent_out: bool = False

    @property
    def legs(self) -> int:
        """How many legs were recorded."""
        return int(self.value.shape[1])
