"""The doors to the disk: what a job names is read and written inside its own folder only, what is read is a plain file, and what is
handed out never takes the place of a job.

A job may come from anybody, by a share or by mail. The names of photos and recordings in it are theirs, not the user's: one that leads
out of the folder, by itself or by a link on the way, would read the user's files or overwrite them.
"""

from __future__ import annotations

import errno
import os
import re
import stat
from collections.abc import Callable
from pathlib import Path
from typing import BinaryIO

from robust_ledger.job.whole import write_whole

MOST_BYTES = 200_000_000  # of a file that is copied along
MOST_LETTERS, DEEPEST = 240, 6
# What a photo or a recording is called. Anything else, put beside a job, could be what a desktop starts or a shell reads.
PICTURES = (".png", ".jpg", ".jpeg", ".webp", ".bmp", ".gif", ".tif", ".tiff", ".heic", ".heif", ".avif")
RECORDINGS = (".csv", ".txt", ".tsv", ".xml", ".dat", ".asc", ".prn", ".log")
_DEVICES = frozenset(("con", "prn", "aux", "nul", *(f"{port}{n}" for port in ("com", "lpt") for n in range(1, 10))))
_OURS = re.compile(rb'"format"\s*:\s*"(robust-ledger-[a-z]+)"')
_HEAD_BYTES = 20_000_000
_LOOK = os.O_RDONLY | os.O_CLOEXEC | os.O_NONBLOCK  # a pipe that nobody writes into must not hold anybody up


class DoorError(OSError):
    """A file that is not read or written; the reason is part of a sentence, as those of the system are."""

    def __init__(self, reason: str, path: Path | str = "") -> None:
        super().__init__(errno.EPERM, reason, str(path))


# --- a job's own files ----------------------------------------------------------------------------------------------------
def own_parts(name: str) -> tuple[str, ...]:
    """The way from a job's folder to a file that it names. Raises DoorError for a name that leads anywhere else, or that is none of a photo
    or a recording."""
    if not name or not name.isprintable() or len(name) > MOST_LETTERS * DEEPEST:
        raise DoorError("its name is none that a file beside a job can have", name[:MOST_LETTERS])
    if name.startswith(("/", "~")) or "\\" in name or name[1:2] == ":":
        raise DoorError("its name is a place of its own, not one in the job's folder", name)
    parts = tuple(part for part in name.split("/") if part not in ("", "."))
    if ".." in parts or not parts or len(parts) > DEEPEST:
        raise DoorError("its name leads out of the job's folder", name)
    for part in parts:
        if part.startswith(".") or len(part.encode("utf-8", "replace")) > MOST_LETTERS:
            raise DoorError("its name is none that a file beside a job can have", name)
        if part.partition(".")[0].strip().lower() in _DEVICES:
            raise DoorError("its name is that of a device", name)
    if os.path.splitext(parts[-1])[1].lower() not in (*PICTURES, *RECORDINGS):
        raise DoorError("its name is neither that of a picture nor that of a recording", name)
    return parts


def inside(folder: Path, name: str) -> Path:
    """Where a file that a job names is, or would be, in the job's folder. Raises DoorError: a name that leads out of it, a link on the way,
    something that is no plain file."""
    at, parts = folder, own_parts(name)
    for number, part in enumerate(parts, 1):
        at = at / part
        try:
            mode = os.lstat(at).st_mode
        except FileNotFoundError:
            break
        if stat.S_ISLNK(mode):
            raise DoorError("a link is on the way to it", name)
        if not (stat.S_ISREG(mode) if number == len(parts) else stat.S_ISDIR(mode)):
            raise DoorError("it is not a plain file", name)
    return folder.joinpath(*parts)


def is_inside(folder: Path | None, name: str) -> bool:
    """Whether a file that a job names is in the job's folder."""
    try:
        return folder is not None and inside(folder, name).is_file()
    except (OSError, ValueError):
        return False


