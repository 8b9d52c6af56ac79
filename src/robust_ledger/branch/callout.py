"""The call-out line: "7 20 12 kitchen counter" → a tagged circuit. One calls, one writes.

    spaces  amps[/poles]  gauge[metal]  what it feeds  marks

Bare numbers before the first word are space, amperes and gauge, in this order. With its unit each may stand anywhere: `s7` or
`t3a`, `20a`, `30/2`, `#12`, `12-2`, `10al`, `4/0`; so may marks and kinds of cable. `?` is what is not known, `-` no space, `next` the
next free one; `r7` is a space of the box marked r. Spoken words do as well: "seven, twenty amp, twelve gauge, kitchen
counter". ""…"" keeps words as they are, `=range` names the load it feeds.
"""

from __future__ import annotations

import re
from typing import Any

from msgspec import Struct, field

from robust_ledger.branch.callout_letters import (
    AMPS,
    AMPS_TAGGED,
    BOXED,
    CABLE_SIZE,
    GAUGE,
    GAUGE_TAGGED,
    LENGTH,
    LOAD,
    POLES_TAGGED,
    SPACE,
    SPACE_TAGGED,
    Word,
    split,
)
from robust_ledger.branch.links import loads_named
from robust_ledger.branch.old_panel import box_name, first_free_position, spaces_of
from robust_ledger.branch.words import (
    AMP_UNITS,
    CABLE_SHORT,
    CABLE_WORDS,
    FILLERS,
    GAUGE_UNITS,
    MARK_SHORT,
    MARK_WORDS,
    NUMBERS,
    POLE_UNITS,
    ROOMS,
    SIDES,
)
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import ampacity_a, is_standard_rating, sizes
from robust_ledger.job.conductors import METAL_TEXT, size_text
from robust_ledger.job.job import Job
from robust_ledger.job.parts.base import ModelError
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.readers.quantity import QuantityError, length_text, read_inches
from robust_ledger.job.spaces import BOX_MARKS, covered, parse_old
from robust_ledger.ledger.text import is_whole


class Fault(Struct, frozen=True):
    """What cannot be understood, in one sentence, and which letters of the line it is about."""

    text: str
    start: int
    end: int


class Reading(Struct, frozen=True):
    """What the line says so far: in words for the live display, as a circuit when it is complete, or a fault; `wanted` is
    what is still missing."""

    understood: tuple[str, ...]
    circuit: Circuit | None
    fault: Fault | None
    wanted: tuple[str, ...] = ()


class _FaultError(Exception):
    def __init__(self, text: str, word: Word) -> None:
        super().__init__(text)
        short = re.sub(r"\S{60,}", lambda long: f"{long[0][:40]}…", text)
        self.fault = Fault(short, word.start, word.end)


class _Line(Struct):
    """What has been read of a line so far."""

    job: Job
    codebook: Codebook
    fields: dict[str, Any]
    space_tagged: bool = False  # "t3a" stands somewhere: "20a" is then no space
    said: dict[str, str] = field(default_factory=dict)
    feeds: list[str] = field(default_factory=list)
    marks: list[Mark] = field(default_factory=list)
    loads: list[str] = field(default_factory=list)

    def has(self, slot: str) -> bool:
        return slot in self.said


def read_callout(line: str, job: Job, codebook: Codebook, tag: int | None = None) -> Reading:
    """Read a call-out line as the circuit with the next free tag (or `tag`, when one is re-entered)."""
    words = split(line)
    if not words:
        return Reading((), None, None)
    made = _Line(job, codebook, {"tag": tag if tag is not None else 0})
    made.space_tagged = any(
        SPACE_TAGGED.match(word.text) or _in_a_box(word.text, job) for word in words if not word.quoted
    )
    try:
        index = 0
        while index < len(words):
            index += _take(words, index, made)
        _finish(made)
    except _FaultError as problem:
        return Reading(_understood(made, ()), None, problem.fault)
    if tag is None:
        made.fields["tag"] = job.tag_for(made.fields.get("spaces", ()))
    wanted = _wanted(made)
    try:
        circuit = Circuit.read(made.fields) if not wanted else None
    except ModelError as fault:
        return Reading(
            _understood(made, ()), None, Fault(f"A circuit cannot hold this: {fault.sentence}.", 0, len(line))
        )
    return Reading(_understood(made, wanted), circuit, None, wanted)


def _take(words: list[Word], index: int, made: _Line) -> int:
    """Read the word at `index`, and those that belong to it; returns how many were read."""
    word = words[index]
    following = words[index + 1] if index + 1 < len(words) and not words[index + 1].quoted else None
    if word.quoted:
        made.feeds.append(word.text)
        return 1
    for reader in (_special, _with_unit, _tagged):
        if count := reader(word, following, made):
            return count
    if not made.feeds and word.lower in FILLERS:
        return 1
    if not made.feeds and _bare(word, following, made):
        return 1
    made.feeds.append(word.text)
    return 1


