"""Breakers and wires of branch circuits: each row a case with its figures by hand, and beside it the twin that differs in one fact."""

from __future__ import annotations

import pytest
from builders import JUDGED, K, called_out, circuit, finding_ids, house, load
from msgspec.structs import replace

from robust_ledger.job.edits import change_branch, with_part
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.house import When
from robust_ledger.plan import plan

TAG = CircuitKey.of_tag(1)
in_every_edition = pytest.mark.parametrize("edition", JUDGED)


def one(edition: str = "2023", *loads, terminals: int | None = 75, **fields) -> Job:
    """A house with one old circuit that feeds the loads."""
    fields = {"feeds": "circuit", **fields}
    held = replace(circuit(**fields), load_ids=tuple(x.id for x in loads))
    return house(1500, *loads, edition=edition, circuits=(held,), panel={"terminals_c": terminals})


def breaker(job: Job) -> float | None:
    return plan(job).entries["branch.breaker.tag:1"].value


def said(job: Job) -> dict[str, str]:
    """Findings about the wire and breaker of tag 1, with their severity."""
    names = ("wire_on_breaker", "machine_breaker", "mocp", "below_mca", "wire_for_load", "breaker_chosen", "gauge_size")
    return {
        name: str(f.severity)
        for f in plan(job).findings
        if (name := f.id.removeprefix("branch.").partition(":")[0]) in names
    }


# --- the temperature column by wiring method [334.80, 340.80, 338.10(B)(4), 320.80, 110.14(C)] --------------------------------------
@in_every_edition
@pytest.mark.parametrize(
    ("fields", "terminals", "planned", "found"),
    [
        # 8 Al: 35 A at 60 °C, a standard size; 40 at 75 °C
        ({"gauge": "8", "metal": "al", "breaker_a": 40, "cable": "nm"}, 75, 35, {"wire_on_breaker": "FIX"}),
        ({"gauge": "8", "metal": "al", "breaker_a": 40, "cable": "se"}, 75, 40, {}),
        ({"gauge": "8", "metal": "al", "breaker_a": 40, "cable": "se"}, 60, 35, {"wire_on_breaker": "FIX"}),
        ({"gauge": "8", "metal": "al", "breaker_a": 40, "cable": "se"}, None, 35, {"wire_on_breaker": "ASK"}),
        ({"gauge": "8", "metal": "al", "breaker_a": 40, "cable": ""}, 75, 35, {"wire_on_breaker": "ASK"}),
        ({"gauge": "8", "metal": "al", "breaker_a": 50, "cable": ""}, 75, 35, {"wire_on_breaker": "FIX"}),  # too much for any
        # 8 Cu: 40 at 60 °C, 50 at 75 °C
        ({"gauge": "8", "breaker_a": 50, "cable": "nm"}, 75, 40, {"wire_on_breaker": "FIX"}),
        ({"gauge": "8", "breaker_a": 50, "cable": "uf"}, 75, 40, {"wire_on_breaker": "FIX"}),
        ({"gauge": "8", "breaker_a": 50, "cable": "mc"}, 75, 50, {}),
        ({"gauge": "8", "breaker_a": 50, "cable": "conduit"}, 75, 50, {}),
        ({"gauge": "8", "breaker_a": 50, "cable": "conduit"}, 60, 40, {"wire_on_breaker": "FIX"}),
        ({"gauge": "8", "breaker_a": 50, "cable": "ac", "insulated": False}, 75, 50, {}),
        ({"gauge": "8", "breaker_a": 50, "cable": "ac", "insulated": True}, 75, 40, {"wire_on_breaker": "FIX"}),
        ({"gauge": "8", "breaker_a": 50, "cable": "ac", "insulated": None}, 75, 40, {"wire_on_breaker": "ASK"}),
        ({"gauge": "8", "breaker_a": 50, "cable": "bx", "insulated": False}, 75, 40, {"wire_on_breaker": "FIX"}),
        ({"gauge": "8", "breaker_a": 50, "cable": "rubber"}, 75, 40, {"wire_on_breaker": "FIX"}),
        ({"gauge": "8", "breaker_a": 40, "cable": "nm"}, None, 40, {}),  # right in any case: nothing to be asked
        # up to 10 AWG the small conductors' own limit governs whatever the column
        ({"gauge": "12", "breaker_a": 25, "cable": "conduit"}, 75, 20, {"wire_on_breaker": "FIX"}),
        ({"gauge": "10", "metal": "al", "breaker_a": 30, "cable": "se", "insulated": False}, 75, 25, {"wire_on_breaker": "FIX"}),
        # next standard size up: 6 Cu carries 55 as NM; on a run of receptacles for anything only its ampacity
        ({"gauge": "6", "breaker_a": 60, "cable": "nm", "feeds": "heavy circuit"}, 75, 60, {}),
        ({"gauge": "6", "breaker_a": 60, "cable": "nm", "feeds": "shop receptacles"}, 75, 50, {"wire_on_breaker": "FIX"}),
    ],
)  # fmt: skip
def test_the_column_by_wiring_method(edition, fields, terminals, planned, found):
    job = one(edition, terminals=terminals, **fields)
    assert breaker(job) == planned and said(job) == found


