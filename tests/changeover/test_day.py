"""The changeover day: tasks from the plan, schedules against every possible order, windows, breaks, trips, the promise, and what is refused."""

from __future__ import annotations

import json
from itertools import permutations
from pathlib import Path

import pytest
from builders import called_out, house
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.changeover.catalogue import catalogue
from robust_ledger.changeover.clock import DayClock, clock_text, read_clock, read_date
from robust_ledger.changeover.day_report import day_data, missing
from robust_ledger.changeover.demands import DayError, Demands, Lunch, Window, demands_of
from robust_ledger.changeover.infeasible import clash, possible
from robust_ledger.changeover.planned import planned
from robust_ledger.changeover.record import task_added, task_changed
from robust_ledger.changeover.risk import simulated
from robust_ledger.changeover.schedule import first_day
from robust_ledger.changeover.slots import LUNCH
from robust_ledger.changeover.solver import dark_alone, day
from robust_ledger.changeover.tasks import Task
from robust_ledger.cli import main
from robust_ledger.job.edits import add_defect, change_branch, with_part
from robust_ledger.job.files import read_job, write_job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.day import ChangeoverDay
from robust_ledger.job.parts.defects import Defect
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.job.readers.minutes import minutes_text, read_minutes
from robust_ledger.ledger.entry import Step
from robust_ledger.ledger.working import Working
from robust_ledger.plan import plan

EXAMPLES = Path(__file__).parents[2] / "examples"
DEMO = plan(read_job(EXAMPLES / "marrow-lane.ledger.json"))
KINDS = catalogue().kinds
ONE, TWO = Demands(1), Demands(2)


def task(name: str, minutes: float, *needs: str, phase="dark", place="rooms", who="us", **more) -> Task:
    work = Working(f"day.task.{name}", name)
    entry = work.entry(work.take(Step("usually", minutes, "min")))
    return Task(
        name,
        name,
        phase,
        place,
        1,
        (minutes, minutes, minutes),
        needs,
        "",
        who,
        more.pop("daylight", False),
        entry,
        **more,
    )


def test_every_need_of_the_catalogue_is_there_and_none_is_circular():
    assert all(need in KINDS for kind in KINDS.values() for need in kind.needs)
    pounds = catalogue().pounds
    assert {thing for kind in KINDS.values() for thing in (*kind.tools, *dict(kind.material))} <= pounds.keys()
    made = DEMO.changeover.tasks
    place = {one.id: number for number, one in enumerate(made)}
    assert all(place[need] < place[one.id] for one in made for need in one.needs)
    order = {"before": 0, "dark": 1, "after": 2}
    by_id = {one.id: one for one in made}
    assert all(order[by_id[need].phase] <= order[one.phase] for one in made for need in one.needs)
    assert [one.hold for one in made if one.hold] == ["dead", "line_side", "covered", "energize", "voltages"]


def test_counts_come_from_the_plan_and_move_with_it():
    """The demo's garage moves one circuit on a new cable; three wires are marked; a circuit more is a cable more."""
    room = DEMO.changeover
    found = {name: one.amount for name, one in room.counts.items()}
    live = [one for one in DEMO.circuits.branches if not one.off and one.origin != "future"]
    assert found["circuits"] == len(live) and found["rods"] == DEMO.entry("grounding.rods_added").amount
    assert found["splices"] == sum(bench.splices.amount for bench in DEMO.benches.values())
    assert found["terminations"] == len(room.terminations)
    assert found["marked"] == 3 and found["dark_neutrals"] == 1 and found["unknown"] == 1
    for one in room.tasks:
        each = KINDS[one.id].each
        assert one.times == (found[each] if each else 1) and one.entry.amount == pytest.approx(
            KINDS[one.id].minutes[1] * one.times
        )
    more = plan(change_branch(DEMO.job, CircuitKey.of_tag(8), action="new_cable")).changeover
    assert more.counts["new_cables"].amount == found["new_cables"] + 1
    cables = next(one for one in more.tasks if one.id == "new_cables")
    assert cables.entry.amount == 40 * cables.times, "forty minutes each, in its working"


