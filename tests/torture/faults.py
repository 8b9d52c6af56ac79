"""Faults of the machine, one function each: a job is edited and saved while something around it is not as it should be. Afterwards
the job on the desk is as it was edited, what was saved before is whole, and no sentence is longer than one."""

from __future__ import annotations

import errno
import gzip
import json
import locale
import os
import stat
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from unittest import mock

import pytest

from robust_ledger.desk.kit.store import JobStore
from robust_ledger.job.edits import with_part
from robust_ledger.job.files import JobFileError, job_text, parse_job, read_job, write_job
from robust_ledger.job.job import Job, blank_job
from robust_ledger.jobbook.disk import OnDisk
from robust_ledger.jobbook.history import History
from robust_ledger.jobbook.journal import JOURNAL
from robust_ledger.jobbook.lock import JobLock, lock_file
from robust_ledger.jobbook.unsaved import left_behind
from robust_ledger.measure.metering.read import guess_file
from robust_ledger.measure.metering.recording import MeterFileError

ONE = with_part(blank_job(), "heading", title="one")


def retitled(title: str):
    return lambda job: with_part(job, "heading", title=title)


@contextmanager
def desk(place: Path, job: Job = ONE) -> Iterator[tuple[JobStore, Path, list[str]]]:
    """A desk with a saved job open, and what it says."""
    path = place / "jobs" / "job.ledger.json"
    path.parent.mkdir(exist_ok=True)
    write_job(job, path)
    store, said = JobStore(place / "home"), []
    store.noticed.connect(lambda text, _serious: said.append(text))
    store.open_job(job, path, disk=OnDisk.of(path))
    try:
        yield store, path, said
    finally:
        store.close()


def refused(store: JobStore, path: Path) -> str:
    """Save, which must fail, in a sentence, and change nothing."""
    before = path.read_bytes() if os.path.isfile(path) else None
    with pytest.raises(JobFileError) as problem:
        store.save(path)
    text = str(problem.value)
    assert "\n" not in text and text.endswith(".") and store.unsaved
    assert (path.read_bytes() if os.path.isfile(path) else None) == before
    assert not path.parent.is_dir() or not list(path.parent.glob(".ledger-*.tmp"))
    return text


def failing(name: str, number: int):
    """A system call that fails with an error number."""
    return mock.patch(f"os.{name}", side_effect=OSError(number, os.strerror(number)))


def edited_and_refused(place: Path, name: str, number: int, words: str) -> None:
    with desk(place) as (store, path, _said):
        store.edit("x", retitled("two"))
        with failing(name, number):
            assert words in refused(store, path)
        assert store.job.heading.title == "two" and read_job(path) == ONE
        store.save(path)
        assert read_job(path).heading.title == "two"


def disk_full_in_saving(place: Path) -> None:
    edited_and_refused(place, "fsync", errno.ENOSPC, "no space left")


def disk_broken_in_saving(place: Path) -> None:
    edited_and_refused(place, "fsync", errno.EIO, "input/output error")


def quota_exceeded(place: Path) -> None:
    edited_and_refused(place, "replace", errno.EDQUOT, "quota")


def network_share_gone_stale(place: Path) -> None:
    edited_and_refused(place, "replace", errno.ESTALE, "stale")


def name_may_not_be_replaced(place: Path) -> None:
    edited_and_refused(place, "replace", errno.EPERM, "not permitted")


def too_many_open_files(place: Path) -> None:
    edited_and_refused(place, "open", errno.EMFILE, "too many open files")


def folder_vanished(place: Path) -> None:
    with desk(place) as (store, path, _said):
        store.edit("x", retitled("two"))
        os.rename(path.parent, place / "elsewhere")
        assert "no such file" in refused(store, path)
        store.save(place / "elsewhere" / path.name)
        assert read_job(place / "elsewhere" / path.name).heading.title == "two"


def folder_became_a_file(place: Path) -> None:
    with desk(place) as (store, path, _said):
        store.edit("x", retitled("two"))
        os.rename(path.parent, place / "elsewhere")
        path.parent.write_text("a file")
        assert "not a directory" in refused(store, path)


