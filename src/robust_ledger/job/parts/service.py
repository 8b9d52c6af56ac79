"""The service as found and the way of its conductors."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from robust_ledger.job.parts.base import Line, Model


class ServiceRun(Model):
    """The way of the service conductors to the panel, and what feeds it. Unknown is left empty."""

    raceway: Literal["cable", "emt", "imc", "rmc", "pvc40", "pvc80"] = Field("cable", description="what is there")
    trade_size: Line = Field("", description='inches as written, "1-1/4"')
    nipple: bool = Field(False, description="no longer than 24 inches")
    insulation: Literal["THWN-2", "XHHW-2"] = "XHHW-2"
    length_ft: float | None = Field(None, description="from the service drop to the panel, one way")
    riser_ft: float | None = Field(None, description="the part of it up to the meter")
    sets: int | None = Field(None, description="conductors in parallel per leg; None: one where one carries it")
    ambient_c: float | None = Field(None, description="hottest air around the conductors; None: 30 °C as in the tables")
    current_carrying: int = Field(2, description="current-carrying conductors together; a neutral is none")
    rooftop: bool = Field(False, description="less than 7/8 inch above a roof in the sun")
    utility_fault_a: float | None = Field(None, description="available fault current at the service, from the utility")
    transformer_kva: float | None = None
    transformer_percent_z: float | None = None


class Chain(Model):
    """The links of the service as found; unknown is left empty. Conductors are written like "2 Cu" or "4/0 Al"."""

    underground: bool = False
    drop_a: float | None = Field(None, description="what the utility says its conductors carry")
    riser_conductors: Line = ""
    load_conductors: Line = Field("", description="from the meter to the disconnect or panel")
    disconnect_a: float | None = Field(None, description="a disconnect ahead of the panel; none when empty")
    disconnect_inside: bool = Field(False, description="the disconnect ahead of the panel is indoors")
    replaced: tuple[Literal["riser", "riser_conductors", "load_conductors", "disconnect"], ...] = Field(
        (), description="links that this job makes new; the meter socket has its own mark"
    )
