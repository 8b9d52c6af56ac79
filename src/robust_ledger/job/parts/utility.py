"""The utility's own figures: one set for each utility, that jobs share."""

from typing import Annotated

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model


class Utility(Model, frozen=True, kw_only=True):
    """What the utility's book says; where it says nothing, what most of them ask."""

    name: Line = ""
    meter_low_in: Annotated[float | None, Meta(description="lowest center of the meter above grade")] = None
    meter_high_in: Annotated[float | None, Meta(description="highest center of the meter above grade")] = None
    mast_least: Annotated[Line, Meta(description="smallest mast that may hold the drop, trade size")] = "2"
    guy_above_in: Annotated[float, Meta(description="a mast higher above the roof is guyed")] = 26.0
    free_in: Annotated[float, Meta(description="conductor to leave free at the weatherhead")] = 36.0
    knockout_bonding: Annotated[
        bool | None, Meta(description="wants bonding bushings or wedges at the meter whatever the knockout")
    ] = None
