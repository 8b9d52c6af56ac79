"""Where a space is: side, row and leg. Spaces are numbered odd on the left, even on the right, from the top. In the old panels
"r7" is space 7 of the box marked r, where there are several."""

from __future__ import annotations

import re
from functools import lru_cache
from typing import NamedTuple

_POSITION = re.compile(r"^(\d{1,3})([ab]?)$")
BOX_MARKS = "rcdefgkmnpquvwxyz"  # letters that are no half, and no sign for a space or a tag


class OldPosition(NamedTuple):
    """A space of an old panel, or half of one; `box` is the mark of the panel, empty for the first."""

    box: str
    space: int
    half: str

    @property
    def whole(self) -> str:
        """The space it is in, as written."""
        return f"{self.box}{self.space}"


@lru_cache(maxsize=2000)
def parse_position(text: str) -> tuple[int, str] | None:
    """ "7" → (7, ""), "7a" → (7, "a"); None for anything else."""
    match = _POSITION.match(text.strip().lower())
    return (int(match[1]), match[2]) if match and int(match[1]) > 0 else None


def parse_old(text: str) -> OldPosition | None:
    """ "7" → the first panel's space 7, "r7a" → that of the one marked r, upper half; None for anything else."""
    lower = text.strip().lower()
    box = lower[:1] if lower[:1] and lower[0] in BOX_MARKS else ""
    position = parse_position(lower.removeprefix(box))
    return OldPosition(box, *position) if position else None


def row_of(space: int) -> int:
    """Row counted from the top, 0-based; spaces 1 and 2 share row 0."""
    return (space - 1) // 2


def leg_of(space: int) -> str:
    """The leg a space's terminal lands on: rows alternate A and B."""
    return "A" if row_of(space) % 2 == 0 else "B"


def below(space: int) -> int:
    """The next space down on the same side, where a 2-pole's second pole lands."""
    return space + 2


def covered(space: int, poles: int) -> list[int]:
    """The spaces a device covers when its first pole is in `space`."""
    return [space + 2 * pole for pole in range(poles)]


def shown(position: str, numbering: str, spaces: int) -> str:
    """A position as the new panel is marked: "odd_left" as it is kept, "odd_right" with sides changed over, "down" down the left
    side first and then down the right."""
    where = parse_position(position)
    if where is None or numbering == "odd_left":
        return position
    space, half = where
    if numbering == "odd_right":
        return f"{space + 1 if space % 2 else space - 1}{half}"
    rows = (spaces + 1) // 2
    return f"{row_of(space) + 1 + (0 if space % 2 else rows)}{half}"


def kept(text: str, numbering: str, spaces: int) -> str:
    """The other way: a number as marked on the panel → the position as it is kept; unchanged where it is none."""
    where = parse_position(text)
    if where is None or numbering == "odd_left":
        return text
    number, half = where
    if numbering == "odd_right":
        return f"{number + 1 if number % 2 else number - 1}{half}"
    rows = (spaces + 1) // 2
    return f"{2 * number - 1 if number <= rows else 2 * (number - rows)}{half}"
