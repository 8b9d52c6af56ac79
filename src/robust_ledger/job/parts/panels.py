"""The old and the new panel."""

from typing import Annotated, Literal

from msgspec import Meta, field

from robust_ledger.job.parts.base import Line, Model
from robust_ledger.job.parts.said import said

MOST_SPACES = 200  # of an enclosure; no panel has half as many


class Interior(Model, frozen=True, kw_only=True):
    """Where things sit inside an enclosure; what is not measured follows from its size and number of rows."""

    main_at: Annotated[
        Literal["top", "bottom", "none"],
        said(
            "Line side at",
            "end at which the line conductors land",
            choices={"top": "top", "bottom": "bottom", "none": "none"},
        ),
    ] = "top"
    first_row_in: Annotated[float | None, said("First row", "first row below the enclosure's top", most=80)] = None
    pitch_in: Annotated[float, Meta(description="from one row to the next")] = 1.0
    terminal_in: Annotated[
        float | None, said("Terminals", "breaker terminals from the enclosure's near side", most=20)
    ] = None
    knockouts: Annotated[
        dict[Literal["top", "bottom", "left", "right", "back"], tuple[float, ...]],
        Meta(description="by side, from the left or from the top; a side without any: a hole wherever one is needed"),
    ] = field(default_factory=dict)
    neutral_bar: Annotated[
        Literal["left", "right", "both"],
        said("Neutral bar", choices={"both": "both sides", "left": "left", "right": "right"}),
    ] = "both"
    ground_bar: Annotated[
        Literal["left", "right", "both"],
        said("Ground bar", choices={"both": "both sides", "left": "left", "right": "right"}),
    ] = "both"


class OldPanel(Model, frozen=True, kw_only=True):
    """The panel as found."""

    spaces: Annotated[int, said("Spaces", least=2, le=MOST_SPACES)] = 24
    interior: Interior = Interior()
    kind: Annotated[
        Literal["main", "split_bus", "fuses"],
        said(
            "Kind",
            "with a main, a split bus without one, fuses",
            words="kind of panel",
            choices={"main": "main breaker", "split_bus": "split bus", "fuses": "fuses"},
        ),
    ] = "main"
    split_at: Annotated[
        int | None, said("Lower bus from", "first space of the lower bus of a split-bus panel", hint="space")
    ] = None
    main_a: Annotated[
        float | None, said("old main, A", "its main, or the fuses in its place", measured="the old main")
    ] = None
    tandem_spaces: Annotated[tuple[int, ...], said("Tandems in", hint="none")] = ()
    blank_spaces: Annotated[
        tuple[Line, ...], Meta(description="spaces with nothing wired to them: blank, or a spare breaker")
    ] = ()
    photos: Annotated[tuple[Line, ...], Meta(max_length=40, description="files beside the job")] = ()
    marks: Annotated[
        Line, Meta(description="what is printed on panel, breakers and meter; matched with the caution list")
    ] = ""


class OldBox(OldPanel, frozen=True, kw_only=True):
    """Another old panel or fuse box. Its spaces are written with its mark before the number: "r7"."""

    mark: Line = "r"
    name: Annotated[Line, said("Called", hint="cellar")] = "right-hand"
    spaces: Annotated[int, Meta(le=MOST_SPACES)] = 0
    elsewhere: Annotated[
        bool, said("Elsewhere", "not on the same wall: its distance has to be measured", tick="on another wall")
    ] = False
    right_in: Annotated[
        float | None,
        said(
            "Right of first, in",
            "its left side, right of the first old box's; None: beside the one before it",
            reads="signed inches",
            hint="beside",
        ),
    ] = None
    lower_in: Annotated[
        float | None,
        said("lower", "its top, below the first old box's; None: level", reads="signed inches", hint="level"),
    ] = None


