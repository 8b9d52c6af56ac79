"""What the words of a called-out circuit can mean: every piece of the line with the slot it may fill and what that reading costs."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from functools import cache
from typing import Any

from robust_ledger.callout.circuit_readers import GAUGES, READERS, WIRES, Size
from robust_ledger.callout.engine import Item, Way, slots
from robust_ledger.callout.letters import (
    AMPS_TAGGED,
    BOXED,
    GAUGE_TAGGED,
    LOAD,
    POLES_TAGGED,
    SPACE_TAGGED,
)
from robust_ledger.callout.numbers import is_number_word
from robust_ledger.callout.phrases import (
    Found,
    Places,
    Vocabulary,
    found_at,
    may_be_value,
    vocabulary,
)
from robust_ledger.callout.tokens import Token
from robust_ledger.job.job import Job

SLOT = slots(
    (
        "space", "amps", "poles", "gauge", "metal", "cable", "device", "half", "quad_pair", "ground", "share", "clamp", "enters",
        "free", "slack", "blank", "main", "color", "wires",
    )
)  # fmt: skip
DONE = SLOT["space"] | SLOT["amps"] | SLOT["gauge"]
RATINGS = frozenset((15, 20, 25, 30, 35, 40, 45, 50, 60, 70, 80, 90, 100, 110, 125, 150, 175, 200, 225))
_POLES_FIRST = re.compile(r"(?:([12])p|dp|sp)-?(\d{1,3})a?", re.I)
_BOTH = re.compile(r"(\d{2,3})a?/#?(\d{1,2})")
_POINTING = ("this", "that", "next", "the", "last")
_LONG = ("foot", "feet", "ft", "inch", "inches", "gallon", "gal", "sq", "square")

SPOKEN = ("word", "glue", "figure")  # what a description is made of
NO_RUN, IN_RUN, RUN_OVER, SECOND_RUN, ALL_OVER = range(5)


@cache
def _known() -> Vocabulary:
    return vocabulary("circuit")


@cache
def words(name: str) -> frozenset[str]:
    """A plain list of the vocabulary: "between", "counted", "units", "telltale"."""
    return frozenset(_known().head[name])


def items_of(tokens: Sequence[Token], job: Job) -> list[list[Item]]:
    """Everything each piece of the line can mean, by the token it begins at."""
    known = _known()
    places = Places(tokens, READERS)
    made: list[list[Item]] = []
    for at, token in enumerate(tokens):
        here = [_as_word(tokens, at)]
        if not token.quoted:
            if token.lower in words("nouns"):
                here.append(Item(at, at + 1, "noun", None, 0.05))
            elif _falls_away(tokens, at):
                here.append(Item(at, at + 1, "between", token.lower, 0.05))
            here += _signs(tokens, at, job)
            here += _bare(places, at) if may_be_value(token.lower) else ()
            for found in found_at(known, places, at):
                here += _meant(found, tokens)
        made.append(here)
    return made


def _falls_away(tokens: Sequence[Token], at: int) -> bool:
    """Whether a word carries nothing by itself; a "-" at the start says that there is no space."""
    word = tokens[at].lower
    if word == "one":
        return at > 0 and tokens[at - 1].lower in _POINTING
    return word in words("between") and not (at == 0 and word == "-")


def _as_word(tokens: Sequence[Token], at: int) -> Item:
    """The word as a part of what the circuit feeds."""
    token = tokens[at]
    if token.quoted:
        return Item(at, at + 1, "word", token.text, -2.0)
    if token.lower[:1].isdigit() or token.lower.startswith("#") or token.lower in ("?", "???", "??"):
        return Item(at, at + 1, "figure", token.text, 0.35)
    if _counts_nothing(tokens, at):
        return Item(at, at + 1, "word", token.text, 1.3)
    cost = 1.2 if token.lower in words("units") else 0.9 if token.lower in words("telltale") else 0.3
    return Item(at, at + 1, "glue" if token.lower in words("between") | words("nouns") else "word", token.text, cost)


def _counts_nothing(tokens: Sequence[Token], at: int) -> bool:
    """Whether a number in words counts nothing that follows it, "two, kitchen", and numbers nothing before it, as "bedroom two" does."""
    if not is_number_word(tokens[at].lower) or tokens[at].lower in ("one", "a", "half"):
        return False
    before = tokens[at - 1].lower if at else ""
    follows = tokens[at + 1].lower if at + 1 < len(tokens) and not tokens[at].parted else ""
    named = before in words("counted") or before in (
        "unit",
        "apartment",
        "tag",
        "zone",
        "panel",
        "sub",
        "shop",
        "garage",
    )
    return not named and follows not in words("counted") and not (follows.endswith("s") and follows != "bus")


def _signs(tokens: Sequence[Token], at: int, job: Job) -> Iterator[Item]:
    """Words that say themselves what they are: s7, 20a, 30/2, 2P30, #12, 10al, =range."""
    token = tokens[at]
    word, lower = token.text, token.lower
    if match := LOAD.match(word):
        yield Item(at, at + 1, "load", match[1], 0.0)
    if match := SPACE_TAGGED.match(lower):
        spaces = tuple(part for part in re.split(r"[,+]", match[1] or match[2]) if part)
        yield Item(at, at + 1, "space", spaces, 0.0, SLOT["space"], at)
    if (match := BOXED.match(lower)) and job.old_box(match[1]) is not None:
        yield Item(
            at, at + 1, "space", tuple(part for part in re.split(r"[,+]", lower) if part), 0.0, SLOT["space"], at
        )
    if at == 0 and lower == "-":
        yield Item(at, at + 1, "space", (), 0.0, SLOT["space"], at)
    elif lower == "-":
        yield Item(at, at + 1, "amps", None, 0.6, SLOT["amps"], at)
    if match := AMPS_TAGGED.match(lower):
        fills = SLOT["amps"] | (SLOT["poles"] if match[2] else 0)
        yield Item(at, at + 1, "amps", (float(match[1]), int(match[2] or 0)), 0.0, fills, at)
        yield Item(at, at + 1, "plain_reading", float(match[1]), 0.3, SLOT["clamp"], at)
    if match := POLES_TAGGED.match(lower.replace("a/", "/").removesuffix("p")):
        rating = None if match[1] == "?" else float(match[1])
        yield Item(at, at + 1, "amps", (rating, int(match[2])), 0.1, SLOT["amps"] | SLOT["poles"], at)
    if match := _POLES_FIRST.fullmatch(lower):
        value = (float(match[2]), int(match[1]) if match[1] else 1 if lower[0] == "s" else 2)
        yield Item(at, at + 1, "amps", value, 0.0, SLOT["amps"] | SLOT["poles"], at)
    if match := re.fullmatch(r"([12])p", lower):
        yield Item(at, at + 1, "poles", int(match[1]), 0.0, SLOT["poles"], at)
    yield from _size_signs(lower, at)
    if lower == "?":
        yield Item(at, at + 1, "bare_amps", None, 0.0, SLOT["amps"], at)
        yield Item(at, at + 1, "bare_gauge", None, 0.0, SLOT["gauge"], at)
        yield Item(at, at + 1, "mark", "unknown", 0.3)


