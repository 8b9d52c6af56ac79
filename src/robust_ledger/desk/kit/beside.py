"""The files a job names, beside it: its recording and photos. Names say what is in a file, so that no other job's is taken for it."""

from __future__ import annotations

from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path

from robust_ledger.job.whole import write_whole
from robust_ledger.ledger.text import reason_of

MOST_BYTES = 200_000_000  # of a file that is copied along


class Beside:
    """Where the files of the job in hand are: in its folder, or still where they were found."""

    def __init__(self) -> None:
        self.folder: Path | None = None
        self.found: dict[str, Path] = {}

    def begin(self, folder: Path | None, found: Iterable[tuple[str, Path]] = ()) -> None:
        """Another job is on the desk."""
        self.folder, self.found = folder, dict(found)

    def find(self, name: str) -> Path | None:
        """The file of a name, beside the job or where it was found; None when it is nowhere."""
        if not name or Path(name).is_absolute() or ".." in Path(name).parts:
            return None
        places = [self.folder / name] if self.folder else []
        places += [self.found[name]] if name in self.found else []
        with suppress(OSError, ValueError):
            return next((place for place in places if place.is_file()), None)
        return None

    def name_for(self, source: Path) -> str:
        """The name a photo gets beside the job: its own, with a mark of what is in it. Raises OSError."""
        import hashlib

        data = _read(source)
        plain = "".join(c if (c.isalnum() and c.isascii()) or c in "-_" else "-" for c in source.stem).strip("-")[-60:]
        suffix = "".join(c for c in source.suffix.lower() if (c.isalnum() and c.isascii()) or c == ".")[:8]
        return f"photos/{plain or 'photo'}-{hashlib.sha256(data).hexdigest()[:10]}{suffix}"

    def bring(self, name: str, folder: Path) -> str:
        """Put a file beside the job that is saved in `folder`; "" or a sentence. A copy that was cut short is mended; another
        file of that name is left alone, and said."""
        target = folder / name
        places = [self.found.get(name), self.folder / name if self.folder else None]
        source = next((one for one in places if one is not None and one != target and one.is_file()), None)
        if source is None:
            return ""
        try:
            data = _read(source)
            if target.exists():
                there = _read(target)
                if there == data:
                    return ""
                if not data.startswith(there):
                    return f"{name} beside the job is another file and was left alone; the job's own is {source}."
            target.parent.mkdir(parents=True, exist_ok=True)
            write_whole(target, lambda temporary: temporary.write_bytes(data))
        except OSError as problem:
            reason = reason_of(problem)
            return f"The job is kept; {name} could not be put beside it: {reason}."
        return ""


def _read(path: Path) -> bytes:
    if not path.is_file():
        raise OSError(22, "not a file")
    if path.stat().st_size > MOST_BYTES:
        raise OSError(27, "larger than a photo or recording can be")
    return path.read_bytes()
