"""Arrange: proven by exhaustive search on small panels, by properties on large ones, and by what a person would try by hand."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from builders import K, called_out, circuit, finding_ids, house, load
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.job.edits import add_panel, change_branch, pin, place, place_in, with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.changes import Wishes
from robust_ledger.job.parts.house import When
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.job.spaces import covered, leg_of, parse_position
from robust_ledger.ledger.progress import CanceledError
from robust_ledger.measure.simulate.basis import wanted_of_all
from robust_ledger.panel.arrange import Item, Option, Puzzle, Seat, TooLongError, fewest_splices, solve
from robust_ledger.panel.conflicts import demands, smallest_conflict, ways_out
from robust_ledger.panel.moves import move
from robust_ledger.panel.puzzle import Wanted, clamp_amps, expected_amps, handle_amps, puzzle
from robust_ledger.panel.request import advise, arrange, arrange_all, together
from robust_ledger.plan import Plan, plan


def wanted(made: Plan, amps=None) -> Wanted:
    return Wanted(
        made.job,
        made.circuits.branches,
        made.bench.wires,
        amps or expected_amps(made.circuits.branches),
        made.bench.placement.positions,
        made.walk.bottom_in,
    )


def best(made: Plan) -> Option:
    return arrange(wanted(made)).options[0]


def with_wires(lengths: dict[str, float | None], *lines: str, spaces: int = 12, **more) -> Job:
    """Circuits called out with the free length of their wires, all from the top, in a panel whose rows begin 10 in down."""
    job = called_out(house(1500, **more), *lines)
    circuits = tuple(replace(c, enters="top", free_in=lengths.get(c.feeds, 60.0)) for c in job.circuits)
    job = replace(job, circuits=circuits)
    size = replace(job.fit.new, width_in=14.0, height_in=30.0)
    job = with_part(job, "fit", new=size, old=size)
    interior = replace(job.panel.interior, first_row_in=10.0, terminal_in=4.0)
    job = with_part(job, "old_panel", interior=interior)
    return with_part(job, "panel", spaces=spaces, interior=interior)


# --- against exhaustive search ----------------------------------------------------------------------------------------
def every_layout(puzzle_: Puzzle) -> Iterator[list[Seat]]:
    """All ways to seat every item, one seat each, no space twice; a reservation may also be left out."""

    def go(number: int, taken: frozenset[str], seats: list[Seat]) -> Iterator[list[Seat]]:
        if number == len(puzzle_.items):
            yield seats
            return
        item = puzzle_.items[number]
        for seat in item.seats:
            spots = {f"{s}{h}" for s in seat.covers for h in ("ab" if not seat.half else seat.half)}
            if not spots & taken:
                yield from go(number + 1, taken | spots, [*seats, seat])
        if not item.needed:
            yield from go(number + 1, taken, seats)

    yield from go(0, frozenset(), [])


def cost_of(puzzle_: Puzzle, seats: list[Seat]) -> tuple[float, ...]:
    """The order of wants: reservations kept, no tandem, splices, legs outside the band, wishes, then surplus."""
    placed = {key for seat in seats for key, _ in seat.positions}
    left = sum(1 for item in puzzle_.items if item.keys[0] not in placed)
    tandems = len({seat.covers[0] for seat in seats if seat.half})
    tilts = [sum(seat.tilt_a for seat in seats if seat.group == group) for group in range(puzzle_.groups)]
    excess = sum(max(0.0, abs(tilt) - puzzle_.band_a) for tilt in tilts)
    most = sum(max((s.surplus for s in item.seats), default=0.0) for item in puzzle_.items) + 1.0
    wishes = sum(seat.wish for seat in seats) + 0.4 * sum(seat.surplus for seat in seats) / most
    return (tandems, left, sum(seat.splices for seat in seats), round(excess, 5), round(wishes, 6))


@st.composite
def small_puzzles(draw) -> Puzzle:
    """Up to five circuits in six spaces, some of two poles, some reserved, some with halves of a tandem, at random costs."""
    spaces = 6
    amounts = st.integers(0, 6)
    items = []
    for n in range(draw(st.integers(1, 5))):
        poles = draw(st.sampled_from([1, 1, 2]))
        amps = draw(st.integers(0, 20))
        seats = []
        for space in range(1, spaces + 1):
            covers = tuple(covered(space, poles))
            if covers[-1] > spaces or draw(st.integers(0, 9)) == 0:
                continue
            tilt = 0.0 if poles == 2 else float(amps if leg_of(space) == "A" else -amps)
            for half in ("", "a", "b") if poles == 1 and space == 6 else ("",):
                seats.append(
                    Seat(
                        ((f"c{n}", f"{space}{half}"),),
                        covers,
                        half,
                        draw(st.integers(0, 2)),
                        tilt,
                        float(draw(amounts)),
                        float(draw(amounts)),
                        float(draw(amounts)),
                    )
                )
        items.append(Item(f"c{n}", (f"c{n}",), draw(st.integers(0, 3)) > 0, tuple(seats)))
    return Puzzle(spaces, tuple(items), float(draw(st.integers(0, 8))))


@given(small_puzzles())
@settings(max_examples=40)
def test_no_layout_at_all_is_better_than_the_one_proven(one):
    answer = solve(one)
    every = [cost_of(one, seats) for seats in every_layout(one)]
    if not every:
        assert not answer.options
        return
    option = answer.options[0]
    seats = [s for item in one.items for s in item.seats if all(option.placements.get(k) == p for k, p in s.positions)]
    assert option.proven and cost_of(one, seats) == pytest.approx(min(every), abs=1e-4)


@st.composite
def two_panels(draw) -> Puzzle:
    """Four circuits for two panels of four spaces: some belong to one of them, some to either."""
    items: dict[str, list[Item]] = {}
    made = []
    for group in range(2):
        mine = []
        for n in range(4):
            home = draw(st.sampled_from([0, 1, 2])) if group == 0 else items[f"c{n}"][0]
            items.setdefault(f"c{n}", [home])
            if home not in (group, 2):
                continue
            amps = 3 + 4 * n
            seats = tuple(
                Seat(
                    ((f"c{n}", str(space)),),
                    (space,),
                    "",
                    draw(st.integers(0, 2)),
                    float(amps if leg_of(space) == "A" else -amps),
                    float(draw(st.integers(0, 4))),
                    0.0,
                    0.0,
                )
                for space in range(1, 5)
            )
            mine.append(Item(f"c{n}", (f"c{n}",), True, seats))
        made.append(Puzzle(4, tuple(mine), 4.0))
    return together(made)


@given(two_panels())
@settings(max_examples=30)
def test_over_two_panels_no_layout_is_better_than_the_one_proven(one):
    option = solve(one).options[0]
    seats = [
        s
        for item in one.items
        for s in item.seats
        if all(option.placements.get(k) == p and option.groups[k] == s.group for k, p in s.positions)
    ]
    assert len(seats) == len(one.items) and option.proven
    assert cost_of(one, seats) == pytest.approx(min(cost_of(one, every) for every in every_layout(one)), abs=1e-4)


def test_a_circuit_for_either_panel_goes_where_it_needs_no_splice():
    """A short wire, a second panel right where it comes in: marked for either it goes there; unmarked it stays and is spliced."""
    job = with_wires({"far lights": 12.0}, "1 15 14 far lights", "2 20 12 den receptacles")
    box = {"spaces": 4, "bus_a": 100.0, "interior": {"first_row_in": 4.0, "terminal_in": 4.0}}
    beside = Panel.read(
        {"id": "second", "name": "second", "breaker_a": 60.0, "right_in": 0.0, "lower_in": 0.0, "box": box}
    )
    job = add_panel(job, beside)
    job = with_part(job, "panel", interior=replace(job.panel.interior, first_row_in=18.0))
    keys = {}
    for either in (False, True):
        made = plan(change_branch(job, "tag:1", either=either))
        wants = wanted_of_all(made)
        option = arrange_all(list(wants.values())).options[0]
        ids = list(wants)
        after = plan(place_in(made.job, option.placements, {key: ids[g] for key, g in option.groups.items()}))
        assert option.proven and option.splices == sum(int(bench.splices.amount) for bench in after.benches.values())
        keys[either] = (after.branch("tag:1").panel, option.splices)
    assert keys[False][0] == "panel" and keys[False][1] > 0
    assert keys[True] == ("second", 0)


# --- properties on whole jobs -----------------------------------------------------------------------------------------
def lawful(made: Plan, option: Option) -> None:
    """Everything placed once, 2-poles on both legs, shared neutrals one above the other, tandems where marked, pins held."""
    job = made.job
    by_key = {b.key: b for b in made.circuits.branches if not b.off}
    spots: list[str] = []
    for key, position in option.placements.items():
        space, half = parse_position(position)
        spaces = covered(space, by_key[key].poles)
        assert spaces[-1] <= job.panel.spaces and {leg_of(s) for s in spaces} == (
            {"A", "B"} if len(spaces) == 2 else {leg_of(space)}
        )
        spots += [f"{s}{h}" for s in spaces for h in (half or "ab")]
        assert not half or (space in job.panel.tandem_spaces and not by_key[key].to_device)
        if by_key[key].partner in option.placements:
            assert abs(parse_position(option.placements[by_key[key].partner])[0] - space) == 2
    assert len(spots) == len(set(spots))
    assert {k for k, b in by_key.items() if b.origin != "future"} <= set(option.placements)
    for key in job.decisions.pins:
        assert option.placements[key] == made.bench.placement.positions[key]
    assert not plan(place(job, option.placements)).bench.placement.refused


def test_the_demo_is_arranged_with_few_splices_level_legs_and_pins_held(demo):
    before = plan(demo)
    assert sum(r.splices for r in before.bench.reach.values()) == 15
    answer = arrange(wanted(before))
    first = answer.options[0]
    for option in answer.options:
        assert option.proven
        lawful(before, option)
        after = plan(place(demo, option.placements))
        assert sum(r.splices for r in after.bench.reach.values()) == option.splices
        a, b = (after.entries[f"panel.leg_{leg}"].amount for leg in "ab")
        assert abs(a - b) == pytest.approx(option.imbalance_a, abs=0.2), "tilts are rounded to hundredths"
    assert first.splices == min(option.splices for option in answer.options) == 4
    assert first.imbalance_a <= puzzle(wanted(before)).band_a + 1e-6
    closest = answer.options[-1]
    assert (
        closest.name == "closest to the old order" and closest.order < first.order and closest.splices > first.splices
    )
    pinned = plan(
        pin(pin(demo, "tag:8", before.bench.placement.positions), "load:charger", before.bench.placement.positions)
    )
    lawful(pinned, best(pinned))


@given(st.data())
@settings(max_examples=12)
def test_no_move_by_hand_saves_a_splice(data):
    """A random tester moves circuits about in the arranged panel; none of the layouts it gets to needs fewer splices."""
    feeds = [f"room {n}" for n in range(8)]
    lengths = {name: data.draw(st.sampled_from([15.0, 18.0, 20.0, 22.0, 24.0, 60.0])) for name in feeds}
    job = with_wires(lengths, *(f"{n} 20 12 {name}" for n, name in enumerate(feeds, 1)), "9,11 30/2 10 oven")
    made = plan(job)
    option = best(made)
    lawful(made, option)
    branches, layout = {b.key: b for b in made.circuits.branches}, dict(option.placements)
    for _ in range(12):
        key = data.draw(st.sampled_from(sorted(branches)))
        result = move(branches, layout, job.panel, key, str(data.draw(st.integers(1, 12))))
        layout = result.placements or layout
        assert sum(made.bench.wires[k].at(p).splices for k, p in layout.items()) >= option.splices


def test_short_wires_get_the_rows_they_reach_and_long_ones_give_way():
    """Terminals 4 in from the side, gutter at 2 in: row 1 needs 10 + 2 + 3 = 15 in, each row below one inch more."""
    lengths = {"a": 15.0, "b": 15.5, "c": 16.0, "d": 17.0}
    job = with_wires(lengths, "1 20 12 d", "3 20 12 c", "5 20 12 b", "7 20 12 a", "9 20 12 e")
    option = best(plan(job))
    assert option.splices == 1, "a and b both want the first row on the left"
    assert option.placements["tag:2"] == "3" and option.placements["tag:1"] == "5"
    assert {option.placements["tag:3"], option.placements["tag:4"]} & {"1"}


@pytest.mark.parametrize("basis", ["expected", "clamp", "handles"])
def test_the_basis_of_the_balance(basis):
    """Two circuits read 10 A, two nothing: by the clamp the two that were read sit on opposite legs."""
    job = called_out(house(1500), "1 20 12 a clamp 10", "3 15 14 b clamp 0", "5 20 12 c clamp 10", "7 15 14 d clamp 0")
    job = with_part(job, "decisions", wishes=Wishes(band_a=0.0, old_order=0, heavy_near_main=0))
    made = plan(with_part(job, "panel", spaces=4))
    amps = {
        "expected": expected_amps(made.circuits.branches),
        "clamp": clamp_amps(job, made.circuits.branches),
        "handles": handle_amps(made.circuits.branches),
    }[basis]
    option = arrange(wanted(made, amps)).options[0]
    legs = {key: leg_of(parse_position(p)[0]) for key, p in option.placements.items()}
    assert legs["tag:1"] != legs["tag:3"] and option.imbalance_a == pytest.approx(0, abs=0.01)


def test_simulated_peaks_know_what_runs_when_the_house_peaks(demo_plan):
    from robust_ledger.measure.simulate.house import house_of
    from robust_ledger.measure.simulate.peaks import daily_peak_amps

    amps = daily_peak_amps(house_of(demo_plan))
    assert set(amps) == {b.key for b in demo_plan.circuits.branches if not b.off and b.origin != "future"}
    assert amps["load:supplemental"] > 5 and 0 <= amps["tag:9"] < 2
    assert amps == daily_peak_amps(house_of(demo_plan)), "the same house and seed, the same amperes"


def test_wishes_place_heavy_circuits_near_the_main_and_spares_together(demo):
    wishes = Wishes(old_order=0, heavy_near_main=3, spares_together=3)
    made = plan(with_part(demo, "decisions", wishes=wishes))
    option = best(made)
    used = {s for k, p in option.placements.items() for s in covered(parse_position(p)[0], made.branch(k).poles)}
    spare = set(range(1, 41)) - used
    assert all(space >= 35 for space in spare), "what is free lies at the far end"
    rows = {key: parse_position(option.placements[key])[0] for key in ("load:supplemental", "load:greenhouse")}
    assert rows["load:supplemental"] < rows["load:greenhouse"]


def test_lights_together_on_the_side_where_most_were():
    lines = [
        "1 15 14 hall lights",
        "3 15 14 den lights",
        "4 15 14 bath lights",
        "2 20 12 counter",
        "6 20 12 dining outlets",
        "5 20 12 den outlets",
    ]
    job = called_out(house(1500), *lines)
    wishes = Wishes(old_order=0, heavy_near_main=0, spares_together=1, lights_together=3, band_a=50)
    option = best(plan(with_part(with_part(job, "panel", spaces=8), "decisions", wishes=wishes)))
    assert {parse_position(option.placements[f"tag:{n}"])[0] % 2 for n in (1, 2, 3)} == {1}


def test_a_reservation_is_given_up_before_a_tandem_and_a_tandem_before_a_circuit():
    job = house(
        1500, load(K.EV_CHARGER, "40A@240", "charger", when=When.LATER), circuits=tuple(circuit(n) for n in range(1, 8))
    )
    eight = best(plan(with_part(job, "panel", spaces=8, tandem_spaces=(7, 8))))
    assert eight.left == ("charger",) and eight.tandems == 0 and len(eight.placements) == 7
    six = best(plan(with_part(job, "panel", spaces=6, tandem_spaces=(5, 6))))
    assert six.tandems == 1 and len(six.placements) == 7 and six.left == ("charger",)
    roomy = best(plan(with_part(job, "panel", spaces=10)))
    assert not roomy.left and parse_position(roomy.placements["load:charger"])[0] >= 7, "reserved at the far end"


# --- when it cannot be ------------------------------------------------------------------------------------------------
def test_more_circuits_than_spaces_says_how_many_and_the_three_cheapest_ways_out():
    lines = [
        f"- 20 12 {room} receptacles"
        for room in ("den", "hall", "study", "loft room", "sun room", "office", "attic", "cellar")
    ]
    job = with_part(called_out(house(500), *lines), "panel", spaces=6, tandem_spaces=(6,))
    made = plan(job)
    missing, ways = ways_out(job, made.circuits.branches)
    assert missing == 2 and len(ways) == 3
    assert (
        ways[0].startswith("join 2 pairs of lightly loaded circuits") and ways[1] == "a panel of 8 spaces instead of 6"
    )
    answer = arrange(wanted(made))
    assert not answer.options and answer.conflict[0] == "2 more spaces are needed"
    finding = next(f for f in made.findings if f.id == "panel.full")
    assert "Cheapest first: join 2 pairs" in finding.remedy
    reserved = house(
        1500, load(K.EV_CHARGER, "40A@240", "charger", when=When.LATER), circuits=tuple(circuit(n) for n in range(1, 6))
    )
    tight = with_part(reserved, "panel", spaces=6, tandem_spaces=(5, 6))
    missing, ways = ways_out(tight, plan(tight).circuits.branches)
    assert (
        missing == 1
        and ways[0].startswith("give up 1 of 2 reserved")
        and ways[1].startswith("1 tandem breaker in marked")
    )


def test_pins_that_part_a_shared_neutral_are_the_smallest_conflict():
    job = called_out(house(1500), "1 20 12 a", "3 20 12 b mw 1", "2 20 12 c", "4 20 12 d")
    job = with_part(job, "panel", spaces=8)
    job = with_part(
        job,
        "decisions",
        placements={"tag:1": "1", "tag:2": "5", "tag:3": "2", "tag:4": "4"},
        pins=("tag:1", "tag:2", "tag:3"),
    )
    made = plan(job)
    assert {"panel.neutral_leg:tag:1"} <= finding_ids(made), "told before anything is arranged"
    answer = arrange(wanted(made))
    assert not answer.options
    assert answer.conflict == (
        "these cannot hold together: tag 1 pinned to 1 and tag 2 pinned to 5 and tag 1 and tag 2 one above the other",
    )
    free = plan(with_part(job, "decisions", pins=("tag:1", "tag:3")))
    assert (
        arrange(wanted(free)).options
        and smallest_conflict(
            free.job,
            free.circuits.branches,
            demands(free.job, free.circuits.branches, dict(free.bench.placement.positions)),
        )
        == ()
    )


def test_pins_that_leave_no_pair_for_a_2_pole():
    """Singles pinned to every second row leave no two adjacent spaces for the oven: all four pins together are to blame, no three."""
    job = called_out(house(1500), "1 20 12 a", "2 20 12 b", "3 20 12 c", "4 20 12 d", "5,7 30/2 10 oven")
    where = {"tag:1": "3", "tag:2": "4", "tag:3": "5", "tag:4": "6"}
    made = plan(with_part(with_part(job, "panel", spaces=8), "decisions", placements=where, pins=tuple(where)))
    assert made.bench.placement.waiting == ["tag:5"]
    conflict = arrange(wanted(made)).conflict
    assert conflict[0].count("pinned") == 4


def test_a_circuit_that_is_pinned_is_never_moved_nor_dropped(demo):
    made = plan(demo)
    pinned = plan(pin(demo, "tag:13", made.bench.placement.positions))
    branches = {b.key: b for b in pinned.circuits.branches if not b.off}
    here = pinned.bench.placement.positions["tag:13"]
    refused = move(
        branches, pinned.bench.placement.positions, pinned.job.panel, "tag:9", here, pinned.job.decisions.pins
    )
    assert refused.placements is None and f"Tag 13 is pinned to {here}" in refused.reason
    own = move(branches, pinned.bench.placement.positions, pinned.job.panel, "tag:13", "39", pinned.job.decisions.pins)
    assert own.placements is None and "pinned" in own.reason
    assert pin(pinned.job, "tag:13", {}).decisions.pins == ()


def test_a_pin_outside_the_panel_is_named():
    job = with_part(called_out(house(1500), "1 20 12 a", "3 20 12 b"), "panel", spaces=4)
    made = plan(with_part(job, "decisions", placements={"tag:1": "9"}, pins=("tag:1",)))
    assert "panel.refused:tag:1" in finding_ids(made) and made.bench.placement.waiting == ["tag:1"]
    assert arrange(wanted(made)).conflict == ("this cannot be: tag 1 pinned to 9",)


def test_no_arc_fault_breaker_sits_in_half_a_tandem():
    """Five circuits for four spaces, one of them marked: only the two that stay standard share it, dealt out or arranged."""
    job = called_out(house(1500), *(f"- 20 12 den {n}" for n in range(3)), "- 20 12 attic light", "- 20 12 attic fan")
    for tag in (1, 2, 3):
        job = change_branch(job, f"tag:{tag}", work="extended")
    made = plan(with_part(job, "panel", spaces=4, tandem_spaces=(4,)))
    for positions in (made.bench.placement.positions, best(made).placements):
        assert sorted(positions.values()) == ["1", "2", "3", "4a", "4b"]
        assert {key for key, position in positions.items() if position[-1] in "ab"} == {"tag:4", "tag:5"}


def test_canceling_stops_between_the_levels(demo_plan):
    calls = []

    def progress(part: float) -> bool:
        calls.append(part)
        return len(calls) < 2

    with pytest.raises(CanceledError):
        solve(puzzle(wanted(demo_plan)), progress)
    assert len(calls) == 2


def test_a_time_out_is_neither_an_answer_nor_a_proof(demo_plan):
    with pytest.raises(TooLongError, match="none was proven impossible"):
        solve(puzzle(wanted(demo_plan)), limit_s=1e-6)
    option = Option("x", {}, 3, 0.0, 0.0, 0, gap=1.0, seconds=0.1)
    assert not option.proven and replace(option, gap=0.0).proven


# --- what would save the rest -----------------------------------------------------------------------------------------
def test_advice_names_every_splice_and_a_change_that_really_saves_one():
    """Two wires of 15 in on the left, one row that 15 in reach: one splice, and none with the enclosure two inches higher."""
    job = with_wires({"a": 15.0, "b": 15.0}, "1 20 12 a", "3 20 12 b", spaces=8)
    fit = replace(job.fit, old_bottom_in=40.0, old=job.fit.new, new_bottom_in=40.0)
    made = plan(replace(job, fit=fit))
    first = best(made)
    assert first.splices == 1
    advice = advise(wanted(made), first)
    assert "mount the new enclosure 2 in higher: 0 splices instead of 1" in advice.ways
    assert any(line.startswith(("tag 1: reaches only 1", "tag 2: reaches only 1")) for line in advice.reasons)
    higher = plan(replace(made.job, fit=replace(fit, new_bottom_in=42.0)))
    assert fewest_splices(puzzle(wanted(higher))) == 0


def test_a_wire_that_reaches_nothing_says_so():
    made = plan(with_wires({"a": 5.0}, "1 20 12 a", spaces=4))
    option = best(made)
    assert option.splices == 3, "hot, neutral and ground are all too short"
    assert "tag 1: too short for every space; at 1 it lacks 10.0 in (hot)" in advise(wanted(made), option).reasons
