"""The catalogue of findings: one TOML file a room, read and checked once.

A text has places for values: `{name}` takes words, a count, a step or an entry; `{rating_a:g}` a number; `{why:up}` words that begin with a
capital here, `{why:low}` with a small letter. `[has|have]` is said of one or of several: by the value `count`, or by the findings that are
told together. Where a text, a severity or the rules hang on a fact, they are a table by the names of flags or values: the first that is
true is used, else `otherwise`.
"""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterator, Mapping
from functools import cache, lru_cache
from pathlib import Path
from string import Formatter
from typing import TypeVar

from msgspec import Struct, ValidationError, convert

from robust_ledger.ledger.entry import Entry, Severity, Step

OTHERWISE = "otherwise"
COUNT = "count"  # decides between one and several, whether it is printed or not
SAID = "SAID"  # a severity that is worked out: a defect's, a voltage's
NUMBERS = ("g", ",g", ",", ".0f", ",.0f", ".1f", ".2f", ".0%")
WORDS = ("", "up", "low")
_HEAD = re.compile(r"^\[([\w.]+)\]\n", re.M)
_NUMBER = re.compile(r"\[([^\[\]|]*)\|([^\[\]|]*)\]")

Words = str | dict[str, str]
T = TypeVar("T", str, tuple[str, ...])


class CatalogueError(Exception):
    """What is wrong with the catalogue or with a use of it: a fault of the program, never of the user."""


class Kind(Struct, frozen=True, forbid_unknown_fields=True):
    """One kind of finding. `id`: the part of its id that is its own, where several kinds share an id; `field`: the field of the subject
    that it is about; `words`: texts that hang on a flag, as further places of the others; `each`: what tells several of its kind apart,
    and `several` their title together, with a place for all of `each`; without it the title itself, where `each` stands in it. `cured`: the plan
    itself puts it right, always or by the flag of that name."""

    severity: str | dict[str, str]
    title: Words
    text: Words
    remedy: Words
    rules: tuple[str, ...] | dict[str, tuple[str, ...]] = ()
    field: str = ""
    id: str = ""
    words: dict[str, dict[str, str]] = {}
    each: str = ""
    several: str = ""
    cured: bool | str = False

    def texts(self) -> Iterator[str]:
        """All that it may say."""
        for words in (self.title, self.text, self.remedy, self.each, self.several, *self.words.values()):
            yield from words.values() if isinstance(words, dict) else (words,)

    def every_rule(self) -> Iterator[str]:
        """The rules that it may cite."""
        for rules in self.rules.values() if isinstance(self.rules, dict) else (self.rules,):
            yield from rules

    def flags(self) -> frozenset[str]:
        """The facts that its words hang on."""
        tables = [
            one for one in (self.severity, self.title, self.text, self.remedy, self.rules) if isinstance(one, dict)
        ]
        by_plan = {self.cured} if isinstance(self.cured, str) else set()
        return (frozenset(flag for table in (*tables, *self.words.values()) for flag in table) - {OTHERWISE}) | by_plan

    def places(self) -> dict[str, bool]:
        """The values that it takes by their names, and whether each is a number. Raises CatalogueError."""
        found: dict[str, bool] = {}
        for text in self.texts():
            for name, number in _places(text):
                if found.setdefault(name, number) != number:
                    raise CatalogueError(f"{name} is a number here and words there")
        return {name: number for name, number in found.items() if name not in self.words and name != "each"}


@cache
def _blocks() -> Mapping[str, tuple[str, str]]:
    """The text of every kind by its name, with its file. Only a few of them are raised by one job, and reading all would cost the desk's start
    seventy milliseconds. Raises CatalogueError."""
    found: dict[str, tuple[str, str]] = {}
    for page in sorted(Path(__file__).parent.glob("*.toml")):
        parts = _HEAD.split(page.read_text("utf-8"))
        for name, text in zip(parts[1::2], parts[2::2], strict=True):
            if name in found:
                raise CatalogueError(f"{page.name}: {name} stands twice")
            found[name] = text, page.name
    return found


@cache
def kind_of(name: str) -> Kind:
    """The kind of that name, read and checked when it is first wanted. Raises CatalogueError for a name that is none."""
    if (block := _blocks().get(name)) is None:
        raise CatalogueError(f"no finding is called {name}")
    return dict(read(f"[{name}]\n{block[0]}", block[1]))[name]


