"""Values of facts as they are said, by kind: ratings, lengths, wires, trade sizes, times of day. Each reader yields every value that begins at
a token, with the token after it; a number is taken whole or not at all."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from typing import Any

from robust_ledger.callout.circuit_readers import read_size
from robust_ledger.callout.fields import METALS, READERS, read_amps, uncut
from robust_ledger.callout.number_words import ONES
from robust_ledger.callout.numbers import lengths_at, numbers_at, pairs_at
from robust_ledger.callout.phrases import Reader
from robust_ledger.callout.tokens import Token
from robust_ledger.changeover.clock import clock_text, read_clock
from robust_ledger.job.conductors import Conductors

_SINGLE = ("single", "one", "a")
_MISHEARD = {"to": "2", "too": "2", "for": "4"}  # what dictation makes of a size behind "number"
_AMP_WORDS = ("a", "amp", "amps", "ampere", "amperes")
_CLOCK = re.compile(r"(\d{1,2})(?::(\d\d))?(am|pm|a\.m|p\.m)?")
_PARTS = {"half": 30, "quarter": 15, "ten": 10, "twenty": 20, "five": 5}
_HALVES = {"am": 0, "a.m": 0, "pm": 12, "p.m": 12}
NOON_MIN, DAY_MIN = 12 * 60, 24 * 60


def _lower(tokens: Sequence[Token], at: int) -> str:
    return tokens[at].lower if at < len(tokens) and not tokens[at].quoted else ""


def _amps_said(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    """A rating with its unit: "100 amp", "200a"."""
    for value, after in read_amps(tokens, at):
        if _lower(tokens, after) in _AMP_WORDS:
            yield value, after + 1
        elif _lower(tokens, after - 1)[-1:] in ("a", "s", "p") and _lower(tokens, after - 1)[:1].isdigit():
            yield value, after


_MADE = frozenset(
    (30, 40, 50, 60, 70, 80, 90, 100, 110, 125, 150, 175, 200, 225, 250, 300, 320, 350, 400, 450, 500, 600)
)


def _rating(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    """A rating of equipment: with its unit, or one that equipment is made for."""
    yield from _amps_said(tokens, at)
    for value, after in read_amps(tokens, at):
        if value in _MADE:
            yield value, after


def _conductor(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
    """A conductor with its metal, before or behind: "number two aluminum", "copper number 4", "number to aluminum" as dictation has it."""
    start, metal = at, ""
    if _lower(tokens, start) in METALS:
        metal, start = METALS[_lower(tokens, start)], start + 1
    numbered = _lower(tokens, start) in ("number", "no", "#", "num")
    start += numbered
    sizes = [(size.text, size.metal, after) for size, after in read_size(tokens, start) if not size.wires]
    if numbered and (heard := _MISHEARD.get(_lower(tokens, start))) and _lower(tokens, start + 1) in METALS:
        sizes.append((heard, "", start + 1))
    if (heard := _MISHEARD.get(_lower(tokens, start))) and _lower(tokens, start + 1) in ("aught", "ought", "aughts"):
        sizes.append((f"{heard}/0", "", start + 2))
    for text, own, after in sizes:
        end = after
        if _lower(tokens, end) in ("kcmil", "mcm", "gauge", "awg"):
            end += 1
        kind = own or metal
        if not kind and _lower(tokens, end) in METALS:
            kind, end = METALS[_lower(tokens, end)], end + 1
        if kind:
            yield str(Conductors(text, "cu" if kind == "cca" else kind)), end


def _trade(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
    for value, after in READERS["trade"](tokens, at):
        yield value, after + (_lower(tokens, after) in ("inch", "inches"))


def _count(tokens: Sequence[Token], at: int) -> Iterator[tuple[int, int]]:
    if _lower(tokens, at) in _SINGLE:
        yield 1, at + 1
    for one in numbers_at(tokens, at):
        if one.whole and not one.loose:
            yield int(one.value), one.after


def _count_before(tokens: Sequence[Token], at: int) -> Iterator[tuple[int, int]]:
    """A count right before what is counted; at the start of a line also as dictation hears it, "to ground rods"."""
    yield from _count(tokens, at)
    if at == 0 and (heard := _MISHEARD.get(_lower(tokens, at))):
        yield int(heard), at + 1


def _wires(tokens: Sequence[Token], at: int) -> Iterator[tuple[int, int]]:
    """How many wires: "three wire"."""
    for value, after in _count(tokens, at):
        if 2 <= value <= 4 and _lower(tokens, after) in ("wire", "wires"):
            yield value, after + 1


def _inches(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    for one in lengths_at(tokens, at):
        yield round(one.inches, 3), one.after


def _inches_said(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    for one in lengths_at(tokens, at):
        if not one.bare:
            yield round(one.inches, 3), one.after


def _length_high(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    """A height with its unit, or a number that a height is said with: "66 high"."""
    yield from _inches_said(tokens, at)
    for one in lengths_at(tokens, at):
        if one.bare and _lower(tokens, one.after) in ("high", "off", "up", "above"):
            yield round(one.inches, 3), one.after


def _feet_inches(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    """A height in inches; also as feet and inches without either, "seven ten"."""
    yield from _inches(tokens, at)
    for feet in numbers_at(tokens, at):
        if feet.whole and 5 <= feet.value <= 20 and not tokens[feet.after - 1].parted:
            for inches in numbers_at(tokens, feet.after):
                if inches.value < 12:
                    yield round(12 * feet.value + inches.value, 3), inches.after


def _feet(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    yield from READERS["feet"](tokens, at)


def _feet_said(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    for one in lengths_at(tokens, at):
        if not one.bare:
            yield round(one.inches / 12, 3), one.after


def _pair(tokens: Sequence[Token], at: int) -> Iterator[tuple[tuple[float, float], int]]:
    """Width by height: "14 by 30", "14 1/4 x 28 inches"."""
    for first in lengths_at(tokens, at):
        if _lower(tokens, first.after) in ("by", "x"):
            for second in lengths_at(tokens, first.after + 1):
                yield (round(first.inches, 3), round(second.inches, 3)), second.after


def _kilo(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    for value, after in READERS["kilo"](tokens, at):
        yield value, after + (_lower(tokens, after) in _AMP_WORDS)


def _kilo_bare(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    """An interrupting rating as it is said, in thousands: "22"."""
    for one in numbers_at(tokens, at):
        if one.value in (5, 10, 14, 18, 22, 25, 35, 42, 65, 100, 200):
            yield one.value * 1000, one.after


def _area(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    yield from READERS["area"](tokens, at)
    for one in pairs_at(tokens, at):
        yield one.value, one.after


def _number(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    for one in numbers_at(tokens, at):
        if not one.loose:
            yield one.value, one.after


def _fahrenheit(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    """A temperature in degrees Fahrenheit, as the job keeps it in Celsius."""
    for one in numbers_at(tokens, at):
        if not one.loose:
            after = one.after
            after += _lower(tokens, after) in ("degrees", "degree", "°", "°f", "f")
            after += _lower(tokens, after) in ("fahrenheit", "f")
            yield round((one.value - 32) * 5 / 9, 1), after


def _one_of(*values: int) -> Reader:
    def read(tokens: Sequence[Token], at: int) -> Iterator[tuple[int, int]]:
        for one in numbers_at(tokens, at):
            if one.value in values:
                yield int(one.value), one.after

    return read


def _spd_type(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
    for value, after in _one_of(1, 2)(tokens, at):
        yield str(value), after


def minutes_at(tokens: Sequence[Token], at: int) -> Iterator[tuple[int, int]]:
    """How long: "45 minutes", "half an hour", "an hour", "half hour"."""
    words = [_lower(tokens, at + n) for n in range(3)]
    if words[0] == "half" and words[1] in ("hour", "an", "a"):
        yield 30, at + (2 if words[1] == "hour" else 3)
    elif words[0] in ("an", "one", "1") and words[1] == "hour":
        yield 60, at + 2
    for one in numbers_at(tokens, at):
        if one.whole and _lower(tokens, one.after).startswith("min"):
            yield int(one.value), one.after + 1


_UNDER_TEN = {word: number for word, number in ONES.items() if 1 <= number <= 9}


# --- times of day -----------------------------------------------------------------------------------------------------
def _bare_clock(tokens: Sequence[Token], at: int) -> Iterator[tuple[int, int, int | None]]:
    """Hours and minutes, the token after them, and the half of the day where it was said: 0 or 12 hours."""
    word = _lower(tokens, at)
    if word in ("noon", "midday"):
        yield 0, at + 1, 12
    yield from _clock_figures(word, at)
    yield from _clock_parts(tokens, at, word)
    for hour in numbers_at(tokens, at):
        if hour.words and hour.whole and 1 <= hour.value <= 12 and not hour.loose:
            yield 60 * (int(hour.value) % 12), hour.after, None
            if _lower(tokens, hour.after) in ("oh", "o") and (one := _lower(tokens, hour.after + 1)) in _UNDER_TEN:
                yield 60 * (int(hour.value) % 12) + _UNDER_TEN[one], hour.after + 2, None
            for minute in numbers_at(tokens, hour.after):
                if minute.whole and minute.value in range(5, 60, 5) and minute.words:
                    yield 60 * (int(hour.value) % 12) + int(minute.value), minute.after, None


def _clock_figures(word: str, at: int) -> Iterator[tuple[int, int, int | None]]:
    """ "8", "8:30", "14:00", "5pm", "730"."""
    if (match := _CLOCK.fullmatch(word)) and int(match[1]) <= 23 and int(match[2] or 0) < 60:
        hours = int(match[1])
        half = _HALVES[match[3]] if match[3] else 12 if hours > 12 else None
        yield 60 * (hours % 12) + int(match[2] or 0), at + 1, half
    if (match := re.fullmatch(r"(\d{1,2})([0-5][05])", word)) and 1 <= int(match[1]) <= 12:
        yield 60 * (int(match[1]) % 12) + int(match[2]), at + 1, None


def _clock_parts(tokens: Sequence[Token], at: int, word: str) -> Iterator[tuple[int, int, int | None]]:
    """ "half past two", "quarter to five", "ten minutes after eight"."""
    if word not in _PARTS:
        return
    start = at + 1 + (_lower(tokens, at + 1) in ("minutes",))
    if _lower(tokens, start) not in ("past", "after", "to", "of", "till"):
        return
    sign = 1 if _lower(tokens, start) in ("past", "after") else -1
    for hour in numbers_at(tokens, start + 1):
        if hour.whole and 1 <= hour.value <= 12:
            yield 60 * (int(hour.value) % 12) + sign * _PARTS[word], hour.after, None


def _half_said(tokens: Sequence[Token], at: int) -> tuple[int | None, int]:
    """The half of the day behind a time, "pm", "in the morning", and the token after it."""
    if _lower(tokens, at) in ("o'clock", "oclock"):
        at += 1
    if _lower(tokens, at) in _HALVES:
        return _HALVES[_lower(tokens, at)], at + 1
    start = at
    while _lower(tokens, start) in ("in", "the", "at", "this"):
        start += 1
    if _lower(tokens, start) in ("morning", "afternoon", "evening", "night"):
        return 0 if _lower(tokens, start) == "morning" else 12, start + 1
    return None, at


def _in_line(tokens: Sequence[Token]) -> int | None:
    """The half of the day that a line says for its one time, wherever: "in the morning at 8"."""
    said = {token.lower for token in tokens} & {"morning", "afternoon", "evening"}
    return None if len(said) != 1 else 0 if said == {"morning"} else 12


def _clock(of_day: Callable[[int], int | None]) -> Reader:
    """A reader of a time. `of_day`: the half of the day that goes without saying for an hour of twelve, None where it has to be said."""

    def read(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
        for minutes, after, half in _bare_clock(tokens, at):
            said, end = _half_said(tokens, after)
            hours = half if half is not None else said if said is not None else _in_line(tokens)
            hours = of_day(minutes // 60) if hours is None else hours
            if hours is not None:
                yield clock_text((minutes + 60 * hours) % DAY_MIN), end

    return read


def _early(hour: int) -> int | None:
    return 0 if 4 <= hour <= 11 else None


def _late(hour: int) -> int | None:
    return 12 if hour <= 8 else None


def _working(hour: int) -> int | None:
    return 0 if 6 <= hour <= 11 else 12


def _between_hours(first: int, second: int) -> tuple[str, str]:
    """Two hours of the working day."""
    one, other = (60 * (hour % 12 + (_working(hour % 12) or 0)) for hour in (first, second))
    return clock_text(one), clock_text(other)


_clock_day = _clock(_working)


def _clocks(tokens: Sequence[Token], at: int) -> Iterator[tuple[tuple[str, str], int]]:
    """From one time to another: "8 to 10", "between one and three"."""
    if joined := re.fullmatch(r"(\d{1,2})-(\d{1,2})", _lower(tokens, at)):
        first, second = (int(part) for part in joined.groups())
        if 1 <= first <= 12 and 1 <= second <= 12:
            yield _between_hours(first, second), at + 1
    start = at + (_lower(tokens, at) in ("between", "from"))
    for first, after in _clock_day(tokens, start):
        if _lower(tokens, after) in ("to", "and", "until", "till", "-", "through"):
            for second, end in _clock_day(tokens, after + 1):
                yield (first, second), end


_ALL: dict[str, Reader] = {
    "amps": read_amps,
    "amps_said": _amps_said,
    "rating": _rating,
    "conductor": _conductor,
    "trade": _trade,
    "count": _count,
    "count_before": _count_before,
    "wires": _wires,
    "inches": _inches,
    "inches_said": _inches_said,
    "length_high": _length_high,
    "feet_inches": _feet_inches,
    "feet": _feet,
    "feet_said": _feet_said,
    "pair": _pair,
    "kilo": _kilo,
    "kilo_bare": _kilo_bare,
    "area": _area,
    "number": _number,
    "fahrenheit": _fahrenheit,
    "terminals": _one_of(60, 75),
    "spd_type": _spd_type,
    "minutes": minutes_at,
    "clock_early": _clock(_early),
    "clock_late": _clock(_late),
    "clock_day": _clock_day,
    "clocks": _clocks,
}
CLOCKS = {"early": _early, "late": _late, "working": _working}


def clock_reader(half: str) -> Reader:
    """A reader of a time in minutes after midnight; `half`: of a bare hour the one that goes without saying, "early", "late" or "working"."""
    reader = _clock(CLOCKS[half])

    def read(tokens: Sequence[Token], at: int) -> Iterator[tuple[int, int]]:
        for text, after in reader(tokens, at):
            yield read_clock(text), after

    return read


VALUES = {name: uncut(reader) for name, reader in _ALL.items()}


def values_at(reader: Reader, tokens: Sequence[Token], at: int) -> list[tuple[Any, int]]:
    """Every value of a kind that begins at a token, none twice."""
    made: dict[int, Any] = {}
    for value, after in reader(tokens, at):
        made.setdefault(after, value)
    return [(value, after) for after, value in made.items()]
