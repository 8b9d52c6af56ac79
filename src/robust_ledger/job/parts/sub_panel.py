"""A panel behind the panel."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model


class SubPanel(Model, frozen=True, kw_only=True):
    """A panel behind the panel, in a garage or elsewhere; there is one when its feeder has a breaker."""

    name: Line = "garage"
    breaker_a: Annotated[float | None, Meta(description="of the feeder")] = None
    load_a: Annotated[float | None, Meta(description="what it is expected to carry, for the voltage drop")] = None
    metal: Literal["cu", "al"] = "al"
    wiring: Annotated[
        Literal["thwn", "xhhw", "se", "nm"], Meta(description="conductors in raceway, or the kind of cable")
    ] = "xhhw"
    insulated: Annotated[
        bool | None, Meta(description="the cable runs within thermal insulation; None: not checked")
    ] = None
    length_ft: float | None = None
    separate_building: bool = True
    found: Annotated[bool, Meta(description="an existing feeder that stays")] = False
    wires: Annotated[
        int | None, Meta(description="wires of its feeder; None: four for a new one, not entered for one found")
    ] = None
    metal_path: Annotated[
        bool | None,
        Meta(description="other metal between the buildings: pipe, phone or cable shield; None: not checked"),
    ] = None
    bonded: Annotated[bool, Meta(description="N–G bond left in sub-panel in it")] = False
    rods: Annotated[int, Meta(description="ground rods at the separate building, planned or there")] = 0
    disconnect: Annotated[bool, Meta(description="it has a main breaker or switch, at the building it serves")] = False
    aic_a: float | None = None
