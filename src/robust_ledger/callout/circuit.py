"""A circuit as it is called out: "7 20 12 kitchen counter", "9 and 11, double pole thirty, ten three, dryer". One calls, one writes.

The line is read as a whole: every way to cover its words is weighed (`circuit_items`, `engine`), the best becomes a circuit, the
next best that says something else is its rival. Nothing is swallowed: what is in no slot is in the description, and a description that
holds the word of a mark is asked about.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

from msgspec import Struct, field
from msgspec.structs import replace

from robust_ledger.branch.links import loads_named
from robust_ledger.branch.old_panel import box_name, first_free_position, spaces_of
from robust_ledger.callout.circuit_items import SPOKEN, Size, extra, items_of, missing, words
from robust_ledger.callout.engine import Item, Way, ways_through
from robust_ledger.callout.tokens import Token, tokens_of
from robust_ledger.callout.words import CABLE_SHORT, DEVICE_WORDS, MARK_SHORT, ROOMS
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import ampacity_a, is_standard_rating, sizes
from robust_ledger.job.conductors import METAL_TEXT, size_text
from robust_ledger.job.job import Job
from robust_ledger.job.parts.base import ModelError
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.readers.quantity import QuantityError, length_text, read_inches
from robust_ledger.job.spaces import BOX_MARKS, covered, parse_old

MOST_INCHES = 240.0
MOST_LETTERS = 2000  # of a line
CLOSE = 0.8  # a rival costs at most so much more than the best reading


class Fault(Struct, frozen=True):
    """What cannot be understood, in one sentence, and which letters of the line it is about."""

    text: str
    start: int
    end: int


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


class _FaultError(Exception):
    def __init__(self, text: str, start: int, end: int) -> None:
        super().__init__(text)
        short = re.sub(r"\S{60,}", lambda long: f"{long[0][:40]}…", text)
        self.fault = Fault(short, start, end)


class _Line(Struct):
    """What has been taken up of a way to read the line."""

    line: str
    tokens: tuple[Token, ...]
    job: Job
    codebook: Codebook
    fields: dict[str, Any]
    said: dict[str, str] = field(default_factory=dict)
    marks: list[Mark] = field(default_factory=list)
    loads: list[str] = field(default_factory=list)

    def refuse(self, text: str, item: Item) -> _FaultError:
        """A fault at the word of an item that is to blame."""
        token = self.tokens[item.at if 0 <= item.at < len(self.tokens) else item.first]
        return _FaultError(text, token.start, token.end)

    def text_of(self, item: Item) -> str:
        """The letters of an item."""
        return self.line[self.tokens[item.first].start : self.tokens[item.after - 1].end]

    def word_of(self, item: Item) -> str:
        """The word of an item that its value begins with."""
        return self.tokens[item.at if 0 <= item.at < len(self.tokens) else item.first].text


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
        if other.complete and other.fault is None and other.said != best.said:
            if best.fault is not None or (not best.complete and cost - ways[0][0] < 0.3):
                continue  # what is wrong is told, not got around
            return replace(best, rival=other)
    return best


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
    return _description(way, line, tokens) if any(one.sort in SPOKEN for one in way.items) else None


def _reading(
    way: Way, line: str, tokens: tuple[Token, ...], job: Job, codebook: Codebook, tag: int | None, part: bool = False
) -> Reading:
    made = _Line(line, tokens, job, codebook, {"tag": tag if tag is not None else 0})
    sorts = {item.sort for item in way.items}
    try:
        if "main" in sorts:
            return _main(way, made)
        _take_up(way, made)
        if "blank" in sorts:
            return _blank(way, made)
        _described(way, made)
        said = {name: value for name, value in made.fields.items() if name != "tag"}
        if part:
            return Reading(_understood(made, ()), None, None, (), None, said, _asks(way, made))
        _finish(made)
    except _FaultError as problem:
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


_ORDER = (
    "space", "bare_space", "next", "half", "quad_pair", "device", "amps", "bare_amps", "amps_gauge", "amps_unknown", "poles", "gauge",
    "bare_gauge", "gauge_metal", "gauge_unknown", "wires", "metal", "share_of", "share",
)  # fmt: skip


def _take_up(way: Way, made: _Line) -> None:
    """Take up the items of a way: spaces before poles, sizes before metals."""
    order = {name: number for number, name in enumerate(_ORDER)}
    for item in sorted(way.items, key=lambda item: order.get(item.sort, 99)):
        taker = _TAKERS.get(item.sort)
        if taker is not None:
            taker(item, made)


def _space(item: Item, made: _Line) -> None:
    value = item.value
    if value and value[0] in ("first", "last"):
        value = (_end_space(made.job, value[0] == "last", value[1] == "left"),)
    if not value:
        made.fields["spaces"], made.said["spaces"] = (), "no space"
        return
    _spaces(value, item, made)


def _end_space(job: Job, last: bool, left: bool) -> str:
    most = job.old_panel.spaces
    if not last:
        return "1" if left else "2"
    return str(most - (most % 2 == 0) if left else most - (most % 2 == 1))


def _next(item: Item, made: _Line) -> None:
    free = first_free_position(made.job)
    if free == "-":
        raise made.refuse("Every position of the old panel is called out.", item)
    _spaces((free,), item, made)


def _spaces(value: Sequence[str], item: Item, made: _Line) -> None:
    spaces = [part.lower() for part in value if part]
    if (mark := spaces[0][0]) in BOX_MARKS:  # "r9,11" is in the box marked r as a whole
        spaces = [space if space.startswith(mark) else f"{mark}{space}" for space in spaces]
    for space in spaces:
        position = parse_old(space)
        if position is None:
            raise made.refuse(f'"{space}" is no space; start with a number like 7 or 9,11, or - for none.', item)
        if made.job.old_box(position.box) is None:
            only = "there is only one panel" if not made.job.old_boxes else "no old box has that mark"
            raise made.refuse(f'"{space}" is a space of a box marked {position.box}, and {only}.', item)
        if position.space > (most := spaces_of(made.job, position)):
            name = box_name(made.job, position.box)
            raise made.refuse(f"The {name} panel has {most} spaces; there is no space {position.whole}.", item)
    if len(set(spaces)) != len(spaces) or len(spaces) > 2:
        raise made.refuse("A circuit has one space, or two different ones for a 2-pole.", item)
    made.fields["spaces"] = tuple(spaces)
    _say_spaces(made)


def _say_spaces(made: _Line) -> None:
    spaces = made.fields["spaces"]
    made.said["spaces"] = f"space{'s' if len(spaces) > 1 else ''} {' + '.join(spaces)}"


def _half(item: Item, made: _Line) -> None:
    spaces = made.fields.get("spaces", ())
    if len(spaces) != 1 or spaces[0][-1] in "ab":
        raise made.refuse("Say which space it is half of, like 19 top half.", item)
    made.fields["spaces"] = (f"{spaces[0]}{item.value}",)
    _say_spaces(made)


def _quad_pair(item: Item, made: _Line) -> None:
    """A quad's four poles are the halves of two spaces: the inner ones are next to each other."""
    spaces = made.fields.get("spaces", ())
    if len(spaces) != 2 or any(space[-1] in "ab" for space in spaces):
        raise made.refuse("Say the two spaces of the quad, like 9-11 quad inner.", item)
    first, second = ("b", "a") if item.value == "inner" else ("a", "b")
    made.fields["spaces"] = (f"{spaces[0]}{first}", f"{spaces[1]}{second}")
    _say_spaces(made)


