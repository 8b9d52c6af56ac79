"""Tables of the code as CSV files: unit in the column name, source in the header, an empty cell = not in the table."""

from __future__ import annotations

import csv
from functools import cache
from pathlib import Path

from msgspec import Struct

from robust_ledger.codebook.errors import CodebookError
from robust_ledger.ledger.entry import Citation

Row = dict[str, str]


class Table(Struct, frozen=True):
    """Rows as read, with the section they stand for in one edition."""

    name: str
    cite: Citation
    rows: tuple[Row, ...]

    def numbers(self, column: str) -> list[float]:
        """One column as numbers, leaving out empty cells."""
        return [float(row[column]) for row in self.rows if row[column]]

    def row(self, column: str, value: str) -> Row | None:
        """The row whose `column` reads `value`, or None."""
        return next((row for row in self.rows if row[column] == value), None)

    def first_covering(self, column: str, amount: float) -> Row | None:
        """The first row whose inclusive upper edge in `column` covers `amount`; an empty edge covers everything."""
        return next((row for row in self.rows if not row[column] or float(row[column]) >= amount), None)


@cache
def read_rows(file: str) -> tuple[Row, ...]:
    """Read one CSV of the package. Raises CodebookError without a source line or with ragged rows."""
    text = (Path(__file__).parent / "data" / file).read_text(encoding="utf-8")
    lines = text.splitlines()
    if not any(line.startswith("# source:") for line in lines):
        raise CodebookError(f"The table {file} names no source.")
    reader = csv.DictReader(line for line in lines if line.strip() and not line.startswith("#"))
    rows = tuple(dict(row) for row in reader)
    for number, row in enumerate(rows, 1):
        if None in row or None in row.values():
            raise CodebookError(f"Row {number} of the table {file} has the wrong number of cells.")
    return rows
