"""Interval data as text: delimiter, columns and unit are guessed from the head of the file and confirmed by the user."""

from __future__ import annotations

import csv
import io
import re
from array import array
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import IO, Any, get_args

import numpy as np
from msgspec import Struct
from msgspec.structs import asdict

from robust_ledger.job.doors import open_plain
from robust_ledger.ledger.progress import Progress, go_on, unwatched
from robust_ledger.ledger.text import reason_of
from robust_ledger.measure.metering.recording import MeterFileError, Recording, Unit
from robust_ledger.measure.metering.stamps import (
    StampReader,
    guess_date_order,
    in_figures,
    looks_like_date,
    looks_like_time,
)

_SAMPLE = 64 * 1024
_REPORT_EVERY = 5_000
_MOST_COLUMNS = 200
_MOST_FAULTS = 50
MOST_READ = 1e9  # no meter of a dwelling shows more, in any unit
_UNIT_WORDS: tuple[tuple[str, Unit], ...] = (
    (r"register|cumulative|meter read|index", "register kWh"),
    (r"\bkwh\b|kwh", "kWh"),
    (r"\bwh\b", "Wh"),
    (r"\bkw\b|kw\b|demand", "kW"),
    (r"\bwatts?\b|\(w\)", "W"),
    (r"\bamps?\b|amperes?|\(a\)|current", "A"),
)
_VALUE_WORDS = re.compile(
    r"kwh|\bkw\b|usage|consumption|energy|demand|delivered|import|amps?|ampere|leg|watts?|reading", re.I
)
_NOT_VALUE_WORDS = re.compile(r"cost|price|temp|rate|account|export|received|generation|day|note|id\b", re.I)

_OUT_WORDS = re.compile(r"export|\bsent\b|received|returned|generat|fed[ -]?(?:in|back)|to (?:the )?grid", re.I)


class Reading(Struct, frozen=True):
    """How a text file is read. Columns count from 0; `columns` has one for the service or two for its legs."""

    delimiter: str = ","
    head_row: int = 0
    date_column: int = 0
    time_column: int | None = None
    columns: tuple[int, ...] = (1,)
    unit: Unit = "kWh"
    date_order: str = "ymd"
    decimal: str = "."

    def as_dict(self) -> dict[str, Any]:
        """As a job remembers it."""
        return {**asdict(self), "columns": list(self.columns)}

    @classmethod
    def from_dict(cls, data: dict[str, Any]) -> Reading:
        """The way of reading a job remembers. Raises MeterFileError when it makes no sense."""
        try:
            made = cls(**{**data, "columns": tuple(data["columns"])})
        except (KeyError, TypeError):
            raise MeterFileError("The job does not remember how this file was read; read it anew.") from None
        if made.unit not in get_args(Unit):
            raise MeterFileError(f'"{made.unit}" is no unit that a recording can have.')
        return made


class Guess(Struct, frozen=True):
    """What a file looks like: the way of reading it, its column heads, its first rows, and what is not certain. Without `unit_known`
    nobody has said what the figures are, and nothing is read as a demand; `legs` are two columns that look like the two legs."""

    reading: Reading
    heads: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    doubts: tuple[str, ...]
    unit_known: bool = True
    legs: tuple[int, int] | None = None


def guess(path: Path, delimiter: str = "") -> Guess:
    """Look at the head of a file; a `delimiter` that is given is not guessed.

    Raises MeterFileError when no dates or no readings can be found in it.
    """
    with _open(path) as file:
        text = file.read(_SAMPLE)
    lines = text.splitlines()[: 200 if len(text) < _SAMPLE else -1]
    if not any(line.strip() for line in lines):
        raise MeterFileError(f"{path.name} is empty.")
    delimiter = delimiter or _guess_delimiter(lines)
    rows = [[cell.strip() for cell in row] for row in csv.reader(lines, delimiter=delimiter)]
    first = next((n for n, row in enumerate(rows) if _date_cells(row)), None)
    if first is None:
        raise MeterFileError(f"{path.name} has no column of dates: it is not a recording of intervals.")
    body = [row for row in rows[first:] if _date_cells(row)]
    width = len(rows[first])
    if width > _MOST_COLUMNS:
        raise MeterFileError(f"{path.name} has {width} columns; a recording has a time and a reading in each row.")
    heads = _heads(rows[first - 1] if first else [], width)
    if sum(looks_like_time(head) for head in heads) >= 20:
        raise MeterFileError(
            f"{path.name} has one row a day with its readings side by side; save it with one reading in each row."
        )
    return _guess_columns(path, delimiter, first, heads, body)


