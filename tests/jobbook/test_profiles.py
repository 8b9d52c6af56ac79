"""Profiles: kept, read back, started from; the job keeps its copy, tells when one has moved on, and takes over what it has not changed itself."""

from __future__ import annotations

import json
import os
from pathlib import Path

import pytest
from builders import called_out, house
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.job.edits import with_part
from robust_ledger.job.files import job_text, parse_job, read_job
from robust_ledger.job.job import blank_job
from robust_ledger.job.parts.local import LocalRule
from robust_ledger.job.parts.utility import FaultRow
from robust_ledger.jobbook.profile_store import ProfileStore
from robust_ledger.jobbook.profiles import (
    KINDS,
    Profile,
    ProfileError,
    differs,
    into,
    kind_specs,
    moved_on,
    profile_of,
    profile_text,
    read_profile,
    refreshed,
)
from robust_ledger.plan import plan

DEMO = read_job(Path(__file__).parents[2] / "examples" / "marrow-lane.ledger.json")
VALLEY = Profile(
    "utility",
    "Valley",
    {"utility": {"name": "Valley", "meter_low_in": 48.0, "meter_high_in": 72.0, "guy_above_in": 30.0}},
)


def stored(tmp_path, *profiles):
    profile_store = ProfileStore(tmp_path)
    for one in profiles:
        profile_store.keep(one)
    return profile_store


@pytest.mark.parametrize("kind", KINDS)
def test_a_profile_of_the_demo_is_read_back_and_makes_the_same_fields(kind):
    """Whatever a job has of a kind, another job made from its profile has too, and nothing else of it."""
    made = read_profile(profile_text(profile_of(DEMO, kind, "ours")), "file")
    after = into(blank_job(), made)
    assert differs(DEMO, made) == [] and differs(after, profile_of(DEMO, kind, "ours")) == []
    assert after.heading.title == blank_job().heading.title and after.circuits == () and after.loads == ()
    assert [one.name for one in after.profiles] == ["ours"] and parse_job(job_text(after), "x") == after


def test_every_field_of_every_kind_is_one_that_a_job_has_and_of_one_kind_only():
    ways = [field for spec in kind_specs().values() for field in spec.fields]
    assert len(set(ways)) == len(ways)
    for way in ways:
        at = blank_job()
        for part in way.split("."):
            at = getattr(at, part)


def test_what_a_profile_does_not_say_it_leaves_alone():
    before = with_part(blank_job(), "utility", mast_least="2-1/2", guy_above_in=20.0)
    after = into(before, VALLEY).utility
    assert (after.name, after.guy_above_in, after.mast_least) == ("Valley", 30.0, "2-1/2")


def test_a_job_tells_what_its_profile_says_otherwise_today_and_takes_over_what_it_did_not_change_itself():
    """The job has its own meter height; the utility has since changed that, its mast, and the height for a guy."""
    job = with_part(into(blank_job(), VALLEY), "utility", meter_low_in=54.0)
    assert moved_on(job, VALLEY) == [], "what the job changed itself is no news of the profile"
    now = replace(
        VALLEY,
        says={"utility": {**VALLEY.says["utility"], "meter_low_in": 50.0, "guy_above_in": 26.0, "mast_least": "2-1/2"}},
    )
    assert moved_on(job, now) == [
        "utility: meter low: 48 in → 50 in",
        "utility: mast least: 2 → 2-1/2",
        "utility: guy above: 30 in → 26 in",
    ]
    made = refreshed(job, now)
    assert (made.job.utility.meter_low_in, made.job.utility.guy_above_in, made.job.utility.mast_least) == (
        54.0,
        26.0,
        "2-1/2",
    )
    assert made.kept == ("stays as this job has it: utility: meter low: 50 in → 54 in",) and len(made.taken) == 2
    assert moved_on(made.job, now) == [], "it is told once"
    assert moved_on(job, replace(now, name="Hills")) == [], "another utility's profile is none of this job's"


