"""One test per rule of the load calculation, on both sides of its edge."""

from __future__ import annotations

import pytest
from builders import JUDGED, K, finding_ids, house, load, total_va, unknown_load, worked
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.ledger.entry import Step
from robust_ledger.ledger.working import Working
from robust_ledger.load.cooking import cooking_demand
from robust_ledger.load.general import load_inputs
from robust_ledger.plan import plan

BOOK = load_codebook("2023")


def cooking_va(*ratings_kw: float) -> float:
    job = house(1000, *(load(K.COOKING, f"{kw}kW", f"range {n}") for n, kw in enumerate(ratings_kw)))
    inputs = load_inputs(job, BOOK)
    return cooking_demand(Working("x", "x"), list(inputs.nameplates.values()), BOOK).amount


@pytest.mark.parametrize(
    ("ratings_kw", "demand_va"),
    [
        ([12], 8000),  # column C
        ([11.2], 8000),
        ([8.75], 7000),  # column B: 80% of 8.75 is less than 8
        ([8.8], 8000),  # above 8¾ column B is closed
        ([3.4], 0.80 * 3400),  # column A
        ([3.5], 0.80 * 3500),  # column B
        ([12.4], 8000),  # less than half a kilowatt over 12
        ([12.5], 8000 * 1.05),  # a major fraction
        ([14.5], 8000 * 1.15),
        ([16], 8000 * 1.20),
        ([27], 8000 * 1.75),
        ([12, 12], 11_000),
        ([10, 16], 11_000 * 1.10),  # average of 12 (floor) and 16 is 14: two over
        ([12, 12, 18], 14_000 * 1.10),
        ([6, 6], 0.65 * 12_000),  # two in column B: 7,800 against 11,000
        ([3, 6], 0.80 * 3000 + 0.80 * 6000),  # one in A, one in B: 7,200
        ([4, 4, 12], 0.65 * 8000 + 8000),  # two in B and one in C: 13,200 against 14,000
    ],
)
def test_cooking_demand(ratings_kw, demand_va):
    assert cooking_va(*ratings_kw) == pytest.approx(demand_va)


@given(st.lists(st.floats(1.8, 27), min_size=1, max_size=6))
def test_cooking_demand_is_never_more_than_the_nameplates_when_none_is_tiny(ratings):
    ratings = [round(r, 1) for r in ratings]
    demand = cooking_va(*ratings)
    assert 0 < demand <= sum(max(r, 8) for r in ratings) * 1000 + 1e-6


def test_cooking_past_the_table_is_unknown_not_guessed():
    made = plan(house(1500, load(K.COOKING, "30kW", "hotel range")))
    assert not made.load.calculations["standard"].total.known
    assert "27 kW" in made.load.calculations["standard"].total.why_unknown


def test_a_small_cooking_appliance_stands_with_the_fastened_ones():
    tape = worked(house(1500, load(K.COOKING_UNIT, "1.7kW", "hot plate")))
    assert tape["hot plate"] == 1700


@pytest.mark.parametrize(
    ("rating", "count", "demand"),
    [("4.5kW", 1, 5000), ("5kW", 1, 5000), ("5.6kW", 1, 5600), ("5kW", 4, 20_000), ("6kW", 5, 0.85 * 30_000)],
)
def test_dryers_least_5000_each_and_the_table_above_four(rating, count, demand):
    dryers = [load(K.DRYER, rating, f"dryer {n}") for n in range(count)]
    assert total_va(plan(house(1000, *dryers)), "standard") - total_va(plan(house(1000)), "standard") == pytest.approx(
        demand
    )


@pytest.mark.parametrize(
    ("edition", "watts", "factors"),
    [
        # the fourth appliance is what is varied; three of 1,000 VA are there
        ("2017", 300, (0.75, 0.75)),
        ("2020", 300, (1.0, 1.0)),
        ("2020", 500, (0.75, 0.75)),
        ("2023", 499, (1.0, 1.0)),
        ("2023", 500, (0.75, 0.75)),
    ],
)
def test_four_or_more_fastened_appliances(edition, watts, factors):
    three = [load(K.APPLIANCE, "1000VA@120", f"appliance {n}") for n in range(3)]
    tape = worked(house(1500, *three, load(K.APPLIANCE, f"{watts}VA@120", "fourth"), edition=edition))
    assert (tape["appliance 0"] / 1000, tape["fourth"] / watts) == pytest.approx(factors)


def test_a_small_one_beside_four_large_ones_stays_at_100_percent():
    four = [load(K.APPLIANCE, "1000VA@120", f"appliance {n}") for n in range(4)]
    tape = worked(house(1500, *four, load(K.APPLIANCE, "180VA@120", "hood")))
    assert (tape["appliance 0"], tape["hood"]) == (750, 180)


