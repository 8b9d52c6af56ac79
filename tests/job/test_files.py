"""The job file: what is written reads back, and bad files are refused in one sentence without harm."""

from __future__ import annotations

import json
import os
from pathlib import Path

import jsonschema
import pytest
from builders import K, called_out, circuit, house, load
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.job.edits import (
    accept_finding,
    add_load,
    change_load,
    link_load,
    new_load_id,
    place,
    remove_circuits,
    remove_loads,
    with_part,
)
from robust_ledger.job.files import JobFileError, job_text, parse_job, read_job, write_job
from robust_ledger.job.job import VERSION, Job, blank_job
from robust_ledger.job.schema import job_schema
from robust_ledger.plan import plan

ROOT = Path(__file__).parents[2]
EXAMPLES = sorted((ROOT / "examples").glob("*.ledger.json"))


@pytest.mark.parametrize("path", EXAMPLES, ids=lambda p: p.stem)
def test_examples_read_back_and_hold_to_the_published_schema(path):
    job = read_job(path)
    assert parse_job(job_text(job), "again") == job
    assert path.read_text() == job_text(job), "an example is written as the desk would write it"
    schema = json.loads((ROOT / "docs" / "job-format.schema.json").read_text())
    jsonschema.validate(json.loads(path.read_text()), schema)
    assert schema == job_schema(), "run make schema"


def test_a_blank_job_is_a_job():
    assert blank_job() == Job()
    assert plan(blank_job()).service.main.value is None


TEXTS = st.text(st.characters(codec="utf-8"), max_size=30)


@given(
    TEXTS, TEXTS, st.one_of(st.none(), st.floats(-1e6, 1e6)), st.dictionaries(st.text(max_size=8), TEXTS, max_size=3)
)
def test_any_job_survives_writing_and_reading(title, notes, area, unknown):
    extra = {f"x-{key}": value for key, value in unknown.items()}
    job = Job.read({"heading": {"title": title[:200], "notes": notes, **extra}, "dwelling": {"area": area}, **extra})
    again = parse_job(job_text(job), "again")
    assert again == job
    assert {key: again.unknown[key] for key in extra} == extra, "fields of another version are kept"


def test_unknown_fields_survive_an_edit():
    job = parse_job('{"format": "robust-ledger-job", "version": 1, "panel": {"color": "gray"}, "later": [1]}', "x")
    edited = with_part(job, "panel", spaces=30)
    assert edited.panel.unknown == {"color": "gray"} and '"later": [' in job_text(edited)


HEAD = '"format": "robust-ledger-job", "version": 1'


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("", "is damaged at line 1"),
        (f"{{{HEAD}, ", "is damaged at line 1"),
        ("[]", "is not a Robust Ledger job."),
        ('{"format": "other"}', "is not a Robust Ledger job."),
        ('{"format": "robust-ledger-job"}', "does not say which version"),
        ('{"format": "robust-ledger-job", "version": true}', "does not say which version"),
        (
            '{"format": "robust-ledger-job", "version": 99}',
            "was written by a newer version of Robust Ledger (format 99); nothing was changed.",
        ),
        (f'{{{HEAD}, "dwelling": {{"area": NaN}}}}', "NaN is not a number that a job can hold"),
        (f'{{{HEAD}, "dwelling": {{"area": Infinity}}}}', "Infinity is not a number"),
        (f'{{{HEAD}, "dwelling": {{"area": 1e999}}}}', "dwelling, area: a number that is finite is expected here"),
        (
            f'{{{HEAD}, "dwelling": {{"area": "big"}}}}',
            "dwelling, area: a number or nothing is expected here, not text.",
        ),
        (f'{{{HEAD}, "loads": [{{"id": "a", "name": "a"}}, {{"name": "b"}}]}}', "loads, entry 2: id is missing"),
        (
            f'{{{HEAD}, "circuits": [{{"tag": 1, "metal": "tin"}}]}}',
            'circuits, entry 1, metal: "tin" is none of cu, al, cca.',
        ),
        (
            f'{{{HEAD}, "loads": [{{"id": "a", "name": "a", "kind": "lamp"}}]}}',
            'kind: "lamp" is none of cooking, cooking_unit, ',
        ),
        (f'{{{HEAD}, "heading": {{"title": "{"x" * 201}"}}}}', "heading, title: has more than 200 letters."),
        (f'{{{HEAD}, "panel": {{"bends_in": [1, 2]}}}}', "panel, bends in: has not 3 entries."),
        (f'{{{HEAD}, "decisions": {{"wishes": {{"old_order": 4}}}}}}', "decisions, wishes, old order: is more than 3."),
        (
            f'{{{HEAD}, "decisions": {{"circuits": {{"tag:1": {{"into": "a"}}}}}}}}',
            "decisions, circuits, one of them, into: a whole number",
        ),
        (f'{{{HEAD}, "loads": 3}}', "loads: a list is expected here, not a whole number."),
        (f'{{{HEAD}, "edition": "1999"}}', "edition: "),
        (f'{{{HEAD}, "panel": {{}}, "panel": {{}}}}', '"panel" is given twice'),
        (f'{{{HEAD}, "circuits": [{{"tag": 4}}, {{"tag": 4}}]}}', 'the job: tag "4" is given twice.'),
        (
            f'{{{HEAD}, "loads": [{{"id": "a", "name": "b"}}, {{"id": "a", "name": "c"}}]}}',
            'the job: load id "a" is given twice.',
        ),
        ("[" * 100_000, "nested too deeply"),
    ],
)
def test_a_bad_file_is_one_sentence_with_its_place(text, sentence, tmp_path):
    path = tmp_path / "bad.ledger.json"
    path.write_text(text)
    with pytest.raises(JobFileError) as problem:
        read_job(path)
    message = str(problem.value)
    assert sentence in message and message.startswith("bad.ledger.json") and message.endswith(".")
    assert "\n" not in message and "Traceback" not in message
    assert path.read_text() == text, "the file is left as it was"


