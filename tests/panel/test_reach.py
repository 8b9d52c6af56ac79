"""Reach: lengths as a tape would give them, entries that move with the enclosure, and what holds for every way."""

from __future__ import annotations

from itertools import pairwise

import pytest
from builders import called_out, house
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.job.edits import change_branch, change_circuit, place, with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panels import Interior
from robust_ledger.job.spaces import row_of
from robust_ledger.panel.geometry import inside, way, way_to_bar
from robust_ledger.plan import plan

# 14 in wide, 30 in high, 12 rows from 10 in down: terminals 4 in and gutters 2 in from the sides.
TOP = Interior(main_at="top", first_row_in=10.0, terminal_in=4.0)
BOTTOM = Interior(main_at="bottom", first_row_in=5.0, terminal_in=4.0)
NONE = Interior(main_at="none", first_row_in=5.0, terminal_in=4.0)
BOX = inside(TOP, 24, 14.0, 30.0)


@pytest.mark.parametrize(
    ("interior", "start", "space", "length", "words"),
    [
        (TOP, (2.0, 0.0), 1, 10 + 2, "to its gutter"),  # down the gutter, in to the terminal
        (TOP, (2.0, 0.0), 23, 21 + 2, "to its gutter"),  # eleven rows further down
        (TOP, (6.0, 0.0), 1, 4 + 10 + 2, "to its gutter"),  # first 4 in over to the gutter
        (TOP, (12.0, 0.0), 2, 10 + 2, "to its gutter"),
        # From the left entry to the right side under the interior: down to 28.5, over 10, up to the row, in.
        (TOP, (2.0, 0.0), 2, 28.5 + 10 + 18.5 + 2, "across under the interior"),
        (BOTTOM, (2.0, 0.0), 2, 5 + 10 + 2, "across over the interior"),  # down from above there is nothing in the way
        (TOP, (0.0, 16.0), 13, 2 + 0 + 2, "to its gutter"),  # in from the side at its very row
        (TOP, (0.0, 16.0), 1, 2 + 6 + 2, "to its gutter"),
        (TOP, (2.0, 30.0), 23, 9 + 2, "to its gutter"),  # from below
        (TOP, (2.0, 30.0), 24, 30 - 28.5 + 10 + 7.5 + 2, "across under the interior"),
        (NONE, (2.0, 0.0), 2, 5 + 10 + 2, "across over the interior"),
    ],
)
def test_a_way_by_tape(interior, start, space, length, words):
    box = inside(interior, 24, 14.0, 30.0)
    found = way(box, start, space % 2 == 0, box.row_y(space))
    assert found.length_in == pytest.approx(length) and found.words == words


@given(
    st.sampled_from([TOP, BOTTOM, NONE]), st.floats(0, 14), st.sampled_from([0.0, 30.0]), st.integers(1, 24), st.integers(2, 84),
    st.one_of(st.none(), st.floats(8, 40)), st.one_of(st.none(), st.floats(10, 90)),
)  # fmt: skip
def test_what_holds_for_every_way(interior, x, y, space, spaces, width, height):
    box = inside(interior, 24, 14.0, 30.0)
    found = way(box, (x, y), space % 2 == 0, box.row_y(space))
    corners = found.corners
    assert corners[0] == (x, y) and corners[-1] == (box.terminals_in[1 - space % 2], box.row_y(space))
    assert all(x1 == x2 or y1 == y2 for (x1, y1), (x2, y2) in pairwise(corners)), "upright and level pieces"
    straight = abs(x - corners[-1][0]) + abs(y - corners[-1][1])
    assert found.length_in >= straight - 1e-9, "no way is shorter than the shortest"
    middle = 7.0
    for (x1, y1), (x2, y2) in pairwise(corners):
        if min(x1, x2) < middle < max(x1, x2):
            assert y1 == y2 and ((y1 <= 1.5 and box.over_open) or (y1 >= 28.5 and box.under_open)), (
                "never across the line side"
            )
    other = inside(interior, spaces, width, height)
    assert other.rows == (spaces + 1) // 2 and other.terminals_in[0] < other.terminals_in[1]


