"""Placement, moves and the schedule of the new panel."""

from __future__ import annotations

import pytest
from builders import K, called_out, circuit, finding_ids, house, load
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.job.edits import change_circuit, place, with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.house import When
from robust_ledger.job.spaces import covered, leg_of, parse_position, row_of
from robust_ledger.panel.moves import move
from robust_ledger.plan import plan


def in_panel(job: Job, spaces: int, tandems: tuple[int, ...] = ()) -> Job:
    return with_part(job, "panel", spaces=spaces, tandem_spaces=tandems)


def seats(made) -> dict[str, str]:
    """Position → circuit key, both spaces of a 2-pole."""
    return {slot.position: slot.key for slot in made.bench.schedule if slot.key}


@pytest.mark.parametrize(
    ("space", "row", "leg"), [(1, 0, "A"), (2, 0, "A"), (3, 1, "B"), (4, 1, "B"), (5, 2, "A"), (40, 19, "B")]
)
def test_rows_alternate_legs(space, row, leg):
    assert (row_of(space), leg_of(space)) == (row, leg)


@pytest.mark.parametrize(
    ("text", "position"),
    [("7", (7, "")), ("7a", (7, "a")), (" 12B ", (12, "b")), ("0", None), ("7c", None), ("", None), ("-3", None)],
)
def test_positions(text, position):
    assert parse_position(text) == position


RANDOM_JOBS = st.builds(
    lambda poles, pairs, spaces, futures: in_panel(
        house(
            1500,
            *(load(K.EV_CHARGER, "20A@240", f"charger {n}", when=When.LATER) for n in range(futures)),
            circuits=tuple(
                circuit(
                    n,
                    "10",
                    20,
                    poles=p,
                    shares_neutral_with=n + 1 if n in pairs and p == 1 and n < len(poles) and poles[n] == 1 else None,
                )
                for n, p in enumerate(poles, 1)
            ),
        ),
        spaces,
        tuple(range(1, spaces + 1, 3)),
    ),
    st.lists(st.sampled_from([1, 1, 1, 2]), min_size=1, max_size=30),
    st.sets(st.sampled_from(range(1, 30, 2))),
    st.integers(2, 42),
    st.integers(0, 2),
)


@given(RANDOM_JOBS)
def test_what_holds_for_every_layout(job):
    made = plan(job)
    by_key = {b.key: b for b in made.circuits.branches}
    placed, waiting = made.bench.placement.positions, made.bench.placement.waiting
    assert sorted([*placed, *waiting]) == sorted(by_key), "each circuit is placed once or waits"
    used = [s for s in made.bench.schedule if s.key]
    assert len({s.position for s in used}) == len(used)
    for key, position in placed.items():
        space, half = parse_position(position)
        branch = by_key[key]
        legs = {leg_of(s) for s in covered(space, branch.poles)}
        assert covered(space, branch.poles)[-1] <= job.panel.spaces
        assert len(legs) == branch.poles, "a 2-pole has one terminal on each leg"
        assert not half or (space in job.panel.tandem_spaces and branch.poles == 1)
        if branch.partner and branch.partner in placed:
            mate = parse_position(placed[branch.partner])[0]
            assert abs(mate - space) == 2, "a shared neutral's circuits are neighbors on opposite legs"
    assert {s.space for s in made.bench.schedule} == set(range(1, job.panel.spaces + 1))
    assert ("panel.full" in finding_ids(made)) == any(by_key[key].origin != "future" for key in waiting)


def test_the_demo_is_balanced_and_complete(demo_plan):
    a, b = (demo_plan.entries[f"panel.leg_{leg}"].amount for leg in "ab")
    assert abs(a - b) < 1
    assert not demo_plan.bench.placement.waiting
    assert demo_plan.bench.spaces_used.value == 37
    assert demo_plan.bench.spaces_left.value == 1
    assert [s.text for s in demo_plan.bench.schedule if not s.key] == ["SPACE"]


