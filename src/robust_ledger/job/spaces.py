"""Where a space is: side, row and leg. Spaces are numbered odd on the left, even on the right, from the top."""

from __future__ import annotations

import re
from functools import lru_cache

_POSITION = re.compile(r"^(\d{1,3})([ab]?)$")


@lru_cache(maxsize=2000)
def parse_position(text: str) -> tuple[int, str] | None:
    """«7» → (7, ""), «7a» → (7, "a"); None for anything else."""
    match = _POSITION.match(text.strip().lower())
    return (int(match[1]), match[2]) if match and int(match[1]) > 0 else None


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
