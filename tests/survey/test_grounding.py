"""Grounding: practices for rods, the conductor to each electrode, bonds, and what is found wrong; by hand from the tables."""

from __future__ import annotations

import pytest
from builders import finding_ids, house
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.codebook.conductors import area_cmil
from robust_ledger.job.edits import with_part
from robust_ledger.plan import plan

BOOK = load_codebook("2023")
SOUND = {"intersystem": 3, "gec_new": True, "concrete": False}


def grounding(main_a: float = 200, metal: str = "al", **found):
    job = house(1500, scope="upgrade", decisions={"main_a": main_a, "metal": metal})
    return plan(with_part(job, "grounding", **{**SOUND, **found}))


def values(made) -> dict[str, object]:
    return {e.id.removeprefix("grounding."): e.value for e in made.entries.values() if e.id.startswith("grounding.")}


@pytest.mark.parametrize(
    ("found", "wanted", "to_drive"),
    [
        ({}, 2, 2),
        ({"rods": 1}, 2, 1),
        ({"rods": 3}, 2, 0),
        ({"rods": 2, "rod_length_ft": 7.5}, 2, 2),  # too short to count
        ({"rods": 2, "rod_length_ft": 8}, 2, 0),
        ({"practice": "measured", "rod_ohms": 25}, 1, 1),
        ({"practice": "measured", "rod_ohms": 25.1}, 2, 2),
        ({"practice": "measured", "rod_ohms": 12, "rods": 1}, 1, 0),
        ({"practice": "measured"}, None, None),
        ({"practice": "concrete", "concrete": True}, 0, 0),
        ({"practice": "concrete", "concrete": False}, 2, 2),
        ({"practice": "concrete"}, 2, 2),  # not looked at is not there
        ({"practice": "two_rods", "concrete": True}, 2, 2),
    ],
)
def test_rods_by_practice(found, wanted, to_drive):
    made = values(grounding(**found))
    assert (made["rods"], made["rods_added"]) == (wanted, to_drive)


@pytest.mark.parametrize(
    ("main_a", "metal", "own", "sizes"),
    [  # table size; to rods, concrete, water, ring
        (100, "al", "cu", ("6 Cu, or 8 Cu in conduit",) * 4),  # 2 Al: first row
        (200, "al", "cu", ("6 Cu", "4 Cu", "4 Cu", "4 Cu")),  # 4/0 Al: 4 Cu; rods end at 6
        (200, "cu", "cu", ("6 Cu", "4 Cu", "4 Cu", "4 Cu")),  # 2/0 Cu: 4 Cu
        (400, "cu", "cu", ("6 Cu", "4 Cu", "1/0 Cu", "1/0 Cu")),  # 400 kcmil: 1/0; concrete ends at 4
        (200, "al", "al", ("4 Al", "2 Al", "2 Al", "2 Al")),  # aluminum: rods end at 4, concrete has no end in it
    ],
)
def test_the_conductor_to_each_electrode(main_a, metal, own, sizes):
    made = values(_with(main_a, metal, own))
    assert tuple(made[f"gec.{kind}"] for kind in ("rods", "concrete", "water", "ring")) == sizes


def _with(main_a: float, metal: str, own: str):
    job = house(1500, scope="upgrade", decisions={"main_a": float(main_a), "metal": metal})
    return plan(
        with_part(
            job,
            "grounding",
            **{**SOUND, "metal": own, "concrete": True},
            water_pipe_ft=12,
            ring=True,
            water_jumper=True,
        )
    )


def test_one_run_through_all_is_as_large_as_the_one_that_asks_most():
    made = values(grounding(400, "cu", one_run=True, water_pipe_ft=10, water_jumper=True, concrete=True))
    assert made["gec.run"] == "1/0 Cu" and made["gec.rods"] == "6 Cu"
    assert "gec.run" not in values(grounding())
    assert values(grounding(400, "cu", one_run=True))["gec.run"] == "6 Cu", "rods alone"


@pytest.mark.parametrize(("main_a", "bond"), [(100, "8 Cu"), (200, "4 Cu"), (400, "1/0 Cu")])
def test_the_water_bond_goes_by_the_bonding_table(main_a, bond):
    assert values(grounding(main_a, "cu"))["water_bond"] == bond


