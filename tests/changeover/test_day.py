"""The changeover day: tasks from the plan, schedules against every possible order, holds, the promise, and what is refused."""

from __future__ import annotations

import json
from itertools import permutations
from pathlib import Path

import pytest
from builders import called_out, house
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.changeover.clock import clock_text, read_clock
from robust_ledger.changeover.schedule import DayError, day, simulated_dark
from robust_ledger.changeover.tasks import Task, catalogue, counts
from robust_ledger.changeover.told import day_data, planned
from robust_ledger.cli import main
from robust_ledger.job.edits import add_defect, change_branch, with_part
from robust_ledger.job.files import read_job, write_job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.defects import Defect
from robust_ledger.ledger.entry import Step
from robust_ledger.ledger.working import Working
from robust_ledger.plan import plan

EXAMPLES = Path(__file__).parents[2] / "examples"
DEMO = plan(read_job(EXAMPLES / "marrow-lane.ledger.json"))
KINDS, NARROW = catalogue()


def task(name: str, minutes: float, *needs: str, phase="dark", place="rooms", who="us") -> Task:
    work = Working(f"day.task.{name}", name)
    entry = work.entry(work.take(Step("usually", minutes, "min")))
    return Task(name, name, phase, place, 1, (minutes, minutes, minutes), needs, False, who, False, entry)


def test_every_need_of_the_catalogue_is_there_and_none_is_circular():
    assert all(need in KINDS for kind in KINDS.values() for need in kind.needs)
    made = DEMO.changeover.tasks
    place = {one.id: number for number, one in enumerate(made)}
    assert all(place[need] < place[one.id] for one in made for need in one.needs)
    order = {"before": 0, "dark": 1, "after": 2}
    by_id = {one.id: one for one in made}
    assert all(order[by_id[need].phase] <= order[one.phase] for one in made for need in one.needs)
    assert {one.id for one in made if one.hold} == {"prove_dead", "line_side", "before_energizing", "voltages"}


def test_counts_come_from_the_plan_and_move_with_it():
    """The demo's garage moves one circuit on a new cable; three wires are marked; a circuit more is a cable more."""
    found = {name: one.amount for name, one in counts(DEMO.changeover).items()}
    live = [one for one in DEMO.circuits.branches if not one.off and one.origin != "future"]
    assert found["circuits"] == len(live) and found["rods"] == DEMO.entry("grounding.rods_added").amount
    assert found["splices"] == sum(bench.splices.amount for bench in DEMO.benches.values())
    assert found["marked"] == 3 and found["dark_neutrals"] == 1 and found["unknown"] == 1
    more = plan(change_branch(DEMO.job, CircuitKey.of_tag(8), action="new_cable"))
    assert counts(more.changeover)["new_cables"].amount == found["new_cables"] + 1
    cables = next(one for one in more.changeover.tasks if one.id == "new_cables")
    assert cables.entry.amount == 40 * cables.times, "forty minutes each, in its working"


@pytest.mark.parametrize(
    ("name", "part", "change", "twin"),
    [
        ("socket_in", "decisions", {"meter_replaced": True}, {"meter_replaced": False}),
        ("mast_in", "scope", {"renews": ("riser",)}, {"renews": ("load_conductors",)}),
        ("line_conductors", "scope", {"renews": ("riser_conductors",)}, {"renews": ()}),
        ("rods", "grounding", {"rods": 0}, {"rods": 2}),
    ],
)
def test_a_task_is_there_only_where_the_plan_has_occasion_for_it(name, part, change, twin):
    job = with_part(called_out(house(1500), "1 20 12 hall"), "scope", service="upgraded", panel_place="same")
    job = with_part(job, "grounding", rod_length_ft=8.0, rod_spacing_ft=8.0)
    there, not_there = (plan(with_part(job, part, **values)).changeover.tasks for values in (change, twin))
    assert name in {one.id for one in there} and name not in {one.id for one in not_there}
    ids = {one.id for one in not_there}
    assert all(need in ids for one in not_there for need in one.needs), "what needed it needs what that needed"


def test_what_is_not_known_is_said_and_not_taken_for_nothing():
    """A defect of ours without minutes, and its twin with ten."""
    job = with_part(called_out(house(1500), "1 20 12 hall"), "scope", service="kept", panel_place="same")
    open_ended, timed = (
        plan(
            add_defect(job, Defect.read({"id": "d", "what": "loose cable", "in_scope": True, "minutes": minutes}))
        ).changeover
        for minutes in (None, 10.0)
    )
    words = counts(timed)["defect_minutes"].words
    assert words in open_ended.unknown and words not in timed.unknown


TASKS = st.lists(
    st.tuples(
        st.integers(1, 9), st.sets(st.integers(0, 3), max_size=2), st.sampled_from(["rooms", "panel"]), st.sampled_from(["us", "us", "utility"])
    ),
    min_size=1,
    max_size=5,
)  # fmt: skip


