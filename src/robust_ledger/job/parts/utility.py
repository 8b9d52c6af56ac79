"""The utility's own figures: one set for each utility, that jobs share."""

from typing import Annotated

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model


class FaultRow(Model, frozen=True, kw_only=True):
    """A row of the utility's table: the fault current that it says is available at a service of up to a rating."""

    up_to_a: Annotated[float, Meta(gt=0, description="largest service the row holds for")]
    fault_a: Annotated[float, Meta(gt=0, description="available fault current at its end")]


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
    fault_table: Annotated[
        tuple[FaultRow, ...],
        Meta(max_length=20, description="its table of available fault currents, where a job has no figure of its own"),
    ] = ()
    order_form: Annotated[
        tuple[Line, ...], Meta(max_length=60, description="the facts its service order form has, by name, in its order")
    ] = ()
