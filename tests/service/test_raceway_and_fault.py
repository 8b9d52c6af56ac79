"""Raceway fill, alternatives, voltage drop and fault current, by hand and by the physics of the tables."""

from __future__ import annotations

import math

import pytest
from builders import K, finding_ids, house, load, with_parts
from msgspec.structs import replace

from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.plan import plan
from robust_ledger.service.raceway import fill_entry, holds, raceway_entry, service_way

BOOK = load_codebook("2023")
KINDS = ("emt", "imc", "rmc", "pvc40", "pvc80")
CONDUCTORS = {row["size"]: row for row in BOOK.table("conductor").rows}
CMIL = {row["size"]: float(row["area_cmil"]) for row in BOOK.table("ampacity").rows}


# --- tables by physics ------------------------------------------------------------------------------------------------
@pytest.mark.parametrize("kind", KINDS)
def test_a_raceways_area_is_that_of_its_diameter(kind):
    areas = []
    for row in BOOK.table("raceway").rows:
        diameter, area = float(row[f"{kind}_diameter_in"]), float(row[f"{kind}_area_in2"])
        assert area == pytest.approx(math.pi / 4 * diameter**2, rel=0.002)
        areas.append(area)
    assert areas == sorted(areas)


@pytest.mark.parametrize(("metal", "ohm_cmil_per_ft"), [("cu", 12.9), ("al", 21.2)])
def test_resistance_follows_from_the_area(metal, ohm_cmil_per_ft):
    """Resistivity at 75 °C; small sizes are stranded and a little above it."""
    for size, row in CONDUCTORS.items():
        if row[f"{metal}_ohm_per_kft"]:
            assert float(row[f"{metal}_ohm_per_kft"]) == pytest.approx(ohm_cmil_per_ft * 1000 / CMIL[size], rel=0.02)


def test_insulated_conductors_are_larger_than_their_metal_and_grow():
    for column in ("thwn2_area_in2", "xhhw2_area_in2"):
        areas = [float(row[column]) for row in CONDUCTORS.values()]
        assert areas == sorted(areas)
        for size, row in CONDUCTORS.items():
            assert float(row[column]) > CMIL[size] * math.pi / 4 / 1e6
    reactance = [float(row["reactance_ohm_per_kft"]) for row in CONDUCTORS.values() if row["reactance_ohm_per_kft"]]
    steel = [
        float(row["reactance_steel_ohm_per_kft"]) for row in CONDUCTORS.values() if row["reactance_steel_ohm_per_kft"]
    ]
    assert all(1.2 < s / n < 1.3 for s, n in zip(steel, reactance, strict=True)), "steel adds about a quarter"


# --- fill -------------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("sizes", "kind", "nipple", "needed"),
    [
        # 3 × 0.3237 = 0.9711 ÷ 40% = 2.428 in²: 2 in EMT
        (["4/0"] * 3, "emt", False, "2"),
        # two 2/0 and a 2: 0.4446 + 0.1158 = 0.5604 ÷ 40% = 1.401: 1¼ in EMT (1.496), 1¼ in schedule 40 (1.453)
        (["2/0", "2/0", "2"], "emt", False, "1-1/4"),
        (["2/0", "2/0", "2"], "pvc40", False, "1-1/4"),
        (["2/0", "2/0", "2"], "pvc80", False, "1-1/2"),  # 1¼ in has 1.237 only
        (["2/0", "2/0", "2"], "emt", True, "1-1/4"),  # 0.5604 ÷ 60% = 0.934: above 1 in (0.864)
        (["1/0", "1/0", "4"], "emt", True, "1"),  # 0.4534 ÷ 60% = 0.756
        (["1/0", "1/0", "4"], "emt", False, "1-1/4"),  # ÷ 40% = 1.134
        (["4/0"], "emt", False, "3/4"),  # one alone: 0.533 × 53% ÷ 0.3237 = 0.87, which counts as one [note 7]
        (["4/0"] * 2, "emt", False, "1-1/2"),  # two: 2.036 × 31% ÷ 0.3237 = 1.95, rounded up to two [note 7]
        (["2/0", "2/0", "1/0"], "emt", False, "1-1/2"),  # not of one size: 0.5991 ÷ 40% = 1.498, above 1¼ in (1.496)
        (["2/0"] * 3, "emt", False, "1-1/2"),  # equal: 1.496 × 40% ÷ 0.2223 = 2.69, below 2.8
        (["1/0"] * 3, "emt", False, "1-1/4"),  # 0.5565 ÷ 40% = 1.391
        (["1/0"] * 3, "pvc80", False, "1-1/2"),  # 1.237 × 40% ÷ 0.1855 = 2.67
        (["4"] * 3, "pvc80", False, "1"),  # 0.936² … 0.688 × 40% ÷ 0.0824 = 3.34
        (["750"] * 12, "emt", False, None),
    ],
)
def test_the_trade_size_conductors_need(sizes, kind, nipple, needed):
    job = house(1500, existing={"raceway": kind}, service_run={"insulation": "THWN-2", "nipple": nipple})
    entry = raceway_entry("x", sizes, service_way(job), BOOK)
    assert entry.value == needed and (entry.known or "trade size" in entry.why_unknown)


def test_how_full_a_raceway_is():
    """Two 2/0 and a 2 in XHHW-2: 2 × 0.2190 + 0.1146 = 0.5526 in 1.526 in² of 1¼ in rigid = 36.2%."""
    fill = fill_entry("x", ["2/0", "2/0", "2"], house(1500, existing={"raceway": "rmc", "trade_size": "1-1/4"}), BOOK)
    assert fill.amount == pytest.approx(100 * 0.5526 / 1.526)
    assert not fill_entry("x", ["2/0"], house(1500, existing={"raceway": "rmc"}), BOOK).known
    assert holds("1-1/4", "2", BOOK) is True and holds("2", "1-1/4", BOOK) is False and holds("2", "", BOOK) is None