def test_legs_together_carry_the_placed_load(demo_plan):
    a, b = (demo_plan.entries[f"panel.leg_{leg}"].amount for leg in "ab")
    now = [x for x in demo_plan.circuits.branches if not x.off and x.origin != "future"]
    assert (a + b) * 120 == pytest.approx(sum(x.expected.amount for x in now))


def test_legs_are_unknown_while_a_load_is(demo):
    made = plan(with_part(demo, "dwelling", area=None))
    assert made.bench.legs[0].value is None
    assert not made.bench.placement.waiting, "circuits are dealt by breaker rating until more is known"


def test_tandems_are_used_only_when_needed_and_only_where_marked():
    job = house(1500, circuits=tuple(circuit(n) for n in range(1, 9)))
    assert all(p.isdigit() for p in plan(in_panel(job, 8, (7, 8))).bench.placement.positions.values())
    tight = plan(in_panel(job, 6, (5, 6)))
    assert not tight.bench.placement.waiting
    assert sorted(p for p in tight.bench.placement.positions.values() if not p.isdigit()) == ["5a", "5b", "6a", "6b"]
    assert tight.entries["panel.spaces_used"].value == 6
    short = plan(in_panel(job, 6, (6,)))
    assert len(short.bench.placement.waiting) == 1 and "panel.full" in finding_ids(short)


def test_more_circuits_than_spaces_says_how_many_are_short():
    job = in_panel(house(1500, circuits=tuple(circuit(n) for n in range(1, 16))), 12)
    finding = next(f for f in plan(job).findings if f.id == "panel.full")
    assert finding.severity == "STOP" and "3 more spaces are needed" in finding.text


def test_a_fixed_place_holds_and_a_broken_one_waits_without_moving_others(demo, demo_plan):
    fixed = place(demo, demo_plan.bench.placement.positions)
    assert plan(fixed).bench.placement.positions == demo_plan.bench.placement.positions
    where = demo_plan.bench.placement.positions["tag:8"]
    wider = plan(change_circuit(fixed, 8, poles=2))
    others = {k: p for k, p in demo_plan.bench.placement.positions.items() if k != "tag:8"}
    assert {k: p for k, p in wider.bench.placement.positions.items() if k != "tag:8"} == others
    assert "tag:8" in wider.bench.placement.waiting and "panel.refused:tag:8" in finding_ids(wider)
    assert where not in seats(wider)


def test_a_new_circuit_finds_a_spare_in_a_fixed_layout(demo, demo_plan):
    fixed = place(demo, demo_plan.bench.placement.positions)
    made = plan(called_out(fixed, "- 15 14 attic fan"))
    assert made.bench.placement.positions["tag:29"] == "39"


@pytest.mark.parametrize(
    ("first", "second", "finding"),
    [("1", "5", "panel.neutral_leg:tag:1"), ("1", "7", "panel.neutral_apart:tag:1"), ("1", "3", None)],
)
def test_a_shared_neutral_put_by_hand(first, second, finding):
    job = house(1500, circuits=(circuit(1, shares_neutral_with=2), circuit(2)))
    found = {
        f for f in finding_ids(plan(place(job, {"tag:1": first, "tag:2": second}))) if f.startswith("panel.neutral")
    }
    assert found == ({finding} if finding else set())


MOVING = plan(
    in_panel(
        called_out(
            house(1500),
            "1 20 12 one",
            "2 20 12 two",
            "3,5 30/2 10 three",
            "7 20 12 four",
            "9 20 12 five mw 4",
            "11 20 12 six",
        ),
        12,
    )
)
LAYOUT = {"tag:1": "1", "tag:2": "2", "tag:3": "3", "tag:4": "7", "tag:5": "9", "tag:6": "4"}


