"""The search behind facts in any order of words: a line is covered word by word, by frames with their values and words, by words that carry nothing,
and by what is not understood, which costs much. The cheapest cover wins."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from msgspec import UNSET, Struct, field
from msgspec.structs import replace

from robust_ledger.callout.frame_lexicon import Frame, Lexicon, lexicon
from robust_ledger.callout.frame_values import values_at
from robust_ledger.callout.number_words import SCALES, TENS
from robust_ledger.callout.numbers import is_number_word
from robust_ledger.callout.tokens import Token

# What a word costs that no frame takes: one nobody knows, one that binds nothing, a piece of a number, a "not" that denies nothing.
UNKNOWN, LOOSE, CUT, DENIAL = 2.0, 1.0, 6.0, 4.0
PLACE = 0.3  # a thing that only says where
FRAME, MISSING = -0.15, 0.9  # a frame; a thing of it that goes without saying
FAR, APART = 0.2, 0.4  # a word between a thing and what it binds; a comma between
MAY, SILENT = 0.02, 3.0  # what a word that may be said takes off; a line without a fact
PAST_NUMBER = 4  # words that a number between counts for
MOST_FAR = 0.2  # of what several values share
_BEFORE_A_PLACE = frozenset(("the", "a", "this", "that", "its", "their", "old", "new"))
WIDTH = 40  # ways kept at each word


class Mention(Struct, frozen=True):
    """A concept in the line, from token to token."""

    concept: str
    first: int
    after: int

    @property
    def mask(self) -> int:
        """Its tokens as bits."""
        return ((1 << (self.after - self.first)) - 1) << self.first


_BEFORE_AN_HOUR = ("at", "by", "until", "till", "since", "before", "after")


class Bound(Struct, frozen=True):
    """A frame with its value and the words it takes, as bits; `shared`: those it leans on, which others may as well; `torn`: what it leans on is
    denied where it stands, and it itself is not, or the other way round."""

    frame: Frame
    facts: Mapping[str, Any]
    mask: int
    shared: int
    cost: float
    torn: bool = False


class Cover(Struct, frozen=True):
    """A whole line covered: its cost, the frames, the words that were not understood as bits."""

    cost: float
    bound: tuple[Bound, ...] = ()
    struck: int = 0
    facts: Mapping[str, Any] = field(default_factory=dict)
    weighty: bool = False  # among what was not understood is the name of a thing, a "not", or a piece of a number


def covers_of(tokens: Sequence[Token], stage: str, known: Lexicon) -> list[Cover]:
    """The cheapest covers of a line, the best first. Words are gone through once; what a frame has covered ahead of them is carried along."""
    mentions = _mentions(tokens, known, stage)
    named = 0
    for mention in mentions:
        named |= mention.mask
    by_first: dict[int, list[Bound]] = {}
    for one in _bounds(tokens, mentions, known, stage):
        by_first.setdefault((one.mask & -one.mask).bit_length() - 1, []).append(one)
    placed = _placed(tokens, mentions, known)
    prices = [
        PLACE
        if placed >> at & 1
        else CUT
        if _is_counted_one(tokens, at)
        else _price(token, bool(named >> at & 1), known)
        for at, token in enumerate(tokens)
    ]
    ways = {(0, ""): Cover(0.0)}
    for at in range(len(tokens)):
        after: dict[tuple[int, str], Cover] = {}
        for (mask, said), cover in sorted(ways.items(), key=lambda one: one[1].cost)[:WIDTH]:
            if mask >> at & 1:
                _keep(after, (mask, said), cover)
                continue
            cost = 0.0 if _is_shared(cover, at) else prices[at]
            struck = cover.struck | (1 << at if cost >= LOOSE else 0)
            _keep(after, (mask | 1 << at, said), Cover(cover.cost + cost, cover.bound, struck, cover.facts))
            for one in by_first.get(at, ()):
                if one.mask & mask or cover.facts.keys() & one.facts.keys():
                    continue
                facts = {**cover.facts, **one.facts}
                # Words that were struck before, and that this frame leans on, were not for nothing.
                again = sum(prices[word] for word in range(at) if (cover.struck & one.shared) >> word & 1)
                way = Cover(cover.cost + one.cost - again, (*cover.bound, one), cover.struck & ~one.shared, facts)
                _keep(after, (mask | one.mask, repr(sorted(facts.items(), key=str))), way)
        ways = after
    done = sorted(ways.values(), key=lambda one: one.cost + (0.0 if one.facts else SILENT))
    heavy = sum(
        1 << at
        for at, price in enumerate(prices)
        if price not in (0.0, PLACE, UNKNOWN) or tokens[at].quoted or tokens[at].lower in known.weighty
    )
    return [replace(one, weighty=bool(one.struck & heavy)) for one in done]


def _placed(tokens: Sequence[Token], mentions: Sequence[Mention], known: Lexicon) -> int:
    """The words that say where something is, as bits: "by the meter", "in the basement"; they are no fact by themselves."""
    made = 0
    for one in mentions:
        before = one.first - 1
        while before >= 0 and tokens[before].lower in _BEFORE_A_PLACE:
            before -= 1
        if one.concept in known.places and before >= 0 and tokens[before].lower in known.where:
            made |= one.mask
    return made


def _keep(ways: dict[tuple[int, str], Cover], key: tuple[int, str], cover: Cover) -> None:
    held = ways.get(key)
    if held is None or cover.cost < held.cost:
        ways[key] = cover


def _is_shared(cover: Cover, at: int) -> bool:
    return any(one.shared >> at & 1 for one in cover.bound)


def _is_counted_one(tokens: Sequence[Token], at: int) -> bool:
    """Whether "one" is an hour or the end of a number, not a word that carries nothing: "comes at one", "a hundred and one"."""
    if tokens[at].lower != "one" or at == 0:
        return False
    before = tokens[at - 2 if tokens[at - 1].lower == "and" and at > 1 else at - 1].lower
    of_a_number = before in SCALES or before in TENS
    return tokens[at - 1].lower in _BEFORE_AN_HOUR or of_a_number


def _price(token: Token, named: bool, known: Lexicon) -> float:
    """What a word costs that no frame takes."""
    word = token.lower
    if token.quoted:
        return UNKNOWN
    if word in known.denials:
        return DENIAL
    if word[:1].isdigit() or (is_number_word(word) and word not in ("one", "a")):
        return CUT
    if word in known.nothing:
        return 0.0
    return LOOSE if named else UNKNOWN


def _mentions(tokens: Sequence[Token], known: Lexicon, stage: str) -> list[Mention]:
    """Every concept of a stage that is named in the line; a name within a longer one of another thing is none: "panel" of "garage panel"."""
    made: list[Mention] = []
    used = known.known_on.get(stage, frozenset())
    for at, token in enumerate(tokens):
        if token.quoted:
            continue
        for key, concept in known.names.get(token.lower, ()):
            end = at + len(key)
            if concept in used and tuple(one.lower for one in tokens[at:end]) == key:
                made.append(Mention(concept, at, end))
    return [
        one
        for one in made
        if not any(
            other.mask & one.mask == one.mask
            and other.mask != one.mask
            and (other.concept != one.concept or one.concept.startswith("node."))
            for other in made
        )
    ]


def clauses_of(tokens: Sequence[Token]) -> list[int]:
    """The clause of each token: a comma, "but", and an "and" before a denial begin another one."""
    made, number = [], 0
    denials = lexicon().denials
    for at, token in enumerate(tokens):
        follows = tokens[at + 1].lower if at + 1 < len(tokens) else ""
        number += token.lower == "but" or (token.lower == "and" and follows in denials)
        made.append(number)
        number += token.parted
    return made


class Line(Struct, frozen=True):
    """What a line has beside its values: concepts, clauses, the words of each clause that deny something, as bits, and how far it is to each word
    from the first: past another number it is farther."""

    by_concept: Mapping[str, Sequence[Mention]]
    clauses: Sequence[int]
    denied: Mapping[int, int]
    far: Sequence[int]


def _bounds(tokens: Sequence[Token], mentions: Sequence[Mention], known: Lexicon, stage: str) -> list[Bound]:
    """Every frame that can be bound in the line, with each of its values."""
    clauses = clauses_of(tokens)
    denied: dict[int, int] = {}
    for at, token in enumerate(tokens):
        if token.lower in known.denials and not says_number(tokens, at):
            denied[clauses[at]] = denied.get(clauses[at], 0) | 1 << at
    by_concept: dict[str, list[Mention]] = {}
    for one in mentions:
        by_concept.setdefault(one.concept, []).append(one)
    far = [0]
    for token in tokens:
        far.append(far[-1] + (PAST_NUMBER if token.lower[:1].isdigit() or is_number_word(token.lower) else 1))
    line = Line(by_concept, clauses, denied, far)
    said: dict[str, list[tuple[Any, int, int]]] = {}
    made: list[Bound] = []
    for frame in _named_frames(known, by_concept):
        if stage not in frame.stages or not _may_be(frame, by_concept):
            continue
        ways = list(_needed(frame, by_concept))
        for value in _values(frame, tokens, known, said) if frame.kinds else [((), -1, -1)]:
            for needs, missing in ways:
                bound = _bind(frame, value, needs, missing, line)
                if bound is not None:
                    made.append(bound)
    return made


def _named_frames(known: Lexicon, by_concept: Mapping[str, Sequence[Mention]]) -> Iterator[Frame]:
    """The frames that a line names anything of, and those that need nothing, in their order."""
    numbers = set(known.index.get("", ()))
    for concept in by_concept:
        numbers.update(known.index.get(concept, ()))
    return (known.frames[number] for number in sorted(numbers))


def says_number(tokens: Sequence[Token], at: int) -> bool:
    """Whether "no" stands for "number": a size follows it."""
    following = tokens[at + 1].lower if at + 1 < len(tokens) else ""
    return tokens[at].lower == "no" and following[:1].isdigit()


def _may_be(frame: Frame, by_concept: Mapping[str, Sequence[Mention]]) -> bool:
    """Whether the line names what a frame cannot be without, and anything of it at all."""
    if frame.without & by_concept.keys():
        return False
    said = [any(concept in by_concept for concept in concepts) for concepts in frame.needs]
    return not said or (any(said) and all(one or carried for one, carried in zip(said, frame.carried, strict=True)))


def _needed(
    frame: Frame, by_concept: Mapping[str, Sequence[Mention]]
) -> Iterator[tuple[tuple[tuple[Mention, bool], ...], int]]:
    """The ways to find what a frame needs, each word with whether others may lean on it too, and how much goes without saying."""
    ways: list[tuple[tuple[tuple[Mention, bool], ...], int]] = [((), 0)]
    for concepts, carried, leant in zip(frame.needs, frame.carried, frame.leant, strict=True):
        found = [one for concept in concepts for one in by_concept.get(concept, ())]
        more = [
            ((*have, (one, leant)), missing)
            for have, missing in ways
            for one in found
            if not any(other.mask & one.mask for other, _leant in have)
        ]
        if carried:
            more += [(have, missing + 1) for have, missing in ways]
        ways = more
    for have, missing in ways[:24]:
        if have or not frame.needs:
            yield have, missing


def _values(
    frame: Frame, tokens: Sequence[Token], known: Lexicon, said: dict[str, list[tuple[Any, int, int]]]
) -> list[tuple[tuple[Any, ...], int, int]]:
    """Every value of a frame in the line, its parts one behind the other."""
    key = " ".join(frame.kinds)
    if key not in said:
        made: list[tuple[Any, int, int]] = []
        for at in range(len(tokens)):
            ways: list[tuple[tuple[Any, ...], int]] = [((), at)]
            for kind in frame.kinds:
                reader = known.readers[kind.removesuffix("_in")]
                ways = [
                    ((*have, *(() if kind.endswith("_in") else (value,))), end)
                    for have, after in ways
                    for value, end in (values_at(reader, tokens, after) if after < len(tokens) else ())
                ]
            made += [(value, at, after) for value, after in ways]
        said[key] = made
    return said[key]


def _bind(
    frame: Frame,
    value: tuple[tuple[Any, ...], int, int],
    needs: tuple[tuple[Mention, bool], ...],
    missing: int,
    line: Line,
) -> Bound | None:
    """A frame with a value and its words; None where they do not go together."""
    told, first, after = value
    mask = ((1 << (after - first)) - 1) << first if first >= 0 else 0
    if any(one.mask & mask for one, _leant in needs):
        return None
    own = next((one for one, leant in needs if not leant), needs[0][0] if needs else None)
    anchor = first if first >= 0 or own is None else own.first
    clause = line.clauses[first if first >= 0 else needs[0][0].first]
    if frame.kinds == ("count_before",) and not any(one.first == after for one, _leant in needs):
        return None
    no = line.denied.get(clause, 0) & ~mask  # "none" may be the value itself
    if no and frame.before and not no << 1 >> needs[0][0].first & 1:
        return None
    facts = _facts(frame, told, no)
    if facts is None:
        return None
    taken, shared, cost = mask, 0, FRAME - frame.nearer + MISSING * missing
    if no and not frame.kinds:
        shared |= no  # one "no" may deny several things
    for one, leant in needs:
        apart = abs(line.clauses[one.first] - clause)
        far = FAR * _between(one, anchor, after, line)
        cost += APART * apart + (min(far, MOST_FAR) if leant else far)
        if apart or leant:
            shared |= one.mask
        else:
            taken |= one.mask
    more, off = _may(frame, taken | shared | mask, clause, line)
    if not taken:  # it leans on words alone: it stands at the first of them
        taken = shared & -shared
    torn = not frame.kinds and (
        any(bool(line.denied.get(line.clauses[one.first])) != bool(no) for one, _leant in needs)
        or _is_contradicted(frame, clause, bool(no), line)
    )
    return Bound(frame, facts, taken, (shared | more) & ~taken, cost - off, torn)


def _is_contradicted(frame: Frame, clause: int, no: bool, line: Line) -> bool:
    """Whether another clause says all that the frame needs, and denies what it says: "gas is bonded, gas is not bonded"."""
    others = {
        line.clauses[one.first]
        for concepts in frame.needs
        for name in concepts
        for one in line.by_concept.get(name, ())
    }
    return any(
        bool(line.denied.get(other)) != no
        and all(
            any(line.clauses[one.first] == other for name in concepts for one in line.by_concept.get(name, ()))
            for concepts in frame.needs
        )
        for other in others - {clause}
    )


def _may(frame: Frame, taken: int, clause: int, line: Line) -> tuple[int, float]:
    """The words of the line that may be said with a frame, as bits, and what they take off its cost."""
    words, off = 0, 0.0
    for concept in (*frame.may, *(concept for concepts in frame.needs for concept in concepts)):
        for one in line.by_concept.get(concept, ()):
            if not one.mask & taken:
                words |= one.mask
                off += MAY if line.clauses[one.first] == clause else 0.0
    return words, off


def _between(one: Mention, anchor: int, after: int, line: Line) -> int:
    """How far a concept is from what it binds."""
    behind = max(after, anchor + 1)
    if one.first >= behind:
        return line.far[one.first] - line.far[behind]
    return max(0, line.far[anchor] - line.far[one.after]) if one.after <= anchor else 0


def _facts(frame: Frame, told: Sequence[Any], denied: int) -> dict[str, Any] | None:
    """What a frame says, by its place; None where it cannot: a value out of what is plausible, a denial of what has no contrary."""
    if not frame.kinds:
        value = frame.denied if denied else frame.sets
        return None if value is UNSET else {**dict.fromkeys(frame.fields, value), **frame.also}
    if denied:
        return None
    flat = [part for one in told for part in (one if isinstance(one, tuple) else (one,))]
    if len(flat) != len(frame.fields):
        return None
    for one in flat:
        if isinstance(one, int | float) and not frame.least <= one <= frame.most:
            return None
    return {**dict(zip(frame.fields, flat, strict=True)), **frame.also}