@pytest.mark.parametrize(
    ("name", "part", "change", "twin"),
    [
        ("socket_in", "decisions", {"meter_replaced": True}, {"meter_replaced": False}),
        ("mast_in", "scope", {"renews": ("riser",)}, {"renews": ("load_conductors",)}),
        ("roof_sealed", "scope", {"renews": ("riser",)}, {"renews": ()}),
        ("line_conductors", "scope", {"renews": ("riser_conductors",)}, {"renews": ()}),
        ("rods", "grounding", {"rods": 0}, {"rods": 2}),
        ("inspection", "day", {"inspection": "after"}, {"inspection": "another_day"}),
        ("inspection_first", "day", {"inspection": "before_power"}, {"inspection": "after"}),
    ],
)
def test_a_task_is_there_only_where_the_plan_has_occasion_for_it(name, part, change, twin):
    job = with_part(called_out(house(1500), "1 20 12 hall"), "scope", service="upgraded", panel_place="same")
    job = with_part(job, "grounding", rod_length_ft=8.0, rod_spacing_ft=8.0)
    there, not_there = (plan(with_part(job, part, **values)).changeover.tasks for values in (change, twin))
    assert name in {one.id for one in there} and name not in {one.id for one in not_there}
    ids = {one.id for one in not_there}
    assert all(need in ids for one in not_there for need in one.needs), "what needed it needs what that needed"


def test_what_is_not_known_is_told_and_not_taken_for_nothing():
    """A defect of ours without minutes, and its twin with ten; daylight without a place; two people of whom one is named."""
    job = with_part(
        called_out(house(1500), "1 20 12 hall"), "scope", service="kept", panel_place="same", renews=("riser",)
    )
    open_ended, timed = (
        plan(
            add_defect(job, Defect.read({"id": "d", "what": "loose cable", "in_scope": True, "minutes": minutes}))
        ).changeover
        for minutes in (None, 10.0)
    )
    words = timed.counts["defect_minutes"].words
    assert words in open_ended.unknown and words not in timed.unknown
    assert {"daylight, for want of date or place", "whether it stays dry"} < set(missing(open_ended))
    said = {
        "date": "2026-12-08",
        "latitude_deg": 40.0,
        "longitude_deg": -105.0,
        "zone": "America/Denver",
        "weather": "dry",
    }
    assert missing(plan(with_part(timed.job, "day", **said)).changeover) == ()
    pair = [
        missing(plan(with_part(timed.job, "day", **said, people=2, names=names)).changeover)
        for names in (("A",), ("A", "B"))
    ]
    assert pair == [("Two people are planned and not both are named.",), ()]


# --- the user's own hand ---------------------------------------------------------------------------------------------
def test_the_user_adds_times_moves_and_drops_and_the_plan_keeps_the_rest_right():
    def ids(job):
        return [one.id for one in plan(job).changeover.tasks]

    job = task_added(
        DEMO.job,
        "move the freezer",
        phase="dark",
        minutes=(5.0, 8.0, 12.0),
        ahead_of=("old_out",),
        after=("prove_dead",),
    )
    own = plan(job).changeover.tasks[-1]
    assert (own.id, own.minutes, own.needs) == ("own-1", (5.0, 8.0, 12.0), ("prove_dead", "line_side"))
    made = plan(job).changeover
    assert "own-1" in next(one for one in made.tasks if one.id == "old_out").needs
    longer, before = (planned(room.tasks, ONE).day.dark_min for room in (made, DEMO.changeover))
    assert longer == before + 8
    dropped = task_changed(DEMO.job, "photographs", dropped=True)
    assert "photographs" not in ids(dropped) and ids(task_changed(dropped, "photographs", dropped=False)) == ids(
        DEMO.job
    )
    held = task_changed(DEMO.job, "prove_dead", dropped=True)
    assert "prove_dead" in ids(held), "what ends in a hold cannot be dropped"
    timed = plan(task_changed(DEMO.job, "bond", minutes=(20.0, 25.0, 40.0))).changeover
    assert planned(timed.tasks, ONE).day.dark_min == before + 10
    moved = plan(task_changed(DEMO.job, "splices", phase="after")).changeover
    gain = next(one for one in planned(DEMO.changeover.tasks, ONE).gains if one.task_id == "splices")
    assert planned(moved.tasks, ONE).day.dark_min == before - gain.saves_min, "it saves what was promised"
    later = with_part(task_changed(DEMO.job, "material", after=("photographs",)), "decisions", meter_replaced=True)
    assert "photographs" in next(one for one in plan(later).changeover.tasks if one.id == "material").needs


