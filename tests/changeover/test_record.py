"""The day as it goes, by a scripted clock: times and re-planning, holds that cannot be passed, torques, breakers one by one, what is learned."""

from __future__ import annotations

import json
from datetime import datetime, timedelta
from pathlib import Path

import pytest
from builders import called_out, house
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.changeover.catalogue import catalogue
from robust_ledger.changeover.energize import in_the_way, sequence
from robust_ledger.changeover.holds import hold_ids, hold_of, holds
from robust_ledger.changeover.learned import blended, gathered
from robust_ledger.changeover.live import durations, live, live_words
from robust_ledger.changeover.record import (
    checked_off,
    measured,
    noted,
    opened,
    signed,
    stamp,
    switched,
    task_changed,
    ticked,
    tightened,
    traced,
    with_tool,
)
from robust_ledger.changeover.recorded import is_over, record_data, record_lines
from robust_ledger.cli import main
from robust_ledger.fieldbook.book import book_data
from robust_ledger.job.edits import change_circuit, with_part
from robust_ledger.job.files import read_job, write_job
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Mark
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.job.parts.record import Event, Volts
from robust_ledger.job.readers.torque_units import IN_INCH_POUNDS, in_unit, inch_pounds, torque_text, unit_of
from robust_ledger.job.readers.torques import read_torques
from robust_ledger.papers.sheets import checklist
from robust_ledger.plan import plan

EXAMPLES = Path(__file__).parents[2] / "examples"
DEMO = read_job(EXAMPLES / "marrow-lane.ledger.json")
EIGHT = datetime.fromisoformat("2026-12-08T08:00:00-07:00")
SAID = {
    "date": "2026-12-08",
    "zone": "America/Denver",
    "people": 1,
    "start": "8:00 am",
    "utility_from": "",
    "utility_until": "",
    "promise": "",
}


def room(job: Job):
    return plan(job).changeover


def small() -> Job:
    """Two circuits, one of them with a dark wire on the neutral bar, in a panel that is the first disconnect."""
    job = called_out(house(1500), "1 20 12 hall", "2 20 12 den black on the neutral bar")
    job = with_part(job, "scope", service="kept", panel_place="same")
    job = with_part(job, "grounding", rods=2, rod_length_ft=8.0, rod_spacing_ft=8.0)
    return with_part(job, "day", **SAID, inspection="another_day", lunch_min=0)


def at(minutes: float) -> datetime:
    return EIGHT + timedelta(minutes=minutes)


def note(job: Job, kind: str, minute: float, task: str = "", **more) -> Job:
    return noted(job, room(job), Event.read({"at": stamp(at(minute)), "kind": kind, "task": task, **more}))


def passed(job: Job, hold_id: str, minutes: float = 0) -> Job:
    """A hold gone through as one would: readings of a tester that is proven, everything else ticked."""
    for one in hold_of(room(job), hold_id).items:
        if not one.auto:
            value = {"live": "121", "dead": "0.0", "": "yes"}[one.reading]
            job = ticked(job, hold_id, one.key, value)
    return signed(job, room(job), hold_id, "Marta", at(minutes))


def tight(job: Job) -> Job:
    """Every termination tightened to what is due, twice, and marked; the tool in date."""
    job = with_tool(job, calibrated="2026-05-01")
    for one in room(job).terminations:
        values = {} if one.factory else {"first": one.due_in_lb or 20.0, "second": one.due_in_lb or 20.0}
        job = tightened(job, one.key, EIGHT, **values, marked=True)
    return job


def good_volts(job: Job) -> Job:
    for point in ("line", "load"):
        job = measured(
            job, Volts(point=point, leg_to_leg=242, a_to_neutral=121, b_to_neutral=121, neutral_to_ground=0.0)
        )
    job = measured(
        job, Volts(point="panel", main_open=True, low_z=True, leg_to_leg=0.1, a_to_neutral=0.0, b_to_neutral=0.1)
    )
    return measured(
        job,
        Volts(
            point="panel", main_open=False, leg_to_leg=242, a_to_neutral=121, b_to_neutral=121, neutral_to_ground=0.1
        ),
    )


