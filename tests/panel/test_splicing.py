"""Splices: the box each needs, by hand from the volume table, and how full the gutters are."""

from __future__ import annotations

import pytest
from builders import called_out, finding_ids, house, with_parts

from robust_ledger.job.edits import place, with_part
from robust_ledger.job.keys import CircuitKey
from robust_ledger.plan import plan

TAG = CircuitKey.of_tag(1)


def short(line: str, edition: str = "2023", **fit):
    """A circuit whose cable comes in at the top with hardly any free wire, in a panel of known size."""
    new = {"width_in": 14.5, "height_in": 40.0, "depth_in": 3.75, **fit}
    return plan(with_parts(called_out(house(1500, edition=edition), f"{line} top 3in"), "fit", new=new))


@pytest.mark.parametrize("edition", ["2017", "2020", "2023"])
@pytest.mark.parametrize(
    ("line", "volume_in3", "box"),
    [
        ("1 15 14 den lights", 4 * 2 + 2 + 2, "4 x 1-1/2 in octagonal"),  # hot and neutral twice, grounds, clamps
        ("1 20 12 den receptacles", 4 * 2.25 + 2.25 + 2.25, "4 x 1-1/2 in octagonal"),
        ("1,3 30/2 10 water heater", 4 * 2.5 + 2.5 + 2.5, "4 x 1-1/2 in octagonal"),  # two hots, no neutral
        ("1,3 40/2 8 unit heater", 4 * 3 + 3 + 3, "4 x 1-1/2 in square"),
        ("1,3 60/2 6 unit heater", 4 * 5 + 5 + 5, "4 x 2-1/8 in square"),
    ],
)
def test_the_box_of_a_splice_by_hand(edition, line, volume_in3, box):
    made = short(line, edition)
    entry = made.entry("splice.tag:1")
    assert next(s.value for s in entry.steps if s.label == "together") == pytest.approx(volume_in3)
    assert str(entry.value).startswith(box), entry.value


def test_a_wire_that_reaches_has_no_splice_and_a_size_out_of_the_table_is_unknown():
    assert plan(called_out(house(1500), "1 15 14 den lights top 60in")).entry("splice.tag:1") is None
    assert not short("1,3 100/2 3 feeder").entry("splice.tag:1").known


def many(count: int, depth_in: float | None = 3.75):
    """Circuits of 6 AWG with two hots and a ground, all of them landing left and right in turn."""
    lines = [f"{4 * n + 1},{4 * n + 3} 60/2 6 heater {n} top 60in" for n in range(count)]
    job = with_part(called_out(house(1500, old_panel={"spaces": 60}), *lines), "panel", spaces=84)
    return plan(with_parts(job, "fit", new={"width_in": 14.5, "height_in": 60.0, "depth_in": depth_in}))


def test_the_fuller_gutter_by_hand():
    """3.65 in from the side to the terminals, 3.75 deep: 13.69 in². Three 6 AWG, 0.0507 in² each, of every circuit on that side."""
    made = many(4)
    sides = [int(made.bench.placement.positions[CircuitKey.of_tag(n)]) % 2 for n in range(1, 5)]
    most = max(sides.count(0), sides.count(1))
    expected = 100 * most * 3 * 0.0507 / (3.65 * 3.75)
    assert made.entries["panel.gutter"].amount == pytest.approx(expected)
    assert made.entries["panel.gutter_splices"].amount == pytest.approx(expected), "nothing is short"
    assert not many(4, None).entries["panel.gutter"].known, "the depth is not measured"


@pytest.mark.parametrize(("depth_in", "told"), [(3.75, False), (0.3, True), (None, False)])
def test_a_gutter_that_is_too_full_is_told(depth_in, told):
    assert ("panel.gutter" in finding_ids(many(8, depth_in))) is told


def test_splices_beside_the_wires_are_judged_apart():
    """A shallow gutter holds the wires, not the splices: 0.25 in² for each."""
    lines = [f"{2 * n + 1} 15 14 lights {n} top 3in" for n in range(8)]
    job = called_out(house(1500), *lines)
    made = [plan(with_parts(job, "fit", new={"width_in": 14.5, "height_in": 40.0, "depth_in": d})) for d in (0.6, 3.75)]
    assert [("panel.gutter_splices" in finding_ids(one), "panel.gutter" in finding_ids(one)) for one in made] == [
        (True, False),
        (False, False),
    ]
    assert "no room" in str(made[0].entry("splice.tag:1").steps) and "room for it" in str(
        made[1].entry("splice.tag:1").steps
    )


def test_the_side_with_its_splices_is_looked_for_by_itself():
    """Left 6 AWG that reaches, 0.456 in² of it; right 14 AWG, all of it short: less wire, and 0.25 in² for each splice."""
    long = [f"{4 * n + 1},{4 * n + 3} 60/2 6 heater {n} top 60in" for n in range(3)]
    brief = [f"{2 * n + 2} 15 14 lights {n} top 3in" for n in range(4)]
    job = called_out(house(1500), *long, *brief)
    job = place(
        job,
        {CircuitKey.of_tag(n + 1): str(4 * n + 1) for n in range(3)}
        | {CircuitKey.of_tag(n + 4): str(2 * n + 2) for n in range(4)},
    )
    made = plan(with_parts(job, "fit", new={"width_in": 14.5, "height_in": 60.0, "depth_in": 3.75}))
    assert ["right" in made.entries[f"panel.{name}"].label for name in ("gutter", "gutter_splices")] == [False, True]
