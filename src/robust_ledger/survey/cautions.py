"""The user's own list of equipment marks with a bad record: reading it, and matching it with what was read on the old
equipment. None ships with the product."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence

from robust_ledger.job.parts.defects import Caution

MOST = 2000


class CautionListError(ValueError):
    """A list that cannot be read; the message is one sentence naming the line."""


def read_cautions(text: str) -> tuple[Caution, ...]:
    """Read a list: a mark and its caution on each line, as CSV; blank lines and lines that begin with # are left out.

    Raises CautionListError, naming the line.
    """
    if len(text) > 1_000_000:
        raise CautionListError("The caution list is larger than a million characters.")
    found: list[Caution] = []
    lines = [line if not line.lstrip().startswith("#") else "" for line in text.removeprefix("\ufeff").splitlines()]
    reader = csv.reader(io.StringIO("\n".join(lines)), skipinitialspace=True)
    try:
        for row in reader:
            cells = [cell.strip() for cell in row]
            if not any(cells):
                continue
            made = Caution(mark=cells[0][:200], text=", ".join(cells[1:])[:2000])
            if not made.mark or not made.text.strip(" ,"):
                raise CautionListError(
                    f"Line {reader.line_num} of the caution list needs a mark, a comma and a caution."
                )
            found.append(made)
    except csv.Error as problem:
        raise CautionListError(f"Line {reader.line_num} of the caution list cannot be read: {problem}.") from None
    if len(found) > MOST:
        raise CautionListError(f"The caution list has more than {MOST} marks.")
    return tuple(found)


def matching(marks: str, cautions: Sequence[Caution]) -> tuple[Caution, ...]:
    """The cautions whose mark stands as words of its own in what was read, whatever the capitals and signs between."""
    words = f" {_plain(marks)} "
    found = {c.mark.lower(): c for c in cautions if _plain(c.mark) and f" {_plain(c.mark)} " in words}
    return tuple(found.values())[:100]


def _plain(text: str) -> str:
    return " ".join(re.findall(r"[^\W_]+", text.lower()))
