"""Values of a called-out circuit as they are said: spaces, sizes of wire, sides, readings of a clamp."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence

from msgspec import Struct

from robust_ledger.callout.letters import AMPS_TAGGED, LENGTH, SPACE
from robust_ledger.callout.number_words import ONES, ORDINALS, TENS
from robust_ledger.callout.numbers import numbers_at
from robust_ledger.callout.phrases import PLURAL_SIZES, Reader, read_any_length, read_count, read_length
from robust_ledger.callout.tokens import Token
from robust_ledger.callout.words import SIDES
from robust_ledger.ledger.text import is_whole

GAUGES = frozenset(["14", "12", "10", "8", "6", "4", "3", "2", "1", "1/0", "2/0", "3/0", "4/0"])
_LOOSE = frozenset((110, 125, 150, 175, 225))  # "one twenty five", as one says ratings
_JOINED = re.compile(r"(\d{1,3})([-/+&,])(\d{1,3})")
WIRES = re.compile(r"#?(\d{1,2}|[1-4]/0)[-/]([2-4])(al|cu|cca)?(?:w?/?g)?", re.I)
_AUGHT = ("aught", "ought", "naught", "aughts")
_AND = ("and", "&", "+", "/", "-")


class Size(Struct, frozen=True):
    """A wire as it was said; `wires`: of its cable, where that was said too."""

    text: str
    metal: str = ""
    wires: int | None = None
    cost: float = 0.0


def read_spaces(tokens: Sequence[Token], at: int) -> Iterator[tuple[tuple[str, ...], int]]:
    """A space or the two of a 2-pole: "7", "9,11", "9-11", "9 and 11", "nine eleven"."""
    if at >= len(tokens) or tokens[at].quoted:
        return
    word = tokens[at].lower.removeprefix("#")
    if match := _JOINED.fullmatch(word):
        if match[2] in "+,&" or int(match[3]) - int(match[1]) == 2:
            yield (match[1], match[3]), at + 1
        return
    for one, after in _one_space(tokens, at):
        yield (one,), after
        second = after
        if second < len(tokens) and tokens[second].lower in _AND:
            second += 1
        for other, end in _one_space(tokens, second) if second < len(tokens) else ():
            if is_whole(one) and is_whole(other) and int(other) - int(one) == 2:
                yield (one, other), end
    if SPACE.match(word) and ("," in word or "+" in word):
        yield tuple(part for part in re.split(r"[,+]", word) if part), at + 1


def _is_cut(tokens: Sequence[Token], after: int) -> bool:
    """Whether a number ends within another: "twenty" of "twenty two"; not in "twenty, two" or "twenty two-pole"."""
    if after >= len(tokens) or tokens[after - 1].parted or tokens[after - 1].lower not in TENS:
        return False
    follows = tokens[after + 1].lower if after + 1 < len(tokens) else ""
    return 1 <= ONES.get(tokens[after].lower, 0) <= 9 and follows not in ("pole", "poles", "wire", "wires", "conductor")


def _one_space(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
    word = tokens[at].lower.removeprefix("#")
    if re.fullmatch(r"[a-z]?\d{1,3}[ab]?", word) and SPACE.match(word):
        yield word, at + 1
        return
    for one in numbers_at(tokens, at):
        if one.words and one.whole and not one.loose and 0 < one.value < 200 and not _is_cut(tokens, one.after):
            yield f"{one.value:.0f}", one.after


def read_amps(tokens: Sequence[Token], at: int) -> Iterator[tuple[float | None, int]]:
    """A breaker's rating in amperes; None where it is said not to be known."""
    if at < len(tokens) and tokens[at].lower == "?":
        yield None, at + 1
    if at < len(tokens) and (match := AMPS_TAGGED.match(tokens[at].lower)) and not match[2]:
        yield float(match[1]), at + 1
        return
    for one in numbers_at(tokens, at):
        if not one.loose or one.value in _LOOSE:
            yield one.value, one.after


def _read_poles(tokens: Sequence[Token], at: int) -> Iterator[tuple[int, int]]:
    for one in numbers_at(tokens, at):
        if one.whole and one.value < 10:
            yield int(one.value), one.after


