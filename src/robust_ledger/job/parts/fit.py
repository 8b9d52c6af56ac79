"""What decides how high the panel hangs."""

from typing import Annotated, Literal

from robust_ledger.job.parts.base import Model
from robust_ledger.job.parts.said import said


class Enclosure(Model, frozen=True, kw_only=True):
    """Outside measures of an enclosure."""

    width_in: Annotated[float | None, said("wide")] = None
    height_in: Annotated[float | None, said("high")] = None
    depth_in: Annotated[float | None, said("deep")] = None


class Fit(Model, frozen=True, kw_only=True):
    """What decides how high the panel hangs; heights above the floor in front of it."""

    old: Enclosure = Enclosure()
    new: Enclosure = Enclosure()
    old_bottom_in: Annotated[float | None, said("bottom at")] = None
    new_bottom_in: Annotated[
        float | None, said("bottom", "as chosen; None follows the old top as far as it may", hint="kept")
    ] = None
    handle_in: Annotated[
        float | None,
        said(
            "top handle above bottom",
            "highest breaker handle above the new enclosure's bottom",
            measured="the highest handle",
        ),
    ] = None
    ceiling_in: Annotated[float | None, said("ceiling", measured="the ceiling")] = None
    headroom_in: Annotated[float | None, said("headroom", "needed above the enclosure for the cables to enter")] = None
    least_in: Annotated[float | None, said("no lower", "lowest bottom the user wants, for damp or splash")] = None
    slack_in: Annotated[float | None, said("slack", "what the cables from above can come down")] = None
    enters: Annotated[
        Literal["top", "bottom", "both"], said("enter at", choices={"top": "top", "bottom": "bottom", "both": "both"})
    ] = "top"
    meter_in: Annotated[float | None, said("center", "center of the meter above grade, as planned")] = None
    meter_to_panel_in: Annotated[
        float | None,
        said(
            "to bottom",
            "panel's bottom above the meter's center, where they are mounted together",
            reads="signed inches",
            hint="apart",
        ),
    ] = None
    platform_in: Annotated[
        float | None, said("platform", "height of a platform in front of it, taken off every height", hint="none")
    ] = None
    flush: Annotated[bool, said("flush mount")] = False
    finish_in: Annotated[float, said("finish", "thickness of the wall's finish")] = 0.5
    bay_in: Annotated[float | None, said("stud bay", "clear width between the studs")] = None
    stud_in: Annotated[float | None, said("stud", "depth of the studs")] = None
    cutout_in: Annotated[float | None, said("opening", "height of the cutout in the wall")] = None
    cutout_bottom_in: Annotated[float | None, said("its bottom")] = None
    space_width_in: Annotated[float | None, said("wide", "working space in front, as found")] = None
    space_depth_in: Annotated[float | None, said("deep")] = None
    space_height_in: Annotated[float | None, said("high")] = None