def _guess_columns(path: Path, delimiter: str, first: int, heads: list[str], body: list[list[str]]) -> Guess:
    doubts = []
    dates = _date_cells(body[0])
    date_column = dates[0]
    time_column = None
    day = in_figures(body[0][date_column].strip())
    if " " not in day and "T" not in day:
        time_column = next((n for n, cell in enumerate(body[0]) if n != date_column and looks_like_time(cell)), None)
        if time_column is None:
            raise MeterFileError(f"{path.name} has dates but no times of day: daily totals cannot show a demand.")
    decimal = "," if delimiter != "," and any(re.fullmatch(r"-?\d+,\d+", c) for row in body for c in row) else "."
    taken = {date_column, time_column, *dates}
    candidates = [n for n in range(len(heads)) if n not in taken and _is_column_of_numbers(body, n, decimal)]
    if not candidates:
        raise MeterFileError(f"{path.name} has no column of readings beside its dates.")
    scored = sorted(candidates, key=lambda n: -_score(heads[n]))
    columns: tuple[int, ...] = (scored[0],)
    legs = _pair_of_legs(candidates, heads)
    if legs:
        columns = legs
    elif len(scored) > 1 and _score(heads[scored[0]]) == _score(heads[scored[1]]):
        names = ", ".join(f'"{heads[n]}"' for n in scored[:4])
        doubts.append(f"{len(scored)} columns hold numbers ({names}): choose the one with what the house took.")
    unit = _guess_unit(heads[columns[0]])
    known = unit is not None
    if unit is None:
        unit = "kWh"
        doubts.append("No column head names a unit: choose it.")
    order, sure = guess_date_order([row[date_column] for row in body if date_column < len(row)])
    if not sure:
        doubts.append("The dates can be read as month/day or as day/month: choose.")
    reading = Reading(delimiter, first - 1, date_column, time_column, columns, unit, order, decimal)
    first_rows = tuple(tuple(row) for row in body[:6])
    return Guess(reading, tuple(heads), first_rows, tuple(doubts), known, legs)


_LEG = re.compile(r"(?<![a-z])(leg|line|phase|l|ph|ct|channel|ch|amps?|current)[ _.#-]*([12ab])(?![a-z0-9])", re.I)


def _pair_of_legs(candidates: Sequence[int], heads: Sequence[str]) -> tuple[int, int] | None:
    """The two columns whose heads differ in nothing but a leg's number or letter: "L1 A" and "L2 A", "Leg A" and "Leg B"."""
    found: dict[str, dict[str, int]] = {}
    for n in candidates:
        if match := _LEG.search(heads[n]):
            rest = (heads[n][: match.start(2)] + "?" + heads[n][match.end(2) :]).lower()
            found.setdefault(rest, {})[match[2].lower()] = n
    for pair in found.values():
        for one, two in (("1", "2"), ("a", "b")):
            if one in pair and two in pair:
                return pair[one], pair[two]
    return None


def read_csv(path: Path, reading: Reading, progress: Progress = unwatched) -> Recording:
    """Read a whole file as `reading` says. Rows that cannot be read are told one by one and left out.

    Raises MeterFileError when nothing can be read, CanceledError when `progress` answers False.
    """
    size = max(1, path.stat().st_size)
    stamps, offsets = array("q"), array("q")
    values = [array("d") for _ in reading.columns]
    faults: list[str] = []
    bad, out, sent_out = 0, list[int](), False
    reader = StampReader(reading.date_order)
    with _open(path) as file:
        counted = _Counted(file, size, progress)
        rows = csv.reader(counted, delimiter=reading.delimiter)
        try:
            for number, row in enumerate(rows, 1):
                if number <= reading.head_row + 1 or not row:
                    if number == reading.head_row + 1:
                        out = [n for n, head in enumerate(row) if _OUT_WORDS.search(head) and n not in reading.columns]
                    continue
                sent_out = sent_out or _any_out(row, out, reading.decimal)
                try:
                    time = row[reading.time_column] if reading.time_column is not None else ""
                    stamp, offset = reader.read(row[reading.date_column], time)
                    found = [_number(row[column], reading.decimal) for column in reading.columns]
                except (ValueError, IndexError) as problem:
                    if any(cell.strip() for cell in row):
                        bad += 1
                        if len(faults) < _MOST_FAULTS:
                            faults.append(f"Row {number}: {_words(problem, row, reading)}")
                    continue
                stamps.append(stamp)
                offsets.append(offset)
                for column, value in zip(values, found, strict=True):
                    column.append(value)
        except csv.Error as problem:
            raise MeterFileError(f"{path.name} cannot be read near row {len(stamps) + 1}: {problem}.") from None
    if not len(stamps):
        raise MeterFileError(f"{path.name} has no row that can be read as chosen{': ' + faults[0] if faults else ''}.")
    if bad > len(faults):
        faults.append(f"And {bad - len(faults)} more rows that cannot be read.")
    zoned = reader.zoned
    return Recording(
        np.frombuffer(stamps, dtype=np.int64).copy(),
        np.column_stack([np.frombuffer(column, dtype=np.float64) for column in values]),
        reading.unit,
        np.frombuffer(offsets, dtype=np.int64).copy() if zoned else None,
        tuple(faults),
        sent_out=sent_out,
    )