def test_nothing_is_done_in_the_panel_before_it_is_safe_or_once_it_is_live():
    """An own task of the dark waits for the line side, its twin before the dark for nothing; cables go in in the dark alone, splices may wait."""
    needs = {
        phase: plan(task_added(DEMO.job, "move the freezer", phase=phase)).changeover.tasks[-1].needs
        for phase in ("before", "dark")
    }
    assert needs == {"before": (), "dark": ("line_side",)}
    for said in (("power_off",), ("prove_dead",), ("wires_off",), ()):
        own = plan(task_added(DEMO.job, "move the freezer", phase="dark", after=said)).changeover.tasks[-1]
        assert "line_side" in own.needs and set(own.needs) >= set(said) & {one.id for one in DEMO.changeover.tasks}
    ahead = task_added(DEMO.job, "move the freezer", phase="dark", ahead_of=("line_side",))
    with pytest.raises(DayError, match="wait for each other"):
        planned(plan(ahead).changeover.tasks, ONE)
    theirs = task_added(DEMO.job, "cut at the pole", phase="dark", who="utility", ahead_of=("prove_dead",))
    assert planned(plan(theirs).changeover.tasks, ONE).day.proven, "the utility's own cut is what makes it dead"
    with pytest.raises(DayError, match="is done in the dark alone: after it the panel is live"):
        planned(plan(task_changed(DEMO.job, "cables_in", phase="after")).changeover.tasks, ONE)
    assert planned(plan(task_changed(DEMO.job, "splices", phase="after")).changeover.tasks, ONE).day.proven
    gain = next(one for one in planned(DEMO.changeover.tasks, ONE).gains if one.task_id == "splices")
    assert gain.words == "splices after the power is back, in boxes outside the panel, those circuits off until then"


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ({"minutes": (-5.0, -5.0, 10.0)}, "takes -5 minutes; a task takes more than none"),
        ({"minutes": (60.0, 2400.0, 2400.0)}, "takes 40 hours; a task of the day takes 24 at the most"),
        ({"minutes": (30.0, 20.0, 40.0)}, "are not in that order"),
        (
            {"after": ("hand_over",)},
            "comes before the dark, and needs .clean up, hand over with the monthly test note., which comes after the dark",
        ),
        ({"people": 2}, "takes two people, and the day is planned for one"),
    ],
)
def test_a_task_that_cannot_be_is_one_sentence(change, sentence):
    room = plan(
        with_part(task_changed(DEMO.job, "bond" if "people" in change else "rods", **change), "day", people=1)
    ).changeover
    with pytest.raises(DayError, match=sentence):
        planned(room.tasks, ONE)


def test_minutes_are_read_as_they_are_typed():
    assert read_minutes("10 20 40") == read_minutes("10, 20, 40 min") == (10, 20, 40) and read_minutes("") is None
    assert read_minutes("20") == (14.0, 20.0, 32.0) and read_minutes(minutes_text((1.5, 2, 3))) == (1.5, 2, 3)
    for text, words in (
        ("-5", "more than -5"),
        ("2400", "40 hours"),
        ("a while", "no minutes"),
        ("1 2", "three figures"),
        ("9 5 7", "not in that order"),
    ):
        with pytest.raises(ValueError, match=words):
            read_minutes(text)


# --- the schedule ----------------------------------------------------------------------------------------------------
TASKS = st.lists(
    st.tuples(
        st.integers(1, 9),
        st.sets(st.integers(0, 3), max_size=2),
        st.sampled_from(["rooms", "panel"]),
        st.sampled_from(["us", "us", "utility"]),
    ),
    min_size=1,
    max_size=5,
)


@settings(max_examples=40, deadline=None)
@given(TASKS, st.sampled_from([1, 2]))
def test_no_order_of_work_has_a_shorter_dark(rows, people):
    """Every order of up to five tasks, each begun as early as it may be: none beats the schedule, and the schedule keeps the rules."""
    made = [
        task(f"t{n}", minutes, *(f"t{m}" for m in needs if m < n), place=place, who=who)
        for n, (minutes, needs, place, who) in enumerate(rows)
    ]
    found = day(made, Demands(people))
    assert found.proven and found.dark_min == min(shortest(order, people) for order in permutations(made))
    assert dark_alone(made, Demands(people)) == found.dark_min, "the shorter way to that figure alone comes to the same"
    assert first_day(made, Demands(people)).dark_min >= found.dark_min
    keeps_the_rules(found)


