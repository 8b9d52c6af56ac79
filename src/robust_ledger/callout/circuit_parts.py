"""The pieces of a called-out circuit taken up one after the other, each checked against the old panel and what is made."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

from msgspec import Struct, field

from robust_ledger.branch.old_panel import box_name, first_free_position, spaces_of
from robust_ledger.callout.circuit_readers import Size
from robust_ledger.callout.engine import Item, Way
from robust_ledger.callout.phrases import vocabulary
from robust_ledger.callout.spoken import Fault
from robust_ledger.callout.tokens import Token, text_between
from robust_ledger.callout.words import CABLE_SHORT
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import ampacity_a, is_standard_rating, sizes
from robust_ledger.job.conductors import METAL_TEXT, size_text
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Mark
from robust_ledger.job.readers.quantity import QuantityError, read_inches
from robust_ledger.job.spaces import BOX_MARKS, covered, parse_old

MOST_INCHES = 240.0


class FaultError(Exception):
    """What in a line cannot be, from letter to letter."""

    def __init__(self, text: str, start: int, end: int) -> None:
        super().__init__(text)
        short = re.sub(r"\S{60,}", lambda long: f"{long[0][:40]}…", text)
        self.fault = Fault(short, start, end)


class Line(Struct):
    """What has been taken up of a way to read the line."""

    line: str
    tokens: tuple[Token, ...]
    job: Job
    codebook: Codebook
    fields: dict[str, Any]
    said: dict[str, str] = field(default_factory=dict)
    marks: list[Mark] = field(default_factory=list)
    loads: list[str] = field(default_factory=list)
    plate: list[str] = field(default_factory=list)  # figures of a nameplate, which no circuit has

    def refuse(self, text: str, item: Item) -> FaultError:
        """A fault at the word of an item that is to blame."""
        token = self.tokens[item.at if 0 <= item.at < len(self.tokens) else item.first]
        return FaultError(text, token.start, token.end)

    def text_of(self, item: Item) -> str:
        """The letters of an item."""
        return text_between(self.line, self.tokens[item.first : item.after])

    def word_of(self, item: Item) -> str:
        """The word of an item that its value begins with."""
        return self.tokens[item.at if 0 <= item.at < len(self.tokens) else item.first].text


_ORDER = (
    "space", "bare_space", "next", "half", "quad_pair", "device", "amps", "bare_amps", "amps_gauge", "amps_unknown", "poles", "gauge",
    "bare_gauge", "gauge_metal", "gauge_unknown", "wires", "metal", "share_of", "share",
)  # fmt: skip


def take_up(way: Way, made: Line) -> None:
    """Take up the items of a way: spaces before poles, sizes before metals."""
    order = {name: number for number, name in enumerate(_ORDER)}
    for item in sorted(way.items, key=lambda item: order.get(item.sort, 99)):
        taker = _TAKERS.get(item.sort)
        if taker is not None:
            taker(item, made)


def _space(item: Item, made: Line) -> None:
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


def _next(item: Item, made: Line) -> None:
    free = first_free_position(made.job)
    if free == "-":
        raise made.refuse("Every position of the old panel is called out.", item)
    _spaces((free,), item, made)


def _spaces(value: Sequence[str], item: Item, made: Line) -> None:
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
    say_spaces(made)


def say_spaces(made: Line) -> None:
    """Put down how the spaces of a line are said back."""
    spaces = made.fields["spaces"]
    made.said["spaces"] = f"space{'s' if len(spaces) > 1 else ''} {' + '.join(spaces)}"


def _half(item: Item, made: Line) -> None:
    spaces = made.fields.get("spaces", ())
    if len(spaces) != 1 or spaces[0][-1] in "ab":
        raise made.refuse("Say which space it is half of, like 19 top half.", item)
    made.fields["spaces"] = (f"{spaces[0]}{item.value}",)
    say_spaces(made)


def _quad_pair(item: Item, made: Line) -> None:
    """A quad's four poles are the halves of two spaces: the inner ones are next to each other."""
    spaces = made.fields.get("spaces", ())
    if len(spaces) != 2 or any(space[-1] in "ab" for space in spaces):
        raise made.refuse("Say the two spaces of the quad, like 9-11 quad inner.", item)
    first, second = ("b", "a") if item.value == "inner" else ("a", "b")
    made.fields["spaces"] = (f"{spaces[0]}{first}", f"{spaces[1]}{second}")
    say_spaces(made)


