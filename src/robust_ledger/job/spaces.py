"""Where a space is: side, row and leg. Spaces are numbered odd on the left, even on the right, from the top. In the old panels
«r7» is space 7 of the right-hand one, where two are merged."""

from __future__ import annotations

import re
from functools import lru_cache
from typing import NamedTuple

_POSITION = re.compile(r"^(\d{1,3})([ab]?)$")


class OldPosition(NamedTuple):
    """A space of an old panel, or half of one."""

    right: bool
    space: int
    half: str

    @property
    def whole(self) -> str:
        """The space it is in, as written."""
        return f"{'r' if self.right else ''}{self.space}"


@lru_cache(maxsize=2000)
def parse_position(text: str) -> tuple[int, str] | None:
    """«7» → (7, ""), «7a» → (7, "a"); None for anything else."""
    match = _POSITION.match(text.strip().lower())
    return (int(match[1]), match[2]) if match and int(match[1]) > 0 else None


def parse_old(text: str) -> OldPosition | None:
    """«7» → the left panel's space 7, «r7a» → the right one's, upper half; None for anything else."""
    lower = text.strip().lower()
    position = parse_position(lower.removeprefix("r"))
    return OldPosition(lower.startswith("r"), *position) if position else None


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
