"""The service drop and its mast."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Model


class Overhead(Model, frozen=True, kw_only=True):
    """The service drop and its mast, as planned; heights above finished grade."""

    attachment_ft: float | None = None
    weatherhead_ft: Annotated[float | None, Meta(description="weatherhead")] = None
    loop_ft: Annotated[float | None, Meta(description="lowest point of the drip loop")] = None
    span_ft: Annotated[float | None, Meta(description="lowest point of the span")] = None
    over: Annotated[Literal["", "yard", "drive", "road"], Meta(description="what the span crosses")] = ""
    roof: Annotated[
        Literal["", "none", "low", "steep", "overhang"], Meta(description="what the conductors pass above")
    ] = ""
    roof_in: Annotated[float | None, Meta(description="above that roof")] = None
    roof_run_in: Annotated[float | None, Meta(description="length of conductor above the overhang")] = None
    overhang_in: Annotated[float | None, Meta(description="how far the roof is crossed")] = None
    window_ft: Annotated[
        float | None, Meta(description="to the nearest window that opens; empty when none is near")
    ] = None
    mast: Annotated[bool | None, Meta(description="the riser is a mast that holds the drop")] = None
    mast_above_in: Annotated[float | None, Meta(description="mast above the roof it goes through")] = None
    mast_guyed: bool | None = None
    mast_coupling: Annotated[bool | None, Meta(description="a coupling sits above the roof")] = None
    free_in: Annotated[float | None, Meta(description="conductor left free at the weatherhead for the drip loop")] = (
        None
    )
    riser_ft: Annotated[float | None, Meta(description="from the head to the meter")] = None
    strap_end_in: Annotated[float | None, Meta(description="the widest from an end to its strap")] = None
    strap_between_in: Annotated[float | None, Meta(description="the widest between straps")] = None