# --- live ------------------------------------------------------------------------------------------------------------
def test_ticking_with_real_times_plans_the_rest_from_now():
    """Photographs took 25 minutes in place of 5: the power is back 20 minutes later than planned, and that is told."""
    job = small()
    was = room(job).schedule().day
    first = [one for one in was.slots if one.task.phase == "before"]
    minute = 0.0
    for slot in first:
        took = 25 if slot.task.id == "photographs" else slot.task.usual_min
        job = note(job, "start", minute, slot.task.id)
        minute += took
        job = note(job, "done", minute, slot.task.id)
    now = live(room(job), at(minute))
    assert now.plan.day.on_min == was.on_min + 20 and now.late_min == 20 and now.off_min is None
    assert [(one.task.id, one.late_min) for one in now.slips] == [("photographs", 20)]
    assert "20 min later than planned" in live_words(now) and "photographs" in live_words(now)
    assert now.turn(1)[1].task.id == "prove_dead" and now.turn(1)[0] is None


def test_the_dark_is_counted_from_when_the_power_really_went():
    job = passed(note(small(), "off", 60), "dead", 62)
    job = note(note(job, "start", 62, "prove_dead"), "done", 70, "prove_dead")
    now = live(room(job), at(75))
    assert now.off_min == 9 * 60 and now.dark_so_far_min == 15 and now.plan.day.off_min == 9 * 60
    slot = now.plan.day.slot("line_side")
    assert slot.start_min >= 9 * 60 + 15 and not slot.done and now.plan.day.slot("prove_dead").done
    undone = live(room(note(job, "undone", 76, "prove_dead")), at(77))
    assert not undone.plan.day.slot("prove_dead").done


def test_waits_and_breaks_move_what_they_hold_up_and_nothing_else():
    job = note(small(), "done", 0, "permit_posted", minutes=10)
    free = live(room(job), at(1)).plan.day
    late = live(room(note(job, "wait", 1, who="utility", person=0, minutes=600)), at(1)).plan.day
    assert (
        late.slot("utility_on").start_min >= 8 * 60 + 601
        and late.slot("material").start_min == free.slot("material").start_min
    )
    paused = live(room(note(job, "wait", 1, who="us", person=0, minutes=30)), at(1))
    assert min(one.start_min for one in paused.plan.day.slots if not one.done) == 8 * 60 + 31 and paused.waiting
    assert not live(room(note(job, "wait", 1, who="us", person=0, minutes=30)), at(40)).waiting


def test_a_task_is_said_to_be_over_with_what_it_took_or_without():
    job = note(note(small(), "done", 10, "permit_posted"), "done", 40, "photographs", minutes=12)
    happened = {one.task.id: one for one in live(room(job), at(41)).plan.day.slots if one.done}
    assert (happened["photographs"].start_min, happened["photographs"].end_min) == (8 * 60 + 28, 8 * 60 + 40)
    assert happened["permit_posted"].start_min == 8 * 60, "its usual ten minutes before"


@pytest.mark.parametrize(
    ("kind", "minutes", "task", "sentence"),
    [
        ("start", 5, "nothing", 'there is no task "nothing"'),
        ("start", -30, "material", "the clock is earlier than the last entry, 8:00 am; was it set back"),
        (
            "start",
            5,
            "line_side",
            'the hold "Proven dead" is not passed: 8 items are open, first: first tester on a live source, before',
        ),
        ("done", 5, "prove_dead", 'sign the hold "Proven dead" first'),
        ("done", 5, "cables_in", 'the hold "Proven dead" is not passed'),
    ],
)
def test_what_cannot_be_is_refused_in_one_sentence(kind, minutes, task, sentence):
    job = note(small(), "done", 0, "photographs")
    with pytest.raises(ModelError, match=sentence):
        note(job, kind, minutes, task)


