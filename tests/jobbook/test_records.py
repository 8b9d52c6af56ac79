"""Lock, versions, differences, the file on the disk, and the trail of a run."""

from __future__ import annotations

import fcntl
import gzip
import json
import os
import time
from datetime import datetime, timedelta
from itertools import pairwise
from pathlib import Path

import pytest
from builders import K, circuit, house, load
from msgspec.structs import replace

from robust_ledger.job.edits import (
    accept_finding,
    add_circuit,
    add_load,
    change_circuit,
    change_load,
    remove_circuits,
    with_part,
)
from robust_ledger.job.files import JobFileError, read_job, write_job
from robust_ledger.jobbook import lock as locks
from robust_ledger.jobbook.differences import differences, summary
from robust_ledger.jobbook.disk import OnDisk
from robust_ledger.jobbook.history import History, Version, thinned
from robust_ledger.jobbook.lock import JobLock, lock_file
from robust_ledger.jobbook.runs import Run, ended


@pytest.fixture
def path(tmp_path):
    made = tmp_path / "job.ledger.json"
    write_job(house(1500), made)
    return made


# --- the lock ---------------------------------------------------------------------------------------------------------
def test_one_writes_and_the_other_is_told_who(path):
    mine, other = JobLock(path), JobLock(path)
    assert mine.take() is None and mine.is_ours
    holder = other.take()
    assert holder is not None and holder.id == mine.me.id and holder.host in holder.words and not other.is_ours
    mine.release()
    assert not lock_file(path).exists() and other.take() is None and other.is_ours
    other.release()


def test_a_lock_taken_over_is_seen_by_the_one_that_had_it(path):
    mine, other = JobLock(path), JobLock(path)
    mine.take()
    assert other.take(over=other.holder()) is None and other.is_ours and not mine.is_ours
    mine.release()
    assert lock_file(path).exists() and mine.holder().id == other.me.id, "letting go does not take the other's away"
    other.release()


@pytest.mark.parametrize(
    ("host", "age_s", "words"),
    [
        ("elsewhere", 5, "anna on elsewhere since 2026-11-28 07:10"),
        ("elsewhere", 500, "anna on elsewhere since 2026-11-28 07:10, not heard of for 8 min by this machine's clock"),
        (
            "elsewhere",
            3600,
            "anna on elsewhere since 2026-11-28 07:10, not heard of for 60 min by this machine's clock",
        ),
        ("elsewhere", -3600, "anna on elsewhere since 2026-11-28 07:10"),
        ("", 5, ""),
    ],
)
def test_a_lock_of_another_machine_is_left_to_the_user_whatever_the_clocks_say(path, host, age_s, words):
    """Touched an hour ago or in an hour: the other clock may be an hour apart. One of this machine whose run has ended does not count,
    however fresh it is."""
    mine = JobLock(path)
    lock_file(path).write_text(
        json.dumps({"who": "anna", "host": host or mine.me.host, "since": "2026-11-28T07:10", "id": "other"})
    )
    os.utime(lock_file(path), (time.time() - age_s,) * 2)
    holder = mine.take()
    assert (holder.words if holder is not None else "") == words and mine.is_ours == (not words)
    assert mine.take(over=holder) is None and mine.is_ours, "with consent it is taken over"
    mine.release()


@pytest.mark.parametrize("rubbish", [b"", b"{", b"[]", b'{"who": 1}', b"\xff\xfe"])
def test_a_damaged_lock_is_none(path, rubbish):
    lock_file(path).write_bytes(rubbish)
    mine = JobLock(path)
    assert mine.take() is None and mine.is_ours
    mine.release()


def test_the_lock_of_a_link_is_that_of_its_file_and_long_names_have_one(path, tmp_path):
    link = tmp_path / "link.ledger.json"
    link.symlink_to(path)
    assert lock_file(link) == lock_file(path)
    long = tmp_path / ("x" * 240 + ".json")
    mine = JobLock(long)
    assert mine.take() is None and mine.is_ours
    mine.beat()
    mine.release()


def test_a_user_without_a_name_has_a_lock_too(path, monkeypatch):
    monkeypatch.setattr(locks.pwd, "getpwuid", lambda _uid: (_ for _ in ()).throw(KeyError("uid")))
    assert JobLock(path).me.words.startswith("somebody on ")


# --- the file on the disk ---------------------------------------------------------------------------------------------
def test_a_file_changed_by_another_is_noticed_once_and_a_touched_one_is_not(path):
    known = OnDisk.of(path)
    assert not known.is_other(path)
    os.utime(path, (1, 1))
    assert not known.is_other(path), "touched, the same in it"
    write_job(house(2000), path)
    assert known.has_news(path) and not known.has_news(path) and known.is_other(path)
    path.unlink()
    assert not known.is_other(path), "one that is gone is brought back by saving"


