"""Jobs of earlier formats are read whole: nothing is lost, only called as it is called now."""

from __future__ import annotations

import json

import pytest

from robust_ledger.job.files import job_text, parse_job
from robust_ledger.job.job import VERSION
from robust_ledger.plan import plan

OLD = {
    "format": "robust-ledger-job",
    "version": 2,
    "heading": {"title": "old", "licence": "EL-1", "own": "kept"},
    "earth": {"school": "measured", "rods": 1, "rod_ohms": 40, "conductor": "6 Cu", "conductor_new": False, "unspliced": True},
    "overhead": {"head_ft": 14},
    "equipment": {"surge": True, "surge_at": "disconnect", "surge_a": 20},
    "panel": {"interrupting_a": 10000},
    "sub_panel": {"interrupting_a": 22000},
    "circuits": [{"tag": 1, "cable": "armoured"}, {"tag": 2, "cable": "armoured_strip"}, {"tag": 3, "cable": "nm"}],
    "defects": [{"id": "d", "what": "clamp loose", "part": "earth"}],
    "decisions": {
        "ev_school": "added",
        "outlet_school": "ten",
        "placements": {"equip:surge": "3", "tag:1": "5"},
        "pins": ["equip:surge"],
        "accepted": {"earth.conductor_unknown": "seen", "earth.spacing": "ok", "branch.armour:tag:1": "new cable", "load.area": "later"},
    },
}  # fmt: skip


def test_a_file_of_the_second_version_is_read_in_todays_words():
    read = parse_job(json.dumps(OLD), "old.ledger.json")
    assert read.version == VERSION and read.heading.license == "EL-1"
    assert (read.grounding.practice, read.grounding.gec, read.grounding.gec_new) == ("measured", "6 Cu", False)
    assert read.overhead.weatherhead_ft == 14
    assert (read.equipment.spd, read.equipment.spd_at, read.equipment.spd_a) == (True, "disconnect", 20)
    assert (read.panel.aic_a, read.sub_panel.aic_a) == (10000, 22000)
    assert [circuit.cable for circuit in read.circuits] == ["bx", "ac", "nm"]
    assert read.defects[0].part == "grounding"
    assert (read.decisions.ev_practice, read.decisions.outlet_practice) == ("added", "ten")
    assert read.decisions.placements == {"equip:spd": "3", "tag:1": "5"} and read.decisions.pins == ("equip:spd",)
    assert set(read.decisions.accepted) == {
        "grounding.gec_unknown",
        "grounding.spacing",
        "branch.armor:tag:1",
        "load.area",
    }


def test_fields_nobody_knows_pass_through_the_upgrade():
    assert json.loads(job_text(parse_job(json.dumps(OLD), "old")))["heading"]["own"] == "kept"


def test_what_was_accepted_in_an_old_file_is_still_accepted():
    """Every finding of a job that has many is accepted under its old name and stays so."""
    job = parse_job(json.dumps({**OLD, "scope": "upgrade"}), "old")
    ids = {finding.id for finding in plan(job).findings}
    assert {"branch.armor:tag:1", "service.spd"} & ids
    old_id = "branch.armour:tag:1"
    again = parse_job(
        json.dumps({**OLD, "scope": "upgrade", "decisions": {"accepted": {old_id: "new cable is planned"}}}), "old"
    )
    finding = next(one for one in plan(again).findings if one.id == "branch.armor:tag:1")
    assert finding.accepted == "new cable is planned" and not finding.open


@pytest.mark.parametrize("broken", [{"earth": "lost"}, {"circuits": "none"}, {"decisions": []}, {"defects": [7]}])
def test_an_old_file_that_is_damaged_is_refused_in_one_sentence(broken):
    with pytest.raises(Exception, match=r"^old: ") as problem:
        parse_job(json.dumps({**OLD, **broken}), "old")
    assert "\n" not in str(problem.value)