@pytest.mark.parametrize(
    ("circuit_a", "bond"), [(15, "14 Cu"), (20, "12 Cu"), (30, "10 Cu"), (60, "10 Cu"), (None, None)]
)
def test_the_gas_bond_goes_by_the_circuit_that_may_energize_it(circuit_a, bond):
    assert values(grounding(gas="bonded", gas_circuit_a=circuit_a, csst=False))["gas_bond"] == bond
    assert "gas_bond" not in values(grounding(gas="none"))


@pytest.mark.parametrize(
    ("found", "ids"),
    [
        ({}, set()),
        ({"rod_spacing_ft": 6}, set()),
        ({"rod_spacing_ft": 5.9}, {"grounding.spacing"}),
        ({"rod_length_ft": 7.9}, {"grounding.length"}),
        ({"rod_angle_deg": 45}, set()),
        ({"rod_angle_deg": 46}, {"grounding.angle"}),
        ({"practice": "measured"}, {"grounding.ohms"}),
        ({"practice": "concrete", "concrete": True}, set()),
        ({"water_pipe_ft": 9}, {"grounding.pipe_short"}),
        ({"water_pipe_ft": 10}, {"grounding.jumper"}),
        ({"water_pipe_ft": 10, "water_jumper": False}, {"grounding.jumper"}),
        ({"water_pipe_ft": 10, "water_jumper": True}, set()),
        ({"gas": "not_bonded", "gas_circuit_a": 15, "csst": False}, {"grounding.gas"}),
        ({"water_bonded": False}, {"grounding.water"}),
        ({"intersystem": 2}, {"grounding.intersystem"}),
        ({"intersystem": None}, {"grounding.intersystem"}),
        ({"gec_new": False}, {"grounding.gec_unknown", "grounding.splice"}),
        ({"gec_new": False, "gec": "8 Cu", "unspliced": True}, {"grounding.gec"}),
        ({"gec_new": False, "gec": "6 Cu", "unspliced": True}, set()),
        ({"gec_new": False, "gec": "4 Al", "unspliced": True}, {"grounding.gec"}),  # the job's is copper
        ({"gec_new": False, "gec": "6 Cu", "unspliced": False}, {"grounding.splice"}),
        ({"gec_new": False, "gec": "6 Cu", "unspliced": True, "gec_protected": False}, set()),
        ({"gec_new": False, "gec": "x Cu", "unspliced": True}, {"grounding.gec_unknown"}),
    ],
)
def test_what_is_found_wrong(found, ids):
    found = {"water_bonded": True, "gas": "none", **found}
    assert {one for one in finding_ids(grounding(**found)) if one.startswith("grounding.")} == ids


def test_looked_and_wrong_is_to_fix_not_looked_is_to_ask():
    for field, value, found in (
        ("water_jumper", False, "grounding.jumper"),
        ("intersystem", 0, "grounding.intersystem"),
    ):
        for given_value, severity in ((value, "FIX"), (None, "ASK")):
            made = grounding(water_pipe_ft=20, **{"water_jumper": True, field: given_value})
            assert next(f for f in made.findings if f.id == found).severity == severity


@given(
    st.sampled_from([100, 125, 150, 200, 300, 400]),
    st.sampled_from(["cu", "al"]),
    st.booleans(),
    st.booleans(),
    st.one_of(st.none(), st.floats(0, 60)),
)
def test_no_electrode_conductor_is_above_the_table_or_its_cap(main_a, metal, ring, concrete, pipe_ft):
    made = grounding(main_a, metal, ring=ring, concrete=concrete, water_pipe_ft=pipe_ft, water_jumper=True)
    table = area_cmil(BOOK, made.service.gec.value.split()[0])
    for name, value in values(made).items():
        if name.startswith("gec."):
            area = area_cmil(BOOK, str(value).split()[0])
            assert area <= table
            if name == "gec.rods":
                assert area <= area_cmil(BOOK, "6")
    assert ("gec.water" in values(made)) is ((pipe_ft or 0) >= 10)
