"""Kill the desk again and again, and look whether an acknowledged edit is missing."""

from __future__ import annotations

import random
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from robust_ledger.job.files import read_job
from robust_ledger.jobbook.unsaved import left_behind, of_file

sys.path.insert(0, str(Path(__file__).parent))
from driver import number_of

DRIVER = Path(__file__).with_name("driver.py")
MODES = ("half", "human", "burst", "half", "save", "export", "half", "recover", "burst")


def kept(home: Path, path: Path) -> int:
    """The last edit that a next start finds, in the file or in what waits. Raises JobFileError when the file is broken."""
    numbers = [number_of(read_job(path))] if path.exists() else [0]
    return max([*numbers, *(number_of(one.job) for one in of_file(left_behind(home / "recovery"), path))])


def halves(home: Path, path: Path) -> list[int]:
    """The numbers of the half lines that a next start finds."""
    return [
        int(text.split()[0]) for one in of_file(left_behind(home / "recovery"), path) for _label, text in one.unread
    ]


def one_kill(home: Path, path: Path, mode: str, dice: random.Random) -> tuple[int, int, int]:
    """Start, kill at a random moment; answers the last acknowledged edit, the last one that was kept, and the half line that should be
    there, 0 for none."""
    command = [sys.executable, str(DRIVER), str(home), str(path), mode, str(dice.randrange(10**6))]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as process:
        assert process.stdout is not None
        acknowledged = half = 0
        first = process.stdout.readline().split()
        if first[:1] != ["ready"]:
            raise AssertionError(f"the desk did not start: {' '.join(first)}")
        acknowledged = int(first[1])
        time.sleep(dice.uniform(0.0, 0.25))
        process.kill()
        for line in process.stdout.read().splitlines():
            words = line.split()
            if words[:1] == ["ack"] and len(words) == 2:
                acknowledged = int(words[1])
            elif words[:1] == ["half"] and len(words) == 2:
                half = int(words[1])
            elif words[:1] == ["entering"]:
                half = 0
    return acknowledged, kept(home, path), half


def kills(count: int, seed: int = 1) -> list[str]:
    """So many kills in all modes, in chains on one job each; answers what was lost, in words."""
    dice, lost = random.Random(seed), []
    with tempfile.TemporaryDirectory() as place:
        for number in range(count):
            mode = MODES[number % len(MODES)]
            home, path = Path(place) / f"home-{mode}", Path(place) / mode / "job.ledger.json"
            path.parent.mkdir(exist_ok=True)
            acknowledged, there, half = one_kill(home, path, mode, dice)
            if there < acknowledged:
                lost.append(f"kill {number} while {mode}: edit {acknowledged} acknowledged, {there} kept")
            if half and max(halves(home, path), default=0) < half:
                lost.append(f"kill {number}: half of line {half} typed and not kept")
        crumbs = [one.name for one in Path(place).rglob(".ledger-*.tmp") if time.time() - one.stat().st_mtime > 900]
        lost += [f"a temporary file is left: {name}" for name in crumbs]
    return lost


def between_operations(seed: int = 1, most: int = 400, step: int = 1) -> tuple[int, list[str]]:
    """Kill before every file operation of a session that edits, types, saves, takes up and closes; answers how many there were
    and what was lost."""
    lost: list[str] = []
    for at in range(1, most, step):
        with tempfile.TemporaryDirectory() as place:
            home, path = Path(place) / "home", Path(place) / "job.ledger.json"
            acknowledged, over = 0, False
            for run in range(2):  # the second run takes up what the first left, and dies at the same point
                command = [sys.executable, str(DRIVER), str(home), str(path), "burst", str(seed + run), str(at)]
                out = subprocess.run(command, capture_output=True, text=True, timeout=60)
                words = [line.split() for line in out.stdout.splitlines()]
                acknowledged = max([acknowledged, *(int(one[1]) for one in words if one[0] == "ack")])
                over = over or ["done"] in words
                if out.returncode not in (0, -9):
                    lost.append(f"before operation {at}: {out.stderr.strip().splitlines()[-1:]}")
                if (there := kept(home, path)) < acknowledged:
                    lost.append(f"before operation {at}: edit {acknowledged} acknowledged, {there} kept")
            if over:
                return at, lost
    return most, lost


def monkeys(steps: int, seed: int) -> list[str]:
    """A monkey at a desk of its own; answers what went wrong."""
    command = [sys.executable, str(DRIVER.with_name("monkey.py")), str(steps), str(seed)]
    out = subprocess.run(command, capture_output=True, text=True, timeout=600)
    lines = [line for line in out.stdout.splitlines() if "plugin" not in line]
    return (
        []
        if lines == ["nothing"] and out.returncode == 0
        else [f"monkey {seed}: {line}" for line in lines + out.stderr.splitlines()[-3:]]
    )
