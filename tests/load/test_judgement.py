"""Doubts and readings of the load: each with a twin one fact away, and worked by hand to the volt-ampere in every edition."""

from __future__ import annotations

import pytest
from builders import JUDGED, K, called_out, finding_ids, house, load, total_va, unknown_load, worked
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.job.edits import with_part
from robust_ledger.load.legs import least_lean_va
from robust_ledger.plan import plan

# 1,500 ft²: 4,500 + 3,000 + 1,500 = 9,000 VA before demand; by the standard calculation 3,000 + 35% of 6,000 = 5,100.
RANGE, DRYER, HEATER = (
    load(K.COOKING, "12kW", "range"),
    load(K.DRYER, "5kW", "dryer"),
    load(K.WATER_HEATER, "4.5kW", "heater"),
)


def neutral_a(*loads, **more) -> float:
    return plan(house(1500, *loads, **more)).load.neutral.value


# --- the neutral ----------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize("edition", JUDGED)
def test_the_neutral_of_a_house_by_hand(edition):
    """5,100 + range 8,000 × 70% = 5,600 + dryer 5,000 × 70% = 3,500 + dishwasher 1,200: 15,400 VA ÷ 240 = 64.2 A. The water heater has
    no neutral."""
    dishwasher = load(K.APPLIANCE, "1200VA@120", "dishwasher")
    assert neutral_a(RANGE, DRYER, HEATER, dishwasher, edition=edition) == 64
    without = replace(RANGE, uses_neutral=False)
    assert neutral_a(without, DRYER, HEATER, dishwasher, edition=edition) == 41  # 9,800 ÷ 240 = 40.8


def test_the_neutral_takes_the_season_that_puts_more_on_it():
    """Heating governs the whole load (9,600 against 1,200 + 25%) and has no neutral; the 120 V window unit of summer has: its 1,200 VA and a
    quarter of its motor are on the neutral all the same: 5,100 + 1,500 = 6,600 ÷ 240 = 27.5 A."""
    window = load(K.AIR_CONDITIONER, "10A@120", "window unit")
    baseboards = load(K.HEATING, "9.6kW", "baseboards")
    assert neutral_a(window) == neutral_a(window, baseboards) == 28
    assert neutral_a(baseboards) == 21  # 5,100 ÷ 240 = 21.25


PLATES = st.lists(
    st.tuples(
        st.sampled_from(
            [K.APPLIANCE, K.MOTOR, K.AIR_CONDITIONER, K.HEATING, K.LIGHTING, K.PLUG_IN, K.DRYER, K.COOKING]
        ),
        st.integers(300, 9000),
        st.sampled_from([120, 240]),
    ),
    max_size=6,
)


@given(
    PLATES,
    st.sampled_from([K.APPLIANCE, K.WATER_HEATER, K.HEATING, K.EV_CHARGER, K.HEAT_PUMP]),
    st.integers(500, 12_000),
)
def test_a_240_volt_load_never_lowers_the_neutral(plates, kind, va):
    """Without a neutral of its own it leaves it alone, with one it adds to it; but the fourth fixed appliance puts all four at 75% (220.53),
    which may take off more than it adds."""
    loads = [load(kind_, f"{amount}VA@{volts}", f"load {n}") for n, (kind_, amount, volts) in enumerate(plates)]
    added = load(kind, f"{va}VA@240", "added", uses_neutral=False)
    before, after = neutral_a(*loads), neutral_a(*loads, added)
    assert after == before
    fixed = sum(kind_ in (K.APPLIANCE, K.MOTOR, K.COOKING) for kind_, _, _ in plates) + (
        kind in (K.APPLIANCE, K.WATER_HEATER)
    )
    least = 0.75 * before - 1 if fixed >= 4 else before  # 1 A: both are rounded
    assert neutral_a(*loads, replace(added, uses_neutral=True)) >= least