def _any_out(row: Sequence[str], columns: Sequence[int], decimal: str) -> bool:
    """Whether a row tells of energy sent out, in a column beside what the house took."""
    for column in columns:
        try:
            if column < len(row) and _number(row[column], decimal) > 0:
                return True
        except ValueError:
            continue
    return False


_LONGEST_LINE = 100_000  # letters
MOST_READINGS = 6_000_000  # ten years of them every minute


class _Counted:
    """Lines of a file, telling how far it is."""

    def __init__(self, file: IO[str], size: int, progress: Progress) -> None:
        self.file, self.size, self.progress = file, size, progress

    def __iter__(self) -> Iterator[str]:
        done = number = 0
        while line := self.file.readline(_LONGEST_LINE):
            done += len(line)
            if len(line) >= _LONGEST_LINE or number > MOST_READINGS:
                raise csv.Error("a line is longer, or there are more of them, than in any recording")
            if number % _REPORT_EVERY == 0:
                go_on(self.progress, min(1.0, done / self.size))
            number += 1
            yield line


def _open(path: Path) -> IO[str]:
    """The file as text; raises MeterFileError when it is none."""
    try:
        if path.exists() and not path.is_file():
            raise MeterFileError(f"{path.name} is not a file: choose the CSV or XML file of the utility.")
        with open_plain(path) as file:
            head = file.read(4096)
            if b"\0" in head and not head.startswith((b"\xff\xfe", b"\xfe\xff")):
                raise MeterFileError(f"{path.name} is not a text file: choose the CSV or XML file of the utility.")
            file.seek(0)
            sample = file.read(_SAMPLE)
    except OSError as problem:
        raise MeterFileError(f"{path.name} cannot be read: {reason_of(problem)}.") from None
    encoding = "utf-16" if head.startswith((b"\xff\xfe", b"\xfe\xff")) else "utf-8-sig"
    try:
        sample[: len(sample) - 4].decode(encoding)
    except UnicodeDecodeError:
        encoding = "cp1252"
    return io.TextIOWrapper(open_plain(path), encoding=encoding, errors="replace", newline="")


def _guess_delimiter(lines: list[str]) -> str:
    """The delimiter that most rows agree on; of equals the rarer sign, since commas stand within figures too."""
    best, most = ",", 0
    for delimiter in (",", ";", "\t", "|"):
        counts = [line.count(delimiter) for line in lines if line.strip() and line[:1].isalnum() | (line[:1] == '"')]
        common = max(set(counts), key=counts.count, default=0)
        score = counts.count(common) if common else 0
        if score and score >= most:
            best, most = delimiter, score
    return best


def _date_cells(row: list[str]) -> list[int]:
    """The cells that are dates; figures alone are one only where nothing else is: a counter may read 20250601."""
    found = [n for n, cell in enumerate(row) if looks_like_date(cell)]
    return [n for n in found if not row[n].strip().isdecimal()] or found[:1]


def _heads(row: list[str], width: int) -> list[str]:
    named = row if len(row) == width else []
    return [named[n] if named and named[n] else f"column {n + 1}" for n in range(width)]


def _is_column_of_numbers(body: list[list[str]], column: int, decimal: str) -> bool:
    cells = [row[column] for row in body if column < len(row) and row[column]]
    good = sum(_is_number(cell, decimal) for cell in cells)
    return bool(cells) and good >= 0.8 * len(cells)


def _score(head: str) -> int:
    return 2 * bool(_VALUE_WORDS.search(head)) - 3 * bool(_NOT_VALUE_WORDS.search(head))


def _guess_unit(head: str) -> Unit | None:
    return next((unit for pattern, unit in _UNIT_WORDS if re.search(pattern, head, re.I)), None)


def _is_number(cell: str, decimal: str) -> bool:
    try:
        _number(cell, decimal)
    except ValueError:
        return False
    return True


def _number(cell: str, decimal: str) -> float:
    """A reading as a number, thousands separators left out. Raises ValueError for anything that no meter shows."""
    try:
        value = float(cell)
    except ValueError:
        plain = cell.strip().replace(" ", "")
        plain = plain.replace(".", "").replace(",", ".") if decimal == "," else plain.replace(",", "")
        value = float(plain)
    if not abs(value) <= MOST_READ:  # nor infinity, nor not-a-number
        raise ValueError(cell)
    return value


def _words(problem: Exception, row: list[str], reading: Reading) -> str:
    if isinstance(problem, IndexError):
        return f"it has {len(row)} cells where more are needed."
    cell = row[reading.columns[0]].strip() if reading.columns[0] < len(row) else ""
    if cell and not _is_number(cell, reading.decimal):
        return f'"{cell[:30]}" is not a number.'
    if not cell:
        return "the reading is empty."
    return f'"{row[reading.date_column][:30]}" is not a date and time.'
