"""Existing dwelling, measured demand, energy management, charging practices and a wye supply, worked by hand."""

from __future__ import annotations

import pytest
from builders import JUDGED, K, answers, finding_ids, house, load, total_va, worked
from msgspec.structs import replace

from robust_ledger.job.parts.measured import Measured
from robust_ledger.job.upgrades import ANSWERS
from robust_ledger.plan import plan

YEAR = Measured(route="year", days=365, coverage=1.0, peak=9.2, peak_at="2025-01-18 19:00")
# Range 12,000 + dryer 5,500 + water heater 4,500 + dishwasher 1,200 = 23,200; with 4,500 of lighting and 4,500 of
# small-appliance and laundry circuits 32,200 VA.
OLD_HOUSE = (
    load(K.COOKING, "12kW", "range"),
    load(K.DRYER, "5.5kW", "dryer"),
    load(K.WATER_HEATER, "4.5kW", "heater"),
    load(K.APPLIANCE, "1200VA", "dishwasher", volts=120),
)
TUB = load(K.APPLIANCE, "6kW", "hot tub", when="added")
CHARGER = load(K.EV_CHARGER, "48A@240", "charger", when="added")


def with_plate(kind: str, amount: float, unit: str, volts: float):
    """A house with a nameplate as only a file can hold it."""
    return house(
        1500, {"id": kind, "name": kind, "kind": kind, "nameplate": {"amount": amount, "unit": unit, "volts": volts}}
    )


def measured_house(*loads, **changes):
    return house(1500, *loads, scope="swap", measured=replace(YEAR, **changes), decisions={"load_method": "measured"})


# --- existing dwelling [220.83] ---------------------------------------------------------------------------------------
def test_existing_dwelling_without_added_climate_takes_everything_in_one_block():
    """(A): 32,200 + tub 6,000 + old air conditioner 3,600 = 41,800; 8,000 + 40% of 33,800 = 21,520 VA = 89.7 A."""
    made = plan(house(1500, *OLD_HOUSE, TUB, load(K.AIR_CONDITIONER, "15A@240", "cooling")))
    one = made.load.calculations["existing"]
    assert (total_va(made, "existing"), one.amperes.value, str(one.cite)) == (21_520, 90, "220.83(A)")
    assert made.load.methods["existing"].main.value == 100


@pytest.mark.parametrize(
    ("heating", "controls", "total", "amperes"),
    [
        # two units: the larger of 9,600 and 4,800 in full: 8,000 + 40% of 24,200 + 9,600
        ("9.6kW", 2, 8000 + 9680 + 9600, 114),
        # five units in the block would add 40% of 9,600 = 3,840, the cooling in full 4,800: it alone counts, not both
        ("9.6kW", 5, 8000 + 9680 + 4800, 94),
        # of 14,400 they would add 5,760: they stand in the block, the cooling nowhere
        ("14.4kW", 5, 8000 + 9680 + 5760, 98),
        # little heating: the cooling is the larger
        ("2kW", 1, 8000 + 9680 + 4800, 94),
    ],
)
def test_existing_dwelling_with_added_cooling_takes_the_larger_in_full(heating, controls, total, amperes):
    heat = load(K.HEATING, heating, "baseboards", controls=controls)
    made = plan(house(1500, *OLD_HOUSE, heat, load(K.AIR_CONDITIONER, "20A@240", "cooling", when="added")))
    assert total_va(made, "existing") == pytest.approx(total)
    assert made.load.calculations["existing"].amperes.value == amperes
    assert str(made.load.calculations["existing"].cite) == "220.83(B)"


def test_four_units_in_the_block_are_marked_as_an_inference():
    heat = load(K.HEATING, "9.6kW", "baseboards", controls=4, when="added")
    made = plan(house(1500, heat))
    line = {x.label: x for x in made.load.calculations["existing"].lines}
    assert line["baseboards"].group == "General block" and not line["baseboards"].counted
    few = plan(house(1500, replace(heat, controls=3)))
    steps = next(e for e in few.load.calculations["existing"].entries if e.id == "load.existing.climate").steps
    assert [s.text() for s in steps if s.label == "separately controlled units"] == ["3, fewer than 4"]
    assert plan(house(1500)).codebook.step("existing_many_controls").cites[0].verify


