"""The job book: what is found by which words, how jobs stand, what they tell together; damaged jobs, other clocks, a broken index."""

from __future__ import annotations

import json
import os
import sqlite3
import threading
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.job.edits import with_part
from robust_ledger.job.files import job_text, read_job, write_job
from robust_ledger.job.job import blank_job
from robust_ledger.job.parts.record import Event
from robust_ledger.jobbook import book as book_module
from robust_ledger.jobbook.book import BookError, job_files, keep_in_step, put_file
from robust_ledger.jobbook.digest import COLUMNS, Digest, date_words, digest_file, digest_of
from robust_ledger.jobbook.index import Index
from robust_ledger.ledger.progress import CanceledError
from robust_ledger.plan import plan

EXAMPLES = Path(__file__).parents[2] / "examples"
DEMO = read_job(EXAMPLES / "marrow-lane.ledger.json")


def titled(name, job=DEMO, **heading):
    return with_part(job, "heading", title=name, **heading)


@pytest.fixture
def folder(tmp_path):
    made = tmp_path / "jobs"
    (made / "2025").mkdir(parents=True)
    write_job(titled("Alder Street", customer="Ruiz", address="9 Alder Street"), made / "alder.ledger.json")
    write_job(titled("Birch Court", customer="José Núñez"), made / "2025" / "birch.ledger.json")
    small = read_job(EXAMPLES / "tansy-court.ledger.json")
    write_job(titled("Cedar Way", small, customer="Ito"), made / "2025" / "cedar.ledger.json")
    return made


@pytest.fixture
def index(tmp_path):
    made = Index(tmp_path / "home" / "book.sqlite")
    yield made
    made.close()


def titles(index, *asked, **how):
    return [hit.title for hit in index.search(*asked, **how).hits]


def test_jobs_are_found_by_who_where_marks_findings_circuits_and_dates(folder, index):
    assert keep_in_step(index, folder).words == "3 jobs"
    assert titles(index, "ruiz") == ["Alder Street"] and titles(index, "nunez") == ["Birch Court"]
    assert titles(index, "ALD str") == ["Alder Street"], "each word by its beginning"
    assert titles(index, "street ruiz sauna") == ["Alder Street"], "words from several places"
    assert set(titles(index, "sauna")) == {"Alder Street", "Birch Court"}
    assert set(titles(index, "dec 8")) == {"Alder Street", "Birch Court"} == set(titles(index, "2026-12-08"))
    defect = DEMO.defects[0].what.split()[0]
    assert set(titles(index, defect)) >= {"Alder Street", "Birch Court"}
    hit = next(hit for hit in index.search("sauna").hits if hit.title == "Alder Street")
    assert hit.found[0] in ("findings", "circuits") and "sauna" in hit.found[1].lower()
    assert index.search("ruiz").hits[0].found == ("", ""), "what is shown anyway needs no second line"
    assert titles(index, "zebra") == [] and titles(index, '"; DROP TABLE job --') == []
    assert index.search("").count == 3 and index.file.stat().st_mode & 0o077 == 0


def test_a_file_that_changed_is_read_again_by_whatever_clock_and_one_that_is_gone_is_forgotten(folder, index):
    keep_in_step(index, folder)
    path = folder / "alder.ledger.json"
    assert keep_in_step(index, folder).read == 0
    before = os.stat(path)
    write_job(titled("Zinnia Street"), path)
    os.utime(path, ns=(before.st_atime_ns, before.st_mtime_ns - 3_600 * 10**9))  # written on a machine an hour behind
    assert keep_in_step(index, folder).read == 1 and titles(index, "zinnia") == ["Zinnia Street"]
    os.utime(path, ns=(before.st_atime_ns, before.st_mtime_ns + 3_600 * 10**9))
    assert keep_in_step(index, folder).read == 1
    path.unlink()
    assert keep_in_step(index, folder).gone == 1 and titles(index, "zinnia") == []


def test_damaged_jobs_are_in_the_book_with_the_reason(folder, index):
    (folder / "bad.ledger.json").write_text('{"format": "robust-led')
    (folder / "other.ledger.json").write_text("[]")
    (folder / "newer.ledger.json").write_text(json.dumps({"format": "robust-ledger-job", "version": 99}))
    os.mkfifo(folder / "pipe.ledger.json")
    (folder / "loop").symlink_to(folder)
    (folder / ".hidden").mkdir()
    write_job(DEMO, folder / ".hidden" / "x.ledger.json")
    made = keep_in_step(index, folder)
    assert made.words == "7 jobs, 4 of them damaged" and index.search("", "damaged").count == 4
    hit = index.search("bad").hits[0]
    assert (hit.stands, hit.fault) == (
        "damaged",
        "bad.ledger.json is damaged at line 1, column 12: unterminated string starting at.",
    )


