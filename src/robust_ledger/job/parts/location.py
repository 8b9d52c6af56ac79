"""Panel location."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Model


class Location(Model, frozen=True, kw_only=True):
    """Panel location."""

    room: Literal["", "living", "basement", "garage", "utility", "outdoors", "bathroom", "closet"] = ""
    over_steps: bool = False
    face: Literal["wall", "up", "down"] = "wall"
    damp: Annotated[bool, Meta(description="a damp wall, as of a basement below grade")] = False
    wet: Annotated[bool, Meta(description="rain, splash or hose reaches it")] = False
    weatherproof: bool = False
    air_space: Annotated[bool | None, Meta(description="¼ in of air between a damp wall and the enclosure")] = None
    near_ignitible: Annotated[bool, Meta(description="easily ignitible material, as in a clothes closet")] = False