@pytest.mark.parametrize(("edition", "limit"), [("2017", None), ("2020", None), ("2023", 10)])
def test_14_copper_clad_is_a_10_a_circuit_from_2023_on(edition, limit):
    job = one(edition, gauge="14", metal="cca", breaker_a=15)
    assert breaker(job) == limit
    assert said(job) == ({"wire_on_breaker": "FIX"} if limit else {"gauge_size": "FIX"})


@in_every_edition
@pytest.mark.parametrize(("gauge", "limit"), [("12", 15), ("10", 25)])
def test_larger_copper_clad_is_as_aluminum(edition, gauge, limit):
    assert breaker(one(edition, gauge=gauge, metal="cca", breaker_a=30)) == limit
    assert breaker(one(edition, gauge=gauge, metal="al", breaker_a=30)) == limit


def test_240_4_d_is_cited_only_up_to_10_awg():
    def cited(gauge, breaker_a):
        finding = next(f for f in plan(one(gauge=gauge, breaker_a=breaker_a, cable="nm")).findings if "wire_on" in f.id)
        return {str(cite.section) for cite in finding.cites}

    assert "240.4(D)" in cited("12", 30) and "240.4(D)" not in cited("8", 50)


# --- the wire for its load --------------------------------------------------------------------------------------------------
@in_every_edition
@pytest.mark.parametrize(
    ("kind", "plate", "more", "gauge", "cable", "found"),
    [
        (K.EV_CHARGER, "48A@240", {}, "6", "nm", {"wire_for_load": "FIX"}),  # 60 A on 55
        (K.EV_CHARGER, "44A@240", {}, "6", "nm", {}),  # 55 A
        (K.EV_CHARGER, "48A@240", {}, "6", "conduit", {}),  # 65
        (K.WATER_HEATER, "4.5kW", {}, "12", "nm", {"wire_for_load": "FIX"}),  # 18.75 × 1.25 = 23.4 on 20
        (K.WATER_HEATER, "3.8kW", {}, "12", "nm", {}),  # 19.8
        (K.WATER_HEATER, "11kW", {"tankless": True}, "6", "nm", {}),  # 45.8 at 100%
        (K.WATER_HEATER, "11kW", {"tankless": False}, "6", "nm", {"wire_for_load": "FIX"}),  # 57.3 at 125%
        (K.APPLIANCE, "13kW", {}, "6", "nm", {}),  # 54.2
        (K.APPLIANCE, "13kW", {"continuous": True}, "6", "nm", {"wire_for_load": "FIX"}),  # 67.7
    ],
)
def test_the_wire_carries_its_load_by_its_ampacity(edition, kind, plate, more, gauge, cable, found):
    thing = load(kind, plate, "thing", **more)
    assert said(one(edition, thing, gauge=gauge, breaker_a=20, poles=2, cable=cable)) == found


# --- motors [430.6, 430.22, 430.52, 430.53] -------------------------------------------------------------------------------------
@in_every_edition
@pytest.mark.parametrize(
    ("plate", "kind", "found_a", "planned", "found"),
    [
        # 1 hp at 230 V: 8 A; wire 10 A; 250% = 20 A
        ("1hp@230", K.MOTOR, 20, 20, {}),
        ("1hp@230", K.MOTOR, 25, 20, {"mocp": "FIX"}),
        # 3 hp at 230 V: 17 A; wire 21.25: 12 AWG at 60 °C is too small
        ("3hp@230", K.MOTOR, 30, 20, {"wire_on_breaker": "FIX", "wire_for_load": "FIX"}),
        # 2 hp: 12 A; wire 15; 250% = 30 A, on 12 AWG as well
        ("2hp@230", K.MOTOR, 30, 30, {}),
        ("2hp@230", K.MOTOR, 35, 30, {"mocp": "FIX"}),
        # the same watts, not said to be a motor: the wire's own limit
        ("2880VA@240", K.APPLIANCE, 30, 20, {"wire_on_breaker": "FIX"}),
    ],
)
def test_a_motor_may_have_250_percent(edition, plate, kind, found_a, planned, found):
    pump = load(kind, plate, "pump")
    job = one(edition, pump, gauge="12", breaker_a=found_a, poles=2)
    assert breaker(job) == planned and said(job) == found