def test_a_time_that_is_said_goes_where_it_belongs():
    """Remembered late: the photographs were done at 8:05; the clock itself may not go back."""
    job = note(small(), "done", 30, "material", minutes=20)
    event = Event.read({"at": stamp(at(5)), "kind": "done", "task": "photographs", "minutes": 5})
    with pytest.raises(ModelError, match="was it set back"):
        noted(job, room(job), event)
    assert [one.task for one in noted(job, room(job), event, by_hand=True).record.events] == ["photographs", "material"]


def test_a_restart_loses_nothing(tmp_path):
    """What was written down is in the job file; read again it gives the same day."""
    job = note(passed(note(small(), "off", 60), "dead", 61), "done", 70, "prove_dead", minutes=8)
    path = tmp_path / "day.ledger.json"
    write_job(job, path)
    again = read_job(path)
    assert again == job and live(room(again), at(80)).plan.day == live(room(job), at(80)).plan.day


def test_a_day_in_the_night_the_clocks_go_back():
    """Begun at 11 pm on October 31 in Denver, two hours of work over two o'clock: 120 minutes pass, the wall clock shows one more hour of them."""
    job = with_part(small(), "day", date="2026-10-31", start="11:00 pm")
    begin = datetime.fromisoformat("2026-10-31T23:00:00-06:00")
    for hours, text in ((0, "11:00 pm"), (3.5, "1:30 am"), (5, "3:00 am")):
        moment = begin + timedelta(hours=hours)
        event = Event.read(
            {
                "at": stamp(moment),
                "kind": "start" if not hours else "wait",
                "task": "photographs" if not hours else "",
                "minutes": 1,
            }
        )
        job = noted(job, room(job), event)
        now = live(room(job), moment)
        assert now.now_min == 23 * 60 + 60 * hours and now.clock.text(now.now_min).startswith(text)


@settings(max_examples=25, deadline=None)
@given(
    st.lists(
        st.tuples(st.sampled_from(["start", "done", "undone"]), st.integers(0, 12), st.integers(0, 40)), max_size=8
    ),
    st.integers(1, 2),
)
def test_whatever_is_ticked_the_rest_is_a_day(ticks, people):
    """Any order of ticks on the work before the dark: the rest keeps to what comes first, and nobody is in two places. Who begins a second task
    has put the first one down."""
    job = with_part(small(), "day", people=people, names=("A", "B")[:people])
    tasks = [one.id for one in room(job).tasks if one.phase == "before"]
    minute, going = 0.0, dict[int, str]()
    for kind, number, passes in ticks:
        minute += passes
        person, task = 1 + number % people, tasks[number % len(tasks)]
        if kind == "start" and going.get(person, task) != task:
            job = note(job, "done", minute, going[person], person=person)
        going = {who: what for who, what in going.items() if what != task and (who != person or kind != "start")}
        if kind == "start":
            going[person] = task
        job = note(job, kind, minute, task, person=person)
    found = live(room(job), at(minute + 1)).plan.day
    left = [one for one in found.slots if not one.done and one.task.id not in {e.task for e in job.record.events}]
    for one in left:
        assert one.start_min >= 8 * 60 + minute + (1 if ticks else 0) - 0.5
        for other in left:
            assert (
                one is other
                or not set(one.people) & set(other.people)
                or one.end_min <= other.start_min
                or other.end_min <= one.start_min
            )


# --- holds -----------------------------------------------------------------------------------------------------------
def test_no_hold_is_passed_by_an_open_item_and_the_order_is_kept():
    job = small()
    with pytest.raises(ModelError, match="8 items are open"):
        signed(job, room(job), "dead", "Marta", EIGHT)
    with pytest.raises(ModelError, match='"Proven dead" comes first'):
        signed(job, room(job), "line_side", "Marta", EIGHT)
    job = passed(job, "dead")
    assert hold_of(room(job), "dead").state == "signed" and [
        one.id for one in holds(room(job)) if not one.passed
    ] == list(hold_ids()[1:])
    for one in hold_of(room(job), "line_side").items[:-1]:
        job = ticked(job, "line_side", one.key, "yes")
    with pytest.raises(ModelError, match="1 items are open, first: cover back on"):
        signed(job, room(job), "line_side", "Marta", EIGHT)
    with pytest.raises(ModelError, match="signed with a name"):
        signed(job, room(job), "line_side", " ", EIGHT)


