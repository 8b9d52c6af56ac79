"""How amounts are written: one place, so that the margin, the sheet and the command line agree to the digit."""

from __future__ import annotations

import math
from functools import lru_cache

Value = float | int | str | None

UNKNOWN = "?"

# From one keystroke to the next most amounts stay what they were.
_remembered = lru_cache(maxsize=20_000)


@_remembered
def number_text(value: float, decimals: int = 2) -> str:
    """Write a number with thousands separators and no trailing zeros: 1720.0 → "1,720", 0.35 → "0.35"."""
    rounded = round(value + math.copysign(1e-9, value), decimals)
    if rounded == int(rounded):
        return f"{int(rounded):,}"
    return f"{rounded:,.{decimals}f}".rstrip("0")


@_remembered
def value_text(value: Value, unit: str = "") -> str:
    """Write a value without its unit; an unknown one is "?". VA are whole, amperes and percent have at most one decimal."""
    if value is None:
        return UNKNOWN
    if isinstance(value, str):
        return value
    return number_text(value, {"VA": 0, "A": 1, "%": 1, "kW": 2}.get(unit, 3))


@_remembered
def amount_text(value: Value, unit: str = "") -> str:
    """Write a value and its unit: "142 A", "1,720 ft²", "4/0 Al"."""
    text = value_text(value, unit)
    if not unit or value is None:
        return text
    return f"{text}%" if unit == "%" else f"{text} {unit}"


def cell_text(text: str) -> str:
    """A cell a spreadsheet takes as text: no tab or line break, and nothing it would work out as a formula."""
    plain = " ".join(text.split())
    return f"'{plain}" if plain[:1] in ("=", "+", "@") or (plain[:1] == "-" and len(plain) > 1) else plain


def is_whole(text: str) -> bool:
    """Whether a text is a whole number of at most nine digits: more are no count of anything in a house."""
    return text.isdecimal() and len(text) <= 9


def lower_first(sentence: str) -> str:
    """A sentence that goes on after a colon; one that begins with a shortened word stays."""
    return sentence[:1].lower() + sentence[1:] if sentence[1:2].islower() or sentence[1:2] == " " else sentence


def sentence_end(title: str) -> str:
    """The sign that ends a title where a sentence follows; none after a question."""
    return "" if title.endswith(("?", "!", ".")) else "."


def reason_of(problem: OSError) -> str:
    """What the system says of a file that could not be read or written, within a sentence: "no space left on device"."""
    return (problem.strerror or "unknown reason").lower()
