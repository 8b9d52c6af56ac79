"""The torture in short: a few kills, and hostile input of every kind. The long run is `make torture`."""

from __future__ import annotations

import os
import sys
from pathlib import Path

import pytest

sys.path.insert(0, str(Path(__file__).parent))
import faults
from hostile import hostile
from kills import between_operations, kills


def test_a_killed_desk_has_lost_no_edit_it_acknowledged():
    assert kills(10, seed=7) == []


def test_it_does_not_matter_between_which_file_operations_it_is_killed():
    count, lost = between_operations(seed=3, step=23)
    assert lost == [] and count > 60, "the session has that many file operations, or the driver did nothing"


def test_hostile_input_is_a_sentence():
    assert hostile(600, seed=5) == []


@pytest.mark.parametrize("fault", faults.FAULTS, ids=lambda one: one.__name__)
def test_a_fault_of_the_machine_is_a_sentence_and_loses_nothing(fault, tmp_path, monkeypatch):
    monkeypatch.setenv("ROBUST_LEDGER_HOME", str(tmp_path / "home"))
    before = dict(os.environ)
    try:
        fault(tmp_path)
    finally:
        os.environ.clear()
        os.environ.update(before)