def _size_signs(lower: str, at: int) -> Iterator[Item]:
    """Sizes of wires as they are written: 20/12, 12-2, #12, 10al."""
    if (match := _BOTH.fullmatch(lower)) and match[2] in GAUGES - {"1", "2"} and float(match[1]) in RATINGS:
        both = (float(match[1]), Size(match[2]))
        yield Item(at, at + 1, "amps_gauge", both, 0.35, SLOT["amps"] | SLOT["gauge"], at)
    if (match := WIRES.fullmatch(lower)) and match[1] in GAUGES:
        yield _gauge_item(at, at + 1, Size(match[1], match[3] or "", int(match[2])), 0.05)
    elif match := GAUGE_TAGGED.match(lower):
        size = next(part for part in (match[1], match[3], match[5], match[6]) if part)
        yield _gauge_item(at, at + 1, Size(size, match[2] or match[4] or ""), 0.03)


def _gauge_item(first: int, after: int, size: Size, cost: float) -> Item:
    return Item(first, after, "gauge", size, cost, SLOT["gauge"] | (SLOT["metal"] if size.metal else 0), first)


def _bare(places: Places, at: int) -> Iterator[Item]:
    """Numbers without a unit: what they are follows from where they stand."""
    tokens = places.tokens
    for spaces, after in places.read("spaces", at):
        cost = 0.0 if len(spaces) == 1 or after == at + 1 else 0.3
        yield Item(at, after, "bare_space", spaces, cost, SLOT["space"], at)
    for amps, after in places.read("amps", at):
        if amps is not None:
            long = after < len(tokens) and tokens[after].lower in _LONG
            yield Item(at, after, "bare_amps", amps, 2.0 if long else 0.1 if amps in RATINGS else 1.0, SLOT["amps"], at)
    for size, after in places.read("gauge", at):
        counted = after < len(tokens) and tokens[after].lower in words("counted")
        if size.wires and after > at + 1:
            yield _gauge_item(at, after, size, 1.6 if counted else size.cost)
        elif not size.wires and not (counted and after == at + 1 and size.text not in GAUGES):
            sure = size.text in GAUGES
            fills = SLOT["gauge"] | (SLOT["metal"] if size.metal else 0)
            yield Item(at, after, "bare_gauge", size, 0.1 if sure else 1.0, fills, at)


