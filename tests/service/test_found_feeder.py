"""What stays with a feeder beside its hots: neutral, EGC and the GEC of a building, each as read against what is needed there."""

from __future__ import annotations

import pytest
from builders import finding_ids, house, sub_panel

from robust_ledger.installation.model import Change
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.plan import plan

THERE = {
    "found": True, "there": True, "conductors": "4 Al", "wires": 4, "found_neutral": "4 Al", "found_ground": "8 Al", "found_gec": "8 Cu",
    "breaker_a": 60.0, "load_a": 40.0, "rods": 2, "disconnect": True, "length_ft": 80.0, "box.spaces": 12, "box.bus_a": 100.0,
    "box.terminals_c": 75,
}  # fmt: skip


def job(**sub) -> Job:
    made = with_part(with_part(house(1500), "decisions", main_a=200.0), "panel", terminals_c=75)
    return sub_panel(made, **{**THERE, **sub})


@pytest.mark.parametrize(
    ("changes", "found"),
    [
        # 60 A: EGC 10 Cu or 8 Al; 40 A on the neutral: 8 Al carries 40 A and is no smaller than the EGC; 4 Al hots: GEC 8 Cu or 6 Al.
        ({}, set()),
        ({"found_ground": "10 Cu"}, set()),
        ({"found_ground": "12 Cu"}, {"feeder.sub.ground_small"}),
        ({"found_ground": "10 Al"}, {"feeder.sub.ground_small"}),
        ({"found_ground": "12 Cu", "breaker_a": 20.0, "load_a": 10.0}, set()),  # 20 A: 12 Cu
        ({"found_neutral": "8 Al"}, set()),
        ({"found_neutral": "10 Al"}, {"feeder.sub.neutral_small"}),
        ({"found_neutral": "10 Cu"}, {"feeder.sub.neutral_small"}),  # carries 35 of the 40 A
        ({"found_neutral": "8 Cu"}, set()),
        ({"found_gec": "10 Cu"}, {"feeder.sub.gec_small"}),
        ({"found_gec": "8 Al"}, {"feeder.sub.gec_small"}),
        ({"found_gec": "6 Al"}, set()),
        ({"found_gec": "10 Cu", "separate_building": False}, set()),
        ({"found_gec": "10 Cu", "found": False, "there": False}, set()),  # then it comes new
        ({"found_ground": ""}, {"feeder.sub.found_unread"}),
        ({"found_ground": "", "wires": 3, "metal_path": False, "box.first_disconnect": True}, set()),  # none is there
        ({"found_neutral": "", "found_gec": ""}, {"feeder.sub.found_unread"}),
        ({"found_neutral": "", "conductors": ""}, {"feeder.sub.conductors"}),  # the hots are asked for first
    ],
)  # fmt: skip
def test_each_is_judged_once_it_is_read_and_asked_for_until_then(changes, found):
    ids = {one for one in finding_ids(plan(job(**changes))) if one.startswith("feeder.")}
    assert ids == found


def test_the_question_names_what_was_not_read():
    (asked,) = [one for one in plan(job(found_ground="", found_gec="")).findings if one.id == "feeder.sub.found_unread"]
    assert asked.title == "Garage: EGC and GEC not read" and asked.severity == "ASK"


@pytest.mark.parametrize(("ground", "shown"), [("8 Al", "8 Al"), ("6 Cu", "6 Cu"), ("", "?")])
def test_what_stays_is_shown_as_it_was_read_and_never_as_worked_out(ground, shown):
    """The one installation that all papers read: conductors that stay keep their own size, and none that nobody has read has one."""
    made = plan(job(found_ground=ground))
    run = next(run for run in made.installation.wired if run.end == "sub")
    own = next(one for one in run.conductors if one.name == "G")
    assert own.change is Change.KEPT and own.size.text().startswith(shown)
    assert made.entries["feeder.sub.egc"].known, "what is needed is told beside it"


def test_the_gec_of_a_building_that_stays_is_that_which_is_there():
    run = next(run for run in plan(job(found_gec="6 Cu")).installation.earth if run.key == "gec.sub")
    assert str(run.conductors[0].size.value) == "6 Cu"
    new = next(run for run in plan(job(found=False, there=False)).installation.earth if run.key == "gec.sub")
    assert "8 Cu in conduit" in str(new.conductors[0].size.value) and new.change is Change.NEW
