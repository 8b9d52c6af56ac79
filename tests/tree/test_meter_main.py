"""A meter-main with spaces of its own, the breaker or the lugs that feed the main panel from it, and mains that sit back-fed in the bus."""

from __future__ import annotations

import pytest
from builders import K, called_out, finding_ids, house, load
from msgspec.structs import replace

from robust_ledger.installation.tree_drawing import tree_rows
from robust_ledger.job.edits import add_panel, change_panel, move_to_panel, with_part
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.futures import Future
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.job.templates import TEMPLATES
from robust_ledger.job.tree import back_fed_key
from robust_ledger.measure.simulate.basis import wanted_of
from robust_ledger.panel.request import arrange
from robust_ledger.papers.sheets.directory import _supply
from robust_ledger.plan import Plan, plan

CONDENSER = CircuitKey.of_tag(2)
MAIN_FEEDER = CircuitKey.of_equipment("feeder.panel")


def meter_main(fed_by: str = "breaker", breaker_a: float | None = 125.0, **more) -> Job:
    """200 A outdoors with eight spaces, the condenser in two of them; the house on the main panel of 125 A indoors."""
    job = house(
        1500,
        load(K.AIR_CONDITIONER, "5kW", "condenser"),
        load(K.DRYER, "5kW", "dryer"),
        decisions={"main_a": 200.0},
        **more,
    )
    job = called_out(job, "1 20 12 kitchen counter", "2,4 30/2 10 condenser", "3,5 30/2 10 dryer", "6 15 14 den lights")
    job = next(one for one in TEMPLATES if one.key == "meter-main").take(job)
    job = move_to_panel(with_part(job, "panel", bus_a=125.0, spaces=20), [CONDENSER], "meter-main")
    return with_part(job, "main_feed", fed_by=fed_by, breaker_a=breaker_a)


def test_the_main_panel_on_a_breaker_of_the_meter_main_by_hand():
    """125 A. What hangs on it: 1,500 ft² and one kitchen circuit by Part III (6,000 VA: 3,000 + 35% of 3,000) and the dryer, 5,000:
    9,050 VA, 37.7, so 38 A. The condenser is outdoors, so it is part of the load: no 83%. 1/0 Al carries 120 A, next size up 125."""
    made = plan(meter_main())
    assert made.feeders.loads["panel"].amperes.amount == 38
    assert made.entries["service.panel_device"].amount == 125
    assert made.entries["feeder.panel.conductors"].value == "1/0 Al"
    assert "it carries part of the load" in str(made.entries["feeder.panel.conductors"].steps)
    assert made.entries["feeder.panel.egc"].value == "4 Al", "125 A, T250.122: the row of 200 A"
    assert made.service.device("meter-main").amount == 200 and made.service.device("panel").amount == 125
    assert "feeder.panel.bus" not in finding_ids(made) and "service.bus" not in finding_ids(made), (
        "its breaker protects a bus of 125 A"
    )


def test_by_feed_through_lugs_the_disconnect_protects_it_at_its_own_rating():
    made = plan(meter_main("lugs"))
    assert made.entries["service.panel_device"].amount == 200
    assert "service.bus" in finding_ids(made) and MAIN_FEEDER not in made.circuits.by_key
    assert "service.bus" not in finding_ids(plan(with_part(meter_main("lugs"), "panel", bus_a=200.0)))


def test_all_of_the_load_behind_that_breaker_opens_the_83_percent_rule():
    """125 A × 0.83 = 103.75 A: 1/0 Al carries 120, 1 Al 100."""
    job = move_to_panel(meter_main(), [CONDENSER], "panel")
    made = plan(job)
    assert made.feeders.loads["panel"].whole and made.entries["feeder.panel.conductors"].value == "1/0 Al"
    assert "carries all of the dwelling's load" in str(made.entries["feeder.panel.conductors"].steps)
    larger = plan(with_part(with_part(job, "main_feed", breaker_a=200.0), "panel", bus_a=200.0))
    assert larger.entries["feeder.panel.conductors"].value == "4/0 Al", "166 A: 4/0 carries 180"


