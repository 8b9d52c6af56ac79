"""Cables and knockouts: the nearest for each, as few double ones as can be, against every way on small cases; what finds none is told."""

from __future__ import annotations

from itertools import permutations

import pytest
from builders import called_out, finding_ids, house
from hypothesis import given, settings
from hypothesis import strategies as st

from robust_ledger.job.edits import change_branch, with_part
from robust_ledger.job.keys import CircuitKey
from robust_ledger.plan import plan


def entering(places, lines, each: int = 1):
    job = called_out(house(1500), *lines)
    interior = {"knockouts": {"top": tuple(places)}} if places else {}
    return plan(with_part(job, "panel", interior=job.panel.interior.changed(**interior), cables_per_connector=each))


def lines(*at: float) -> list[str]:
    return [f"{2 * n + 1} 20 12 room {n} top@{a:g} 40in" for n, a in enumerate(at)]


def dealt(made) -> dict[float, list[str]]:
    return {h.at_in: [cable.keys[0].name for cable in h.cables] for h in made.bench.knockouts.holes}


def test_each_cable_takes_the_nearest_and_what_is_left_is_free():
    made = entering((2, 5, 8, 12), lines(5.4, 2.2))
    assert dealt(made) == {2: ["2"], 5: ["1"], 8: [], 12: []}
    assert [made.entry(f"knockouts.panel.{name}").amount for name in ("connectors", "free")] == [2, 2]
    assert not made.bench.knockouts.left_over


@settings(max_examples=40, deadline=None)
@given(
    st.lists(st.integers(1, 13), min_size=4, max_size=5, unique=True),
    st.lists(st.integers(1, 13), min_size=1, max_size=4),
)
def test_the_way_along_the_side_is_the_least_there_is(places, at):
    made = entering(sorted(places), lines(*at))
    starts = {c.keys[0].name: c.at_in for h in made.bench.knockouts.holes for c in h.cables}
    taken = sum(abs(h.at_in - starts[c.keys[0].name]) for h in made.bench.knockouts.holes for c in h.cables)
    least = min(
        sum(abs(a - b) for a, b in zip(starts.values(), some, strict=True))
        for some in permutations(places, len(starts))
    )
    assert taken == pytest.approx(least)


@pytest.mark.parametrize(("each", "left", "told"), [(1, 1, True), (2, 0, False)])
def test_more_cables_than_knockouts(each, left, told):
    made = entering((3, 9), lines(3, 4, 9), each)
    assert len(made.bench.knockouts.left_over) == left
    assert ("panel.knockouts:top" in finding_ids(made)) is told
    assert max(len(h.cables) for h in made.bench.knockouts.holes) == each


def test_two_to_a_connector_only_when_no_other_is_left():
    made = entering((3, 12), lines(3, 3), each=2)
    assert sorted(len(cables) for cables in dealt(made).values()) == [1, 1]


def test_without_knockouts_written_down_a_hole_is_made_for_each():
    made = entering((), lines(3, 4, 9))
    assert [h.at_in for h in made.bench.knockouts.holes] == [None] * 3
    assert not made.bench.knockouts.left_over and "panel.knockouts:top" not in finding_ids(made)


@pytest.mark.parametrize(
    ("line", "size"),
    [
        ("1 20 12 den top@3 40in", "1/2"),
        ("1,3 30/2 10 dryer bare-n top@3 40in", "3/4"),  # two hots and a neutral
        ("1,3 30/2 10 water heater top@3 40in", "1/2"),
        ("1,3 50/2 6 range bare-n top@3 40in", "1"),
        ("1,3 60/2 6 heater top@3 40in", "3/4"),
        ("1 20 ? den top@3 40in", "?"),
    ],
)
def test_the_connector_by_the_cable(line, size):
    assert [c.trade_size for h in entering((3,), [line]).bench.knockouts.holes for c in h.cables] == [size]


def test_circuits_of_one_cable_come_in_as_one():
    made = entering((3, 9), ["1 20 12 den top@3 40in", "3 20 12 hall top@3 40in mw 1"])
    assert dealt(made) == {3: ["1"], 9: []}
    (cable,) = made.bench.knockouts.holes[0].cables
    assert len(cable.keys) == 2 and cable.trade_size == "1/2"


def test_a_new_cable_comes_in_where_one_is_left():
    job = entering((3, 9), lines(3)).job
    made = plan(change_branch(called_out(job, "5 20 12 attic"), CircuitKey.of_tag(2), action="new_cable"))
    assert dealt(made) == {3: ["1"], 9: ["2"]}
    assert [c.new for h in made.bench.knockouts.holes for c in h.cables] == [False, True]
