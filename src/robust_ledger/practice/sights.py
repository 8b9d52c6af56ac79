"""What is to be seen in a practice panel with its cover off: handles, wires by color and size, where each ends, and the label on the door."""

from __future__ import annotations

from collections.abc import Iterator
from random import Random
from typing import Literal

from msgspec import Struct

from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.spaces import parse_position
from robust_ledger.practice.exercise import Exercise

End = Literal["breaker", "neutral bar", "ground bar", "cap", "lower bus"]
END_WORDS = {
    "breaker": "under the breaker",
    "neutral bar": "on the neutral bar",
    "ground bar": "on the ground bar",
    "cap": "capped",
    "lower bus": "to the lower bus",
}


class Wire(Struct, frozen=True):
    """A wire: its color, its size with the metal, where it ends, and its cable by the first space of its circuit."""

    color: str
    size: str
    end: End
    cable: str


class Sight(Struct, frozen=True):
    """A breaker as it is seen: its spaces, its handle, the wires of its cable, what the door says of it, and where a tape was put to it, the
    free length of its wires and where the cable comes in; `jacket`: what is printed on the cable, where it is not NM."""

    spaces: tuple[str, ...]
    handle: str
    wires: tuple[Wire, ...]
    label: str
    tape: str = ""
    jacket: str = ""

    @property
    def words(self) -> str:
        """As it is read aloud: "space 3: 20 A, black 14 under the breaker, white 14 on the neutral bar"."""
        wires = ", ".join(
            f"{wire.color} {wire.size} {END_WORDS[wire.end]}"
            + (f" (of the cable at {wire.cable})" if wire.cable != self.spaces[0] else "")
            for wire in self.wires
        )
        more = "".join(f"; {one}" for one in (self.tape, self.jacket and f"{self.jacket} cable") if one)
        return f"space {' and '.join(self.spaces)}: {self.handle}, {wires}{more}"

    @property
    def order(self) -> tuple[bool, int, str]:
        """Left side first, from the top, the upper half of a tandem before the lower."""
        space, half = parse_position(self.spaces[0]) or (0, "")
        return space % 2 == 0, space, half


def sights(made: Exercise) -> tuple[Sight, ...]:
    """Every breaker of the panel, from the top. Some of the labels on the door are wrong or worn off, as they are."""
    dice = Random(f"door/{made.code}")
    labels = [circuit.feeds for circuit in made.truth.circuits]
    for _ in range(made.code.level):
        first, second = dice.randrange(len(labels)), dice.randrange(len(labels))
        labels[first], labels[second] = labels[second], dice.choice((labels[first], "", "spare", "?"))
    both = {one.tag: one for one in made.truth.circuits}
    seen = [
        Sight(
            one.spaces,
            _handle(one),
            tuple(_wires(one, both.get(one.shares_neutral_with or 0))),
            label,
            _tape(one),
            "SE" if one.cable == "se" else "",
        )
        for one, label in zip(made.truth.circuits, labels, strict=True)
    ]
    if made.feed:
        wires = tuple(Wire("black", "4", "lower bus", made.feed[0]) for _ in made.feed)
        seen.append(Sight(made.feed, "60 A, 2-pole", wires, "lower section"))
    return tuple(sorted(seen, key=lambda sight: sight.order))


def _handle(one: Circuit) -> str:
    return f"{one.breaker_a:g} A{', 2-pole' if one.poles == 2 else ''}"


def _jacket(one: Circuit) -> str:
    return "SE" if one.cable == "se" else ""


def _tape(one: Circuit) -> str:
    """The free length of its wires and where the cable comes in, where that was measured."""
    if one.free_in is None or one.enters_at_in is None:
        return ""
    return f"{one.free_in:g} in free, {one.enters} at {one.enters_at_in:g} in"


def _wires(one: Circuit, partner: Circuit | None) -> Iterator[Wire]:
    """The wires of its cable as somebody has landed them."""
    size = f"{one.gauge} aluminum" if one.metal == "al" else str(one.gauge)
    marks = one.marks
    first = partner is None or one.tag < partner.tag
    cable = one.spaces[0] if first or partner is None else partner.spaces[0]

    def wire(color: str, end: End) -> Wire:
        return Wire(color, size, end, cable)

    if Mark.CAPPED in marks:
        yield from (wire("black", "cap"), wire("white", "cap"), wire("bare", "ground bar"))
        return
    yield wire("black" if first else "red", "breaker")
    if Mark.DOUBLED in marks:
        yield wire("black", "breaker")
    if one.poles == 2:
        red = one.conductors == 3 or Mark.BARE_NEUTRAL in marks
        yield wire("white" if Mark.WHITE_HOT in marks else "red" if red else "white, black tape", "breaker")
        if Mark.BARE_NEUTRAL in marks:
            yield wire("bare", "neutral bar")
            return
        if one.conductors == 3:
            yield wire("white", "neutral bar")
    elif first:
        yield wire("black" if Mark.DARK_NEUTRAL in marks else "white", "neutral bar")
    if Mark.NO_GROUND not in marks and first:
        yield wire("bare", "ground bar")