def test_its_breaker_is_a_circuit_of_the_meter_main_once():
    made = plan(meter_main())
    branch = made.circuits.by_key[MAIN_FEEDER]
    assert (branch.panel, branch.rating_text, branch.feeds) == ("meter-main", "125/2", "feeder of the main panel")
    others = [b for b in made.circuits.branches if b.panel == "panel"]
    assert branch.expected.amount == pytest.approx(sum(b.expected.amount for b in others))
    bench = made.benches["meter-main"]
    assert set(bench.placement.positions) == {MAIN_FEEDER, CONDENSER} and bench.spaces_used.amount == 4
    assert _supply(made.seen_from("panel")) == "Fed from the meter-main panel, 125 A"
    rows = {row.key: row.words for row in tree_rows(made.installation, {})}
    assert rows["panel"] == "125 A breaker there, main lug only (MLO)"
    drawn = next(node for node in made.one_line if node.key == "panel")
    assert [line.text for line in drawn.feed][:2] == ["125 A breaker", "2 × 1/0 Al"]


def test_a_panel_ahead_of_the_main_one_carries_what_that_one_does():
    """From the meter-main by way of a panel in the hall: the hall's breaker there carries all that is in the main panel."""
    hall = Panel(id="hall", name="hall", fed_from="meter-main", breaker_a=150.0, separate_building=False)
    job = change_panel(add_panel(meter_main(), hall), "hall", **{"box.spaces": 12, "box.bus_a": 200.0})
    by_key = plan(with_part(job, "main_feed", fed_from="hall")).circuits.by_key
    ahead = by_key[CircuitKey.of_equipment("feeder.hall")]
    assert (ahead.panel, by_key[MAIN_FEEDER].panel) == ("meter-main", "hall")
    assert ahead.expected.amount == by_key[MAIN_FEEDER].expected.amount > 0


@pytest.mark.parametrize(
    ("changes", "bus_a", "found"),
    [
        ({}, 125.0, {}),
        ({"breaker_a": None}, 125.0, {"feeder.panel.breaker": "ASK"}),
        ({"breaker_a": 120.0}, 125.0, {"feeder.panel.rating": "FIX"}),
        ({"breaker_a": 150.0}, 125.0, {"feeder.panel.bus": "STOP"}),
        ({"breaker_a": 250.0}, 250.0, {"feeder.panel.over_main": "FIX"}),
        ({"breaker_a": 40.0}, 125.0, {}),  # 38 A on it
        ({"breaker_a": 35.0}, 125.0, {"feeder.panel.load": "STOP"}),
        ({"fed_by": "lugs", "breaker_a": 35.0}, 200.0, {}),
    ],
)
def test_what_is_wrong_with_that_breaker(changes, bus_a, found):
    job = with_part(with_part(meter_main(), "main_feed", **changes), "panel", bus_a=bus_a)
    assert {f.id: str(f.severity) for f in plan(job).findings if f.id.startswith("feeder.panel.")} == found


@pytest.mark.parametrize(
    ("length_ft", "main", "needed", "size", "told"),
    [
        (
            8.0,
            "breaker",
            60,
            "3 Al",
            set(),
        ),  # in raceway a tenth of 200 A is 20: its main of 60 is the largest; 3 Al carries 65
        (20.0, "breaker", 66.7, "2 Al", set()),  # a third: 66.7 A; 2 Al carries 75
        (30.0, "breaker", 66.7, "2 Al", {"feeder.panel.tap_long"}),
        (8.0, "lugs", None, None, {"feeder.panel.tap_end", "feeder.panel.bus"}),
    ],
)
def test_the_main_panel_at_the_end_of_a_tap(length_ft, main, needed, size, told):
    """From the bus of the meter-main behind its 200 A, with no breaker there, to a main of 60 A in the panel [240.21(B)]; the meter-main's terminals
    were not read: 60 °C."""
    job = with_part(meter_main("tap", 60.0), "main_feed", length_ft=length_ft, raceway="emt")
    made = plan(with_part(job, "panel", main=main))
    assert made.entries["feeder.panel.tap"].value == (pytest.approx(needed, abs=0.05) if needed else None)
    assert made.entries["feeder.panel.conductors"].value == size
    assert {one for one in finding_ids(made) if one.startswith("feeder.panel.")} == told
    assert made.entries["service.panel_device"].value == (60 if main == "breaker" else None)