def _amps(item: Item, made: _Line) -> None:
    rating, poles = item.value if isinstance(item.value, tuple) else (item.value, 0)
    if rating is not None and not is_standard_rating(made.codebook, rating):
        raise made.refuse(f"{rating:g} A is not a standard breaker rating; read the handle again, or write ?.", item)
    made.fields["breaker_a"], made.said["amps"] = rating, ""
    if poles:
        _take_poles(poles, item, made)


def _amps_gauge(item: Item, made: _Line) -> None:
    rating, size = item.value
    _amps(Item(item.first, item.after, "amps", rating, 0.0), made)
    _gauge(Item(item.first, item.after, "gauge", size, 0.0), made)


def _poles(item: Item, made: _Line) -> None:
    _take_poles(int(item.value), item, made)


def _take_poles(poles: int, item: Item, made: _Line) -> None:
    if poles not in (1, 2):
        raise made.refuse(f"A dwelling's breaker has one or two poles, not {poles}.", item)
    spaces = made.fields.get("spaces", ())
    if len(spaces) == 2 and poles == 1:
        raise made.refuse("Two spaces are given, but a breaker with one pole.", item)
    if len(spaces) == 1 and poles == 2 and (whole := _both_spaces(spaces[0])):
        second = parse_old(whole[1])
        if second and second.space > spaces_of(made.job, second):
            raise made.refuse(f"A 2-pole at {spaces[0]} would need space {whole[1]}, which the old panel lacks.", item)
        made.fields["spaces"] = whole
        _say_spaces(made)
    made.fields["poles"] = poles