# --- alternatives -----------------------------------------------------------------------------------------------------
def test_every_main_in_both_metals_and_the_first_that_holds(demo):
    made = plan(demo)
    assert [one.key for one in made.service.alternatives[:4]] == ["100.al", "100.cu", "110.al", "110.cu"]
    assert len(made.service.alternatives) == 22
    assert next(one.key for one in made.service.alternatives if one.passes) == "150.al"
    verdicts = {one.key: one.verdict for one in made.service.alternatives}
    assert verdicts["125.cu"] == "18 A below the load" and verdicts["150.cu"] == "every link is large enough"
    assert verdicts["175.al"] == "meter 150 A; raceway 1-1/4, needs 1-1/2 in" and verdicts["175.cu"] == "meter 150 A"
    assert verdicts["225.al"].startswith("meter 150 A; bus 200 A; raceway")
    one = {x.key: x for x in made.service.alternatives}["200.cu"]
    assert (one.dwelling.value, one.strict.value, one.electrode.value, one.bonding_jumper.value) == (
        "2/0 Cu",
        "3/0 Cu",
        "4 Cu",
        "4 Cu",
    )


@pytest.mark.parametrize("rating", [100, 110, 125, 150, 175, 200, 225, 250, 300, 350, 400])
def test_alternatives_agree_with_the_service_as_it_would_be_chosen(demo, rating):
    """Taking an alternative gives the sizes it promised."""
    for metal in ("cu", "al"):
        chosen = replace(demo.decisions, main_a=float(rating), metal=metal)
        made = plan(replace(demo, decisions=chosen))
        one = next(x for x in made.service.alternatives if x.key == f"{rating}.{metal}")
        assert one.dwelling.value == made.service.conductors.value and one.neutral.value == made.service.neutral.value
        assert one.electrode.value == made.service.gec.value


def test_what_is_not_known_does_not_fail_but_is_told():
    job = house(1500, load(K.COOKING, "12kW", "range"), service_run={"raceway": "rmc"})
    one = next(x for x in plan(job).service.alternatives if x.key == "100.al")
    assert (
        one.passes
        and one.verdict == "the meter socket's label is not read; needs 1 in rigid; its trade size is not entered"
    )
    dark = next(x for x in plan(house(None)).service.alternatives if x.key == "100.al")
    assert "the load is not known: floor area" in dark.verdict


# --- voltage drop and fault current -----------------------------------------------------------------------------------
def test_voltage_drop_by_hand(demo):
    """2/0 Al in steel: 0.159 × 0.95 + 0.054 × 0.3122 = 0.1679 Ω/1000 ft; 2 × 143 A × 0.1679 × 0.045 = 2.161 V of 240."""
    assert plan(demo).entries["service.voltage_drop"].amount == pytest.approx(100 * 2.161 / 240, rel=1e-3)


def test_fault_current_point_to_point_by_hand(demo):
    """25 kVA at 1.8%: 104.17 ÷ 0.018 = 5,787 A. Z = √(0.159² + 0.054²) = 0.16792; over 45 ft 0.007556 Ω.
    f = 2 × 5,787 × 0.007556 ÷ 240 = 0.3644 → 4,241 A; to neutral 8,681 A, f = 1.0933 → 4,147 A; the larger counts."""
    made = plan(demo)
    assert made.entries["service.fault_source"].amount == pytest.approx(5787.04, abs=0.1)
    assert made.service.figures.fault_panel.amount == pytest.approx(4241.4, abs=1)


def test_close_to_the_transformer_the_fault_to_neutral_is_the_larger(demo):
    near = with_parts(demo, "service_run", length_ft=2.0)
    made = plan(near).service.figures.fault_panel
    assert made.amount > 1.3 * 5787, "half again as much, less a little"


def test_the_utilitys_own_figure_is_taken_as_it_stands(small):
    """6,500 A over 30 ft of the cottage's 4 Cu in no steel: Z = √(0.308² + 0.048²) = 0.31172; f = 0.5065 → 4,315 A."""
    made = plan(small)
    assert made.entries["service.fault_source"].value == 6500
    assert made.service.figures.fault_panel.amount == pytest.approx(
        6500 / (1 + 2 * 6500 * 0.31172 * 0.030 / 240), rel=1e-3
    )


@pytest.mark.parametrize(("rating", "stop"), [(10_000, False), (4200, True), (None, False)])
def test_a_fault_above_the_interrupting_rating_stops(demo, rating, stop):
    job = replace(demo, panel=replace(demo.panel, aic_a=rating))
    assert ("service.aic" in finding_ids(plan(job))) is stop


@pytest.mark.parametrize(
    ("changes", "why"),
    [
        ({"length_ft": None}, "length to the panel, one way"),
        ({"length_ft": 0.0}, "length to the panel, one way"),
        (
            {"transformer_kva": None, "transformer_percent_z": None},
            "the utility's figure, or the transformer's kVA and %Z",
        ),
        ({"transformer_percent_z": 0.0}, "impedance"),
        ({"utility_fault_a": -5.0}, "from the utility"),
    ],
)
def test_what_is_missing_for_the_fault_current_is_said(demo, changes, why):
    job = with_parts(demo, "service_run", **changes)
    entry = plan(job).service.figures.fault_panel
    assert not entry.known and why in entry.why_unknown