def test_an_interlocked_heat_pump_counts_the_larger_part_in_an_existing_dwelling():
    """Compressor 5,000 against interlocked strips 9,600: 9,600; without the interlock 14,600."""
    pump = load(K.HEAT_PUMP, "5kW", "pump", when="added")
    for locked, counted in ((True, 9600), (False, 14_600)):
        strips = load(K.SUPPLEMENTAL_HEAT, "9.6kW", "strips", when="added", interlocked=locked)
        assert worked(house(1500, pump, strips), "existing")["Heating, in full"] == counted


# --- measured demand [220.87] -----------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("changes", "demand"),
    [
        ({}, 11_500),  # 9.2 kW × 125%
        ({"power_factor": 0.92}, 12_500),  # 9,200 W ÷ 0.92 = 10,000 VA
        ({"peak": 52, "peak_unit": "A"}, 15_600),  # one leg: 52 A × 240 V × 125%
    ],
)
def test_measured_demand_at_125_percent(changes, demand):
    made = plan(measured_house(*OLD_HOUSE, **changes))
    assert total_va(made, "measured") == pytest.approx(demand), "what is there is in the recording"


def test_new_loads_are_added_in_full_and_what_goes_is_not_taken_off():
    """11,500 + charger 11,520 + tub 6,000 + the larger of new heating 4,000 and cooling 4,800 = 33,820 VA = 140.9 A."""
    gone = load(K.WATER_HEATER, "4.5kW", "old heater", when="removed")
    heat, cool = load(K.HEATING, "4kW", "heat", when="added"), load(K.AIR_CONDITIONER, "4.8kW", "cool", when="added")
    made = plan(measured_house(*OLD_HOUSE, CHARGER, TUB, gone, heat, cool))
    assert total_va(made, "measured") == pytest.approx(33_820)
    assert made.load.methods["measured"].main.value == 150
    season = plan(measured_house(*OLD_HOUSE, seasonal_va=3000.0))
    assert total_va(season, "measured") == pytest.approx(14_500)


def test_a_small_new_charger_counts_7200_from_2023():
    small = load(K.EV_CHARGER, "16A@240", "small charger", when="added")
    for edition, counted in (("2017", 3840), ("2020", 3840), ("2023", 7200)):
        job = replace(measured_house(small), edition=edition)
        assert total_va(plan(job), "measured") == 11_500 + counted


def test_circuits_keep_an_expected_load_under_the_measured_method(demo):
    """A recording does not tell circuits apart: the legs stay dealt by the optional calculation."""
    by_optional, by_measured = (
        plan(replace(demo, decisions=replace(demo.decisions, load_method=method)))
        for method in ("optional", "measured")
    )
    assert by_measured.entries["panel.leg_a"].value == by_optional.entries["panel.leg_a"].value
    assert by_measured.entries["service.main"].value == 200


# --- energy management [220.70, 625.42] -------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("edition", "total"),
    [
        ("2023", 9000 + 3000),  # both held back: block 9,000, and 10 A × 240 V × 125%
        (
            "2020",
            10_000 + 0.4 * 5900,
        ),  # the heater stands in the block, the charger beside it as one of 10 A: 9,000 + 4,500 + 2,400
        ("2017", 10_000 + 0.4 * 5900),
    ],
)
def test_a_set_point_stands_for_what_it_holds_back(edition, total):
    """Without it 9,000 + 11,520 + 4,500 = 25,020 in the block: 10,000 + 40% of 15,020 = 16,008."""
    held = (replace(CHARGER, managed=True), load(K.WATER_HEATER, "4.5kW", "heater", managed=True))
    made = plan(house(1500, *held, edition=edition, management={"setpoint_a": 10}))
    assert total_va(made, "optional") == pytest.approx(total)
    assert ("load.managed:heater" in finding_ids(made)) is (edition != "2023")
    share = 3000 / 16_020 if edition == "2023" else None  # else of its 11,520 what is left of 2,400 in the block
    if share:
        assert made.load.calculations["optional"].factors["charger"].amount == pytest.approx(share)


