"""A circuit as it is called out: "7 20 12 kitchen counter", "9 and 11, double pole thirty, ten three, dryer". One calls, one writes.

The line is read as a whole: every way to cover its words is weighed (`circuit_items`, `engine`), the best becomes a circuit, the
next best that says something else is its rival. Nothing is swallowed: what is in no slot is in the description, and a description that
holds the word of a mark is asked about.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import lru_cache
from typing import Any

from msgspec import Struct, field
from msgspec.structs import replace

from robust_ledger.branch.links import loads_named
from robust_ledger.callout.circuit_items import SPOKEN, extra, items_of, missing, words
from robust_ledger.callout.circuit_parts import FaultError, Line, both_spaces, say_spaces, take_up
from robust_ledger.callout.engine import Item, Way, ways_through
from robust_ledger.callout.spoken import Fault
from robust_ledger.callout.tokens import Token, text_between, tokens_of
from robust_ledger.callout.words import DEVICE_WORDS, MARK_SHORT, ROOMS
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import is_standard_rating
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.job.readers.quantity import length_text

MOST_LETTERS = 2000  # of a line
CLOSE = 0.8  # a rival costs at most so much more than the best reading


class Change(Struct, frozen=True):
    """Something else than a circuit that the line says of the old panel: spaces with nothing wired to them, or its main."""

    words: str
    blank: tuple[str, ...] = ()
    main_a: float | None = None


class Reading(Struct, frozen=True):
    """What the line says so far: in words for the live display, as a circuit when it is complete, or a fault. `wanted` is what is still
    missing, `said` the fields that were read, `asks` what is to be looked at before it is written down, `rival` another way to read it."""

    understood: tuple[str, ...]
    circuit: Circuit | None
    fault: Fault | None
    wanted: tuple[str, ...] = ()
    change: Change | None = None
    said: dict[str, Any] = field(default_factory=dict)
    asks: tuple[str, ...] = ()
    rival: Reading | None = None
    cost: float = 0.0

    @property
    def complete(self) -> bool:
        """Whether it can be written down."""
        return self.circuit is not None or self.change is not None


def read_callout(line: str, job: Job, codebook: Codebook, tag: int | None = None) -> Reading:
    """Read a call-out line as the circuit with the next free tag (or `tag`, when one is re-entered)."""
    if len(line) > MOST_LETTERS:
        return Reading((), None, Fault("Nobody says so much in one breath; make several lines of it.", 0, 40))
    tokens = tokens_of(line)
    if not tokens:
        return Reading((), None, None)
    ways = ways_through(items_of(tokens, job), extra, missing)
    best = replace(_reading(ways[0][1], line, tokens, job, codebook, tag), cost=ways[0][0])
    for cost, way in ways[1:16]:
        if cost - ways[0][0] > CLOSE:
            break
        other = _reading(way, line, tokens, job, codebook, tag)
        if other.complete and other.fault is None and _says_otherwise(other.said, best.said):
            if best.fault is not None or (not best.complete and cost - ways[0][0] < 0.3):
                continue  # what is wrong is told, not got around
            return replace(best, rival=other)
    return best


def _says_otherwise(other: dict[str, Any], best: dict[str, Any]) -> bool:
    """Whether a reading is a rival: it says something else of the wire or the breaker. One that has a filler more in its description is none, nor one
    that takes the word of a device, of copper, of a mark or of a cable for a
    part of it; that of aluminum may be one, and AC the air conditioner."""
    hard = [name for name in (*best, *(name for name in other if name not in best)) if name not in _IN_WORDS]
    for name, doubtful in (("metal", ("al", "cca")), ("cable", ("ac",))):
        if name in best and name not in other and best[name] not in doubtful:
            hard.remove(name)
    hard = [name for name in hard if name in other or name not in _MEASURED]
    return any(other.get(name) != best.get(name) for name in hard)


_MEASURED = frozenset(("enters", "enters_at_in", "free_in", "slack_in", "clamp_a"))
_IN_WORDS = frozenset(("feeds", "room", "load_ids", "tag", "device", "marks"))


def read_change(line: str, job: Job, codebook: Codebook, tag: int) -> Reading:
    """Read what is said about a circuit that is there: only what the line names changes. `said` has the fields."""
    tokens = tokens_of(line)
    if not tokens:
        return Reading((), None, None)
    ways = ways_through(items_of(tokens, job), _correcting, lambda way: 0.0)
    return _reading(ways[0][1], line, tokens, job, codebook, tag, True)


def _correcting(item: Item, way: Way) -> tuple[float, int] | None:
    """In a correction a bare number is a breaker or a wire rather than a space."""
    if item.sort in ("bare_amps", "bare_gauge"):
        return (0.0 if item.cost < 0.5 else 1.5), way.state
    if item.sort == "bare_space":
        return (0.1 if len(item.value) == 2 else 1.2), way.state
    return extra(item, way)


def best_description(line: str, job: Job) -> str | None:
    """The description a line would be read as having; None where it has none."""
    tokens = tokens_of(line)
    if not tokens:
        return None
    way = ways_through(items_of(tokens, job), extra, missing)[0][1]
    return _description(way, line, tokens) if any(item.sort in SPOKEN for item in way.items) else None


def _reading(
    way: Way, line: str, tokens: tuple[Token, ...], job: Job, codebook: Codebook, tag: int | None, part: bool = False
) -> Reading:
    made = Line(line, tokens, job, codebook, {"tag": tag if tag is not None else 0})
    sorts = {item.sort for item in way.items}
    try:
        if "main" in sorts:
            return _main(way, made)
        take_up(way, made)
        if made.plate and sorts <= {"plate", "between", "bare_space", "bare_amps"}:
            raise made.refuse("Say of which appliance, like heat pump MCA 24, max breaker 40.", way.items[0])
        if "blank" in sorts:
            return _blank(way, made)
        _described(way, made)
        said = {name: value for name, value in made.fields.items() if name != "tag"}
        if part:
            return Reading(_understood(made, ()), None, None, (), None, said, _asks(way, made))
        _finish(made)
    except FaultError as problem:
        return Reading(_understood(made, ()), None, _slip(way, made) or problem.fault)
    if "spaces" not in made.fields and (slip := _slip(way, made)) is not None:
        return Reading(_understood(made, ()), None, slip)
    if tag is None:
        made.fields["tag"] = job.tag_for(made.fields.get("spaces", ()))
    wanted = _wanted(made)
    try:
        circuit = Circuit.read(made.fields) if not wanted else None
    except ModelError as fault:
        return Reading(
            _understood(made, ()), None, Fault(f"A circuit cannot hold this: {fault.sentence}.", 0, len(line))
        )
    return Reading(_understood(made, wanted), circuit, None, wanted, None, dict(made.fields), _asks(way, made))


def _description(way: Way, line: str, tokens: Sequence[Token]) -> str:
    """What the circuit feeds: the letters of the line from the first word of a run to the last."""
    runs: list[list[int]] = []
    last = -1
    for item in way.items:
        if item.sort not in SPOKEN:
            continue
        if runs and last == item.first and not tokens[item.first].quoted and not tokens[item.first - 1].quoted:
            runs[-1].append(item.first)
        else:
            runs.append([item.first])
        last = item.after
    parts = [
        tokens[run[0]].text if tokens[run[0]].quoted else text_between(line, tokens[run[0] : run[-1] + 1])
        for run in runs
    ]
    return " ".join(" ".join(parts).split())


def _described(way: Way, made: Line) -> None:
    text = _description(way, made.line, made.tokens)
    if text:
        made.fields["feeds"] = text
    marks = tuple(dict.fromkeys(made.marks))
    if marks:
        made.fields["marks"] = marks
    _slips(made, text)


def _slips(made: Line, text: str) -> None:
    """Words that want a figure and have none."""
    last = made.tokens[-1]
    if (
        not last.quoted
        and last.lower in ("mw", "clamp")
        and len(text.split()) > 1
        and text.lower().endswith(last.lower)
    ):
        item = Item(len(made.tokens) - 1, len(made.tokens), "word", "", 0.0)
        if last.lower == "mw":
            raise made.refuse('"mw" wants the tag it shares its neutral with, like mw 4.', item)
        raise made.refuse('"clamp" wants the amperes read, like clamp 4.1.', item)


def _slip(way: Way, made: Line) -> Fault | None:
    """One or two letters where the space should be are a slip, no description."""
    first = made.tokens[0]
    follows = len(made.tokens) > 1 and made.tokens[1].text[:1].isdigit()
    if first.quoted or len(first.text) > 2 or first.text[0].isdigit() or not follows:
        return None
    if way.items[0].sort not in SPOKEN:
        return None
    text = f'"{first.text}" is no space; start with a number like 7 or 9,11, or - for none.'
    return Fault(text, first.start, first.end)


def _finish(made: Line) -> None:
    """What follows once all words are read: poles from spaces, room and load from the description."""
    spaces = made.fields.get("spaces", ())
    poles = made.fields.setdefault("poles", max(1, len(spaces)))
    if len(spaces) == 1 and poles == 2 and (whole := both_spaces(spaces[0])):
        made.fields["spaces"] = whole
        say_spaces(made)
    if "amps" in made.said:
        rating = made.fields["breaker_a"]
        made.said["amps"] = "breaker not read" if rating is None else f"{rating:g} A {poles}-pole"
    text = made.fields.get("feeds", "")
    fed = made.job.fed_loads
    named = loads_named(text, [load for load in made.job.loads if load.id not in fed])
    made.fields |= {
        "feeds": text,
        "marks": tuple(dict.fromkeys(made.marks)),
        "room": room_in(text, made.job),
        "load_ids": tuple(dict.fromkeys(made.loads)) or named,
    }


def _wanted(made: Line) -> tuple[str, ...]:
    """What a circuit cannot be written down without: a capped cable needs no breaker and no gauge."""
    off = Mark.CAPPED in made.marks
    placed = "spaces" in made.fields
    nowhere = placed and not made.fields["spaces"]
    missing = [] if placed or off else ["space"]
    if not off and not nowhere:
        missing += [words for slot, words in (("breaker_a", "breaker"), ("gauge", "gauge")) if slot not in made.fields]
    if not made.fields.get("feeds") and not off and Mark.UNKNOWN not in made.marks:
        missing.append("what it feeds")
    return tuple(missing)


def _understood(made: Line, wanted: tuple[str, ...]) -> tuple[str, ...]:
    """Chips of what was read, with a question mark for what is still wanted."""
    fields = made.fields
    chips = [made.said.get("spaces") or ("space?" if "space" in wanted else "")]
    chips.append(made.said.get("amps") or ("breaker?" if "breaker" in wanted else ""))
    chips.append(DEVICE_WORDS[fields["device"]] if fields.get("device") else "")
    chips.append(made.said.get("gauge") or ("gauge?" if "gauge" in wanted else ""))
    chips.append(made.said.get("metal", ""))
    chips += [made.said.get("color", ""), made.said.get("ground", "")]
    chips.append(made.said.get("cable", ""))
    text = fields.get("feeds", "")
    named = [load.name for load_id in fields.get("load_ids", ()) if (load := made.job.load(load_id))]
    chips.append(text + (f" → {', '.join(named)}" if named else "") if text or named else "")
    if "what it feeds" in wanted:
        chips.append("what does it feed? (or: unknown)")
    chips += [MARK_SHORT[mark] for mark in dict.fromkeys(made.marks)]
    if "shares_neutral_with" in fields:
        chips.append(made.said.get("share") or f"shares neutral with tag {fields['shares_neutral_with']}")
    if "clamp_a" in fields:
        chips.append(f"clamp {fields['clamp_a']:g} A")
    if fields.get("enters"):
        at = fields.get("enters_at_in")
        chips.append(f"enters at the {fields['enters']}" + (f", {length_text(at)} in along" if at is not None else ""))
    if fields.get("free_in") is not None:
        chips.append(f"{length_text(fields['free_in'])} in free")
    if fields.get("slack_in") is not None:
        chips.append(f"{length_text(fields['slack_in'])} in slack outside")
    return tuple(chip for chip in chips if chip)


def _asks(way: Way, made: Line) -> tuple[str, ...]:
    """Words of a mark that ended up in what the circuit feeds: nothing that matters is written down as a mere word."""
    told = words("telltale")
    found = [
        token.text
        for item in way.items
        if item.sort in SPOKEN
        for token in made.tokens[item.first : item.after]
        if not token.quoted and token.lower in told
    ]
    asks = [f'"{word}" is part of what it feeds, not a mark?' for word in dict.fromkeys(found)]
    if made.plate:
        asks.append(
            f"{' and '.join(made.plate)} are its load's: say them with the appliance, like heat pump MCA 24, max breaker 40."
        )
    return tuple(asks)


def _blank(_way: Way, made: Line) -> Reading:
    spaces = made.fields.get("spaces", ())
    if not spaces:
        return Reading(("nothing wired there", "space?"), None, None, ("space",))
    words = f"{made.said['spaces']}: nothing wired there"
    return Reading((words,), None, None, (), Change(words, blank=spaces), {"blank": spaces})


def _main(way: Way, made: Line) -> Reading:
    item = next(one for one in way.items if one.sort == "main")
    rating = item.value
    if rating is None or not is_standard_rating(made.codebook, rating):
        text = "the rating" if rating is None else f"{rating:g} A"
        raise made.refuse(f"{text} is not a standard breaker rating; read the main again.", item)
    words = f"the old panel's main: {rating:g} A"
    return Reading((words,), None, None, (), Change(words, main_a=rating), {"main_a": rating})


def room_in(text: str, job: Job) -> str:
    """The room a description names: one of this job's rooms first, else a usual one; "" for none."""
    rooms = {room for room in (*(one.room for one in job.circuits), *(one.room for one in job.loads)) if room}
    lower = text.lower()
    for room, named in _rooms(tuple(sorted(rooms, key=lambda room: (-len(room), room)))):
        if named.search(lower):
            return room
    return ""


@lru_cache(maxsize=16)
def _rooms(known: tuple[str, ...]) -> tuple[tuple[str, re.Pattern[str]], ...]:
    return tuple((room, re.compile(rf"\b{re.escape(room.lower())}\b")) for room in (*known, *ROOMS))
