"""Panel location."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Model


class Location(Model, frozen=True, kw_only=True):
    """Panel location."""

    room: Literal["", "living", "basement", "garage", "utility", "outdoors", "bathroom", "closet"] = ""
    over_steps: bool = False
    face: Literal["wall", "up", "down"] = "wall"
    damp: Annotated[bool, Meta(description="damp or wet, or outdoors without a roof")] = False
    weatherproof: bool = False
    near_ignitible: Annotated[bool, Meta(description="easily ignitible material, as in a clothes closet")] = False
