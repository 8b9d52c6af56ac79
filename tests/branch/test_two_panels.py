"""Two old panels that are merged, tags numbered by either scheme, loads and circuits joined, readings, effects on the plan."""

from __future__ import annotations

from datetime import datetime

import pytest
from builders import K, called_out, circuit, finding_ids, house, load, unknown_load
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.branch.links import not_joined, proposed
from robust_ledger.branch.old_panel import called_out_text, first_free_position, old_positions
from robust_ledger.branch.readings import read_reading, reading_text
from robust_ledger.callout.circuit import read_callout
from robust_ledger.callout.session import replay
from robust_ledger.callout.text import callout_text
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.edits import (
    add_old_box,
    add_panel,
    add_readings,
    change_old_box,
    drop_readings,
    move_to_panel,
    remove_old_box,
    with_part,
)
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.circuits import ClampReading, Mark
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.plan import plan

BOOK = load_codebook("2023")
NOW = datetime(2026, 12, 3, 18, 5)
MERGED = house(1500, old_boxes=({"mark": "r", "spaces": 12, "tandem_spaces": (3,)},))
THREE = change_old_box(add_old_box(MERGED), "c", name="cellar", spaces=8)


@pytest.mark.parametrize(
    ("line", "spaces"),
    [("r7 20 12 den", ("r7",)), ("r3a 20 12 den", ("r3a",)), ("r9,11 30/2 10 oven", ("r9", "r11")), ("den 20a #12 r5", ("r5",)),
     ("r9 30/2 10 oven", ("r9", "r11")), ("R8 20 12 den", ("r8",))],
)  # fmt: skip
def test_a_space_of_the_right_hand_panel(line, spaces):
    one = read_callout(line, MERGED, BOOK).circuit
    assert one.spaces == spaces
    assert read_callout(callout_text(one), MERGED, BOOK).circuit.spaces == spaces


@pytest.mark.parametrize(
    ("line", "spaces", "feeds"),
    [("c7 20 12 den", ("c7",), "den"), ("c5,7 30/2 10 oven", ("c5", "c7"), "oven"), ("den 20a #12 c3", ("c3",), "den"),
     ("7 20 12 room d4", ("7",), "room d4"), ('7 20 12 "unit c3"', ("7",), "unit c3")],
)  # fmt: skip
def test_a_box_with_a_mark_of_its_own(line, spaces, feeds):
    """ "c7" is a space where a box is marked c; "d4" is none, and what stands in quotes is a description."""
    one = read_callout(line, THREE, BOOK).circuit
    assert (one.spaces, one.feeds) == (spaces, feeds)
    assert read_callout(callout_text(one), THREE, BOOK).circuit.spaces == spaces


def test_any_number_of_boxes_is_called_out_and_counted():
    assert old_positions(THREE)[-8:] == [f"c{n}" for n in range(1, 9)]
    job = with_part(THREE, "pull_off", tag_numbers="space")
    made, _ = replay(["7 20 12 den", "r7 20 12 porch", "c7 20 12 cellar", "- cap"], job, BOOK)
    assert [c.tag for c in made.circuits] == [7, 107, 207, 209]
    assert "The cellar panel has 8 spaces" in read_callout("c9 20 12 den", THREE, BOOK).fault.text
    gone = remove_old_box(made, "c")
    assert gone.circuit(207).spaces == () and [box.mark for box in gone.old_boxes] == ["r"]


@pytest.mark.parametrize(
    ("box", "panel", "known"),
    [  # the garage's old box on another wall; the new panel there hangs in its place
        ({"elsewhere": True}, {"instead_of": "c"}, True),
        ({"elsewhere": True}, {}, False),
        ({"elsewhere": True, "right_in": 300.0}, {"right_in": 300.0}, True),
        ({}, {"right_in": 20.0}, True),
    ],
)
def test_how_far_old_and_new_are_apart_counts_in_the_reach(box, panel, known):
    job = called_out(change_old_box(THREE, "c", **box), "c7 20 12 den top 30in")
    new = {"id": "new", "breaker_a": 60.0, "box": {"spaces": 8, "bus_a": 100.0}, **panel}
    job = move_to_panel(add_panel(job, Panel.read(new)), [CircuitKey.of_tag(1)], "new")
    made = plan(job)
    assert made.benches["new"].wires["tag:1"].known is known
    assert ("bench.apart@new" in finding_ids(made)) is not known
    main = plan(move_to_panel(job, [CircuitKey.of_tag(1)], "panel"))
    far = box.get("elsewhere") and "right_in" not in box
    assert main.bench.wires["tag:1"].known is not far, "from another wall the way to the main panel has to be measured"
    if box.get("right_in"):
        assert main.bench.reach["tag:1"].splices > 0, "25 ft are not bridged by 30 in of wire"


