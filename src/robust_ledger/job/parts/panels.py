"""The old and the new panel."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from robust_ledger.job.parts.base import Line, Model


class Interior(Model):
    """Where things sit inside an enclosure; what is not measured follows from its size and number of rows."""

    main_at: Literal["top", "bottom", "none"] = Field("top", description="end at which the line conductors land")
    first_row_in: float | None = Field(None, description="first row below the enclosure's top")
    pitch_in: float = Field(1.0, description="from one row to the next")
    terminal_in: float | None = Field(None, description="breaker terminals from the enclosure's near side")
    knockouts: dict[Literal["top", "bottom", "left", "right", "back"], tuple[float, ...]] = Field(
        default_factory=dict,
        description="by side, from the left or from the top; a side without any: a hole wherever one is needed",
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
    aic_a: float | None = Field(None, description="AIC rating of main and breakers, from the label")
    interior: Interior = Field(default_factory=Interior)
    right_of_old_in: float = Field(0.0, description="new enclosure's left side, right of the old one's")
    numbering: Literal["odd_left", "odd_right", "down"] = Field(
        "odd_left", description="odd on the left, odd on the right, or down the left side and then down the right"
    )
    neutral_style: Literal["plug_on", "pigtail"] = "pigtail"
    neutral_terminals: int | None = Field(None, description="free places for branch neutrals, one each")
    ground_terminals: int | None = Field(None, description="free places for grounds, as many wires as the label allows")
    families: Line = Field("", description="breaker families listed for it, in the words of its label")
    devices: tuple[DeviceKind, ...] = Field((), description="kinds made for it and listed; none ticked: not checked")
    bends_in: tuple[float, float, float] = Field(
        (3.0, 4.0, 6.0), description="bend and strip: 14 to 10 AWG, 8 and 6 AWG, larger"
    )
