"""Opening the desk."""

from __future__ import annotations

import argparse
import signal
import sys
from pathlib import Path
from types import TracebackType
from typing import NoReturn

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from robust_ledger.desk.kit.examples import DEMO
from robust_ledger.desk.kit.settings import home
from robust_ledger.desk.kit.theme import load_fonts
from robust_ledger.desk.shell.window import Window
from robust_ledger.job.files import JobFileError, read_job


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
            print(problem, file=sys.stderr)
            return 2
    app = make_application()
    window = Window()
    install_guard(window)
    if options.demo:
        window.open_demo(DEMO)
    elif options.job:
        window.open_path(options.job)
    else:
        window.show_start()
    window.show()
    signal.signal(signal.SIGINT, lambda *_: app.quit())
    # Lets Python see the signal while Qt waits.
    heartbeat = QTimer()
    heartbeat.start(300)
    heartbeat.timeout.connect(lambda: None)
    code = app.exec()
    window.store.undo_stack.clear()
    return code


def make_application() -> QApplication:
    """The Qt application with the shipped fonts."""
    app = QApplication.instance() or QApplication(["robust-ledger"])
    assert isinstance(app, QApplication)
    app.setApplicationName("Robust Ledger")
    app.setStyle("Fusion")
    load_fonts()
    return app


def install_guard(window: Window) -> None:
    """An error nobody foresaw goes to the log; the user gets a sentence, and the job stays open."""
    import logging
    import traceback

    log = home() / "desk.log"
    log.parent.mkdir(parents=True, exist_ok=True)
    logging.basicConfig(filename=log, level=logging.WARNING, format="%(asctime)s %(message)s")

    def guard(kind: type[BaseException], problem: BaseException, trace: TracebackType | None) -> None:
        logging.error("".join(traceback.format_exception(kind, problem, trace)))
        window.complain(f"Something went wrong inside the desk; the job is still here. Details are in {log}.")

    sys.excepthook = guard
