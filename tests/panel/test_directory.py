"""The schedule: numbering, wording, change list, counts against the cover and the label; generic panels."""

from __future__ import annotations

import pytest
from builders import called_out, circuit, finding_ids, house
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.job.edits import place, with_part
from robust_ledger.job.spaces import kept, shown
from robust_ledger.panel.directory import wording
from robust_ledger.panel.generic import generic_panels, take_generic
from robust_ledger.plan import plan


@pytest.mark.parametrize(
    ("style", "numbers"),
    [
        ("odd_left", ["1", "2", "3", "4", "5", "6"]),
        ("odd_right", ["2", "1", "4", "3", "6", "5"]),
        ("down", ["1", "4", "2", "5", "3", "6"]),
    ],
)
def test_numbering_styles(style, numbers):
    """Six spaces as they are kept, 1 top left and 2 top right, and as the panel is marked."""
    assert [shown(str(n), style, 6) for n in range(1, 7)] == numbers
    assert shown("3a", style, 6) == numbers[2] + "a"


@given(
    st.sampled_from(["odd_left", "odd_right", "down"]),
    st.integers(1, 42),
    st.integers(1, 84),
    st.sampled_from(["", "a", "b"]),
)
def test_a_number_reads_back_to_its_place(style, rows, space, half):
    spaces = 2 * rows
    position = f"{min(space, spaces)}{half}"
    assert kept(shown(position, style, spaces), style, spaces) == position


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("east bedroom receptacles", ""), ("kitchen counter left", ""), ("", ""), ("main floor hall lights", ""),
        ("spare room receptacles", ""), ("bedroom", "too short"), ("lights", "too short"),
        ("BR2", "too short"), ("Lts", "too short"), ("kitchen", ""), ("DW", ""),
        ("Anna's room receptacles", "names a person"), ("kids room lights", "names a person"), ("misc receptacles", "says nothing"),
        ("basement stuff", "says nothing"), ("various", "says nothing"),
    ],
)  # fmt: skip
def test_wording_that_a_stranger_finds_the_breaker_by(text, told):
    assert told in wording(text, False) and bool(wording(text, False)) == bool(told)
    if not told and text:
        assert "reads the same" in wording(text, True)


def test_two_circuits_that_read_the_same_are_both_told():
    made = plan(
        called_out(
            house(1500), "1 20 12 den receptacles", "3 20 12 den receptacles", "5 15 14 hall lights", "7 15 14 unknown"
        )
    )
    assert {i for i in finding_ids(made) if i.startswith("bench.words")} == {"bench.words:tag:1", "bench.words:tag:2"}


def test_the_change_list_keeps_tags_and_tells_old_and_new(demo):
    made = plan(place(demo, {**plan(demo).bench.placement.positions}))
    changes = {one.key: one for one in made.bench.changes}
    assert (changes["tag:1"].old, changes["tag:1"].new) == ("1, 3", "5 + 7") and changes["tag:28"].new == "off"
    assert changes["load:sauna"].old == "none" and changes["load:sauna"].origin == "new, for sauna heater"
    down = plan(with_part(made.job, "panel", numbering="down"))
    assert next(one for one in down.bench.changes if one.key == "tag:1").new == "3 + 4"


def test_breakers_are_counted_against_the_cover(demo_plan):
    """36 spaces with a breaker of this job: 19 left and 18 right of 40, so three blanks; the reserved pair counts as open. 31
    breakers, six of them with two poles: 37 circuits by a label's count."""
    e = demo_plan.entries
    assert (e["panel.twist_outs_left"].value, e["panel.twist_outs_right"].value, e["panel.blanks"].value) == (19, 18, 3)
    assert e["panel.circuits"].value == 37 and e["panel.tandems"].value == 0


@pytest.mark.parametrize(("most", "told"), [(6, False), (5, True), (None, False)])
def test_more_circuits_than_the_label_allows(most, told):
    job = with_part(house(1500, circuits=tuple(circuit(n) for n in range(1, 7))), "panel", max_circuits=most)
    assert ("bench.max_circuits" in finding_ids(plan(job))) is told


@pytest.mark.parametrize(
    ("neutrals", "grounds", "told"),
    [(2, 2, set()), (1, 2, {"bench.neutral_terminals"}), (2, 1, {"bench.ground_terminals"})],
)
def test_terminals_of_the_bars(neutrals, grounds, told):
    """Two circuits in one cable and one more: two neutrals, two grounds."""
    job = called_out(house(1500), "1 20 12 a", "3 20 12 b mw 1", "5 20 12 c")
    made = plan(with_part(job, "panel", neutral_terminals=neutrals, ground_terminals=grounds))
    assert {i for i in finding_ids(made) if i.endswith("_terminals")} == told


def test_generic_panels_are_whole_and_leave_what_is_the_users_own(demo):
    assert len(generic_panels()) >= 5
    for generic in generic_panels():
        after = take_generic(demo, generic)
        assert after.panel.families == demo.panel.families and after.panel.devices == demo.panel.devices
        assert after.panel.spaces == generic.fields["spaces"] and after.fit.new.height_in == generic.fields["height_in"]
        assert plan(after).bench.boxes.new.fits(), "its rows lie within it"
        assert len(plan(after).bench.schedule) >= generic.fields["spaces"]


def test_every_message_speaks_the_panels_own_numbers():
    """12 spaces numbered down: the place kept as 3 is marked 2, its right-hand neighbor 8."""
    job = with_part(
        called_out(house(1500), "1 20 12 a", "3 20 12 b", "5,7 30/2 10 c"), "panel", spaces=12, numbering="down"
    )
    made = plan(place(job, {"tag:1": "4", "tag:2": "4", "tag:3": "11"}))
    told = {f.id: f.text for f in made.findings}
    assert (
        "space 8 is taken" in told["panel.refused:tag:2"]
        and "a 2-pole at 6 would need space 7" in told["panel.refused:tag:3"]
    )
    assert any(step.label.startswith("8: a") for leg in "ab" for step in made.entries[f"panel.leg_{leg}"].steps)
