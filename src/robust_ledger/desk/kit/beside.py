"""The files a job names, beside it: its recording and photos. Names say what is in a file, so that no other job's is taken for it."""

from __future__ import annotations

from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path

from robust_ledger.job.doors import (
    PICTURES,
    RECORDINGS,
    inside,
    is_inside,
    own_parts,
    put_inside,
    read_inside,
    read_source,
)
from robust_ledger.ledger.text import reason_of


class Beside:
    """Where the files of the job in hand are: in its folder, or still where they were found."""

    def __init__(self) -> None:
        self.folder: Path | None = None
        self.found: dict[str, Path] = {}

    def begin(self, folder: Path | None, found: Iterable[tuple[str, Path]] = ()) -> None:
        """Another job is on the desk."""
        self.folder, self.found = folder, dict(found)

    def find(self, name: str) -> Path | None:
        """The file of a name, beside the job or where it was found; None when it is nowhere, or where a job's file cannot be."""
        with suppress(OSError, ValueError):
            own_parts(name)
            if self.folder is not None and is_inside(self.folder, name):
                return inside(self.folder, name)
            found = self.found.get(name)
            return found if found is not None and found.is_file() else None
        return None

    def name_for(self, source: Path) -> str:
        """The name a photo gets beside the job: its own, with a mark of what is in it. Raises OSError."""
        import hashlib

        data = read_source(source)
        plain = "".join(c if (c.isalnum() and c.isascii()) or c in "-_" else "-" for c in source.stem).strip("-")[-60:]
        suffix = source.suffix.lower() if source.suffix.lower() in (*PICTURES, *RECORDINGS) else PICTURES[1]
        return f"photos/{plain or 'photo'}-{hashlib.sha256(data).hexdigest()[:10]}{suffix}"

    def bring(self, name: str, folder: Path) -> str:
        """Put a file beside the job that is saved in `folder`; "" or a sentence. A copy that was cut short is mended; another
        file of that name is left alone, and said."""
        try:
            target = inside(folder, name)
            data, source = self._read(name, target)
            if data is None:
                return ""
            if target.exists():
                there = read_inside(folder, name)
                if there == data:
                    return ""
                if not data.startswith(there):
                    return f"{name} beside the job is another file and was left alone; the job's own is {source}."
            put_inside(folder, name, data)
        except (OSError, ValueError) as problem:
            reason = reason_of(problem) if isinstance(problem, OSError) else "not a name a file can have"
            return f"The job is kept; {name[:120]} could not be put beside it: {reason}."
        return ""

    def _read(self, name: str, target: Path) -> tuple[bytes | None, Path]:
        """What is in the file of a name, where it was found or beside the job as it was; None when it is nowhere. Raises OSError."""
        found = self.found.get(name)
        if found is not None and found != target and found.is_file():
            return read_source(found), found
        if self.folder is not None and (own := inside(self.folder, name)) != target and own.is_file():
            return read_inside(self.folder, name), own
        return None, target
