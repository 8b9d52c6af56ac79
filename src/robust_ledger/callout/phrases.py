"""Phrases of the vocabulary and where they stand in a line. A phrase is written as it is said:

    "shares|share (the) neutral with (<tag>) {number}"

Words apart by | are either of them, words in round brackets may be left out, `<tag>` is any word of that list, `{number}` a place for a
value. The vocabulary of each stage is data: `words/<stage>.toml`.
"""

from __future__ import annotations

import re
import tomllib
from collections.abc import Callable, Iterator, Mapping, Sequence
from functools import cache, lru_cache
from pathlib import Path
from typing import Any, Literal

from msgspec import Struct

from robust_ledger.callout.number_words import ONES, ORDINALS, TENS
from robust_ledger.callout.numbers import lengths_at, numbers_at
from robust_ledger.callout.tokens import Token, tokens_of
from robust_ledger.job.fields import field_at

FOLDER = Path(__file__).with_name("words")
_NODE = re.compile(r"\(([^)]*)\)|<([^>]+)>|\{([^}]+)\}|(\S+)")
_CALLED = ("tag", "tags", "number", "no", "#", "circuit", "ckt")


class Node(Struct, frozen=True):
    """A part of a phrase: one of some words, needed or not, or a place for a value."""

    kind: Literal["word", "maybe", "value"]
    words: frozenset[str] = frozenset()
    slot: str = ""


class Phrase(Struct, frozen=True):
    """What is said, and what it stands for. `unless`: words that must not come next; `cost` compares it with other readings."""

    fact: str
    value: Any
    nodes: tuple[Node, ...]
    said: str
    cost: float = 0.0
    unless: frozenset[str] = frozenset()


class Found(Struct, frozen=True):
    """A phrase in a line, from token to token, with the values at its places and where each stands."""

    phrase: Phrase
    first: int
    after: int
    values: Mapping[str, Any]
    at: Mapping[str, tuple[int, int]]


Reader = Callable[[Sequence[Token], int], Iterator[tuple[Any, int]]]


class Places:
    """What can be read at each token of one line; each is read once."""

    def __init__(self, tokens: Sequence[Token], readers: Mapping[str, Reader]) -> None:
        self.tokens = tokens
        self._readers = readers
        self._read: dict[tuple[str, int], list[tuple[Any, int]]] = {}

    def read(self, slot: str, at: int) -> list[tuple[Any, int]]:
        """Every value of a kind that begins at a token, with the token after it."""
        key = (slot, at)
        if key not in self._read:
            self._read[key] = list(self._readers[slot](self.tokens, at)) if at < len(self.tokens) else []
        return self._read[key]


class Vocabulary(Struct, frozen=True):
    """The phrases of a stage, by the word they begin with; those that begin with a value are under "". `values`: words that a value
    of this stage may begin with beside numbers."""

    phrases: tuple[Phrase, ...]
    by_word: Mapping[str, tuple[Phrase, ...]]
    lists: Mapping[str, frozenset[str]]
    head: Mapping[str, Any]
    values: frozenset[str]


def words_of(name: str) -> Mapping[str, Any]:
    """A file of words as it stands, read once: "frames", "fields", "circuit"."""
    return _words_of(FOLDER, name)


@cache
def _words_of(_folder: Path, name: str) -> Mapping[str, Any]:
    return tomllib.loads((FOLDER / f"{name}.toml").read_text(encoding="utf-8"))


@cache
def vocabulary(stage: str) -> Vocabulary:
    """The vocabulary of a stage, from its file and the one all share. Raises NoFieldError where it sets what is no field."""
    shared, data = words_of("shared")["lists"], words_of(stage)
    lists = {name: frozenset(words) for name, words in {**shared, **data.get("lists", {})}.items()}
    phrases: list[Phrase] = []
    for row in data["phrase"]:
        for path in row.get("sets", ()):
            field_at(path)
        unless: set[str] = set()
        for word in row.get("unless", ()):
            unless |= lists[word[1:-1]] if word.startswith("<") else {word}
        for said in row["say"]:
            nodes = _nodes(said, lists)
            phrases.append(
                Phrase(
                    row.get("fact", "set"),
                    row.get("value", row.get("sets")),
                    nodes,
                    said,
                    row.get("cost", 0.0),
                    frozenset(unless),
                )
            )
    by_word: dict[str, list[Phrase]] = {}
    for phrase in phrases:
        for word in _beginnings(phrase.nodes):
            by_word.setdefault(word, []).append(phrase)
    head = {name: value for name, value in data.items() if name not in ("phrase", "lists")}
    choices = data.get("choices", {})
    values = frozenset(tokens_of(said)[0].lower for one in choices.values() for words in one.values() for said in words)
    return Vocabulary(tuple(phrases), {word: tuple(some) for word, some in by_word.items()}, lists, head, values)