def test_a_bar_on_the_other_side_costs_the_way_across():
    near, far = way_to_bar(BOX, (2.0, 0.0), "both"), way_to_bar(BOX, (2.0, 0.0), "right")
    assert near.length_in == pytest.approx(10) and far.length_in == pytest.approx(28.5 + 10 + 7.5)


def job_of(line: str, **circuit) -> Job:
    """One circuit, old and new panel alike, 24 spaces, both 14 by 30 in with their bottoms 40 in above the floor."""
    job = called_out(house(1500), line)
    job = change_circuit(job, 1, **{"enters": "top", **circuit})
    size = replace(job.fit.new, width_in=14.0, height_in=30.0)
    job = with_part(job, "fit", new=size, old=size, old_bottom_in=40.0, new_bottom_in=40.0)
    job = with_part(job, "old_panel", interior=TOP, spaces=24)
    return with_part(job, "panel", interior=TOP, spaces=24)


def at(job: Job, space: str):
    return plan(place(job, {"tag:1": space})).bench.reach["tag:1"]


@pytest.mark.parametrize(
    ("free", "space", "verdict", "margin", "splices"),
    [
        (22.0, "1", "reaches", 7.0, 0),  # needs 10 + 2 + 3 = 15
        (22.0, "11", "reaches", 2.0, 0), (22.0, "13", "just", 1.0, 0), (22.0, "15", "just", 0.0, 0), (22.0, "17", "short", -1.0, 1),
        (12.0, "1", "short", -3.0, 3),  # the bars begin at the first row too: 10 + 3 in
        (None, "1", "short", -0.75, 1),  # it was in row 1: what it reached, less ¾ in snipped
    ],
)  # fmt: skip
def test_what_is_left_over(free, space, verdict, margin, splices):
    reach = at(job_of("1 20 12 den receptacles", free_in=free), space)
    assert (reach.verdict, reach.splices, reach.estimated) == (verdict, splices, free is None)
    assert reach.margin_in == pytest.approx(margin, abs=0.06)


def test_what_it_reached_before_is_a_lower_bound():
    reach = at(job_of("9 20 12 den receptacles"), "1")
    assert reach.words == "reaches, at least 3.2 in to spare", "four rows nearer, less what is snipped"
    entry = plan(job_of("9 20 12 den receptacles")).entry("reach.free.tag:1")
    assert entry.amount == pytest.approx(10 + 4 + 2 + 3 - 0.75, abs=0.06) and "at least" in entry.steps[1].label


@pytest.mark.parametrize(
    ("side", "at_in", "bottom", "right", "gained"),
    [
        ("top", 2.0, 44.0, 0.0, 4.0), ("top", 2.0, 37.0, 0.0, -3.0),  # cables from above gain what the top comes up
        ("bottom", 2.0, 44.0, 0.0, -4.0), ("bottom", 2.0, 36.0, 0.0, 4.0),
        ("left", 16.0, 40.0, -2.0, 2.0), ("left", 16.0, 40.0, 3.0, -3.0), ("right", 16.0, 40.0, 3.0, 3.0),
        ("left", 16.0, 44.0, 0.0, 0.0),  # the hole stays where the cable is: 4 in further down in the new one
        ("top", 2.0, 40.0, 1.5, -0.5),  # half an inch sideways, to stay an inch off the corner
    ],
)  # fmt: skip
def test_an_entry_moves_with_the_enclosure(side, at_in, bottom, right, gained):
    job = job_of("1 20 12 den receptacles", enters=side, enters_at_in=at_in, free_in=20.0)
    job = with_part(with_part(job, "fit", new_bottom_in=bottom), "panel", right_of_old_in=right)
    assert plan(job).entry("reach.free.tag:1").amount == pytest.approx(20 + gained, abs=0.06)


def test_slack_outside_and_another_side():
    job = job_of("1 20 12 den receptacles", free_in=14.0, slack_in=6.0)
    assert at(job, "1").margin_in == pytest.approx(5.0)
    moved = change_branch(
        job_of("1 20 12 den receptacles", free_in=24.0, enters_at_in=2.0), "tag:1", new_side="left", new_at_in=12.0
    )
    free = plan(moved).entry("reach.free.tag:1")
    assert free.amount == pytest.approx(24 - 2 - 12), "2 in to the corner and 12 in down, outside"
    assert at(moved, "5").margin_in == pytest.approx(10 - (2 + 0 + 2 + 3))


