"""The call-out line: «7 20 12 kitchen counter» → a tagged circuit. One calls, one writes.

    spaces  amps[/poles]  gauge[metal]  what it feeds  marks

Spaces `7`, `9,11`, `3a` (half a tandem) or `-` for none; amps `20`, `30/2`, or `?`; gauge `12`, `10al`, `4/0` or `?`;
marks anywhere after: cap, white-hot, dark-n, bare-n, unknown, mw 4 (shares its neutral with tag 4).
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import ampacity_a, is_standard_rating, size_text, sizes
from robust_ledger.job.models import Circuit, Job, Mark
from robust_ledger.job.spaces import covered, parse_position

MARK_WORDS = {
    "cap": Mark.CAPPED,
    "capped": Mark.CAPPED,
    "white-hot": Mark.WHITE_HOT,
    "dark-n": Mark.DARK_NEUTRAL,
    "bare-n": Mark.BARE_NEUTRAL,
    "unknown": Mark.UNKNOWN,
}
MARK_SHORT = {
    Mark.CAPPED: "cap",
    Mark.WHITE_HOT: "white-hot",
    Mark.DARK_NEUTRAL: "dark-n",
    Mark.BARE_NEUTRAL: "bare-n",
    Mark.UNKNOWN: "unknown",
}

ROOMS = (
    "attic",
    "basement",
    "bath",
    "bathroom",
    "bedroom",
    "closet",
    "den",
    "dining",
    "family",
    "garage",
    "hall",
    "kitchen",
    "laundry",
    "living",
    "office",
    "outdoor",
    "pantry",
    "porch",
    "utility",
    "workshop",
)

_AMPS = re.compile(r"^(\d+(?:\.\d+)?|\?|-)a?(?:/(\d))?$", re.I)
_GAUGE = re.compile(r"^#?(\d{1,3}(?:/0)?)(al|cu)?$", re.I)
_WORD = re.compile(r"\S+")


@dataclass(frozen=True, slots=True)
class Fault:
    """What cannot be understood, in one sentence, and which letters of the line it is about."""

    text: str
    start: int
    end: int


@dataclass(frozen=True, slots=True)
class Reading:
    """What the line says so far: in words for the live display, as a circuit when it is complete, or a fault."""

    understood: tuple[str, ...]
    circuit: Circuit | None
    fault: Fault | None


class _FaultError(Exception):
    def __init__(self, text: str, word: re.Match[str]) -> None:
        super().__init__(text)
        self.fault = Fault(text, word.start(), word.end())


def read_callout(line: str, job: Job, codebook: Codebook, tag: int | None = None) -> Reading:
    """Read a call-out line as the circuit with the next free tag (or `tag`, when one is re-entered)."""
    words = list(_WORD.finditer(line))
    if not words:
        return Reading((), None, None)
    understood: list[str] = []
    fields: dict[str, object] = {"tag": tag if tag is not None else job.next_tag}
    try:
        rest = _spaces(words, job, fields, understood)
        rest = _amps(rest, job, codebook, fields, understood)
        rest = _gauge(rest, codebook, fields, understood)
        _words(rest, job, fields, understood)
    except _FaultError as problem:
        return Reading(tuple(understood), None, problem.fault)
    circuit = Circuit.model_validate(fields)
    if not circuit.feeds and not circuit.off and Mark.UNKNOWN not in circuit.marks:
        understood.append("what does it feed? (or: unknown)")
        return Reading(tuple(understood), None, None)
    return Reading(tuple(understood), circuit, None)


def callout_text(circuit: Circuit) -> str:
    """Write a circuit as the line that reads back to it."""
    amps = "?" if circuit.breaker_a is None else f"{circuit.breaker_a:g}"
    gauge = (circuit.gauge or "?") + ("al" if circuit.metal == "al" and circuit.gauge else "")
    parts = [
        ",".join(circuit.spaces) or "-",
        f"{amps}/{circuit.poles}" if circuit.poles > 1 else amps,
        gauge,
        circuit.feeds,
    ]
    parts += [MARK_SHORT[mark] for mark in circuit.marks]
    if circuit.shares_neutral_with is not None:
        parts.append(f"mw {circuit.shares_neutral_with}")
    return " ".join(part for part in parts if part)


def _spaces(
    words: list[re.Match[str]], job: Job, fields: dict[str, object], understood: list[str]
) -> list[re.Match[str]]:
    word = words[0]
    if word[0] == "-":
        fields["spaces"] = ()
        understood.append("no space")
        return words[1:]
    spaces = [part.lower() for part in re.split(r"[,+]", word[0]) if part]
    for space in spaces:
        position = parse_position(space)
        if position is None:
            raise _FaultError(f"«{space}» is no space; start with a number like 7 or 9,11, or - for none.", word)
        if position[0] > job.old_panel.spaces:
            raise _FaultError(
                f"The old panel has {job.old_panel.spaces} spaces; there is no space {position[0]}.", word
            )
    if len(set(spaces)) != len(spaces) or len(spaces) > 2:
        raise _FaultError("A circuit has one space, or two different ones for a 2-pole.", word)
    fields["spaces"] = tuple(spaces)
    understood.append(f"space{'s' if len(spaces) > 1 else ''} {' + '.join(spaces)}")
    return words[1:]


def _amps(
    words: list[re.Match[str]], job: Job, codebook: Codebook, fields: dict[str, object], understood: list[str]
) -> list[re.Match[str]]:
    if not words:
        understood.append("breaker?")
        return words
    word = words[0]
    spaces = fields["spaces"]
    assert isinstance(spaces, tuple)
    match = _AMPS.match(word[0])
    if not match:
        if not spaces:  # a capped cable has no breaker to call out
            return words
        raise _FaultError(
            f"«{word[0]}» is no breaker; write the amperes, like 20 or 30/2, or ? when it is not known.", word
        )
    rating = None if match[1] in ("?", "-") else float(match[1])
    if rating is not None and not is_standard_rating(codebook, rating):
        raise _FaultError(f"{rating:g} A is not a standard breaker rating; read the handle again, or write ?.", word)
    poles = int(match[2]) if match[2] else max(1, len(spaces))
    if poles not in (1, 2):
        raise _FaultError(f"A dwelling's breaker has one or two poles, not {poles}.", word)
    if len(spaces) == 2 and poles == 1:
        raise _FaultError("Two spaces are given, but a breaker with one pole.", word)
    if len(spaces) == 1 and poles == 2 and (whole := _both_spaces(spaces[0])):
        if int(whole[1]) > job.old_panel.spaces:
            raise _FaultError(f"A 2-pole at {spaces[0]} would need space {whole[1]}, which the old panel lacks.", word)
        fields["spaces"] = whole
        understood[-1] = f"spaces {' + '.join(whole)}"
    fields["breaker_a"], fields["poles"] = rating, poles
    understood.append("breaker not read" if rating is None else f"{rating:g} A {poles}-pole")
    return words[1:]


def _both_spaces(space: str) -> tuple[str, ...]:
    """The two spaces of a 2-pole that was called out by its first one; nothing for half a space."""
    position = parse_position(space)
    return tuple(str(s) for s in covered(position[0], 2)) if position and not position[1] else ()


def _gauge(
    words: list[re.Match[str]], codebook: Codebook, fields: dict[str, object], understood: list[str]
) -> list[re.Match[str]]:
    if not words:
        understood.append("gauge?")
        return words
    word = words[0]
    if word[0] == "?":
        understood.append("gauge not known")
        return words[1:]
    match = _GAUGE.match(word[0])
    if not match:
        if not fields["spaces"]:
            return words
        raise _FaultError(
            f"«{word[0]}» is no wire gauge; write it like 12, 10al or 2/0, or ? when it is not known.", word
        )
    metal: Literal["cu", "al"] = "al" if (match[2] or "").lower() == "al" else "cu"
    if ampacity_a(codebook, match[1], metal, 60) is None:
        near = ", ".join(sizes(codebook)[:5])
        raise _FaultError(f"There is no {size_text(match[1], metal)} conductor; gauges go {near} and so on.", word)
    fields["gauge"], fields["metal"] = match[1], metal
    understood.append(
        f"{match[1]} AWG {metal.capitalize()}" if "kcmil" not in size_text(match[1]) else size_text(match[1], metal)
    )
    return words[1:]


def _words(words: list[re.Match[str]], job: Job, fields: dict[str, object], understood: list[str]) -> None:
    feeds: list[str] = []
    marks: list[Mark] = []
    index = 0
    while index < len(words):
        word = words[index]
        lower = word[0].lower()
        if lower == "mw":
            number = words[index + 1] if index + 1 < len(words) else None
            if number is None or not number[0].isdigit():
                raise _FaultError("«mw» wants the tag it shares its neutral with, like mw 4.", number or word)
            if job.circuit(int(number[0])) is None:
                raise _FaultError(f"There is no tag {number[0]} yet to share a neutral with.", number)
            fields["shares_neutral_with"] = int(number[0])
            index += 1
        elif lower in MARK_WORDS:
            marks.append(MARK_WORDS[lower])
        else:
            feeds.append(word[0])
        index += 1
    text = " ".join(feeds)
    fields["feeds"], fields["marks"] = text, tuple(dict.fromkeys(marks))
    fields["room"] = room_in(text, job)
    load = load_named(text, job)
    fields["load_ids"] = (load,) if load else ()
    if text:
        understood.append(text + (f" → {job.load(load).name}" if load and job.load(load) else ""))  # type: ignore[union-attr]
    understood.extend(MARK_SHORT[mark] for mark in dict.fromkeys(marks))
    if "shares_neutral_with" in fields:
        understood.append(f"shares neutral with tag {fields['shares_neutral_with']}")


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


def load_named(text: str, job: Job) -> str:
    """The id of the listed load that a description names and no circuit feeds yet; "" for none or for two."""
    lower = f" {text.lower()} "
    hits = [x.id for x in job.loads if x.id not in job.fed_loads and f" {x.name.lower()} " in lower]
    return hits[0] if len(hits) == 1 else ""
