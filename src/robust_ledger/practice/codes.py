"""The short code of a practice panel: whoever types it has the very same panel before them."""

from __future__ import annotations

from msgspec import Struct

PRACTICE_VERSION = 1  # goes up whenever a code would make another panel than before
LEVELS = (1, 2, 3, 4, 5)
LETTERS = "0123456789ABCDEFGHJKMNPQRSTVWXYZ"  # none that is taken for another
SEEDS = 32**5
_READ_AS = str.maketrans("OIL", "011", " -")


class PracticeError(ValueError):
    """A code that is none, or a hand-in that belongs to no panel; the message is one sentence."""


class Code(Struct, frozen=True):
    """Which panel: its level and its seed."""

    level: int
    seed: int

    def __str__(self) -> str:
        digits = _digits(self.seed)
        return f"{PRACTICE_VERSION}{self.level}-{digits}-{_check(self.level, digits)}"


def read_code(text: str) -> Code:
    """The code that somebody typed: "13-7KQ2F-C", in any case, with or without dashes, O for 0 and I or L for 1. Raises PracticeError."""
    bare = text.upper().translate(_READ_AS)
    if len(bare) != 8 or any(letter not in LETTERS for letter in bare):
        raise PracticeError(f'"{text.strip()[:40]}" is no code of a practice panel; it looks like {Code(1, 74_755)}.')
    if bare[0] != str(PRACTICE_VERSION):
        raise PracticeError(
            f"{text.strip()} was made by another version of practice ({bare[0]}); this one makes those that begin with {PRACTICE_VERSION}."
        )
    level = LETTERS.index(bare[1])
    if level not in LEVELS:
        raise PracticeError(f"{text.strip()} is of level {level}; there are {', '.join(map(str, LEVELS))}.")
    if bare[7] != _check(level, bare[2:7]):
        raise PracticeError(f"{text.strip()} is no code: a letter of it was read wrong.")
    return Code(level, sum(LETTERS.index(letter) * 32**place for place, letter in enumerate(reversed(bare[2:7]))))


def _digits(seed: int) -> str:
    return "".join(LETTERS[seed // 32**place % 32] for place in range(4, -1, -1))


def _check(level: int, digits: str) -> str:
    """A letter that any single wrong letter (but Z for 0), and any two neighbors in the wrong order, makes another."""
    weights = (1, 3, 5, 7, 9, 11)
    return LETTERS[sum(w * LETTERS.index(d) for w, d in zip(weights, (LETTERS[level], *digits), strict=True)) % 31]
