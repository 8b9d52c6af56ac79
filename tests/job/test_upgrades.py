"""Jobs of earlier formats are read whole: nothing is lost, only called as it is called now."""

from __future__ import annotations

import json

import pytest

from robust_ledger.job.files import JobFileError, job_text, parse_job
from robust_ledger.job.job import VERSION
from robust_ledger.job.upgrades import ANSWERS, UPGRADES
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
    assert (read.panel.aic_a, read.unknown["sub_panel"]["aic_a"]) == (10000, 22000)
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


THIRD = {
    "format": "robust-ledger-job",
    "version": 3,
    "scope": "outside_disconnect",
    "loads": [
        {"id": "range", "name": "range", "kind": "cooking", "uses_neutral": False, "is_motor": False},
        {"id": "tub", "name": "hot tub", "uses_neutral": True, "is_motor": True},
    ],
    "chain": {"underground": True, "drop_a": 150.0, "riser_conductors": "2 Cu", "load_conductors": "4 Cu", "disconnect_a": 125.0,
              "disconnect_inside": True, "replaced": ["riser", "disconnect"]},
    "service_run": {"raceway": "rmc", "trade_size": "1-1/4", "utility_fault_a": 6500.0, "length_ft": 30.0, "insulation": "THWN-2"},
    "old_panel": {"spaces": 16, "main_a": 125.0, "meter_label_a": 150.0},
    "fit": {"meter_in": 60.0, "meter_low_in": 48.0, "meter_high_in": 72.0},
    "location": {"damp": True},
    "sub_panel": {"breaker_a": 60.0, "wires": 3, "insulated": False},
    "measured": {"source": "x.csv", "renewable": False},
    "equipment": {"spd": True, "inverter_opposite": True},
    "decisions": {"conductor_rule": "full"},
}  # fmt: skip


def test_a_file_of_the_third_version_keeps_all_it_says():
    """What was found is a part of its own, a kind of job is answers, and what nobody has said is said by nobody."""
    read = parse_job(json.dumps(THIRD), "old.ledger.json")
    there = read.existing
    assert (there.underground, there.drop_a, there.riser_conductors, there.load_conductors) == (
        True,
        150,
        "2 Cu",
        "4 Cu",
    )
    assert (there.disconnect_a, there.disconnect_at, there.raceway, there.trade_size) == (
        125,
        "indoors",
        "rmc",
        "1-1/4",
    )
    assert (there.utility_fault_a, there.meter_label_a, read.old_panel.main_a, read.old_panel.spaces) == (
        6500,
        150,
        125,
        16,
    )
    assert (read.service_run.length_ft, read.service_run.insulation, read.service_run.raceway) == (30, "THWN-2", "")
    assert (read.utility.meter_low_in, read.utility.meter_high_in, read.fit.meter_in) == (48, 72, 60)
    assert (read.scope.service, read.scope.disconnect, read.scope.renews) == ("kept", "new", ("riser",))
    assert [(load.uses_neutral, load.is_motor) for load in read.loads] == [(None, None), (True, True)]
    assert read.location.wet and read.location.damp, "damp stood for wet too: the careful side"
    assert (read.panels[0].found, read.panels[0].wires, read.panels[0].insulated) == (True, 3, None)
    assert read.measured.renewable is None and read.equipment.inverter_opposite is None
    assert read.decisions.conductor_rule == "strict", "the whole rating as it was meant"
    assert parse_job(job_text(read), "new.ledger.json") == read


@pytest.mark.parametrize("kind", list(ANSWERS))
def test_every_kind_of_job_becomes_answers(kind):
    read = parse_job(json.dumps({"format": "robust-ledger-job", "version": 3, "scope": kind}), "old.ledger.json")
    assert read.scope.said is (kind != "unsaid") and read.scope.split is (kind == "split")
    assert read.scope.keeps_service is (kind not in ("unsaid", "upgrade", "split"))
    assert (read.scope.old_boxes == "several") is (kind == "merged")
    assert (read.scope.panel_place == "moved") is (kind == "relocated")
    assert bool(read.panels) is (kind == "sub_panel") and read.disconnect_ahead is (kind == "outside_disconnect")