@pytest.mark.parametrize(
    ("edition", "practice", "setpoint_a", "counted", "words"),
    [  # a charger of 48 A: 11,520 VA. Standard calculation, beside 5,100 of the house
        ("2023", "block", 40, 9600, "as a charger of the set point"),  # not 12,000 at 125%
        ("2020", "block", 40, 9600, "as a charger of the set point"),
        ("2017", "block", 40, 9600, "as a charger of the set point"),
        ("2023", "block", 20, 6000, "set point at 125%"),  # 4,800, but a charger counts 7,200 at least
        ("2020", "block", 20, 4800, "as a charger of the set point"),
        ("2023", "continuous", 40, 12_000, "set point at 125%"),  # both readings come to the same
        ("2023", "block", 50, 11_520, "counted without"),
    ],
)  # fmt: skip
def test_the_least_of_three_readings_of_a_set_point_counts_and_is_said(edition, practice, setpoint_a, counted, words):
    held = replace(CHARGER, managed=True)
    parts = {
        "management": {"setpoint_a": setpoint_a},
        "decisions": {"ev_practice": practice, "load_method": "standard"},
    }
    made = plan(house(1500, held, edition=edition, **parts))
    assert total_va(made, "standard") == pytest.approx(5100 + counted)
    assert words in made.load.chosen.practice


def test_two_chargers_share_a_set_point_by_their_nameplates():
    """48 A and 32 A at 40 A: 24 A and 16 A, 5,760 and 3,840 VA; each counts 7,200 from 2023 on, so 12,000 at 125% is less."""
    two = [
        replace(load(K.EV_CHARGER, f"{amps}A@240", name), managed=True) for amps, name in ((48, "left"), (32, "right"))
    ]
    for edition, counted in (("2020", 9600), ("2023", 12_000)):
        made = plan(house(1500, *two, edition=edition, management={"setpoint_a": 40}))
        assert total_va(made, "standard") == pytest.approx(5100 + counted)
    old = plan(house(1500, *two, edition="2020", management={"setpoint_a": 40}))
    assert [old.entries[f"load.permitted.{name}"].value for name in ("left", "right")] == pytest.approx([5760, 3840])


@pytest.mark.parametrize("setpoint_a", [5, 10, 20, 30, 40, 48, 60])
def test_energy_management_never_raises_a_load(setpoint_a):
    """A set point is a permission. By the optional method the charger counts 40% of 11,520 = 4,608: 20 A at 125% are 6,000, more."""
    held = (replace(CHARGER, managed=True), load(K.WATER_HEATER, "4.5kW", "heater", managed=True))
    without = plan(house(1500, *(replace(x, managed=False) for x in held)))
    made = plan(house(1500, *held, management={"setpoint_a": setpoint_a}))
    for method in ("standard", "optional", "existing"):
        assert total_va(made, method) <= total_va(without, method) + 1e-6
    held_back = setpoint_a * 240 * 1.25 < 16_008 - 9000
    assert ("counted without" in made.load.calculations["optional"].practice) is not held_back


def test_a_mark_without_a_set_point_counts_in_full_and_asks():
    held = replace(CHARGER, managed=True)
    made = plan(house(1500, held))
    assert total_va(made, "standard") == 5100 + 11_520 and "load.setpoint" in finding_ids(made)
    idle = plan(house(1500, held, management={"setpoint_a": 60}))
    assert "load.setpoint_high" in finding_ids(idle), "60 A is more than the charger's 48"
    assert "load.setpoint_high" not in finding_ids(plan(house(1500, held, management={"setpoint_a": 40})))


