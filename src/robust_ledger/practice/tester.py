"""The simulated tester on a practice panel: between which points it was put, and what it shows. Readings follow from the legs, and from what is
connected to what."""

from __future__ import annotations

from collections.abc import Iterator
from random import Random

from msgspec import Struct

from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.spaces import leg_of, parse_position
from robust_ledger.practice.exercise import Exercise
from robust_ledger.practice.sights import Sight

LEG_V = (118.5, 122.5)  # least and most of a sound house
NEUTRAL_V = (0.1, 0.6)  # what a neutral's own current drops


class Shown(Struct, frozen=True):
    """A reading: from where to where, and the volts."""

    between: str
    volts: float

    @property
    def words(self) -> str:
        """What the tester shows."""
        return f"{self.between}: {self.volts:.1f} V"


def readings(made: Exercise, sight: Sight) -> tuple[Shown, ...]:
    """What the tester shows at a breaker that is on, with the panel live; the same each time."""
    dice = Random(f"tester/{made.code}/{sight.spaces[0]}")
    legs = {"A": dice.uniform(*LEG_V), "B": dice.uniform(*LEG_V)}
    one = next((c for c in made.truth.circuits if c.spaces == sight.spaces), None)
    return tuple(_of_feed(sight, legs) if one is None else _of_circuit(made, one, legs, dice))


def _of_feed(sight: Sight, legs: dict[str, float]) -> Iterator[Shown]:
    """The breaker that feeds the lower bus: off, it leaves the upper one live."""
    spaces = " and ".join(sight.spaces)
    yield Shown(f"lower bus to neutral bar, breaker {spaces} on", legs["A"])
    yield Shown(f"lower bus to neutral bar, breaker {spaces} off", 0.0)
    yield Shown(f"upper bus to neutral bar, breaker {spaces} off", legs["A"])


def _of_circuit(made: Exercise, one: Circuit, legs: dict[str, float], dice: Random) -> Iterator[Shown]:
    small = dice.uniform(*NEUTRAL_V)
    for space in one.spaces:
        yield Shown(f"breaker {space} to neutral bar", legs[_leg(space)])
    if one.poles == 2:
        volts = legs["A"] + legs["B"] if _leg(one.spaces[0]) != _leg(one.spaces[1]) else 0.0
        yield Shown(f"breaker {one.spaces[0]} to breaker {one.spaces[1]}", volts)
    if Mark.CAPPED in one.marks:
        yield Shown("black in the cap to ground bar", 0.0)
        return
    if Mark.WHITE_HOT in one.marks:
        yield Shown(f"white at {one.spaces[1]} to ground bar", legs[_leg(one.spaces[1])])
    if Mark.DARK_NEUTRAL in one.marks:
        yield Shown("black on the neutral bar to ground bar", small)
    if Mark.BARE_NEUTRAL in one.marks:
        yield Shown("bare on the neutral bar to the machine's frame", 0.0)
    if Mark.NO_GROUND in one.marks:
        yield Shown("breaker to the metal box at its end", 0.0)
    partner = made.truth.circuit(one.shares_neutral_with) if one.shares_neutral_with is not None else None
    if partner is not None:
        mine, other = _leg(one.spaces[0]), _leg(partner.spaces[0])
        yield Shown(
            f"breaker {one.spaces[0]} to breaker {partner.spaces[0]}", 0.0 if mine == other else legs["A"] + legs["B"]
        )


def _leg(space: str) -> str:
    position = parse_position(space)
    return leg_of(position[0]) if position else "A"