def test_a_kind_nobody_knows_is_refused_with_its_place():
    with pytest.raises(JobFileError, match="scope"):
        parse_job(json.dumps({"format": "robust-ledger-job", "version": 3, "scope": "demolition"}), "old.ledger.json")


@pytest.mark.parametrize("chain", [None, 7, [], {"replaced": 3}, {"replaced": [1, None, "riser"]}, {"drop_a": "x"}])
def test_an_old_file_with_nonsense_in_it_is_read_or_refused_in_a_sentence(chain):
    data = {
        "format": "robust-ledger-job",
        "version": 3,
        "chain": chain,
        "fit": chain,
        "service_run": chain,
        "old_panel": chain,
    }
    try:
        parse_job(json.dumps(data), "old.ledger.json")
    except JobFileError as problem:
        assert str(problem) and "\n" not in str(problem)


AHEAD_6 = {"disconnect_a": 100.0, "disconnect_at": "outdoors", "insulation_c": 75, "feeder_conductors": "2 Cu", "feeder_wires": 4,
           "feeder_wiring": "ser"}  # fmt: skip
RUN_6 = {"length_ft": 40.0, "inside_ft": 12.0, "ambient_c": 45.0, "rooftop": True, "sets": 2, "current_carrying": 4}


@pytest.mark.parametrize(
    ("parts", "feed"),
    [
        # Found and kept behind a disconnect: it lay, for the sizes, where the service conductors lie.
        ({"existing": AHEAD_6, "service_run": RUN_6}, {"conductors": "2 Cu", "wires": 4, "found_wiring": "ser", "insulation_c": 75,
         "length_ft": 12.0, "ambient_c": 45.0, "rooftop": True, "sets": 2, "current_carrying": 4}),
        # From the meter it is the service's own conductors: nothing of them is copied.
        ({"service_run": RUN_6 | {"inside_ft": None}}, {}),
        ({"decisions": {"main_fed_from": "pole", "inside_fed_by": "breaker", "inside_breaker_a": 125.0}, "service_run": {"rooftop": True}},
         {"fed_from": "pole", "fed_by": "breaker", "breaker_a": 125.0, "rooftop": True}),
        # Of the main of a split service and the breaker in a meter-main the one in use; one that was not said stays unsaid.
        ({"scope": {"service": "split"}, "decisions": {"split_main_a": 200.0, "inside_breaker_a": 125.0}}, {"breaker_a": 200.0}),
        ({"decisions": {"split_main_a": 200.0, "inside_fed_by": "breaker"}}, {"fed_by": "breaker"}),
        ({"existing": 7, "decisions": [], "service_run": None}, None),
    ],
)  # fmt: skip
def test_what_was_said_of_the_main_panels_feeder_is_a_record_of_its_own(parts, feed):
    after = UPGRADES[6]({"version": 6, **parts})
    assert after.get("main_feed", {}) == (feed or {}) and after["version"] == 7
    if feed is not None:
        read = parse_job(json.dumps({"format": "robust-ledger-job", "version": 6, **parts}), "old.ledger.json")
        assert {name: getattr(read.main_feed, name) for name in feed} == feed
        assert not any((read.unknown, read.existing.unknown, read.decisions.unknown, read.service_run.unknown))


def test_what_was_accepted_and_tightened_of_it_is_found_again():
    rows = {"disconnect.load.A": {"first": 250.0}, "meter.load.A": {"first": 275.0}, "panel.main.A": {"first": 250.0}}
    accepted = {
        "inside.small": "seen",
        "service.feeder_wires": "seen",
        "inside.later:sauna": "seen",
        "service.bus": "seen",
    }
    old = {
        "format": "robust-ledger-job",
        "version": 6,
        "decisions": {"accepted": accepted},
        "record": {"torque": {"rows": rows}},
    }
    read = parse_job(json.dumps(old), "old.ledger.json")
    assert set(read.record.torque.rows) == {"disconnect.lugs.panel.A", "meter.load.A", "panel.main.A"}
    assert set(read.decisions.accepted) == {
        "feeder.panel.load",
        "feeder.panel.wires",
        "feeder.panel.later:sauna",
        "service.bus",
    }