def keeps_the_rules(found) -> None:
    """Nobody in two places, needs first, a narrow place for one, dark tasks in the dark alone."""
    narrow = catalogue().narrow
    for one in found.slots:
        assert all(found.slot(need).end_min <= one.start_min for need in one.task.needs)
        phase = one.task.phase
        assert phase != "dark" or one.task.id == LUNCH or found.off_min <= one.start_min <= one.end_min <= found.on_min
        assert phase != "before" or one.task.id == LUNCH or one.end_min <= found.off_min
        assert phase != "after" or one.task.id == LUNCH or one.start_min >= found.on_min
        for other in found.slots:
            apart = one.end_min <= other.start_min or other.end_min <= one.start_min
            assert one is other or apart or not set(one.people) & set(other.people), "nobody is in two places"
            crowded = one.task.place == other.task.place and one.task.place in narrow and one.people and other.people
            assert one is other or apart or not crowded


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


WINDOWS = st.none() | st.tuples(st.integers(0, 300), st.integers(5, 300)).map(
    lambda w: Window(480 + w[0], 480 + w[0] + w[1])
)


@settings(max_examples=60, deadline=None)
@given(
    st.sampled_from([1, 2]),
    WINDOWS,
    WINDOWS,
    WINDOWS,
    st.none() | st.integers(5, 40),
    st.sampled_from(["before", "dark", "after"]),
)
def test_windows_daylight_rain_and_the_break_are_kept_or_the_clash_is_named(
    people, utility, daylight, rain, lunch, phase
):
    """A small day: work before, in and after the dark. Where there is none, the demands that are named cannot hold together, and the day
    is possible again when one of them is given up."""
    made = [
        task("prepare", 20, phase="before", place="yard"),
        task("roof", 15, phase=phase, place="roof", daylight=True, dry=True),
        task("out", 10, place="panel"),
        task("in", 25, "out", place="panel"),
        task("connect", 12, "in", place="meter", who="utility"),
        task("close", 9, "connect", phase="after", place="panel"),
    ]
    eaten = Lunch(lunch, Window(600, 700)) if lunch else None
    demands = Demands(people, 480, utility, None, daylight, rain, eaten)
    try:
        found = day(made, demands)
    except DayError as fault:
        assert "hold" in str(fault) or "leaves no time" in str(fault)
        kept = {"start", *(name for name in ("utility", "daylight", "rain", "lunch") if getattr(demands, name))}
        while named := set(clash(made, demands)):
            assert named <= kept and not possible(made, demands, tuple(named))
            gone = min(named - {"start"})
            kept.discard(gone)
            demands = replace(demands, **{gone: None})
        assert day(made, demands).slots, "with one of each clash given up there is a day"
        return
    keeps_the_rules(found)
    roof, connect = found.slot("roof"), found.slot("connect")
    assert utility is None or utility.start_min <= connect.start_min <= connect.end_min <= utility.end_min
    assert daylight is None or daylight.start_min <= roof.start_min <= roof.end_min <= daylight.end_min
    assert rain is None or roof.end_min <= rain.start_min or roof.start_min >= rain.end_min
    if eaten:
        slot = found.slot(LUNCH)
        assert 600 <= slot.start_min <= slot.end_min <= 700 and slot.people == tuple(range(1, people + 1))
    assert found.proven


def test_the_dark_waits_for_the_utility_rather_than_the_house_for_both():
    """The utility comes at two: the power stays on until the work just fits before."""
    made = [task("out", 30, place="panel"), task("connect", 10, "out", place="meter", who="utility")]
    found = day(made, Demands(1, 480, utility=Window(14 * 60, 18 * 60)))
    assert (found.off_min, found.on_min) == (14 * 60 - 30, 14 * 60 + 10)