@pytest.mark.parametrize(
    ("key", "good", "bad", "fault"),
    [
        ("tester1_before", "121.4 V", "3", "3 V is no live source: the tester is not proven"),
        ("tester2_here", "0.4", "48", "48 V is not dead"),
        ("tester1_here", "0", "dead", '"dead" is no reading in volts'),
    ],
)
def test_readings_of_a_hold_have_to_prove_it(key, good, bad, fault):
    for value, done in ((good, True), (bad, False)):
        item = next(one for one in hold_of(room(ticked(small(), "dead", key, value)), "dead").items if one.key == key)
        assert item.done is done and (done or fault in item.fault)


def test_overriding_takes_a_reason_and_a_name_and_stays_to_be_seen(tmp_path):
    job = passed(small(), "dead")
    job = signed(job, room(job), "line_side", "Marta", EIGHT, "barrier left at the shop, nobody behind it")
    hold = hold_of(room(job), "line_side")
    assert hold.state == "overridden" and hold.passed and "barrier" in hold.overridden
    finding = next(one for one in plan(job).findings if one.id == "day.overridden:line_side")
    assert finding.severity == "FIX" and "Marta" in finding.text and "barrier" in finding.text
    whole = passed(passed(small(), "dead"), "line_side")
    assert not any(one.id.startswith("day.overridden") for one in plan(whole).findings), "its twin with every item done"


@pytest.mark.parametrize(("value", "state"), [("0.2", "signed"), ("118", "reopened"), ("", "reopened")])
def test_a_reading_that_is_no_longer_dead_opens_the_signed_hold_again(value, state):
    job = passed(small(), "dead")
    hold = hold_of(room(ticked(job, "dead", "tester1_here", value)), "dead")
    assert hold.state == state and hold.passed == (state == "signed")


def test_a_change_of_the_job_opens_a_signed_hold_again_and_says_why():
    """Signed with two circuits; a third one makes the count another, and its twin, a room's name, does not."""
    job = tight(passed(passed(small(), "dead"), "line_side"))
    job = passed(passed(job, "covered"), "energize")
    assert hold_of(room(job), "energize").state == "signed"
    more = called_out(job, "3 15 14 attic light")
    hold = hold_of(room(more), "energize")
    assert (
        hold.state == "reopened"
        and not hold.passed
        and "3 breakers with 3 poles" in hold.why
        and "2 breakers" in hold.why
    )
    finding = next(one for one in plan(more).findings if one.id == "day.reopened:energize")
    assert finding.severity == "STOP" and "torque log complete" in finding.text
    same = change_circuit(job, 1, room="hall")
    assert hold_of(room(same), "energize").state == "signed" and not any(
        one.id.startswith("day.") for one in plan(same).findings
    )
    assert hold_of(room(opened(job, "energize")), "energize").state == "ready", "taken back, the ticks stay"


def test_what_the_plan_says_stands_in_the_holds_by_name():
    demo = room(DEMO)
    words = [one.words for one in hold_of(demo, "energize").items]
    assert "Main panel: bonding screw or strap OUT: neutral floats, grounds apart" in words, (
        "a disconnect ahead is the first"
    )
    assert "Disconnect ahead: bonding screw or strap IN: neutral and ground are one here" in words
    capped = [one for one in DEMO.circuits if one.off]
    assert sum("capped, on no breaker" in one for one in words) == len(capped) > 0
    al = [one.words for one in hold_of(demo, "covered").items if one.key.startswith("antioxidant")]
    assert len(al) == sum(one.aluminum for one in demo.terminations) > 0 and all("Al)" in one for one in al)
    assert "Main panel: 30 breakers with 38 poles, as the schedule has them" in words, (
        "two circuits share a two-pole breaker"
    )
    first = [one.words for one in hold_of(room(small()), "energize").items]
    assert "Main panel: bonding screw or strap IN: neutral and ground are one here" in first


