"""The load of a feeder, worked by hand: Part III for what hangs on it, the dwelling's own calculation where that is all of it."""

from __future__ import annotations

import pytest
from builders import K, called_out, finding_ids, house, load
from msgspec.structs import replace

from robust_ledger.codebook.conductors import area_cmil
from robust_ledger.job.edits import add_future, add_load, add_panel, change_load, change_panel, link_load, move_to_panel
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.futures import Future
from robust_ledger.job.parts.house import Nameplate
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.plan import plan

HEATER, CHARGER = load(K.HEATING, "4kW", "unit heater"), load(K.EV_CHARGER, "9.6kW", "charger")
LINES = ("1 20 12 garage receptacles", "3,5 20/2 12 unit heater", "7,9 50/2 6 charger", "2 20 12 kitchen counter", "4 20 12 laundry receptacle",
         "6 20 12 kitchen counter west")  # fmt: skip
IN_GARAGE = [CircuitKey.of_tag(tag) for tag in (1, 2, 3)]


def garage(edition: str = "2023", **fields) -> Job:
    """A garage with receptacles, a 4 kW heater and a 9.6 kW charger."""
    job = called_out(house(1500, HEATER, CHARGER, edition=edition), *LINES)
    job = link_load(link_load(job, HEATER.id, 2), CHARGER.id, 3)
    job = add_panel(job, Panel(id="garage", breaker_a=70.0))
    return change_panel(move_to_panel(job, IN_GARAGE, "garage"), "garage", **fields)


@pytest.mark.parametrize("edition", ["2017", "2020", "2023"])
@pytest.mark.parametrize(
    ("area", "va", "amperes", "neutral"),
    [
        # one circuit without floor area at 1,500 + 9,600 + 4,000 = 15,100 VA; ÷ 240 V = 62.9 A; 1,500 ÷ 240 = 6.3 A
        (0.0, 15_100, 63, 6),
        # 400 ft² × 3 VA = 1,200 VA, below 3,000 in full: 14,800 VA, 61.7 A; 1,200 ÷ 240 = 5 A
        (400.0, 14_800, 62, 5),
        # 2,000 ft² × 3 = 6,000: 3,000 + 35% of 3,000 = 4,050 VA; 17,650 VA, 73.5 A; 16.9 A
        (2000.0, 17_650, 74, 17),
    ],
)
def test_a_garage_by_part_three(edition, area, va, amperes, neutral):
    made = plan(garage(edition, area=area))
    assert made.entries["load.feeder.garage.total"].amount == pytest.approx(va)
    assert made.entries["feeder.garage.carried"].amount == amperes
    assert made.entries["load.feeder.garage.neutral"].amount == neutral
    assert "part of it" in str(made.entries["load.feeder.garage.method"].steps)
    assert ("feeder.garage.load" in finding_ids(made)) is (amperes > 70)


def test_kitchen_and_laundry_circuits_count_where_they_are_and_no_least_number_is_added():
    """400 ft² and one kitchen, one laundry circuit: 1,200 + 1,500 + 1,500 = 4,200; 3,000 + 35% of 1,200 = 3,420 VA."""
    job = move_to_panel(garage(area=400.0), [CircuitKey.of_tag(4), CircuitKey.of_tag(5)], "garage")
    made = plan(job)
    assert made.entries["load.feeder.garage.general"].amount == pytest.approx(3_420)
    # The dwelling itself still has two kitchen circuits and a laundry circuit at the least.
    assert made.load.calculations["standard"].total == plan(garage()).load.calculations["standard"].total


@pytest.mark.parametrize(("tags", "told"), [((2, 3), False), ((1, 2, 3), True)])
def test_the_area_is_not_asked_for_where_no_lighting_or_receptacles_hang(tags, told):
    """A charger whose nameplate was not read makes the load unknown; the floor area has no part in it."""
    job = move_to_panel(garage(), IN_GARAGE, "panel")
    job = change_load(
        move_to_panel(job, [CircuitKey.of_tag(tag) for tag in tags], "garage"),
        CHARGER.id,
        nameplate=Nameplate(volts=240),
    )
    made = plan(job)
    assert not made.entries["feeder.garage.carried"].known
    assert ("feeder.garage.area" in finding_ids(made)) is told


def test_the_area_is_asked_for_and_its_absence_makes_nothing_smaller():
    unsaid, said = plan(garage()), plan(garage(area=0.0))
    assert "feeder.garage.area" in finding_ids(unsaid) and "feeder.garage.area" not in finding_ids(said)
    assert not unsaid.entries["feeder.garage.carried"].known
    assert unsaid.entries["feeder.garage.neutral"].value == unsaid.entries["feeder.garage.conductors"].value, (
        "by the rating"
    )
    assert said.entries["feeder.garage.neutral"].value == said.entries["feeder.garage.egc"].value


