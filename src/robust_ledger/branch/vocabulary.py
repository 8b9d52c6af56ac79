"""Reading what a description says: rooms, appliances and outlets by the words of the vocabulary, the longest phrase first."""

from __future__ import annotations

import re
import tomllib
from functools import cache, lru_cache
from pathlib import Path
from typing import Any, Literal

from msgspec import Struct

from robust_ledger.job.parts.conventions import OwnWord

Sort = Literal["place", "appliance", "gas", "lights", "receptacles", "alarms", "nothing"]
_TOKEN = re.compile(r"[^\W_]+(?:/[^\W_]+)?", re.UNICODE)
_HORSEPOWER = re.compile(r"\d[\d./]*\s*hp\b")  # of a motor; by itself "hp" is a heat pump
_PARTED = re.compile(r"[,;+&()]|\band\b|/", re.I)
OwnWords = tuple[tuple[str, str], ...]  # a word of one's own, and the usual one it stands for
_LIVED_IN = frozenset({"bedroom", "living", "dining", "kitchen", "hall"})


class Meaning(Struct, frozen=True):
    """What a phrase stands for; `place`: where an appliance is unless something else is said, or `always`
    even then."""

    sort: Sort
    name: str
    place: str = ""
    outlet: str = ""
    always: bool = False


class Said(Struct, frozen=True):
    """What a description says: rooms, appliances, kinds of outlets. `words`: how many of it meant
    something; `baths`: how many bathrooms it names; `unknown`: words of it that mean nothing here."""

    places: frozenset[str]
    appliances: frozenset[str]
    lights: bool
    receptacles: bool
    alarms: bool
    words: int
    baths: int = 0
    unknown: tuple[str, ...] = ()


class _Match(Struct, frozen=True):
    meaning: Meaning
    phrase: str
    start: int
    end: int


def _singular(word: str) -> str:
    if len(word) > 3 and word.endswith("ies"):
        return f"{word[:-3]}y"
    return word[:-1] if len(word) > 2 and word.endswith("s") and not word.endswith(("ss", "us")) else word


def _key(phrase: str) -> tuple[str, ...]:
    return tuple(_singular(token) for token in _TOKEN.findall(phrase.lower().replace("'", "").replace("’", "")))


@cache
def vocabulary() -> dict[tuple[str, ...], Meaning]:
    """Every phrase with its meaning, as the shipped data has it."""
    data = _data()
    made: dict[tuple[str, ...], Meaning] = {}
    for place, words in data["places"].items():
        made |= {_key(word): Meaning("place", place, place) for word in words}
    for name, held in data["appliances"].items():
        meaning = Meaning("appliance", name, held.get("place", ""), held.get("outlet", ""), "always" in held)
        made |= {_key(word): meaning for word in held["words"]}
    for place, words in data["gas"].items():
        made |= {_key(word): Meaning("gas", place, place) for word in words}
    for sort, words in data["outlets"].items():
        made |= {_key(word): Meaning(sort, sort) for word in words}
    made |= {_key(word): Meaning("nothing", "") for word in data["nothing"]["words"]}
    return made


@lru_cache(maxsize=64)
def _known(own: OwnWords) -> dict[tuple[str, ...], Meaning]:
    """The vocabulary with one's own words in it; one that stands for nothing known is left out."""
    usual = vocabulary()
    if not own:
        return usual
    return usual | {_key(word): usual[_key(means)] for word, means in own if _key(word) and _key(means) in usual}


def read_own_words(text: str) -> tuple[OwnWord, ...]:
    """A reader for words of one's own: "casita = guest room; hobby = workshop". Raises ValueError with one sentence."""
    made = []
    for part in text.split(";"):
        if not part.strip():
            continue
        word, sign, means = (one.strip() for one in part.partition("="))
        if not sign or not _key(word):
            raise ValueError(f'"{part.strip()}" says no word and what it means; write it like casita = guest room.')
        if _key(means) not in vocabulary():
            raise ValueError(f'"{means}" is no room, appliance or outlet known here, so "{word}" cannot stand for it.')
        made.append(OwnWord.read({"word": word, "means": means}))
    return tuple(made)


def own_words_text(words: tuple[OwnWord, ...]) -> str:
    """The same as it reads back."""
    return "; ".join(f"{word.word} = {word.means}" for word in words)


@cache
def _list(name: str) -> frozenset[tuple[str, ...]]:
    """A plain list of the vocabulary."""
    return frozenset(_key(word) for word in _data()[name]["words"])


@cache
def _data() -> dict[str, Any]:
    return tomllib.loads(Path(__file__).with_name("vocabulary.toml").read_text(encoding="utf-8"))


@lru_cache(maxsize=64)
def _longest(own: OwnWords) -> int:
    """Words of the longest phrase."""
    return max(len(key) for key in _known(own))