ListedDevice = Literal[
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


class Torque(Model, frozen=True, kw_only=True):
    """What a label says of a terminal: how tight its screw is, and how far the wire is stripped; for wire sizes from one to another."""

    part: Literal["breaker", "neutral bar", "ground bar", "main", "lug", "meter", "clamp", "bushing"] = "breaker"
    smallest: Annotated[Line, Meta(description="smallest wire it holds for; empty: every one")] = ""
    largest: Line = ""
    inch_pounds: Annotated[float, Meta(gt=0)]
    unit: Annotated[Literal["in-lb", "ft-lb", "N·m"], Meta(description="the unit its label has")] = "in-lb"
    strip_in: Annotated[float | None, Meta(description="length of wire to strip; None: not on the label")] = None


class NewPanel(Model, frozen=True, kw_only=True):
    """The panel to install, from its label."""

    spaces: Annotated[int, said("Spaces", least=2, most=84, le=MOST_SPACES)] = 40
    max_circuits: Annotated[
        int | None, said("Most circuits", "most circuits the label allows; it may be more than the spaces", most=200)
    ] = None
    tandem_spaces: tuple[int, ...] = ()
    bus_a: Annotated[float, said(measured="the panel's bus")] = 200
    main: Annotated[
        Literal["breaker", "back_fed", "lugs"],
        said(
            "Panel has",
            "a main of its own, a back-fed one that sits in spaces of the bus, or main lug only",
            choices={"breaker": "main breaker", "back_fed": "back-fed main breaker", "lugs": "main lug only (MLO)"},
        ),
    ] = "breaker"
    terminals_c: Annotated[
        Literal[60, 75] | None,
        said(
            "Terminals",
            "what terminals of panel, breakers and devices are marked for; None: not checked, 60 counts",
            choices={None: "not checked", 75: "marked 75 °C", 60: "not marked, 60 °C"},
        ),
    ] = None
    first_disconnect: Annotated[bool, said("panel is the first disconnect", "neutral and ground are bonded here")] = (
        True
    )
    aic_a: Annotated[
        float | None, said("Panel AIC, A", "AIC rating of main and breakers, from the label", measured="the AIC rating")
    ] = None
    series_aic_a: Annotated[
        float | None, said("Panel in series, A", "series rating with the device ahead, marked on both labels")
    ] = None
    lugs_least: Annotated[Line, Meta(description="smallest conductor its line lugs take")] = ""
    lugs_most: Annotated[
        Line, said("Lugs to", 'largest conductor its line lugs take, "250 kcmil Al"', hint="250 kcmil Al")
    ] = ""
    bar_most: Annotated[Line, said("Bar lug to", "largest conductor the neutral bar's lug takes", hint="1/0 Al")] = ""
    bending_in: Annotated[
        float | None, said("Bending space", "wire-bending space at the main terminals", hint="not read")
    ] = None
    interior: Interior = Interior()
    cables_per_connector: Annotated[
        int, said("Cables to a connector", "cables one connector takes, as its label says", least=1, most=4, ge=1, le=4)
    ] = 1
    right_of_old_in: Annotated[
        float, said("Right of old", "new enclosure's left side, right of the old one's", reads="signed inches")
    ] = 0.0
    numbering: Annotated[
        Literal["odd_left", "odd_right", "down"],
        said(
            "Numbering",
            "odd on the left, odd on the right, or down the left side and then down the right",
            choices={"odd_left": "odd left", "odd_right": "odd right", "down": "down, then down"},
        ),
    ] = "odd_left"
    neutral_style: Annotated[
        Literal["plug_on", "pigtail"], said("Neutral", choices={"pigtail": "pigtail", "plug_on": "plug-on"})
    ] = "pigtail"
    neutral_terminals: Annotated[
        int | None, said("Neutral term.", "free places for branch neutrals, one each", most=200)
    ] = None
    ground_terminals: Annotated[
        int | None, said("Ground term.", "free places for grounds, as many wires as the label allows", most=200)
    ] = None
    families: Annotated[
        Line,
        said(
            "Families, as the label says",
            "breaker families listed for it, in the words of its label",
            hint="in its own words",
        ),
    ] = ""
    devices: Annotated[
        tuple[ListedDevice, ...], Meta(description="kinds made for it and listed; none ticked: not checked")
    ] = ()
    torques: Annotated[tuple[Torque, ...], Meta(max_length=40, description="tightening torques from its labels")] = ()
    bends_in: Annotated[
        tuple[float, float, float], Meta(description="bend and strip: 14 to 10 AWG, 8 and 6 AWG, larger")
    ] = (3.0, 4.0, 6.0)

    @property
    def has_main(self) -> bool:
        """Whether it has a main breaker, back-fed or its own."""
        return self.main != "lugs"
