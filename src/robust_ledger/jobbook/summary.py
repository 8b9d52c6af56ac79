"""What the jobs of the book tell together, in words and rows."""

from __future__ import annotations

from collections.abc import Iterator
from statistics import median

from msgspec import Struct

from robust_ledger.changeover.catalogue import catalogue
from robust_ledger.changeover.learned import blended
from robust_ledger.jobbook.index import BookSummary
from robust_ledger.jobbook.stands import STANDS


class OwnMinutes(Struct, frozen=True):
    """A task's minutes each time, as one's own days had them, and what the next day is planned with."""

    task: str
    words: str
    days: int
    least: float
    usual: float
    most: float
    planned: float


def own_minutes(tells: BookSummary) -> Iterator[OwnMinutes]:
    """The tasks of the catalogue that have a record."""
    kinds = catalogue().kinds
    for task, minutes in tells.minutes.items():
        if task in kinds and minutes:
            planned = blended(kinds[task], minutes)[1]
            yield OwnMinutes(
                task, kinds[task].words, len(minutes), min(minutes), median(minutes), max(minutes), planned
            )


def summary_words(tells: BookSummary) -> str:
    """How many jobs there are, how they stand, and what they cost in hours, in a sentence or two."""
    jobs = sum(tells.stands.values())
    if not jobs:
        return "The book is empty."
    stands = ", ".join(f"{tells.stands[key]:,} {words}" for key, words in STANDS.items() if key in tells.stands)
    words = f"{jobs:,} {'job' if jobs == 1 else 'jobs'}: {stands}. "
    if not tells.recorded:
        return f"{words}No hours are recorded yet."
    each = tells.hours / tells.recorded
    return f"{words}{tells.recorded:,} with a record, {tells.hours:,.1f} hours of work, {each:.1f} each."