def job_became_a_folder(place: Path) -> None:
    with desk(place) as (store, path, _said):
        path.unlink()
        path.mkdir()
        store.edit("x", retitled("two"))
        assert "directory" in refused(store, path)


def link_to_nowhere(place: Path) -> None:
    with desk(place) as (store, path, _said):
        path.unlink()
        path.symlink_to(place / "gone" / "job.ledger.json")
        store.edit("x", retitled("two"))
        assert "no such file" in refused(store, path)


def links_in_a_ring(place: Path) -> None:
    one, other = place / "a.ledger.json", place / "b.ledger.json"
    one.symlink_to(other)
    other.symlink_to(one)
    with pytest.raises(JobFileError, match="cannot be read"):
        read_job(one)
    assert left_behind(one).waiting == () and JobLock(one).holder() is None


def pipe_for_a_job(place: Path) -> None:
    os.mkfifo(place / "job.ledger.json")
    with pytest.raises(JobFileError, match="pipe or a device"):
        read_job(place / "job.ledger.json")


def endless_device_for_a_job(_place: Path) -> None:
    with pytest.raises(JobFileError, match="pipe or a device"):
        read_job(Path("/dev/zero"))


def pipe_for_a_recording(place: Path) -> None:
    os.mkfifo(place / "a.csv")
    for path in (place / "a.csv", Path("/dev/zero"), place):
        with pytest.raises(MeterFileError, match="not a file"):
            guess_file(path)


def name_with_a_zero_in_it(_place: Path) -> None:
    with pytest.raises(JobFileError, match="cannot be read"):
        read_job(Path("a\0b"))


def name_too_long(place: Path) -> None:
    with desk(place) as (store, _path, _said):
        store.edit("x", retitled("two"))
        assert "too long" in refused(store, place / ("x" * 300 + ".ledger.json"))


def journal_full_and_free_again(place: Path) -> None:
    with desk(place) as (store, path, said):
        with mock.patch(
            "robust_ledger.jobbook.journal.os.write", side_effect=OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
        ):
            for number in range(3):
                assert store.edit("x", retitled(f"full {number}"))
        assert len(said) == 1 and "no space left" in said[0], said
        store.edit("x", retitled("free"))
        store.abandon()
        (one,) = left_behind(store.journals).waiting
        assert one.job.heading.title == "free" and one.path == path


def journal_taken_away_while_it_is_written(place: Path) -> None:
    with desk(place) as (store, path, _said):
        store.edit("x", retitled("two"))
        for one in store.journals.rglob("*"):
            with suppress(OSError):
                one.unlink()
        assert store.edit("x", retitled("three"))
        store.abandon()
        (left,) = left_behind(store.journals).waiting
        assert left.job.heading.title == "three" and left.path == path


def journal_damaged(place: Path) -> None:
    with desk(place) as (store, _path, _said):
        store.edit("x", retitled("two"))
        store.edit("x", retitled("three"))
        store.abandon()
        (file,) = store.journals.glob(f"*/{JOURNAL}")
        data = bytearray(file.read_bytes())
        data[-30] ^= 0xFF
        file.write_bytes(data)
        (one,) = left_behind(store.journals).waiting
        assert one.job.heading.title == "two", "up to where it is whole"


def journal_without_locks(place: Path) -> None:
    with mock.patch("fcntl.flock", side_effect=OSError(errno.ENOLCK, "no locks")), desk(place) as (store, path, _said):
        lock = JobLock(path)
        assert lock.take() is None
        store.hold(lock)
        store.edit("x", retitled("two"))
        store.save(path)
        assert read_job(path).heading.title == "two"


def lock_in_a_read_only_folder(place: Path) -> None:
    with desk(place) as (store, path, _said), failing("open", errno.EROFS):
        lock = JobLock(path)
        assert lock.take() is None and not lock.is_ours
        store.hold(lock)


def lock_of_a_machine_that_is_gone(place: Path) -> None:
    with desk(place) as (_store, path, _said):
        lock_file(path).write_text(json.dumps({"who": "x", "host": "gone", "since": "", "id": "1"}))
        os.utime(lock_file(path), (1, 1))
        lock = JobLock(path)
        holder = lock.take()
        assert holder is not None and "not heard of for" in holder.words, "the user decides, not a clock"
        assert lock.take(over=holder) is None and lock.is_ours
        lock.release()


