"""A panel behind the panel."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from robust_ledger.job.parts.base import Line, Model


class SubPanel(Model):
    """A panel behind the panel, in a garage or elsewhere; there is one when its feeder has a breaker."""

    name: Line = "garage"
    breaker_a: float | None = Field(None, description="of the feeder")
    load_a: float | None = Field(None, description="what it is expected to carry, for the voltage drop")
    metal: Literal["cu", "al"] = "al"
    wiring: Literal["thwn", "xhhw", "se", "nm"] = Field(
        "xhhw", description="conductors in raceway, or the kind of cable"
    )
    insulated: bool = Field(False, description="the cable runs within thermal insulation")
    length_ft: float | None = None
    separate_building: bool = True
    wires: Literal[3, 4] = 4
    bonded: bool = Field(False, description="N–G bond left in sub-panel in it")
    rods: int = Field(0, description="ground rods at the separate building, planned or there")
    disconnect: bool = Field(False, description="it has a main breaker or switch, at the building it serves")
    aic_a: float | None = None
