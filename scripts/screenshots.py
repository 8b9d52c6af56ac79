"""Take one picture of every stage and page that is marked for it, from the demo job, at 1280 × 800."""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

os.environ["ROBUST_LEDGER_HOME"] = tempfile.mkdtemp(prefix="robust-ledger-shots-")

from robust_ledger.desk.kit.examples import DEMO
from robust_ledger.desk.kit.spec import manifest
from robust_ledger.desk.shell.application import make_application
from robust_ledger.desk.shell.window import Window
from robust_ledger.job.edits import with_part
from robust_ledger.ledger.place import Place

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
    window.store.edit("two", lambda job: with_part(job, "day", people=2, promise="7:00 pm"))
    settle(0.5)
    _recording(window)


def _one_line(window: Window) -> None:
    window.store.choose_entry("service.conductors.al.dwelling")


def _garage(window: Window) -> None:
    window.go_to(Place.of("panels", "garage.breaker_a"))


def _alternative(window: Window) -> None:
    page: Any = window.stage()
    page.page().table.choose("150.al")
    page.page()._chosen("150.al")


def _arranged(window: Window) -> None:
    stage: Any = window.stage()
    window.activateWindow()
    drawing = stage.page("drawing")
    drawing.start_arranging()
    while drawing.progress.busy or not drawing.advice.text():
        settle(0.1)
    drawing.list.setCurrentRow(1)
    window.store.choose_entry("panel.spaces_left")


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
    "service-drawing": _one_line,
    "service-panels": _garage,
    "service-alternatives": _alternative,
    "bench-drawing": _arranged,
    "bench-circuits": _circuit,
}


def main(folder: Path) -> None:
    window = Window()
    window.resize(1280, 800)
    window.show()
    folder.mkdir(parents=True, exist_ok=True)

    def shoot(name: str) -> None:
        BEFORE.get(name, lambda _window: None)(window)
        settle(0.6)
        window.grab().save(str(folder / f"{name}.png"))

    window.show_start()
    shoot("start")
    window.open_demo(DEMO)
    for stage in manifest().values():
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
