"""One way in for both kinds of files: interval data as text or as ESPI XML."""

from __future__ import annotations

from pathlib import Path

from robust_ledger.job.doors import open_plain
from robust_ledger.ledger.progress import Progress, unwatched
from robust_ledger.ledger.text import reason_of
from robust_ledger.measure.metering.csv_reader import Guess, Reading, guess, read_csv
from robust_ledger.measure.metering.espi import read_espi
from robust_ledger.measure.metering.recording import MeterFileError, Recording

_MOST_BYTES = 250_000_000  # ten years of readings every minute


def is_xml(path: Path) -> bool:
    """Whether a file begins like XML. Raises MeterFileError when it cannot be opened or is far too large."""
    try:
        if path.exists() and not path.is_file():
            raise MeterFileError(f"{path.name} is not a file: choose the CSV or XML file of the utility.")
        if path.stat().st_size > _MOST_BYTES:
            raise MeterFileError(f"{path.name} is larger than any recording ({_MOST_BYTES // 1_000_000} MB).")
        with open_plain(path) as file:
            return file.read(200).lstrip(b"\xef\xbb\xbf \t\r\n").startswith(b"<")
    except OSError as problem:
        raise MeterFileError(f"{path.name} cannot be read: {reason_of(problem)}.") from None


def guess_file(path: Path) -> Guess | None:
    """How a text file is to be read; None for XML, which says so itself. Raises MeterFileError."""
    return None if is_xml(path) else guess(path)


def read_recording(path: Path, reading: Reading | None, progress: Progress = unwatched) -> Recording:
    """Read a recording; `reading` None for XML. Raises MeterFileError, CanceledError."""
    return read_espi(path, progress) if reading is None else read_csv(path, reading, progress)
