"""Facts of the walk-through, the house and the service, as they are said: "meter says 150", "riser inch and a quarter rigid, 2 copper".

Which words set which field is data: `words/walkthrough.toml` and its like. A line may hold several facts; each piece of it is one of
them, a word that carries nothing, or not understood.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from functools import cache
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.callout.circuit_readers import read_size
from robust_ledger.callout.engine import Item, Way, ways_through
from robust_ledger.callout.frame_nodes import PREFIX, set_node
from robust_ledger.callout.number_words import ONES, TENS
from robust_ledger.callout.numbers import lengths_at, numbers_at, pairs_at
from robust_ledger.callout.phrases import Found, Places, Reader, found_at, read_count, vocabulary
from robust_ledger.callout.spoken import Fault, Spoken
from robust_ledger.callout.telling import chip
from robust_ledger.callout.tokens import Token, tokens_of
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import ampacity_a, is_standard_rating
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.ledger.text import number_text

NOTHING = "Nothing of this is understood here; F1 lists what can be said."
STRUCK = 2.0  # what a word costs that is not understood
_KILO = re.compile(r"(\d{1,3}(?:,\d{3})?(?:\.\d+)?|\d{4,6})(k|ka)?(?:a?ic)?")
_TRADE = re.compile(r"(\d)(?:-(\d)/(\d))?(?:in|\")?|(\d)/(\d)(?:in|\")?")
METALS = {"cu": "cu", "copper": "cu", "coper": "cu", "al": "al", "aluminum": "al", "aluminium": "al", "alum": "al"}


class Bound(Struct, frozen=True):
    """What a figure of a field may be, and its unit as it is shown."""

    least: float
    most: float
    unit: str


def read_amps(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    """A rating in amperes: "150", "200a", "one fifty"."""
    if at < len(tokens) and (match := re.fullmatch(r"(\d{1,4}(?:\.\d+)?)a(?:mps?)?", tokens[at].lower)):
        yield float(match[1]), at + 1
        return
    for one in numbers_at(tokens, at):
        if not one.loose or one.value in (110, 125, 150, 175, 225):
            yield one.value, one.after


def _read_kilo(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    """A fault current or AIC rating in amperes: "22 k", "22,000", "10ka"."""
    if at >= len(tokens):
        return
    if match := _KILO.fullmatch(tokens[at].lower):
        value = float(match[1].replace(",", ""))
        if match[2]:
            yield value * 1000, at + 1
            return
        if at + 1 < len(tokens) and tokens[at + 1].lower in ("k", "ka", "thousand", "kaic"):
            yield value * 1000, at + 2
        elif value >= 1000:
            yield value, at + 1
        return
    for one in numbers_at(tokens, at):
        if one.value >= 1000:
            yield one.value, one.after
        elif one.after < len(tokens) and tokens[one.after].lower in ("k", "ka", "kaic"):
            yield one.value * 1000, one.after + 1


def _read_inches(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    for one in lengths_at(tokens, at):
        yield round(one.inches, 3), one.after


def _read_feet(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    """A length in feet; a bare number is feet, "13 6" is thirteen and a half."""
    for one in lengths_at(tokens, at):
        yield round(one.inches if one.bare else one.inches / 12, 3), one.after
    for first in numbers_at(tokens, at):
        if first.whole and first.after < len(tokens) and not tokens[first.after - 1].parted:
            for inches in numbers_at(tokens, first.after):
                if inches.value < 12 and first.value >= 4:
                    yield round(first.value + inches.value / 12, 3), inches.after


def _read_conductor(metal: str) -> Reader:
    def read(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
        """A conductor as it is kept, "2 Cu"; without its metal the usual one, if there is one."""
        if at < len(tokens) and tokens[at].lower in ("number", "no", "#", "num"):
            at += 1
        for size, after in read_size(tokens, at):
            kind, end = size.metal or metal, after
            if end < len(tokens) and tokens[end].lower in ("kcmil", "mcm"):
                end += 1
            if end < len(tokens) and tokens[end].lower in ("gauge", "awg", "ga"):
                end += 1
            if end < len(tokens) and not size.metal and tokens[end].lower in METALS:
                kind, end = METALS[tokens[end].lower], end + 1
            if kind and not size.wires:
                yield str(Conductors(size.text, "cu" if kind == "cca" else kind)), end

    return read


def _read_trade(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
    """A trade size as it is written: "1-1/4", from "inch and a quarter", "1 1/4", "two inch"."""
    if at < len(tokens) and _TRADE.fullmatch(tokens[at].lower) and "/" in tokens[at].lower:
        word = tokens[at].lower.rstrip('"').removesuffix("in")
        end = at + 1
        yield word, end + (end < len(tokens) and tokens[end].lower in ("inch", "in", "inches"))
        return
    for one in lengths_at(tokens, at):
        quarters = one.inches * 4
        if 2 <= quarters <= 24 and quarters == int(quarters):
            whole, part = divmod(int(quarters), 4)
            text = {0: "", 1: "1/4", 2: "1/2", 3: "3/4"}[part]
            yield f"{whole}-{text}" if whole and text else f"{whole}" if whole else text, one.after


def _read_area(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    if at < len(tokens) and re.fullmatch(r"\d{1,2},\d{3}", tokens[at].lower):
        yield float(tokens[at].lower.replace(",", "")), at + 1
        return
    for one in (*pairs_at(tokens, at), *numbers_at(tokens, at)):
        yield one.value, one.after


def _read_number(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    for one in numbers_at(tokens, at):
        if not one.loose:
            yield one.value, one.after


def _read_rest(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
    """All the words up to the end of the line."""
    if at < len(tokens) and tokens[at].lower != "is":
        yield " ".join(token.text for token in tokens[at:]), len(tokens)


@cache
def _no_name() -> frozenset[str]:
    return frozenset(vocabulary("walkthrough").head["no_name"].split())


def _read_name(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
    """Somebody's name up to the end of the line: few words, and none of those that sentences are made of."""
    words = tokens[at:]
    if 0 < len(words) <= 6 and not any(token.lower in _no_name() and not token.quoted for token in words):
        yield " ".join(token.text for token in words), len(tokens)