# --- a plug-in appliance ----------------------------------------------------------------------------------------------------
@pytest.mark.parametrize("edition", JUDGED)
def test_a_plug_in_appliance_is_left_alone_by_fixed_in_place_rules(edition):
    """Three fixed ones of 1,000 VA and a freezer: with it fixed in place all four would be at 75%. 220.82(B) counts it in the block."""
    three = [load(K.APPLIANCE, "1000VA@120", f"appliance {n}") for n in range(3)]
    freezer = load(K.PLUG_IN, "900VA@120", "freezer")
    fixed = replace(freezer, kind=K.APPLIANCE)
    assert total_va(plan(house(1500, *three, freezer, edition=edition)), "standard") == 5100 + 3000 + 900
    assert total_va(plan(house(1500, *three, fixed, edition=edition)), "standard") == 5100 + 0.75 * 3900
    # 9,000 + 3,900 = 12,900: 10,000 + 40% of 2,900
    assert total_va(plan(house(1500, *three, freezer, edition=edition)), "optional") == 11_160


# --- 220.83 -----------------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize("edition", JUDGED)
def test_a_central_furnace_is_no_room_unit(edition):
    """Five room units of 10 kW in all stand in the block at 40%: 8,000 + 40% of 11,000 = 12,400. A furnace of 10 kW counts in full: 8,000 +
    40% of 1,000 + 10,000 = 18,400, however many thermostats."""
    units = load(K.HEATING, "10kW", "heat", controls=5, when="added")
    assert total_va(plan(house(1500, units, edition=edition)), "existing") == 12_400
    assert total_va(plan(house(1500, replace(units, kind=K.FURNACE), edition=edition)), "existing") == 18_400


@pytest.mark.parametrize("edition", JUDGED)
def test_a_like_for_like_replacement_adds_nothing(edition):
    """A 5 kW condenser for one of 5 kW is part (A): 9,000 + 5,000 = 14,000 in the block, 8,000 + 40% of 6,000 = 10,400. One of 6 kW is part
    (B): 8,000 + 40% of 1,000 + 6,000 = 14,400."""
    old = load(K.AIR_CONDITIONER, "5kW", "old", when="removed")
    new = load(K.AIR_CONDITIONER, "5kW", "new", when="added")
    alike = plan(house(1500, old, new, edition=edition))
    assert total_va(alike, "existing") == 10_400 and "part (A)" in alike.load.calculations["existing"].practice
    larger = plan(house(1500, old, load(K.AIR_CONDITIONER, "6kW", "new", when="added"), edition=edition))
    assert total_va(larger, "existing") == 14_400 and "part (B)" in larger.load.calculations["existing"].practice
    other = plan(house(1500, replace(old, kind=K.HEATING), new, edition=edition))
    assert "part (B)" in other.load.calculations["existing"].practice, "a heater that goes makes no room for cooling"


# --- 220.82 with several systems ----------------------------------------------------------------------------------------------
@pytest.mark.parametrize("edition", JUDGED)
def test_two_heat_pumps_one_of_them_interlocked(edition):
    """Upstairs 4,000 VA, its 9,600 of heat interlocked: the larger of 4,000 and 65% = 6,240. Downstairs 5,000 and 8,000 that runs with it:
    5,000 + 5,200. Together 16,440; the interlock of one pair spares the other nothing."""
    up, down = load(K.HEAT_PUMP, "4kW", "up"), load(K.HEAT_PUMP, "5kW", "down")
    up_heat = load(K.SUPPLEMENTAL_HEAT, "9.6kW", "up heat", interlocked=True, interlocks_with="up")
    down_heat = load(K.SUPPLEMENTAL_HEAT, "8kW", "down heat")
    job = house(1500, up, down, up_heat, down_heat, edition=edition)
    assert total_va(plan(job), "optional") == 9000 + 6240 + 5000 + 5200
    unnamed = house(1500, up, down, replace(up_heat, interlocks_with=""), down_heat, edition=edition)
    assert total_va(plan(unnamed), "optional") == 9000 + 4000 + 5000 + 0.65 * 17_600, (
        "with which pump is not told: beside both"
    )
    assert "load.interlock:up-heat" in finding_ids(plan(unnamed)) and "load.interlock:up-heat" not in finding_ids(
        plan(job)
    )


@pytest.mark.parametrize("edition", JUDGED)
def test_every_cooling_zone_counts(edition):
    """Two condensers of 3,600 and a heat pump of 4,000: 11,200 on the hottest day."""
    zones = [load(K.AIR_CONDITIONER, "15A@240", f"zone {n}") for n in range(2)]
    pump = load(K.HEAT_PUMP, "4kW", "pump")
    assert total_va(plan(house(1500, *zones, pump, edition=edition)), "optional") == 9000 + 11_200
    assert total_va(plan(house(1500, *zones, edition=edition)), "optional") == 9000 + 7200