def test_files_that_are_no_text_or_not_there(tmp_path):
    binary = tmp_path / "photo.ledger.json"
    binary.write_bytes(b"\x89PNG\xff\xfe")
    with pytest.raises(JobFileError, match="not a text file in UTF-8"):
        read_job(binary)
    with pytest.raises(JobFileError, match="cannot be read: no such file"):
        read_job(tmp_path / "none.ledger.json")
    with pytest.raises(JobFileError, match="cannot be read: is a directory"):
        read_job(tmp_path)


def test_a_job_from_another_editor_with_a_byte_order_mark_opens(tmp_path):
    path = tmp_path / "bom.ledger.json"
    path.write_text("\ufeff" + job_text(Job()), encoding="utf-8")
    assert read_job(path) == Job()


def test_saving_keeps_the_version_before_and_leaves_no_crumbs(tmp_path):
    path = tmp_path / "job.ledger.json"
    write_job(house(1000), path)
    write_job(house(2000), path)
    assert read_job(path).dwelling.area == 2000
    assert parse_job((tmp_path / "job.ledger.json~").read_text(), "before").dwelling.area == 1000
    assert sorted(p.name for p in tmp_path.iterdir()) == ["job.ledger.json", "job.ledger.json~"]


def test_a_failed_save_says_where_and_harms_nothing(tmp_path, monkeypatch):
    path = tmp_path / "job.ledger.json"
    write_job(house(1000), path)
    with pytest.raises(JobFileError, match=r"could not be saved in .*: no such file or directory"):
        write_job(house(2000), tmp_path / "gone" / "job.ledger.json")

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(JobFileError, match="no space left on device"):
        write_job(house(2000), path)
    assert read_job(path).dwelling.area == 1000
    assert [p.name for p in tmp_path.iterdir()] == ["job.ledger.json"]


def test_control_characters_do_not_reach_the_sheet():
    assert Job.read({"heading": {"title": "a\x00b\x07c"}}).heading.title == "abc"


def test_taking_out_circuits_and_loads_takes_what_points_to_them():
    job = called_out(house(1500, load(K.DRYER, "5kW", "dryer")), "1 20 12 one", "3 20 12 two mw 1", "5,7 30/2 10 dryer")
    job = place(job, {"tag:1": "1", "tag:2": "3", "load:dryer": "5"})
    without = remove_circuits(job, {1})
    assert without.circuit(2).shares_neutral_with is None and without.decisions.placements == {
        "tag:2": "3",
        "load:dryer": "5",
    }
    bare = remove_loads(job, {"dryer"})
    assert bare.circuit(3).load_ids == () and "load:dryer" not in bare.decisions.placements
    assert link_load(job, "dryer", 1).circuit(3).load_ids == ()
    assert link_load(job, "dryer", 1).circuit(1).load_ids == ("dryer",)


def test_load_ids_are_made_of_names_and_never_repeat():
    job = house(1500, load(K.DRYER, "5kW", "Dryer"))
    assert new_load_id(job, "Sauna heater!") == "sauna-heater"
    assert new_load_id(job, "dryer") == "dryer-2"
    assert new_load_id(job, "???") == "load"
    job = add_load(job, replace(load(K.DRYER, "5kW", "Dryer"), id="dryer-2"))
    assert new_load_id(job, "dryer") == "dryer-3"
    assert change_load(job, "dryer-2", room="attic").load("dryer").room == ""


def test_a_finding_accepted_with_a_reason_is_no_longer_open_and_can_be_taken_back():
    job = house(1500, circuits=(circuit(gauge="14"),))
    accepted = accept_finding(job, "branch.wire_on_breaker:tag:1", "  checked with the inspector ")
    finding = next(f for f in plan(accepted).findings if f.id == "branch.wire_on_breaker:tag:1")
    assert (finding.accepted, finding.open) == ("checked with the inspector", False)
    assert accept_finding(accepted, finding.id, " ").decisions.accepted == {}


@pytest.mark.parametrize(("was", "now"), [("general", "block"), ("added", "added")])
def test_a_file_of_the_first_version_is_read(demo, was, now):
    """Version 1 had the practice of vehicle charging as a choice of the optional method; nothing else is touched."""
    data = json.loads(job_text(demo))
    del data["decisions"]["ev_practice"]
    data["version"], data["decisions"]["ev_in_optional"] = 1, was
    read = parse_job(json.dumps(data), "old.ledger.json")
    assert read.version == VERSION and read.decisions.ev_practice == now and "ev_in_optional" not in job_text(read)
    assert [one.nameplate for one in read.loads] == [one.nameplate for one in demo.loads]
    assert read.futures == demo.futures and read.existing == demo.existing
    data["decisions"] = "lost"
    with pytest.raises(JobFileError, match="decisions"):
        parse_job(json.dumps(data), "old.ledger.json")
