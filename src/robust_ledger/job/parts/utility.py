"""The utility's own figures: one set for each utility, that jobs share."""

from typing import Annotated

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model
from robust_ledger.job.parts.said import said


class FaultRow(Model, frozen=True, kw_only=True):
    """A row of the utility's table: the fault current that it says is available at a service of up to a rating."""

    up_to_a: Annotated[float, Meta(gt=0, description="largest service the row holds for")]
    fault_a: Annotated[float, Meta(gt=0, description="available fault current at its end")]


class Utility(Model, frozen=True, kw_only=True):
    """What the utility's book says; where it says nothing, what most of them ask."""

    name: Annotated[Line, said("name")] = ""
    meter_low_in: Annotated[float | None, said("from", "lowest center of the meter above grade")] = None
    meter_high_in: Annotated[float | None, said("to", "highest center of the meter above grade")] = None
    mast_least: Annotated[Line, said("least mast", "smallest mast that may hold the drop, trade size")] = "2"
    guy_above_in: Annotated[float, said("guy above", "a mast higher above the roof is guyed")] = 26.0
    free_in: Annotated[float, said("leave free", "conductor to leave free at the weatherhead")] = 36.0
    knockout_bonding: Annotated[
        bool | None, Meta(description="wants bonding bushings or wedges at the meter whatever the knockout")
    ] = None
    fault_table: Annotated[
        tuple[FaultRow, ...],
        said(
            "Utility's fault currents",
            "its table of available fault currents, where a job has no figure of its own",
            reads="fault table",
            hint="200 A 10 kA, 400 A 22 kA",
            max_length=20,
        ),
    ] = ()
    order_form: Annotated[
        tuple[Line, ...],
        said(
            "Utility's order form",
            "the facts its service order form has, by name, in its order",
            hint="its facts in its order: Address, New service, Day of the work",
            max_length=60,
        ),
    ] = ()