@pytest.mark.parametrize(("hp", "va", "factor"), [(0.2, 490, 1.0), (0.25, 490, 0.75), (0.2, 500, 0.75)])
def test_a_motor_counts_from_a_quarter_horsepower_or_500_watts(hp, va, factor):
    """A garbage disposer's small motor beside a heater of 500 W does not hide the watts."""
    three = [load(K.APPLIANCE, "1000VA@120", f"appliance {n}") for n in range(3)]
    pump = load(K.MOTOR, f"{va}VA@120", "pump", is_motor=True, motor_hp=hp)
    assert worked(house(1500, *three, pump))["pump"] == pytest.approx(va * factor)


@pytest.mark.parametrize(
    ("edition", "watts", "counted"),
    [("2017", 3800, 3800), ("2020", 3800, 3800), ("2023", 3800, 7200), ("2023", 11_520, 11_520)],
)
def test_vehicle_charging_by_edition(edition, watts, counted):
    assert worked(house(1500, load(K.EV_CHARGER, f"{watts}VA", "charger"), edition=edition))["charger"] == counted
    assert (
        worked(house(1500, load(K.EV_CHARGER, f"{watts}VA", "charger"), edition=edition), "optional")["charger"]
        == counted
    )


def test_only_the_larger_of_heating_and_cooling_with_its_motor():
    """5 kW of heat against 4,800 VA of cooling: with 25% of its motor the cooling is 6,000 and counts."""
    heat, cool = load(K.HEATING, "5kW", "baseboards"), load(K.AIR_CONDITIONER, "20A@240", "cooling")
    tape = worked(house(1500, heat, cool))
    assert tape["cooling"] == 4800 and "baseboards" not in tape
    assert tape["Largest motor, addition"] == 1200
    tape = worked(house(1500, load(K.HEATING, "6.1kW", "baseboards"), cool))
    assert tape["baseboards"] == 6100 and "cooling" not in tape and "Largest motor, addition" not in tape


@pytest.mark.parametrize(
    ("interlocked", "counted"), [(False, {"pump": 5000, "strip": 10_000}), (True, {"strip": 10_000})]
)
def test_an_interlock_takes_the_compressor_out(interlocked, counted):
    job = house(
        1500, load(K.HEAT_PUMP, "5000VA", "pump"), load(K.SUPPLEMENTAL_HEAT, "10kW", "strip", interlocked=interlocked)
    )
    tape = worked(job)
    assert {name: tape[name] for name in ("pump", "strip") if name in tape} == counted
    optional = plan(job).load.calculations["optional"].lines[-1]
    assert optional.result_va == pytest.approx(6500 if interlocked else 5000 + 6500)


@pytest.mark.parametrize(("controls", "factor"), [(1, 0.65), (3, 0.65), (4, 0.40), (9, 0.40)])
def test_optional_heating_by_the_number_of_controls(controls, factor):
    job = house(1500, load(K.HEATING, "10kW", controls=controls))
    assert plan(job).load.calculations["optional"].lines[-1].result_va == pytest.approx(10_000 * factor)


def test_optional_takes_the_largest_choice_of_heating_and_cooling():
    loads = [load(K.AIR_CONDITIONER, "7000VA"), load(K.HEATING, "10kW"), load(K.THERMAL_STORAGE, "6.9kW")]
    line = plan(house(1500, *loads)).load.calculations["optional"].lines[-1]
    assert (line.label, line.result_va) == ("Air conditioning", 7000)
    line = plan(house(1500, *loads[1:])).load.calculations["optional"].lines[-1]
    assert (line.label, line.result_va) == ("Thermal storage", 6900)


@pytest.mark.parametrize(("va", "counted"), [(9_999, 9_999), (10_000, 10_000), (12_500, 11_000)])
def test_optional_first_10_kva(va, counted):
    """The general loads are 500 × 3 + 4,500 = 6,000; an appliance brings the block to the edge."""
    job = house(500, load(K.APPLIANCE, f"{va - 6000}VA"))
    assert total_va(plan(job), "optional") == pytest.approx(counted)