def _meant(found: Found, tokens: Sequence[Token]) -> Iterator[Item]:
    """The item of a phrase."""
    fact, value, cost, first, after = found.phrase.fact, found.phrase.value, found.phrase.cost, found.first, found.after
    values = found.values
    if fact == "main":
        if first == 0 and after == len(tokens):
            yield Item(first, after, "main", values["amps"], cost, SLOT["main"], found.at["amps"][0])
        return
    if fact in ("side_space", "corner"):
        value = _by_side(found, tokens)
        fact = "space"
    elif fact == "plate":
        value = f"{value} {values['reading']:g} A"
    elif fact in ("share_of", "side_free", "side_at_free"):
        value = dict(values)
    elif value is None and values:
        value = next(iter(values.values()))
    blamed = found.at.get("length") or found.at.get("any_length") or next(iter(found.at.values()), (first, after))
    at = blamed[0]
    if fact == "double_amps":
        if value not in RATINGS:
            return  # "the double one"
        fact, value = "amps", (value, 2)
    if _is_part_of_more(fact, tokens, first, after):
        return
    yield Item(first, after, fact, value, cost + getattr(value, "cost", 0.0), _fills(fact, value), at)


def _stands_alone(tokens: Sequence[Token], first: int, after: int) -> bool:
    """Whether a word is apart from what is around it: a comma before or after it, or it follows the breaker."""
    before = tokens[first - 1]
    return before.parted or tokens[after - 1].parted or before.lower in _known().lists["amps"]


def _is_part_of_more(fact: str, tokens: Sequence[Token], first: int, after: int) -> bool:
    """Whether a phrase means nothing where it stands: "red" of "red barn", an "off" that is not apart."""
    if fact in ("plain_reading", "color"):
        return not _ends(tokens, after)
    if fact == "side_free":
        return _ends_elsewhere(tokens, first, after)
    return fact == "off" and first > 0 and not _stands_alone(tokens, first, after)


def _ends_elsewhere(tokens: Sequence[Token], first: int, after: int) -> bool:
    """Whether a length behind a comma belongs to what follows it: "left, 26 inches free" of "counter left, 26 inches free from the top"."""
    parted = any(token.parted for token in tokens[first : after - 1])
    return parted and after < len(tokens) and tokens[after].lower in ("from", "at", "out", "on")


def _ends(tokens: Sequence[Token], after: int) -> bool:
    return after >= len(tokens) or tokens[after - 1].parted


_FILLS = {
    "next": SLOT["space"], "amps_unknown": SLOT["amps"], "gauge_unknown": SLOT["gauge"], "gauge_metal": SLOT["gauge"] | SLOT["metal"],
    "share_of": SLOT["share"] | SLOT["gauge"], "plain_reading": SLOT["clamp"], "side_free": SLOT["enters"] | SLOT["free"],
    "side_at_free": SLOT["enters"] | SLOT["free"], "side_unknown": SLOT["enters"], "slack_unknown": SLOT["slack"], "mark": 0, "off": 0, "blank": 0,
    "pointing": 0,
    "ac": SLOT["cable"], "wires": SLOT["wires"], "plate": 0,
}  # fmt: skip


def _fills(fact: str, value: Any) -> int:
    if fact == "gauge" and isinstance(value, Size) and value.metal:
        return SLOT["gauge"] | SLOT["metal"]
    if fact == "amps" and isinstance(value, tuple):
        return SLOT["amps"] | SLOT["poles"]
    return _FILLS[fact] if fact in _FILLS else SLOT[fact]


def _by_side(found: Found, tokens: Sequence[Token]) -> tuple[str, ...]:
    """The space that "left side third down", "top right" means; "bottom" is resolved where the panel is known."""
    said = [token.lower for token in tokens[found.first : found.after]]
    left = "left" in said
    if found.phrase.fact == "corner":
        return ("first" if "top" in said else "last", "left" if left else "right")
    nth = found.values["nth"]
    return (str(2 * nth - (1 if left else 0)),)


