"""Writing a file whole or not at all."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

TEMPORARY = ".ledger-"
LEFT_AFTER_S = 600.0  # no writer takes that long: a temporary file so old is one of a writer that was killed


def write_whole(path: Path, write: Callable[[Path], object]) -> Path:
    """Write a file by way of a temporary one beside it: flushed to the disk, then put in its place in one step, with the rights
    of the one that was there. `write` is given the temporary file's path. Raises OSError; what was there stays."""
    import tempfile  # only here: it costs the desk's start more than everything else in this module

    sweep(path.parent)
    handle, name = tempfile.mkstemp(prefix=TEMPORARY, suffix=".tmp", dir=path.parent)
    os.close(handle)
    temporary = Path(name)
    try:
        write(temporary)
        _flush(temporary)
        os.chmod(temporary, path.stat().st_mode & 0o777 if path.exists() else 0o644)
        os.replace(temporary, path)
    finally:
        with suppress(OSError):
            temporary.unlink(missing_ok=True)
    with suppress(OSError):  # not every file system flushes folders
        _flush(path.parent)
    return path


def write_text(path: Path, text: str) -> Path:
    """Write a text file in UTF-8, whole or not at all. Raises OSError."""
    return write_whole(path, lambda temporary: temporary.write_text(text, encoding="utf-8"))


def sweep(folder: Path) -> None:
    """Take away the temporary files of writers that were killed."""
    with suppress(OSError):
        for one in os.scandir(folder):
            if one.name.startswith(TEMPORARY) and one.name.endswith(".tmp"):
                with suppress(OSError):
                    if time.time() - one.stat(follow_symlinks=False).st_mtime > LEFT_AFTER_S:
                        os.unlink(one.path)


def _flush(path: Path) -> None:
    file = os.open(path, os.O_RDONLY)
    try:
        os.fsync(file)
    finally:
        os.close(file)
