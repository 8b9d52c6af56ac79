"""The same measures taken of two source trees in turn, before and after: start-up, plan(job), edit to repaint.

    python benchmarks/compare.py ../before .

Each tree runs in processes of its own, one after the other, so that both meet the same machine. The least of many runs is
printed: other work on the machine only ever adds.
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path

BARE = """
import time; start = time.perf_counter()
from PyQt6.QtWidgets import QApplication, QMainWindow
app = QApplication([]); window = QMainWindow(); window.resize(1280, 800); window.show(); app.processEvents()
print("bare window, ms", (time.perf_counter() - start) * 1000)
"""
IMPORTS = """
import time; start = time.perf_counter()
try:
    from robust_ledger.desk.shell.application import make_application
    from robust_ledger.desk.shell.window import Window
    from robust_ledger.desk.kit.examples import DEMO
    from robust_ledger.ledger.place import Place
    CIRCUIT = Place.branch("tag:10")
except ModuleNotFoundError:  # the tree from before the desk was put in rooms
    from robust_ledger.desk.application import make_application
    from robust_ledger.desk.window import Window
    from robust_ledger.desk.startpage import DEMO
    CIRCUIT = "branch:tag:10"
"""
START = (
    IMPORTS
    + """
app = make_application(); window = Window(); window.resize(1280, 800); window.open_demo(DEMO); window.show(); app.processEvents()
print("desk with the demo job, ms", (time.perf_counter() - start) * 1000)
import resource; print("memory of the desk, MB", resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)
import sys; print("modules loaded", len(sys.modules))
import os; sys.stdout.flush(); os._exit(0)
"""
)
FIRST_PAGE = (
    IMPORTS
    + """
app = make_application(); window = Window(); window.resize(1280, 800); window.show_start(); window.show()
while app.primaryScreen() and not window.start.isVisible(): app.processEvents()
window.grab()
print("first page on the screen, ms", (time.perf_counter() - start) * 1000)
import os, sys; sys.stdout.flush(); os._exit(0)
"""
)
WORK = (
    IMPORTS
    + """
from robust_ledger.job.edits import with_part
from robust_ledger.job.files import read_job
from robust_ledger.plan import plan
def least_ms(action, times):
    spent = []
    for _ in range(times):
        start = time.perf_counter(); action(); spent.append((time.perf_counter() - start) * 1000)
    return min(spent)
job = read_job(DEMO)
print("plan(job), demo, ms", least_ms(lambda: plan(job), 80))
app = make_application(); window = Window(); window.resize(1280, 800); window.open_demo(DEMO); window.show(); app.processEvents()
for stage in ("walkthrough", "pulloff", "load", "service", "bench"):
    window.show_stage(stage)
    if stage == "bench":
        window.store.choose_place(CIRCUIT)
    app.processEvents()
    area = iter(range(1500, 2500))
    def edit(area=area):
        window.store.edit("area", lambda job: with_part(job, "dwelling", area=next(area))); app.processEvents()
    print(f"edit to repaint on {stage}, ms", least_ms(edit, 25))
import os, sys; sys.stdout.flush(); os._exit(0)
"""
)
ROUNDS = 7


def measured(code: str, tree: Path, home: str) -> dict[str, float]:
    """What a program of its own prints when it runs against a source tree."""
    environment = {key: value for key, value in os.environ.items() if key != "PYTHONDONTWRITEBYTECODE"}
    environment |= {"PYTHONPATH": str((tree / "src").resolve()), "ROBUST_LEDGER_HOME": home}
    command = [sys.executable, "-c", code]
    out = subprocess.run(command, capture_output=True, text=True, check=True, env=environment, cwd=tree).stdout
    return {name: float(value) for name, value in (line.rsplit(" ", 1) for line in out.splitlines())}


def main(before: Path, after: Path) -> None:
    """Prints the least of several rounds, both trees in turn in every round."""
    found: dict[str, dict[str, list[float]]] = {"before": {}, "after": {}}
    with tempfile.TemporaryDirectory() as home:
        for number in range(ROUNDS):
            for name, tree in (("before", before), ("after", after)):
                for code in (BARE, START, FIRST_PAGE) if number % 2 else (BARE, START, FIRST_PAGE, WORK):
                    for what, value in measured(code, tree, home).items():
                        found[name].setdefault(what, []).append(value)
    for what in found["after"]:
        old, new = (min(found[name].get(what, [float("nan")])) for name in ("before", "after"))
        print(f"{what:<34} before {old:8.1f}   after {new:8.1f}")


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]))
