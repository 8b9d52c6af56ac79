"""What decides how high the panel hangs."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Model


class Enclosure(Model, frozen=True, kw_only=True):
    """Outside measures of an enclosure."""

    width_in: float | None = None
    height_in: float | None = None
    depth_in: float | None = None


class Fit(Model, frozen=True, kw_only=True):
    """What decides how high the panel hangs; heights above the floor in front of it."""

    old: Enclosure = Enclosure()
    new: Enclosure = Enclosure()
    old_bottom_in: float | None = None
    new_bottom_in: Annotated[float | None, Meta(description="as chosen; None follows the old top as far as it may")] = (
        None
    )
    handle_in: Annotated[float | None, Meta(description="highest breaker handle above the new enclosure's bottom")] = (
        None
    )
    ceiling_in: float | None = None
    headroom_in: Annotated[float | None, Meta(description="needed above the enclosure for the cables to enter")] = None
    least_in: Annotated[float | None, Meta(description="lowest bottom the user wants, for damp or splash")] = None
    slack_in: Annotated[float | None, Meta(description="what the cables from above can come down")] = None
    enters: Literal["top", "bottom", "both"] = "top"
    meter_in: Annotated[float | None, Meta(description="center of the meter above grade, as planned")] = None
    meter_to_panel_in: Annotated[
        float | None, Meta(description="panel's bottom above the meter's center, where they are mounted together")
    ] = None
    platform_in: Annotated[
        float | None, Meta(description="height of a platform in front of it, taken off every height")
    ] = None
    flush: bool = False
    finish_in: Annotated[float, Meta(description="thickness of the wall's finish")] = 0.5
    bay_in: Annotated[float | None, Meta(description="clear width between the studs")] = None
    stud_in: Annotated[float | None, Meta(description="depth of the studs")] = None
    cutout_in: Annotated[float | None, Meta(description="height of the cutout in the wall")] = None
    cutout_bottom_in: float | None = None
    space_width_in: Annotated[float | None, Meta(description="working space in front, as found")] = None
    space_depth_in: float | None = None
    space_height_in: float | None = None
