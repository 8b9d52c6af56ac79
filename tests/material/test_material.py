"""The material list: the demo's counted by hand, each item where the plan has occasion for it and not without, what is not known told."""

from __future__ import annotations

from pathlib import Path

import pytest
from builders import called_out, house

from robust_ledger.job.edits import change_circuit, with_part
from robust_ledger.job.files import read_job
from robust_ledger.job.parts.stock import Stock
from robust_ledger.ledger.entry import Entry
from robust_ledger.material.item import Item
from robust_ledger.plan import plan

EXAMPLES = Path(__file__).parents[2] / "examples"
DEMO = read_job(EXAMPLES / "marrow-lane.ledger.json")
MADE = plan(DEMO)

# By hand from the demo: 30 breakers in its schedule (two circuits share a neutral and a two-pole breaker), one in the garage, a run of 45 ft
# with 22 ft of riser and 20 ft from the disconnect to the panel, one rod more and one that is there, two at the garage, 70 ft of conduit to it,
# 15 splices.
BY_HAND = {
    "panel.panel": 1,
    "panel.garage": 1,
    "fillers": 2,
    "breaker.panel.standard-1-pole.15-a": 10,
    "breaker.panel.standard-1-pole.20-a": 12,
    "breaker.panel.standard-2-pole.20-a": 1,
    "breaker.panel.standard-2-pole.30-a": 2,
    "breaker.panel.standard-2-pole.35-a": 1,
    "breaker.panel.standard-2-pole.40-a": 1,
    "breaker.panel.standard-2-pole.50-a": 1,
    "breaker.panel.standard-2-pole.60-a": 1,
    "breaker.panel.ground-fault-2-pole.45-a": 1,
    "breaker.garage.ground-fault-1-pole.20-a": 1,
    "disconnect": 1,
    "spd": 1,
    "rods": 3,
    "clamps": 4,
    "clamp.electrode.water": 1,
    "raceway.garage": 7,
    "couplings.garage": 6,
    "bushings.garage": 2,
    "splice.12": 6,
    "splice.14": 9,
    "stickers": 32,
    "antioxidant": 1,
    "duct_seal": 1,
    "emergency_label": 1,
}


def items(job):
    return {one.key: one for one in plan(job).material.items}


def test_the_demo_by_hand():
    found = {one.key: one.entry.value for one in MADE.material.items}
    assert {key: found[key] for key in BY_HAND} == BY_HAND
    assert sum(count for key, count in found.items() if key.startswith("breaker.")) == 31


