"""The torture in short: a few kills, and hostile input of every kind. The long run is `make torture`."""

from __future__ import annotations

import errno
import os
import subprocess
import sys
from pathlib import Path

import pytest

sys.path.insert(0, str(Path(__file__).parent))
import faults
from hostile import hostile
from kills import DRIVER, between_operations, kills, monkeys
from races import races

from robust_ledger.jobbook.lock import JobLock, _machine_id
from robust_ledger.jobbook.unsaved import left_behind


def test_a_killed_desk_has_lost_no_edit_it_acknowledged():
    assert kills(18, seed=7) == []


def test_it_does_not_matter_between_which_file_operations_it_is_killed():
    count, lost = between_operations(seed=3, step=23)
    assert lost == [] and count > 60, "the session has that many file operations, or the driver did nothing"


def test_hostile_input_is_a_sentence():
    assert hostile(600, seed=5) == []


def test_two_who_take_a_lock_at_the_same_moment_never_both_have_it():
    assert races(150) == []


def test_a_monkey_breaks_nothing():
    assert monkeys(250, seed=4) == []


def test_two_living_desks_know_of_each_other(tmp_path):
    path = tmp_path / "job.ledger.json"
    command = [sys.executable, str(DRIVER), str(tmp_path / "home"), str(path), "human", "1"]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as other:
        assert other.stdout is not None and other.stdout.readline().startswith("ready")
        mine = JobLock(path)
        holder = mine.take()
        assert holder is not None and not mine.is_ours
        assert left_behind(tmp_path / "home" / "recovery").waiting == (), "the work of a living desk is its own"
        other.kill()
    assert mine.take() is None and mine.is_ours
    mine.release()


def test_a_moment_without_open_files_makes_it_no_other_machine(tmp_path):
    """Whose mark of the machine could not be read once has it the next time: its own lock that was left behind is free."""
    _machine_id.cache_clear()
    left = JobLock(tmp_path / "job.ledger.json")
    left.take()
    left._close()  # as a run that was killed leaves it
    _machine_id.cache_clear()
    with faults.failing("open", errno.EMFILE):
        JobLock(tmp_path / "job.ledger.json")
    again = JobLock(tmp_path / "job.ledger.json")
    assert again.take() is None and again.is_ours
    again.release()


def test_a_desk_that_is_told_to_end_keeps_what_was_not_saved(tmp_path):
    """Log-out and shutdown send SIGTERM: nobody is asked, and the journal is there for the next start."""
    home = tmp_path / "home"
    environment = {**os.environ, "ROBUST_LEDGER_HOME": str(home), "QT_QPA_PLATFORM": "offscreen"}
    code = (
        "from PyQt6.QtCore import QTimer; from robust_ledger.desk.shell import application as a; from robust_ledger.job.edits import with_part; "
        "real = a.follow; "
        "edit = lambda w: (w.store.edit('x', lambda j: with_part(j, 'heading', title='Osprey Court 9')), print('edited', flush=True)); "
        "a.follow = lambda w, r: (real(w, r), QTimer.singleShot(300, lambda: edit(w))); "
        "import sys; sys.exit(a.main(['--demo']))"
    )
    with subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE, text=True, env=environment) as desk:
        assert desk.stdout is not None
        while desk.stdout.readline().strip() != "edited":
            assert desk.poll() is None
        desk.terminate()
        assert desk.wait(20) == 0
    (one,) = left_behind(home / "recovery").waiting
    assert one.job.heading.title == "Osprey Court 9" and list((home / "runs").iterdir()) == []


@pytest.mark.parametrize("fault", faults.FAULTS, ids=lambda one: one.__name__)
def test_a_fault_of_the_machine_is_a_sentence_and_loses_nothing(fault, tmp_path, monkeypatch):
    monkeypatch.setenv("ROBUST_LEDGER_HOME", str(tmp_path / "home"))
    before = dict(os.environ)
    try:
        fault(tmp_path)
    finally:
        os.environ.clear()
        os.environ.update(before)
