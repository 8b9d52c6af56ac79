"""Writing a file whole or not at all."""

from __future__ import annotations

import errno
import os
import stat
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

TEMPORARY = ".ledger-"
LEFT_AFTER_S = 600.0  # no writer takes that long: a temporary file so old is one of a writer that was killed


def write_whole(path: Path, write: Callable[[Path], object], private: bool = False, new: bool = False) -> Path:
    """Write a file by way of a temporary one beside it: flushed to the disk, then put in its place in one step, with the rights
    of the one that was there. `write` is given the temporary file's path. `private`: nobody else's to read. `new`: there must be
    none yet, not even one that comes while this is written. Raises OSError; what was there stays, and only a plain file gives way."""
    import tempfile  # only here: it costs the desk's start more than everything else in this module

    rights = 0o600 if private else _rights_of(path)
    sweep(path.parent)
    handle, name = tempfile.mkstemp(prefix=TEMPORARY, suffix=".tmp", dir=path.parent)
    os.close(handle)
    temporary = Path(name)
    try:
        write(temporary)
        _flush(temporary)
        os.chmod(temporary, rights)
        _put_new(temporary, path) if new else os.replace(temporary, path)
    finally:
        with suppress(OSError):
            temporary.unlink(missing_ok=True)
    with suppress(OSError):  # not every file system flushes folders
        _flush(path.parent)
    return path


def write_text(path: Path, text: str, private: bool = False) -> Path:
    """Write a text file in UTF-8, whole or not at all. Raises OSError."""
    return write_whole(path, lambda temporary: temporary.write_text(text, encoding="utf-8"), private)


def private_folder(folder: Path) -> Path:
    """Make a folder that nobody else may look into, with what is above it; one that is there already is closed to others. Raises OSError."""
    if not folder.is_dir():
        private_folder(folder.parent) if not folder.parent.exists() else None
        folder.mkdir(mode=0o700, exist_ok=True)
    elif os.stat(folder).st_mode & 0o077 and folder not in (Path.home(), *Path.home().parents):
        with suppress(PermissionError):  # somebody else's: they say who may look into it
            os.chmod(folder, 0o700)
    return folder


def _put_new(temporary: Path, path: Path) -> None:
    """Put a file where there is none. Raises FileExistsError."""
    try:
        os.link(temporary, path)
    except OSError as problem:
        if problem.errno not in (errno.EPERM, errno.ENOTSUP, errno.ENOSYS, errno.EMLINK):
            raise
        os.close(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600))  # a file system without second names
        os.replace(temporary, path)


def _rights_of(path: Path) -> int:
    """The rights of the file that is to be written: those of the one that is there. Raises OSError where that is no plain file, as a new one
    would take the place of a link, a pipe or a device."""
    try:
        mode = os.lstat(path).st_mode
    except FileNotFoundError:
        return 0o644
    if stat.S_ISREG(mode):
        return mode & 0o777
    words = {stat.S_IFDIR: "is a directory", stat.S_IFLNK: "is a link to another place"}
    raise OSError(errno.EPERM, words.get(stat.S_IFMT(mode), "is a pipe or a device"), str(path))


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
