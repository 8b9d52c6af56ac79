"""Breakers that belong to the service: where they sit, what they are rated, and that nothing is made twice."""

from __future__ import annotations

import pytest
from builders import K, called_out, finding_ids, house, load, sub_panel
from msgspec.structs import replace

from robust_ledger.job.edits import place, with_part
from robust_ledger.measure.simulate.basis import wanted_of
from robust_ledger.panel.moves import move
from robust_ledger.panel.request import arrange
from robust_ledger.plan import plan

LINES = ("1 20 12 den receptacles", "3,5 30/2 10 oven", "2 20 12 hall receptacles", "4 15 14 hall lights")


def job(main_at: str = "top", **equipment):
    made = with_part(called_out(house(1500), *LINES), "equipment", **equipment)
    interior = replace(made.panel.interior, main_at=main_at)
    return with_part(made, "panel", spaces=12, interior=interior)


@pytest.mark.parametrize(
    ("main_at", "near", "far"), [("top", {"1", "2"}, {"9", "10"}), ("bottom", {"9", "10"}, {"1", "2"})]
)
def test_a_generator_sits_beside_the_main_and_an_inverter_at_the_far_end(main_at, near, far):
    """An inverter of 16 A counts with 125%: 20 A."""
    made = plan(job(main_at, generator_a=30.0, inverter_a=16.0))
    assert (
        made.bench.placement.positions["equip:generator"] in near
        and made.bench.placement.positions["equip:inverter"] in far
    )
    assert (
        made.entries["branch.breaker.equip:generator"].amount == 30
        and made.entries["branch.breaker.equip:inverter"].amount == 20
    )
    option = arrange(wanted_of(made)).options[0]
    assert option.placements["equip:generator"] in near and option.placements["equip:inverter"] in far
    branches = {b.key: b for b in made.circuits.branches if not b.off}
    refused = move(branches, made.bench.placement.positions, made.job.panel, "equip:generator", "5")
    assert refused.placements is None and "belongs beside the main" in refused.reason
    wrong = plan(place(made.job, {**made.bench.placement.positions, "equip:generator": "5"}))
    assert "panel.refused:equip:generator" in finding_ids(wrong)


def test_an_inverter_that_need_not_be_opposite_sits_anywhere():
    assert plan(job(inverter_a=16.0, inverter_opposite=False)).branch("equip:inverter").end == ""


@pytest.mark.parametrize(("at", "there"), [("panel", True), ("disconnect", False)])
def test_a_surge_device_takes_two_spaces_only_on_a_breaker_here(at, there):
    made = plan(job(spd=True, spd_at=at))
    assert (made.branch("equip:spd") is not None) is there
    assert made.bench.spaces_used.amount == 5 + 2 * there
    if there:
        assert made.branch("equip:spd").rating_text == "?/2", "its breaker is what its instructions say"
        assert plan(job(spd=True, spd_at=at, spd_a=20.0)).branch("equip:spd").rating_text == "20/2"


def test_a_feeder_that_was_called_out_is_not_made_twice():
    base = sub_panel(job(), breaker_a=60.0)
    assert plan(base).branch("equip:feeder.sub").rating_text == "60/2"
    assert plan(called_out(base, "6,8 60/2 6 garage feeder")).branch("equip:feeder.sub") is None


def test_equipment_is_no_load_of_the_house():
    bare, with_it = plan(job()), plan(job(generator_a=30.0, inverter_a=16.0, spd=True))
    assert with_it.load.chosen.total == bare.load.chosen.total
    for leg in ("panel.leg_a", "panel.leg_b"):
        assert with_it.entries[leg].known == bare.entries[leg].known


@pytest.mark.parametrize(
    ("rating", "finding"),
    [("700VA@120", None), ("1300VA@120", "bench.fastened:tag:1"), ("2000VA@120", "bench.cord:tag:1")],
)
def test_shares_of_a_circuit_with_other_outlets(rating, finding):
    """A 20 A circuit has 2,400 VA: half of it is 1,200, 80% is 1,920."""
    made = plan(called_out(house(1500, load(K.APPLIANCE, rating, "wall fan")), "1 20 12 den lights wall fan"))
    assert {i for i in finding_ids(made) if i.startswith(("bench.fastened", "bench.cord"))} == (
        {finding} if finding else set()
    )
