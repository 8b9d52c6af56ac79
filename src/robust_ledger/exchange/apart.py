"""Reading a table from a file that may be anything: run in a process of its own, which has only so much memory and time. What unpacks to
gigabytes, or takes a library down, ends that process and nothing else.

It is told a path, and answers on standard output as JSON: {"rows": …} or {"fault": a sentence}.
"""

from __future__ import annotations

import csv
import io
import json
import resource
import sys
import zipfile
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

from robust_ledger.exchange.cells import text_of
from robust_ledger.job.doors import read_plain
from robust_ledger.ledger.text import reason_of

MOST_ROWS, MOST_COLUMNS, MOST_LETTERS = 5000, 300, 8_000_000
MOST_BYTES = 30_000_000
MOST_UNPACKED = 150_000_000
MEMORY_BYTES, SECONDS = 460_000_000, 8
BOOKS = (".xlsx", ".xls", ".xlsb", ".ods", ".xlsm")


class TableError(ValueError):
    """A table that cannot be read; the message is one sentence."""


def rows_of(path: Path) -> list[list[str]]:
    """The rows of a CSV file or of the first sheet of a workbook, every cell as text. Raises TableError."""
    try:
        data = read_plain(path, MOST_BYTES)
        if len(data) > MOST_BYTES:
            raise TableError(f"{path.name} is too large: {MOST_BYTES // 1_000_000} MB at the most.")
        raw = _book(data, path.name) if is_book(path) else _csv(data, path.name)
    except (OSError, ValueError) as problem:
        if isinstance(problem, TableError):
            raise
        reason = reason_of(problem) if isinstance(problem, OSError) else "not a name a file can have"
        raise TableError(f"{path.name} cannot be read: {reason}.") from None
    rows = [row for row in _bounded(raw, path.name) if any(cell.strip() for cell in row)]
    if not rows:
        raise TableError(f"{path.name} has no rows.")
    if len(rows) > MOST_ROWS:
        raise TableError(f"{path.name} has {len(rows):,} rows; a job has {MOST_ROWS:,} at the most.")
    return rows


def is_book(path: Path) -> bool:
    """Whether a file is read as a workbook: by its name."""
    return path.suffix.lower() in BOOKS


def _bounded(rows: Iterable[list[str]], name: str) -> Iterator[list[str]]:
    """Rows as long as they are such as a list in a house can have. Raises TableError."""
    letters = 0
    for row in rows:
        letters += sum(map(len, row)) + len(row)
        if len(row) > MOST_COLUMNS or letters > MOST_LETTERS:
            raise TableError(f"{name} has more in it than any list of a house.")
        yield row


def _book(data: bytes, name: str) -> Iterator[list[str]]:
    from python_calamine import CalamineWorkbook  # when a workbook is read

    if data.startswith(b"PK"):
        try:
            with zipfile.ZipFile(io.BytesIO(data)) as packed:
                unpacked = sum(one.file_size for one in packed.infolist())
        except (zipfile.BadZipFile, ValueError, RuntimeError):
            raise TableError(f"{name} is no workbook that can be read.") from None
        if unpacked > MOST_UNPACKED:
            raise TableError(f"{name} unpacks to {unpacked // 1_000_000:,} MB, which no list of a house has.")
    try:
        sheet = CalamineWorkbook.from_filelike(io.BytesIO(data)).get_sheet_by_index(0)
        for number, row in enumerate(sheet.iter_rows()):
            if number > 20 * MOST_ROWS:
                raise TableError(f"{name} has more in it than any list of a house.")
            yield [text_of(value) for value in row]
    except (TableError, MemoryError):
        raise
    except Exception:  # whatever the reader of workbooks raises: it has a kind of its own for each of its formats
        raise TableError(f"{name} is no workbook that can be read.") from None


def _csv(data: bytes, name: str) -> Iterator[list[str]]:
    for encoding in ("utf-8-sig", "utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "cp1252"):
        try:
            text = data.decode(encoding)
            break
        except UnicodeDecodeError:
            continue
    else:
        raise TableError(f"{name} is no text that can be read.")
    head = text[:4000]
    delimiter = max(",;\t|", key=lambda one: head.splitlines()[0].count(one) if head.strip() else 0)
    try:
        for number, row in enumerate(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter)):
            if number > 20 * MOST_ROWS:
                raise TableError(f"{name} has more in it than any list of a house.")
            yield list(row)
    except csv.Error as problem:
        raise TableError(f"{name} is no CSV: {problem}.") from None


def main(path: str) -> None:
    """Read one table with what memory and time there is, and print it."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS + 1))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    answer: dict[str, Any]
    try:
        answer = {"rows": rows_of(Path(path))}
    except TableError as problem:
        answer = {"fault": str(problem)}
    except MemoryError:
        answer = {"fault": f"{Path(path).name} takes more memory than any list of a house."}
    sys.stdout.write(json.dumps(answer))
