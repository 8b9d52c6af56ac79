"""The service drop and its mast."""

from typing import Annotated, Literal

from robust_ledger.job.parts.base import Model
from robust_ledger.job.parts.said import said


class Overhead(Model, frozen=True, kw_only=True):
    """The service drop and its mast, as planned; heights above finished grade."""

    attachment_ft: Annotated[float | None, said("attachment", measured="the attachment", most=60)] = None
    weatherhead_ft: Annotated[float | None, said("head", "weatherhead", most=60)] = None
    loop_ft: Annotated[
        float | None, said("drip loop", "lowest point of the drip loop", measured="the drip loop", most=60)
    ] = None
    span_ft: Annotated[float | None, said("span low", "lowest point of the span", measured="the span", most=60)] = None
    over: Annotated[
        Literal["", "yard", "drive", "road"],
        said(
            "the span crosses",
            "what the span crosses",
            choices={
                "": "not entered",
                "yard": "yard and walks",
                "drive": "driveway or parking",
                "road": "street or alley",
            },
        ),
    ] = ""
    roof: Annotated[
        Literal["", "none", "low", "steep", "overhang"],
        said(
            "passed over",
            "what the conductors pass above",
            choices={
                "": "not entered",
                "none": "no roof",
                "low": "roof, flatter than 4 in 12",
                "steep": "roof, 4 in 12 or steeper",
                "overhang": "only the overhang",
            },
        ),
    ] = ""
    roof_in: Annotated[float | None, said("above it", "above that roof")] = None
    roof_run_in: Annotated[float | None, said("along it", "length of conductor above the overhang")] = None
    overhang_in: Annotated[float | None, said("overhang", "how far the roof is crossed")] = None
    window_ft: Annotated[
        float | None, said("window", "to the nearest window that opens; empty when none is near", hint="none", most=60)
    ] = None
    mast: Annotated[bool | None, said("holds the drop", "the riser is a mast that holds the drop")] = None
    mast_above_in: Annotated[float | None, said("above roof", "mast above the roof it goes through")] = None
    mast_guyed: Annotated[bool | None, said("guyed")] = None
    mast_coupling: Annotated[bool | None, said("coupling up there", "a coupling sits above the roof")] = None
    free_in: Annotated[float | None, said("left free", "conductor left free at the weatherhead for the drip loop")] = (
        None
    )
    riser_ft: Annotated[
        float | None, said("weatherhead to meter", "from the head to the meter", measured="the riser", most=60)
    ] = None
    strap_end_in: Annotated[float | None, said("end strap", "the widest from an end to its strap")] = None
    strap_between_in: Annotated[float | None, said("between", "the widest between straps")] = None