@pytest.mark.parametrize(("plate", "found"), [("0.333hp@115", {}), ("1.5hp@115", {})])
def test_a_small_motor_may_be_on_any_20_a_circuit(plate, found):
    """⅓ hp: 7.2 A, 250% is 18, the next size 20; 1½ hp: 20 A needs 25, so 12 AWG is too small."""
    job = one("2023", load(K.MOTOR, plate, "disposer"), gauge="12", breaker_a=20, poles=1)
    assert said(job) == ({"wire_for_load": "FIX"} if plate.startswith("1.5") else found)


# --- welders [630.11, 630.12] ---------------------------------------------------------------------------------------------------
@in_every_edition
@pytest.mark.parametrize(
    ("duty", "gauge", "found_a", "planned", "found"),
    [
        # 50 A at 30%: × 0.55 = 27.5 A; 10 AWG carries 30 and may have 60
        (30, "10", 50, 50, {}),
        (30, "10", 60, 60, {}),
        (30, "10", 70, 60, {"mocp": "FIX"}),
        # at 60%: × 0.78 = 39 A: 10 AWG is too small
        (60, "10", 50, 30, {"wire_on_breaker": "FIX", "wire_for_load": "FIX"}),
        (60, "8", 50, 50, {}),
        # not said to be a welder: 50 A on 10 AWG
        (None, "10", 50, 30, {"wire_on_breaker": "FIX", "wire_for_load": "FIX"}),
    ],
)
def test_a_welder_goes_by_its_duty_cycle(edition, duty, gauge, found_a, planned, found):
    welder = load(K.PLUG_IN, "50A@240", "welder", duty_percent=duty)
    job = one(edition, welder, gauge=gauge, breaker_a=found_a, poles=2)
    assert breaker(job) == planned and said(job) == found


# --- heating and cooling machines [440.4, 440.22] -----------------------------------------------------------------------------------
@in_every_edition
@pytest.mark.parametrize(
    ("more", "gauge", "found_a", "found"),
    [
        ({}, "10", 40, {"machine_breaker": "ASK"}),  # nameplate not read
        ({}, "10", 30, {}),
        ({"mca_a": 24, "mocp_a": 40}, "10", 40, {}),
        ({"mca_a": 24, "mocp_a": 35}, "10", 40, {"mocp": "FIX"}),
        ({"mca_a": 24, "mocp_a": 40}, "10", 20, {"below_mca": "FIX"}),
        ({"mca_a": 24, "mocp_a": 40}, "10", 25, {}),
        (
            {"mca_a": 34, "mocp_a": 50},
            "10",
            40,
            {"wire_on_breaker": "FIX", "wire_for_load": "FIX"},
        ),  # 10 AWG carries 30
    ],
)
def test_an_air_conditioner_by_its_nameplate(edition, more, gauge, found_a, found):
    cooling = load(K.AIR_CONDITIONER, "18A@240", "condenser", **more)
    assert said(one(edition, cooling, gauge=gauge, breaker_a=found_a, poles=2)) == found


