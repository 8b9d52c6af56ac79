"""Breakers and wires of branch circuits where a rule turns, each figure by hand."""

from __future__ import annotations

import pytest
from builders import K, circuit, load
from msgspec.structs import replace

from robust_ledger.branch.ampacity import WiringConditions, at_best, column, wire_limit
from robust_ledger.branch.breaker import existing_breaker
from robust_ledger.branch.demand import Demand, limit_of, load_demand
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.ledger.entry import Step
from robust_ledger.ledger.working import Working
from robust_ledger.load.nameplates import nameplate_entry

NM = WiringConditions("nm", None, 75)


def asked(*loads, edition="2023") -> Demand | None:
    codebook = load_codebook(edition)
    return load_demand(Working.trial(), list(loads), {x.id: nameplate_entry(x, codebook) for x in loads}, codebook)


@pytest.mark.parametrize(
    ("plate", "needed_a", "most_a", "usual_a"),
    [
        # 430.53(A): 1 hp and less, or 6 A and less, may be on a 15 or 20 A circuit; at 120 V 20 A, at 240 V 15 A
        ("0.5hp@230", 4.9 * 1.25, 15, 15),  # 250% is 12.3
        ("1hp@115", 20.0, 40, 30),  # 16 A; 250% is 40, 175% is 28
        ("0.333hp@115", 9.0, 20, 15),  # 7.2 A: 18, the next size 20; 12.6
        ("0.25hp@115", 7.25, 20, 15),  # 5.8 A: 14.5 makes 15, raised to 20
        ("1.5hp@115", 25.0, 50, 35),  # 20 A: 50; 35
        ("6A@120", 7.5, 20, 15),  # 15 by 250%, raised to 20; 10.5 usual, never below 15
        ("6.1A@120", 7.625, 20, 15),  # 15.25: the next size is 20 of itself
        ("6A@240", 7.5, 15, 15),
        ("5A@240", 6.25, 15, 15),  # 12.5 makes 15
        ("10A@240", 12.5, 25, 20),  # 25; 17.5
        ("12A@240", 15.0, 30, 25),  # 30 is a standard size; 21
    ],
)
def test_a_motor_and_its_breaker(plate, needed_a, most_a, usual_a):
    """125% for the wire [430.22], 250% for the largest breaker and the next size up [430.52], 175% put in so that it starts."""
    made = asked(load(K.MOTOR, plate, "motor"))
    assert made is not None and made.needed.amount == pytest.approx(needed_a)
    assert (made.mocp_a, made.usual_a, made.rule) == (most_a, usual_a, "motor_breaker")


@pytest.mark.parametrize(("plate", "hp", "most_a"), [("5A@120", 1.0, 20), ("5A@120", 1.1, 15), ("5A@120", None, 20)])
def test_a_small_motor_is_small_by_both_its_horsepower_and_its_amperes(plate, hp, most_a):
    """12.5 A by 250% makes 15; a motor of no more than one horsepower and six amperes may be on 20 [430.53(A)]."""
    assert asked(load(K.MOTOR, plate, "motor", motor_hp=hp)).mocp_a == most_a


@pytest.mark.parametrize(
    ("duty", "needed_a", "most_a", "usual_a"),
    [(100.0, 50.0, 100.0, 50.0), (60.0, 39.0, 100.0, 50.0), (59.0, 39.0, 100.0, 50.0), (20.0, 22.5, 100.0, 50.0)],
)
def test_a_welder_and_its_breaker(duty, needed_a, most_a, usual_a):
    """50 A: × 1, 0.78, 0.78 and 0.45 by the table of 630.11; twice for the breaker, by its wire too."""
    made = asked(load(K.PLUG_IN, "50A@240", "welder", duty_percent=duty))
    assert made.needed.amount == pytest.approx(needed_a)
    assert (made.mocp_a, made.by_wire, made.usual_a, made.limit_words) == (most_a, 2.0, usual_a, "the welder")


