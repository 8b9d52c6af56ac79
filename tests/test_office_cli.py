"""The commands about all jobs: book, profile, new with profiles."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from robust_ledger.cli import main
from robust_ledger.job.edits import with_part
from robust_ledger.job.files import read_job, write_job
from robust_ledger.job.job import blank_job

EXAMPLES = Path(__file__).parents[1] / "examples"
TITLES = {"Marrow Lane 8", "Quarry Rise 21", "Tansy Court 3"}


@pytest.fixture(autouse=True)
def own_home(tmp_path, monkeypatch):
    monkeypatch.setenv("ROBUST_LEDGER_HOME", str(tmp_path / "home"))


def run(capsys, *words):
    code = main([str(word) for word in words])
    out = capsys.readouterr()
    return code, out.out, out.err


def test_the_book_lists_searches_and_answers_with_its_exit_code(capsys, tmp_path):
    code, out, err = run(capsys, "book", EXAMPLES)
    assert code == 0 and not err and {line.split(":")[0] for line in out.splitlines()} == TITLES
    code, out, _ = run(capsys, "book", EXAMPLES, "quillf", "sauna")
    assert code == 0 and out.splitlines()[0].startswith(
        "Marrow Lane 8: panel and service: 2026-12-08, planned, 1 STOP, R."
    )
    assert "sauna" in out.splitlines()[1]
    assert run(capsys, "book", EXAMPLES, "zebra") == (1, "", "")
    assert run(capsys, "book", EXAMPLES, "--stands", "done")[0] == 1
    rows = json.loads(run(capsys, "book", EXAMPLES, "--open", "--json")[1])
    assert [(row["title"], row["stop"]) for row in rows] == [("Marrow Lane 8: panel and service", 1)]
    code, out, err = run(capsys, "book", tmp_path / "none")
    assert code == 2 and not out and err == f"The folder of jobs {tmp_path / 'none'} is not there.\n"


def test_the_book_tells_what_comes_up_again(capsys, tmp_path):
    (tmp_path / "jobs").mkdir()
    demo = read_job(EXAMPLES / "marrow-lane.ledger.json")
    for name in ("a", "b"):
        write_job(demo, tmp_path / "jobs" / f"{name}.ledger.json")
    lines = run(capsys, "book", tmp_path / "jobs", "--tells")[1].splitlines()
    assert lines[0] == "2 jobs: 2 planned. No hours are recorded yet." and lines[1].split(maxsplit=2)[:2] == [
        "2",
        "jobs",
    ]
    assert json.loads(run(capsys, "book", tmp_path / "jobs", "--tells", "--json")[1])["stands"] == {"planned": 2}


def test_profiles_are_kept_shown_listed_and_put_into_a_job(capsys, tmp_path):
    job = tmp_path / "a.ledger.json"
    write_job(with_part(blank_job(), "utility", name="Valley", meter_low_in=48.0), job)
    assert run(capsys, "profile", "keep", job, "utility", "Valley", "--new-jobs")[:2] == (
        0,
        'Kept: utility profile "Valley".\n',
    )
    assert run(capsys, "profile", "list")[:2] == (0, "utility: Valley   (new jobs)\n")
    assert "meter low: 48 in" in run(capsys, "profile", "show", "utility", "Valley")[1]
    new = tmp_path / "new.ledger.json"
    assert run(capsys, "new", new)[0] == 0 and read_job(new).utility.meter_low_in == 48
    blank = tmp_path / "blank.ledger.json"
    assert run(capsys, "new", blank, "--blank")[0] == 0 and read_job(blank) == blank_job()
    write_job(with_part(read_job(job), "utility", meter_low_in=54.0), job)
    run(capsys, "profile", "keep", job, "utility", "Valley")
    code, out, _ = run(capsys, "profile", "put", new, "utility", "Valley")
    assert code == 0 and "utility: meter low: 48 in → 54 in" in out and read_job(new).utility.meter_low_in == 54
    named = tmp_path / "named.ledger.json"
    assert run(capsys, "new", named, "--profile", "utility:Valley")[0] == 0 and len(read_job(named).profiles) == 1


@pytest.mark.parametrize(
    ("words", "sentence"),
    [
        (("profile", "show", "utility", "Hills"), 'There is no utility profile "Hills".'),
        (("new", "x", "--profile", "utility:Hills"), 'There is no utility profile "Hills"; nothing was written.'),
        (("profile", "keep", EXAMPLES / "marrow-lane.ledger.json", "utility", " "), "A profile needs a name."),
        (("profile", "keep", "none.ledger.json", "utility", "x"), "none.ledger.json cannot be read: no such file or directory."),
    ],
)  # fmt: skip
def test_what_cannot_be_done_is_one_sentence(capsys, words, sentence, tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    assert run(capsys, *words) == (2, "", f"{sentence}\n")


def test_a_file_that_is_no_profile_is_told_and_the_others_are_listed(capsys, tmp_path):
    write_job(with_part(blank_job(), "utility", name="Valley"), tmp_path / "a.ledger.json")
    run(capsys, "profile", "keep", tmp_path / "a.ledger.json", "utility", "Valley")
    (tmp_path / "home" / "profiles" / "utility-x.ledger-profile.json").write_text("{")
    code, out, err = run(capsys, "profile", "list")
    assert (code, out) == (1, "utility: Valley\n") and err.startswith(
        "utility-x.ledger-profile.json is damaged at line 1"
    )