def _amps(item: Item, made: Line) -> None:
    rating, poles = item.value if isinstance(item.value, tuple) else (item.value, 0)
    if rating is not None and not is_standard_rating(made.codebook, rating):
        raise made.refuse(f"{rating:g} A is not a standard breaker rating; read the handle again, or write ?.", item)
    made.fields["breaker_a"], made.said["amps"] = rating, ""
    if poles:
        _take_poles(poles, item, made)


def _amps_gauge(item: Item, made: Line) -> None:
    rating, size = item.value
    _amps(Item(item.first, item.after, "amps", rating, 0.0), made)
    _gauge(Item(item.first, item.after, "gauge", size, 0.0), made)


def _poles(item: Item, made: Line) -> None:
    _take_poles(int(item.value), item, made)


def _take_poles(poles: int, item: Item, made: Line) -> None:
    if poles not in (1, 2):
        raise made.refuse(f"A dwelling's breaker has one or two poles, not {poles}.", item)
    spaces = made.fields.get("spaces", ())
    if len(spaces) == 2 and poles == 1:
        raise made.refuse("Two spaces are given, but a breaker with one pole.", item)
    if len(spaces) == 1 and poles == 2 and (whole := both_spaces(spaces[0])):
        second = parse_old(whole[1])
        if second and second.space > spaces_of(made.job, second):
            raise made.refuse(f"A 2-pole at {spaces[0]} would need space {whole[1]}, which the old panel lacks.", item)
        made.fields["spaces"] = whole
        say_spaces(made)
    made.fields["poles"] = poles


def both_spaces(space: str) -> tuple[str, ...]:
    """The two spaces of a 2-pole that was called out by its first one; nothing for half a space."""
    position = parse_old(space)
    side = position.box if position else ""
    return tuple(f"{side}{s}" for s in covered(position.space, 2)) if position and not position.half else ()


def _gauge(item: Item, made: Line) -> None:
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


def _say_gauge(made: Line) -> None:
    gauge, metal = made.fields.get("gauge"), made.fields.get("metal", "cu")
    wires = made.fields.get("conductors")
    if gauge is None:
        made.said["gauge"] = "gauge not known" if "gauge" in made.fields else ""
        return
    size = size_text(gauge)
    text = size_text(gauge, metal) if "kcmil" in size else f"{gauge} AWG {METAL_TEXT[metal]}"
    made.said["gauge"] = text + (f", {wires} wires" if wires else "")


def _gauge_metal(item: Item, made: Line) -> None:
    """ "four copper", "number six aluminum"."""
    said = made.text_of(item).lower().split()
    metal = "cu" if any(word in ("cu", "copper", "coper", "cooper") for word in said) else "al"
    size: Size = item.value
    _gauge(Item(item.first, item.after, "gauge", Size(size.text, metal, size.wires), 0.0, 0, item.at), made)


def _metal(item: Item, made: Line) -> None:
    gauge = made.fields.get("gauge")
    of = "cu" if item.value == "cca" else item.value
    if gauge is not None and ampacity_a(made.codebook, gauge, of, 60) is None:
        raise made.refuse(f"There is no {size_text(gauge, item.value)} conductor; read the wire again.", item)
    made.fields["metal"] = item.value
    _say_gauge(made)
    if not gauge:
        made.said["metal"] = METAL_TEXT[item.value]


def _wires(item: Item, made: Line) -> None:
    made.fields["conductors"] = int(item.value)
    if made.fields.get("gauge"):
        _say_gauge(made)


def _cable(item: Item, made: Line) -> None:
    kind = "ac" if item.sort == "ac" else item.value
    made.fields["cable"] = kind
    made.said["cable"] = CABLE_SHORT[kind]


def _device(item: Item, made: Line) -> None:
    made.fields["device"] = item.value


def _share(item: Item, made: Line) -> None:
    value = item.value
    if isinstance(value, dict):  # "red of the 12-3 with 30"
        _gauge(Item(item.first, item.after, "gauge", value["cable"], 0.0), made)
        value = value["count"]
    made.fields["shares_neutral_with"] = _mate(int(value), item, made)