def test_a_wire_of_unknown_metal_is_looked_at_before_it_is_covered():
    job = called_out(small(), "5 20 ? porch")
    keys = {
        tag: [one.words for one in hold_of(room(job), "covered").items if one.key.startswith(f"antioxidant.tag:{tag}.")]
        for tag in (1, 3)
    }
    assert keys[1] == [] and len(keys[3]) == 3 and all("if aluminum" in words for words in keys[3])


# --- torque ----------------------------------------------------------------------------------------------------------
def test_torque_units_are_exact():
    """An inch-pound is 0.112 984 829 027 6167 N·m by definition of pound, inch and gravity; a foot-pound is twelve of them."""
    assert in_unit(1, "N·m") == pytest.approx(0.1129848290276167, rel=1e-15) and IN_INCH_POUNDS["ft-lb"] == 12
    assert (
        inch_pounds(20, "ft-lb") == 240
        and torque_text(250, "ft-lb") == "20.83 lbf·ft"
        and torque_text(20, "N·m") == "2.26 N·m"
    )
    for unit in IN_INCH_POUNDS:
        assert in_unit(inch_pounds(37.5, unit), unit) == pytest.approx(37.5)
    for said, unit in (
        ("in-lb", "in-lb"),
        ("lbf·ft", "ft-lb"),
        ("foot pounds", "ft-lb"),
        ("Nm", "N·m"),
        ("ounces", None),
    ):
        assert unit_of(said) == unit


def test_a_termination_goes_by_its_label_and_by_the_usual_figure_without_one():
    job = small()
    usual = {one.key: one for one in room(job).terminations}
    hot = next(one for key, one in usual.items() if key.endswith("tag:1.hot1"))
    assert (hot.due_in_lb, hot.verify) == (20, True) and hot.entry.cites[0].verify, (
        "Annex I for 14 to 10 AWG, to be verified"
    )
    label = room(with_part(job, "panel", torques=read_torques("breaker 14-10: 2.3 Nm; main: 250")))
    hot = next(one for one in label.terminations if one.key == hot.key)
    assert (
        hot.due_in_lb == pytest.approx(20.357, abs=0.001)
        and not hot.verify
        and torque_text(hot.due_in_lb, hot.label_unit) == "2.3 N·m"
    )
    other = room(with_part(job, "panel", torques=read_torques("breaker 8-4: 35")))
    assert next(one for one in other.terminations if one.key == hot.key).verify, "its size is not on the label"
    assert {one.key for one in label.terminations if one.factory} == {
        f"panel.factory.{j}" for j in ("main", "neutral", "ground", "bond")
    }


def test_terminations_follow_the_plan():
    """Two circuits: a hot, a neutral and a ground each; a renewed meter socket brings six; rods their clamps, those that are there too: the
    GEC to them is new."""
    keys = {one.key for one in room(small()).terminations}
    assert sum(key.startswith("tag:") for key in keys) == 6 and not any(key.startswith("meter.") for key in keys)
    assert {key for key in keys if key.startswith("rod.")} == {"rod.found.1", "rod.found.2"}
    meter = {one.key for one in room(with_part(small(), "decisions", meter_replaced=True)).terminations}
    assert len({key for key in meter if key.startswith("meter.")}) == 6
    rods = {one.key for one in room(with_part(small(), "grounding", rods=0)).terminations}
    assert {"rod.1", "rod.2"} <= rods
    shared = called_out(small(), "5 20 12 kitchen left", "7 20 12 kitchen right shares the neutral with tag 3")
    kitchen = [one.key for one in room(shared).terminations if one.key.startswith(("tag:3.", "tag:4."))]
    assert sum(key.endswith("neutral") for key in kitchen) == 1, "the neutral of two hots is one wire"