def test_many_jobs_are_read_by_other_processes_and_can_be_stopped(folder, index, monkeypatch):
    monkeypatch.setattr(book_module, "MANY", 2)
    parts: list[float] = []
    with pytest.raises(CanceledError):
        keep_in_step(index, folder, progress=lambda part: parts.append(part) or False)
    assert parts == [pytest.approx(1 / 3)] and index.search("").count == 1, "what was read until then stays"
    assert keep_in_step(index, folder).jobs == 3 and index.search("").count == 3


def test_of_a_thousand_jobs_fifty_are_damaged(tmp_path, index):
    folder = tmp_path / "many"
    folder.mkdir()
    text = job_text(blank_job())
    for number in range(1000):
        bad = text[: 40 + number % 300] if number % 20 == 7 else text.replace("New job", f"Job {number}")
        (folder / f"{number}.ledger.json").write_text(bad)
    assert keep_in_step(index, folder).words == "1,000 jobs, 50 of them damaged"
    assert titles(index, "977") == ["Job 977"] and index.search("", "planned").count == 950
    answer = index.search("job")
    assert answer.count == 950 and len(answer.hits) == 100


def test_a_full_disk_is_a_sentence_and_the_jobs_are_untouched(folder, index):
    index.base.execute("PRAGMA max_page_count = 40")
    for number in range(60):
        write_job(titled(f"Street {number}"), folder / f"{number}.ledger.json")
    with pytest.raises(
        BookError, match=r"could not be written: database or disk is full\. The jobs themselves are untouched\.$"
    ):
        keep_in_step(index, folder)
    assert read_job(folder / "alder.ledger.json").heading.title == "Alder Street"


def test_a_folder_that_is_gone_or_a_file_is_told_and_what_was_known_stays(folder, index, tmp_path):
    keep_in_step(index, folder)
    away = folder.rename(tmp_path / "away")
    with pytest.raises(BookError, match=r"is not there; what the book knew of it is still shown\.$"):
        keep_in_step(index, folder)
    folder.write_text("a file")
    with pytest.raises(BookError, match=r"cannot be read: not a directory; what the book knew"):
        keep_in_step(index, folder)
    assert index.search("").count == 3
    outside = away / "alder.ledger.json"
    assert keep_in_step(index, None, [outside, tmp_path / "gone.ledger.json"]).jobs == 1, (
        "recent jobs of elsewhere are in it too"
    )


@pytest.mark.parametrize("what", ["damaged", "torn", "newer", "other tables"])
def test_an_index_that_is_damaged_or_of_another_version_is_made_anew(what, folder, tmp_path):
    file = tmp_path / "book.sqlite"
    first = Index(file)
    keep_in_step(first, folder)
    first.close()
    if what == "damaged":
        file.write_bytes(b"rubbish" * 4000)
    elif what == "torn":
        file.write_bytes(file.read_bytes()[:5000])
    elif what == "newer":
        with sqlite3.connect(file) as base:
            base.execute("PRAGMA user_version = 99")
    else:
        file.unlink()
        with sqlite3.connect(file) as base:
            base.execute("CREATE TABLE job (x)")
    again = Index(file)
    assert again.fault == "" and keep_in_step(again, folder).read == 3 and titles(again, "ruiz") == ["Alder Street"]
    again.close()


def test_where_no_index_can_be_written_it_is_in_memory_and_that_is_said(folder, tmp_path):
    (tmp_path / "full").write_text("a file where a folder would be")
    made = Index(tmp_path / "full" / "book.sqlite")
    assert made.fault.endswith("It is made anew at each start.") and keep_in_step(made, folder).jobs == 3
    made.close()


def test_an_index_in_memory_is_used_by_the_window_and_two_readers_at_once(folder, tmp_path):
    """One connection for three threads: each has its turn, and what is written is whole."""
    (tmp_path / "nowhere").write_text("")
    index = Index(tmp_path / "nowhere" / "book.sqlite")
    known = digest_file(str(folder / "alder.ledger.json"))
    faults = []

    def put(start):
        try:
            for number in range(start, start + 60):
                book_module._put(index, [replace(known, path=f"{number}", title=f"Job {number}")])
        except sqlite3.Error as problem:
            faults.append(problem)

    readers = [threading.Thread(target=put, args=(start,)) for start in (0, 1000)]
    for one in readers:
        one.start()
    while any(one.is_alive() for one in readers):
        assert index.search("alder").count <= 120 and index.tells().recorded >= 0
    assert faults == [] and index.search("").count == 120 and index.fault
    index.begin_anew()
    assert index.search("").count == 0


def test_a_name_of_any_bytes_can_be_in_the_book(folder, index):
    path = os.path.join(os.fsencode(folder), b"r\xff\xfe.ledger.json")
    with open(path, "wb") as file:
        file.write((folder / "alder.ledger.json").read_bytes())
    keep_in_step(index, folder)
    assert keep_in_step(index, folder).read == 0 and os.fsdecode(path) in {hit.path for hit in index.search("").hits}


