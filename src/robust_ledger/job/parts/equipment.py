"""What else belongs to the service."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from robust_ledger.job.parts.base import Model


class Equipment(Model):
    """What else belongs to the service."""

    spd: bool | None = Field(None, description="a SPD is planned or there")
    spd_at: Literal["panel", "disconnect"] = Field(
        "panel", description="on a breaker of the panel, or at the disconnect ahead"
    )
    spd_a: float | None = Field(None, description="its breaker, as its instructions say")
    generator_a: float | None = Field(None, description="breaker of a generator behind an interlock")
    interlock_listed: bool = Field(False, description="the interlock kit is listed for this panel")
    inverter_a: float | None = Field(None, description="rated output current of a solar inverter on a breaker")
    inverter_opposite: bool = Field(True, description="its breaker sits at the end of the bus away from the main")
