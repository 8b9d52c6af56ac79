"""Bare neutrals by their cable, circuits without a ground, knob-and-tube, loads that go, fuse boxes: each fires, and its twin does not."""

from __future__ import annotations

import pytest
from builders import JUDGED, K, called_out, finding_ids, house, load, unknown_load
from msgspec.structs import replace

from robust_ledger.job.edits import add_panel, change_branch, change_circuit, move_to_panel, with_part
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.plan import plan

TAG = CircuitKey.of_tag(1)


def severity(made, name: str) -> str | None:
    return next((str(f.severity) for f in made.findings if f.id == f"branch.{name}:tag:1"), None)


@pytest.mark.parametrize("edition", JUDGED)
@pytest.mark.parametrize(
    ("cable", "first", "change", "found"),
    [
        ("se", True, {}, "NOTE"),
        ("se", False, {}, "STOP"),
        ("nm", True, {}, "STOP"),
        ("uf", True, {}, "STOP"),
        ("", True, {}, "ASK"),
        ("", False, {}, "STOP"),
        ("se", True, {"work": "extended"}, "STOP"),
        ("se", True, {"work": "lengthened"}, "STOP"),
        ("se", True, {"work": "receptacles"}, "NOTE"),
        ("se", True, {"action": "convert"}, "STOP"),
        ("nm", True, {"action": "new_cable"}, "NOTE"),
        ("nm", True, {"action": "cap"}, "NOTE"),
    ],
)
def test_a_bare_neutral_by_its_cable_its_panel_and_what_is_done(edition, cable, first, change, found):
    job = called_out(house(1500, edition=edition), "1,3 30/2 10 dryer bare-n")
    job = with_part(change_circuit(job, 1, cable=cable), "panel", first_disconnect=first)
    made = plan(change_branch(job, TAG, **change))
    assert severity(made, "bare_neutral") == found
    assert ("new four-wire cable" in made.circuits.effects(1)) == (found == "STOP")


def test_a_bare_neutral_that_goes_to_another_panel_loses_its_leave():
    job = change_circuit(called_out(house(1500), "1,3 30/2 10 dryer bare-n"), 1, cable="se")
    box = {"spaces": 12, "bus_a": 100.0}
    behind = add_panel(job, Panel.read({"id": "garage", "breaker_a": 60.0, "box": box}))
    assert severity(plan(behind), "bare_neutral") == "NOTE"
    assert severity(plan(move_to_panel(behind, [TAG], "garage")), "bare_neutral") == "STOP"
    meter = {
        "id": "two",
        "name": "two",
        "fed_from": "meter",
        "box": {**box, "main": "breaker", "first_disconnect": True},
    }
    beside = add_panel(job, Panel.read(meter))
    assert severity(plan(move_to_panel(beside, [TAG], "two")), "bare_neutral") == "NOTE", "a service disconnect itself"


@pytest.mark.parametrize("edition", JUDGED)
@pytest.mark.parametrize(
    ("line", "cable", "change", "found"),
    [
        ("1 15 14 den receptacles ungrounded", "", {}, "NOTE"),
        ("1 15 14 den receptacles", "", {}, None),
        ("1 15 14 den receptacles", "knob_tube", {}, "NOTE"),
        ("1 15 14 den receptacles", "bx", {}, "NOTE"),
        ("1 15 14 den receptacles", "ac", {}, None),
        ("1 15 14 den receptacles no-ground", "", {"work": "receptacles"}, "FIX"),
        ("1 15 14 den receptacles no-ground", "", {"work": "extended"}, "FIX"),
        ("1 15 14 den receptacles no-ground", "", {"work": "short"}, "NOTE"),
        ("1 15 14 den receptacles no-ground", "", {"action": "new_cable"}, None),
        ("- - 14 den receptacles no-ground cap", "", {}, None),
    ],
)
def test_a_circuit_without_a_ground_and_the_lawful_ways(edition, line, cable, change, found):
    job = change_circuit(called_out(house(1500, edition=edition), line), 1, cable=cable)
    made = plan(change_branch(job, TAG, **change))
    assert severity(made, "no_ground") == found
    if found:
        finding = next(f for f in made.findings if f.id == "branch.no_ground:tag:1")
        assert {"406.4(D)(2)", "250.130(C)"} == {c.section for c in finding.cites} and "GFCI" in finding.remedy


@pytest.mark.parametrize(("insulated", "found"), [(True, "FIX"), (False, "ASK"), (None, "ASK")])
def test_knob_and_tube_in_insulation_is_a_hazard(insulated, found):
    job = change_circuit(called_out(house(1500), "1 15 14 den lights"), 1, cable="knob_tube", insulated=insulated)
    assert severity(plan(job), "knob_tube") == found
    assert severity(plan(change_circuit(job, 1, cable="nm")), "knob_tube") is None


