"""What-if columns and what to do where it is too much, worked by hand and by properties."""

from __future__ import annotations

import pytest
from builders import K, called_out, house, load
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.job.edits import change_future, remove_circuits, remove_loads
from robust_ledger.job.job import Job
from robust_ledger.job.parts.futures import Future
from robust_ledger.load.converter import continuous_check, convert
from robust_ledger.plan import plan

RANGE = load(K.COOKING, "12kW", "range")
TUB = load(K.APPLIANCE, "6kW", "tub", when="added")
CHARGER = load(K.EV_CHARGER, "48A@240", "charger", when="later")


def column(job: Job, key: str):
    return next(c for c in plan(job).what_if.columns if c.key == key)


def test_today_after_and_with_the_charger():
    """Block 21,000 → 14,400 VA = 60 A; with the tub 27,000 → 16,800 = 70 A; with the charger 38,520 → 21,408 = 89 A."""
    job = house(1500, RANGE, TUB, CHARGER, old_panel={"meter_label_a": 100}, panel={"bus_a": 200})
    columns = plan(job).what_if.columns
    assert [(c.title, c.load.value, c.amperes.value) for c in columns] == [
        ("Today", 14_400, 60),
        ("After this job", 16_800, 70),
        ("With charger", pytest.approx(21_408), 89),
    ]
    assert [c.room[100].value for c in columns] == [40, 30, 11] and [c.link_room.value for c in columns] == [40, 30, 11]
    assert [c.spaces.value for c in columns] == [0, 2, 4], "the range there is has no circuit in this job"
    assert all(not c.answers for c in columns)


def test_what_goes_with_this_job_is_there_today():
    """The old heater of 4.5 kW: today 9,000 + 4,500 = 13,500 → 11,400 VA; afterwards 9,000 VA."""
    job = house(1500, load(K.WATER_HEATER, "4.5kW", "old heater", when="removed"))
    assert [c.load.value for c in plan(job).what_if.columns] == [11_400, 9000]


def test_a_future_adds_removes_replaces_and_enlarges():
    """Range 12,000 goes, range 16,000 comes; 500 ft² × 3 and one small-appliance circuit: block 9,000 + 3,000 + 16,000
    = 28,000 → 10,000 + 7,200 = 17,200 VA; two circuits more."""
    future = {"id": "kitchen", "name": "kitchen", "load_ids": ["new-range"], "removes": ["range"], "area": 500,
              "small_appliance_circuits": 1, "circuits": [{"name": "island"}, {"name": "welder", "poles": 2}]}  # fmt: skip
    job = house(1500, RANGE, load(K.COOKING, "16kW", "new range", when="later"), futures=[future])
    it = column(job, "future.kitchen")
    assert (it.load.value, it.amperes.value) == (17_200, 72)
    assert it.spaces.value == 2 + 1 + 2
    assert [c.key for c in plan(job).what_if.columns] == ["today", "after", "future.kitchen"], (
        "a load of a future has no column of its own"
    )


def test_a_future_keeps_spaces_free_or_not():
    job = house(
        1500, CHARGER, futures=[{"id": "f", "name": "f", "load_ids": ["charger"], "circuits": [{"name": "island"}]}]
    )
    reserved = {b.key for b in plan(job).circuits.branches}
    assert reserved == {"load:charger", "future:f.1"}
    assert plan(job).bench.spaces_left.value == 40 - 3
    assert not plan(change_future(job, "f", reserve=False)).circuits.branches
    other = replace(
        change_future(job, "f", reserve=False),
        futures=(
            *change_future(job, "f", reserve=False).futures,
            Future(id="g", name="g", load_ids=("charger",)),
        ),
    )
    assert {b.key for b in plan(other).circuits.branches} == {"load:charger"}, "one future that reserves is enough"


def test_a_future_frees_circuits():
    """Two circuits of three poles; the 2-pole one goes with the future. A tag that is taken out leaves the future."""
    job = called_out(house(1500), "1 20 12 kitchen counter", "2,4 30/2 10 old dryer")
    job = replace(job, futures=(Future(id="f", name="f", frees=(2,)),))
    assert [c.spaces.value for c in plan(job).what_if.columns] == [3, 3, 1]
    assert remove_circuits(job, {2}).futures[0].frees == ()


def test_taking_out_a_load_takes_it_out_of_the_futures():
    job = house(1500, RANGE, CHARGER, futures=[{"id": "f", "name": "f", "load_ids": ["charger"], "removes": ["range"]}])
    bare = remove_loads(job, {"charger", "range"})
    assert (bare.futures[0].load_ids, bare.futures[0].removes) == ((), ())


