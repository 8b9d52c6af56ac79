"""A demand recording."""

from typing import Annotated, Literal

from msgspec import Meta, field

from robust_ledger.job.parts.base import AsGiven, Line, Model
from robust_ledger.job.parts.said import said


class Measured(Model, frozen=True, kw_only=True):
    """What a demand recording says, as read from `source` beside the job, and what only people can say of it."""

    source: Line = ""
    route: Literal["year", "thirty_days"] = "year"
    first: Annotated[Line, Meta(description="start of the recording, local time")] = ""
    last: Line = ""
    interval_min: float = 15
    days: Annotated[float, Meta(description="from first to last")] = 0
    longest_days: Annotated[float, Meta(description="the longest stretch without a gap")] = 0
    coverage: Annotated[float, Meta(description="part of all intervals that has a reading, 0 to 1")] = 0
    missing: Annotated[tuple[Line, ...], Meta(description="stretches without readings, in words")] = ()
    peak: Annotated[float | None, Meta(description="highest average over an interval, at least 15 minutes")] = None
    peak_unit: Literal["kW", "A"] = "kW"
    peak_at: Line = ""
    exports: Annotated[bool, Meta(description="some readings are negative: energy was sent out")] = False
    excluded: Annotated[int, Meta(description="readings left out at the user's word")] = 0
    reading: Annotated[AsGiven, Meta(description="how the file was read, to read it so again")] = field(
        default_factory=AsGiven
    )
    power_factor: Annotated[float, said("Power factor", hint="")] = 1
    occupied: Annotated[bool, said("lived in all the while")] = False
    seasonal: Annotated[
        bool, said("larger of heating and cooling in season", "the larger of heating and cooling was in season")
    ] = False
    seasonal_va: Annotated[float, said("Season added, VA", "seasonal load added by calculation", hint="")] = 0
    renewable: Annotated[
        bool | None,
        said("solar or peak shaving there", "a renewable source or peak shaving was at work; None: not entered"),
    ] = None
