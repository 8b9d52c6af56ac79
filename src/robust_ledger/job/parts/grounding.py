"""Electrodes, their conductors and the bonds."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from robust_ledger.job.parts.base import Line, Model


class Grounding(Model):
    """Electrodes, their conductors and the bonds, as found; None where nobody has looked."""

    practice: Literal["two_rods", "measured", "concrete"] = "two_rods"
    rods: int = Field(0, description="rods found")
    rod_length_ft: float | None = Field(None, description="driven into the earth")
    rod_spacing_ft: float | None = None
    rod_angle_deg: float | None = Field(None, description="from the vertical")
    rod_ohms: float | None = Field(None, description="measured resistance of one rod to the earth")
    concrete: bool | None = Field(None, description="a concrete-encased electrode can be reached")
    water_pipe_ft: float | None = Field(None, description="metal water pipe in contact with the earth; 0 for none")
    ring: bool = False
    plate: bool = False
    metal: Literal["cu", "al"] = "cu"
    one_run: bool = Field(False, description="one conductor runs from electrode to electrode")
    gec: Line = Field("", description='GEC found, "6 Cu"')
    gec_new: bool = True
    unspliced: bool | None = None
    water_jumper: bool | None = Field(None, description="a bonding jumper spans the water meter")
    water_bonded: bool | None = Field(None, description="hot and cold metal pipes inside are bonded")
    gas: Literal["", "none", "bonded", "not_bonded"] = ""
    gas_circuit_a: float | None = Field(None, description="rating of the circuit likely to energize the gas pipe")
    intersystem: int | None = Field(None, description="places for other systems at the bonding termination")
