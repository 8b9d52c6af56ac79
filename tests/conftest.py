"""Fixtures for all tests. Without a display Qt draws offscreen; settings and unsaved work go to a fresh folder."""

from __future__ import annotations

import os
import sys
from pathlib import Path

import pytest
from hypothesis import settings

sys.path.insert(0, str(Path(__file__).parent))
if not os.environ.get("DISPLAY") and not os.environ.get("WAYLAND_DISPLAY"):
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

# Machines differ in speed: no example fails for being slow. A run at the desk tries the same ones each time; continuous integration fresh ones,
# and what failed there is kept in the database of examples and printed, so that it can be had again. "many" looks for the rare ones beforehand.
settings.register_profile("steady", deadline=None, derandomize=True, max_examples=60)
settings.register_profile("fresh", deadline=None, derandomize=False, max_examples=60, print_blob=True)
settings.register_profile("quick", deadline=None, derandomize=True, max_examples=8)
settings.register_profile("many", deadline=None, derandomize=False, max_examples=1000, print_blob=True)
settings.load_profile(os.environ.get("ROBUST_LEDGER_EXAMPLES", "steady"))

pytest_plugins = ["raised"]

from builders import house_alone  # noqa: E402

from robust_ledger.codebook.codebook import load_codebook  # noqa: E402
from robust_ledger.job.files import read_job  # noqa: E402
from robust_ledger.plan import plan  # noqa: E402

EXAMPLES = Path(__file__).parent.parent / "examples"


@pytest.fixture
def codebook():
    return load_codebook("2023")


@pytest.fixture
def shipped():
    """The demo as it is shipped: a house and its detached garage."""
    return read_job(EXAMPLES / "marrow-lane.ledger.json")


@pytest.fixture
def demo(shipped):
    """The demo's house alone, with one panel."""
    return house_alone(shipped)


@pytest.fixture
def demo_plan(demo):
    return plan(demo)


@pytest.fixture
def small():
    return read_job(EXAMPLES / "tansy-court.ledger.json")


@pytest.fixture(autouse=True)
def own_home(tmp_path, monkeypatch):
    """Nothing a test does touches the settings of whoever runs it."""
    monkeypatch.setenv("ROBUST_LEDGER_HOME", str(tmp_path / "home"))


def pytest_terminal_summary(terminalreporter, config):
    """The order of this run, so that it can be had again."""
    seed = config.getoption("randomly_seed", None)
    if seed not in (None, "default"):
        terminalreporter.write_line(f"Order of this run: --randomly-seed={seed}")
