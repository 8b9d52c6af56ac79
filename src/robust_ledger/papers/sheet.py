"""What a sheet is. The one list of sheets is the modules of `papers/sheets`, each with its `SHEET`."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Self

from msgspec import Struct
from reportlab.platypus import Flowable

from robust_ledger.ledger.place import Place
from robust_ledger.papers.style import build
from robust_ledger.plan import Plan


class Lack(str):
    """Something a sheet lacks, in words, and where it is entered."""

    place: Place

    def __new__(cls, words: str, place: str = "") -> Self:
        """What it lacks, and where that is entered; "" where nowhere."""
        made = super().__new__(cls, words)
        made.place = Place(place)
        return made


class Sheet(Struct, frozen=True):
    """One paper: its place among the others, its file name and title, what is missing for it, what stands on it, and the packets it belongs to
    beside that of everything."""

    order: float
    name: str
    title: str
    missing: Callable[[Plan], list[str]]
    story: Callable[[Plan], list[Flowable]]
    packets: tuple[str, ...] = ("file",)

    def write(self, plan: Plan, path: Path) -> None:
        """Write it as PDF. Raises OSError."""
        build(path, self.title, plan, self.story(plan))


def missing_heading(plan: Plan) -> list[str]:
    """What the heading lacks."""
    heading = plan.job.heading
    wanted = {"address": heading.address, "date": heading.date, "electrician": heading.electrician}
    return [Lack(f"the {name}", f"heading:{name}") for name, value in wanted.items() if not value]
