"""Electrodes, their conductors and the bonds."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model


class Grounding(Model, frozen=True, kw_only=True):
    """Electrodes, their conductors and the bonds, as found; None where nobody has looked."""

    practice: Literal["two_rods", "measured", "concrete"] = "two_rods"
    rods: Annotated[int, Meta(description="rods found")] = 0
    rod_length_ft: Annotated[float | None, Meta(description="driven into the earth")] = None
    rod_spacing_ft: float | None = None
    rod_angle_deg: Annotated[float | None, Meta(description="from the vertical")] = None
    rod_ohms: Annotated[float | None, Meta(description="measured resistance of one rod to the earth")] = None
    concrete: Annotated[bool | None, Meta(description="a concrete-encased electrode can be reached")] = None
    water_pipe_ft: Annotated[
        float | None, Meta(description="metal water pipe in contact with the earth; 0 for none")
    ] = None
    ring: bool = False
    plate: bool = False
    metal: Literal["cu", "al"] = "cu"
    one_run: Annotated[bool, Meta(description="one conductor runs from electrode to electrode")] = False
    gec: Annotated[Line, Meta(description='GEC found, "6 Cu"')] = ""
    gec_new: bool = True
    gec_ft: Annotated[
        Annotated[float, Meta(ge=0)] | None, Meta(description="way of a new GEC to the electrodes; None: not measured")
    ] = None
    gec_protected: Annotated[bool | None, Meta(description="it runs in raceway or armor")] = None
    unspliced: bool | None = None
    water_jumper: Annotated[bool | None, Meta(description="a bonding jumper spans the water meter")] = None
    water_bonded: Annotated[bool | None, Meta(description="hot and cold metal pipes inside are bonded")] = None
    gas: Literal["", "none", "bonded", "not_bonded"] = ""
    gas_circuit_a: Annotated[
        float | None, Meta(description="rating of the circuit likely to energize the gas pipe")
    ] = None
    csst: Annotated[bool | None, Meta(description="corrugated stainless tubing is part of the gas piping")] = None
    intersystem: Annotated[int | None, Meta(description="places for other systems at the bonding termination")] = None