def test_what_was_entered_counts_where_it_is_more():
    for said, carried in ((40.0, 63), (65.0, 65)):
        assert plan(garage(area=0.0, load_a=said)).entries["feeder.garage.carried"].amount == carried


def test_a_panel_behind_a_panel_hangs_on_the_feeder_of_both():
    job = add_panel(garage(area=0.0), Panel(id="shed", name="shed", fed_from="garage", breaker_a=50.0))
    job = move_to_panel(job, [CircuitKey.of_tag(3)], "shed")
    made = plan(job)
    assert made.entries["feeder.shed.carried"].amount == 40  # the charger alone: 9,600 ÷ 240
    assert made.entries["feeder.garage.carried"].amount == 63
    feeder = made.branch("equip:feeder.shed")
    assert feeder.panel == "garage" and feeder.expected.amount == made.branch("tag:3").expected.amount


def test_a_feeder_with_all_of_the_dwelling_goes_by_the_dwellings_calculation_and_the_83_percent():
    """Everything behind one feeder of 150 A: 83% of it is 124.5 A, 2/0 Al carries 135. One circuit left out: part of the load, and
    150 A by the next size up needs 126 A at the least: 2/0 Al too; 200 A: 166 and 4/0 Al against 176 and 250 kcmil Al."""
    job = change_panel(garage(), "garage", name="inside", separate_building=False, breaker_a=200.0)
    whole = move_to_panel(job, [CircuitKey.of_tag(tag) for tag in range(1, 7)], "garage")
    made = plan(whole)
    assert made.entries["feeder.garage.carried"].amount == made.load.governing.amount
    assert made.entries["feeder.garage.conductors"].value == "4/0 Al"
    assert made.feeders.loads["garage"].calculation is None
    part = plan(change_panel(move_to_panel(whole, [CircuitKey.of_tag(6)], "panel"), "garage", area=1200.0))
    assert not part.feeders.loads["garage"].whole and part.entries["feeder.garage.conductors"].value == "4/0 Al"
    strict = plan(replace(part.job, decisions=replace(part.job.decisions, conductor_rule="strict")))
    assert strict.entries["feeder.garage.conductors"].value == "250 kcmil Al"


@pytest.mark.parametrize(("breaker", "told"), [(70.0, True), (80.0, False)])
def test_a_future_is_told_before_the_ditch_is_closed(breaker, told):
    """A welder of 3 kW comes: 15,100 + 3,000 = 18,100 VA, 75 A, more than 70."""
    welder = load(K.APPLIANCE, "3kW", "welder", when="later")
    job = garage(area=0.0, breaker_a=breaker)
    job = add_future(add_load(job, welder), Future(id="shop", name="shop", load_ids=("welder",)))
    job = move_to_panel(job, [CircuitKey.of_load("welder")], "garage")
    made = plan(job)
    assert made.entries["load.feeder.garage.with.shop.amperes"].amount == 75
    assert ("feeder.garage.later:shop" in finding_ids(made)) is told
    assert made.entries["feeder.garage.carried"].amount == 63, "today it is what it was"


@pytest.mark.parametrize(
    ("tags", "breaker", "told"),
    [
        ((1,), 15.0, False),
        ((1, 4), 20.0, True),
        ((1, 4), 30.0, False),
        ((1, 4, 5), 50.0, True),
        ((1, 4, 5), 60.0, False),
    ],
)
def test_the_least_disconnect_of_a_separate_building(tags, breaker, told):
    """One circuit 15 A, two 30 A, more 60 A; within the house there is no such rule."""
    job = add_panel(called_out(house(1500), *LINES), Panel(id="shed", name="shed", breaker_a=breaker, area=0.0))
    job = move_to_panel(job, [CircuitKey.of_tag(tag) for tag in tags], "shed")
    assert ("feeder.shed.least" in finding_ids(plan(job))) is told
    assert "feeder.shed.least" not in finding_ids(plan(change_panel(job, "shed", separate_building=False)))


def test_a_renewed_feeder_takes_the_place_of_the_old_one():
    job = called_out(garage(area=0.0), "8,10 40/2 8 garage feeder")
    made = plan(change_panel(job, "garage", feeder_tag=7))
    assert made.branch("equip:feeder.garage") is None
    feeder = made.branch("tag:7")
    assert (feeder.panel, feeder.rating_text, feeder.new_cable) == ("panel", "70/2", True)
    assert plan(change_panel(job, "garage", feeder_tag=7, found=True)).branch("tag:7").new_cable is False
    expected = sum(made.branch(key).expected.amount for key in IN_GARAGE)
    assert plan(job).branch("tag:7").expected.amount == expected, "the only one it can be, by its words"