# --- new cables -----------------------------------------------------------------------------------------------------------------
@in_every_edition
@pytest.mark.parametrize(
    ("thing", "wiring", "rating", "size"),
    [
        (load(K.DRYER, "4.8kW", "dryer"), "nm", 30, "10 Cu"),  # 20 A; dryers have 30
        (load(K.COOKING, "12kW", "range"), "nm", 40, "8 Cu"),
        (load(K.COOKING, "12kW", "range"), "conduit", 40, "8 Cu"),
        (load(K.COOKING, "19kW", "range"), "nm", 50, "6 Cu"),  # 8 kW + 35% = 10.8 kW, 45 A
        (load(K.WATER_HEATER, "4.5kW", "heater"), "nm", 30, "10 Cu"),  # 23.4
        (load(K.WATER_HEATER, "3kW", "heater"), "nm", 30, "10 Cu"),
        (load(K.WATER_HEATER, "18kW", "heater", tankless=True), "nm", 80, "3 Cu"),  # 75 A; 3 carries 85, 4 carries 70
        (load(K.PLUG_IN, "1kW@120", "microwave", room="kitchen"), "nm", 20, "12 Cu"),
        (load(K.PLUG_IN, "1kW@120", "freezer", room="cellar"), "nm", 15, "14 Cu"),
        (load(K.EV_CHARGER, "48A@240", "charger"), "nm", 60, "4 Cu"),
        (load(K.EV_CHARGER, "48A@240", "charger"), "conduit", 60, "6 Cu"),
        (load(K.EV_CHARGER, "48A@240", "charger"), "ac", 60, "4 Cu"),  # insulation around it not known
        (load(K.MOTOR, "1hp@230", "pump"), "nm", 15, "14 Cu"),  # 8 A: 175% is 14
        (load(K.PLUG_IN, "50A@240", "welder", duty_percent=30), "nm", 50, "10 Cu"),
        (load(K.AIR_CONDITIONER, "18A@240", "condenser", mca_a=24, mocp_a=40), "nm", 40, "10 Cu"),
    ],
)  # fmt: skip
def test_new_cables_in_the_sizes_people_install(edition, thing, wiring, rating, size):
    """The same for a load of this job as for an old circuit that gets a new cable."""
    added = house(1500, replace(thing, when=When.ADDED), edition=edition, decisions={"new_wiring": wiring})
    branch = plan(added).branch(f"load:{thing.id}")
    assert (branch.breaker.value, branch.wire.value) == (rating, size)
    old = with_part(one(edition, thing, gauge="14", breaker_a=15, poles=thing.poles), "decisions", new_wiring=wiring)
    renewed = plan(change_branch(old, TAG, action="new_cable")).branch(TAG)
    assert (renewed.breaker.value, renewed.wire.value) == (rating, size)


@pytest.mark.parametrize(
    ("line", "rating", "size"),
    [
        ("1 15 14 den receptacles", 15, "14 Cu"),
        ("1 15 14 kitchen counter", 20, "12 Cu"),
        ("1 ? 14 hall lights", 20, "12 Cu"),
        ("1,3 40/2 8al unknown", 40, "8 Cu"),
    ],
)
def test_a_new_cable_without_a_listed_load_keeps_the_breaker_found(line, rating, size):
    job = change_branch(called_out(house(1500), line), TAG, action="new_cable")
    branch = plan(job).branch(TAG)
    assert (branch.breaker.value, branch.wire.value) == (rating, size)


@pytest.mark.parametrize("fields", [{"gauge": "14", "breaker_a": 30}, {"gauge": "12", "metal": "al", "breaker_a": 20}])
def test_following_the_advice_of_a_new_cable_closes_the_finding(fields):
    job = one("2023", load(K.WATER_HEATER, "4.5kW", "heater"), poles=2, **fields)
    assert said(job)
    assert not said(change_branch(job, TAG, action="new_cable"))


@pytest.mark.parametrize(
    ("chosen", "rating", "size", "found"),
    [(50, 50, "6 Cu", {}), (None, 40, "8 Cu", {}), (30, 40, "8 Cu", {"breaker_chosen": "FIX"}), (42, 40, "8 Cu", {"breaker_chosen": "FIX"})],
)  # fmt: skip
def test_a_breaker_chosen_for_a_new_cable(chosen, rating, size, found):
    """The 50 A of a larger range may be had; less than the load needs, or what is not made, may not."""
    job = one("2023", load(K.COOKING, "12kW", "range"), gauge="10", breaker_a=30, poles=2)
    job = change_branch(change_branch(job, TAG, action="new_cable"), TAG, breaker_a=chosen)
    branch = plan(job).branch(TAG)
    assert (branch.breaker.value, branch.wire.value) == (rating, size) and said(job) == found


@pytest.mark.parametrize(
    ("terminals", "main_a", "asked"), [(None, 100, True), (75, 100, False), (60, 100, False), (None, 125, False)]
)
def test_terminals_are_asked_for_where_they_decide(terminals, main_a, asked):
    job = with_part(one(terminals=terminals), "decisions", main_a=float(main_a))
    assert ("service.terminals" in finding_ids(plan(job))) is asked