@pytest.mark.parametrize(("bus_a", "told"), [(200.0, False), (125.0, True)])
def test_the_bus_of_the_meter_main_against_its_own_main(bus_a, told):
    made = plan(change_panel(meter_main(), "meter-main", **{"box.bus_a": bus_a}))
    assert ("feeder.meter-main.bus" in finding_ids(made)) is told


def test_a_garage_fed_from_the_meter_main_has_its_breaker_there():
    """By a breaker, said of the meter-main or of the disconnect, that is one place; fault current comes from the disconnect."""
    made = []
    for source in ("meter-main", "disconnect"):
        garage = Panel.read({"id": "garage", "fed_from": source, "breaker_a": 60.0, "length_ft": 40.0})
        job = with_part(
            with_part(add_panel(meter_main(), garage), "existing", utility_fault_a=10_000.0),
            "service_run",
            length_ft=20.0,
            riser_ft=10.0,
        )
        made.append(plan(job))
        assert made[-1].circuits.by_key[CircuitKey.of_equipment("feeder.garage")].panel == "meter-main"
        assert {row.key: row.above for row in tree_rows(made[-1].installation, {})}["garage"] == "disconnect"
        assert {node.key: node.behind for node in made[-1].one_line}["garage"] == "disconnect"
    first, second = (one.entries["feeder.garage.fault"].amount for one in made)
    assert first == second < made[0].entries["service.fault_disconnect"].amount


def test_two_panels_cannot_be_the_same_enclosure():
    second = Panel(id="other", name="other", fed_from="disconnect", fed_by="same", breaker_a=60.0)
    assert "feeder.other.enclosure" in finding_ids(plan(add_panel(meter_main(), second)))
    assert "feeder.other.enclosure" not in finding_ids(plan(add_panel(meter_main(), second.changed(fed_by="breaker"))))


# --- back-fed mains ----------------------------------------------------------------------------------------------------------
def flat(main: str, **panel) -> Plan:
    job = called_out(
        house(1500, decisions={"main_a": 100.0}), "1 20 12 kitchen counter", "2 15 14 den lights", "3,5 30/2 10 dryer"
    )
    return plan(with_part(job, "panel", main=main, spaces=12, bus_a=100.0, **panel))


@pytest.mark.parametrize("at", ["top", "bottom"])
def test_a_back_fed_main_takes_two_spaces_at_the_line_end(at):
    made, plain = flat("back_fed", interior={"main_at": at}), flat("breaker", interior={"main_at": at})
    key = back_fed_key("panel")
    assert made.bench.spaces_used.amount == plain.bench.spaces_used.amount + 2
    assert made.bench.placement.positions[key] in {"top": ("1", "2"), "bottom": ("9", "10")}[at]
    assert key not in plain.circuits.by_key
    assert sum(leg.amount for leg in made.bench.legs) == pytest.approx(sum(leg.amount for leg in plain.bench.legs)), (
        "it is no load"
    )
    branch = made.circuits.by_key[key]
    assert branch.rating_text == "100/2" and "408.36(D)" in str(
        [str(one) for step in branch.breaker.steps for one in step.cites]
    )
    assert "back-fed main breaker" in str([line.text for node in made.one_line for line in node.lines])


def test_arranging_keeps_it_at_its_end():
    made = flat("back_fed", interior={"main_at": "bottom"})
    for option in arrange(wanted_of(made)).options:
        assert option.placements[back_fed_key("panel")] in ("9", "10")