def test_tables_are_taken_over_line_by_line():
    """Prices: one raised by the profile, one by the job's own hand, one gone, one new."""
    was = Profile("prices", "p", {"stock": {"prices": {"clamps": 4.0, "rods": 18.0, "spd": 90.0}}})
    job = into(blank_job(), was)
    job = with_part(job, "stock", prices={**job.stock.prices, "rods": 25.0})
    now = replace(was, says={"stock": {"prices": {"clamps": 5.0, "rods": 19.0, "fillers": 1.0}}})
    made = refreshed(job, now)
    assert made.job.stock.prices == {"clamps": 5.0, "rods": 25.0, "fillers": 1.0} and made.kept
    amended = into(blank_job(), Profile("jurisdiction", "j", {"local_rules": [{"key": "rod_spacing", "value": 72.0}]}))
    own = replace(amended, local_rules=(*amended.local_rules, LocalRule(key="mine", value=1.0)))
    newer = Profile("jurisdiction", "j", {"local_rules": [{"key": "rod_spacing", "value": 96.0}]})
    assert {one.key: one.value for one in refreshed(own, newer).job.local_rules} == {"rod_spacing": 96.0, "mine": 1.0}


def test_the_shelf_keeps_what_new_jobs_start_from(tmp_path):
    company = Profile("company", "Ours", {"heading": {"company": "Brae Electric", "license": "E-1"}})
    profile_store = stored(tmp_path, VALLEY, company)
    assert profile_store.new_job() == blank_job(), "nothing chosen, nothing taken"
    profile_store.choose("utility", "Valley")
    profile_store.choose("company", "Ours")
    job = ProfileStore(tmp_path).new_job()
    assert (job.heading.company, job.utility.meter_high_in) == ("Brae Electric", 72.0)
    assert [one.kind for one in job.profiles] == ["company", "utility"]
    assert profile_store.new_job({"utility": "Valley"}).heading.company == ""
    profile_store.keep(replace(VALLEY, says={"utility": {"name": "Valley", "meter_low_in": 40.0}}))
    assert len(profile_store.all().profiles) == 2, "one of a name is kept in its place"
    assert [words for _one, words in profile_store.moved(job)] == [
        [
            "utility: meter low: 48 in → 40 in",
            "utility: meter high: 72 in → nothing",
            "utility: guy above: 30 in → 26 in",
        ]
    ]
    profile_store.remove(company)
    assert ProfileStore(tmp_path).new_job().heading.company == "" and profile_store.chosen()["company"] == "Ours"


def test_unknown_keys_are_kept_in_the_file_and_told(tmp_path):
    text = json.dumps(
        {"format": "robust-ledger-profile", "version": 1, "kind": "utility", "name": "V", "color": "teal",
         "says": {"utility": {"name": "V", "fax": "none"}, "loads": [], "day": {"utility_from": "8:00 am", "promise": "5:00 pm"}}}
    )  # fmt: skip
    made = read_profile(text, "v.json")
    assert made.left == (
        "loads is no part of a utility profile: it is kept in the file, and not taken",
        "day.promise is no part of a utility profile: it is kept in the file, and not taken",
    )
    job = into(blank_job(), made)
    assert (job.day.utility_from, job.day.promise) == ("8:00 am", "")
    profile_store = ProfileStore(tmp_path)
    profile_store.keep(made)
    profile_store.keep(profile_of(with_part(job, "utility", meter_low_in=60.0), "utility", "V"))
    kept = json.loads(next(profile_store.root.glob("utility-*")).read_text())
    assert (
        kept["color"] == "teal"
        and kept["says"]["day"]["promise"] == "5:00 pm"
        and kept["says"]["utility"]["meter_low_in"] == 60
    )


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ({"format": "x"}, "f is not a profile of Robust Ledger."),
        ({"version": 9}, "f was written by a newer version of Robust Ledger; it was left as it is."),
        ({"job_format": 99}, "f was written by a newer version of Robust Ledger; it was left as it is."),
        ({"version": True}, "f does not say which version of a profile it is."),
        ({"kind": "loads"}, "f is of no kind of profile: one of company, jurisdiction, utility, stock, prices."),
        ({"name": "  "}, "f has no name of its own, a line of up to 120 letters."),
        ({"says": []}, "f says nothing."),
        ({"says": {"utility": {"meter_low_in": "high"}}}, "f: utility, meter low in: a number or nothing is expected here, not text."),
        ({"says": {"utility": 7}}, "f: utility: an object is expected here, not a whole number."),
        ({"kind": "jurisdiction", "says": {"edition": "1066"}}, "f: edition: "),
    ],
)  # fmt: skip
def test_what_is_no_profile_is_refused_in_a_sentence_and_left_on_the_disk(change, sentence, tmp_path):
    data = {"format": "robust-ledger-profile", "version": 1, "kind": "utility", "name": "V", "says": {}, **change}
    with pytest.raises(ProfileError) as refused:
        read_profile(json.dumps(data), "f")
    assert str(refused.value).startswith(sentence)
    profile_store = stored(tmp_path, VALLEY)
    bad = profile_store.root / "utility-f.ledger-profile.json"
    bad.write_text(json.dumps(data))
    found = profile_store.all()
    assert len(found.profiles) == 1 and len(found.faults) == 1 and bad.exists()