def _both_spaces(space: str) -> tuple[str, ...]:
    """The two spaces of a 2-pole that was called out by its first one; nothing for half a space."""
    position = parse_old(space)
    side = position.box if position else ""
    return tuple(f"{side}{s}" for s in covered(position.space, 2)) if position and not position.half else ()


def _gauge(item: Item, made: _Line) -> None:
    if item.value is None:
        made.said["gauge"] = "gauge not known"
        made.fields["gauge"] = None
        return
    size: Size = item.value
    metal = size.metal or "cu"
    of = "cu" if metal == "cca" else metal  # copper-clad has a size that aluminum has not
    if ampacity_a(made.codebook, size.text, of, 60) is None:
        near = ", ".join(sizes(made.codebook)[:5])
        raise made.refuse(f"There is no {size_text(size.text, metal)} conductor; gauges go {near} and so on.", item)
    made.fields["gauge"] = size.text
    if size.metal:
        made.fields["metal"] = size.metal
    if size.wires:
        made.fields["conductors"] = size.wires
    _say_gauge(made)


def _say_gauge(made: _Line) -> None:
    gauge, metal = made.fields.get("gauge"), made.fields.get("metal", "cu")
    wires = made.fields.get("conductors")
    if gauge is None:
        made.said["gauge"] = "gauge not known" if "gauge" in made.fields else ""
        return
    size = size_text(gauge)
    text = size_text(gauge, metal) if "kcmil" in size else f"{gauge} AWG {METAL_TEXT[metal]}"
    made.said["gauge"] = text + (f", {wires} wires" if wires else "")


def _gauge_metal(item: Item, made: _Line) -> None:
    """ "four copper", "number six aluminum"."""
    said = made.text_of(item).lower().split()
    metal = "cu" if any(word in ("cu", "copper", "coper", "cooper") for word in said) else "al"
    size: Size = item.value
    _gauge(Item(item.first, item.after, "gauge", Size(size.text, metal, size.wires), 0.0, 0, item.at), made)


def _metal(item: Item, made: _Line) -> None:
    gauge = made.fields.get("gauge")
    of = "cu" if item.value == "cca" else item.value
    if gauge is not None and ampacity_a(made.codebook, gauge, of, 60) is None:
        raise made.refuse(f"There is no {size_text(gauge, item.value)} conductor; read the wire again.", item)
    made.fields["metal"] = item.value
    _say_gauge(made)
    if not gauge:
        made.said["metal"] = METAL_TEXT[item.value]


def _wires(item: Item, made: _Line) -> None:
    made.fields["conductors"] = int(item.value)
    if made.fields.get("gauge"):
        _say_gauge(made)


def _cable(item: Item, made: _Line) -> None:
    kind = "ac" if item.sort == "ac" else item.value
    made.fields["cable"] = kind
    made.said["cable"] = CABLE_SHORT[kind]


def _device(item: Item, made: _Line) -> None:
    made.fields["device"] = item.value


