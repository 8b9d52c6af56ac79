"""The circuits of a practice panel: sound ones first, and the faults that can be hidden in them."""

from __future__ import annotations

from random import Random

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.spaces import leg_of

SINGLES = (
    ("kitchen counter", 20), ("bath receptacles", 20), ("laundry", 20), ("garage receptacles", 20), ("refrigerator", 20), ("dishwasher", 20),
    ("outdoor receptacles", 20), ("workshop", 20), ("bedroom lights", 15), ("living room", 15), ("hall lights", 15), ("dining room", 15),
    ("basement lights", 15), ("smoke alarms", 15), ("furnace", 15), ("porch lights", 15),
)  # fmt: skip
TWOS = (("range", 40, "8"), ("dryer", 30, "10"), ("water heater", 30, "10"), ("well pump", 20, "12"))
WIRE = {15: "14", 20: "12"}
NEXT_A = {15: 20.0, 20: 30.0}  # the breaker that somebody put in since the right one tripped
FREE_IN = (14, 40)  # free length of the wires, least and most
WIDTH_IN = 12  # of the enclosure, where cables come in at the top


class Panel(Struct):
    """A panel while its faults are put into it: its circuits by their tags, those that have a fault, and the spaces marked for tandems."""

    circuits: list[Circuit]
    tandem_spaces: tuple[int, ...]
    touched: set[int]


def sound(dice: Random, spaces: int, level: int, is_split: bool) -> tuple[Panel, tuple[str, ...]]:
    """Circuits with nothing wrong: two-poles at the top, then singles, a few spaces left open; and the spaces of the breaker that feeds the
    lower bus, where there is one. From level 4 on the wires are measured."""
    free = list(range(1, spaces + 1))
    made: list[Circuit] = []

    def pair() -> tuple[str, ...]:
        first = next(space for space in free if space + 2 in free)
        free.remove(first)
        free.remove(first + 2)
        return str(first), str(first + 2)

    for feeds, amps, gauge in dice.sample(TWOS, dice.randrange(1, 4)):
        made.append(_circuit(len(made) + 1, pair(), amps, 2, gauge, feeds, 3 if feeds in ("range", "dryer") else 2))
    feed = pair() if is_split else ()
    count = min(len(SINGLES), len(free) - dice.randrange(0, 3))
    for feeds, amps in dice.sample(SINGLES, max(4, count)):
        made.append(_circuit(len(made) + 1, (str(free.pop(0)),), amps, 1, WIRE[amps], feeds, 2))
    if level >= 4:
        made = [
            replace(
                one, free_in=float(dice.randint(*FREE_IN)), enters="top", enters_at_in=float(dice.randint(1, WIDTH_IN))
            )
            for one in made
        ]
    marked = tuple(range(spaces - 3, spaces + 1)) if level >= 3 else ()
    return Panel(made, marked, set()), feed


def _circuit(tag: int, spaces: tuple[str, ...], amps: int, poles: int, gauge: str, feeds: str, wires: int) -> Circuit:
    return Circuit(
        tag=tag,
        spaces=spaces,
        breaker_a=float(amps),
        poles=poles,
        gauge=gauge,
        cable="nm",
        conductors=3 if wires == 3 else 2,
        feeds=feeds,
    )


def hide(kind: str, panel: Panel, dice: Random) -> tuple[tuple[str, ...], int] | None:
    """Put a fault into circuits that have none yet: the spaces it is at, and the tag of the first; None where no circuit is fit for it."""
    fit = [circuit for circuit in panel.circuits if circuit.tag not in panel.touched and _fits(kind, circuit, panel)]
    dice.shuffle(fit)
    for one in fit:
        partner = None
        if kind in ("neutral_one_leg", "odd_tandem"):
            partner = next((two for two in fit if two.tag > one.tag and _pairs(kind, one, two)), None)
            if partner is None:
                continue
        changed = _changed(kind, one, partner)
        for made in changed:
            panel.circuits[made.tag - 1] = made
            panel.touched.add(made.tag)
        return tuple(space for made in changed for space in made.spaces), one.tag
    return None


def _fits(kind: str, one: Circuit, panel: Panel) -> bool:
    """Which circuits a fault can be in, as one finds it in houses."""
    if kind in ("bare_neutral", "bare_behind"):
        return one.feeds in ("range", "dryer")
    if kind == "white_hot":
        return one.poles == 2 and one.conductors == 2
    if kind == "odd_tandem" and int(one.spaces[0]) in panel.tandem_spaces:
        return False
    return one.poles == 1 and (kind != "aluminum" or one.gauge == "12")  # there is no smaller aluminum


def _pairs(kind: str, one: Circuit, two: Circuit) -> bool:
    """Whether two circuits can have a fault together: a neutral on one leg, or a space."""
    if kind == "odd_tandem":
        return True
    return leg_of(int(one.spaces[0])) == leg_of(int(two.spaces[0]))


def _changed(kind: str, one: Circuit, partner: Circuit | None) -> tuple[Circuit, ...]:
    """The circuit with the fault in it, and its partner where it has one."""
    if partner is not None and kind == "odd_tandem":
        space = one.spaces[0]
        return tuple(
            replace(each, spaces=(f"{space}{half}",), device="tandem") for each, half in ((one, "a"), (partner, "b"))
        )
    if partner is not None:
        return (
            replace(one, conductors=3, shares_neutral_with=partner.tag),
            replace(partner, conductors=3, shares_neutral_with=one.tag, gauge=one.gauge, breaker_a=one.breaker_a,
                    free_in=one.free_in, enters_at_in=one.enters_at_in),
        )  # fmt: skip
    if kind == "wire_on_breaker":
        return (replace(one, breaker_a=NEXT_A[int(one.breaker_a or 15)]),)
    if kind == "aluminum":
        return (replace(one, metal="al"),)
    if kind in ("bare_neutral", "bare_behind"):
        return (
            replace(one, conductors=2, cable="se" if kind == "bare_behind" else one.cable, marks=(Mark.BARE_NEUTRAL,)),
        )
    return (replace(one, marks=(Mark(kind.replace("_", "-")),)),)
