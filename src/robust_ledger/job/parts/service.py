"""The way of the service conductors as planned."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model
from robust_ledger.job.parts.existing import RACEWAYS, SETS, Raceway
from robust_ledger.job.parts.said import said


class ServiceRun(Model, frozen=True, kw_only=True):
    """The way of the service conductors to the panel. Unknown is left empty."""

    raceway: Annotated[
        Raceway,
        said(
            "New riser",
            "kind of a new riser; empty: the kind that was found",
            choices={"": "as found", "cable": "cable, no raceway", **RACEWAYS},
        ),
    ] = ""
    nipple: Annotated[bool, said("Nipple", "no longer than 24 inches", tick="nipple, to 24 in")] = False
    insulation: Annotated[
        Literal["THWN-2", "XHHW-2"], said("Insulation", choices={"XHHW-2": "XHHW-2", "THWN-2": "THWN-2"})
    ] = "XHHW-2"
    neutral: Annotated[Line, Meta(description='neutral to be pulled, "2/0 Al"; empty: as it comes with the hots')] = ""
    length_ft: Annotated[
        float | None,
        said(
            "Length, ft",
            "from the service drop to the panel, one way",
            measured="length of the service conductors",
            hint="not known",
        ),
    ] = None
    riser_ft: Annotated[
        float | None,
        said("to the meter, ft", "the part of it up to the meter", measured="length to the meter", hint="not known"),
    ] = None
    sets: Annotated[
        int | None,
        said(
            "In parallel per leg",
            "conductors in parallel per leg; None: one where one carries it",
            choices=SETS,
        ),
    ] = None
    ambient_c: Annotated[
        float | None,
        said(
            "Ambient, °F",
            "hottest air around the conductors; None: 30 °C as in the tables",
            hint="86, the tables' base",
        ),
    ] = None
    current_carrying: Annotated[
        int, said("Current-carrying", "current-carrying conductors together; a neutral is none", least=1, most=60)
    ] = 2
    rooftop: Annotated[
        bool, said("less than ⅞ in above a roof in the sun", "less than 7/8 inch above a roof in the sun")
    ] = False