# --- versions ---------------------------------------------------------------------------------------------------------
def test_saves_are_kept_as_versions_and_read_back(path, tmp_path):
    history, start = History(tmp_path / "history"), datetime(2026, 11, 28, 8)
    for hour, area in enumerate((1500, 1600, 1600, 1700)):
        assert history.keep(path, house(area), now=start + timedelta(hours=hour)) == ""
    versions = history.versions(path)
    assert [history.job(one).dwelling.area for one in versions] == [1700, 1600, 1500], "the same twice is one"
    assert history.keep(path, house(1700), "theirs", start + timedelta(hours=9)) == ""
    assert history.versions(path)[0].words == "2026-11-28 17:00:00, theirs"
    assert history.versions(tmp_path / "another.ledger.json") == []


def test_a_damaged_version_is_one_sentence(path, tmp_path):
    history = History(tmp_path / "history")
    history.keep(path, house(1500))
    (one,) = history.versions(path)
    one.file.write_bytes(one.file.read_bytes()[:20])
    with pytest.raises(JobFileError, match="is damaged"):
        history.job(one)


def test_versions_that_cannot_be_kept_are_said(path, tmp_path):
    (tmp_path / "history").write_text("a file")
    assert "could not be kept" in History(tmp_path / "history").keep(path, house(1500))


def test_versions_thin_out_with_age():
    """A save every ten minutes for a year: all of the last two hours stay, then one an hour, one a day, one a month."""
    now = datetime(2026, 11, 28, 12)
    every = [Version(Path(f"{n}"), now - timedelta(minutes=10 * n)) for n in range(6 * 24 * 365)]
    kept = sorted({one.file.name for one in every} - {one.file.name for one in thinned(every, now)}, key=int)
    ages = [now - every[int(name)].at for name in kept]
    assert [int(name) for name in kept[:12]] == list(range(12))
    assert 20 <= sum(timedelta(hours=2) < age < timedelta(days=1) for age in ages) <= 24
    assert 58 <= sum(timedelta(days=1) <= age < timedelta(days=62) for age in ages) <= 63
    assert 9 <= sum(age >= timedelta(days=62) for age in ages) <= 12
    assert all(one <= other for one, other in pairwise(ages))


# --- differences ------------------------------------------------------------------------------------------------------
JOB = add_circuit(add_circuit(house(1500, load(K.DRYER, "5kW", "dryer")), circuit(7, feeds="den")), circuit(8))


@pytest.mark.parametrize(
    ("after", "words"),
    [
        (JOB, []),
        (with_part(JOB, "heading", title="Tern Street"), ["heading: title: New job → Tern Street"]),
        (with_part(JOB, "dwelling", area=1620.5), ["dwelling: area: 1,500 → 1,620.5"]),
        (
            change_circuit(JOB, 7, breaker_a=15, gauge=None),
            ["tag 7: breaker: 20 A → 15 A", "tag 7: gauge: 12 → nothing"],
        ),
        (add_circuit(JOB, circuit(9, feeds="porch")), ["tag 9 is new: porch"]),
        (remove_circuits(JOB, {7}), ["tag 7 is not there any more"]),
        (change_load(JOB, "dryer", continuous=True), ["load dryer: continuous: no → yes"]),
        (add_load(JOB, load(K.APPLIANCE, "1kW", "pump")), ["load pump is new"]),
        (replace(JOB, circuits=JOB.circuits[::-1]), ["circuits: in another order"]),
        (accept_finding(JOB, "service.aic", "told"), ["decisions: accepted service.aic: nothing → told"]),
        (with_part(JOB, "panel", tandem_spaces=(1, 3)), ["panel: tandem spaces: nothing → 1, 3"]),
    ],
)
def test_differences_are_in_words(after, words):
    assert differences(JOB, after) == words


def test_many_differences_are_summed_up(demo, small):
    lines = summary(demo, small)
    assert len(lines) == 9 and lines[-1].startswith("and ") and lines[-1].endswith(" more")
    assert len(differences(demo, small)) == 8 + int(lines[-1].split()[1])


# --- saving -----------------------------------------------------------------------------------------------------------
def test_a_job_is_written_through_its_link(path, tmp_path):
    link = tmp_path / "today.ledger.json"
    link.symlink_to(path)
    write_job(house(1800), link)
    assert link.is_symlink() and read_job(path).dwelling.area == 1800


def test_temporary_files_of_a_killed_writer_are_swept_and_those_of_a_living_one_are_not(path):
    old, fresh = path.with_name(".ledger-old.tmp"), path.with_name(".ledger-new.tmp")
    for one in (old, fresh):
        one.write_text("half a job")
    os.utime(old, (1, 1))
    write_job(house(1900), path)
    assert not old.exists() and fresh.exists()


def test_names_as_long_as_names_can_be_are_saved(tmp_path):
    path = tmp_path / ("ü" * 120 + ".json")
    for area in (1000, 2000):
        write_job(house(area), path)
    assert read_job(path).dwelling.area == 2000