@pytest.mark.parametrize(
    ("first", "wrong"), [(20.0, ""), (21.9, ""), (22.5, "first pass 12% over"), (15.0, "first pass 25% under")]
)
def test_a_pass_that_is_off_is_told(first, wrong):
    job = tightened(small(), "tag:1.hot1", EIGHT, first=first)
    row = next(one for one in room(job).torque if one.of.key == "tag:1.hot1")
    assert row.wrong == wrong and row.missing == ("second pass", "mark")
    found = [one for one in plan(job).findings if one.id.startswith("day.torque")]
    assert bool(found) is bool(wrong) and all(one.severity == "FIX" for one in found)
    with pytest.raises(ModelError, match="no torque of a panel"):
        tightened(job, "tag:1.hot1", EIGHT, first=5000.0)


@pytest.mark.parametrize(
    ("calibrated", "sentence"),
    [("2026-03-01", ""), ("2025-12-08", ""), ("2025-11-30", "more than a year before"), ("", "not known"), ("2027-01-01", "after the day"),
     ("spring", "no date")],
)  # fmt: skip
def test_a_tool_a_year_old_or_unknown_is_asked_about(calibrated, sentence):
    """On December 8, 2026."""
    found = [one for one in plan(with_tool(small(), calibrated=calibrated)).findings if one.id == "day.tool"]
    assert [sentence in one.text for one in found] == ([True] if sentence else [])
    undated = plan(with_part(small(), "day", date=""))
    assert not any(one.id == "day.tool" for one in undated.findings), "nobody asks before the day has a date"


def test_the_log_is_complete_only_with_both_passes_the_marks_and_the_factory_joints():
    job = tight(small())
    assert all(one.done for one in room(job).torque) and plan(job).entry("day.torque_done").amount == len(
        room(job).torque
    )
    for key, values in (
        ("tag:1.hot1", {"second": None}),
        ("panel.factory.main", {"marked": False}),
        ("panel.main.A", {"marked": False}),
    ):
        item = next(
            one for one in hold_of(room(tightened(job, key, EIGHT, **values)), "energize").items if one.key == "torque"
        )
        assert not item.done and "1 of" in item.fault
    assert next(one for one in hold_of(room(job), "energize").items if one.key == "torque").done


# --- energizing ------------------------------------------------------------------------------------------------------
def ready() -> Job:
    """A day up to the last hold, everything right."""
    job = tight(passed(passed(small(), "dead"), "line_side"))
    return passed(good_volts(passed(passed(job, "covered"), "energize")), "voltages")


def test_breakers_go_on_one_by_one_after_the_voltages_and_in_the_order_of_the_schedule():
    keys = [one.branch.key for one in sequence(room(small()))]
    with pytest.raises(ModelError, match='before the hold "Proven dead" is passed'):
        switched(small(), room(small()), keys[0], "on", EIGHT)
    job = ready()
    spaces = [int(one.space) for one in sequence(room(job))]
    assert spaces == sorted(spaces)
    job = switched(job, room(job), keys[0], "on", EIGHT)
    one = next(one for one in sequence(room(job)) if one.branch.key == keys[0])
    assert not one.done and [check.key for check in one.left] == ["volts"]
    assert next(o for o in sequence(room(checked_off(job, keys[0], "volts"))) if o.branch.key == keys[0]).done
    with pytest.raises(ModelError, match="say why"):
        switched(job, room(job), keys[1], "off", EIGHT)


@pytest.mark.parametrize(
    ("reopens", "hold"),
    [
        (lambda job: ticked(job, "dead", "tester1_here", "121"), "Proven dead"),
        (lambda job: ticked(job, "line_side", "insulated", ""), "Line side made safe"),
        (lambda job: opened(job, "covered"), "Before conductors are covered"),
        (lambda job: ticked(job, "energize", "inside", ""), "Before energizing"),
        (lambda job: opened(job, "voltages"), "Voltages"),
        (lambda job: job, ""),
    ],
)
def test_no_breaker_goes_on_while_any_hold_is_open_now(reopens, hold):
    """Signed in the morning is not enough: one that has opened again keeps every breaker off, whichever it is."""
    job = reopens(ready())
    key = sequence(room(job))[0].branch.key
    found = in_the_way(room(job))
    assert (found.words if found else "") == hold
    if not hold:
        assert switched(job, room(job), key, "on", EIGHT).record.circuits[key].state == "on"
        return
    with pytest.raises(ModelError, match=f'before the hold "{hold}" is passed'):
        switched(job, room(job), key, "on", EIGHT)