# --- motors by horsepower ------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("hp", "volts", "va"),
    [
        (0.5, 120, 9.8 * 120),
        (1, 240, 8 * 240),
        (1.5, 240, 10 * 240),
        (5, 240, 28 * 240),
        (0.6, 120, 13.8 * 120),
        (10, 240, 12_000),
    ],
)
def test_a_motor_known_by_its_horsepower_takes_the_tables_current(hp, volts, va):
    """0.6 hp is between two rows: the larger one."""
    pump = load(K.MOTOR, f"{hp}hp", "pump", volts=volts)
    assert worked(house(1500, pump))["pump"] == pytest.approx(va)
    by_field = unknown_load(K.MOTOR, "pump", volts, motor_hp=hp)
    made = plan(house(1500, by_field))
    assert made.entries["load.nameplate.pump"].amount == pytest.approx(va) and "load.nameplate:pump" not in finding_ids(
        made
    )
    none = plan(house(1500, unknown_load(K.MOTOR, "pump", volts)))
    assert not none.entries["load.nameplate.pump"].known and "load.nameplate:pump" in finding_ids(none)


def test_a_motor_table_that_ends_leaves_the_load_unknown():
    assert not plan(house(1500, unknown_load(K.MOTOR, "lathe", 240, motor_hp=15))).load.chosen.total.known


@pytest.mark.parametrize(
    ("name", "counts"), [("range hood", True), ("garbage disposer", True), ("dishwasher", False), ("kiln", False)]
)
def test_words_tell_a_motor_where_nobody_says_it(name, counts):
    """25% of the largest motor is added for what is plainly one; a tick either way goes before the words."""
    job = house(1500, load(K.APPLIANCE, "800VA@120", name))
    assert ("Largest motor, addition" in worked(job)) is counts
    said = house(1500, load(K.APPLIANCE, "800VA@120", name, is_motor=not counts))
    assert ("Largest motor, addition" in worked(said)) is not counts


# --- the fuller leg ---------------------------------------------------------------------------------------------------------------
def test_a_120_volt_load_that_leans_on_one_leg_can_decide_the_main():
    """By the standard calculation 5,100 + 12,000 = 17,100 VA: 71 A of the whole. But 12,000 VA at 120 V are 100 A of one leg; the general
    load of 5,100 fills the other: (17,100 + 6,900) ÷ 240 = 100 A. With 1,000 more on it, 104 A: a main of 110."""
    kiln = load(K.APPLIANCE, "12kW@120", "kiln", is_motor=False)
    made = plan(house(1500, kiln, decisions={"load_method": "standard"}))
    assert made.load.chosen.amperes.value == 71 and made.load.method.fuller.value == 100
    assert made.service.main.value == 100
    more = plan(
        house(
            1500, replace(kiln, nameplate=replace(kiln.nameplate, amount=13.0)), decisions={"load_method": "standard"}
        )
    )
    assert more.load.method.fuller.value == 108 and more.service.main.value == 110
    both = plan(house(1500, load(K.APPLIANCE, "13kW@240", "kiln"), decisions={"load_method": "standard"}))
    assert both.load.method.fuller is None and both.service.main.value == 100


@given(st.lists(st.integers(1, 900), max_size=9), st.integers(0, 3000))
def test_loads_are_dealt_out_as_well_as_they_can_be(tens, spread):
    """Against every way of dealing them out."""
    loads = [10.0 * one for one in tens]
    best = min(
        (abs(sum(loads) - 2 * sum(v for n, v in enumerate(loads) if way >> n & 1)) for way in range(2 ** len(loads))),
        default=0,
    )
    assert least_lean_va(loads, float(spread)) == pytest.approx(max(0, best - spread))


# --- asked, and one fact away silent ------------------------------------------------------------------------------------------------
RECORDED = {"route": "thirty_days", "days": 32.0, "longest_days": 31.0, "coverage": 1.0, "peak": 40.0, "peak_unit": "A", "interval_min": 15,
            "occupied": True, "seasonal": True, "renewable": False}  # fmt: skip