@given(st.text(max_size=200) | st.binary(max_size=200).map(lambda data: data.decode("latin-1")))
def test_no_text_breaks_the_reader(text):
    with pytest.raises(ProfileError):
        read_profile(text, "it")


def test_a_shelf_that_cannot_be_written_says_so_in_a_sentence(tmp_path):
    (tmp_path / "profiles").write_text("a file where the folder would be")
    profile_store = ProfileStore(tmp_path)
    for act in (lambda: profile_store.keep(VALLEY), lambda: profile_store.choose("utility", "Valley")):
        with pytest.raises(ProfileError, match=r"could not be kept: (file exists|not a directory)\.$"):
            act()
    assert profile_store.new_job() == blank_job() and len(profile_store.all().faults) == 1


def test_a_profile_of_an_older_job_format_is_brought_up_to_date():
    """Format 1 and 2 had other names: the same upgrades that jobs go through."""
    old = {"format": "robust-ledger-profile", "version": 1, "kind": "jurisdiction", "name": "J", "job_format": 2,
           "says": {"decisions": {"ev_school": "added"}}}  # fmt: skip
    assert read_profile(json.dumps(old), "f").job.decisions.ev_practice == "added"


def test_utilities_kept_by_an_earlier_version_become_profiles_once(tmp_path):
    old = tmp_path / "utilities.json"
    old.write_text(
        json.dumps({"format": "robust-ledger-utilities", "utilities": [{"name": "Valley", "free_in": 48.0}]})
    )
    profile_store = ProfileStore(tmp_path)
    assert [(one.name, one.job.utility.free_in) for one in profile_store.all().profiles] == [("Valley", 48.0)]
    assert not old.exists() and os.path.exists(f"{old}~") and len(profile_store.all().profiles) == 1
    old.write_text("not json")
    assert len(profile_store.all().profiles) == 1 and old.exists(), "what cannot be taken over stays"


TABLE = (FaultRow(up_to_a=400.0, fault_a=22_000.0), FaultRow(up_to_a=200.0, fault_a=10_000.0))


@pytest.mark.parametrize(
    ("main_a", "existing", "table", "fault_a"),
    [
        (200.0, {}, TABLE, 10_000.0),
        (225.0, {}, TABLE, 22_000.0),
        (600.0, {}, TABLE, None),
        (200.0, {"utility_fault_a": 14_000.0}, TABLE, 14_000.0),
        (200.0, {"transformer_kva": 25.0, "transformer_percent_z": 2.0}, TABLE, 25_000 / 240 / 0.02),
        (200.0, {"transformer_kva": 25.0}, TABLE, None),
        (200.0, {}, (), None),
    ],
)
def test_the_utilitys_table_stands_in_where_the_job_has_no_figure_of_its_own(main_a, existing, table, fault_a):
    job = with_part(called_out(house(1500), "1 20 12 hall"), "decisions", main_a=main_a)
    job = with_part(with_part(job, "utility", fault_table=table), "existing", **existing)
    entry = plan(job).entries["service.fault_source"]
    assert entry.value == pytest.approx(fault_a) if fault_a is not None else not entry.known and entry.why_unknown
