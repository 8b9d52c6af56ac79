"""What decides how high the panel hangs."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from robust_ledger.job.parts.base import Model


class Enclosure(Model):
    """Outside measures of an enclosure."""

    width_in: float | None = None
    height_in: float | None = None
    depth_in: float | None = None


class Fit(Model):
    """What decides how high the panel hangs; heights above the floor in front of it."""

    old: Enclosure = Field(default_factory=Enclosure)
    new: Enclosure = Field(default_factory=Enclosure)
    old_bottom_in: float | None = None
    new_bottom_in: float | None = Field(None, description="as chosen; None follows the old top as far as it may")
    handle_in: float | None = Field(None, description="highest breaker handle above the new enclosure's bottom")
    ceiling_in: float | None = None
    headroom_in: float | None = Field(None, description="needed above the enclosure for the cables to enter")
    least_in: float | None = Field(None, description="lowest bottom the user wants, for damp or splash")
    slack_in: float | None = Field(None, description="what the cables from above can come down")
    enters: Literal["top", "bottom", "both"] = "top"
    meter_in: float | None = Field(None, description="center of the meter above grade, as planned")
    meter_low_in: float | None = Field(None, description="the utility's window for it")
    meter_high_in: float | None = None
    meter_to_panel_in: float | None = Field(
        None, description="panel's bottom above the meter's center, where they are mounted together"
    )
    platform_in: float | None = Field(None, description="height of a platform in front of it, taken off every height")
    flush: bool = False
    bay_in: float | None = Field(None, description="clear width between the studs")
    stud_in: float | None = Field(None, description="depth of the studs")
    cutout_in: float | None = Field(None, description="height of the cutout in the wall")
    cutout_bottom_in: float | None = None
    space_width_in: float | None = Field(None, description="working space in front, as found")
    space_depth_in: float | None = None
    space_height_in: float | None = None
