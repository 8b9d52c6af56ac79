"""The words of a spoken or typed line, with where they stand. What carries nothing is left out; numbers are read of them in `numbers`."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from functools import lru_cache

from msgspec import Struct

from robust_ledger.callout.fillers import without

CURLY = chr(0x2019)  # the apostrophe of phones
LONGEST = 60  # letters of a word that is looked into
MOST_TOKENS = 120  # a breath has fewer; what comes after them is not read
_PIECE = re.compile(r'\d+(?:\.\d+)?"(?=[\s,;]|$)|"[^"]*"?|[^\s"]+')
_PERCENT = re.compile(r"\d+(?:\.\d+)?%")
_TAGGED = re.compile(r"(?<=\da)/(?=\d)|(?<=ga)/|(?<=awg)/", re.I)
_LEADING = "(["
_TRAILING = ",;:!)]"
_HYPHENED = re.compile(r"[^-]+")
_SPELLED = 3  # letters that are no words by themselves


class Token(Struct, frozen=True):
    """A word of the line and where it stands; a quoted one is only ever a description. `parted`: a comma or the like comes after it."""

    text: str
    start: int
    end: int
    quoted: bool = False
    parted: bool = False
    lower: str = ""


@lru_cache(maxsize=4096)
def tokens_of(line: str) -> tuple[Token, ...]:
    """The words of a line. Hyphens part letters, not numbers ("single-pole" is two words, "12-2" and "9-11" are one)."""
    made: list[Token] = []
    for match in _PIECE.finditer(_TAGGED.sub(" ", line)):
        text, start = match[0], match.start()
        if text.startswith('"'):
            if inner := " ".join(text.strip('"').split()):
                made.append(Token(inner, start, match.end(), True, False, inner.lower()))
            continue
        made.extend(_words(text, start))
        if len(made) > MOST_TOKENS:
            break
    said = list(without(made))
    return tuple(_spelled(line, said[:MOST_TOKENS]))


def text_between(line: str, tokens: Sequence[Token]) -> str:
    """The letters of a line from the first of some words to the last, without words of talk that stand between them."""
    made = ""
    for token, then in zip(tokens, (*tokens[1:], None), strict=True):
        made += line[token.start : token.end]
        between = line[token.end : then.start] if then is not None else ""
        made += between if not any(map(str.isalnum, between)) else " "
    return made


def _spelled(line: str, tokens: list[Token]) -> Iterator[Token]:
    """Letters that dictation sets apart as the one word they spell: "C S S T"."""
    at = 0
    while at < len(tokens):
        end = at
        while (
            end < len(tokens) and len(tokens[end].text) == 1 and tokens[end].text.isalpha() and not tokens[end].quoted
        ):
            end += 1
            if tokens[end - 1].parted:
                break
        if end - at >= _SPELLED:
            text = line[tokens[at].start : tokens[end - 1].end]
            lower = "".join(token.lower for token in tokens[at:end])
            yield Token(text, tokens[at].start, tokens[end - 1].end, False, tokens[end - 1].parted, lower)
            at = end
        else:
            yield tokens[at]
            at += 1


def _words(text: str, start: int) -> Iterator[Token]:
    bare = text.lstrip(_LEADING)
    start += len(text) - len(bare)
    text, bare = bare, bare.rstrip(_TRAILING)
    if bare.endswith(".") and not bare.startswith("."):
        bare = bare.rstrip(".") or bare
    parted = len(bare) < len(text) and text[len(bare)] in ",;:"
    if not bare:
        return
    pieces = [*_pieces(bare[:-1]), (bare[-1], len(bare) - 1)] if _PERCENT.fullmatch(bare) else list(_pieces(bare))
    for number, (piece, at) in enumerate(pieces):
        last = number == len(pieces) - 1
        lower = piece.lower().replace(CURLY, "'")
        yield Token(piece, start + at, start + at + len(piece), False, parted and last, lower)


def _pieces(word: str) -> Iterator[tuple[str, int]]:
    """A word parted at its hyphens between letters and before 's."""
    plain = word.replace(CURLY, "'")
    if plain[0] == "=" or "@" in plain:
        yield word, 0
        return
    ending = len(word) - 2 if plain.lower().endswith("'s") and len(word) > 2 else len(word)
    lettered = (
        "-" in word
        and len(word) <= LONGEST
        and re.search(r"[^\W\d_]{2,}-|-[^\W\d_]{2,}|^\d+-[a-z]|[a-z]-[a-z]", plain, re.I)
    )
    if lettered:
        for match in _HYPHENED.finditer(word[:ending]):
            yield match[0], match.start()
    else:
        yield word[:ending], 0
    if ending < len(word):
        yield word[ending:], ending