# --- how jobs stand -----------------------------------------------------------------------------------------------------
def event(kind, task, minute, **more):
    at = datetime(2026, 12, 8, 8, 0, tzinfo=UTC) + timedelta(minutes=minute)
    return Event(at=at.isoformat(), kind=kind, task=task, **more)


def with_events(*events):
    return replace(DEMO, record=DEMO.record.changed(events=tuple(events)))


def tasks_of_ours():
    return [one.id for one in plan(DEMO).changeover.tasks if one.who == "us"]


@pytest.mark.parametrize(
    ("job", "stands"),
    [
        (DEMO, "planned"),
        (with_part(DEMO, "heading", stands="done"), "done"),
        (with_events(event("start", "retorque", 0)), "in_work"),
        (with_events(event("start", "retorque", 0), event("done", "retorque", 20)), "in_work"),
        (with_events(*(event("done", task, 5 * n) for n, task in enumerate(tasks_of_ours()))), "done"),
        (with_events(*(event("done", task, 5 * n) for n, task in enumerate(tasks_of_ours()[:-1]))), "in_work"),
        (with_events(event("done", "inspection", 400, who="inspector")), "inspected"),
    ],
)
def test_how_a_job_stands_follows_from_its_record_unless_the_user_says(job, stands):
    assert digest_of(job, "x", (0, 0)).stands == stands


def test_hours_are_those_of_our_own_people_by_the_record():
    """Two tasks of 90 and 30 minutes; the utility's half hour is none of ours."""
    ours = [one for one in plan(DEMO).changeover.tasks if one.who == "us" and one.people == 1][:2]
    utility = next(one for one in plan(DEMO).changeover.tasks if one.who == "utility")
    job = with_events(
        event("start", ours[0].id, 0),
        event("done", ours[0].id, 90),
        event("start", ours[1].id, 100),
        event("done", ours[1].id, 130),
        event("start", utility.id, 140, who="utility"),
        event("done", utility.id, 170, who="utility"),
    )
    made = digest_of(job, "x", (0, 0))
    assert made.hours == 2.0 and digest_of(DEMO, "x", (0, 0)).hours is None
    assert dict(made.minutes)[ours[0].id] == pytest.approx(90 / ours[0].times)


def test_the_jobs_tell_recurring_defects_own_minutes_and_hours(index):
    with index.together():
        for number, (defects, minutes, hours) in enumerate(
            [
                (("open splice", "double tap"), (("retorque", 10.0),), 7.5),
                (("open splice",), (("retorque", 14.0),), 8.5),
                ((), (), None),
            ]
        ):
            index.put(
                Digest(
                    f"/{number}",
                    (number, 1),
                    "t",
                    "done",
                    day=f"2026-01-0{number + 1}",
                    defects=defects,
                    minutes=minutes,
                    hours=hours,
                )
            )
    made = index.tells()
    assert made.defects == (("open splice", 2), ("double tap", 1)) and made.minutes == {"retorque": (14.0, 10.0)}
    assert (made.hours, made.recorded, made.stands) == (16.0, 2, {"done": 3})


def test_today_comes_first_then_the_last_changed(index):
    with index.together():
        for number, day in enumerate(["2026-11-28", "2026-12-08", "2026-11-01"]):
            index.put(Digest(f"/{number}", (number, 1), day, "planned", day=day, fix=number))
    assert titles(index, "", today="2026-11-28") == ["2026-11-28", "2026-11-01", "2026-12-08"]
    assert titles(index, "", "done") == [] and titles(index, "", open_only=True) == ["2026-11-01", "2026-12-08"]


def test_a_date_is_found_as_it_is_said():
    assert (
        date_words("2026-12-08") == "2026-12-08 Dec December 8 Tuesday 2026" and date_words("next week") == "next week"
    )


ASKED = ["al", "ald", "R", "rui", "sauna", "2"]
WORDS = ["alder", "aldergate", "Ruiz", "sauna", "ruin", "22", "2026"]


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.lists(st.sampled_from(WORDS), max_size=4), max_size=6),
    st.lists(st.sampled_from(ASKED), max_size=3),
)
def test_a_search_finds_exactly_the_jobs_that_have_every_word_by_its_beginning(jobs, asked):
    made = Index(Path("/dev/null/no"))
    with made.together():
        for number, words in enumerate(jobs):
            columns = tuple(" ".join(words[n :: len(COLUMNS)]) for n in range(len(COLUMNS)))
            made.put(Digest(str(number), (0, 0), "t", "planned", words=columns))
    found = {hit.path for hit in made.search(" ".join(asked)).hits}
    having = {
        str(n)
        for n, words in enumerate(jobs)
        if all(any(w.lower().startswith(a.lower()) for w in words) for a in asked)
    }
    assert found == having
    made.close()


def test_a_saved_job_is_put_in_alone(folder, index):
    put_file(index, folder / "alder.ledger.json")
    assert titles(index, "") == ["Alder Street"] and len(job_files(folder)) == 3
    assert digest_file(str(folder / "none.ledger.json")).stands == "damaged"
