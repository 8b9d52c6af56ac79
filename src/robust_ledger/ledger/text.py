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
    """Write a value without its unit; an unknown one is "?". VA and thousands of amperes are whole, amperes and percent have at most one
    decimal."""
    if value is None:
        return UNKNOWN
    if isinstance(value, str):
        return value
    if unit == "A" and abs(value) >= 1000:  # a fault current: nobody knows its tenths
        return number_text(value, 0)
    return number_text(value, {"VA": 0, "A": 1, "%": 1, "kW": 2}.get(unit, 3))


@_remembered
def amount_text(value: Value, unit: str = "") -> str:
    """Write a value and its unit: "142 A", "1,720 ft²", "4/0 Al"."""
    text = value_text(value, unit)
    if not unit or value is None:
        return text
    return f"{text}%" if unit == "%" else f"{text} {unit}"


_FORMULA = frozenset("=+-@＝＋－＠")


def is_formula(text: str) -> bool:
    """Whether a spreadsheet might work a cell out, or run what it says: by its first sign, whatever blanks, line breaks or signs without a
    shape stand before it, and in the wide letters that some spreadsheets take for the same."""
    bare = text.lstrip("".join({one for one in text if not one.isprintable() or one.isspace()}))
    return text[:1] in ("\t", "\r", "\n") or (len(bare) > 1 and bare[0] in _FORMULA)


def guarded(text: str) -> str:
    """Text that no spreadsheet works out: what might be a formula, or begins with the guard itself, gets an apostrophe before it."""
    return f"'{text}" if text[:1] == "'" or is_formula(text) else text


def unguarded(text: str) -> str:
    """The same taken off."""
    return text[1:] if text[:1] == "'" and (text[1:2] == "'" or is_formula(text[1:])) else text


def cell_text(text: str) -> str:
    """A cell a spreadsheet takes as text: no tab or line break, and nothing it would work out as a formula."""
    return guarded(" ".join(text.split()))


def is_whole(text: str) -> bool:
    """Whether a text is a whole number of at most nine digits: more are no count of anything in a house."""
    return text.isdecimal() and len(text) <= 9


def upper_first(words: str) -> str:
    """Words that begin a line; the rest stays as it was written: "GFCI", "AC"."""
    return words[:1].upper() + words[1:]


def lower_first(sentence: str) -> str:
    """A sentence that goes on after a colon; one that begins with a shortened word stays."""
    return sentence[:1].lower() + sentence[1:] if sentence[1:2].islower() or sentence[1:2] == " " else sentence


def sentence_end(title: str) -> str:
    """The sign that ends a title where a sentence follows; none after a question."""
    return "" if title.endswith(("?", "!", ".")) else "."


def reason_of(problem: OSError) -> str:
    """What the system says of a file that could not be read or written, within a sentence: "no space left on device"."""
    return (problem.strerror or "unknown reason").lower()