@pytest.mark.parametrize(
    ("line", "told"),
    [("r13 20 12 den", "right-hand panel has 12 spaces; there is no space r13"), ("r11 30/2 10 oven", "would need space r13")],
)  # fmt: skip
def test_spaces_that_the_right_hand_panel_lacks(line, told):
    assert told in read_callout(line, MERGED, BOOK).fault.text
    assert "only one panel" in read_callout(line, house(1500), BOOK).fault.text


def test_both_panels_are_called_out_one_after_the_other():
    assert old_positions(MERGED)[-4:] == ["r9", "r10", "r11", "r12"] and "r3b" in old_positions(MERGED)
    full = called_out(MERGED, *[f"{n} 20 12 den {n}" for n in range(1, 25)])
    assert first_free_position(full) == "r1" and called_out_text(full) == "24 of 37 positions called out, 24 tags"
    both = called_out(full, "r1 20 12 den", "r7a 20 12 den")
    ids = finding_ids(plan(both))
    assert not [one for one in ids if one.startswith("branch.old_twice")], "space 1 left and space 1 right are two"
    assert "branch.old_tandem:r7a:tag:26" in ids, "space 7 of the right-hand panel is not marked for a tandem"
    assert plan(both).entries["count.spaces"].amount == 26
    gone = replace(both, old_boxes=())
    assert "branch.old_outside:r1:tag:25" in finding_ids(plan(gone)), "told, and the circuit is kept"


def test_fuses_and_a_split_bus_are_told_of_the_panel_they_are_in():
    found = finding_ids(plan(change_old_box(MERGED, "r", kind="fuses")))
    assert "old_box.r.fuses" in found and "old_panel.fuses" not in found
    split = change_old_box(MERGED, "r", kind="split_bus", split_at=7)
    assert "branch.old_split:tag:1" in finding_ids(plan(called_out(split, "r5,7 30/2 10 oven")))
    assert "branch.old_split:tag:1" not in finding_ids(plan(called_out(split, "5,7 30/2 10 oven")))


def test_tags_by_the_old_space():
    by_space = with_part(MERGED, "pull_off", tag_numbers="space")
    job, _ = replay(
        ["7 20 12 den", "9,11 30/2 10 oven", "r7 20 12 porch", "7 20 12 attic dbl", "- cap"], by_space, BOOK
    )
    assert [c.tag for c in job.circuits] == [7, 9, 107, 113, 114], (
        "what has no number of its own comes after both panels"
    )
    from_50, _ = replay(["7 20 12 den", "8 20 12 hall"], with_part(house(1500), "pull_off", first_tag=50), BOOK)
    assert [c.tag for c in from_50.circuits] == [50, 51]


@given(
    st.sampled_from(["called", "space"]), st.lists(st.sampled_from(["7", "r7", "9,11", "3a", "3b", "-"]), max_size=8)
)
def test_no_two_tags_are_alike_whatever_the_scheme(scheme, spaces):
    job = with_part(MERGED, "pull_off", tag_numbers=scheme)
    after, _ = replay([f"{space} 20 12 den" for space in spaces], job, BOOK)
    tags = [c.tag for c in after.circuits]
    assert len(set(tags)) == len(tags) == len(spaces)


HOUSE = house(
    1500,
    load(K.DRYER, "5kW", "electric dryer", room="laundry"),
    load(K.WATER_HEATER, "4.5kW", "water heater"),
    unknown_load(K.APPLIANCE, "fan", 120),
    circuits=(
        circuit(1, "10", 30, poles=2, feeds="dryer", spaces=("1", "3")),
        circuit(2, "10", 30, poles=2, feeds="?", spaces=("5", "7")),
    ),
)


def test_what_is_left_over_and_what_it_most_likely_belongs_to():
    loose = {(one.about, one.load_id or one.tag): (one.tag, one.load_id, one.proposal) for one in not_joined(HOUSE)}
    assert loose[("load", "electric-dryer")][:2] == (1, "electric-dryer")
    assert loose[("load", "water-heater")] == (None, "water-heater", ""), "nothing on the panel says water heater"
    assert ("circuit", "electric-dryer") in loose and loose[("circuit", 2)] == (2, "", "")
    assert proposed(HOUSE, HOUSE.circuits[0]).id == "electric-dryer"


