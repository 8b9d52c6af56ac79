"""Tables as CSV and as workbooks, out and in."""

from __future__ import annotations

import csv
import io
import json
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Mapping, Sequence
from contextlib import suppress
from pathlib import Path

import msgspec

from robust_ledger.exchange.apart import TableError, is_book, rows_of
from robust_ledger.job.doors import hand_out, hand_out_text
from robust_ledger.ledger.progress import Progress, go_on, unwatched
from robust_ledger.ledger.text import guarded, reason_of

__all__ = ["TableError", "csv_text", "read_table", "summary_csv", "write_book", "write_table"]

SMALL_BYTES = 200_000  # a text so small is read at once
LOOK_S, LONGEST_S = 0.05, 20.0
Rows = Sequence[Sequence[str]]
_CHILD = "import json, sys; sys.path[:] = json.loads(sys.argv[1]); from robust_ledger.exchange.apart import main; main(sys.argv[2])"


class _Answer(msgspec.Struct):
    """What the process that reads a table has to say."""

    rows: list[list[str]] = []
    fault: str = ""


def csv_text(rows: Rows) -> str:
    """Rows as CSV, for spreadsheets and programs alike. A row is quoted as a whole where a cell has what another country's spreadsheet cuts
    at: what stands behind it would be a cell of its own there, and might be worked out."""
    out = io.StringIO()
    usual, quoted = (
        csv.writer(out, lineterminator="\r\n", quoting=kind) for kind in (csv.QUOTE_MINIMAL, csv.QUOTE_ALL)
    )
    for row in rows:
        (quoted if any(sign in cell for cell in row for sign in ";\t|") else usual).writerow(row)
    return out.getvalue()


def summary_csv(rows: Rows) -> str:
    """Rows to be read by people, as CSV: whatever a cell says, no spreadsheet works it out."""
    return csv_text([[guarded(cell) for cell in row] for row in rows])


def write_table(rows: Rows, path: Path, name: str) -> Path:
    """Write rows as CSV, or as a workbook where the name ends in .xlsx; whole or not at all. Raises OSError."""
    if path.suffix.lower() == ".xlsx":
        return write_book({name: rows}, path)
    return hand_out_text(path, "\ufeff" + csv_text(rows))


def write_book(sheets: Mapping[str, Rows], path: Path) -> Path:
    """Write a workbook, a sheet for each table: heads bold and frozen, every cell as text or as a number, never as a formula. Raises OSError."""
    import xlsxwriter  # when a workbook is written

    def write(temporary: Path) -> None:
        """Into a temporary file beside it."""
        book = xlsxwriter.Workbook(
            str(temporary), {"strings_to_formulas": False, "strings_to_urls": False, "in_memory": True}
        )
        bold = book.add_format({"bold": True, "bottom": 1})
        for name, rows in sheets.items():
            sheet = book.add_worksheet(name[:31])
            sheet.freeze_panes(1, 0)
            for number, row in enumerate(rows):
                for column, value in enumerate(row):
                    if number and _is_number(value):
                        sheet.write_number(number, column, float(value))
                    else:
                        sheet.write_string(number, column, value, bold if not number else None)
            widths = [
                max((len(row[c]) for row in rows if c < len(row)), default=8)
                for c in range(max(map(len, rows), default=0))
            ]
            for column, width in enumerate(widths):
                sheet.set_column(column, column, min(48, max(6, width + 2)))
        book.close()

    return hand_out(path, write)


def _is_number(text: str) -> bool:
    """Whether a cell is a number that reads back as it is written."""
    try:
        return repr(float(text)) == text or str(int(text)) == text
    except ValueError:
        return False


def read_table(path: Path, progress: Progress = unwatched) -> list[list[str]]:
    """The rows of a CSV file or of the first sheet of a workbook, every cell as text. What is no small text is read by a process of its own,
    with limits of memory and time. Raises TableError, CanceledError."""
    try:
        if not is_book(path) and os.stat(path).st_size <= SMALL_BYTES:
            return rows_of(path)
    except (OSError, ValueError):
        return rows_of(path)  # which says what is wrong with it
    try:
        return _read_apart(path, progress)
    except OSError as problem:  # no process, or no room for what it says
        raise TableError(f"{path.name} cannot be read: {reason_of(problem)}.") from None


def _read_apart(path: Path, progress: Progress) -> list[list[str]]:
    command = [sys.executable, "-I", "-c", _CHILD, json.dumps(sys.path), str(path)]
    with tempfile.TemporaryFile() as out:
        with subprocess.Popen(command, stdin=subprocess.DEVNULL, stdout=out, stderr=subprocess.DEVNULL) as child:
            begun = time.monotonic()
            try:
                while child.poll() is None:
                    with suppress(subprocess.TimeoutExpired):
                        child.wait(LOOK_S)
                    passed = time.monotonic() - begun
                    go_on(progress, min(0.95, passed / LONGEST_S))
                    if passed > LONGEST_S:
                        raise TableError(f"{path.name} takes longer to read than any list of a house.")
            finally:
                child.kill()
        out.seek(0)
        try:
            answer = msgspec.json.decode(out.read(), type=_Answer)
        except msgspec.DecodeError:
            raise TableError(
                f"{path.name} is no table that can be read: it takes more memory or time than any list of a house."
            ) from None
    if answer.fault:
        raise TableError(answer.fault)
    return answer.rows
