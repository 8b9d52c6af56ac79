"""A defect as it is noted on the walk-through: "open splice above furnace, 20 minutes, we do"."""

from __future__ import annotations

from functools import cache

from robust_ledger.callout.engine import Item, Way, slots, ways_through
from robust_ledger.callout.fields import READERS
from robust_ledger.callout.frame_lexicon import lexicon
from robust_ledger.callout.phrases import Places, found_at, vocabulary
from robust_ledger.callout.spoken import Fault, Spoken
from robust_ledger.callout.tokens import Token, text_between, tokens_of
from robust_ledger.job.edits import add_defect, new_defect_id
from robust_ledger.job.job import Job
from robust_ledger.job.parts.defects import Defect
from robust_ledger.survey.defects import WHO_WORDS, catalogue

STAGE = "walkthrough"
_GRAMMAR = "defect"
SLOT = slots(("kind", "minutes", "hours", "who", "state", "where"))


@cache
def _kinds() -> dict[tuple[str, ...], str]:
    found = vocabulary(_GRAMMAR).head["found"]
    return {tuple(token.lower for token in tokens_of(said)): kind for kind, words in found.items() for said in words}


def defects_said() -> tuple[str, ...]:
    """Every way to name a defect, for the help and completions."""
    return tuple(" ".join(key) for key in _kinds())


@cache
def _by_words() -> tuple[tuple[frozenset[str], str], ...]:
    """The words that each way to name a defect cannot be without, the most first."""
    made = {(frozenset(map(_stem, key)) - _carry_nothing(), kind) for key, kind in _kinds().items()}
    return tuple(sorted((one for one in made if len(one[0]) > 1), key=lambda one: (-len(one[0]), one[1])))


@cache
def _carry_nothing() -> frozenset[str]:
    return frozenset(vocabulary(_GRAMMAR).head["carry_nothing"].split())


def _stem(word: str) -> str:
    """A word without its ending: "splices" and "splice" are one."""
    word = vocabulary(_GRAMMAR).head["stands_for"].get(word, word)
    for ending in ("ing", "es", "s", "ed"):
        if word.endswith(ending) and len(word) > len(ending) + 3:
            return word.removesuffix(ending).rstrip("e")
    return word.rstrip("e") if len(word) > 3 else word


def _scattered(tokens: tuple[Token, ...]) -> tuple[str, frozenset[int]] | None:
    """A defect whose words all stand in the line, in any order, and where; None for none, or where two would fit as well."""
    at_words: dict[str, list[int]] = {}
    for at, token in enumerate(tokens):
        if not token.quoted:
            at_words.setdefault(_stem(token.lower), []).append(at)
    fits = [(words, kind) for words, kind in _by_words() if words <= at_words.keys()]
    if not fits or any(len(words) == len(fits[0][0]) and kind != fits[0][1] for words, kind in fits[1:]):
        return None
    return fits[0][1], frozenset(at_words[word][0] for word in fits[0][0])


def _items(tokens: tuple[Token, ...]) -> list[list[Item]]:
    known, kinds = vocabulary(_GRAMMAR), _kinds()
    places = Places(tokens, READERS)
    between, where = frozenset(known.head["between"]), known.lists["where"]
    longest = max(len(key) for key in kinds)
    scattered = _scattered(tokens)
    nothing = lexicon().nothing
    made: list[list[Item]] = []
    for at, token in enumerate(tokens):
        here = [Item(at, at + 1, "word", None, 0.4)]
        if scattered is not None and at in scattered[1]:
            first = at == min(scattered[1])
            here.append(
                Item(at, at + 1, "kind" if first else "of_kind", scattered[0], 0.3, SLOT["kind"] if first else 0)
            )
        if token.lower in between or token.lower in nothing:
            here.append(Item(at, at + 1, "between", None, 0.05))
        if token.lower in where:
            here.append(Item(at, at + 1, "where", None, 0.1, SLOT["where"]))
        for length in range(min(longest, len(tokens) - at), 0, -1):
            if (kind := kinds.get(tuple(one.lower for one in tokens[at : at + length]))) is not None:
                here.append(Item(at, at + length, "kind", kind, -0.2, SLOT["kind"]))
        for found in found_at(known, places, at):
            value = found.phrase.value if found.phrase.value is not None else found.values.get("number", 1.0)
            if found.phrase.fact == "hours" and "half" in found.phrase.said:
                value = 0.5
            here.append(Item(at, found.after, found.phrase.fact, value, 0.0, SLOT[found.phrase.fact]))
        made.append(here)
    return made


def _extra(item: Item, way: Way) -> tuple[float, int] | None:
    """Where it is comes after a word of place, in one piece."""
    if item.sort == "where":
        return 0.0, 1
    if item.sort == "word":
        return (0.0, 1) if way.state == 1 else (3.0, way.state)
    if item.sort in ("between", "of_kind"):
        return (0.0 if item.sort == "between" or way.filled & SLOT["kind"] else 3.0), way.state
    return 0.0, 2


def read_defect(line: str, job: Job) -> Spoken:
    """Read a line as a defect of the catalogue that was found."""
    tokens = tokens_of(line)
    if not tokens:
        return Spoken(STAGE)
    cost, way = ways_through(_items(tokens), _extra, lambda way: 0.0 if way.filled & SLOT["kind"] else 4.0)[0]
    said = {item.sort: item.value for item in way.items if item.sort in SLOT}
    if "kind" not in said:
        return Spoken(STAGE, fault=Fault("No defect of the catalogue is named here.", 0, len(line)), cost=cost + 1)
    known = catalogue()[said["kind"]]
    where, struck, on = [], [], False
    for item in way.items:
        if item.sort == "where" or (on and item.sort in ("word", "between")):
            on = True
            where.append(item)
        elif item.sort == "word":
            struck.append((tokens[item.first].start, tokens[item.first].end))
        elif item.sort not in ("between",):
            on = False
    while where and where[-1].sort == "between":  # "at the mast is"
        where.pop()
    if len(where) == 1:
        where = []
    at = text_between(line, tokens[where[0].first : where[-1].after]) if where else ""
    minutes = said.get("minutes", 60 * said["hours"] if "hours" in said else known.minutes)
    if not 0 < minutes <= 6000:
        return Spoken(
            STAGE, (known.what,), fault=Fault(f"{minutes:g} minutes are none of a day's work.", 0, len(line)), cost=cost
        )
    values = {
        "kind": known.kind, "what": known.what, "fix": known.fix, "part": known.part, "material": known.material, "minutes": float(minutes),
        "where": at, "who": said.get("who", "us"), "state": said.get("state", "open"),
    }  # fmt: skip
    if said.get("who") == "us":
        values["in_scope"] = True
    chips = [known.what, at, f"{minutes:g} min", WHO_WORDS[str(values["who"])] if "who" in said else ""]
    return Spoken(
        STAGE,
        tuple(chip for chip in chips if chip),
        lambda job: add_defect(job, Defect.read({"id": new_defect_id(job, known.what), **values})),
        f"note {known.what}",
        struck=tuple(struck),
        place="defect:",
        cost=cost,
        facts=values,
    )