def _mate(number: int, item: Item, made: Line) -> int:
    """The tag that a number means: a directory counts spaces, the crew counts tags. Where one circuit has it as its tag and another as its
    space, and nothing was said of which, it is asked: on the wrong one a neutral would carry two circuits of one leg."""
    lists = vocabulary("circuit").lists
    said = {token.lower for token in made.tokens[item.first : item.after]}
    by_tag = made.job.circuit(number)
    by_space = next((circuit for circuit in made.job.circuits if str(number) in circuit.spaces), None)
    if said & lists["as_space"]:
        if by_space is None:
            raise made.refuse(f"Nothing is called out in space {number} yet to share a neutral with.", item)
        made.said["share"] = f"shares neutral with tag {by_space.tag}, in space {number}"
        return by_space.tag
    if not said & lists["as_tag"] and by_space is not None and by_space is not by_tag:
        if by_tag is not None:
            names = f"tag {number} is {by_tag.feeds or 'unknown'}, space {number} is {by_space.feeds or 'unknown'}"
            raise made.refuse(f"Tag {number} or space {number}? {names[:1].upper()}{names[1:]}; say which.", item)
        made.said["share"] = f"shares neutral with tag {by_space.tag}, in space {number}"
        return by_space.tag
    if by_tag is None:
        raise made.refuse(f"There is no tag {number} yet to share a neutral with.", item)
    return number


def _plate(item: Item, made: Line) -> None:
    made.plate.append(str(item.value))


def _clamp(item: Item, made: Line) -> None:
    if not 0 <= item.value <= 600:
        raise made.refuse(f'"clamp" wants the amperes read, up to 600, not {item.value:g}.', item)
    made.fields["clamp_a"] = float(item.value)


def _inches(item: Item, made: Line, inches: float) -> float:
    if inches > MOST_INCHES:
        raise made.refuse(f'"{made.word_of(item)}" is more than {MOST_INCHES:g} in.', item)
    return round(inches, 3)


def _free(item: Item, made: Line) -> None:
    made.fields["free_in"] = _inches(item, made, item.value)


def _slack(item: Item, made: Line) -> None:
    made.fields["slack_in"] = None if item.sort == "slack_unknown" else _inches(item, made, item.value)


def _side_free(item: Item, made: Line) -> None:
    length = item.value.get("length", item.value.get("any_length"))
    made.fields["free_in"] = _inches(item, made, length)
    _enters(Item(item.first, item.after, "enters", item.value.get("side_along") or item.value["side"], 0.0), made)


def _enters(item: Item, made: Line) -> None:
    side, along = item.value if isinstance(item.value, tuple) else (item.value, "")
    made.fields["enters"] = side
    if along:
        try:
            made.fields["enters_at_in"] = read_inches(along, MOST_INCHES)
        except QuantityError as problem:
            raise made.refuse(str(problem), item) from None


def _load(item: Item, made: Line) -> None:
    if made.job.load(item.value) is None:
        raise made.refuse(f'There is no load "{item.value}" in the house.', item)
    made.loads.append(item.value)


def _mark(item: Item, made: Line) -> None:
    made.marks.append(Mark.FOUND_OFF if item.sort == "off" else Mark(item.value))


def _color(item: Item, made: Line) -> None:
    made.said["color"] = f"{made.text_of(item).lower()} wire"


def _ground(_item: Item, made: Line) -> None:
    made.said["ground"] = "with ground"


_TAKERS = {
    "space": _space, "bare_space": _space, "next": _next, "half": _half, "quad_pair": _quad_pair, "device": _device, "amps": _amps,
    "bare_amps": _amps, "amps_gauge": _amps_gauge, "amps_unknown": lambda item, made: _amps(Item(item.first, item.after, "amps", None, 0), made),
    "poles": _poles, "gauge": _gauge, "bare_gauge": _gauge, "gauge_metal": _gauge_metal,
    "gauge_unknown": lambda item, made: _gauge(Item(item.first, item.after, "gauge", None, 0), made),
    "wires": _wires, "metal": _metal, "cable": _cable, "ac": _cable, "share_of": _share, "share": _share, "clamp": _clamp, "plain_reading": _clamp,
    "free": _free, "slack": _slack, "slack_unknown": _slack, "side_free": _side_free, "side_at_free": _side_free, "enters": _enters,
    "side_unknown": _enters, "load": _load, "mark": _mark, "off": _mark, "ground": _ground, "color": _color, "plate": _plate,
}  # fmt: skip
