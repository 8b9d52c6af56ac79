"""A demand recording."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from robust_ledger.job.parts.base import Line, Model


class Measured(Model):
    """What a demand recording says, as read from `source` beside the job, and what only people can say of it."""

    source: Line = ""
    route: Literal["year", "thirty_days"] = "year"
    first: Line = Field("", description="start of the recording, local time")
    last: Line = ""
    interval_min: float = 15
    days: float = Field(0, description="from first to last")
    longest_days: float = Field(0, description="the longest stretch without a gap")
    coverage: float = Field(0, description="part of all intervals that has a reading, 0 to 1")
    missing: tuple[Line, ...] = Field((), description="stretches without readings, in words")
    peak: float | None = Field(None, description="highest average over an interval, at least 15 minutes")
    peak_unit: Literal["kW", "A"] = "kW"
    peak_at: Line = ""
    exports: bool = Field(False, description="some readings are negative: energy was sent out")
    excluded: int = Field(0, description="readings left out at the user's word")
    reading: dict[str, Any] = Field(default_factory=dict, description="how the file was read, to read it so again")
    power_factor: float = 1
    occupied: bool = False
    seasonal: bool = Field(False, description="the larger of heating and cooling was in season")
    seasonal_va: float = Field(0, description="seasonal load added by calculation")
    renewable: bool = Field(False, description="a renewable source or peak shaving was at work")
