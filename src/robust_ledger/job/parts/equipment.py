"""What else belongs to the service."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Model


class Equipment(Model, frozen=True, kw_only=True):
    """What else belongs to the service."""

    spd: Annotated[bool | None, Meta(description="a SPD is planned or there")] = None
    spd_type: Annotated[Literal["", "1", "2"], Meta(description="type on its label")] = ""
    spd_at: Annotated[
        Literal["panel", "disconnect"], Meta(description="on a breaker of the panel, or at the disconnect ahead")
    ] = "panel"
    spd_a: Annotated[float | None, Meta(description="its breaker, as its instructions say")] = None
    generator_a: Annotated[float | None, Meta(description="breaker of a generator behind an interlock")] = None
    interlock_listed: Annotated[bool, Meta(description="the interlock kit is listed for this panel")] = False
    inverter_a: Annotated[float | None, Meta(description="rated output current of a solar inverter on a breaker")] = (
        None
    )
    inverter_opposite: Annotated[
        bool | None, Meta(description="its breaker sits at the end of the bus away from the main; None: not entered")
    ] = None
    bonding_bushings: Annotated[
        bool, Meta(description="bonding bushings or wedges are planned where the service raceway enters")
    ] = False
    battery: Annotated[bool | None, Meta(description="a battery feeds the house at times")] = None