FLAT = {"id": "f", "name": "flat", "circuits": [{"name": "flat range", "poles": 2}]}
ASKED = [
    ("an area in the other unit", house(1600), house(160), "load.area_unit"),
    ("square feet typed as square meters", house(160, unit="m2"), house(1600, unit="m2"), "load.area_unit"),
    ("a 480 V nameplate", house(1500, load(K.APPLIANCE, "2kW@240", "kiln")),
     house(1500, {"id": "kiln", "name": "kiln", "nameplate": {"amount": 2, "unit": "kW", "volts": 480}}), "load.volts:kiln"),
    ("a 12 V nameplate", house(1500, load(K.LIGHTING, "300VA@120", "path")),
     house(1500, {"id": "path", "name": "path", "kind": "lighting", "nameplate": {"amount": 300, "volts": 12}}), "load.volts:path"),
    ("a dryer on the laundry circuit", house(1500, load(K.DRYER, "5kW@240", "dryer")), house(1500, load(K.DRYER, "700VA@120", "dryer")),
     "load.dryer:dryer"),
    ("a future with circuits and no load", house(1500, load(K.COOKING, "8kW", "range", when="later"), futures=[{**FLAT, "load_ids": ["range"]}]),
     house(1500, futures=[FLAT]), "load.future_load:f"),
    ("a second range", house(1500, RANGE), house(1500, RANGE, load(K.COOKING, "8kW", "second range")), "load.units"),
    ("words of an apartment", called_out(house(1500), "1 20 12 workshop receptacles"), called_out(house(1500), "1 20 12 apartment receptacles"),
     "load.units"),
    ("two units on one service", house(1500, dwelling={"units": 1}), house(1500, dwelling={"units": 2}), "load.units"),
    ("no units at all", house(1500, dwelling={"units": 1}), house(1500, dwelling={"units": 0}), "load.units"),
]  # fmt: skip


@pytest.mark.parametrize(("about", "quiet", "loud", "finding_id"), ASKED, ids=[one[0] for one in ASKED])
def test_doubts_a_seasoned_eye_has(about, quiet, loud, finding_id):
    assert finding_id not in finding_ids(plan(quiet)) and finding_id in finding_ids(plan(loud)), about


@pytest.mark.parametrize(("units", "asked", "known"), [(None, True, True), (0, False, True), (1, False, False)])
def test_a_future_that_is_a_dwelling_of_its_own_is_no_column_of_one(units, asked, known):
    """A second range comes: with which meaning is asked; as a unit of its own its column is unknown, with the section that holds."""
    second = load(K.COOKING, "8kW", "second range", when="later")
    future = {"id": "f", "name": "basement", "load_ids": ["second-range"], "units": units}
    made = plan(house(1500, RANGE, second, futures=[future]))
    assert ("load.future_units:f" in finding_ids(made)) is asked
    column = made.what_if.columns[-1]
    assert column.load.known is known and (known or "220.85 for two" in column.load.why_unknown)
    alone = plan(house(1500, second, futures=[future]))
    assert "load.future_units:f" not in finding_ids(alone), "the only range of the house"


def test_who_says_that_there_is_one_unit_is_not_asked():
    two = house(1500, RANGE, load(K.COOKING, "8kW", "second range"), dwelling={"units": 1})
    assert "load.units" not in finding_ids(plan(two))


def test_several_units_close_the_calculations_of_one_dwelling():
    made = plan(house(1500, RANGE, dwelling={"units": 2}, scope="swap"))
    assert {name for name, method in made.load.methods.items() if method.open} == {"standard"}
    assert "220.85 for two" in made.load.methods["optional"].why


def test_a_future_without_a_load_never_fits():
    columns = plan(house(1500, RANGE, futures=[FLAT])).what_if.columns
    assert not columns[-1].load.known and not columns[-1].room[200].known and columns[1].load.known
    grown = [{**FLAT, "circuits": [{"name": "den receptacles"}], "area": 300.0}]
    assert plan(house(1500, RANGE, futures=grown)).what_if.columns[-1].load.known, (
        "120 V circuits of an area that is entered"
    )