@pytest.mark.parametrize(
    ("key", "target", "after", "reason"),
    [
        ("tag:1", "12", {"tag:1": "12"}, ""),
        ("tag:1", "2", {"tag:1": "2", "tag:2": "1"}, ""),
        ("tag:3", "2", {"tag:3": "2", "tag:2": "3", "tag:6": "5"}, ""),  # a 2-pole takes the room of two
        ("tag:3", "5", None, "would be parted"),  # half of a shared neutral is not torn off
        ("tag:1", "3", None, "would not fit"),  # a 2-pole cannot go where one circuit was
        ("tag:4", "6", {"tag:4": "6", "tag:5": "8"}, ""),  # a shared neutral moves as one
        ("tag:5", "6", {"tag:4": "4", "tag:5": "6", "tag:6": "7"}, ""),
        ("tag:3", "11", None, "there is no space 13"),
        ("tag:1", "1", None, "there already"),
        ("tag:1", "13", None, "no space 13"),
        ("tag:1", "5a", None, "not marked for a tandem"),
    ],
)
def test_moves(key, target, after, reason):
    branches = {b.key: b for b in MOVING.circuits.branches}
    result = move(branches, LAYOUT, MOVING.job.panel, key, target)
    if reason:
        assert result.placements is None and reason in result.reason
    else:
        assert result.placements == {**LAYOUT, **after}


def test_a_waiting_circuit_goes_only_where_there_is_room():
    branches = {b.key: b for b in MOVING.circuits.branches}
    layout = {k: p for k, p in LAYOUT.items() if k != "tag:1"}
    assert "sits there" in move(branches, layout, MOVING.job.panel, "tag:1", "2").reason
    assert move(branches, layout, MOVING.job.panel, "tag:1", "1").placements == LAYOUT


def test_halves_of_a_tandem_change_places():
    panel = replace(MOVING.job.panel, tandem_spaces=(11, 12))
    branches = {b.key: b for b in MOVING.circuits.branches}
    halved = move(branches, LAYOUT, panel, "tag:1", "12a").placements
    assert halved["tag:1"] == "12a"
    assert move(branches, halved, panel, "tag:2", "12a").placements == {**halved, "tag:2": "12a", "tag:1": "2"}
    assert "2-pole" in move(branches, LAYOUT, panel, "tag:3", "12a").reason
    assert "holds a tandem" in move(branches, {**halved, "tag:2": "12b"}, panel, "tag:1", "12").reason


@given(st.data())
def test_no_move_ever_loses_a_circuit_or_seats_two(data):
    job = in_panel(
        called_out(house(1500), *(f"{n} 20 12 c{n}" for n in range(1, 9)), "9,11 30/2 10 d", "10,12 30/2 10 e"), 14
    )
    made = plan(job)
    branches, layout = {b.key: b for b in made.circuits.branches}, dict(made.bench.placement.positions)
    for _ in range(6):
        result = move(
            branches,
            layout,
            job.panel,
            data.draw(st.sampled_from(sorted(branches))),
            str(data.draw(st.integers(1, 14))),
        )
        layout = result.placements or layout
        assert set(layout) == set(branches)
        spaces = [s for k, p in layout.items() for s in covered(int(p), branches[k].poles)]
        assert len(spaces) == len(set(spaces)) and max(spaces) <= 14
        assert not plan(place(job, layout)).bench.placement.refused


def test_circuits_are_dealt_to_the_side_where_their_wires_come_in():
    """Five wires on the left, five on the right: legs go first, so one on each side may have to cross, no more."""
    lines = [f"{n} 20 12 room {n} top 60in" for n in range(1, 11)]
    job = in_panel(called_out(house(1500), *lines), 12)
    placed = plan(job).bench.placement.positions
    assert sum(int(placed[f"tag:{n}"]) % 2 != n % 2 for n in range(1, 11)) <= 2
    left = in_panel(called_out(house(1500), *(f"{n} 20 12 room {n} top 60in" for n in range(1, 20, 2))), 12)
    assert not plan(left).bench.placement.waiting, "who finds no space on its own side goes across"
