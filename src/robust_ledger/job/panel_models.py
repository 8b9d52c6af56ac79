"""Parts of the document about the old and the new panel, what becomes of circuits, and how the panel is to be arranged."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from robust_ledger.job.base import Line, Model


class Interior(Model):
    """Where things sit inside an enclosure; what is not measured follows from its size and number of rows."""

    main_at: Literal["top", "bottom", "none"] = Field("top", description="end at which the line conductors land")
    first_row_in: float | None = Field(None, description="first row below the enclosure's top")
    pitch_in: float = Field(1.0, description="from one row to the next")
    terminal_in: float | None = Field(None, description="breaker terminals from the enclosure's near side")
    knockouts: dict[Literal["top", "bottom", "left", "right", "back"], tuple[float, ...]] = Field(
        default_factory=dict,
        description="by side, from the left or from the top; a side without any: a hole where it is wanted",
    )
    neutral_bar: Literal["left", "right", "both"] = "both"
    ground_bar: Literal["left", "right", "both"] = "both"


class OldPanel(Model):
    """The panel as found."""

    spaces: int = 24
    interior: Interior = Field(default_factory=Interior)
    kind: Literal["main", "split_bus", "fuses"] = Field(
        "main", description="with a main, a split bus without one, fuses"
    )
    split_at: int | None = Field(None, description="first space of the lower bus of a split-bus panel")
    main_a: float | None = None
    meter_label_a: float | None = None
    tandem_spaces: tuple[int, ...] = ()
    photos: tuple[Line, ...] = Field((), max_length=40, description="files beside the job")
    marks: Line = Field("", description="what is printed on panel, breakers and meter; matched with the caution list")


DeviceKind = Literal[
    "standard 1-pole",
    "standard 2-pole",
    "tandem",
    "arc-fault 1-pole",
    "arc-fault 2-pole",
    "ground-fault 1-pole",
    "ground-fault 2-pole",
    "dual-function 1-pole",
    "dual-function 2-pole",
]


class NewPanel(Model):
    """The panel to install, from its label."""

    spaces: int = 40
    max_circuits: int | None = Field(None, description="most circuits the label allows; it may be more than the spaces")
    tandem_spaces: tuple[int, ...] = ()
    bus_a: float = 200
    main: Literal["breaker", "lugs"] = "breaker"
    terminals_c: Literal[60, 75] = 75
    first_disconnect: bool = Field(True, description="neutral and ground are bonded here")
    interrupting_a: float | None = Field(None, description="interrupting rating of main and breakers, from the label")
    interior: Interior = Field(default_factory=Interior)
    right_of_old_in: float = Field(0.0, description="new enclosure's left side, right of the old one's")
    numbering: Literal["odd_left", "odd_right", "down"] = Field(
        "odd_left", description="odd on the left, odd on the right, or down the left side and then down the right"
    )
    neutral_style: Literal["plug_on", "pigtail"] = "pigtail"
    neutral_terminals: int | None = Field(None, description="free places for branch neutrals, one each")
    ground_terminals: int | None = Field(None, description="free places for grounds, as many wires as the label allows")
    families: Line = Field("", description="breaker families listed for it, in the words of its label")
    devices: tuple[DeviceKind, ...] = Field((), description="kinds made for it and listed; none ticked: not looked")
    bends_in: tuple[float, float, float] = Field(
        (3.0, 4.0, 6.0), description="bend and strip: 14 to 10 AWG, 8 and 6 AWG, larger"
    )


Place = Literal[
    "kitchen", "dining", "living", "bedroom", "hall", "laundry", "bath", "garage", "outdoors", "crawl_space",
    "unfinished_basement", "finished_basement", "attic", "utility",
]  # fmt: skip


class CircuitChange(Model):
    """What becomes of a circuit, and what the user knows of it that its words do not say; by circuit key."""

    action: Literal["keep", "new_cable", "convert", "cap", "split", "merge"] = "keep"
    into: int | None = Field(None, description="tag whose breaker a merged circuit goes on")
    other_feeds: Line = Field("", description="what the second circuit of a split one feeds")
    work: Literal["", "none", "short", "extended", "receptacles", "appliance"] = Field(
        "",
        description="untouched, lengthened by at most 6 ft without an outlet, extended, receptacles or appliance replaced",
    )
    places: tuple[Place, ...] = Field((), description="where its outlets are; none: as its words say")
    serves: Literal["", "receptacles", "lights", "both", "fixed"] = Field("", description="none: as its words say")
    outlets: int | None = Field(None, description="number of outlets on it")
    protect_at: Literal["breaker", "first_outlet"] = "breaker"
    new_side: Literal["", "top", "bottom", "left", "right", "back"] = Field(
        "", description="where it enters the new enclosure"
    )
    new_at_in: float | None = Field(None, description="from the left on top and bottom, else from the top")


KEPT = CircuitChange.model_construct()


class Wishes(Model):
    """How the panel is to be arranged once splices and legs are as good as they can be; 0 is no wish, 3 the strongest."""

    balance_by: Literal["expected", "clamp", "simulated", "handles"] = "expected"
    band_a: float = Field(1.0, ge=0, description="legs may differ by so much [A], or by 2 % where that is more")
    old_order: int = Field(1, ge=0, le=3)
    lights_together: int = Field(0, ge=0, le=3)
    heavy_near_main: int = Field(1, ge=0, le=3)
    spares_together: int = Field(2, ge=0, le=3)
