"""Tables as CSV and as workbooks, out and in."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping, Sequence
from pathlib import Path

from robust_ledger.exchange.cells import text_of
from robust_ledger.job.whole import write_text, write_whole
from robust_ledger.ledger.text import reason_of

MOST_ROWS = 5000
MOST_BYTES = 30_000_000
Rows = Sequence[Sequence[str]]


class TableError(ValueError):
    """A table that cannot be read; the message is one sentence."""


def csv_text(rows: Rows) -> str:
    """Rows as CSV, for spreadsheets and programs alike."""
    out = io.StringIO()
    csv.writer(out, lineterminator="\r\n").writerows(rows)
    return out.getvalue()


def write_table(rows: Rows, path: Path, name: str) -> Path:
    """Write rows as CSV, or as a workbook where the name ends in .xlsx; whole or not at all. Raises OSError."""
    if path.suffix.lower() == ".xlsx":
        return write_book({name: rows}, path)
    return write_text(path, "\ufeff" + csv_text(rows))


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

    return write_whole(path, write)


def _is_number(text: str) -> bool:
    """Whether a cell is a number that reads back as it is written."""
    try:
        return repr(float(text)) == text or str(int(text)) == text
    except ValueError:
        return False


def read_table(path: Path) -> list[list[str]]:
    """The rows of a CSV file or of the first sheet of a workbook, every cell as text. Raises TableError."""
    try:
        if path.stat().st_size > MOST_BYTES:
            raise TableError(f"{path.name} is too large: {MOST_BYTES // 1_000_000} MB at the most.")
        rows = (
            _read_book(path) if path.suffix.lower() in (".xlsx", ".xls", ".xlsb", ".ods", ".xlsm") else _read_csv(path)
        )
    except OSError as problem:
        raise TableError(f"{path.name} cannot be read: {reason_of(problem)}.") from None
    rows = [row for row in rows if any(cell.strip() for cell in row)]
    if not rows:
        raise TableError(f"{path.name} has no rows.")
    if len(rows) > MOST_ROWS:
        raise TableError(f"{path.name} has {len(rows):,} rows; a job has {MOST_ROWS:,} at the most.")
    return rows


def _read_book(path: Path) -> list[list[str]]:
    from python_calamine import CalamineWorkbook  # when a workbook is read

    try:
        book = CalamineWorkbook.from_path(str(path))
        values = book.get_sheet_by_index(0).to_python()
    except OSError:
        raise
    except Exception:
        raise TableError(f"{path.name} is no workbook that can be read.") from None
    return [[text_of(value) for value in row] for row in values]


def _read_csv(path: Path) -> list[list[str]]:
    data = path.read_bytes()
    for encoding in ("utf-8-sig", "utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "cp1252"):
        try:
            text = data.decode(encoding)
            break
        except UnicodeDecodeError:
            continue
    else:
        raise TableError(f"{path.name} is no text that can be read.")
    head = text[:4000]
    delimiter = max(",;\t|", key=lambda one: head.splitlines()[0].count(one) if head.strip() else 0)
    try:
        return [list(row) for row in csv.reader(io.StringIO(text, newline=""), delimiter=delimiter)]
    except csv.Error as problem:
        raise TableError(f"{path.name} is no CSV: {problem}.") from None