def test_the_legs_of_the_main_panel_carry_what_hangs_behind_it():
    alone = called_out(house(1500, HEATER, CHARGER), *LINES)
    alone = link_load(link_load(alone, HEATER.id, 2), CHARGER.id, 3)
    before, after = plan(alone), plan(garage(area=0.0))
    both = [sum(made.entries[f"panel.leg_{leg}"].amount for leg in "ab") for made in (before, after)]
    assert both[0] == pytest.approx(both[1])


KILN = load(K.APPLIANCE, "4200VA@120", "kiln")


def with_kiln(more: float | None = None, **fields) -> Job:
    """A garage of 400 ft² with a 120 V kiln of 4,200 VA, and another load of 120 V where that is said."""
    job = called_out(
        house(1500, KILN), "1 20 12 garage receptacles", "2 40 8 kiln", "3 20 12 kitchen counter", "4 40 8 warmer"
    )
    job = add_panel(link_load(job, KILN.id, 2), Panel(id="garage", breaker_a=70.0, area=400.0))
    job = move_to_panel(job, [CircuitKey.of_tag(tag) for tag in (1, 2, 4)], "garage")
    if more:
        job = link_load(add_load(job, other := load(K.APPLIANCE, f"{more:g}VA@120", "plate warmer")), other.id, 4)
    return change_panel(job, "garage", **fields)


@pytest.mark.parametrize(
    ("more", "carried", "neutral"),
    [
        # 1,200 + 4,200 = 5,400 VA, 22.5 A between the legs. The receptacles fill the other leg: 3,000 lean; 8,400 ÷ 240 = 35 A on one
        (None, 35, 35),
        # a warmer of 3,000 on the other leg: 1,200 of lean, filled up by the receptacles: 8,400 ÷ 240
        (3000.0, 35, 35),
        # 2,000: 2,200 lean, 1,200 filled; (7,400 + 1,000) ÷ 240
        (2000.0, 35, 35),
        # 4,200: level; 9,600 ÷ 240
        (4200.0, 40, 40),
    ],
)
def test_120_volt_loads_lean_on_a_feeder_as_on_a_service(more, carried, neutral):
    """The kiln's own 35 A are on one leg and on the neutral, however the rest is dealt out [220.61]."""
    made = plan(with_kiln(more))
    assert made.entries["feeder.garage.carried"].value == carried
    assert made.entries["load.feeder.garage.neutral"].value == neutral


def test_a_feeder_below_its_fuller_leg_is_stopped():
    assert "feeder.garage.load" in finding_ids(plan(with_kiln(breaker_a=30.0))), "22.5 A between the legs, 35 A on one"
    assert "feeder.garage.load" not in finding_ids(plan(with_kiln(breaker_a=35.0)))


def test_two_legs_of_a_wye_have_no_fuller_leg():
    """5,400 VA at 208 V."""
    job = with_kiln()
    made = plan(replace(job, dwelling=replace(job.dwelling, supply="120/208")))
    assert made.entries["feeder.garage.carried"].value == 26


def split_in_two() -> Job:
    """A split service: a main panel behind a main of 200 A, a second one of 500 ft² behind 150 A."""
    loads = (load(K.COOKING, "12kW", "range"), CHARGER, load(K.FURNACE, "20kW", "furnace"))
    job = house(3000, *loads, scope="split", main_feed={"breaker_a": 200.0})
    return add_panel(
        job, Panel.read({"id": "second", "name": "second", "fed_from": "meter", "breaker_a": 150.0, "separate_building": False, "area": 500.0})
    )  # fmt: skip


@pytest.mark.parametrize("moved", [(), (3,), (2, 3), (1, 2, 3, 4, 5)])
def test_a_split_service_before_the_call_out_is_not_smaller_than_after_it(moved):
    """Before it all the general circuits of the dwelling are the main panel's: 2,500 ft² × 3 + 4,500 = 12,000; 3,000 + 35% of 9,000 = 6,150;
    with 8,000 + 9,600 + 20,000 of the loads 43,750 VA, 182 A."""
    before = split_in_two()
    after = called_out(
        before,
        "1 20 12 kitchen counter",
        "2,4 50/2 6 range",
        "3,5 60/2 6 charger",
        "6,8 100/2 2 furnace",
        "7 20 12 bedrooms",
    )
    for one, tag in zip(before.loads, (2, 3, 4), strict=True):
        after = link_load(after, one.id, tag)
    after = move_to_panel(after, [CircuitKey.of_tag(tag) for tag in moved], "second")
    first, last = plan(before), plan(after)
    assert first.entries["load.feeder.panel.amperes"].value == 182
    assert (
        not last.entries["load.feeder.panel.amperes"].known or last.entries["load.feeder.panel.amperes"].amount <= 182
    )
    for name in ("feeder.panel.conductors", "feeder.second.conductors", "feeder.second.neutral"):
        sizes = [area_cmil(first.load.inputs.codebook, made.entries[name].value.size) for made in (first, last)]
        assert sizes[0] >= sizes[1], name
