"""What becomes of circuits, and how the panel is to be arranged."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model

Place = Literal[
    "kitchen", "dining", "living", "bedroom", "hall", "laundry", "bath", "garage", "outdoors", "crawl_space",
    "unfinished_basement", "finished_basement", "attic", "utility",
]  # fmt: skip


class CircuitChange(Model, frozen=True, kw_only=True):
    """What becomes of a circuit, and what the user knows of it that its words do not say; by circuit key."""

    action: Literal["keep", "new_cable", "convert", "cap", "split", "merge"] = "keep"
    into: Annotated[int | None, Meta(description="tag whose breaker a merged circuit goes on")] = None
    panel: Annotated[Line, Meta(description="id of the panel it goes to; empty: the main one")] = ""
    either: Annotated[bool, Meta(description="Arrange may choose another panel for it")] = False
    other_feeds: Annotated[Line, Meta(description="what the second circuit of a split one feeds")] = ""
    work: Annotated[
        Literal["", "none", "short", "lengthened", "extended", "receptacles", "appliance"],
        Meta(
            description="untouched, lengthened by at most 6 ft or by more without an outlet, extended, receptacles or appliance replaced"
        ),
    ] = ""
    places: Annotated[tuple[Place, ...], Meta(description="where its outlets are; none: as its words say")] = ()
    serves: Annotated[
        Literal["", "receptacles", "lights", "both", "fixed"], Meta(description="none: as its words say")
    ] = ""
    breaker_a: Annotated[
        float | None,
        Meta(description="breaker chosen for a new cable, no less than its load needs; None: as worked out"),
    ] = None
    outlets: Annotated[int | None, Meta(description="number of outlets on it")] = None
    sink_ft: Annotated[
        Annotated[float, Meta(ge=0)] | None,
        Meta(description="nearest receptacle from a sink, tub or shower; None: not measured"),
    ] = None
    cable_ft: Annotated[
        Annotated[float, Meta(ge=0)] | None, Meta(description="way of a new cable to the panel; None: not measured")
    ] = None
    protect_at: Literal["breaker", "first_outlet"] = "breaker"
    new_side: Annotated[
        Literal["", "top", "bottom", "left", "right", "back"], Meta(description="where it enters the new enclosure")
    ] = ""
    new_at_in: Annotated[float | None, Meta(description="from the left on top and bottom, else from the top")] = None


KEPT = CircuitChange()


class Wishes(Model, frozen=True, kw_only=True):
    """How the panel is to be arranged once splices and legs are as good as they can be; 0 is no wish, 3 the strongest."""

    balance_by: Literal["expected", "clamp", "simulated", "handles"] = "expected"
    band_a: Annotated[float, Meta(ge=0, description="legs may differ by so much [A], or by 2% where that is more")] = (
        1.0
    )
    old_order: Annotated[int, Meta(ge=0, le=3)] = 1
    lights_together: Annotated[int, Meta(ge=0, le=3)] = 0
    heavy_near_main: Annotated[int, Meta(ge=0, le=3)] = 1
    spares_together: Annotated[int, Meta(ge=0, le=3)] = 2
