"""Every node behind the meter beside the main panel: where it is fed from, its feeder, its place and its record."""

from typing import Annotated, Literal

from robust_ledger.job.keys import MAIN as MAIN
from robust_ledger.job.parts.base import Line
from robust_ledger.job.parts.feed import Feed
from robust_ledger.job.parts.panels import MOST_SPACES, NewPanel
from robust_ledger.job.parts.said import said

_FOUND_WIRING = {"se": "se", "ser": "se", "nm": "nm", "raceway": "thwn"}
AHEAD = ("meter", "disconnect")  # what may feed a panel and is none
CIRCUITS = ("panel",)  # kinds that branch circuits land in
FED = ("panel", "disconnect", "transfer")  # kinds that a feeder goes to; a splice box has none


class FurtherBox(NewPanel, frozen=True, kw_only=True):
    """The record of a panel that is not the main one: as long as its label was not read it has no spaces and no bus."""

    spaces: Annotated[int, said("Spaces", "0: its label was not read", hint="not read", le=MOST_SPACES)] = 0
    bus_a: Annotated[float, said("Bus, A", "0: not read", hint="not read")] = 0
    main: Annotated[
        Literal["breaker", "back_fed", "lugs"],
        said(
            "It has",
            choices={"lugs": "main lug only (MLO)", "breaker": "main breaker", "back_fed": "back-fed main breaker"},
        ),
    ] = "lugs"
    main_a: Annotated[
        float | None, said("Its main, A", "its own main behind the feeder's breaker; None: not read", hint="not read")
    ] = None
    first_disconnect: Annotated[bool, said("neutral and ground bonded in it", "neutral and ground are bonded here")] = (
        False
    )


class Panel(Feed, frozen=True, kw_only=True):
    """A node beside the main panel: a panel behind it or beside it, an enclosed disconnect, transfer equipment, a splice box."""

    id: Line
    name: Annotated[Line, said("Name", hint="garage")] = "garage"
    kind: Annotated[
        Literal["panel", "disconnect", "transfer", "splice_box"],
        said(
            "It is a",
            "a panel with circuits, an enclosed disconnect, transfer equipment, or an old can that stays as a splice box",
            choices={
                "panel": "panel",
                "disconnect": "disconnect",
                "transfer": "transfer switch",
                "splice_box": "splice box",
            },
        ),
    ] = "panel"
    marked: Annotated[
        Literal["", "service", "meter", "supply"],
        said(
            "Marked as",
            "what a disconnect ahead of all others is marked as; not read: as a service disconnect",
            choices={
                "": "not read",
                "service": "service disconnect",
                "meter": "meter disconnect",
                "supply": "other, supply side",
            },
        ),
    ] = ""
    at: Annotated[
        Literal["", "outdoors", "indoors", "pole", "yard"],
        said(
            "It stands",
            "where it is, or comes",
            choices={
                "": "not entered",
                "outdoors": "outdoors",
                "indoors": "indoors",
                "pole": "on a pole",
                "yard": "in the yard",
            },
        ),
    ] = ""
    in_meter: Annotated[
        bool,
        said(
            "in the meter's enclosure",
            "a compartment of the meter's own enclosure, as in a meter-main: no wires between",
        ),
    ] = False
    gone: Annotated[bool, said("taken out by this job", "it was found, and this job takes it out")] = False
    there: Annotated[bool, said("an existing panel, it stays", "an existing panel that stays")] = False
    feeder_tag: Annotated[
        int | None, said("Old feeder's tag", "the old circuit that fed it: its breaker is the feeder's", hint="none")
    ] = None
    metal: Annotated[Literal["cu", "al"], said("Metal", choices={"al": "aluminum", "cu": "copper"})] = "al"
    wiring: Annotated[
        Literal["thwn", "xhhw", "se", "nm"],
        said(
            "Wiring",
            "conductors in raceway, or the kind of cable",
            choices={"thwn": "THWN-2 in raceway", "xhhw": "XHHW-2 in raceway", "se": "SE cable", "nm": "NM cable"},
        ),
    ] = "xhhw"
    load_a: Annotated[
        float | None,
        said(
            "Its load, A", "what it is said to carry; the calculated load counts where that is more", hint="calculated"
        ),
    ] = None
    area: Annotated[
        float | None,
        said("Area it serves", "floor area it serves, in the unit of the dwelling", words="area it serves"),
    ] = None
    separate_building: Annotated[bool, said("separate building")] = True
    found: Annotated[bool, said("an existing feeder, it stays", "an existing feeder that stays")] = False
    found_gec: Annotated[
        Line, said("GEC there", 'GEC of a building that stays, "6 Cu"; empty: not read', hint="not read")
    ] = ""
    metal_path: Annotated[
        bool | None,
        said("Metal path", "other metal between the buildings: pipe, phone or cable shield; None: not checked"),
    ] = None
    rods: Annotated[int, said("Rods there", "ground rods at the separate building, planned or there", most=20)] = 0
    disconnect: Annotated[
        bool, said("disconnect at the building", "it has a main breaker or switch, at the building it serves")
    ] = False
    instead_of: Annotated[
        Line | None, said("In place of", 'mark of the old box whose place it takes, "" for the first; None: of none')
    ] = None
    right_in: Annotated[
        float | None,
        said(
            "Right of old, in",
            "its left side, right of the first old box's; None: not measured",
            reads="signed inches",
            hint="not known",
        ),
    ] = None
    lower_in: Annotated[
        float | None, said("lower, in", "its top, below the first old box's", reads="signed inches", hint="level")
    ] = None
    box: FurtherBox = FurtherBox()

    @property
    def takes_circuits(self) -> bool:
        """Whether branch circuits land in it."""
        return self.kind in CIRCUITS

    @property
    def is_fed(self) -> bool:
        """Whether it stands after the job and a feeder goes to it."""
        return self.kind in FED and not self.gone

    @property
    def laid_as(self) -> str:
        """The way of wiring of its feeder: of one that was found what it was found to be, once that is said."""
        return _FOUND_WIRING.get(self.found_wiring, self.wiring) if self.found else self.wiring

    @property
    def in_raceway(self) -> bool:
        """Whether the conductors of its feeder lie in a raceway."""
        return self.laid_as in ("thwn", "xhhw")

    @property
    def supply(self) -> bool:
        """Whether it is a disconnect that is no service equipment, by its mark [230.85]."""
        return self.kind == "disconnect" and self.marked in ("meter", "supply")

    @property
    def label_read(self) -> bool:
        """Whether its label was read, so that circuits can be put in it."""
        return self.box.spaces > 0
