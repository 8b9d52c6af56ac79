"""The numbers and lengths in a line: "thirty five", "fifty four hundred", "14 and a half", "2 aught". A number is taken whole or not at all: no
reading begins or ends within one that was said with a hundred or a thousand."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from functools import lru_cache

from msgspec import Struct

from robust_ledger.callout.number_words import ONES, QUARTERS, SCALES, TENS
from robust_ledger.callout.tokens import Token

_FRACTION = re.compile(r"(\d{1,2})/(\d{1,2})")
_LONGEST_SAID = 8  # words of a number


class Number(Struct, frozen=True):
    """A number and the token after it. `loose`: said as "one twenty five", which may as well be two numbers; `words`: not in
    digits."""

    value: float
    after: int
    loose: bool = False
    words: bool = False
    whole: bool = True


@lru_cache(maxsize=4096)
def _digits(text: str) -> float | None:
    plain = text.replace(",", "") if re.fullmatch(r"\d{1,3}(?:,\d{3})+", text) else text
    return float(plain) if re.fullmatch(r"\d{1,6}(?:\.\d{1,4})?|\.\d{1,4}", plain) else None


def numbers_at(tokens: Sequence[Token], at: int) -> list[Number]:
    """Every way to read a number that begins here, the longest first. A comma ends it."""
    if at >= len(tokens) or tokens[at].quoted or not _may_begin(tokens[at].lower):
        return []
    if _is_within(tokens, at):
        return []
    whole = _scaled(tokens, at)
    made = [*_plain(tokens, at)]
    if whole is not None:
        made = [whole] if whole.value >= 1000 else [one for one in made if one.after >= at + 2] or [whole]
    longer: list[Number] = []
    for one in made:
        longer += _with_fraction(tokens, one)
    found = [*longer, *made]
    found.sort(key=lambda one: -one.after)
    return found


def is_number_word(word: str) -> bool:
    """Whether a word is part of a spoken number."""
    return word in ONES or word in TENS or word in SCALES


def _is_within(tokens: Sequence[Token], at: int) -> bool:
    """Whether a number that was begun before goes on here: "four hundred" of "fifty four hundred" is none of its own."""
    start = at
    while start > 0 and at - start < _LONGEST_SAID and _open(tokens, start) and _is_part(tokens[start - 1]):
        start -= 1
        whole = _scaled(tokens, start)
        if whole is not None and whole.after > at:
            return True
    return False


def _is_part(token: Token) -> bool:
    return not token.quoted and (
        is_number_word(token.lower) or token.lower in ("a", "and") or _digits(token.lower) is not None
    )


def _scaled(tokens: Sequence[Token], at: int) -> Number | None:
    """The number with a hundred or a thousand in it that begins here, as long as it goes: "fifty four hundred", "five thousand four hundred",
    "a thousand", "54 hundred"; None where there is none."""
    count, after = _group(tokens, at)
    if count is None or not _open(tokens, after) or tokens[after].lower not in SCALES:
        return None
    value, after = count * SCALES[tokens[after].lower], after + 1
    if tokens[after - 1].lower == "hundred":
        value, after = _and_more(tokens, value, after, 100)
        if _open(tokens, after) and tokens[after].lower == "thousand":
            value, after = value * 1000, after + 1
    if tokens[after - 1].lower == "thousand":
        value, after = _and_more(tokens, value, after, 1000)
    return Number(float(value), after, words=True, whole=float(value).is_integer())


def _group(tokens: Sequence[Token], at: int) -> tuple[float | None, int]:
    """How many hundreds or thousands: "fifty four", "a", "54", or none said, as in "hundred amps"."""
    if at >= len(tokens) or tokens[at].quoted:
        return None, at
    word = tokens[at].lower
    if word in SCALES:
        return 1, at
    if word == "a":
        return 1, at + 1
    if (digits := _digits(word)) is not None:
        few = digits < 10 and at + 1 < len(tokens) and tokens[at + 1].lower == "hundred"
        return (None, at) if few else (digits, at + 1)  # "5 and 7 hundred amp" is two spaces and a rating
    if word in TENS or word in ONES:
        return _below_hundred(tokens, at)
    return None, at


def _and_more(tokens: Sequence[Token], value: float, at: int, below: int) -> tuple[float, int]:
    """What is said behind a hundred or a thousand, "and" or not; it stays below it."""
    rest = at + 1 if _open(tokens, at) and tokens[at].lower == "and" else at
    if not _open(tokens, rest) or not (tokens[rest].lower in TENS or tokens[rest].lower in ONES):
        return value, at
    more, end = _below_hundred(tokens, rest)
    if below > 100 and more < 10 and _open(tokens, end) and tokens[end].lower == "hundred":
        hundreds, end = _and_more(tokens, more * 100, end + 1, 100)
        return value + hundreds, end
    return value + more, end


def pairs_at(tokens: Sequence[Token], at: int) -> list[Number]:
    """Numbers said as two pairs, "fourteen eighty" for 1,480: only where a unit behind them leaves no doubt."""
    if (
        at >= len(tokens)
        or tokens[at].lower not in (*ONES, *TENS)
        or (at and _open(tokens, at) and _is_part(tokens[at - 1]))
    ):
        return []
    first, after = _below_hundred(tokens, at)
    if first < 10 or not _open(tokens, after) or tokens[after].lower not in (*ONES, *TENS):
        return []
    second, end = _below_hundred(tokens, after)
    return [Number(100.0 * first + second, end, words=True)] if second >= 10 else []


@lru_cache(maxsize=4096)
def _may_begin(word: str) -> bool:
    return (
        word[:1].isdigit()
        or word[:1] == "."
        or word in ONES
        or word in TENS
        or word in ("a", "hundred", "thousand", "half", "quarter", "third", "eighth")
    )


def _plain(tokens: Sequence[Token], at: int) -> Iterator[Number]:
    word = tokens[at].lower
    if (value := _digits(word)) is not None:
        yield Number(value, at + 1, whole=value.is_integer())
        return
    if match := _FRACTION.fullmatch(word):
        if int(match[2]) in (2, 3, 4, 8, 16) and int(match[1]) < int(match[2]):
            yield Number(int(match[1]) / int(match[2]), at + 1, whole=False)
        return
    if word in ("a", "hundred") or word in ONES or word in TENS:
        yield from _spoken(tokens, at)
    elif word in ("half", "quarter") or (word in ("third", "eighth") and _is_horse(tokens, _to_horse(tokens, at + 1))):
        yield Number(QUARTERS[word], _to_horse(tokens, at + 1), words=True, whole=False)


def _is_horse(tokens: Sequence[Token], at: int) -> bool:
    return _open(tokens, at) and tokens[at].lower.startswith("horse")


def _to_horse(tokens: Sequence[Token], at: int) -> int:
    """Where the unit of "half a horse" or "three quarters of a horse" stands."""
    end = at
    while end < at + 2 and _open(tokens, end) and tokens[end].lower in ("of", "a"):
        end += 1
    return end if _is_horse(tokens, end) else at


def _open(tokens: Sequence[Token], at: int) -> bool:
    """Whether a number may go on at a token: there is one, and no comma before it."""
    return at < len(tokens) and not tokens[at - 1].parted and not tokens[at].quoted


def _spoken(tokens: Sequence[Token], at: int) -> Iterator[Number]:
    word = tokens[at].lower
    if word == "hundred":
        yield from _hundreds(tokens, at + 1, 100)
        return
    if word == "a":
        if _open(tokens, at + 1) and tokens[at + 1].lower == "hundred":
            yield from _hundreds(tokens, at + 2, 100)
        return
    value, after = _below_hundred(tokens, at)
    yield Number(value, after, words=True)
    if value in (1, 3) and _open(tokens, after) and tokens[after].lower in ("quarter", "quarters"):
        yield Number(value * 0.25, _to_horse(tokens, after + 1), words=True, whole=False)
    if after > at + 1:
        yield Number(TENS[word], at + 1, words=True)  # "twenty two pole" may be a 20 with two poles
    if 1 <= value <= 9 and _open(tokens, at + 1):
        if tokens[at + 1].lower == "hundred":
            yield from _hundreds(tokens, at + 2, 100 * value)
        elif value <= 4 and (tokens[at + 1].lower in TENS or tokens[at + 1].lower == "ten"):
            rest, end = _below_hundred(tokens, at + 1)
            yield Number(100 * value + rest, end, loose=True, words=True)
    yield from _pointed(tokens, value, after)


def _pointed(tokens: Sequence[Token], value: int, after: int) -> Iterator[Number]:
    """Decimals behind a number in words: "eleven point two"."""
    if _open(tokens, after) and tokens[after].lower == "point" and _open(tokens, after + 1):
        digits, end = "", after + 1
        while end < len(tokens) and len(digits) < 3:
            said = tokens[end].lower
            if not (said in ONES and ONES[said] < 10) and not (said.isdecimal() and len(said) < 4):
                break
            digits += str(ONES.get(said, said))
            end += 1
            if tokens[end - 1].parted:
                break
        if digits:
            yield Number(float(f"{value}.{digits}"), end, words=True, whole=False)


def _below_hundred(tokens: Sequence[Token], at: int) -> tuple[int, int]:
    word = tokens[at].lower
    if word in TENS:
        if _open(tokens, at + 1) and 1 <= ONES.get(tokens[at + 1].lower, 0) <= 9:
            return TENS[word] + ONES[tokens[at + 1].lower], at + 2
        return TENS[word], at + 1
    return ONES[word], at + 1


def _hundreds(tokens: Sequence[Token], at: int, value: int) -> Iterator[Number]:
    yield Number(value, at, words=True)
    rest = at + 1 if _open(tokens, at) and tokens[at].lower == "and" else at
    if _open(tokens, rest) and (tokens[rest].lower in TENS or tokens[rest].lower in ONES):
        more, end = _below_hundred(tokens, rest)
        yield Number(value + more, end, words=True)


def _with_fraction(tokens: Sequence[Token], one: Number) -> Iterator[Number]:
    """ "14 and a half", "one and three quarters", "6 1/2"."""
    at = one.after
    if not one.whole or not _open(tokens, at):
        return
    if (match := _FRACTION.fullmatch(tokens[at].lower)) and 0 < int(match[1]) < int(match[2]) in (2, 4, 8, 16):
        yield Number(one.value + int(match[1]) / int(match[2]), at + 1, words=one.words, whole=False)
    if tokens[at].lower != "and" or not _open(tokens, at + 1):
        return
    word = tokens[at + 1].lower
    if match := _FRACTION.fullmatch(word):
        if int(match[1]) < int(match[2]):
            yield Number(one.value + int(match[1]) / int(match[2]), at + 2, words=True, whole=False)
        return
    if word in ("half", "quarter"):  # "one and quarter"
        yield Number(one.value + QUARTERS[word], at + 2, words=True, whole=False)
    times = 1 if word in ("a", "one") else ONES.get(word, 0)
    if times and at + 2 < len(tokens) and tokens[at + 2].lower in QUARTERS:
        yield Number(one.value + times * QUARTERS[tokens[at + 2].lower], at + 3, words=True, whole=False)


_FEET_INCHES = re.compile(r"(\d{1,3})'(?:-?(\d{1,2}(?:\.\d+)?)(?:\"|in)?)?")
_JOINED = re.compile(r"(\d{1,5}(?:\.\d{1,4})?)(in|\"|ft|cm|mm|m)")
_UNITS = {
    "in": 1.0, "inch": 1.0, "inche": 1.0, "inches": 1.0, "ins": 1.0, '"': 1.0, "ft": 12.0, "foot": 12.0, "feet": 12.0, "'": 12.0,
    "cm": 1 / 2.54, "mm": 1 / 25.4, "m": 100 / 2.54,
}  # fmt: skip


class Length(Struct, frozen=True):
    """A length in inches and the token after it; `bare`: no unit was said."""

    inches: float
    after: int
    bare: bool = False


def lengths_at(tokens: Sequence[Token], at: int) -> list[Length]:
    """Every way to read a length that begins here: "22 in", `22"`, "13 feet 6", "a foot and a half", "1'6"."""
    if at >= len(tokens) or tokens[at].quoted:
        return []
    word = tokens[at].lower
    if match := _FEET_INCHES.fullmatch(word):
        feet = Length(12.0 * int(match[1]) + float(match[2] or 0), at + 1)
        return [*_and_inches(tokens, feet.inches, at + 1), feet] if not match[2] else [feet]
    if match := _JOINED.fullmatch(word):
        inches = float(match[1]) * _UNITS[match[2]]
        more = _and_inches(tokens, inches, at + 1) if match[2] == "ft" else []
        return [*more, Length(inches, at + 1)]
    made: list[Length] = []
    for number in [*numbers_at(tokens, at), *_article(tokens, at)]:
        end = number.after
        if end < len(tokens) and not tokens[end - 1].parted and (unit := _UNITS.get(tokens[end].lower)):
            made += _after_unit(tokens, number.value, unit, end + 1)
        else:
            made.append(Length(number.value, end, True))
    return made


def _article(tokens: Sequence[Token], at: int) -> list[Number]:
    """ "a foot", "an inch": one of them; and the unit alone, "inch and a quarter"."""
    if tokens[at].lower in ("a", "an") and at + 1 < len(tokens) and tokens[at + 1].lower in ("foot", "inch"):
        return [Number(1.0, at + 1, words=True)]
    if tokens[at].lower in ("inch", "foot"):
        return [Number(1.0, at, words=True)]
    return []


def _after_unit(tokens: Sequence[Token], value: float, unit: float, at: int) -> list[Length]:
    made = [Length(value * unit, at)]
    if _open(tokens, at) and tokens[at].lower == "and":  # "two feet and a half"
        for more in _with_fraction(tokens, Number(value, at)):
            made.insert(0, Length(more.value * unit, more.after))
    return [*_and_inches(tokens, value * unit, at), *made] if unit == 12.0 else made


def _and_inches(tokens: Sequence[Token], inches: float, at: int) -> list[Length]:
    """The inches after feet: "13 feet 6 (inches)"."""
    made = []
    if _open(tokens, at):
        for number in numbers_at(tokens, at):
            if number.value < 12:
                end = number.after
                unit = end < len(tokens) and _UNITS.get(tokens[end].lower) == 1.0
                made.append(Length(inches + number.value, end + 1 if unit else end))
    return made