def test_a_load_can_be_named_outright_and_several_can():
    one = read_callout("9 20 12 nook =water-heater =fan", HOUSE, BOOK).circuit
    assert (one.feeds, one.load_ids) == ("nook", ("water-heater", "fan"))
    job = replace(HOUSE, circuits=(one,))
    assert callout_text(one, job).endswith("nook =water-heater =fan")
    assert read_callout(callout_text(one, job), job, BOOK, one.tag).circuit.load_ids == one.load_ids
    assert 'no load "oven"' in read_callout("9 20 12 nook =oven", HOUSE, BOOK).fault.text


@pytest.mark.parametrize(
    ("text", "leg", "amperes", "at", "running"),
    [
        ("4.1 B 18:20 refrigerator and lights", "B", 4.1, "2026-12-03 18:20", "refrigerator and lights"),
        ("12a", "", 12, "2026-12-03 18:05", ""),
        ("0.3 2026-11-30 7:05 a range, one burner", "A", 0.3, "2026-11-30 07:05", "range, one burner"),
        ("3 lights of room B", "", 3, "2026-12-03 18:05", "lights of room B"),
    ],
)
def test_a_reading_as_it_is_written_down(text, leg, amperes, at, running):
    reading = read_reading(text, circuit(7), NOW)
    assert (reading.tag, reading.leg, reading.amperes, reading.at, reading.running) == (7, leg, amperes, at, running)
    assert read_reading(reading_text(reading), circuit(7), NOW) == reading


@pytest.mark.parametrize("text", ["", "B 4.1", "four", "-1", "1e9", "601", "4 2026-02-30"])
def test_what_is_no_reading_is_told(text):
    with pytest.raises(ValueError, match=r"\.$"):
        read_reading(text, circuit(7), NOW)


def test_a_reading_taken_out_leaves_the_one_before():
    first = ClampReading(tag=1, leg="A", amperes=4.0, at="2026-12-03 18:05")
    pair = tuple(ClampReading(tag=1, leg=leg, amperes=a, at="2026-12-03 19:00") for leg, a in (("A", 7.0), ("B", 6.0)))
    job = add_readings(add_readings(house(1500, circuits=(circuit(1),)), (first,)), pair)
    assert job.circuits[0].clamp_a == 7
    assert drop_readings(job, {1}).circuits[0].clamp_a == 6
    assert drop_readings(job, {1, 2}).circuits[0].clamp_a == 4
    assert drop_readings(job, {0, 1, 2}).circuits[0].clamp_a is None
    assert plan(job).load.neutral == plan(drop_readings(job, {0, 1, 2})).load.neutral, "kept apart"


@pytest.mark.parametrize(
    ("made", "said"),
    [
        (circuit(1, "14", 20), "15 A breaker instead of 20"),
        (circuit(1, "12", 20), ""),
        (circuit(1, None, 20), "no breaker until its gauge is known"),
        (circuit(1, marks=(Mark.CAPPED,)), "hots capped; its EGC is landed"),
        (circuit(1, poles=2, marks=(Mark.LATER_120,)), "a space when it is converted"),
        (circuit(1, marks=(Mark.DOUBLED,)), "a breaker for each of its wires"),
        (circuit(1, cable="bx"), "protection at the first outlet"),
        (circuit(1, cable="conduit"), "its EGC"),
        (circuit(1, "10", 25, metal="al"), "terminals marked for aluminum"),
        (circuit(1, marks=(Mark.WHITE_HOT,)), "its white is re-marked"),
    ],
)  # fmt: skip
def test_what_the_plan_changes_of_a_circuit_as_found(made, said):
    assert said in "; ".join(plan(house(1500, circuits=(made,))).circuits.effects(1))


@pytest.mark.parametrize("first", [True, False])
def test_a_bare_neutral_gets_a_new_cable_only_where_neutral_and_ground_are_apart(first):
    job = with_part(
        house(1500, circuits=(circuit(1, "10", 30, poles=2, marks=(Mark.BARE_NEUTRAL,)),)),
        "panel",
        first_disconnect=first,
    )
    assert ("new four-wire cable" in plan(job).circuits.effects(1)) is not first


@pytest.mark.parametrize(("marks", "told"), [((), True), ((Mark.TIED,), False)])
def test_a_shared_neutral_that_opens_one_by_one_is_told(marks, told):
    pair = (circuit(1, spaces=("1",), marks=marks), circuit(2, spaces=("3",), marks=marks, shares_neutral_with=1))
    made = plan(house(1500, circuits=pair))
    assert ("branch.neutral_no_tie:tag:1" in finding_ids(made)) is told
    assert "one handle with tag 2, on the other leg" in made.circuits.effects(1), "in the plan either way"