@pytest.mark.parametrize(("changes", "rating"), [({"main_a": 100.0}, "100/2"), ({}, "?/2")])
def test_a_back_fed_main_of_another_panel_is_of_its_own_rating(changes, rating):
    """The feeder's breaker tells nothing of it."""
    box = {"spaces": 12, "bus_a": 100.0, "main": "back_fed", **changes}
    job = add_panel(flat("breaker").job, Panel.read({"id": "garage", "breaker_a": 60.0, "box": box}))
    assert plan(job).circuits.by_key[back_fed_key("garage")].rating_text == rating


@pytest.mark.parametrize(
    ("feed", "own", "told"),
    [
        ({"fed_by": "breaker", "breaker_a": 100.0}, {}, False),
        ({"fed_by": "breaker", "breaker_a": 125.0}, {}, True),
        ({"fed_by": "breaker", "breaker_a": 125.0}, {"main": "breaker", "main_a": 100.0}, False),
        ({"fed_by": "breaker", "breaker_a": 125.0}, {"main": "lugs", "main_a": 100.0}, True),  # lugs have no main
        ({"fed_by": "lugs"}, {}, True),  # the main's 200 A
        ({"fed_by": "lugs"}, {"main": "back_fed", "main_a": 100.0}, False),
    ],
)
def test_a_bus_is_protected_by_the_device_ahead_or_its_own_main(feed, own, told):
    job = replace(house(1500, decisions={"main_a": 200.0}), panels=())
    box = {"spaces": 12, "bus_a": 100.0, **own}
    made = plan(add_panel(job, Panel.read({"id": "garage", **feed, "box": box})))
    assert ("feeder.garage.bus" in finding_ids(made)) is told


@pytest.mark.parametrize(("breaker_a", "told"), [(50.0, True), (60.0, False)])
def test_a_future_that_the_breaker_of_the_main_panel_does_not_hold(breaker_a, told):
    """A sauna heater of 4 kW later, at 100%: 9,050 + 4,000 = 13,050 VA, 54 A."""
    later = load(K.APPLIANCE, "4kW", "sauna heater", when="later")
    job = meter_main(breaker_a=breaker_a)
    job = replace(
        job, loads=(*job.loads, later), futures=(Future.read({"id": "s", "name": "sauna", "load_ids": [later.id]}),)
    )
    assert ("feeder.panel.later:s" in finding_ids(plan(job))) is told


def test_the_main_of_the_enclosure_is_the_disconnects_and_lands_once():
    """Its line side has the service conductors; the way in begins at its breaker; the main panel's and a garage's have their feeders'."""
    job = add_panel(meter_main(), Panel(id="garage", name="garage", breaker_a=60.0, metal="al"))
    made = plan(change_panel(job, "garage", **{"box.spaces": 12}))
    wires = {one.key: one.wire for one in made.changeover.terminations}
    assert not [key for key in wires if key.startswith("meter-main.main")]
    assert wires["disconnect.line.A"] == made.service.conductors.value and not [
        key for key in wires if key.startswith("disconnect.lugs")
    ]
    assert wires[f"{MAIN_FEEDER}.hot1"] == wires["panel.main.A"] == made.service.figures.to_main.conductors.value
    assert wires[f"{MAIN_FEEDER}.ground"] == wires["panel.main.G"] == made.service.figures.to_main.egc.value
    assert wires["garage.main.A"] == made.service.figures.feeders["garage"].conductors.value
    assert wires["garage.main.N"] == made.service.figures.feeders["garage"].neutral.value


def test_the_factory_joints_of_a_new_meter_main_are_in_the_torque_log_and_of_one_that_stays_are_not():
    """Main to the bus, the neutral bar, the ground bar: the joints that loosen on the truck, in every new box with a bus."""

    def joints(job: Job) -> set[str]:
        return {one.key for one in plan(job).installation.joints if ".factory." in one.key}

    made = joints(meter_main())
    assert {f"meter-main.factory.{one}" for one in ("main", "neutral", "ground")} <= made
    assert not {one for one in made if one.startswith("meter-main.factory.bond")}, (
        "its bond stands once, at the disconnect"
    )
    stays = joints(with_part(meter_main(), "scope", disconnect="as_is"))
    assert not {one for one in stays if one.startswith("meter-main.")}