@pytest.mark.parametrize(
    ("when", "action", "asked"),
    [
        ("removed", "keep", True),
        ("existing", "keep", False),
        ("removed", "cap", False),
        ("removed", "new_cable", False),
    ],
)
def test_a_circuit_whose_load_goes_is_asked_about(when, action, asked):
    stove = load(K.COOKING, "11kW", "range", when=when)
    job = called_out(house(1500, stove), "1,3 50/2 6 old stove")
    job = change_branch(change_circuit(job, 1, load_ids=("range",)), TAG, action=action)
    assert (severity(plan(job), "load_gone") == "ASK") is asked


@pytest.mark.parametrize(
    ("line", "work", "found"),
    [
        ("1 20 12 bath 1 and bath 2 receptacles and lights", "", "NOTE"),
        ("1 20 12 bath 1 and bath 2 receptacles and lights", "extended", "FIX"),
        ("1 20 12 bath 1 and bath 2 receptacles", "extended", None),  # receptacles of several
        ("1 20 12 hall bath receptacles and fan", "extended", None),  # all of one
        ("1 20 12 bathrooms receptacles, lights", "", "NOTE"),
    ],
)
def test_several_bathrooms_on_one_circuit(line, work, found):
    made = plan(change_branch(called_out(house(1500), line), TAG, work=work))
    assert next((str(f.severity) for f in made.findings if f.id == "bench.several_baths:tag:1"), None) == found


def fuse_box(kind: str):
    return with_part(house(1500), "old_panel", kind=kind, spaces=8)


@pytest.mark.parametrize(("kind", "asked"), [("fuses", False), ("main", True)])
def test_pull_outs_have_no_legs_by_their_number(kind, asked):
    made = plan(called_out(fuse_box(kind), "1+5 30/2 10 dryer"))
    assert ("branch.old_legs:tag:1" in finding_ids(made)) is asked


@pytest.mark.parametrize(
    ("kind", "lines", "once", "each"),
    [
        ("fuses", ("1 30 12 kitchen", "2 30 14 den"), True, 0),
        ("fuses", ("1 30 12 kitchen",), True, 0),
        ("fuses", ("1 20 12 kitchen",), False, 0),
        ("main", ("1 30 12 kitchen", "2 30 14 den"), False, 2),
    ],
)
def test_30_a_plug_fuses_are_told_of_once(kind, lines, once, each):
    ids = finding_ids(plan(called_out(fuse_box(kind), *lines)))
    assert ("old_panel.plug_30" in ids) is once
    assert sum(one.startswith("branch.single_30") for one in ids) == each


def test_two_fuse_boxes_are_told_apart_by_name():
    job = replace(house(1500, old_boxes=[{"mark": "r", "name": "cellar", "kind": "fuses", "spaces": 4}]))
    made = plan(called_out(with_part(job, "old_panel", kind="fuses", spaces=4), "1 30 12 kitchen", "r1 30 12 shop"))
    titles = {f.title for f in made.findings if f.id.endswith("plug_30")}
    assert titles == {"Plug fuses of 30 A: tag 1", "Plug fuses of 30 A: cellar: tag 2"}


def test_a_breaker_found_off_is_told_and_one_that_was_on_is_not():
    told = "found_off"
    off = plan(called_out(house(1500), "1 20 12 attic fan found-off"))
    on = plan(called_out(house(1500), "1 20 12 attic fan"))
    capped = plan(called_out(house(1500), "1 20 12 attic fan found-off cap"))
    assert [told in " ".join(finding_ids(made)) for made in (off, on, capped)] == [True, False, False]


def test_what_a_load_on_no_circuit_draws_is_worked_out():
    """A 180 VA hood at 120 V is 1.5 A, a 4.8 kW heater at 240 V is 20 A; once joined to a circuit they are on its leg."""
    loads = (load(K.APPLIANCE, "180VA@120", "range hood"), load(K.HEATING, "4.8kW", "wall heater"))
    loose = plan(house(1500, *loads)).bench.loose
    assert loose.amount == pytest.approx(1.5 + 20)
    joined = called_out(house(1500, *loads), "1 20 12 range hood", "3,5 30 10 wall heater")
    assert plan(joined).bench.loose is None
    unknown = plan(house(1500, load(K.DRYER, "5kW", "dryer"), unknown_load(K.COOKING, "range"))).bench.loose
    assert not unknown.known, "a nameplate that was not read leaves the sum open"