def test_columns_follow_the_method(demo):
    """By measured demand only what is new is added: 13,775 VA today, and 11,520 more with the charger."""
    job = replace(demo, decisions=replace(demo.decisions, load_method="measured"))
    columns = {c.key: c for c in plan(job).what_if.columns}
    assert columns["today"].load.value == pytest.approx(13_775)
    assert columns["future.charger"].load.value - columns["after"].load.value == pytest.approx(11_520)
    assert columns["after"].load.value == plan(job).load.chosen.total.value


# --- answers ----------------------------------------------------------------------------------------------------------
def test_the_set_point_that_keeps_a_100_ampere_meter():
    """Charger apart: 16,800 + 11,520 = 28,320 VA = 118 A. 100 A × 240 V − 16,800 = 7,200: as a charger of 30 A; the set point
    at 125% would be 24 A."""
    job = house(1500, RANGE, TUB, CHARGER, old_panel={"meter_label_a": 100}, decisions={"ev_practice": "added"})
    (answer,) = column(job, "future.load.charger").answers
    assert (answer.id, answer.value) == ("whatif.future.load.charger.setpoint.link", 30)


@given(
    st.integers(20, 80),
    st.integers(4, 14),
    st.sampled_from(["block", "added", "continuous"]),
    st.sampled_from([100, 125, 150]),
)
def test_a_set_point_that_is_answered_holds_and_one_more_ampere_does_not(charger_a, tub_kw, practice, meter_a):
    charger = load(K.EV_CHARGER, f"{charger_a}A@240", "charger", when="added")
    tub = load(K.APPLIANCE, f"{tub_kw}kW", "tub", when="added")
    job = house(2500, RANGE, tub, charger, old_panel={"meter_label_a": meter_a}, decisions={"ev_practice": practice})
    for answer in column(job, "after").answers:
        if not answer.known or not answer.id.endswith(".link"):
            continue
        held = next(s.text() for s in answer.steps if s.label == "held back").split(", ")
        loads = tuple(replace(x, managed=x.name in held) for x in job.loads)
        for more, fits in ((0, True), (1, False)):
            managed = replace(job, loads=loads, management=replace(job.management, setpoint_a=answer.amount + more))
            assert (plan(managed).load.chosen.total.amount <= meter_a * 240 + 1e-6) is fits


def test_before_2023_only_charging_can_be_held_back():
    job = house(
        1500, RANGE, load(K.APPLIANCE, "30kW", "kiln", when="added"), old_panel={"meter_label_a": 100}, edition="2020"
    )
    (answer,) = column(job, "after").answers
    assert not answer.known and "lets only vehicle charging" in answer.why_unknown
    (now,) = column(replace(job, edition="2023"), "after").answers
    assert now.known


def test_above_200_amperes_the_service_is_split(demo):
    flat = column(demo, "future.flat")
    assert flat.amperes.value == 214
    split = next(a for a in flat.answers if a.id.endswith(".split"))
    steps = {s.label: s for s in split.steps}
    assert (
        split.value == "175 A + 200 A" and steps["panel 1: load"].amount <= 200 and steps["panel 2: load"].amount <= 200
    )
    named = (steps["panel 1"].text() + ", " + steps["panel 2"].text()).removeprefix("general load, ").split(", ")
    here = [x.name for x in flat.job.loads if x.when in ("existing", "added")]
    assert sorted(named) == sorted(here), "every load is in one panel"
    assert any(a.id.endswith(".setpoint.200") for a in flat.answers)


def test_a_house_no_two_panels_hold():
    kilns = [load(K.APPLIANCE, "90kW", f"kiln {n}", when="added") for n in range(3)]
    split = next(a for a in column(house(1500, *kilns), "after").answers if a.id.endswith(".split"))
    assert not split.known and "no division" in split.why_unknown


def test_an_unknown_load_makes_its_columns_unknown(demo):
    unread = replace(demo.load("charger"), nameplate=replace(demo.load("charger").nameplate, amount=None))
    job = replace(demo, loads=tuple(unread if x.id == "charger" else x for x in demo.loads))
    columns = {c.key: c for c in plan(job).what_if.columns}
    assert columns["after"].amperes.known and not columns["future.charger"].amperes.known
    assert "vehicle charger" in columns["future.charger"].load.why_unknown and not columns["future.charger"].answers


# --- converter --------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("given_", "answer"),
    [((240, 30, None), "7,200 VA"), ((240, None, 7200), "30 A"), ((None, 30, 7200), "240 V"), ((240, 30, 7200), "?"), ((0, 5, None), "?")],
)  # fmt: skip
def test_volts_times_amperes(given_, answer):
    assert convert(*given_).text() == answer


@pytest.mark.parametrize(
    ("amperes", "breaker", "rating", "words"),
    [(16, 20, 20, "is good for it"), (16.1, 20, 25, "is not good for it"), (48, 60, 60, "is good for it")],
)
def test_the_80_percent_check(amperes, breaker, rating, words, codebook):
    entry = continuous_check(amperes, breaker, codebook)
    assert entry.value == rating and words in [s.text() for s in entry.steps]
