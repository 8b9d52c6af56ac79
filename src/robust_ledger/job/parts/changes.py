"""What becomes of circuits, and how the panel is to be arranged."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model
from robust_ledger.job.parts.said import said

Place = Literal[
    "kitchen",
    "dining",
    "living",
    "bedroom",
    "hall",
    "laundry",
    "bath",
    "garage",
    "outdoors",
    "crawl_space",
    "unfinished_basement",
    "finished_basement",
    "attic",
    "utility",
]


class CircuitChange(Model, frozen=True, kw_only=True):
    """What becomes of a circuit, and what the user knows of it that its words do not say; by circuit key."""

    action: Annotated[
        Literal["keep", "new_cable", "convert", "cap", "split", "merge"],
        said(
            "Keep / replace",
            choices={
                "keep": "keep its cable",
                "new_cable": "new cable",
                "convert": "convert to 120 V",
                "cap": "cap it",
                "split": "split in two",
                "merge": "combine with tag",
            },
        ),
    ] = "keep"
    into: Annotated[int | None, said("Onto tag", "tag whose breaker a merged circuit goes on", hint="tag")] = None
    panel: Annotated[Line, Meta(description="id of the panel it goes to; empty: the main one")] = ""
    either: Annotated[
        bool, said("Either panel", "Arrange may choose another panel for it", tick="either, by Arrange")
    ] = False
    other_feeds: Annotated[
        Line, said("Second feeds", "what the second circuit of a split one feeds", hint="what the second one feeds")
    ] = ""
    work: Annotated[
        Literal["", "none", "short", "lengthened", "extended", "receptacles", "appliance"],
        said(
            "Work on it",
            "untouched, lengthened by at most 6 ft or by more without an outlet, extended, receptacles or appliance replaced",
            choices={
                "": "as it follows",
                "none": "not touched",
                "short": "longer, to 6 ft",
                "lengthened": "longer, over 6 ft",
                "extended": "extended",
                "receptacles": "receptacles replaced",
                "appliance": "appliance replaced",
            },
        ),
    ] = ""
    places: Annotated[
        tuple[Place, ...], said("Rooms", "where its outlets are; none: as its words say", hint="as its words say")
    ] = ()
    serves: Annotated[
        Literal["", "receptacles", "lights", "both", "fixed"],
        said(
            "Outlets are",
            "none: as its words say",
            choices={
                "": "as its words say",
                "receptacles": "receptacles",
                "lights": "lights",
                "both": "both",
                "fixed": "hard-wired",
            },
        ),
    ] = ""
    breaker_a: Annotated[
        float | None,
        said(
            "Breaker, A",
            "breaker chosen for a new cable, no less than its load needs; None: as worked out",
            hint="as worked out",
        ),
    ] = None
    outlets: Annotated[int | None, said("How many", "number of outlets on it", hint="count")] = None
    sink_ft: Annotated[
        Annotated[float, Meta(ge=0)] | None,
        said(
            "Sink at, ft", "nearest receptacle from a sink, tub or shower; None: not measured", most=200, hint="unknown"
        ),
    ] = None
    cable_ft: Annotated[
        Annotated[float, Meta(ge=0)] | None,
        said("New cable, ft", "way of a new cable to the panel; None: not measured", most=500, hint="not measured"),
    ] = None
    protect_at: Annotated[
        Literal["breaker", "first_outlet"],
        said("Protection", choices={"breaker": "at the breaker", "first_outlet": "at the first outlet"}),
    ] = "breaker"
    new_side: Annotated[
        Literal["", "top", "bottom", "left", "right", "back"],
        said(
            "Enters at",
            "where it enters the new enclosure",
            choices={
                "": "as before",
                "top": "top",
                "bottom": "bottom",
                "left": "left",
                "right": "right",
                "back": "back",
            },
        ),
    ] = ""
    new_at_in: Annotated[
        float | None,
        said("at, in", "from the left on top and bottom, else from the top", hint="same place of the wall"),
    ] = None


KEPT = CircuitChange()


STRENGTH = {0: "no wish", 1: "weak", 2: "middling", 3: "strong"}


class Wishes(Model, frozen=True, kw_only=True):
    """How the panel is to be arranged once splices and legs are as good as they can be; 0 is no wish, 3 the strongest."""

    balance_by: Annotated[
        Literal["expected", "clamp", "simulated", "handles"],
        said(
            "Balance by",
            choices={
                "expected": "expected demand",
                "clamp": "clamp readings",
                "simulated": "simulated peaks",
                "handles": "handle ratings",
            },
        ),
    ] = "expected"
    band_a: Annotated[
        float, said("Legs within, A", "legs may differ by so much [A], or by 2% where that is more", reads="band", ge=0)
    ] = 1.0
    old_order: Annotated[int, said("Old order", choices=STRENGTH, ge=0, le=3)] = 1
    lights_together: Annotated[int, said("Lights together", choices=STRENGTH, ge=0, le=3)] = 0
    heavy_near_main: Annotated[int, said("Heavy near the main", choices=STRENGTH, ge=0, le=3)] = 1
    spares_together: Annotated[int, said("Spares together", choices=STRENGTH, ge=0, le=3)] = 2