@pytest.mark.parametrize(
    ("demand", "ampacity_a", "limit"),
    [
        (Demand(Step("x", 20.0), 40.0), 20.0, 40),  # just what it needs
        (Demand(Step("x", 20.0), 40.0), 19.9, None),
        (Demand(Step("x", 20.0), 44.0), 25.0, 40),  # no size above its figure
        (Demand(Step("x", 20.0), 45.0), 25.0, 45),
        (Demand(Step("x", 20.0), None), 25.0, None),
        (Demand(Step("x", 20.0), 40.0), None, None),
        (Demand(Step("x", None), 40.0), 25.0, None),
        (Demand(Step("x", 20.0), 100.0, "welder_breaker", 2.0), 25.0, 50),  # twice what the wire carries
        (Demand(Step("x", 20.0), 40.0, "welder_breaker", 2.0), 25.0, 40),
    ],
)
def test_the_largest_breaker_by_its_load(codebook, demand, ampacity_a, limit):
    assert limit_of(demand, ampacity_a, codebook) == limit


@pytest.mark.parametrize(
    ("kind", "plate", "more", "amps"),
    [
        (K.WATER_HEATER, "4500W@240", {}, 18.75 * 1.25),
        (K.WATER_HEATER, "4500W@240", {"tankless": True}, 18.75),
        (K.WATER_HEATER, "4500W@240", {"tankless": True, "continuous": True}, 18.75 * 1.25),
        (K.EV_CHARGER, "40A@240", {}, 50.0),
        (K.HEATING, "2400W@240", {}, 12.5),
        (K.FURNACE, "2400W@240", {}, 12.5),
        (K.SUPPLEMENTAL_HEAT, "2400W@240", {}, 12.5),
        (K.AIR_CONDITIONER, "20A@240", {}, 25.0),
        (K.HEAT_PUMP, "20A@240", {"mca_a": 24.0, "mocp_a": 40.0}, 24.0),
        (K.HEAT_PUMP, "20A@240", {"mca_a": 24.0}, 25.0),  # half a nameplate is none
        (K.APPLIANCE, "12A@120", {}, 12.0),
        (K.APPLIANCE, "12A@120", {"continuous": True}, 15.0),
        # a range: 8 kW by the table up to 12 kW, 40 A at least from 8.75 kW on; at its nameplate up to 1.75 kW
        (K.COOKING, "12kW@240", {}, 40.0),
        (K.COOKING, "8.75kW@240", {}, 40.0),
        (K.COOKING, "8.7kW@240", {}, 8700 * 0.8 / 240),
        (K.COOKING, "16kW@240", {}, 8000 * 1.2 / 240),
        (K.COOKING, "17kW@240", {}, 10_000 / 240),  # five kilowatts over twelve: 25% more
        (K.COOKING, "1.75kW@120", {}, 1750 / 120),
        (K.COOKING, "1.8kW@120", {}, 1800 * 0.8 / 120),
    ],
)
def test_what_a_load_asks_of_its_wire(kind, plate, more, amps):
    assert asked(load(kind, plate, "thing", **more)).needed.amount == pytest.approx(amps)


def test_loads_of_one_circuit_add_up_and_none_ask_nothing():
    heaters = [load(K.HEATING, "1200W@240", f"heater {n}") for n in (1, 2)]
    assert asked(*heaters).needed.amount == pytest.approx(12.5) and asked() is None


@pytest.mark.parametrize(
    ("cable", "insulated", "terminals_c", "size", "found"),
    [
        ("nm", False, 75, "6", (60, "nm_cable")),
        ("uf", False, 75, "6", (60, "uf_cable")),
        ("knob_tube", False, 75, "6", (60, "ampacity")),
        ("", False, 75, "6", (60, "nm_cable")),
        ("ac", True, 75, "6", (60, "ac_cable")),
        ("ac", None, 75, "6", (60, "ac_cable")),
        ("ac", False, 75, "6", (75, "terminal_temperature")),
        ("se", True, 75, "10", (60, "se_cable")),
        ("se", None, 75, "10", (60, "se_cable")),
        ("se", False, 75, "10", (75, "terminal_temperature")),
        ("se", True, 75, "8", (75, "terminal_temperature")),
        ("mc", True, 75, "12", (75, "terminal_temperature")),
        ("mc", False, 60, "12", (60, "terminal_temperature")),
        ("conduit", False, None, "12", (60, "terminal_temperature")),
    ],
)
def test_the_column_of_a_branch_conductor(codebook, cable, insulated, terminals_c, size, found):
    made = column(WiringConditions(cable, insulated, terminals_c), size, codebook)
    assert (made[0], made[2]) == found