def _read_wires(tokens: Sequence[Token], at: int) -> Iterator[tuple[int, int]]:
    for one in numbers_at(tokens, at):
        if one.value in (2, 3, 4):
            yield int(one.value), one.after


def read_size(tokens: Sequence[Token], at: int) -> Iterator[tuple[Size, int]]:
    """A wire's size as said: "12", "#12", "10al", "2/0", "two aught", "12-2", "twelve two"."""
    if at >= len(tokens) or tokens[at].quoted:
        return
    word = tokens[at].lower
    if (match := WIRES.fullmatch(word)) and match[1] in GAUGES:
        yield Size(match[1], match[3] or "", int(match[2])), at + 1
        return
    match = re.fullmatch(r"#?(\d{1,3}|[1-4]/0)(al|cu|cca)?", word)
    if match and (match[1].endswith("/0") or match[2] or word.startswith("#")):
        yield Size(match[1], match[2] or ""), at + 1
        return
    if word in PLURAL_SIZES:  # "forty on eights"
        yield Size(PLURAL_SIZES[word]), at + 1
    for one in numbers_at(tokens, at):
        if not one.whole or one.loose or one.value > 750:
            continue
        text = f"{one.value:.0f}"
        yield Size(text), one.after
        if one.after >= len(tokens) or tokens[one.after - 1].parted:
            continue
        after = tokens[one.after].lower
        if after in _AUGHT and one.value in (1, 2, 3, 4):
            yield Size(f"{text}/0"), one.after + 1
        zero = tokens[one.after + 1].lower if one.after + 1 < len(tokens) else ""
        if after in ("slash", "over") and zero in ("zero", "0", "o", "oh", "aught") and one.value in (1, 2, 3, 4):
            yield Size(f"{text}/0"), one.after + 2
        if text in GAUGES:
            digits = after[:1].isdigit()
            for wires, end in _read_wires(tokens, one.after):
                alike = digits is not one.words  # "12 four" is a wire and something else
                yield Size(text, "", wires, (0.15 if one.words else 0.3) if alike else 1.6), end


def _read_cable(tokens: Sequence[Token], at: int) -> Iterator[tuple[Size, int]]:
    return ((size, after) for size, after in read_size(tokens, at) if size.wires)


def _read_reading(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    if at < len(tokens) and (match := re.fullmatch(r"(\d{1,4}(?:\.\d+)?)a(?:mps?)?", tokens[at].lower)):
        yield float(match[1]), at + 1
        return
    for one in numbers_at(tokens, at):
        if not one.loose:
            yield one.value, one.after


def _read_side(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
    if at < len(tokens) and tokens[at].lower in SIDES:
        yield tokens[at].lower, at + 1


def _read_side_at(tokens: Sequence[Token], at: int) -> Iterator[tuple[tuple[str, str], int]]:
    """A side with the place along it, "top@2in"; or alone."""
    if at < len(tokens):
        side, sign, along = tokens[at].lower.partition("@")
        if side in SIDES and (not sign or LENGTH.match(along)):
            yield (side, along), at + 1


def _read_side_along(tokens: Sequence[Token], at: int) -> Iterator[tuple[tuple[str, str], int]]:
    return ((value, after) for value, after in _read_side_at(tokens, at) if value[1])


def _read_nth(tokens: Sequence[Token], at: int) -> Iterator[tuple[int, int]]:
    if at < len(tokens) and tokens[at].lower in ORDINALS:
        yield ORDINALS[tokens[at].lower], at + 1


def _read_any_length(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    """A length in figures, or in words with its unit."""
    figures = at < len(tokens) and tokens[at].lower[:1].isdigit()
    return read_any_length(tokens, at) if figures else read_length(tokens, at)


READERS: Mapping[str, Reader] = {
    "spaces": read_spaces, "amps": read_amps, "poles": _read_poles, "gauge": read_size, "wires": _read_wires, "count": read_count,
    "cable": _read_cable, "reading": _read_reading, "side": _read_side, "side_at": _read_side_at, "side_along": _read_side_along, "nth": _read_nth,
    "length": read_length, "any_length": _read_any_length,
}  # fmt: skip
