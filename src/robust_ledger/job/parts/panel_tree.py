"""Every panel beside the main one: where it is fed from, its feeder, its place and its record."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model
from robust_ledger.job.parts.panels import MOST_SPACES, NewPanel

MAIN = "panel"  # what the main panel is called among the panels
AHEAD = ("meter", "disconnect")  # what may feed a panel and is none


class FurtherBox(NewPanel, frozen=True, kw_only=True):
    """The record of a panel that is not the main one: as long as its label was not read it has no spaces and no bus."""

    spaces: Annotated[int, Meta(le=MOST_SPACES, description="0: its label was not read")] = 0
    bus_a: Annotated[float, Meta(description="0: not read")] = 0
    main: Literal["breaker", "back_fed", "lugs"] = "lugs"
    main_a: Annotated[float | None, Meta(description="its own main behind the feeder's breaker; None: not read")] = None
    first_disconnect: Annotated[bool, Meta(description="neutral and ground are bonded here")] = False


class Panel(Model, frozen=True, kw_only=True):
    """A panel beside the main one: behind it in a garage or elsewhere, or beside it in a split service."""

    id: Line
    name: Line = "garage"
    fed_from: Annotated[
        Line, Meta(description='"meter", "disconnect", "panel" for the main one, or the id of another panel')
    ] = MAIN
    fed_by: Annotated[
        Literal["breaker", "lugs", "same"],
        Meta(description="a breaker there, its feed-through lugs, or the disconnect's enclosure is this panel itself"),
    ] = "breaker"
    there: Annotated[bool, Meta(description="an existing panel that stays")] = False
    feeder_tag: Annotated[int | None, Meta(description="the old circuit that fed it: its breaker is the feeder's")] = (
        None
    )
    breaker_a: Annotated[float | None, Meta(description="of the feeder; its main where it is fed from the meter")] = (
        None
    )
    load_a: Annotated[
        float | None, Meta(description="what it is said to carry; the calculated load counts where that is more")
    ] = None
    area: Annotated[float | None, Meta(description="floor area it serves, in the unit of the dwelling")] = None
    metal: Literal["cu", "al"] = "al"
    wiring: Annotated[
        Literal["thwn", "xhhw", "se", "nm"], Meta(description="conductors in raceway, or the kind of cable")
    ] = "xhhw"
    raceway: Annotated[
        Literal["", "emt", "imc", "rmc", "pvc40", "pvc80"],
        Meta(description="kind of the feeder's raceway, where its conductors lie in one; empty: not entered"),
    ] = ""
    insulated: Annotated[
        bool | None, Meta(description="the cable runs within thermal insulation; None: not checked")
    ] = None
    length_ft: float | None = None
    separate_building: bool = True
    found: Annotated[bool, Meta(description="an existing feeder that stays")] = False
    conductors: Annotated[Line, Meta(description='hots of a feeder that stays, "6 Al"; empty: not read')] = ""
    wires: Annotated[
        int | None, Meta(description="wires of its feeder; None: four for a new one, not entered for one found")
    ] = None
    metal_path: Annotated[
        bool | None,
        Meta(description="other metal between the buildings: pipe, phone or cable shield; None: not checked"),
    ] = None
    rods: Annotated[int, Meta(description="ground rods at the separate building, planned or there")] = 0
    disconnect: Annotated[bool, Meta(description="it has a main breaker or switch, at the building it serves")] = False
    instead_of: Annotated[
        Line | None, Meta(description='mark of the old box whose place it takes, "" for the first; None: of none')
    ] = None
    right_in: Annotated[
        float | None, Meta(description="its left side, right of the first old box's; None: not measured")
    ] = None
    lower_in: Annotated[float | None, Meta(description="its top, below the first old box's")] = None
    box: FurtherBox = FurtherBox()

    @property
    def label_read(self) -> bool:
        """Whether its label was read, so that circuits can be put in it."""
        return self.box.spaces > 0