def _special(word: Word, following: Word | None, made: _Line) -> int:
    """Marks, kinds of cable, shared neutral, clamp reading, side and free length."""
    lower = word.lower
    if lower in MARK_WORDS:
        made.marks.append(MARK_WORDS[lower])
        return 1
    if lower in CABLE_WORDS:
        made.fields["cable"] = CABLE_WORDS[lower]
        made.said["cable"] = CABLE_SHORT[CABLE_WORDS[lower]]
        return 1
    if match := LOAD.match(word.text):
        if made.job.load(match[1]) is None:
            raise _FaultError(f'There is no load "{match[1]}" in the house.', word)
        made.loads.append(match[1])
        return 1
    if lower == "mw":
        if following is None or not is_whole(following.text):
            raise _FaultError('"mw" wants the tag it shares its neutral with, like mw 4.', following or word)
        if made.job.circuit(int(following.text)) is None:
            raise _FaultError(f"There is no tag {int(following.text)} yet to share a neutral with.", following)
        made.fields["shares_neutral_with"] = int(following.text)
        return 2
    if lower == "clamp":
        reading = following.lower.removesuffix("a") if following else ""
        if not re.fullmatch(r"\d+(?:\.\d+)?", reading) or float(reading) > 600:
            raise _FaultError('"clamp" wants the amperes read, like clamp 4.1.', following or word)
        made.fields["clamp_a"] = float(reading)
        return 2
    return _entering(word, following, made)


def _entering(word: Word, following: Word | None, made: _Line) -> int:
    """Where the cable enters, how much wire is free and how much can be pulled in: `top 22in`, `top@2in 22in`, `slack 6in`."""
    side, at_sign, at = word.text.lower().partition("@")
    if side not in (*SIDES, "free", "slack") or (at_sign and (side not in SIDES or not LENGTH.match(at))):
        return 0
    if following is None or not (LENGTH.match(following.text) or following.text == "?"):
        return 0
    length = None if following.text == "?" else _length(following)
    if side == "slack":
        made.fields["slack_in"] = length
        return 2
    if side != "free":
        made.fields["enters"] = side
    if at_sign:
        made.fields["enters_at_in"] = _length(Word(at, word.start, word.end))
    if length is not None:
        made.fields["free_in"] = length
    return 2


def _length(word: Word) -> float | None:
    try:
        return read_inches(word.text, 240)
    except QuantityError as problem:
        raise _FaultError(str(problem), word) from None


def _with_unit(word: Word, following: Word | None, made: _Line) -> int:
    """A number, spoken or written, with its unit as the next word: "twenty amp", "12 gauge", "two pole"."""
    number = f"{NUMBERS[word.lower]}" if word.lower in NUMBERS else word.text
    if following is None or not re.fullmatch(r"\d+(?:\.\d+)?", number):
        return 0
    unit = following.lower
    if unit in AMP_UNITS and not made.has("amps"):
        _amps(Word(number, word.start, word.end), made)
        return 2
    if unit in GAUGE_UNITS and not made.has("gauge"):
        _gauge(Word(number, word.start, word.end), made)
        return 2
    if unit in POLE_UNITS:
        _poles(int(float(number)), word, made)
        return 2
    return 0


def _in_a_box(text: str, job: Job) -> bool:
    """Whether a word is a space of an old box with a mark, as "g7" is where a box is marked g."""
    match = BOXED.match(text)
    return match is not None and job.old_box(match[1].lower()) is not None


def _tagged(word: Word, _following: Word | None, made: _Line) -> int:
    """A word that says itself what it is: s7, 20a, 30/2, #12, 10al."""
    if match := SPACE_TAGGED.match(word.text):
        _spaces(Word(match[1] or match[2], word.start, word.end), made)
        return 1
    if _in_a_box(word.text, made.job) and not made.has("spaces"):
        _spaces(word, made)
        return 1
    space_first = not made.feeds and not made.has("spaces") and not made.space_tagged
    if (match := CABLE_SIZE.match(word.text)) and _cable_size(match, word, made):
        return 1
    if AMPS_TAGGED.match(word.text) and not made.has("amps") and not (space_first and SPACE.match(word.text)):
        _amps(Word(word.text.lower().replace("amps", "a").replace("amp", "a"), word.start, word.end), made)
        return 1
    if POLES_TAGGED.match(word.text) and not made.has("amps") and not space_first:
        _amps(word, made)
        return 1
    if (match := GAUGE_TAGGED.match(word.text)) and not made.has("gauge"):
        size = next(part for part in (match[1], match[3], match[5], match[6]) if part)
        _gauge(Word(size + (match[2] or match[4] or ""), word.start, word.end), made)
        return 1
    return 0


