"""Nothing at run time goes to the network: every attempt of Python's to reach anybody is refused, and where the system allows it the process
has no network at all; the desk, its papers and the commands work all the same."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

REFUSED = """
import sys
def refuse(event, arguments):
    if event in ("socket.connect", "socket.getaddrinfo", "socket.gethostbyname", "socket.gethostbyaddr", "socket.sendto", "socket.bind"):
        raise SystemExit(f"reached for the network: {event} {arguments[1:]}")
sys.addaudithook(refuse)
"""
DESK = """
import time
from pathlib import Path
from robust_ledger.desk.shell.application import make_application
from robust_ledger.desk.shell.window import Window
from robust_ledger.desk.kit.examples import DEMO, EXAMPLES
from robust_ledger.desk.kit.spec import manifest
from robust_ledger.papers.packet import write_packet
from robust_ledger.practice.codes import Code
from robust_ledger.practice.exercise import exercise
app = make_application()
window = Window()
window.show()
window.show_start()
window.book.choose_folder(EXAMPLES)
until = time.monotonic() + 20
while not window.start.jobs.hits and time.monotonic() < until:
    app.processEvents()
assert window.start.jobs.hits
window.open_demo(DEMO)
for name, spec in manifest().items():
    if spec.alone is not None:
        window.store.open_job(exercise(Code(5, 4)).start, None)
    window.show_stage(name)
    for page in spec.pages:
        window.stage().show_page(page.name)
        app.processEvents()
assert write_packet(window.store.plan, Path(sys.argv[1]), "all")
window.save_to(Path(sys.argv[1]) / "saved.ledger.json")
window.session_ends = True
window.close()
loaded = [name for name in ("PyQt6.QtNetwork", "smtplib", "ftplib") if name in sys.modules]
print("done", loaded)
"""
COMMANDS = """
from robust_ledger.start import main
job = sys.argv[2]
for words in (["plan", job], ["check", job], ["day", job], ["book", job.rpartition("/")[0], "kitchen"], ["doctor"], ["--version"]):
    sys.argv = ["robust-ledger", *words]
    main()
print("done []")
"""


def alone() -> list[str]:
    """What runs a process without any network, where that is allowed."""
    if shutil.which("unshare") and not subprocess.run(["unshare", "-rn", "true"], capture_output=True).returncode:
        return ["unshare", "-rn"]
    return []


@pytest.mark.parametrize("work", [DESK, COMMANDS], ids=["desk", "commands"])
def test_all_the_work_is_done_without_a_network(work, tmp_path):
    job = Path(__file__).parents[1] / "examples" / "marrow-lane.ledger.json"
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "ROBUST_LEDGER_HOME": str(tmp_path / "home")}
    command = [*alone(), sys.executable, "-c", REFUSED + work, str(tmp_path), str(job)]
    done = subprocess.run(command, capture_output=True, text=True, env=environment, timeout=170)
    assert done.stdout.splitlines()[-1:] == ["done []"], done.stdout[-600:] + done.stderr[-600:]


def test_the_hook_does_refuse():
    """The twin: what reaches out is stopped by it."""
    code = REFUSED + "import socket; socket.create_connection(('127.0.0.1', 9), 1)"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.returncode == 1 and "reached for the network" in done.stderr
