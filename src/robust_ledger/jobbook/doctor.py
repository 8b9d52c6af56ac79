"""What a machine lacks for Robust Ledger: each thing is tried, not only looked for."""

from __future__ import annotations

import os
import re
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from collections.abc import Callable
from importlib.metadata import PackageNotFoundError, requires, version
from importlib.resources import files
from importlib.util import find_spec
from pathlib import Path
from typing import Literal

from msgspec import Struct

from robust_ledger.job.whole import private_folder
from robust_ledger.jobbook.about import about

LEAST_MB = 200  # free where the jobs' versions and the recovery copies go
_QT = "import sys; from PyQt6.QtWidgets import QApplication; QApplication(sys.argv); print('up')"


class Trial(Struct, frozen=True):
    """What was tried, how it went, and what to do about it."""

    what: str
    state: Literal["ok", "MISSING", "verify"]
    words: str = ""


def examined(home: Path) -> list[Trial]:
    """Every trial. A thing the desk cannot do without is MISSING; what only a part of it has need of is "verify"."""
    made = [Trial(f"{about()}, Python {sys.version.split()[0]}", "ok")]
    made += _packages()
    for what, trial in _TRIALS:
        try:
            made.append(trial())
        except Exception as problem:  # whatever goes wrong is just what is to be told
            made.append(Trial(what, "MISSING", f"{type(problem).__name__}: {problem}".splitlines()[0]))
    return [*made, _writable(home)]


def _packages() -> list[Trial]:
    """The libraries that the package names, at the versions that it asks for."""
    try:
        wanted = requires("robust-ledger") or []
    except PackageNotFoundError:
        return [
            Trial(
                "libraries",
                "verify",
                "Robust Ledger was not installed as a package, so nobody knows which belong to it.",
            )
        ]
    made = []
    for one in wanted:
        match = re.match(r"([A-Za-z0-9_.-]+)\s*(?:>=\s*([\d.]+))?", one)
        if match is None or "extra ==" in one:
            continue
        name, least = match[1], match[2] or "0"
        try:
            there = version(name)
        except PackageNotFoundError:
            made.append(Trial(name, "MISSING", f"install it: pip install '{name}>={least}'"))
            continue
        old = _numbers(there) < _numbers(least)
        made.append(Trial(f"{name} {there}", "MISSING" if old else "ok", f"{least} or later is needed" if old else ""))
    return made


def _numbers(text: str) -> list[int]:
    return [int(part) for part in re.findall(r"\d+", text)[:3]]


def _desk_libraries() -> Trial:
    """The shared libraries that the window system's plugin has need of."""
    spec = find_spec("PyQt6")
    folders = list(spec.submodule_search_locations or []) if spec is not None else []
    plugins = [Path(folder) / "Qt6" / "plugins" / "platforms" / "libqxcb.so" for folder in folders]
    plugin = next((one for one in plugins if one.is_file()), None)
    if plugin is None or shutil.which("ldd") is None:
        return Trial(
            "Qt's libraries for X11",
            "verify",
            "they could not be looked through; if the desk does not open, they are missing",
        )
    listed = subprocess.run(["ldd", str(plugin)], capture_output=True, text=True, timeout=60, check=False).stdout
    missing = sorted(set(re.findall(r"^\s*(\S+) => not found", listed, re.M)))
    return Trial("Qt's libraries for X11", "MISSING" if missing else "ok", ", ".join(missing))


def _desk_opens() -> Trial:
    """Qt itself, without a screen."""
    done = subprocess.run(
        [sys.executable, "-c", _QT], capture_output=True, text=True, timeout=120, check=False,
        env={**os.environ, "QT_QPA_PLATFORM": "offscreen", "PYTHONPATH": os.pathsep.join(sys.path)},
    )  # fmt: skip
    lines = done.stderr.strip().splitlines()
    return Trial(
        "Qt opens",
        "ok" if "up" in done.stdout else "MISSING",
        "" if "up" in done.stdout else (lines or ["it ended without a word"])[-1],
    )


def _screen() -> Trial:
    there = os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")
    return Trial(
        "a screen",
        "ok" if there else "verify",
        "" if there else "no DISPLAY or WAYLAND_DISPLAY here; the command line works without",
    )


def _search() -> Trial:
    with sqlite3.connect(":memory:") as base:
        base.execute("CREATE VIRTUAL TABLE t USING fts5(a, tokenize = 'unicode61 remove_diacritics 2')")
    return Trial("the job book's search (SQLite with FTS5)", "ok")


def _schedule() -> Trial:
    from ortools.sat.python import cp_model

    model = cp_model.CpModel()
    x = model.new_int_var(0, 9, "x")
    model.maximize(x)
    solver = cp_model.CpSolver()
    solver.solve(model)
    return Trial("the proof of a schedule", "ok" if solver.value(x) == 9 else "MISSING")


def _zones() -> Trial:
    from zoneinfo import ZoneInfo

    return Trial("time zones", "ok" if ZoneInfo("America/Denver") else "MISSING")


def _shipped() -> Trial:
    fonts = [one for one in files("robust_ledger").joinpath("assets", "fonts").iterdir() if one.name.endswith(".ttf")]
    return Trial("fonts that ship with it", "ok" if fonts else "MISSING")


def _writable(home: Path) -> Trial:
    """The folder of settings, recovery copies and versions: written to, and with room."""
    what = f"a place for unsaved work ({home})"
    try:
        private_folder(home)
        with tempfile.TemporaryFile(dir=home) as trial:
            trial.write(b"x" * 4096)
            trial.flush()
        free_mb = shutil.disk_usage(home).free // 1_000_000
    except OSError as problem:
        return Trial(what, "MISSING", f"it cannot be written: {(problem.strerror or 'unknown reason').lower()}")
    return Trial(
        what, "ok" if free_mb >= LEAST_MB else "verify", "" if free_mb >= LEAST_MB else f"only {free_mb} MB are free"
    )


_TRIALS: tuple[tuple[str, Callable[[], Trial]], ...] = (
    ("fonts that ship with it", _shipped),
    ("the job book's search (SQLite with FTS5)", _search),
    ("the proof of a schedule", _schedule),
    ("time zones", _zones),
    ("Qt's libraries for X11", _desk_libraries),
    ("Qt opens", _desk_opens),
    ("a screen", _screen),
)