def _bare(word: Word, following: Word | None, made: _Line) -> bool:
    """A bare number or sign before any description: space, amperes and gauge, in this order."""
    text = f"{NUMBERS[word.lower]}" if word.lower in NUMBERS else word.text
    one = Word(text, word.start, word.end)
    if not made.has("spaces") and not made.space_tagged:
        if text.lower() == "next":
            free = first_free_position(made.job)
            if free == "-":
                raise _FaultError("Every position of the old panel is called out.", word)
            _spaces(Word(free, word.start, word.end), made)
            return True
        if text == "-" or SPACE.match(text):
            _spaces(one, made)
            return True
        # One or two letters before a number are a slip in the space, no description.
        if len(text) <= 2 and following is not None and is_whole(following.text[:1]):
            raise _FaultError(f'"{text}" is no space; start with a number like 7 or 9,11, or - for none.', word)
        return False
    if not made.has("amps"):
        if not AMPS.match(text):
            return False
        _amps(one, made)
        return True
    if not made.has("gauge") and (text == "?" or GAUGE.match(text)):
        _gauge(one, made)
        return True
    return False


def _spaces(word: Word, made: _Line) -> None:
    if word.text == "-":
        made.fields["spaces"], made.said["spaces"] = (), "no space"
        return
    spaces = [part.lower() for part in re.split(r"[,+]", word.text) if part]
    if (mark := spaces[0][0]) in BOX_MARKS:  # "r9,11" is in the box marked r as a whole
        spaces = [space if space.startswith(mark) else f"{mark}{space}" for space in spaces]
    for space in spaces:
        position = parse_old(space)
        if position is None:
            raise _FaultError(f'"{space}" is no space; start with a number like 7 or 9,11, or - for none.', word)
        if made.job.old_box(position.box) is None:
            only = "there is only one panel" if not made.job.old_boxes else "no old box has that mark"
            raise _FaultError(f'"{space}" is a space of a box marked {position.box}, and {only}.', word)
        if position.space > (most := spaces_of(made.job, position)):
            name = box_name(made.job, position.box)
            raise _FaultError(f"The {name} panel has {most} spaces; there is no space {position.whole}.", word)
    if len(set(spaces)) != len(spaces) or len(spaces) > 2:
        raise _FaultError("A circuit has one space, or two different ones for a 2-pole.", word)
    made.fields["spaces"] = tuple(spaces)
    made.said["spaces"] = f"space{'s' if len(spaces) > 1 else ''} {' + '.join(spaces)}"


def _amps(word: Word, made: _Line) -> None:
    match = AMPS.match(word.text)
    if match is None:
        raise _FaultError(f'"{word.text}" is no breaker; write the amperes, like 20 or 30/2, or ? if not known.', word)
    rating = None if match[1] in ("?", "-") else float(match[1])
    if rating is not None and not is_standard_rating(made.codebook, rating):
        raise _FaultError(f"{rating:g} A is not a standard breaker rating; read the handle again, or write ?.", word)
    made.fields["breaker_a"], made.said["amps"] = rating, ""
    if match[2]:
        _poles(int(match[2]), word, made)


def _poles(poles: int, word: Word, made: _Line) -> None:
    if poles not in (1, 2):
        raise _FaultError(f"A dwelling's breaker has one or two poles, not {poles}.", word)
    spaces = made.fields.get("spaces", ())
    if len(spaces) == 2 and poles == 1:
        raise _FaultError("Two spaces are given, but a breaker with one pole.", word)
    if len(spaces) == 1 and poles == 2 and (whole := _both_spaces(spaces[0])):
        second = parse_old(whole[1])
        if second and second.space > spaces_of(made.job, second):
            raise _FaultError(f"A 2-pole at {spaces[0]} would need space {whole[1]}, which the old panel lacks.", word)
        made.fields["spaces"], made.said["spaces"] = whole, f"spaces {' + '.join(whole)}"
    made.fields["poles"] = poles


def _both_spaces(space: str) -> tuple[str, ...]:
    """The two spaces of a 2-pole that was called out by its first one; nothing for half a space."""
    position = parse_old(space)
    side = position.box if position else ""
    return tuple(f"{side}{s}" for s in covered(position.space, 2)) if position and not position.half else ()


def _gauge(word: Word, made: _Line) -> None:
    if word.text == "?":
        made.said["gauge"] = "gauge not known"
        return
    match = GAUGE.match(word.text)
    if match is None:
        raise _FaultError(f'"{word.text}" is no wire gauge; write it like 12, 10al or 2/0, or ? if not known.', word)
    metal = (match[2] or "cu").lower()
    of = "cu" if metal == "cca" else metal  # copper-clad has a size that aluminum has not
    if ampacity_a(made.codebook, match[1], of, 60) is None:
        near = ", ".join(sizes(made.codebook)[:5])
        raise _FaultError(f"There is no {size_text(match[1], metal)} conductor; gauges go {near} and so on.", word)
    made.fields["gauge"], made.fields["metal"] = match[1], metal
    size = size_text(match[1])
    made.said["gauge"] = size_text(match[1], metal) if "kcmil" in size else f"{match[1]} AWG {METAL_TEXT[metal]}"