@settings(max_examples=40, deadline=None)
@given(TASKS, st.sampled_from([1, 2]))
def test_no_order_of_work_has_a_shorter_dark(rows, people):
    """Every order of up to five tasks, each begun as early as it may be: none beats the schedule, and the schedule keeps the rules."""
    made = [
        task(f"t{n}", minutes, *(f"t{m}" for m in needs if m < n), place=place, who=who)
        for n, (minutes, needs, place, who) in enumerate(rows)
    ]
    found = day(made, people, NARROW)
    assert found.proven and found.dark_min == min(shortest(order, people) for order in permutations(made))
    for one in found.slots:
        assert all(found.slot(need).end_min <= one.start_min for need in one.task.needs)
        for other in found.slots:
            apart = one.end_min <= other.start_min or other.end_min <= one.start_min
            assert one is other or apart or not one.person or one.person != other.person, "nobody is in two places"
            narrow = one.task.place == other.task.place == "panel" and one.person and other.person
            assert one is other or apart or not narrow


def shortest(order, people: int) -> float:
    """How long the work takes when it is begun in this order, each task as early as people, places and needs allow."""
    ends: dict[str, float] = {}
    free = [0.0] * people
    narrow = 0.0
    left = list(order)
    while left:
        one = next(t for t in left if all(need in ends for need in t.needs))
        left.remove(one)
        ready = max((ends[need] for need in one.needs), default=0.0)
        if one.who == "us":
            person = min(range(people), key=lambda n: free[n])
            ready = max(ready, free[person], narrow if one.place == "panel" else 0.0)
            free[person] = ready + one.usual_min
            narrow = free[person] if one.place == "panel" else narrow
        ends[one.id] = ready + one.usual_min
    return max(ends.values())


def test_a_minute_more_on_what_is_critical_is_a_minute_more_of_dark():
    made = list(DEMO.changeover.tasks)
    found = day(made, 1, NARROW)
    for name in ("old_out", "torque", "utility_on"):
        assert name in found.critical
        longer = [replace(one, minutes=tuple(m + 1 for m in one.minutes)) if one.id == name else one for one in made]
        assert day(longer, 1, NARROW).dark_min == found.dark_min + 1
    two = day(made, 2, NARROW)
    assert two.proven and two.dark_min < found.dark_min and two.dark_min == sum(
        two.slot(one).task.usual_min for one in ("prove_dead", "line_side", "marking", "wires_off", "old_out", "enclosure_set", "cables_in",
                                                 "splices", "bond", "torque", "before_energizing", "utility_on", "voltages")
    ), "what is done at the panel, the utility and the voltages: no second person shortens that"  # fmt: skip


def test_most_days_are_longer_than_the_usual_one():
    found = day(DEMO.changeover.tasks, 1, NARROW)
    dark = simulated_dark(found, 2000, 3)
    assert len(dark) == 2000 and min(dark) > 0.5 * found.dark_min
    assert dark.mean() > found.dark_min, "what goes wrong takes longer than what goes well saves"
    exact = [task("a", 30), task("b", 12, "a")]
    assert set(simulated_dark(day(exact), 20)) == {42.0}, "nothing to draw, nothing to differ"


@pytest.mark.parametrize(
    ("made", "people", "sentence"),
    [
        ([], 1, "nothing to do"),
        ([task("a", 5, "b"), task("b", 5, "a")], 1, "Tasks wait for each other: a needs b needs a."),
        ([task("a", 5)], 3, "one person or two"),
    ],
)
def test_a_day_that_cannot_be_is_one_sentence(made, people, sentence):
    with pytest.raises(DayError, match=sentence):
        day(made, people)


@pytest.mark.parametrize(
    ("text", "minutes", "shown"),
    [("8:00", 480, "8:00 am"), ("5 pm", 1020, "5:00 pm"), ("1730", 1050, "5:30 pm"), ("12:05 am", 5, "12:05 am"), ("12 pm", 720, "12:00 pm")],
)  # fmt: skip
def test_times_of_day(text, minutes, shown):
    assert read_clock(text) == minutes and clock_text(minutes) == shown


def test_a_day_may_end_after_midnight_and_no_time_is_refused():
    assert clock_text(24 * 60 + 20) == "12:20 am (next day)"
    for text in ("25:00", "8:75", "noon-ish", "13 pm", ""):
        with pytest.raises(ValueError, match="no time of day"):
            read_clock(text)


def test_the_command_plans_the_day_and_tells_whether_the_promise_holds(capsys, tmp_path):
    path = tmp_path / "demo.ledger.json"
    write_job(DEMO.job, path)
    assert main(["day", str(path), "--people", "2", "--start", "6:30"]) == 0
    out = capsys.readouterr().out
    assert "HOLD ! prove that it is dead" in out and "(proven)" in out and "dark minutes less" in out
    assert main(["day", str(path), "--promise", "3 pm"]) == 1
    assert "cannot be counted on: the power would have to be off by" in capsys.readouterr().out
    assert main(["day", str(path), "--promise", "11:30 pm", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["promise_kept"] and told["dark_min"] == told["on_min"] - told["off_min"]
    assert {**day_data(planned(DEMO.changeover.tasks, 1, 480), 23 * 60 + 30), "not_known": []} == told
    assert main(["day", str(path), "--start", "late"]) == 2 and "no time of day" in capsys.readouterr().err
