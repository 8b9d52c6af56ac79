"""Take one picture of every stage and page that is marked for it, from the demo job, at 1280 × 800."""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import Any

os.environ["ROBUST_LEDGER_HOME"] = tempfile.mkdtemp(prefix="robust-ledger-shots-")

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from robust_ledger.changeover import clock
from robust_ledger.changeover.holds import hold_of
from robust_ledger.changeover.record import noted, signed, stamp, ticked
from robust_ledger.desk.kit.examples import DEMO, EXAMPLES
from robust_ledger.desk.kit.spec import manifest
from robust_ledger.desk.shell.application import make_application
from robust_ledger.desk.shell.window import Window
from robust_ledger.job.edits import with_part
from robust_ledger.job.files import read_job, write_job
from robust_ledger.job.parts.record import Event
from robust_ledger.ledger.place import Place
from robust_ledger.practice.codes import Code
from robust_ledger.practice.hand_in import begun

APP = make_application()


def settle(seconds: float) -> None:
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        APP.processEvents()
        time.sleep(0.01)


def wait_for(page: Any) -> None:
    while page.progress.busy:
        settle(0.2)


def _old_panel(window: Window) -> None:
    stage: Any = window.stage()
    stage.choose_tag(10)


def _future(window: Window) -> None:
    page: Any = window.stage()
    page.page().go_to(Place("future:charger"))


def _recording(window: Window) -> None:
    stage: Any = window.stage()
    wait_for(stage.page())


def _day(window: Window) -> None:
    settle(0.5)
    _recording(window)


def _live(window: Window) -> None:
    """Half past noon of the demo's day: the power is off, the old panel is out, the second person pulls conductors."""
    begin = datetime.fromisoformat("2026-12-08T06:30:00-07:00")
    at = [begin]
    clock.now = lambda: at[0]
    tasks = {one.id: one for one in window.store.plan.changeover.tasks}

    def note(minute: float, kind: str, **values: Any) -> None:
        at[0] = begin + timedelta(minutes=minute)
        event = Event.read({"at": stamp(at[0]), "kind": kind, **values})
        window.store.edit(kind, lambda job: noted(job, window.store.plan.changeover, event))

    def hold(name: str) -> None:
        for item in hold_of(window.store.plan.changeover, name).items:
            value = {"live": "121", "dead": "0", "": "yes"}[item.reading]
            window.store.edit("tick", lambda job, item=item, value=value: ticked(job, name, item.key, value))
        window.store.edit("sign", lambda job: signed(job, window.store.plan.changeover, name, "Marta", at[0]))

    minute = 0.0
    for name, one in tasks.items():
        if one.phase == "before":
            minute += 30
            note(minute, "done", task=name, minutes=min(29, one.usual_min))
    note(minute + 5, "off")
    hold("dead")
    note(minute + 12, "done", task="prove_dead", minutes=6)
    hold("line_side")
    note(minute + 19, "done", task="line_side", minutes=6)
    note(minute + 20, "start", task="load_conductors" if "old_out" not in tasks else "marking", person=2)
    note(minute + 28, "done", task="marking", person=2)
    note(minute + 29, "start", task="wires_off", person=2)
    note(minute + 30, "start", task="line_conductors", person=1)
    at[0] = begin + timedelta(minutes=minute + 48)
    page: Any = window.stage()
    page.page().look()
    settle(2.0)


def _one_line(window: Window) -> None:
    window.store.choose_entry("service.conductors.al.dwelling")


def _garage(window: Window) -> None:
    window.go_to(Place.of("panels", "garage.breaker_a"))


def _arranged(window: Window) -> None:
    stage: Any = window.stage()
    window.activateWindow()
    drawing = stage.page("drawing")
    drawing.start_arranging()
    while drawing.progress.busy or not drawing.advice.text():
        settle(0.1)
    drawing.list.setCurrentRow(1)
    window.store.choose_entry("panel.spaces_left")


def _found(window: Window) -> None:
    """A breaker chosen, the tester at it, a fault named."""
    page: Any = window.stage()
    view = page.page().view
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.spot_of("space:14a").toPoint())
    page.page().test.click()
    page.naming.kind.setCurrentIndex(page.naming.kind.findData("odd_tandem"))
    page.naming.name()
    page.naming.at("15")


def _circuit(window: Window) -> None:
    stage: Any = window.stage()
    drawing = stage.page("drawing")
    if drawing.take.isEnabled():
        drawing.take.click()
    window.go_to(Place("branch:tag:10"))


# What is done on a page before its picture is taken, so that it shows work and not an empty form.
BEFORE: dict[str, Callable[[Window], None]] = {
    "pulloff": _old_panel,
    "load-whatif": _future,
    "load-measured": _recording,
    "changeover-day": _day,
    "changeover-live": _live,
    "service-drawing": _one_line,
    "service-panels": _garage,
    "bench-drawing": _arranged,
    "bench-circuits": _circuit,
    "practice-found": _found,
}


def shoot_book(window: Window, folder: Path, shoot: Callable[[], None]) -> None:
    """The first page with a few made-up jobs, one of them today's, one damaged, one looked for."""
    jobs = (
        ("Larch Avenue 12", "Okafor", date.today().isoformat(), "planned"), ("Quince Court 4", "Brandt", "2026-11-20", "done"),
        ("Hazel Street 77", "Nakamura", "2026-10-30", "inspected"), ("Pine Hollow 3", "Delgado", "2026-12-04", "planned"),
        ("Rowan Lane 19", "Whitlock", "2026-11-24", "in_work"),
    )  # fmt: skip
    folder.mkdir()
    shipped = [read_job(path) for path in sorted(EXAMPLES.glob("*.ledger.json"))]
    for number, (title, customer, day, stands) in enumerate(jobs):
        job = with_part(shipped[number % 3], "heading", title=title, customer=customer, address=title, stands=stands)
        write_job(with_part(job, "day", date=day), folder / f"{number}.ledger.json")
    (folder / "broken.ledger.json").write_text("{")
    window.settings.put("asked_first", True)
    window.show_start()
    window.book.choose_folder(folder)
    while len(window.start.jobs.hits) < 6:  # type: ignore[union-attr]
        settle(0.1)
    shoot()
    window.book.stop()


def main(folder: Path) -> None:
    window = Window()
    window.resize(1280, 800)
    window.show()
    folder.mkdir(parents=True, exist_ok=True)

    def shoot(name: str) -> None:
        BEFORE.get(name, lambda _window: None)(window)
        settle(0.6)
        window.grab().save(str(folder / f"{name}.png"))

    with tempfile.TemporaryDirectory() as name:
        os.environ["HOME"] = name
        shoot_book(window, Path(name) / "Jobs", lambda: shoot("start"))
    window.open_demo(DEMO)
    for stage in manifest().values():
        if stage.alone is not None:
            window.store.open_job(begun(Code(5, 31), clock.now()), None)
            window.show_ledger()
        window.show_stage(stage.name)
        if stage.pictured:
            shoot(stage.name)
        for page in stage.pages:
            if page.pictured:
                made: Any = window.stage()
                made.show_page(page.name)
                shoot(f"{stage.name}-{page.name}")
    window.store.undo_stack.clear()


if __name__ == "__main__":
    main(Path(sys.argv[1]))
