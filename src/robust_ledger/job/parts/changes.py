"""What becomes of circuits, and how the panel is to be arranged."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from robust_ledger.job.parts.base import Line, Model

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
    band_a: float = Field(1.0, ge=0, description="legs may differ by so much [A], or by 2% where that is more")
    old_order: int = Field(1, ge=0, le=3)
    lights_together: int = Field(0, ge=0, le=3)
    heavy_near_main: int = Field(1, ge=0, le=3)
    spares_together: int = Field(2, ge=0, le=3)
