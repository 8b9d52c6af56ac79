"""What else belongs to the service."""

from typing import Annotated, Literal

from robust_ledger.job.parts.base import Model
from robust_ledger.job.parts.said import said


class Equipment(Model, frozen=True, kw_only=True):
    """What else belongs to the service."""

    spd: Annotated[bool | None, said("SPD planned", "a SPD is planned or there")] = None
    spd_type: Annotated[
        Literal["", "1", "2"],
        said("SPD type", "type on its label", choices={"": "not read", "1": "type 1", "2": "type 2"}),
    ] = ""
    spd_at: Annotated[
        Literal["panel", "disconnect"],
        said(
            "SPD",
            "on a breaker of the panel, or at the disconnect ahead",
            choices={"panel": "on a breaker here", "disconnect": "at the disconnect"},
        ),
    ] = "panel"
    spd_a: Annotated[
        float | None, said("SPD breaker, A", "its breaker, as its instructions say", hint="per instructions")
    ] = None
    generator_a: Annotated[
        float | None, said("Generator breaker, A", "breaker of a generator behind an interlock", hint="none")
    ] = None
    interlock_listed: Annotated[
        bool, said("interlock kit listed for this panel", "the interlock kit is listed for this panel")
    ] = False
    inverter_a: Annotated[
        float | None, said("Solar inverter, A", "rated output current of a solar inverter on a breaker", hint="none")
    ] = None
    inverter_opposite: Annotated[
        bool | None,
        said("at far end of bus", "its breaker sits at the end of the bus away from the main; None: not entered"),
    ] = None
    bonding_bushings: Annotated[
        bool,
        said(
            "bonding bushings or wedges planned",
            "bonding bushings or wedges are planned where the service raceway enters",
        ),
    ] = False
    battery: Annotated[bool | None, said("Battery", "a battery feeds the house at times")] = None