@pytest.mark.parametrize(
    ("kind", "disconnect", "panel"),
    [("meter", "NEUTRAL GROUNDS THE CAN", "screw or strap IN"), ("service", "screw or strap IN", "screw or strap OUT")],
)
def test_hold_record_field_book_and_checklist_say_the_bond_of_the_drawing(kind, disconnect, panel):
    """A meter disconnect that is no service equipment is grounded by the neutral, as a meter socket is [250.142(A)]: nothing is isolated there."""
    job = with_part(small(), "scope", disconnect="new", disconnect_kind=kind)
    job = with_part(with_part(job, "existing", disconnect_at="outdoors"), "panel", first_disconnect=kind == "meter")
    made = plan(job)
    hold = {one.key: one.words for one in hold_of(made.changeover, "energize").items}
    book = next(one for one in book_data(made)["holds"] if one["id"] == "energize")
    sheets = [
        hold["bond.disconnect"], "; ".join(record_lines(made.changeover)), "; ".join(item["words"] for item in book["items"]),
        "; ".join(words for words, _cite in checklist.lines(made)),
    ]  # fmt: skip
    for words in sheets:
        assert disconnect in words
        assert kind == "service" or "OUT" not in words.partition("Disconnect")[2].partition(";")[0]
    assert panel in hold["bond.panel"]
    drawn = {node.key: node.bond for node in made.one_line}
    assert drawn["disconnect"] == ("supply" if kind == "meter" else "in") and drawn["panel"] == (
        "in" if kind == "meter" else "out"
    )
    cites = dict(checklist.lines(made))
    assert cites[next(words for words in cites if words.startswith("Disconnect:"))] == (
        "250.142(A)" if kind == "meter" else "250.24, 250.28"
    )


def test_a_circuit_that_is_on_before_its_polarity_is_right_is_a_finding():
    job = ready()
    keys = {one.branch.tag: one.branch.key for one in sequence(room(job))}
    on = {tag: switched(job, room(job), key, "on", EIGHT) for tag, key in keys.items()}
    found = {tag: [one.id for one in plan(made).findings if one.id.startswith("day.on:")] for tag, made in on.items()}
    assert found == {"1": [], "2": [f"day.on:{keys['2']}"]}
    right = checked_off(on["2"], keys["2"], "polarity")
    assert not any(one.id.startswith("day.on:") for one in plan(right).findings)


@pytest.mark.parametrize(
    ("reading", "good"),
    [
        ({"main_open": False}, True),
        ({"main_open": None}, False),  # in band with the main perhaps open: it may be fed from behind
        ({"main_open": False, "simulated": True}, False),
        ({"main_open": False, "leg_to_leg": 260.0}, False),
    ],
)
def test_only_a_real_reading_with_the_main_on_passes_the_panel(reading, good):
    values = {"leg_to_leg": 242.0, "a_to_neutral": 121.0, "b_to_neutral": 121.0, "neutral_to_ground": 0.1, **reading}
    job = measured(small(), Volts(point="panel", **values))
    assert next(one for one in hold_of(room(job), "voltages").items if one.key == "panel").done is good


def test_what_is_checked_follows_from_the_circuit():
    """A dark wire on the neutral bar: polarity first. A range: both poles. A bathroom with a GFCI breaker: its button. An unknown one: traced."""
    by_tag = {one.branch.tag: one for one in sequence(room(small()))}
    assert "polarity right at its outlets" in by_tag["2"].keeps_off and not by_tag["1"].keeps_off
    demo = sequence(room(DEMO))
    for one in demo:
        keys = {check.key for check in one.checks}
        assert ("button" in keys) is one.branch.device.electronic
        assert ("halves" in keys) is (one.branch.poles == 2 and one.branch.uses_neutral)
    unknown = called_out(small(), "3 20 12 ?")
    assert any("traced" in {c.key for c in one.checks} for one in sequence(room(unknown)))


