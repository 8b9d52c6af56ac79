"""The old circuits as they were found."""

from enum import StrEnum
from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model, Text
from robust_ledger.job.parts.said import said


class Mark(StrEnum):
    """What was seen on a wire before it was taken off."""

    CAPPED = "capped"
    WHITE_HOT = "white-hot"
    DARK_NEUTRAL = "dark-neutral"
    BARE_NEUTRAL = "bare-neutral"
    NO_GROUND = "no-ground"
    DOUBLED = "doubled"
    LATER_120 = "later-120"
    UNKNOWN = "unknown"
    TIED = "tied"
    FOUND_OFF = "found-off"


class Circuit(Model, frozen=True, kw_only=True):
    """An existing circuit, by its tag. Spaces are as printed on the old panel; "3a" is the upper half of a tandem, "r3" a
    space of the right-hand panel where two are merged."""

    tag: int
    spaces: Annotated[tuple[Line, ...], said(head="space")] = ()
    breaker_a: Annotated[float | None, said(head="breaker")] = None
    poles: int = 1
    device: Annotated[
        Literal["", "gfci", "afci", "dual", "tandem", "quad"],
        Meta(description="kind of breaker found; empty: a standard one, or not checked"),
    ] = ""
    gauge: Line | None = None
    metal: Annotated[Literal["cu", "al", "cca"], Meta(description="copper, aluminum, copper-clad aluminum")] = "cu"
    conductors: Annotated[
        Literal[2, 3, 4] | None, said("", "wires of its cable, the ground not counted", head="wires", words="wires")
    ] = None
    cable: Annotated[
        Literal["", "nm", "cloth", "rubber", "bx", "ac", "mc", "conduit", "se", "uf", "knob_tube"],
        Meta(description='kind of wiring; "armored" without a bonding strip; empty when not checked'),
    ] = ""
    insulated: Annotated[
        bool | None, Meta(description="the cable runs within thermal insulation; None: not checked")
    ] = None
    free_in: Annotated[float | None, Meta(description="length of wire that can be used, from where it enters")] = None
    enters: Annotated[
        Literal["", "top", "bottom", "left", "right", "back"], Meta(description="side of the enclosure")
    ] = ""
    enters_at_in: Annotated[
        float | None, Meta(description="from the left on top and bottom, else from the top; empty: beside its breaker")
    ] = None
    slack_in: Annotated[float | None, Meta(description="cable that can be pulled in from outside the enclosure")] = None
    clamp_a: Annotated[float | None, Meta(description="a clamp reading; no maximum demand")] = None
    feeds: Line = ""
    room: Line = ""
    marks: tuple[Mark, ...] = ()
    shares_neutral_with: int | None = None
    load_ids: tuple[Line, ...] = ()
    note: Text = ""
    photos: Annotated[tuple[Line, ...], Meta(max_length=40, description="files beside the job")] = ()
    guarded: Annotated[
        Literal["", "none", "gfci_outlet", "dead_front", "afci_outlet"],
        said(
            "Protected at outlets",
            "protection found beyond the breaker: a receptacle's, or a dead-front device or disconnect with it",
            choices={
                "": "not checked",
                "none": "looked: none",
                "gfci_outlet": "GFCI receptacle",
                "dead_front": "GFCI dead front",
                "afci_outlet": "AFCI receptacle",
            },
        ),
    ] = ""

    @property
    def off(self) -> bool:
        """Capped, or to become 120 V later: keeps its tag, gets no breaker for now."""
        return Mark.CAPPED in self.marks or Mark.LATER_120 in self.marks


class ClampReading(Model, frozen=True, kw_only=True):
    """What a clamp showed around a wire at one moment; no maximum demand."""

    tag: int
    leg: Literal["", "A", "B"] = ""
    amperes: float
    at: Annotated[Line, Meta(description="date and time")] = ""
    running: Line = ""
    simulated: bool = False