def _nodes(said: str, lists: Mapping[str, frozenset[str]]) -> tuple[Node, ...]:
    made: list[Node] = []
    for match in _NODE.finditer(said):
        maybe, listed, slot, word = match.groups()
        if slot is not None:
            made.append(Node("value", slot=slot))
        elif listed is not None:
            made.append(Node("word", lists[listed]))
        elif maybe is not None:
            words: set[str] = set()
            for one in maybe.split("|"):
                words |= lists[one[1:-1]] if one.startswith("<") else {one}
            made.append(Node("maybe", frozenset(words)))
        else:
            made += _literal(word)
    return tuple(made)


def _literal(word: str) -> list[Node]:
    """A word as the line's own words are parted: "k&t" is one, "nm-b" two."""
    options = word.split("|")
    if len(options) == 1:
        return [Node("word", frozenset({token.lower})) for token in tokens_of(word)] or [
            Node("word", frozenset({word}))
        ]
    return [Node("word", frozenset(options))]


def _beginnings(nodes: Sequence[Node]) -> set[str]:
    made: set[str] = set()
    for node in nodes:
        if node.kind == "value":
            return made | {""}
        made |= node.words
        if node.kind == "word":
            return made
    return made


def found_at(vocabulary: Vocabulary, places: Places, at: int, named: bool = False) -> list[Found]:
    """Every phrase that stands at a token. `named`: values of this stage are names, that any word may begin."""
    token = places.tokens[at]
    if token.quoted:
        return []
    made: list[Found] = []
    valued = named or token.lower in vocabulary.values or may_be_value(token.lower)
    keys = (token.lower, "") if valued else (token.lower,)
    for key in keys:
        for phrase in vocabulary.by_word.get(key, ()):
            for after, values, where in _matches(phrase.nodes, 0, places, at):
                going_on = after < len(places.tokens) and not places.tokens[after - 1].parted
                if after > at and not (going_on and places.tokens[after].lower in phrase.unless):
                    made.append(Found(phrase, at, after, dict(values), dict(where)))
    return made


@lru_cache(maxsize=8192)
def may_be_value(word: str) -> bool:
    """Whether a value may begin with a word: a figure, a number in words, a side, an ordinal."""
    return not word[:1].isalpha() or word.partition("@")[0] in _VALUES or word[-1:].isdigit()


PLURAL_SIZES = {
    "fourteens": "14",
    "twelves": "12",
    "tens": "10",
    "eights": "8",
    "sixes": "6",
    "fours": "4",
}  # "forty on eights"
_VALUES = frozenset(
    (
        *ONES,
        *TENS,
        *ORDINALS,
        "a",
        "an",
        "hundred",
        "half",
        "quarter",
        "inch",
        "foot",
        "top",
        "bottom",
        "left",
        "right",
        "back",
        *PLURAL_SIZES,
        *_CALLED,
    )
)


def _matches(
    nodes: Sequence[Node], number: int, places: Places, at: int
) -> list[tuple[int, list[tuple[str, Any]], list[tuple[str, tuple[int, int]]]]]:
    """Where the nodes from one on may end, beginning at a token, with the values on the way."""
    if number == len(nodes):
        return [(at, [], [])]
    node, made = nodes[number], []
    if node.kind == "value":
        for value, after in places.read(node.slot, at):
            for end, values, where in _matches(nodes, number + 1, places, after):
                made.append((end, [(node.slot, value), *values], [(node.slot, (at, after)), *where]))
        return made
    if at < len(places.tokens) and places.tokens[at].lower in node.words and not places.tokens[at].quoted:
        made += _matches(nodes, number + 1, places, at + 1)
    if node.kind == "maybe":
        made += _matches(nodes, number + 1, places, at)
    return made


def read_number(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    """Any number."""
    for one in numbers_at(tokens, at):
        yield one.value, one.after


def read_count(tokens: Sequence[Token], at: int) -> Iterator[tuple[int, int]]:
    """A whole number, with or without "number" before it: "tag 4", "#4", "four"."""
    while at < len(tokens) and tokens[at].lower in _CALLED:
        at += 1
    if at < len(tokens) and (match := re.fullmatch(r"#?(\d{1,9})", tokens[at].lower)):
        yield int(match[1]), at + 1
        return
    for one in numbers_at(tokens, at):
        if one.whole:
            yield int(one.value), one.after


def read_length(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    """A length in inches, with its unit."""
    for one in lengths_at(tokens, at):
        if not one.bare:
            yield one.inches, one.after


def read_any_length(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    """A length in inches, with its unit or without."""
    for one in lengths_at(tokens, at):
        yield one.inches, one.after