def test_nothing_is_known_without_an_entry():
    made = plan(called_out(house(1500), "1 20 12 den receptacles"))
    assert made.bench.reach["tag:1"].verdict == "not known" and made.bench.reach["tag:1"].splices == 0
    assert (
        made.entry("reach.tag:1").value is None
        and "side where its cable enters" in made.entry("reach.tag:1").why_unknown
    )
    assert next(f for f in made.findings if f.id == "bench.no_length").severity == "NOTE"
    partly = plan(change_circuit(called_out(made.job, "3 20 12 hall lights"), 1, enters="top", free_in=30.0))
    assert next(f for f in partly.findings if f.id == "bench.no_length").severity == "ASK", (
        "some are known, this one not"
    )


@pytest.mark.parametrize(("gauge", "bend"), [("14", 3), ("10", 3), ("8", 4), ("6", 4), ("2", 6)])
def test_larger_wires_want_more_to_bend(gauge, bend):
    job = job_of(f"1,3 40/2 {gauge} range", free_in=40.0)
    second_hot = plan(job).bench.reach["tag:1"].conductors[1]
    row = 10 + row_of(int(plan(job).bench.placement.positions["tag:1"])) + 1
    assert second_hot.needed_in == pytest.approx(row + 2 + bend)


@pytest.mark.parametrize(
    ("cable", "ground"), [("", True), ("nm", True), ("conduit", False), ("knob_tube", False), ("bx", False)]
)
def test_wiring_without_a_ground_wire_needs_none(cable, ground):
    names = [one.name for one in at(job_of("1 20 12 den receptacles", free_in=30.0, cable=cable), "1").conductors]
    assert ("ground to its bar" in names) is ground and "neutral to its bar" in names


def test_a_2_pole_without_a_neutral_has_two_hots_and_a_ground():
    assert [c.name for c in at(job_of("1,3 30/2 10 water heater", free_in=30.0), "1").conductors] == [
        "first hot",
        "second hot",
        "ground to its bar",
    ]


def test_the_working_says_how_the_margin_comes_about():
    entry = plan(place(job_of("1 20 12 den receptacles", free_in=20.0), {"tag:1": "5"})).entry("reach.tag:1")
    assert entry.amount == pytest.approx(20 - 17) and entry.unit == "in"
    labels = [step.label for step in entry.steps]
    assert "hot: needed" in labels and "neutral to its bar: to spare" in labels and labels[-1] == "least to spare"


def test_a_cable_with_two_hots_has_one_neutral_and_one_ground():
    job = called_out(house(1500), "1 20 12 den receptacles", "3 20 12 hall lights mw 1")
    for tag in (1, 2):
        job = change_circuit(job, tag, enters="top", free_in=5.0)
    made = plan(job)
    assert [len(made.bench.reach[f"tag:{n}"].conductors) for n in (1, 2)] == [3, 1]


@pytest.mark.parametrize(
    ("knockouts", "at", "gained"),
    [({}, 2.0, 0.0), ({"top": (1.0, 6.0)}, 1.0, -1.0), ({"top": (5.0, 12.0)}, 5.0, -3.0), ({"left": (9.0,)}, 2.0, 0.0)],
)
def test_a_cable_comes_in_by_the_nearest_knockout(knockouts, at, gained):
    job = job_of("1 20 12 den receptacles", free_in=20.0, enters_at_in=2.0)
    interior = replace(job.panel.interior, knockouts=knockouts)
    made = plan(with_part(job, "panel", interior=interior))
    assert made.bench.wires["tag:1"].start == (at, 0.0) and made.entry("reach.free.tag:1").amount == pytest.approx(
        20 + gained
    )


@pytest.mark.parametrize(("told", "noted"), [(TOP, False), (Interior(main_at="top"), True)])
def test_the_working_says_when_inside_measures_are_taken_as_common(told, noted):
    job = with_part(job_of("1 20 12 den receptacles", free_in=40.0), "panel", interior=told)
    steps = plan(job).entry("reach.tag:1").steps
    assert any(step.label.startswith("inside measures") and "first row" in step.value for step in steps) is noted
