"""The service as found and the way of its conductors."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model


class ServiceRun(Model, frozen=True, kw_only=True):
    """The way of the service conductors to the panel, and what feeds it. Unknown is left empty."""

    raceway: Annotated[Literal["cable", "emt", "imc", "rmc", "pvc40", "pvc80"], Meta(description="what is there")] = (
        "cable"
    )
    trade_size: Annotated[Line, Meta(description='inches as written, "1-1/4"')] = ""
    nipple: Annotated[bool, Meta(description="no longer than 24 inches")] = False
    insulation: Literal["THWN-2", "XHHW-2"] = "XHHW-2"
    length_ft: Annotated[float | None, Meta(description="from the service drop to the panel, one way")] = None
    riser_ft: Annotated[float | None, Meta(description="the part of it up to the meter")] = None
    sets: Annotated[int | None, Meta(description="conductors in parallel per leg; None: one where one carries it")] = (
        None
    )
    ambient_c: Annotated[
        float | None, Meta(description="hottest air around the conductors; None: 30 °C as in the tables")
    ] = None
    current_carrying: Annotated[int, Meta(description="current-carrying conductors together; a neutral is none")] = 2
    rooftop: Annotated[bool, Meta(description="less than 7/8 inch above a roof in the sun")] = False
    utility_fault_a: Annotated[
        float | None, Meta(description="available fault current at the service, from the utility")
    ] = None
    transformer_kva: float | None = None
    transformer_percent_z: float | None = None


class Chain(Model, frozen=True, kw_only=True):
    """The links of the service as found; unknown is left empty. Conductors are written like "2 Cu" or "4/0 Al"."""

    underground: bool = False
    drop_a: Annotated[float | None, Meta(description="what the utility says its conductors carry")] = None
    riser_conductors: Line = ""
    load_conductors: Annotated[Line, Meta(description="from the meter to the disconnect or panel")] = ""
    disconnect_a: Annotated[float | None, Meta(description="a disconnect ahead of the panel; none when empty")] = None
    disconnect_inside: Annotated[bool, Meta(description="the disconnect ahead of the panel is indoors")] = False
    replaced: Annotated[
        tuple[Literal["riser", "riser_conductors", "load_conductors", "disconnect"], ...],
        Meta(description="links that this job makes new; the meter socket has its own mark"),
    ] = ()
