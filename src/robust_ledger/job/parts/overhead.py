"""The service drop and its mast."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from robust_ledger.job.parts.base import Model


class Overhead(Model):
    """The service drop and its mast, as planned; heights above finished grade."""

    attachment_ft: float | None = None
    weatherhead_ft: float | None = Field(None, description="weatherhead")
    loop_ft: float | None = Field(None, description="lowest point of the drip loop")
    span_ft: float | None = Field(None, description="lowest point of the span")
    over: Literal["yard", "drive", "road"] = "yard"
    roof: Literal["none", "low", "steep", "overhang"] = Field("none", description="what the conductors pass above")
    roof_in: float | None = Field(None, description="above that roof")
    roof_run_in: float | None = Field(None, description="length of conductor above the overhang")
    overhang_in: float | None = Field(None, description="how far the roof is crossed")
    window_ft: float | None = Field(None, description="to the nearest window that opens; empty when none is near")
    free_in: float | None = Field(None, description="conductor left free at the weatherhead for the drip loop")
    riser_ft: float | None = Field(None, description="from the head to the meter")
    strap_end_in: float | None = Field(None, description="the widest from an end to its strap")
    strap_between_in: float | None = Field(None, description="the widest between straps")