@pytest.mark.parametrize(
    ("one", "amperes"),
    [
        (load(K.APPLIANCE, "2400VA@120"), 10),  # 120 V loads always use the neutral
        (load(K.APPLIANCE, "2400VA", uses_neutral=False), 0),  # 240 V alone: none
        (load(K.APPLIANCE, "2400VA"), 10),  # not said: taken as having one
        (load(K.WATER_HEATER, "2400VA"), 0),  # by its kind it has none
        (load(K.WATER_HEATER, "2400VA", uses_neutral=True), 10),
        (load(K.PLUG_IN, "2400VA@120"), 10),
        (load(K.APPLIANCE, "2400VA", "tub", uses_neutral=True), 10),
        (load(K.LIGHTING, "2400VA@120"), 10),
        (load(K.COOKING, "12kW", uses_neutral=True), 0.7 * 8000 / 240),
        (load(K.COOKING, "12kW"), 0.7 * 8000 / 240),  # a range has a neutral unless said otherwise
        (load(K.COOKING, "12kW", uses_neutral=False), 0),
        (load(K.DRYER, "5kW"), 0.7 * 5000 / 240),
        (load(K.MOTOR, "2400VA@120", is_motor=True), 10 + 2.5),
        (load(K.HEATING, "2400VA@120"), 10),
        (load(K.EV_CHARGER, "9600VA"), 0),
    ],
)
def test_what_a_load_puts_on_the_neutral(one, amperes):
    def unbalance(job):
        return next(s for s in plan(job).load.neutral.steps if s.label == "unbalance at the service voltage").amount

    assert unbalance(house(1000, one)) - unbalance(house(1000)) == pytest.approx(amperes)


def test_the_neutral_above_200_amperes_at_70_percent():
    """Three 120 V appliances of 20 kVA at 100%. Two are on one leg and the general load fills up the other: 40,000 ÷ 120 = 333.3 A, of
    which the part over 200 counts 70%: 293.3."""
    job = house(1000, *(load(K.APPLIANCE, "20kW@120", f"oven {n}") for n in range(3)))
    assert plan(job).load.neutral.value == 293


@pytest.mark.parametrize(
    ("job", "why", "finding"),
    [
        (house(None), "floor area", "load.area"),
        (house(0), "floor area", "load.area"),
        (house(-5), "floor area", "load.area"),
        (
            house(1500, unknown_load(K.DRYER, "dryer", uses_neutral=True)),
            "dryer: nameplate rating",
            "load.nameplate:dryer",
        ),
    ],
)
def test_what_is_not_known_is_shown_as_unknown_all_the_way(job, why, finding):
    made = plan(job)
    for entry_id in (
        "load.optional.total",
        "load.standard.total",
        "load.neutral",
        "service.main",
        "service.neutral",
        "service.gec",
    ):
        assert made.entries[entry_id].value is None
        assert why in made.entries[entry_id].why_unknown, entry_id
    assert finding in finding_ids(made)


def test_a_negative_nameplate_in_a_file_is_unknown_and_asked_for():
    dryer = unknown_load(K.DRYER, "dryer")
    job = house(1500, replace(dryer, nameplate=replace(dryer.nameplate, amount=-5.0)))
    made = plan(job)
    assert not made.entries["load.nameplate.dryer"].known
    assert "has a nameplate of -5 VA" in next(f.text for f in made.findings if f.id == "load.nameplate:dryer")


def test_a_charger_listed_twice_is_asked_about():
    twice = [load(K.EV_CHARGER, "48A@240", f"charger {n}") for n in range(2)]
    assert "load.chargers" in finding_ids(plan(house(1500, *twice)))
    assert "load.chargers" not in finding_ids(plan(house(1500, twice[0])))


@pytest.mark.parametrize("edition", JUDGED)
def test_every_citation_belongs_to_the_jobs_edition(edition, demo):
    made = plan(replace(demo, edition=edition))
    for entry in made.entries.values():
        assert all(cite.edition == edition for cite in entry.sections())
    assert all(cite.edition == edition for finding in made.findings for cite in finding.cites)


def test_a_tape_line_cites_as_its_edition_numbers_it():
    for edition, section in (("2017", "220.12"), ("2020", "220.14(J)"), ("2023", "220.41")):
        line = plan(house(1500, edition=edition)).load.calculations["standard"].lines[0]
        assert str(line.cites[0]) == section


@given(st.integers(500, 6000), st.integers(0, 20_000), st.sampled_from(["standard", "optional"]))
def test_more_area_or_more_load_never_makes_the_service_smaller(area, watts, method):
    """True for single additions that do not make the fourth fastened appliance."""
    plain = total_va(plan(house(area)), method)
    assert total_va(plan(house(area + 10)), method) > plain
    if watts >= 1:
        assert total_va(plan(house(area, load(K.WATER_HEATER, f"{watts}VA"))), method) >= plain


def test_a_rating_in_amperes_counts_at_the_nameplates_own_voltage():
    assert (
        plan(house(1500, load(K.AIR_CONDITIONER, "20A@230", "cooling"))).entries["load.nameplate.cooling"].value == 4600
    )
    step = Step("x", 1)
    assert step.known