def uncut(reader: Reader) -> Reader:
    """The same without pieces of a number: of "twenty six" no twenty."""

    def read(tokens: Sequence[Token], at: int) -> Iterator[tuple[Any, int]]:
        for value, after in reader(tokens, at):
            cut = after < len(tokens) and tokens[after - 1].lower in TENS and 1 <= ONES.get(tokens[after].lower, 0) <= 9
            if not cut or tokens[after - 1].parted:
                yield value, after

    return read


_ALL: dict[str, Reader] = {
    "amps": read_amps, "kilo": _read_kilo, "inches": _read_inches, "feet": _read_feet, "conductor": _read_conductor(""),
    "copper": _read_conductor("cu"), "trade": _read_trade, "count": read_count, "number": _read_number, "area": _read_area, "rest": _read_rest,
    "name": _read_name,
    "width": _read_inches, "height": _read_inches, "depth": _read_inches, "second": _read_inches,
}  # fmt: skip
READERS: dict[str, Reader] = {name: uncut(reader) for name, reader in _ALL.items()}


@cache
def _readers(stage: str) -> Mapping[str, Reader]:
    """The readers of a stage: the common ones, and its lists of choices, "rigid" → "rmc"."""
    return {**READERS, **choice_readers(stage)}


def choice_readers(stage: str) -> dict[str, Reader]:
    """A reader for each list of choices of a stage, by its name."""
    return choices_of(vocabulary(stage).head.get("choices", {}))


def choices_of(choices: Mapping[str, Mapping[Any, Sequence[str]]]) -> dict[str, Reader]:
    """A reader for each of some lists of choices, by its name."""
    return {name: _choice(values) for name, values in choices.items()}


def _choice(values: Mapping[Any, Sequence[str]]) -> Reader:
    known = {tuple(t.lower for t in tokens_of(said)): value for value, words in values.items() for said in words}
    longest = max(len(key) for key in known)

    def read(tokens: Sequence[Token], at: int) -> Iterator[tuple[Any, int]]:
        """One of the choices by any of its words, the longest first."""
        for length in range(min(longest, len(tokens) - at), 0, -1):
            key = tuple(token.lower for token in tokens[at : at + length])
            if key in known:
                yield known[key], at + length
                return

    return read


def read_fields(line: str, job: Job, codebook: Codebook, stage: str) -> Spoken:
    """Read a line as facts of a stage."""
    tokens = tokens_of(line)
    if not tokens:
        return Spoken(stage)
    ways = ways_through(_items(tokens, stage), _extra, lambda way: 0.0)
    best = _spoken(ways[0][1], ways[0][0], line, tokens, job, codebook, stage)
    for cost, way in ways[1:5]:
        if cost - ways[0][0] > 0.5:
            break
        other = _spoken(way, cost, line, tokens, job, codebook, stage)
        if other.complete and other.facts != best.facts:
            return Spoken(
                best.stage,
                best.understood,
                best.edit,
                best.name,
                best.fault,
                best.wanted,
                best.struck,
                best.asks,
                best.order,
                best.place,
                other,
                best.cost,
                best.facts,
            )
    return best


def _items(tokens: tuple[Token, ...], stage: str) -> list[list[Item]]:
    known, places = vocabulary(stage), Places(tokens, _readers(stage))
    between = frozenset(known.head.get("between", ()))
    bits: dict[str, int] = {}
    made: list[list[Item]] = []
    for at, token in enumerate(tokens):
        here = [Item(at, at + 1, "struck", None, STRUCK)]
        if token.lower in between:
            here.append(Item(at, at + 1, "between", None, 0.05))
        for found in found_at(known, places, at):
            fills = 0
            for path in found.phrase.value:
                fills |= bits.setdefault(path, 1 << len(bits))
            # A phrase that takes more of the line's words in one is the better one.
            here.append(Item(at, found.after, "set", found, 0.1 + found.phrase.cost, fills))
        made.append(here)
    return made