def _share(item: Item, made: _Line) -> None:
    value = item.value
    if isinstance(value, dict):  # "red of the 12-3 with 30"
        _gauge(Item(item.first, item.after, "gauge", value["cable"], 0.0), made)
        value = value["count"]
    if made.job.circuit(int(value)) is None:
        raise made.refuse(f"There is no tag {int(value)} yet to share a neutral with.", item)
    made.fields["shares_neutral_with"] = int(value)


def _clamp(item: Item, made: _Line) -> None:
    if not 0 <= item.value <= 600:
        raise made.refuse(f'"clamp" wants the amperes read, up to 600, not {item.value:g}.', item)
    made.fields["clamp_a"] = float(item.value)


def _inches(item: Item, made: _Line, inches: float) -> float:
    if inches > MOST_INCHES:
        raise made.refuse(f'"{made.word_of(item)}" is more than {MOST_INCHES:g} in.', item)
    return round(inches, 3)


def _free(item: Item, made: _Line) -> None:
    made.fields["free_in"] = _inches(item, made, item.value)


def _slack(item: Item, made: _Line) -> None:
    made.fields["slack_in"] = None if item.sort == "slack_unknown" else _inches(item, made, item.value)


def _side_free(item: Item, made: _Line) -> None:
    length = item.value.get("length", item.value.get("any_length"))
    made.fields["free_in"] = _inches(item, made, length)
    _enters(Item(item.first, item.after, "enters", item.value.get("side_along") or item.value["side"], 0.0), made)


def _enters(item: Item, made: _Line) -> None:
    side, along = item.value if isinstance(item.value, tuple) else (item.value, "")
    made.fields["enters"] = side
    if along:
        try:
            made.fields["enters_at_in"] = read_inches(along, MOST_INCHES)
        except QuantityError as problem:
            raise made.refuse(str(problem), item) from None


def _load(item: Item, made: _Line) -> None:
    if made.job.load(item.value) is None:
        raise made.refuse(f'There is no load "{item.value}" in the house.', item)
    made.loads.append(item.value)


def _mark(item: Item, made: _Line) -> None:
    made.marks.append(Mark.FOUND_OFF if item.sort == "off" else Mark(item.value))


def _ground(_item: Item, made: _Line) -> None:
    made.said["ground"] = "with ground"


_TAKERS = {
    "space": _space, "bare_space": _space, "next": _next, "half": _half, "quad_pair": _quad_pair, "device": _device, "amps": _amps,
    "bare_amps": _amps, "amps_gauge": _amps_gauge, "amps_unknown": lambda item, made: _amps(Item(item.first, item.after, "amps", None, 0), made),
    "poles": _poles, "gauge": _gauge, "bare_gauge": _gauge, "gauge_metal": _gauge_metal,
    "gauge_unknown": lambda item, made: _gauge(Item(item.first, item.after, "gauge", None, 0), made),
    "wires": _wires, "metal": _metal, "cable": _cable, "ac": _cable, "share_of": _share, "share": _share, "clamp": _clamp, "plain_reading": _clamp,
    "free": _free, "slack": _slack, "slack_unknown": _slack, "side_free": _side_free, "side_at_free": _side_free, "enters": _enters,
    "side_unknown": _enters, "load": _load, "mark": _mark, "off": _mark, "ground": _ground,
}  # fmt: skip


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
        tokens[run[0]].text if tokens[run[0]].quoted else line[tokens[run[0]].start : tokens[run[-1]].end]
        for run in runs
    ]
    return " ".join(" ".join(parts).split())


def _described(way: Way, made: _Line) -> None:
    text = _description(way, made.line, made.tokens)
    if text:
        made.fields["feeds"] = text
    marks = tuple(dict.fromkeys(made.marks))
    if marks:
        made.fields["marks"] = marks
    _slips(made, text)


def _slips(made: _Line, text: str) -> None:
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