def test_the_cuts_by_hand():
    """Riser 22 ft, what is left free at the head, 2 ft in the meter, with 5% waste, up to the half foot; meter to disconnect 45 − 22 − 20 = 3
    and 2 + 3 = 8, with 5% 8.4, cut to 8.5; disconnect to panel 20 + 3 + 3 = 26, with 5% 27.3, cut to 27.5, and four wires."""
    free_ft = (DEMO.overhead.free_in if DEMO.overhead.free_in is not None else 36) / 12
    riser = -(-(22 + free_ft + 2) * 1.05 // 0.5) * 0.5
    by_where = {(cut.where, cut.color): cut for cut in MADE.material.cuts}
    assert by_where["weatherhead to meter", "black"].length_ft == riser
    assert by_where["meter to disconnect", "black"].length_ft == 8.5
    inside = {
        cut.color: (cut.wire, cut.length_ft) for cut in MADE.material.cuts if cut.where == "feeder of the main panel"
    }
    assert inside == {
        "black": ("2/0 Al", 27.5),
        "red": ("2/0 Al", 27.5),
        "white": ("1 Al", 27.5),
        "bare or green": ("4 Al", 27.5),
    }
    garage = [cut for cut in MADE.material.cuts if cut.run == "feeder.garage"]
    assert [cut.color for cut in garage] == ["black", "red", "white", "bare or green"], "a feeder has four wires"
    assert {cut.length_ft for cut in garage} == {80.0}, "70 + 3 + 3 ft, with 5% 79.8"
    feet = {one.words: one.entry.amount for one in MADE.material.items if one.key.startswith("wire.")}
    assert feet["2/0 Al, black"] == riser + 8.5 + 27.5, "all pieces of a color together"


@pytest.mark.parametrize(
    ("key", "part", "change", "twin"),
    [
        ("meter_socket", "decisions", {"meter_replaced": True}, {"meter_replaced": False}),
        ("weatherhead", "scope", {"renews": ("riser",)}, {"renews": ("riser_conductors",)}),
        ("flashing", "scope", {"renews": ("riser",)}, {"renews": ()}),
        ("spd", "equipment", {"spd": True}, {"spd": False}),
        ("interlock", "equipment", {"generator_a": 30.0}, {"generator_a": None}),
        ("rods", "grounding", {"rods": 0}, {"rods": 2}),
        ("intersystem", "grounding", {"intersystem": 0}, {"intersystem": 3}),
    ],
)
def test_an_item_is_there_only_where_the_plan_has_occasion_for_it(key, part, change, twin):
    job = with_part(
        called_out(house(1500), "1 20 12 hall"),
        "scope",
        service="upgraded",
        panel_place="same",
        renews=("load_conductors",),
    )
    job = with_part(with_part(job, "grounding", rod_length_ft=8.0, rod_spacing_ft=8.0), "existing", raceway="rmc")
    there, not_there = (items(with_part(job, part, **values)) for values in (change, twin))
    assert key in there and key not in not_there


def test_a_riser_in_lengths_straps_and_couplings():
    """23 ft of rigid: three lengths of ten, two couplings; straps 10 ft apart make three spans, four straps."""
    job = with_part(
        called_out(house(1500), "1 20 12 hall"), "scope", service="upgraded", panel_place="same", renews=("riser",)
    )
    job = with_part(with_part(job, "service_run", riser_ft=23.0, length_ft=40.0), "existing", raceway="rmc")
    rigid = items(job)
    assert [rigid[key].entry.value for key in ("raceway", "couplings", "straps")] == [3, 2, 4]
    close = items(with_part(job, "overhead", strap_between_in=72.0))
    assert close["straps"].entry.value == 5, "72 in apart: four spans"
    unknown = items(with_part(job, "service_run", riser_ft=None, length_ft=None))
    assert not unknown["raceway"].entry.known and "riser" in unknown["raceway"].entry.why_unknown


def test_aluminum_splices_are_connectors_of_their_own():
    """One short wire of the demo in aluminum goes over to connectors listed for both; the layout may move for it, every splice of it
    stays counted once."""
    spliced = [key for key, reach in MADE.bench.reach.items() if reach.splices and key.tag]
    short = next(key for key in spliced if MADE.branch(str(key)).wire_size == "12")
    made = plan(change_circuit(DEMO, short.tag, metal="al"))
    found = {one.key: one.entry.value for one in made.material.items}
    twelve = {key: reach.splices for key, reach in made.bench.reach.items() if made.branch(str(key)).wire_size == "12"}
    assert found["splice.al.12"] == twelve.pop(short) == 1
    assert found["splice.12"] == sum(twelve.values())
    assert not any(key.startswith("splice.al") for key in items(DEMO))


@pytest.mark.parametrize(
    ("prices", "cost"),
    [
        ({"breaker.panel.standard-2-pole.30-a": 20.0}, 20.0),
        ({"breaker.panel.standard-2-pole.30-a": 20.0, "breaker.garage.standard-2-pole.30-a": 25.0}, 25.0),
        ({"breaker.garage.standard-2-pole.30-a": 25.0}, 25.0),
        ({"breaker.panel.standard-2-pole.40-a": 20.0}, None),
        ({}, None),
    ],
)
def test_a_breaker_of_another_panel_costs_what_it_costs_for_the_main_one_unless_it_has_a_price(prices, cost):
    item = Item("breaker.garage.standard-2-pole.30-a", "Breakers", "x", Entry("x", "x", 1, "", ()))
    assert item.cost(Stock(prices=prices)) == cost
    assert Item("rods", "Grounding", "x", Entry("x", "x", 1, "", ())).cost(Stock(prices={"panel.rods": 3.0})) is None