def clock_set_back(place: Path) -> None:
    with desk(place) as (store, path, _said):
        with mock.patch("robust_ledger.jobbook.journal.datetime") as clock:
            clock.now.return_value.isoformat.return_value = "1999-01-01T00:00:00"
            store.edit("x", retitled("back then"))
        store.abandon()
        (one,) = left_behind(store.journals).waiting
        assert one.job.heading.title == "back then" and one.kept_at.startswith("1999")
        os.utime(path, (2**33, 2**33))
        assert OnDisk.of(path).digest and not OnDisk.of(path).is_other(path)


def history_full(place: Path) -> None:
    with desk(place) as (store, path, said):
        store.edit("x", retitled("two"))
        with mock.patch(
            "robust_ledger.jobbook.history.write_whole", side_effect=OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
        ):
            store.save(path)
        assert read_job(path).heading.title == "two" and "could not be kept" in said[-1]


def history_of_rubbish(place: Path) -> None:
    with desk(place) as (store, path, _said):
        store.save(path)
        (one,) = store.history.versions(path)
        for rubbish in (
            b"",
            b"no gzip",
            gzip.compress(b"{"),
            gzip.compress(b"\xff\xfe"),
            gzip.compress(b"0" * 30_000_000),
        ):
            one.file.write_bytes(rubbish)
            with pytest.raises(JobFileError):
                store.history.job(one)
    assert History(place / "nowhere").versions(path) == []


def photo_vanished(place: Path) -> None:
    with desk(place) as (store, path, said):
        photo = place / "a.png"
        photo.write_bytes(b"x" * 100)
        name = store.attach(photo)
        store.edit("x", lambda job: with_part(job, "old_panel", photos=(name, "photos/gone.png")))
        (path.parent / name).write_bytes(b"x" * 40)
        store.save(path)
        assert (path.parent / name).read_bytes() == b"x" * 100, "a copy that was cut short is mended"
        assert said == []


def photo_that_finds_no_room_beside_the_job(place: Path) -> None:
    """The journal has the only copy of a photo of a job that had no file; as long as it is not beside the job, it stays."""
    store = JobStore(place / "home")
    photo, path = place / "a.png", place / "job.ledger.json"
    photo.write_bytes(b"picture")
    name = store.attach(photo)
    photo.unlink()
    store.edit("x", lambda job: with_part(job, "old_panel", photos=(name,)))
    (place / "photos").write_text("a file where the folder should be")
    store.save(path)
    store.close()
    (one,) = left_behind(store.journals).waiting
    assert one.job == read_job(path) and one.files[0][1].read_bytes() == b"picture"
    (place / "photos").unlink()
    again = JobStore(place / "home")
    again.take_up(one, OnDisk.of(path))
    again.save(path)
    again.close()
    assert (place / name).read_bytes() == b"picture" and left_behind(store.journals).waiting == ()


def photo_taken_along_where_nothing_can_be_written(place: Path) -> None:
    """A saved job in a folder that takes no photo: the journal has it until it can be put there."""
    with desk(place) as (store, path, said):
        photo = place / "a.png"
        photo.write_bytes(b"picture")
        (path.parent / "photos").write_text("a file where the folder should be")
        name = store.attach(photo)
        photo.unlink()
        store.edit("x", lambda job: with_part(job, "old_panel", photos=(name,)))
        assert "could not be put beside it" in said[0]
        (path.parent / "photos").unlink()
        store.save(path)
        assert (path.parent / name).read_bytes() == b"picture"


def photo_of_another_job(place: Path) -> None:
    with desk(place) as (store, path, said):
        other = place / "other"
        (other / "photos").mkdir(parents=True)
        (other / "photos" / "IMG_1.png").write_bytes(b"another house")
        (path.parent / "photos").mkdir()
        (path.parent / "photos" / "IMG_1.png").write_bytes(b"this house")
        store.edit("x", lambda job: with_part(job, "old_panel", photos=("photos/IMG_1.png",)))
        store.save(other / "job.ledger.json")
        assert (other / "photos" / "IMG_1.png").read_bytes() == b"another house" and "is another file" in said[-1]