def extra(item: Item, way: Way) -> tuple[float, int] | None:
    """What an item costs where it stands: numbers come as space, amperes, gauge; a description is in one piece."""
    run = way.state
    if item.sort in SPOKEN:
        more = 0.65 if item.sort == "figure" and way.filled & DONE != DONE else 0.0
        if run == NO_RUN:
            # Words that carry nothing make a description where there is nothing else to make one of.
            bare = way.filled & DONE == DONE and str(item.value).lower() not in words("nouns")
            glue = 0.3 if bare else 1.4
            return more + (glue if item.sort == "glue" else 0.5), IN_RUN
        if run in (IN_RUN, SECOND_RUN):
            return more, run
        return (more + 2.2, SECOND_RUN) if run == RUN_OVER else (more + 4.0, SECOND_RUN)
    over = {IN_RUN: RUN_OVER, SECOND_RUN: ALL_OVER}.get(run, run)
    rule = _WHERE.get(item.sort)
    if rule is None:
        return 0.0, over
    more_ = rule(item, way)
    return None if more_ is None else (more_, over)


def _bare_space(item: Item, way: Way) -> float:
    late = 0.0 if not way.filled & (SLOT["amps"] | SLOT["gauge"]) else 0.5 if len(item.value) == 2 else 1.2
    return late + (0.5 if way.state != NO_RUN else 0.0)


def _bare_amps(item: Item, way: Way) -> float:
    return (0.0 if way.filled & SLOT["space"] else 0.8) + (0.6 if way.state != NO_RUN else 0.0)


def _bare_gauge(item: Item, way: Way) -> float:
    if len(way.items) > 1 and way.items[-1].value == "and" and way.items[-2].sort in ("bare_space", "space"):
        return 3.0  # "eight and ten" are two spaces
    return (0.0 if way.filled & SLOT["amps"] else 1.0) + (0.6 if way.state != NO_RUN else 0.0)


def _ac(item: Item, way: Way) -> float:
    """Armored cable behind a size of general wiring; else it is more likely the air conditioner."""
    small = False
    for one in way.items:
        size = one.value[1] if one.sort == "amps_gauge" else one.value
        small = small or (isinstance(size, Size) and size.text in ("14", "12") and one is way.items[-1])
        if one.sort == "poles" and one.value == 2:
            return 1.0
    return 0.1 if small else 1.0


def _blank(item: Item, way: Way) -> float | None:
    if way.state != NO_RUN or way.filled & SLOT["gauge"]:
        return None
    return 0.0 if way.filled & SLOT["space"] or not way.items else 0.5


def _half(item: Item, way: Way) -> float:
    """ "top" by itself is half of a tandem only right beside its space."""
    beside = bool(way.items) and way.items[-1].sort in ("space", "bare_space", "device", "between", "noun")
    if item.cost < 0.5:
        return 0.0 if way.filled & (SLOT["space"] | SLOT["device"]) or beside else 0.4
    return 0.0 if beside or not way.items else 2.0


_WHERE: Mapping[str, Any] = {
    "bare_space": _bare_space,
    "bare_amps": _bare_amps,
    "bare_gauge": _bare_gauge,
    "ac": _ac,
    "blank": _blank,
    "noun": lambda item, way: 0.5 if way.state in (IN_RUN, SECOND_RUN) else 0.0,
    "plain_reading": lambda item, way: 0.0 if way.filled & SLOT["amps"] else 1.5,
    "half": _half,
    "space": lambda item, way: 0.4 if way.filled & (SLOT["amps"] | SLOT["gauge"]) and item.cost == 0.25 else 0.0,
    "gauge": lambda item, way: 0.6 if item.cost == 0.1 and not way.filled & (SLOT["space"] | SLOT["amps"]) else 0.0,
}


def missing(way: Way) -> float:
    """What a way to read a whole line still costs for what it does not say."""
    if any(item.sort == "main" for item in way.items):
        return 0.0
    if any(item.sort == "blank" for item in way.items):
        return 0.0 if way.filled & SLOT["space"] and way.state == NO_RUN else 9.0
    marks = {item.value for item in way.items if item.sort == "mark"}
    if "capped" in marks:
        return 0.0 if way.filled & SLOT["space"] else 0.5
    lost = sum(2.0 for slot in ("space", "amps", "gauge") if not way.filled & SLOT[slot])
    described = way.state != NO_RUN or "unknown" in marks or any(item.sort == "load" for item in way.items)
    return lost + (0.0 if described else 0.7)