@pytest.mark.parametrize(
    ("changes", "sentence"),
    [
        (
            {"utility_from": "9 am", "utility_until": "10 am"},
            "The utility's window .9:00 am to 10:00 am. leaves no time",
        ),
        (
            {"utility_from": "6 pm", "utility_until": "4 pm"},
            "The utility's window ends before it begins: 6:00 pm to 4:00 pm.",
        ),
        (
            {"lunch_min": 90, "lunch_from": "12 pm", "lunch_until": "1 pm"},
            "A break of 90 minutes does not fit between 12:00 pm to 1:00 pm.",
        ),
        (
            {"start": "3 pm", "inspection": "before_power", "inspector_from": "4 pm", "inspector_until": "5 pm"},
            "cannot both hold",
        ),
        ({"date": "2026-13-01"}, "is no date"),
        (
            {"date": "2026-12-01", "latitude_deg": 40.0, "longitude_deg": -105.0, "zone": "America/Nowhere"},
            "is no time zone",
        ),
        ({"date": "2026-12-21", "latitude_deg": 80.0, "longitude_deg": -100.0}, "sun does not rise"),
    ],
)
def test_a_day_that_cannot_be_is_one_sentence(changes, sentence):
    job = replace(DEMO.job, day=ChangeoverDay().changed(**changes))
    with pytest.raises(DayError, match=sentence):
        plan(job).changeover.schedule()


def test_nothing_to_do_and_a_circle_are_one_sentence_too():
    with pytest.raises(DayError, match="nothing to do"):
        plan(house(1500)).changeover.schedule()
    with pytest.raises(DayError, match=r"Tasks wait for each other: a needs b needs a\."):
        day([task("a", 5, "b"), task("b", 5, "a")], ONE)
    with pytest.raises(DayError, match="one person or two"):
        day([task("a", 5)], Demands(3))
    with pytest.raises(ModelError, match="words"):
        task_added(DEMO.job, "  ")


def test_a_minute_more_on_what_is_critical_is_a_minute_more_of_dark():
    made = list(DEMO.changeover.tasks)
    found = day(made, ONE)
    for name in ("old_out", "torque", "utility_on"):
        assert name in found.critical
        longer = [replace(one, minutes=tuple(m + 1 for m in one.minutes)) if one.id == name else one for one in made]
        assert day(longer, ONE).dark_min == found.dark_min + 1
    two = day(made, TWO)
    at_panel = sum(
        one.usual_min
        for one in made
        if one.phase == "dark" and (one.place == "panel" or one.id in ("utility_on", "voltages"))
    )
    assert two.proven and two.dark_min == at_panel < found.dark_min, (
        "no second person shortens what is done at the panel"
    )
    slack = dict(two.slack_min)
    loose = next(key for key, minutes in slack.items() if minutes > 1 and two.slot(key).task.phase == "dark")
    longer = [
        replace(one, minutes=tuple(m + slack[loose] for m in one.minutes)) if one.id == loose else one for one in made
    ]
    assert day(longer, TWO).dark_min == two.dark_min, "what has slack may take as much longer"


@settings(max_examples=15, deadline=None)
@given(st.lists(st.tuples(st.integers(1, 9), st.sampled_from(["yard", "attic", "panel"])), min_size=1, max_size=5))
def test_fewest_trips_of_every_order(rows):
    """One person, work without needs: no order changes place less often."""
    made = [task(f"t{n}", minutes, phase="before", place=place) for n, (minutes, place) in enumerate(rows)]
    found = day(made, ONE)
    assert found.trips_proven and found.trips == min(_trips(order) for order in permutations(made))


def _trips(order) -> int:
    at, trips = "truck", 0
    for one in order:
        trips, at = trips + (one.place != at), one.place
    return trips


def test_what_is_carried_is_what_the_work_takes():
    made = planned(DEMO.changeover.tasks, ONE)
    attic = next(one for one in made.visits if one.place == "attic")
    cables = DEMO.changeover.counts["new_cables"].amount
    assert dict(attic.carried) == {"drill and bits": 1, "ladder": 1, "new cable": cables} and attic.up
    assert attic.pounds == 8 + 35 + 18 * cables
    breakers = sum(dict(one.carried).get("breakers", 0) for one in made.visits)
    assert breakers == DEMO.changeover.counts["circuits"].amount