@pytest.mark.parametrize(
    ("size", "metal", "conditions", "limit_a"),
    [
        ("14", "cu", NM, 15),
        ("12", "cu", NM, 20),
        ("10", "cu", NM, 30),
        ("12", "al", NM, 15),
        ("10", "al", NM, 25),
        ("8", "cu", NM, 40),  # 40 A at 60 °C is a standard size
        ("6", "cu", NM, 60),  # 55: the next standard size
        ("6", "cu", replace(NM, several=True), 50),  # receptacles for anything: none above
        ("4", "cu", NM, 70),
        ("4", "cu", replace(NM, several=True), 70),
        ("8", "al", NM, 35),
        ("10", "cca", NM, 25),
        ("0000000", "cu", NM, None),
    ],
)
def test_the_largest_breaker_on_a_wire(codebook, size, metal, conditions, limit_a):
    """240.4(D) up to 10 AWG, above it Table 310.16 at 60 °C and 240.4(B)."""
    made = wire_limit(Working.trial(), size, metal, conditions, codebook)
    assert (made.value if made.known else None) == limit_a


@pytest.mark.parametrize(
    ("conditions", "limit_a", "open_"),
    [
        (WiringConditions("nm", None, None), 60, ""),
        (WiringConditions("", None, 75), 70, "its kind of cable"),
        (WiringConditions("", None, None), 70, "its kind of cable and what the terminals are marked for"),
        (WiringConditions("ac", None, 75), 70, "whether it lies in insulation"),
        (WiringConditions("ac", False, 75), 70, ""),
        (WiringConditions("ac", True, 75), 60, ""),
        (WiringConditions("mc", None, None), 70, "what the terminals are marked for"),
        (WiringConditions("mc", None, 60), 60, ""),
    ],
)
def test_what_a_wire_may_have_at_best(codebook, conditions, limit_a, open_):
    """6 AWG copper: 55 A at 60 °C makes 60, 65 A at 75 °C makes 70."""
    assert at_best(conditions, "6", "cu", codebook) == (limit_a, open_)


@pytest.mark.parametrize(
    ("fields", "loads", "rating"),
    [
        ({"gauge": "12", "breaker_a": 20}, (), 20),
        ({"gauge": "12", "breaker_a": 30}, (), 20),
        ({"gauge": "12", "breaker_a": 15}, (), 15),
        ({"gauge": "12", "breaker_a": None}, (), 20),
        ({"gauge": "12", "breaker_a": 17}, (), 20),  # no size a breaker has
        ({"gauge": None, "breaker_a": 20}, (), None),
        (
            {"gauge": "10", "breaker_a": 20, "poles": 2},
            ("4500W@240",),
            25,
        ),  # 23.4 A by 125%: the next size that its wire allows
        ({"gauge": "10", "breaker_a": 30, "poles": 2}, ("4500W@240",), 30),
        ({"gauge": "12", "breaker_a": None, "poles": 2}, ("4500W@240",), 20),
    ],
)
def test_the_breaker_a_kept_circuit_gets(codebook, fields, loads, rating):
    heaters = [load(K.WATER_HEATER, plate, "heater") for plate in loads]
    plates = {x.id: nameplate_entry(x, codebook) for x in heaters}
    made = existing_breaker(circuit(**{"feeds": "thing", **fields}), NM, heaters, plates, codebook)
    assert (made.value if made.known else None) == rating


@pytest.mark.parametrize(("found_a", "rating"), [(None, 20), (20, 20), (25, 25), (30, 25)])
def test_a_motor_beyond_the_limit_of_its_wire(codebook, found_a, rating):
    """10 A at 240 V: 25 A at the most, 20 put in where none was found; 14 AWG, good for 15 A, may have it [240.4(G)]."""
    motor = load(K.MOTOR, "10A@240", "pump")
    found = circuit(feeds="pump", gauge="14", breaker_a=found_a, poles=2)
    made = existing_breaker(found, NM, [motor], {motor.id: nameplate_entry(motor, codebook)}, codebook)
    assert made.value == rating
