"""Writing a file whole or not at all."""

from __future__ import annotations

import os
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path


def write_whole(path: Path, write: Callable[[Path], object]) -> Path:
    """Write a file by way of a temporary one beside it: flushed to the disk, then put in its place in one step, with the rights
    of the one that was there. `write` is given the temporary file's path. Raises OSError; what was there stays."""
    import tempfile  # only here: it costs the desk's start more than everything else in this module

    handle, name = tempfile.mkstemp(prefix=f".{path.name}.", suffix=path.suffix, dir=path.parent)
    os.close(handle)
    temporary = Path(name)
    try:
        write(temporary)
        with temporary.open("rb") as file:
            os.fsync(file.fileno())
        os.chmod(temporary, path.stat().st_mode & 0o777 if path.exists() else 0o644)
        os.replace(temporary, path)
    finally:
        with suppress(OSError):
            temporary.unlink(missing_ok=True)
    return path


def write_text(path: Path, text: str) -> Path:
    """Write a text file in UTF-8, whole or not at all. Raises OSError."""
    return write_whole(path, lambda temporary: temporary.write_text(text, encoding="utf-8"))