# --- runs -------------------------------------------------------------------------------------------------------------
def test_a_run_that_did_not_close_is_told_by_kind_and_with_nothing_of_the_customer(tmp_path):
    run = Run(tmp_path)
    run.note("edit")
    run.note("stage load")
    assert ended(tmp_path) == [], "it lives"
    try:
        raise ValueError("Mrs. Fenwick, Tern Street 4")
    except ValueError as problem:
        run.failed(type(problem), [f"{Path.home()}/somewhere/load.py:7 read"])
    copy = tmp_path.parent / "after"
    os.rename(tmp_path, copy)
    os.close(run._held)
    (one,) = ended(copy)
    assert one.words.endswith("without closing, at: error ValueError.")
    report = one.report()
    assert "stage load" in report and "load.py:7 read" in report
    assert "Fenwick" not in report and str(Path.home()) not in report
    one.put_away()
    assert ended(copy) == []


def test_a_run_that_closes_leaves_nothing(tmp_path):
    run = Run(tmp_path / "runs")
    run.note("edit")
    run.end()
    assert ended(tmp_path / "runs") == [] and list((tmp_path / "runs").iterdir()) == []
    blocked = tmp_path / "blocked"
    blocked.write_text("a file")
    Run(blocked / "runs").note("edit")


# --- what is the only copy of somebody's work ---------------------------------------------------------------------------
def test_what_was_kept_for_a_reason_stays_until_it_is_looked_at(path, tmp_path):
    """«Yours is kept among the versions»: however many saves follow, and whenever."""
    history, start = History(tmp_path / "history"), datetime(2026, 11, 28, 8, 0)
    history.keep(path, house(1111), "mine", start)
    for number in range(60):
        history.keep(path, house(2000 + number), "", start + timedelta(minutes=number))
    (mine,) = [one for one in history.versions(path) if one.why]
    assert history.job(mine) == house(1111) and mine.stays and "mine" in mine.words
    kept = len(history.versions(path))
    seen = history.looked_at(mine)
    assert seen.seen and not seen.stays and history.job(seen) == house(1111) and seen.words == mine.words
    history.keep(path, house(3000), "", start + timedelta(minutes=61))
    assert not [one for one in history.versions(path) if one.why], "now it goes as a save of that hour does"
    assert kept - len(history.versions(path)) <= 1
    plain = history.versions(path)[0]
    assert history.looked_at(plain) is plain, "a save needs no mark"


def test_versions_of_one_moment_do_not_take_each_others_place(path, tmp_path):
    history, now = History(tmp_path / "history"), datetime(2026, 11, 28, 8, 0)
    for number in range(30):
        history.keep(path, house(1000 + number), "theirs", now)
    areas = {history.job(one).dwelling.area for one in history.versions(path)}
    assert len(history.versions(path)) == 30 == len(areas)


def test_a_file_that_is_no_job_is_kept_as_it_is(path, tmp_path):
    history = History(tmp_path / "history")
    assert history.keep(path, b"half a jo", "theirs") == ""
    (one,) = history.versions(path)
    assert gzip.decompress(one.file.read_bytes()) == b"half a jo" and one.stays
    with pytest.raises(JobFileError):
        history.job(one)


def test_consent_to_take_over_is_for_the_one_who_was_named(path):
    """Somebody has taken it over in the meantime: they are told of, not overrun."""
    first, second, third = JobLock(path), JobLock(path), JobLock(path)
    assert first.take() is None
    asked_about = third.take()
    assert second.take(over=second.holder()) is None
    told = third.take(over=asked_about)
    assert told is not None and told.id == second.me.id and second.is_ours and not third.is_ours
    for one in (first, second, third):
        one.release()


def test_a_folder_held_for_ever_holds_nobody_up(path, monkeypatch):
    monkeypatch.setattr(locks, "WAIT_S", 0.05)
    file = os.open(path.parent, os.O_RDONLY)
    fcntl.flock(file, fcntl.LOCK_EX)
    mine = JobLock(path)
    assert mine.take() is not None and not mine.is_ours, "nobody knows whether it is free, so it is not taken"
    os.close(file)
    assert mine.take() is None
    mine.release()


def test_two_machines_of_one_name_are_two(path):
    """The lock of a machine that is called as this one, but is not it, is no lock that was left behind."""
    mine = JobLock(path)
    written = {"who": "anna", "host": mine.me.host, "since": "2026-11-28T07:10", "id": "f" * len(mine.me.id)}
    lock_file(path).write_text(json.dumps(written))
    assert mine.take() is not None and not mine.is_ours
    lock_file(path).write_text(json.dumps({**written, "id": mine.me.id[: locks.MACHINE] + "0" * 32}))
    assert mine.take() is None, "that one is of this machine, and its run has ended"
    mine.release()