def put_inside(folder: Path, name: str, data: bytes, private: bool = False) -> Path:
    """Write a file that a job names into a folder, whole or not at all. Raises OSError."""
    target = inside(folder, name)
    for above in reversed(target.relative_to(folder).parents[:-1]):
        (folder / above).mkdir(mode=0o700 if private else 0o777, exist_ok=True)
    inside(folder, name)  # once more: what was made in the meantime may be a link
    return write_whole(target, lambda temporary: temporary.write_bytes(data), private)


# --- reading --------------------------------------------------------------------------------------------------------------
def open_plain(path: Path) -> BinaryIO:
    """A plain file, open to be read. Raises OSError: no pipe and no device is read, as neither has to end."""
    file = os.open(path, _LOOK)
    mode = os.fstat(file).st_mode
    if stat.S_ISREG(mode):
        return os.fdopen(file, "rb")
    os.close(file)
    if stat.S_ISDIR(mode):
        raise IsADirectoryError(errno.EISDIR, "is a directory", str(path))
    raise DoorError("is a pipe or a device", path)


def read_plain(path: Path, most: int = MOST_BYTES) -> bytes:
    """The bytes of a plain file; one byte more than `most` where it has more. Raises OSError, as `open_plain`."""
    with open_plain(path) as opened:
        return opened.read(most + 1)


def read_inside(folder: Path, name: str, most: int = MOST_BYTES) -> bytes:
    """The bytes of a file that a job names; no link is followed, not even one that is put there meanwhile. Raises OSError."""
    parts = own_parts(name)
    here = os.open(folder, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC)
    try:
        for part in parts[:-1]:
            below = os.open(part, os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC, dir_fd=here)
            os.close(here)
            here = below
        file = os.open(parts[-1], _LOOK | os.O_NOFOLLOW, dir_fd=here)
    except OSError as problem:
        if problem.errno in (errno.ELOOP, errno.ENOTDIR):
            raise DoorError("a link is on the way to it", name) from None
        raise
    finally:
        os.close(here)
    with os.fdopen(file, "rb") as opened:
        if not stat.S_ISREG(os.fstat(file).st_mode):
            raise DoorError("it is not a plain file", name)
        return _no_longer(opened.read(most + 1), most, name)


def read_source(path: Path, most: int = MOST_BYTES) -> bytes:
    """The bytes of a file that the user chose, to be copied along. Raises OSError."""
    return _no_longer(read_plain(path, most), most, path)


def _no_longer(data: bytes, most: int, path: Path | str) -> bytes:
    if len(data) > most:
        raise OSError(errno.EFBIG, "larger than a photo or recording can be", str(path))
    return data


# --- handing out ----------------------------------------------------------------------------------------------------------
def hand_out(path: Path, write: Callable[[Path], object], over: str = "") -> Path:
    """Write something that is handed out, a sheet, a table, a drawing, whole or not at all. Raises OSError where a job or a profile is
    there already, or where it would be taken for one. `over`: the format of ours whose file may be replaced, and whose name it may have."""
    if not over and path.name.casefold().endswith((".ledger.json", ".ledger-profile.json")):
        raise DoorError("that is the name of a job or a profile", path)
    found = format_in(path)
    if found and found != over:
        what = "a profile" if found == "robust-ledger-profile" else "a job"
        raise DoorError(f"it is {what} of Robust Ledger, which is not overwritten", path)
    return write_whole(path, write)


def hand_out_text(path: Path, text: str, over: str = "") -> Path:
    """As `hand_out`, a text in UTF-8. Raises OSError."""
    return hand_out(path, lambda temporary: temporary.write_text(text, encoding="utf-8"), over)


def format_in(path: Path) -> str:
    """The format of ours that a file has, by what is in it, not by its name; "" for none, or where there is no file to be read."""
    try:
        data = read_plain(path, _HEAD_BYTES)
    except (OSError, ValueError):
        return ""
    found = _OURS.search(data) if data.removeprefix(b"\xef\xbb\xbf").lstrip().startswith(b"{") else None
    return found.group(1).decode() if found else ""