@cache
def catalogue() -> Mapping[str, Kind]:
    """Every kind of finding by its name ("feeder.aic"). Raises CatalogueError that names the file and the kind."""
    return {name: kind_of(name) for name in _blocks()}


@cache
def wanted(name: str) -> frozenset[str]:
    """The values and flags that a kind takes. Raises CatalogueError for a name that is none."""
    kind = kind_of(name)
    return (kind.flags() | kind.places().keys()) - {COUNT}


def read(text: str, file: str) -> Iterator[tuple[str, Kind]]:
    """The kinds of one file, checked. Raises CatalogueError."""
    try:
        topics = tomllib.loads(text)
    except tomllib.TOMLDecodeError as fault:
        raise CatalogueError(f"{file}: {fault}") from None
    for topic, kinds in topics.items():
        for name, data in kinds.items():
            try:
                kind = convert(data, Kind)
                _check(kind)
            except (ValidationError, CatalogueError) as fault:
                raise CatalogueError(f"{file}: {topic}.{name}: {fault}") from None
            yield f"{topic}.{name}", kind


def _check(kind: Kind) -> None:
    """Tables end in `otherwise`, severities are ones, places are well formed."""
    for table in (kind.severity, kind.title, kind.text, kind.remedy, kind.rules, *kind.words.values()):
        if isinstance(table, dict) and list(table)[-1] != OTHERWISE:
            raise CatalogueError(f"a table that does not end in {OTHERWISE!r}")
    kind.places()
    said = kind.severity.values() if isinstance(kind.severity, dict) else (kind.severity,)
    if odd := set(said) - {SAID, *Severity}:
        raise CatalogueError(f"{', '.join(odd)} is no severity")
    if kind.several and "{each}" not in kind.several:
        raise CatalogueError("its title for several has no {each}")


def _places(text: str) -> Iterator[tuple[str, bool]]:
    """Names of the places in a text, and whether a number belongs there. Raises CatalogueError."""
    try:
        parts = [part for part in Formatter().parse(text) if part[1] is not None]
    except ValueError as fault:
        raise CatalogueError(f"{text!r}: {fault}") from None
    for _words, name, spec, conversion in parts:
        if name is None or not name.isidentifier() or conversion or spec not in (*NUMBERS, *WORDS):
            raise CatalogueError(f"{text!r}: {{{name}:{spec}}} is no place for a value")
        yield name, spec in NUMBERS


def _put(value: object, spec: str) -> str:
    """A value as its place wants it: entries and steps say themselves, a number only where one belongs. Raises CatalogueError."""
    if spec in NUMBERS:
        if isinstance(value, bool) or not isinstance(value, int | float):
            raise CatalogueError(f"{value!r} is no number")
        return format(value, spec)
    if isinstance(value, Entry | Step):
        words = value.text()
    elif isinstance(value, str | int) and not isinstance(value, bool):
        words = str(value)
    else:
        raise CatalogueError(f"{value!r} is neither words nor a count, nor an entry")
    if spec:
        return (words[:1].upper() if spec == "up" else words[:1].lower()) + words[1:]
    return words


@lru_cache(maxsize=1024)
def _pieces(text: str) -> tuple[tuple[str, str | None, str], ...]:
    """A text as words and the places behind them: each is taken apart once, and filled with every keystroke."""
    return tuple((words, name, spec or "") for words, name, spec, _conversion in Formatter().parse(text))


def filled(text: str, values: Mapping[str, object], several: bool = False) -> str:
    """A text with its values, said of one or of several: where it counts something, by that. Raises CatalogueError for a value of the
    wrong kind."""
    if "|" in text:
        several = several or values.get(COUNT, 1) != 1
        text = _NUMBER.sub(lambda found: found[2 if several else 1], text)
    if "{" not in text and "}" not in text:
        return text
    return "".join(words + ("" if name is None else _put(values[name], spec)) for words, name, spec in _pieces(text))


def chosen(table: T | Mapping[str, T], flags: Mapping[str, object]) -> T:
    """What a table says by the flags: the first that is true, else `otherwise`."""
    if not isinstance(table, Mapping):
        return table
    return next(what for flag, what in table.items() if flag == OTHERWISE or flags[flag])