def _cable_size(match: re.Match[str], word: Word, made: _Line) -> bool:
    """A cable by its size and number of wires, "12-2". With a slash it may be a breaker with its poles, "30/2": it is one as long
    as none was said and the number is a rating."""
    size, sign, wires, metal = match.groups()
    if made.has("gauge") or ampacity_a(made.codebook, size, "cu", 60) is None:
        return False
    if sign == "/" and not made.has("amps") and is_standard_rating(made.codebook, float(size.partition("/")[0])):
        return False
    _gauge(Word(size + (metal or ""), word.start, word.end), made)
    made.fields["conductors"] = int(wires)
    made.said["gauge"] += f", {wires} wires"
    return True


def _finish(made: _Line) -> None:
    """What follows once all words are read: poles from spaces, room and load from the description."""
    spaces = made.fields.get("spaces", ())
    poles = made.fields.setdefault("poles", max(1, len(spaces)))
    if len(spaces) == 1 and poles == 2 and (whole := _both_spaces(spaces[0])):
        made.fields["spaces"], made.said["spaces"] = whole, f"spaces {' + '.join(whole)}"
    if made.has("amps"):
        rating = made.fields["breaker_a"]
        made.said["amps"] = "breaker not read" if rating is None else f"{rating:g} A {poles}-pole"
    text = " ".join(made.feeds)
    named = loads_named(text, [load for load in made.job.loads if load.id not in made.job.fed_loads])
    made.fields |= {
        "feeds": text,
        "marks": tuple(dict.fromkeys(made.marks)),
        "room": room_in(text, made.job),
        "load_ids": tuple(dict.fromkeys(made.loads)) or named,
    }


def _wanted(made: _Line) -> tuple[str, ...]:
    """What a circuit cannot be written down without: a capped cable needs no breaker and no gauge."""
    off = Mark.CAPPED in made.marks
    nowhere = made.has("spaces") and not made.fields["spaces"]
    missing = [] if made.has("spaces") or off else ["space"]
    if not off and not nowhere:
        missing += [words for slot, words in (("amps", "breaker"), ("gauge", "gauge")) if not made.has(slot)]
    if not made.feeds and not off and Mark.UNKNOWN not in made.marks:
        missing.append("what it feeds")
    return tuple(missing)


def _understood(made: _Line, wanted: tuple[str, ...]) -> tuple[str, ...]:
    """Chips of what was read, with a question mark for what is still wanted."""
    chips = [made.said["spaces"] if made.has("spaces") else "space?" if "space" in wanted else ""]
    chips.append(made.said.get("amps") or ("breaker?" if "breaker" in wanted else ""))
    chips.append(made.said.get("gauge") or ("gauge?" if "gauge" in wanted else ""))
    chips.append(made.said.get("cable", ""))
    text = made.fields.get("feeds", "")
    named = [load.name for load_id in made.fields.get("load_ids", ()) if (load := made.job.load(load_id))]
    chips.append(text + (f" → {', '.join(named)}" if named else "") if text or named else "")
    if "what it feeds" in wanted:
        chips.append("what does it feed? (or: unknown)")
    chips += [MARK_SHORT[mark] for mark in dict.fromkeys(made.marks)]
    if "shares_neutral_with" in made.fields:
        chips.append(f"shares neutral with tag {made.fields['shares_neutral_with']}")
    if "clamp_a" in made.fields:
        chips.append(f"clamp {made.fields['clamp_a']:g} A")
    if made.fields.get("enters"):
        at = made.fields.get("enters_at_in")
        chips.append(
            f"enters at the {made.fields['enters']}" + (f", {length_text(at)} in along" if at is not None else "")
        )
    if made.fields.get("free_in") is not None:
        chips.append(f"{length_text(made.fields['free_in'])} in free")
    if made.fields.get("slack_in") is not None:
        chips.append(f"{length_text(made.fields['slack_in'])} in slack outside")
    return tuple(chip for chip in chips if chip)


def room_in(text: str, job: Job) -> str:
    """The room a description names: one of this job's rooms first, else a usual one; "" for none."""
    lower = text.lower()
    known = sorted(
        {r for r in (*(c.room for c in job.circuits), *(x.room for x in job.loads)) if r}, key=len, reverse=True
    )
    for room in (*known, *ROOMS):
        if re.search(rf"\b{re.escape(room.lower())}\b", lower):
            return room
    return ""