def photo_that_is_a_pipe(place: Path) -> None:
    with desk(place) as (store, _path, _said):
        os.mkfifo(place / "a.png")
        with pytest.raises(OSError, match="is a pipe or a device"):
            store.attach(place / "a.png")


def comma_for_a_point(place: Path) -> None:
    before = locale.setlocale(locale.LC_ALL)
    with desk(place) as (store, path, _said):
        for name in ("de_DE.UTF-8", "fr_FR.UTF-8", ""):
            with suppress(locale.Error):
                locale.setlocale(locale.LC_ALL, name)
                break
        try:
            store.edit("x", lambda job: with_part(job, "dwelling", area=1234.5))
            store.save(path)
            assert '"area": 1234.5' in path.read_text() and read_job(path).dwelling.area == 1234.5
        finally:
            locale.setlocale(locale.LC_ALL, before)


def no_language_at_all(place: Path) -> None:
    path = place / "ü.ledger.json"
    write_job(with_part(ONE, "heading", title="台所 ü"), path)
    bare = {**os.environ, "LANG": "C", "LC_ALL": "C", "PYTHONUTF8": "0", "PYTHONCOERCECLOCALE": "0"}
    command = [sys.executable, "-m", "robust_ledger", "check", str(path)]
    out = subprocess.run(command, capture_output=True, env=bare, timeout=60)
    assert out.returncode in (0, 1) and b"Traceback" not in out.stderr, out.stderr


def odd_scale_factors(place: Path) -> None:
    code = (
        "from robust_ledger.desk.shell.application import make_application; from robust_ledger.desk.shell.window import Window; "
        "app = make_application(); desk = Window(); desk.new_job(); desk.show(); app.processEvents(); "
        "desk.session_ends = True; desk.close(); print('ok')"
    )
    for factor in ("0.33", "1.7", "nonsense"):
        environment = {**os.environ, "QT_SCALE_FACTOR": factor, "QT_QPA_PLATFORM": "offscreen"}
        out = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, env=environment, timeout=60)
        assert "ok" in out.stdout, out.stderr


def killed_while_the_temporary_file_was_written(place: Path) -> None:
    with desk(place) as (store, path, _said):
        old = path.with_name(".ledger-abc.tmp")
        old.write_text(job_text(ONE)[:100])
        os.utime(old, (time.time() - 4000,) * 2)
        store.save(path)
        assert not old.exists()


def rights_are_kept(place: Path) -> None:
    with desk(place) as (store, path, _said):
        path.chmod(0o640)
        store.edit("x", retitled("two"))
        store.save(path)
        assert stat.S_IMODE(path.stat().st_mode) == 0o640


def half_letters(place: Path) -> None:
    with desk(place) as (_store, path, _said):
        text = job_text(ONE).replace('"decisions": {', '"later": "\\ud800", "decisions": {')
        job = parse_job(text, "x")
        write_job(job, path)
        assert read_job(path) == job and read_job(path).unknown == {"later": "\ud800"}


FAULTS = [
    disk_full_in_saving, disk_broken_in_saving, quota_exceeded, network_share_gone_stale, name_may_not_be_replaced, too_many_open_files,
    folder_vanished, folder_became_a_file, job_became_a_folder, link_to_nowhere, links_in_a_ring, pipe_for_a_job, endless_device_for_a_job,
    pipe_for_a_recording, name_with_a_zero_in_it, name_too_long, journal_full_and_free_again, journal_taken_away_while_it_is_written,
    journal_damaged, journal_without_locks, lock_in_a_read_only_folder, lock_of_a_machine_that_is_gone, clock_set_back, history_full,
    history_of_rubbish,
    photo_vanished, photo_that_finds_no_room_beside_the_job,
    photo_taken_along_where_nothing_can_be_written, photo_of_another_job, photo_that_is_a_pipe,
    comma_for_a_point, no_language_at_all, odd_scale_factors,
    killed_while_the_temporary_file_was_written, rights_are_kept, half_letters,
]  # fmt: skip
