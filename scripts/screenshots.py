"""Take one picture of every main view from the demo job, at 1280 × 800."""

from __future__ import annotations

import os
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

os.environ["ROBUST_LEDGER_HOME"] = tempfile.mkdtemp(prefix="robust-ledger-shots-")

from robust_ledger.desk.shell.application import make_application
from robust_ledger.desk.shell.startpage import DEMO
from robust_ledger.desk.shell.window import Window


def main(folder: Path) -> None:
    app = make_application()
    window = Window()
    window.resize(1280, 800)
    window.show()

    def settle(seconds: float) -> None:
        until = time.monotonic() + seconds
        while time.monotonic() < until:
            app.processEvents()
            time.sleep(0.01)

    def shoot(name: str) -> None:
        settle(0.6)
        window.grab().save(str(folder / f"{name}.png"))

    folder.mkdir(parents=True, exist_ok=True)
    window.show_start()
    shoot("start")
    window.open_demo(DEMO)
    walk: Any = window.stage()
    for page in ("scope", "chain", "earth", "fit", "overhead", "location", "defects"):
        walk.show_page(page)
        if page in ("chain", "earth", "fit", "overhead", "defects"):
            shoot(f"walk-{page}")
    window.show_stage("pulloff")
    window.stage().choose_tag(10)  # type: ignore[attr-defined]
    shoot("pulloff")
    window.show_stage("load")
    shoot("load-house")
    load: Any = window.stage()
    for page in ("tape", "whatif", "measured", "day"):
        load.show_page(page)
        if page == "whatif":
            load.page().go_to("future:charger")
        while page in ("measured", "day") and load.page().progress.busy:
            settle(0.2)
        if page == "day":
            load.page().study_button.click()
            while load.page().progress.busy:
                settle(0.2)
        shoot(f"load-{page}")
    window.show_stage("service")
    window.store.choose_entry("service.conductors.al.dwelling")
    shoot("service")
    service: Any = window.stage()
    for page in ("alternatives", "fault"):
        service.show_page(page)
        if page == "alternatives":
            service.page(page).table.choose("150.al")
            service.page(page)._chosen("150.al")
        shoot(f"service-{page}")
    window.show_stage("bench")
    bench: Any = window.stage()
    window.activateWindow()
    drawing = bench.page("drawing")
    drawing.start_arranging()
    while drawing.progress.busy or not drawing.advice.text():
        settle(0.1)
    drawing.list.setCurrentRow(1)
    window.store.choose_entry("panel.spaces_left")
    shoot("bench")
    drawing.take.click()
    for page in ("circuits", "schedule"):
        bench.show_page(page)
        bench.go_to("branch:tag:10")
        window.store.choose_place("branch:tag:10")
        shoot(f"bench-{page}")
    window.show_stage("papers")
    shoot("papers")
    window.store.undo_stack.clear()


if __name__ == "__main__":
    main(Path(sys.argv[1]))