def test_a_gas_range_is_no_range():
    """600 VA of clock and igniters on 120 V: no 8 kW by the table, no range circuit of 40 A, no electric range to protect in 2023."""
    gas = load(K.COOKING, "600VA@120", "gas range")
    tape = worked(house(1500, gas))
    assert tape["gas range"] == 600
    for words, electric in (("1 20 12 gas range", False), ("1,3 50/2 6 range", True)):
        assert ("range" in plan(called_out(house(1500), words)).branch("tag:1").serves.appliances) is electric
    listed = house(
        1500, gas, circuits=({"tag": 1, "spaces": ("1",), "load_ids": ("gas-range",), "gauge": "12", "breaker_a": 20},)
    )
    assert "range" not in plan(listed).branch("tag:1").serves.appliances


# --- loads above the main --------------------------------------------------------------------------------------------------------------
TANKLESS = load(K.WATER_HEATER, "36kW", "tankless")


def test_a_single_load_above_what_the_main_passes_is_a_stop():
    """36,000 ÷ 240 = 150 A; by the optional method 9,000 + 36,000 = 45,000: 10,000 + 14,000 = 24,000 VA = 100 A, which a main of 125 A holds."""
    made = plan(house(1500, TANKLESS, decisions={"main_a": 125.0}))
    assert made.load.chosen.amperes.value == 100
    stop = next(f for f in made.findings if f.id == "service.single:tankless")
    assert (stop.severity, stop.title) == (
        "STOP",
        "tankless: 150 A on a main of 125 A",
    ) and "36,000 VA ÷ 240 V = 150.0 A" in stop.text
    assert "service.single:tankless" not in finding_ids(plan(house(1500, TANKLESS, decisions={"main_a": 150.0})))


def test_continuous_loads_together_at_125_percent():
    """Two chargers of 48 A: 96 × 1.25 = 120 A on a main of 100."""
    chargers = [load(K.EV_CHARGER, "48A@240", f"charger {n}") for n in range(2)]
    made = plan(house(1500, *chargers, decisions={"main_a": 100.0}))
    fix = next(f for f in made.findings if f.id == "service.continuous")
    assert fix.severity == "FIX" and "× 1.25 = 120.0 A" in fix.text
    assert "service.continuous" not in finding_ids(plan(house(1500, *chargers, decisions={"main_a": 125.0})))
    assert "service.continuous" not in finding_ids(plan(house(1500, chargers[0], decisions={"main_a": 100.0})))


# --- solar closes the 30-day route wherever it is known ------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("change", "open_"),
    [
        ({}, True),
        ({"equipment": {"inverter_a": 20.0}}, False),
        ({"equipment": {"battery": True}}, False),
        ({"equipment": {"battery": False}}, True),
        ({"measured": {**RECORDED, "exports": True}}, False),
        ({"measured": {**RECORDED, "renewable": None}}, False),
        ({"measured": {**RECORDED, "renewable": True}}, False),
    ],
)
@pytest.mark.parametrize("edition", JUDGED)
def test_a_source_known_anywhere_closes_the_30_days(change, open_, edition):
    job = house(1500, scope="swap", edition=edition, **{"measured": RECORDED, **change})
    assert plan(job).load.methods["measured"].open is open_


# --- practices are said ----------------------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("practice", "words"), [("block", "in the block"), ("added", "at 100% after the block"), ("continuous", "at 125%")]
)
def test_the_practice_that_was_used_is_said(practice, words):
    charger = load(K.EV_CHARGER, "48A@240", "charger")
    made = plan(house(1500, charger, decisions={"ev_practice": practice}))
    assert words in made.load.chosen.practice
    assert not plan(house(1500, RANGE)).load.chosen.practice, "with one way to count there is nothing to say"


@settings(max_examples=25)
@given(PLATES, st.sampled_from(JUDGED), st.integers(1, 60))
def test_a_set_point_never_raises_any_calculation(plates, edition, setpoint_a):
    loads = [load(kind, f"{amount}VA@{volts}", f"load {n}") for n, (kind, amount, volts) in enumerate(plates)]
    held = [replace(one, managed=True) for one in loads]
    plain = plan(house(1500, *loads, edition=edition))
    made = plan(with_part(house(1500, *held, edition=edition), "management", setpoint_a=float(setpoint_a)))
    for method in ("standard", "optional", "existing"):
        assert total_va(made, method) <= total_va(plain, method) + 1e-6