def test_a_set_point_spares_no_neutral():
    """A 120 V load that is held back still returns over the neutral: 5,100 + 1,800 = 6,900 VA = 28.75 A."""
    held = load(K.APPLIANCE, "1800VA", "kiln", volts=120, managed=True)
    made = plan(house(1500, held, management={"setpoint_a": 5}))
    assert made.load.neutral.value == 29


# --- vehicle charging by practice ---------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("practice", "standard", "optional"),
    [
        ("block", 5100 + 11_520, 10_000 + 0.4 * 10_520),  # 9,000 + 11,520 = 20,520 in the block
        ("added", 5100 + 11_520, 9000 + 11_520),
        ("continuous", 5100 + 14_400, 9000 + 14_400),  # 11,520 × 125%
    ],
)
def test_charging_by_practice(practice, standard, optional):
    made = plan(house(1500, CHARGER, decisions={"ev_practice": practice}))
    assert total_va(made, "standard") == pytest.approx(standard)
    assert total_va(made, "optional") == pytest.approx(optional)
    assert ("load.ev_practice" in finding_ids(made)) is (practice == "continuous")


@pytest.mark.parametrize("edition", JUDGED)
def test_the_least_charging_load_is_raised_before_it_is_taken_as_continuous(edition):
    """16 A × 240 V = 3,840; from 2023 at least 7,200; then 125%."""
    small = load(K.EV_CHARGER, "16A@240", "small charger")
    job = house(1500, small, edition=edition, decisions={"ev_practice": "continuous"})
    assert worked(job)["small charger"] == (9000 if edition == "2023" else 4800)


# --- two legs of a wye ------------------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("supply", "amperes", "neutral"),
    [
        ("120/240", 48, 40),  # 11,500 ÷ 240 = 47.9; neutral 5,100 + 70% of 6,400 = 9,580 ÷ 240 = 39.9
        ("208Y/120", 55, 55),  # 11,500 ÷ 208 = 55.3; nothing is reduced on the neutral
    ],
)
def test_a_wye_supply_has_208_volts_and_no_reduced_neutral(supply, amperes, neutral):
    made = plan(house(1500, load(K.COOKING, "8kW", "range", uses_neutral=True), dwelling={"supply": supply}))
    assert made.load.calculations["standard"].amperes.value == amperes
    assert made.load.neutral.value == neutral
    assert ("load.supply" in finding_ids(made)) is (supply == "208Y/120")


# --- bad input --------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("job", "finding"),
    [
        (with_plate("cooking", 900, "A", 240), "load.nameplate:cooking"),
        (with_plate("cooking_unit", 3, "kW", 0), "load.nameplate:cooking_unit"),
        (house(1500, dwelling={"small_appliance_circuits": 13}), "load.small_appliance_circuits"),
        (house(24_000), "load.area_large"),
        (house(2_000, unit="m2"), "load.area_large"),
        (house(1500, scope="upgrade", decisions={"load_method": "existing"}), "load.method"),
        (house(1500, local_rules=[{"key": "optional_rest", "value": -1}]), "load.local:optional_rest"),
        (house(1500, local_rules=[{"key": "no_such_figure", "value": 1}]), "load.local:no_such_figure"),
        (house(1500, futures=[{"id": "f", "name": "f", "load_ids": ["ghost"]}]), "load.future:f:ghost"),
    ],
)  # fmt: skip
def test_what_cannot_be_meant_is_asked_about(job, finding):
    made = plan(job)
    found = next(f for f in made.findings if f.id == finding)
    assert found.remedy and found.text and finding not in finding_ids(plan(house(1500, TUB)))


def test_scopes_that_keep_the_service():
    kept = {kind for kind in ANSWERS if answers(kind).keeps_service}
    assert kept == {"swap", "larger_bus", "relocated", "merged", "outside_disconnect", "sub_panel"}