def _slip(way: Way, made: _Line) -> Fault | None:
    """One or two letters where the space should be are a slip, no description."""
    first = made.tokens[0]
    follows = len(made.tokens) > 1 and made.tokens[1].text[:1].isdigit()
    if first.quoted or len(first.text) > 2 or first.text[0].isdigit() or not follows:
        return None
    if way.items[0].sort not in SPOKEN:
        return None
    text = f'"{first.text}" is no space; start with a number like 7 or 9,11, or - for none.'
    return Fault(text, first.start, first.end)


def _finish(made: _Line) -> None:
    """What follows once all words are read: poles from spaces, room and load from the description."""
    spaces = made.fields.get("spaces", ())
    poles = made.fields.setdefault("poles", max(1, len(spaces)))
    if len(spaces) == 1 and poles == 2 and (whole := _both_spaces(spaces[0])):
        made.fields["spaces"] = whole
        _say_spaces(made)
    if "amps" in made.said:
        rating = made.fields["breaker_a"]
        made.said["amps"] = "breaker not read" if rating is None else f"{rating:g} A {poles}-pole"
    text = made.fields.get("feeds", "")
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
    placed = "spaces" in made.fields
    nowhere = placed and not made.fields["spaces"]
    missing = [] if placed or off else ["space"]
    if not off and not nowhere:
        missing += [words for slot, words in (("breaker_a", "breaker"), ("gauge", "gauge")) if slot not in made.fields]
    if not made.fields.get("feeds") and not off and Mark.UNKNOWN not in made.marks:
        missing.append("what it feeds")
    return tuple(missing)


def _understood(made: _Line, wanted: tuple[str, ...]) -> tuple[str, ...]:
    """Chips of what was read, with a question mark for what is still wanted."""
    fields = made.fields
    chips = [made.said.get("spaces") or ("space?" if "space" in wanted else "")]
    chips.append(made.said.get("amps") or ("breaker?" if "breaker" in wanted else ""))
    chips.append(DEVICE_WORDS[fields["device"]] if fields.get("device") else "")
    chips.append(made.said.get("gauge") or ("gauge?" if "gauge" in wanted else ""))
    chips.append(made.said.get("metal", ""))
    chips.append(made.said.get("ground", ""))
    chips.append(made.said.get("cable", ""))
    text = fields.get("feeds", "")
    named = [load.name for load_id in fields.get("load_ids", ()) if (load := made.job.load(load_id))]
    chips.append(text + (f" → {', '.join(named)}" if named else "") if text or named else "")
    if "what it feeds" in wanted:
        chips.append("what does it feed? (or: unknown)")
    chips += [MARK_SHORT[mark] for mark in dict.fromkeys(made.marks)]
    if "shares_neutral_with" in fields:
        chips.append(f"shares neutral with tag {fields['shares_neutral_with']}")
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


def _asks(way: Way, made: _Line) -> tuple[str, ...]:
    """Words of a mark that ended up in what the circuit feeds: nothing that matters is written down as a mere word."""
    told = words("telltale")
    found = [
        token.text
        for item in way.items
        if item.sort in SPOKEN
        for token in made.tokens[item.first : item.after]
        if not token.quoted and token.lower in told
    ]
    return tuple(f'"{word}" is part of what it feeds, not a mark?' for word in dict.fromkeys(found))


def _blank(_way: Way, made: _Line) -> Reading:
    spaces = made.fields.get("spaces", ())
    if not spaces:
        return Reading(("nothing wired there", "space?"), None, None, ("space",))
    words = f"{made.said['spaces']}: nothing wired there"
    return Reading((words,), None, None, (), Change(words, blank=spaces), {"blank": spaces})


def _main(way: Way, made: _Line) -> Reading:
    item = next(one for one in way.items if one.sort == "main")
    rating = item.value
    if rating is None or not is_standard_rating(made.codebook, rating):
        text = "the rating" if rating is None else f"{rating:g} A"
        raise made.refuse(f"{text} is not a standard breaker rating; read the main again.", item)
    words = f"the old panel's main: {rating:g} A"
    return Reading((words,), None, None, (), Change(words, main_a=rating), {"main_a": rating})


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
