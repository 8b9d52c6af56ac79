"""Electrodes, their conductors and the bonds."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model
from robust_ledger.job.parts.said import said


class Grounding(Model, frozen=True, kw_only=True):
    """Electrodes, their conductors and the bonds, as found; None where nobody has looked."""

    practice: Annotated[
        Literal["two_rods", "measured", "concrete"],
        said(
            "how many rods",
            choices={
                "two_rods": "two rods always",
                "measured": "one rod where it measures 25 Ω or less",
                "concrete": "no rods beside a concrete-encased electrode",
            },
        ),
    ] = "two_rods"
    rods: Annotated[int, said("found", "rods found", least=0, most=20)] = 0
    rod_length_ft: Annotated[float | None, said("driven length, ft", "driven into the earth", most=40)] = None
    rod_spacing_ft: Annotated[float | None, said("spacing, ft", most=200)] = None
    rod_angle_deg: Annotated[
        float | None, said("from vertical, °", "from the vertical", hint="0", least=0, most=90)
    ] = None
    rod_ohms: Annotated[
        float | None,
        said(
            "single-rod Ω",
            "measured resistance of one rod to the earth",
            measured="the rod's resistance",
            hint="no reading",
            least=0.1,
            most=10000,
        ),
    ] = None
    concrete: Annotated[bool | None, said("concrete-encased", "a concrete-encased electrode can be reached")] = None
    water_pipe_ft: Annotated[
        float | None,
        said("water pipe, ft", "metal water pipe in contact with the earth; 0 for none", hint="not checked", most=1000),
    ] = None
    ring: Annotated[bool, said("ground ring")] = False
    plate: Annotated[bool, said("plate")] = False
    metal: Annotated[Literal["cu", "al"], said("GEC metal", choices={"cu": "copper", "al": "aluminum"})] = "cu"
    one_run: Annotated[
        bool, said("one continuous GEC through all electrodes", "one conductor runs from electrode to electrode")
    ] = False
    gec: Annotated[Line, Meta(description='GEC found, "6 Cu"')] = ""
    gec_new: Annotated[bool, said("for this job", choices={True: "new", False: "existing"})] = True
    gec_ft: Annotated[
        Annotated[float, Meta(ge=0)] | None,
        said("its way, ft", "way of a new GEC to the electrodes; None: not measured", hint="ft", most=500),
    ] = None
    water_ft: Annotated[
        Annotated[float, Meta(ge=0)] | None,
        said(
            "GEC to water, ft",
            "way of a new GEC to the metal water pipe; None: not measured",
            hint="ft",
            most=500,
        ),
    ] = None
    concrete_ft: Annotated[
        Annotated[float, Meta(ge=0)] | None,
        said(
            "GEC to concrete, ft",
            "way of a new GEC to the concrete-encased electrode; None: not measured",
            hint="ft",
            most=500,
        ),
    ] = None
    ring_ft: Annotated[
        Annotated[float, Meta(ge=0)] | None,
        said("GEC to ring, ft", "way of a new GEC to the ground ring; None: not measured", hint="ft", most=500),
    ] = None
    plate_ft: Annotated[
        Annotated[float, Meta(ge=0)] | None,
        said("GEC to plate, ft", "way of a new GEC to the plate; None: not measured", hint="ft", most=500),
    ] = None
    water_bond_ft: Annotated[
        Annotated[float, Meta(ge=0)] | None,
        said(
            "bond of water, ft",
            "way of a new bond to the metal water piping; None: not measured",
            hint="ft",
            most=500,
        ),
    ] = None
    gas_bond_ft: Annotated[
        Annotated[float, Meta(ge=0)] | None,
        said(
            "bond of gas, ft",
            "way of a new bond to the metal gas piping; None: not measured",
            hint="ft",
            most=500,
        ),
    ] = None
    jumper_ft: Annotated[
        Annotated[float, Meta(ge=0)] | None,
        said(
            "meter jumper, ft",
            "length of a new bonding jumper around the water meter; None: not measured",
            hint="ft",
            most=500,
        ),
    ] = None
    gec_protected: Annotated[bool | None, said("in conduit", "it runs in raceway or armor")] = None
    unspliced: Annotated[bool | None, said("unspliced", words="GEC in one piece")] = None
    water_jumper: Annotated[
        bool | None, said("water meter jumper", "a bonding jumper spans the water meter", words="water meter jumper")
    ] = None
    water_bonded: Annotated[
        bool | None,
        said("hot/cold water bonded", "hot and cold metal pipes inside are bonded", words="water pipes bonded"),
    ] = None
    gas: Annotated[
        Literal["", "none", "bonded", "not_bonded"],
        said(
            "pipe",
            words="gas pipe",
            choices={"": "not checked", "none": "no metal gas pipe", "bonded": "bonded", "not_bonded": "not bonded"},
        ),
    ] = ""
    gas_circuit_a: Annotated[
        float | None, said("its circuit, A", "rating of the circuit likely to energize the gas pipe")
    ] = None
    csst: Annotated[bool | None, said("CSST in it", "corrugated stainless tubing is part of the gas piping")] = None
    intersystem: Annotated[
        int | None,
        said("IBT terminals", "places for other systems at the bonding termination", words="IBT terminals", most=40),
    ] = None