def _extra(item: Item, way: Way) -> tuple[float, int]:
    return 0.0, 0


def values_of(found: Found) -> dict[str, Any]:
    """The fields a phrase sets, by their place in the job: "existing.meter_label_a" → 150.0."""
    made = {}
    for path, value in found.phrase.value.items():
        if isinstance(value, str) and value[:1] == "{":
            made[path] = found.values[value[1:-1]]
        else:
            made[path] = value
    return made


def _spoken(
    way: Way, cost: float, line: str, tokens: Sequence[Token], job: Job, codebook: Codebook, stage: str
) -> Spoken:
    facts: dict[str, Any] = {}
    for item in way.items:
        if item.sort == "set":
            facts |= values_of(item.value)
    struck = tuple((tokens[i.first].start, tokens[i.first].end) for i in way.items if i.sort == "struck")
    if not facts:
        fault = Fault(NOTHING, 0, len(line))
        return Spoken(stage, fault=fault, struck=struck, cost=cost)
    return spoken_facts(facts, struck, cost, line, job, codebook, stage, stage)


def spoken_facts(
    facts: dict[str, Any],
    struck: tuple[tuple[int, int], ...],
    cost: float,
    line: str,
    job: Job,
    codebook: Codebook,
    grammar: str,
    stage: str,
) -> Spoken:
    """Facts by their place as a line that was understood: in words, as an edit, or why the job cannot hold them. `grammar`: whose words its
    choices are called by."""
    if (problem := _problem(facts, codebook)) is not None:
        chips = tuple(chip(path, value, grammar) for path, value in facts.items())
        return Spoken(stage, chips, fault=Fault(problem, 0, len(line)), struck=struck, cost=cost)
    try:
        set_fields(job, facts).checked(job)
    except (ModelError, ValueError, AttributeError) as fault:
        words = fault.sentence if isinstance(fault, ModelError) else str(fault)
        return Spoken(stage, fault=Fault(f"The job cannot hold this: {words}.", 0, len(line)), cost=cost)
    chips = tuple(chip(path, value, grammar) for path, value in facts.items())
    first = next(iter(facts))
    place = first if first.startswith(PREFIX) else first.replace(".", ":", 1)
    return Spoken(
        stage,
        chips,
        lambda job: set_fields(job, facts),
        f"call out {chips[0]}",
        None,
        (),
        struck,
        place=place,
        cost=cost,
        facts=dict(facts),
    )


def set_fields(job: Job, facts: Mapping[str, Any]) -> Job:
    """The job with fields set by their place: "existing.wires", "fit.old.width_in", "edition". Raises ModelError."""
    for path, value in facts.items():
        if path.startswith(PREFIX):
            job = set_node(job, path, value)
            continue
        part, _, name = path.partition(".")
        if not name:
            job = replace(job, **{part: value})
            continue
        outer, _, inner = name.partition(".")
        held = getattr(job, part)
        if inner:
            value = getattr(held, outer).changed(**{inner: value})
        elif isinstance(value, str) and value[:1] == "+":  # one more of a list of choices
            value = tuple(dict.fromkeys((*getattr(held, outer), value[1:])))
        job = with_part(job, part, **{outer: value})
    return job


def _problem(facts: Mapping[str, Any], codebook: Codebook) -> str | None:
    """What cannot be, in one sentence: a conductor that is not made, a rating no breaker has."""
    for path, value in facts.items():
        name = path.rpartition(".")[2]
        if (
            isinstance(value, str)
            and (one := Conductors.read(value))
            and ampacity_a(codebook, one.size, one.metal, 75) is None
        ):
            return f'"{value}" is not a conductor; say it like 2 copper or 4/0 aluminum.'
        if (
            (name in ("main_a", "disconnect_a") or path == "main_feed.breaker_a")
            and value
            and not is_standard_rating(codebook, value)
        ):
            return f"{value:g} A is not a standard breaker rating; read it again."
        bound = _BOUNDS.get(name.rpartition("_")[2])
        if (
            bound is not None
            and isinstance(value, float | int)
            and not isinstance(value, bool)
            and not bound.least <= value <= bound.most
        ):
            return (
                f"{number_text(value, 2)} {bound.unit} is not between {bound.least:g} and {bound.most:,g} {bound.unit}."
            )
    return None


_BOUNDS = {
    "a": Bound(0, 200_000, "A"), "in": Bound(0, 2400, "in"), "ft": Bound(0, 2000, "ft"), "kva": Bound(1, 2500, "kVA"),
    "z": Bound(0.1, 20, "%"), "deg": Bound(0, 90, "°"), "ohms": Bound(0.1, 10_000, "Ω"),
}  # fmt: skip
