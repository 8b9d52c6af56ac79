"""Words of talk that carry nothing: "uh", "you know", and "so", "like", "okay", "well" where they mean nothing. They go before anything is read,
so that none of them can part a number, a size, or a time from its other half."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Protocol, TypeVar

from robust_ledger.callout.number_words import FIGURES

_ALWAYS = "uh um uhm erm er hm hmm"
_IS = "is 's are was were be looks look looked seems all"
_LIKENED = "look looks looked sound sounds seem seems would we'd i'd they'd he'd she'd you'd something anything same just do don't 'd"
_OF_A_WELL = "pump pumps water house head cap controls pressure motor tank light lights"
_BEFORE_A_WELL = "the a our their deep shallow drilled window stair irrigation new old for"
_PARTS = """is 's are was were be it that this there there's there'll in on at of from by between and or but number with has have got says reads we i
they he she would said point over under above about feet foot inches inch amps amp volts volt plan twice to square single"""

ALWAYS = frozenset(_ALWAYS.split())
IS = frozenset(_IS.split())
LIKENED = frozenset(_LIKENED.split())
OF_A_WELL = frozenset(_OF_A_WELL.split())
BEFORE_A_WELL = frozenset(_BEFORE_A_WELL.split())
PARTS = frozenset(_PARTS.split())  # words of a sentence that are nobody's name


class Word(Protocol):
    """A word of a line."""

    @property
    def lower(self) -> str:
        """In small letters."""

    @property
    def quoted(self) -> bool:
        """Whether it stands in quotes."""

    @property
    def parted(self) -> bool:
        """Whether a comma or the like comes after it."""


AnyWord = TypeVar("AnyWord", bound=Word)


def without(tokens: Sequence[AnyWord]) -> Iterator[AnyWord]:
    """The words that are left."""
    at, kept = 0, ""
    while at < len(tokens):
        token = tokens[at]
        after = tokens[at + 1].lower if at + 1 < len(tokens) else ""
        if not token.quoted:
            if token.lower == "you" and after == "know" and not tokens[at + 1].quoted:
                at += 2
                continue
            if _is_empty(token, kept, after):
                at += 1
                continue
        yield token
        kept, at = token.lower, at + 1


def _is_empty(token: Word, before: str, after: str) -> bool:
    match token.lower:
        case word if word in ALWAYS:
            return True
        case "so":
            return before not in ("or", "if") and after not in ("that", "far")
        case "like":
            return before not in LIKENED
        case "okay" | "ok":
            return (
                not before
                or _is_figure(after)
                or after in ("a", "an", "the")
                or (before not in IS and not _ends(token, after))
            )
        case "well":
            if after in OF_A_WELL or (before in BEFORE_A_WELL and after not in FIGURES) or _ends(token, after):
                return False
            return not before or _is_figure(before) or _is_figure(after) or before in PARTS
    return False


def _ends(token: Word, after: str) -> bool:
    """Whether a word ends what is said: "ufer ok"."""
    return not after or token.parted


def _is_figure(word: str) -> bool:
    return word in FIGURES or word in ("noon", "midnight") or word[:1].isdigit()
