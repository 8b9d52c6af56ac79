"""Panel location."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from robust_ledger.job.parts.base import Model


class Location(Model):
    """Panel location."""

    room: Literal["", "living", "basement", "garage", "utility", "outdoors", "bathroom", "closet"] = ""
    over_steps: bool = False
    face: Literal["wall", "up", "down"] = "wall"
    damp: bool = Field(False, description="damp or wet, or outdoors without a roof")
    weatherproof: bool = False
    near_ignitible: bool = Field(False, description="easily ignitible material, as in a clothes closet")