@lru_cache(maxsize=64)
def _slashed(own: OwnWords) -> frozenset[str]:
    """Words that are written with a slash in them."""
    return frozenset(token for key in _known(own) for token in key if "/" in token)


@cache
def outlet_of(appliance: str) -> str:
    """Whether an appliance is hard-wired ("fixed"), comes with a cord ("cord") or may be either; "" for a receptacle's own."""
    return next((one.outlet for one in vocabulary().values() if one.sort == "appliance" and one.name == appliance), "")


@lru_cache(maxsize=4096)
def read_words(text: str, own: OwnWords = ()) -> Said:
    """What a description says. `own`: the job's own words."""
    matches, parted, unknown = _matches(text, own)
    plugged = [match for match in matches if _key(match.phrase) in _list("plugged")]
    parted |= {match.end for match in plugged}  # nothing is "in the counter"
    places: set[str] = set()
    appliances: list[Meaning] = []
    for number, match in enumerate(matches):
        before = matches[number - 1] if number else None
        after = matches[number + 1] if number + 1 < len(matches) else None
        if match.meaning.sort == "appliance":
            appliances.append(match.meaning)
        elif match.meaning.sort in ("place", "gas"):
            places |= _places_of(match, before, after, parted)
    parts = {match.start: sum(at <= match.start for at in parted) for match in matches}
    roomed = {parts[match.start] for match in matches if match.meaning.sort in ("place", "gas")}
    for match in matches:  # an appliance is where it usually is, unless its part of the words names a room
        meaning = match.meaning
        if meaning.sort == "appliance" and meaning.place and (parts[match.start] not in roomed or meaning.always):
            places.add(meaning.place)
    sorts = {match.meaning.sort for match in matches}
    rooms = sum(match.meaning.place == "bath" and match.meaning.sort == "place" for match in matches)
    baths = max(rooms, 2 if re.search(r"\b(?:baths|bathrooms)\b", text, re.I) else 0)
    names = frozenset(one.name for one in appliances)
    count = sum(match.meaning.sort != "nothing" for match in matches)
    receptacles = bool(plugged) or "receptacles" in sorts
    return Said(frozenset(places), names, "lights" in sorts, receptacles, "alarms" in sorts, count, baths, unknown)


def _places_of(match: _Match, before: _Match | None, after: _Match | None, parted: frozenset[int]) -> set[str]:
    """The place of a room's word. Before another room "hall" and its like only say which; a bedroom in the basement is one, in a
    finished basement."""
    place = match.meaning.place
    joined = after if after is not None and after.start == match.end and match.end not in parted else None
    room = joined is not None and joined.meaning.sort in ("place", "gas")
    if room and _key(match.phrase) in _list("qualifiers"):
        return set()
    if place == "unfinished_basement":
        ahead = before if before is not None and before.end == match.start and match.start not in parted else None
        if any(
            one is not None and one.meaning.sort == "place" and one.meaning.place in _LIVED_IN
            for one in (joined, ahead)
        ):
            return {"finished_basement"}
    return {place}


def _matches(text: str, own: OwnWords) -> tuple[list[_Match], frozenset[int], tuple[str, ...]]:
    """The phrases found, in their order; before which tokens something parts the words; and the words that are in no phrase."""
    tokens, parted = _tokens(text, own)
    known, longest = _known(own), _longest(own)
    made, at = [], 0
    unknown: list[str] = []
    while at < len(tokens):
        for length in range(min(longest, len(tokens) - at), 0, -1):
            phrase = tuple(tokens[at : at + length])
            if phrase in known and not any(n in parted for n in range(at + 1, at + length)):
                made.append(_Match(known[phrase], " ".join(phrase), at, at + length))
                at += length
                break
        else:
            if (tokens[at],) not in _list("plain"):
                unknown.append(tokens[at])
            at += 1
    return made, parted, tuple(dict.fromkeys(unknown))


def _tokens(text: str, own: OwnWords) -> tuple[list[str], frozenset[int]]:
    """Words in the singular without their numbers ("br2"), a slash kept in what is known with it ("w/h")."""
    known = _slashed(own)
    tokens: list[str] = []
    parted: set[int] = set()
    end = 0
    plain = _HORSEPOWER.sub(" ", text.lower()).replace("'", "").replace("’", "").replace("-", " ")
    for found in _TOKEN.finditer(plain):
        if _PARTED.search(plain[end : found.start()]):
            parted.add(len(tokens))
        end = found.end()
        word = _singular(found[0])
        for number, part in enumerate([word] if word in known else word.split("/")):
            if number:
                parted.add(len(tokens))
            bare = re.sub(r"(?<=[a-z])\d+$", "", part)
            if bare == "and":
                parted.add(len(tokens))
            elif bare and not bare.isdigit():
                tokens.append(_singular(bare))
    return tokens, frozenset(parted)