def test_a_name_that_was_traced_goes_to_the_directory():
    job = called_out(small(), "3 20 12 ?")
    key = next(one.branch.key for one in sequence(room(job)) if "3" in one.branch.tag)
    named = traced(job, 3, key, "basement stairs light")
    branch = plan(named).branch(str(key))
    assert branch.directory_text == "basement stairs light" and Mark.UNKNOWN not in named.circuit(3).marks
    assert "traced" in named.record.circuits[key].checks
    with pytest.raises(ModelError, match="what it feeds"):
        traced(job, 3, key, " ")


# --- the whole of it -------------------------------------------------------------------------------------------------
def test_the_command_tells_how_the_day_stands(capsys, tmp_path):
    path = tmp_path / "day.ledger.json"
    write_job(small(), path)
    assert main(["record", str(path)]) == 1
    out = capsys.readouterr().out
    assert "Proven dead: open" in out and "0 of" in out and "Voltages: none measured" in out
    job = ready()
    for one in sequence(room(job)):
        job = switched(job, room(job), one.branch.key, "on", EIGHT)
        for check in one.checks:
            job = checked_off(job, one.branch.key, check.key)
    assert is_over(room(job))
    write_job(job, path)
    assert main(["record", str(path), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert (
        told == json.loads(json.dumps(record_data(room(job))))
        and told["over"]
        and {one["state"] for one in told["holds"]} == {"signed"}
    )


def test_what_a_day_took_is_learned_and_few_days_are_drawn_to_the_catalogue(tmp_path, capsys):
    """Photographs: usually 5 minutes. One day of 15 counts a fifth: 5 + (15 − 5) / 5 = 7; twelve days three quarters: 12.5."""
    kind = catalogue().kinds["photographs"]
    assert (
        blended(kind, ()) == kind.minutes
        and blended(kind, (15.0,))[1] == pytest.approx(7)
        and blended(kind, (15.0,) * 12)[1] == pytest.approx(12.5)
    )
    job = note(note(small(), "start", 0, "photographs"), "done", 15, "photographs")
    job = note(job, "done", 40, "material")
    assert durations(room(job)) == {"photographs": 15}, "what has no beginning teaches nothing"
    own = gathered([durations(room(job)), {"photographs": 9.0}])
    assert own == {"photographs": (15, 9)}
    learned = with_part(small(), "day", own_minutes=own)
    task = next(one for one in room(learned).tasks if one.id == "photographs")
    assert task.minutes[1] == pytest.approx(5 + (12 - 5) * 2 / 6) and "2 of your own days" in str(task.entry.steps)
    past, now = tmp_path / "past.ledger.json", tmp_path / "now.ledger.json"
    write_job(job, past)
    write_job(small(), now)
    assert main(["day", str(now), "--learn", str(past), "--json"]) == 0
    tasks = {one["id"]: one for one in json.loads(capsys.readouterr().out)["tasks"]}
    assert tasks["photographs"]["end_min"] - tasks["photographs"]["start_min"] == 7


def test_four_hundred_circuits_have_a_day_too():
    lines = [f"{n} 20 12 outlets {n}" for n in range(1, 21)]
    job = called_out(house(1500), *lines)
    many = replace(job, circuits=tuple(replace(job.circuits[n % 20], tag=n + 1) for n in range(400)))
    many = with_part(many, "scope", service="kept", panel_place="same")
    made = room(many).schedule()
    assert made.day.proven and made.day.end_min > 24 * 60, "it ends after midnight, and that is told"
    moved = task_changed(many, "cables_in", minutes=(100.0, 120.0, 140.0))
    assert room(moved).schedule().day.dark_min < made.day.dark_min