def test_most_days_are_longer_than_the_usual_one():
    found = day(DEMO.changeover.tasks, ONE)
    risk = simulated(found, ONE)
    assert risk.on_min > found.on_min and risk.dark_mean_min > found.dark_min, (
        "what goes wrong takes longer than what goes well saves"
    )
    assert dict(risk.share)["torque"] == 1.0, "with one person everything holds up the power"
    exact = [task("a", 30), task("b", 12, "a")]
    same = simulated(day(exact, ONE), ONE)
    assert same.dark_min == same.dark_mean_min == 42.0, "nothing to draw, nothing to differ"
    two = [replace(task("a", 30), minutes=(30.0, 30.0, 60.0)), task("b", 40), task("c", 5, "a", "b", place="meter")]
    share = dict(simulated(day(two, TWO), TWO).share)
    assert 0.2 < share["a"] < 0.6 and share["a"] + share["b"] == pytest.approx(1, abs=0.01), "now one, now the other"


# --- clock and daylight ----------------------------------------------------------------------------------------------
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
    assert read_date("12/8/2026") == read_date("2026-12-08") == "2026-12-08" and read_date(" ") == ""
    with pytest.raises(ValueError, match="no date"):
        read_date("13/40/2026")


def test_in_the_night_the_clocks_change_minutes_go_on_as_they_pass():
    """In Denver clocks go back at two on November 1, 2026: a day that began on October 31 and lasts into it; and forward on March 14, 2027."""
    from datetime import date

    back, forth = DayClock(date(2026, 10, 31), "America/Denver"), DayClock(date(2027, 3, 13), "America/Denver")
    assert [back.text(24 * 60 + m) for m in (90, 150, 210)] == [
        "1:30 am (next day)",
        "1:30 am (next day)",
        "2:30 am (next day)",
    ]
    assert [forth.text(24 * 60 + m) for m in (90, 150)] == ["1:30 am (next day)", "3:30 am (next day)"]
    for clock in (back, forth):
        for minute in (480, 24 * 60 + 200):
            assert clock.minutes(clock.moment(minute)) == minute and clock.passed_min(clock.wall_min(minute)) == minute


@pytest.mark.parametrize(
    ("on", "latitude", "longitude", "zone", "rise", "set_"),
    [  # published almanac times, to two minutes
        ("2026-06-21", 40.7128, -74.006, "America/New_York", "5:25 am", "8:31 pm"),
        ("2026-12-21", 40.7128, -74.006, "America/New_York", "7:17 am", "4:32 pm"),
        ("2026-12-21", 33.4484, -112.074, "America/Phoenix", "7:28 am", "5:25 pm"),
        ("2026-06-21", 47.6062, -122.3321, "America/Los_Angeles", "5:11 am", "9:11 pm"),
    ],
)
def test_daylight_by_date_and_place(on, latitude, longitude, zone, rise, set_):
    day_ = ChangeoverDay().changed(date=on, latitude_deg=latitude, longitude_deg=longitude, zone=zone)
    light = demands_of(day_).daylight
    assert light is not None
    assert abs(light.start_min - read_clock(rise)) <= 2 and abs(light.end_min - read_clock(set_)) <= 2


# --- the command line ------------------------------------------------------------------------------------------------
def test_the_command_plans_the_day_and_tells_whether_the_promise_holds(capsys, tmp_path):
    path = tmp_path / "demo.ledger.json"
    write_job(replace(DEMO.job, day=ChangeoverDay()), path)
    assert main(["day", str(path), "--people", "2", "--start", "6:30"]) == 0
    out = capsys.readouterr().out
    assert (
        "HOLD ! prove that it is dead" in out
        and ("(proven)" in out or "best found, not below" in out)  # whichever the machine had the time for
        and "dark minutes less" in out
        and "Carried:" in out
    )
    assert main(["day", str(path), "--promise", "3 pm"]) == 1
    assert "cannot be counted on: the power would have to be off by" in capsys.readouterr().out
    assert main(["day", str(path), "--promise", "11:30 pm", "--people", "2", "--date", "12/8/2026", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["promise_kept"] and told["dark_min"] == told["on_min"] - told["off_min"] and told["trips"] > 0
    said = {"people": 2, "promise": "11:30 pm", "date": "2026-12-08"}
    assert told == {
        **day_data(plan(with_part(read_job(path), "day", **said)).changeover.schedule()),
        "not_known": told["not_known"],
    }
    for arguments, words in (
        (["--start", "late"], "no time of day"),
        (["--date", "someday"], "no date"),
        (["--learn", str(tmp_path / "none.json")], "none.json"),
    ):
        assert main(["day", str(path), *arguments]) == 2 and words in capsys.readouterr().err
