"""Opening the desk."""

from __future__ import annotations

import argparse
import faulthandler
import os
import signal
import sys
import threading
from contextlib import suppress
from pathlib import Path
from types import TracebackType
from typing import NoReturn

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication

from robust_ledger.desk.kit.examples import DEMO
from robust_ledger.desk.kit.theme import ASSETS, load_fonts
from robust_ledger.desk.shell.book import STUCK
from robust_ledger.desk.shell.window import Window
from robust_ledger.job.files import JobFileError, read_job
from robust_ledger.jobbook.home import close_to_others, home
from robust_ledger.jobbook.runs import Ended, Run, ended
from robust_ledger.jobbook.unsaved import left_behind, of_file


class _OneSentenceParser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        """Like everything else that is wrong on the command line: one sentence, exit code 2."""
        print(f"{message[0].upper()}{message[1:]}.", file=sys.stderr)
        sys.exit(2)


def main(arguments: list[str]) -> int:
    """Run the desk. A job that cannot be read is said in one sentence on stderr, exit code 2."""
    parser = _OneSentenceParser(prog="robust-ledger", description="Open the desk, with a job or the demo.")
    parser.add_argument("job", nargs="?", type=Path, help="a job file (*.ledger.json)")
    parser.add_argument("--demo", action="store_true", help="open the demo job")
    options = parser.parse_args(arguments)
    if options.job:
        try:
            read_job(options.job)
        except JobFileError as problem:
            if not of_file(left_behind(home() / "recovery"), options.job):
                print(problem, file=sys.stderr)
                return 2
    run = Run(home() / "runs")
    before = ended(run.place.parent)
    if run.fault is not None:
        faulthandler.enable(run.fault, all_threads=True)
    app = make_application()
    window = Window()
    install_guard(window, run)
    follow(window, run)
    if options.demo:
        window.open_demo(DEMO)
    elif options.job:
        window.open_path(options.job)
    if not window.has_job:
        window.show_start()
    window.show()
    say_first(window, before)
    QTimer.singleShot(0, _once_it_is_up)
    QTimer.singleShot(
        0, lambda: app.setWindowIcon(QIcon(str(ASSETS / "icons" / "robust-ledger.svg")))
    )  # the picture comes first
    for name in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(name, lambda *_: window.end_session())
    app.commitDataRequest.connect(lambda _manager: window.end_session())
    # Lets Python see a signal while Qt waits.
    heartbeat = QTimer()
    heartbeat.start(300)
    heartbeat.timeout.connect(lambda: None)
    code = app.exec()
    window.store.undo_stack.clear()
    faulthandler.disable()
    run.end()
    if STUCK:
        os._exit(code)  # a thread waits for a share that is gone; everything else is done
    return code


def make_application() -> QApplication:
    """The Qt application with the shipped fonts."""
    app = QApplication.instance() or QApplication(["robust-ledger"])
    assert isinstance(app, QApplication)
    app.setApplicationName("Robust Ledger")
    app.setDesktopFileName("robust-ledger")
    app.setStyle("Fusion")
    load_fonts()
    return app


def follow(window: Window, run: Run) -> None:
    """Leave a trail of what kind of thing is done."""
    run.note("the start")
    window.store.undo_stack.indexChanged.connect(lambda _: run.note("an edit"))
    window.spine.stage_asked.connect(lambda stage: run.note(f"stage {stage}"))
    window.doing.connect(run.note)


def say_first(window: Window, before: list[Ended]) -> None:
    """The first line after a run that did not close: what was being done, and a report to send."""
    if not before:
        return
    window.notice.offer_report(before[0])
    for one in before[1:]:
        one.put_away()


def install_guard(window: Window, run: Run) -> None:
    """An error nobody foresaw goes to the log; the user gets a sentence, and the job stays open."""
    log = home() / "desk.log"

    def guard(kind: type[BaseException], problem: BaseException, trace: TracebackType | None) -> None:
        import logging

        from robust_ledger.jobbook.log import OURS, frames, keep_log

        keep_log(log)
        with suppress(OSError):
            logging.getLogger(OURS).error("the desk", exc_info=(kind, problem, trace))
        run.failed(kind, frames(trace))
        window.complain(f"Something went wrong inside the desk; the job is still here. Details are in {log}.")

    sys.excepthook = guard


def _once_it_is_up() -> None:
    """What the desk's start need not wait for."""
    from robust_ledger.jobbook.log import keep_log

    keep_log(home() / "desk.log")
    threading.Thread(target=close_to_others, args=(home(),), daemon=True, name="closing").start()
