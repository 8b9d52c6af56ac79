"""The way of the service conductors as planned."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model
from robust_ledger.job.parts.existing import Raceway


class ServiceRun(Model, frozen=True, kw_only=True):
    """The way of the service conductors to the panel. Unknown is left empty."""

    raceway: Annotated[Raceway, Meta(description="of a new riser; empty: the kind that was found")] = ""
    nipple: Annotated[bool, Meta(description="no longer than 24 inches")] = False
    insulation: Literal["THWN-2", "XHHW-2"] = "XHHW-2"
    neutral: Annotated[Line, Meta(description='neutral to be pulled, "2/0 Al"; empty: as it comes with the hots')] = ""
    length_ft: Annotated[float | None, Meta(description="from the service drop to the panel, one way")] = None
    riser_ft: Annotated[float | None, Meta(description="the part of it up to the meter")] = None
    sets: Annotated[int | None, Meta(description="conductors in parallel per leg; None: one where one carries it")] = (
        None
    )
    ambient_c: Annotated[
        float | None, Meta(description="hottest air around the conductors; None: 30 °C as in the tables")
    ] = None
    current_carrying: Annotated[int, Meta(description="current-carrying conductors together; a neutral is none")] = 2
    rooftop: Annotated[bool, Meta(description="less than 7/8 inch above a roof in the sun")] = False
