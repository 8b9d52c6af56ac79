"""Conductors as the trade writes them: size, metal, how many in parallel. Knows no table of the code."""

from __future__ import annotations

import re
from typing import Any, Final, Literal, Self, cast

from robust_ledger.ledger.text import is_whole

Metal = Literal["cu", "al", "cca"]
METALS: Final[tuple[Metal, ...]] = ("cu", "al")
# What a plain copper connector is not listed for: a splice of it to copper wants one of its own.
NOT_COPPER: Final[dict[str, str]] = {"al": "aluminum", "cca": "copper-clad aluminum"}
METAL_TEXT: Final[dict[str, str]] = {"cu": "Cu", "al": "Al", "cca": "CCA"}
_WRITTEN = re.compile(r"(?:(\d+)\s*[x×]\s*)?([0-9/]+)\s*(kcmil|mcm|awg)?\s*(cu|al)", re.I)


def size_text(size: str, metal: str = "") -> str:
    """A size as the trade writes it: "4 Cu", "4/0 Al", "250 kcmil Al"."""
    gauge = f"{size} kcmil" if is_whole(size) and int(size) >= 250 else size
    return f"{gauge} {METAL_TEXT[metal]}" if metal else gauge


class Conductors(str):
    """A size of one metal, and how many of them in parallel per leg: "4/0 Al", "2 × 250 kcmil Al". It is its own text, so that
    an entry shows it as it is, and carries size, metal and sets, so that nobody reads them back out of the text."""

    size: str
    metal: Metal
    sets: int
    short: str

    def __new__(cls, size: str, metal: str, sets: int = 1) -> Self:
        """One conductor, or so many sets in parallel."""
        one = size_text(size, metal)
        made = super().__new__(cls, f"{sets} × {one}" if sets > 1 else one)
        made.size, made.metal, made.sets, made.short = size, cast(Metal, metal), sets, str(made)
        return made

    @classmethod
    def worded(cls, size: str, metal: str, words: str, short: str) -> Self:
        """One conductor whose text says more than its size: "6 Cu, or 8 Cu in conduit", where there is little room "6 or 8 Cu"."""
        made = super().__new__(cls, words)
        made.size, made.metal, made.sets, made.short = size, cast(Metal, metal), 1, short
        return made

    def __reduce__(self) -> tuple[Any, tuple[Any, ...]]:
        """Copied as it is made."""
        if str(self) != str(type(self)(self.size, self.metal, self.sets)):
            return type(self).worded, (self.size, self.metal, str(self), self.short)
        return type(self), (self.size, self.metal, self.sets)

    @classmethod
    def read(cls, text: str) -> Conductors | None:
        """What somebody has written down, "6 Cu" or "2 x 4/0 al"; None for anything else."""
        match = _WRITTEN.fullmatch(text.strip())
        return cls(match[2], match[4].lower(), int(match[1] or 1)) if match else None
