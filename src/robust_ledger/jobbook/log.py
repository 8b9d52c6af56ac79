"""The log of the desk: what went wrong and where in the program, never with what words. The message of an exception may hold a customer's
address, so neither it nor what other packages have to say is written down."""

from __future__ import annotations

import logging
import os
import traceback
from contextlib import suppress
from functools import cache
from pathlib import Path
from types import TracebackType

from robust_ledger.job.whole import private_folder

OURS = "robust_ledger"
Trace = tuple[type[BaseException], BaseException, TracebackType | None] | tuple[None, None, None]


def frames(trace: TracebackType | None) -> list[str]:
    """Where an exception came from, a line for each place, the innermost last."""
    return [f"{one.filename}:{one.lineno} {one.name}" for one in traceback.extract_tb(trace)]


class _Wordless(logging.Formatter):
    """Kind and places of an exception; the words of a record only where they are our own and constant."""

    def format(self, record: logging.LogRecord) -> str:
        words = str(record.msg) if record.name.partition(".")[0] == OURS else f"a message of {record.name}"
        lines = [f"{self.formatTime(record)} {record.levelname} {words}"]
        if record.exc_info and record.exc_info[0] is not None:
            lines += [record.exc_info[0].__name__, *(f"  {place}" for place in frames(record.exc_info[2]))]
        return "\n".join(lines)


@cache
def keep_log(log: Path) -> None:
    """Put what goes wrong into a file that is rotated; called once the desk is up, since the desk's start need not wait for it."""
    import logging.handlers

    handler: logging.Handler = logging.NullHandler()
    with suppress(OSError):
        private_folder(log.parent)
        os.close(os.open(log, os.O_WRONLY | os.O_CREAT | os.O_APPEND, 0o600))
        handler = logging.handlers.RotatingFileHandler(log, maxBytes=500_000, backupCount=3, encoding="utf-8")
        handler.rotator = _rotated
    handler.setFormatter(_Wordless())
    logging.getLogger().addHandler(handler)


def _rotated(source: str, to: str) -> None:
    """The next file of the log is as private as the one before."""
    os.replace(source, to)
    os.close(os.open(source, os.O_WRONLY | os.O_CREAT, 0o600))
