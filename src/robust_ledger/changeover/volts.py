"""Judging the voltages of a service, 120/240 V or two legs of a 208Y/120 V wye: what they say is wrong, why, and what is done about it."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct

from robust_ledger.job.parts.record import Point, Volts
from robust_ledger.ledger.entry import Severity
from robust_ledger.ledger.text import number_text

LEG_V, PAIR_V = (114.0, 126.0), (228.0, 252.0)  # five parts of a hundred about 120 and 240 V, where a service belongs
WYE_V = (197.0, 219.0)  # leg to leg of a 208Y/120 V supply, likewise
DEAD_V = 1.0  # below it nothing is there
GONE_V = 30.0  # a leg that shows less is lost; what it shows is a ghost
UNEQUAL_V = 4.0  # between two legs, before a loose neutral is thought of
NEUTRAL_GROUND_V = 2.0  # at the service, where the two are one
ADDS_UP = 0.03  # part of leg to leg by which the legs may miss it
MOVES_V = 3.0  # by which legs drift apart under load, when the neutral is loose

POINT_WORDS: dict[Point, str] = {"line": "line side of the meter", "load": "load side of the meter", "panel": "panel"}
KINDS = (
    "good", "dead", "not measured", "backfeed", "ghost", "lost leg", "one leg twice", "reversed", "208Y", "120/240", "open neutral", "uneven",
    "high", "low", "neutral to ground",
)  # fmt: skip


Band = tuple[float, float]
Shown = tuple[float, float, float]  # leg to leg, leg A and leg B to neutral [V]


class Judgement(Struct, frozen=True):
    """What readings at a point mean. `kind`: one of KINDS; `reason`: the figures it rests on; `do`: what comes next."""

    kind: str
    severity: Severity | None
    words: str
    reason: str = ""
    do: str = ""

    @property
    def good(self) -> bool:
        """Whether nothing is wrong."""
        return self.severity is None


def judged(of: Volts, unloaded: Volts | None = None, supply: str = "120/240") -> Judgement:
    """Judge what was measured at a point; `unloaded`: what was measured there before with nothing on, where this is with a load; `supply`: what
    the house is said to have, "120/240" or "208Y/120"."""
    ab, a, b, ng = of.leg_to_leg, of.a_to_neutral, of.b_to_neutral, of.neutral_to_ground
    if of.main_open and of.point == "panel":
        return _open_main(of)
    if ab is None or a is None or b is None:
        lacking = [n for n, v in (("leg to leg", ab), ("leg A to neutral", a), ("leg B to neutral", b)) if v is None]
        return Judgement(
            "not measured", Severity.ASK, "Not all is measured", f"without {', '.join(lacking)}", "Measure it."
        )
    if max(ab, a, b) < DEAD_V:
        return Judgement("dead", Severity.ASK, "No voltage", _figures(of), "Nothing is connected here yet.")
    pair = PAIR_V if supply == "120/240" else WYE_V
    for rule in (_lost, _reversed, _other_supply, _neutral):
        if (found := rule(of, (ab, a, b), pair, unloaded)) is not None:
            return found
    return _band(of, (ab, a, b), pair, ng)


def _open_main(of: Volts) -> Judgement:
    """Behind an open main nothing may be: what is there comes from elsewhere, or is none."""
    shown = [v for v in (of.leg_to_leg, of.a_to_neutral, of.b_to_neutral) if v is not None]
    if len(shown) < 3:
        return Judgement(
            "not measured",
            Severity.ASK,
            "Not all is measured",
            _figures(of),
            "Measure leg to leg and each leg to neutral.",
        )
    if max(shown) < DEAD_V:
        return Judgement("dead", None, "Dead behind the open main", _figures(of))
    if of.low_z is not True:
        return Judgement(
            "ghost",
            Severity.STOP,
            "A ghost, or a backfeed",
            f"{_figures(of)} with the main open, by a tester of high or unknown impedance",
            "Treat it as live; measure again with a low-impedance tester.",
        )
    if max(shown) < DEAD_V * 10:
        return Judgement(
            "dead", None, "Dead behind the open main", f"{_figures(of)} by a low-impedance tester: nothing that feeds"
        )
    return Judgement(
        "backfeed",
        Severity.STOP,
        "Something feeds the panel from behind",
        f"{_figures(of)} with the main open, by a low-impedance tester",
        "Find the generator, inverter, battery or neighbor's circuit, and open it, before anybody touches a conductor.",
    )


def _lost(of: Volts, shown: Shown, pair: Band, unloaded: Volts | None) -> Judgement | None:
    """A leg that does not come, or comes through a 240 V load."""
    ab, a, b = shown
    least, most = min(a, b), max(a, b)
    name = "A" if a < b else "B"
    if least < GONE_V and LEG_V[0] * 0.9 <= most <= pair[0] / 1.5:
        if ab > pair[0]:
            return None
        return Judgement(
            "lost leg",
            Severity.STOP,
            f"Leg {name} is lost",
            f"leg {name} shows {least:g} V, the other {most:g} V",
            "Call the utility; look at that leg's fuse, jaw and lug first.",
        )
    if least > GONE_V and _leg(most) and GONE_V <= ab < 0.9 * most and abs(ab + least - most) <= ADDS_UP * most:
        return Judgement(
            "lost leg",
            Severity.STOP,
            f"Leg {name} is lost and comes back through a load",
            f"leg {name} {least:g} V and leg to leg {ab:g} V make up the {most:g} V of the other leg",
            "Call the utility; look at that leg's fuse, jaw and lug first.",
        )
    if ab < GONE_V and least > GONE_V:
        if abs(a - b) <= UNEQUAL_V and of.loaded is False:
            return Judgement(
                "one leg twice",
                Severity.STOP,
                "Both conductors are on one leg",
                f"{_figures(of)} with nothing switched on",
                "The two hots come from the same leg of the transformer; have one moved.",
            )
        return Judgement(
            "lost leg",
            Severity.STOP,
            "A leg is lost and comes back through a 240 V load",
            _figures(of),
            "Open every two-pole breaker and measure again; should it stay, both hots are on one leg.",
        )
    return None


def _reversed(of: Volts, shown: Shown, pair: Band, unloaded: Volts | None) -> Judgement | None:
    """A hot where the neutral belongs: one leg shows 240 V to it, and leg to leg shows 120 V."""
    ab, a, b = shown
    for name, high, other in (("A", a, b), ("B", b, a)):
        if pair[0] * 0.95 <= high <= pair[1] * 1.05 and _leg(other) and _leg(ab):
            wrong = "B" if name == "A" else "A"
            return Judgement(
                "reversed",
                Severity.STOP,
                f"Neutral and the conductor of leg {wrong} are reversed",
                f"leg {name} shows {high:g} V to neutral and {ab:g} V to the other leg",
                "Open it at the utility's side and land it right.",
            )
    return None


def _leg(volts: float) -> bool:
    return LEG_V[0] * 0.95 <= volts <= LEG_V[1] * 1.05


def _other_supply(of: Volts, shown: Shown, pair: Band, unloaded: Volts | None) -> Judgement | None:
    """Two legs of a three-phase supply where the house is said to have a single-phase one, or the other way round: sound legs tell them apart, as
    those of a wye do not add up to leg to leg."""
    ab, a, b = shown
    if not _leg(a) or not _leg(b):
        return None
    figures, adds_up = f"{ab:g} V leg to leg with {a:g} and {b:g} V to neutral", a + b - ab <= 0.08 * ab
    if pair == PAIR_V and WYE_V[0] <= ab <= WYE_V[1] and not adds_up:
        do = "Enter the supply on the House page; heaters and motors for 240 V get less: see that every one is rated for 208 V."
        return Judgement("208Y", Severity.FIX, "A 208Y/120 V supply", figures, do)
    if pair == WYE_V and PAIR_V[0] <= ab <= PAIR_V[1] and adds_up:
        do = "Enter the supply on the House page: the load was calculated for two legs of a wye."
        return Judgement("120/240", Severity.FIX, "A 120/240 V supply", figures, do)
    return None


def _neutral(of: Volts, shown: Shown, pair: Band, unloaded: Volts | None) -> Judgement | None:
    """Legs that differ and yet add up to leg to leg: the neutral floats between them."""
    ab, a, b = shown
    if not pair[0] <= ab <= pair[1] or abs(a + b - ab) > ADDS_UP * ab:
        return None
    apart = abs(a - b)
    one_out = not LEG_V[0] <= a <= LEG_V[1] or not LEG_V[0] <= b <= LEG_V[1]
    before = _apart(unloaded)
    moved = before is not None and of.loaded is True and apart - before >= MOVES_V
    if (one_out and apart > UNEQUAL_V) or moved:
        under = f"; {before:g} V apart without a load" if before is not None and moved else ""
        return Judgement(
            "open neutral",
            Severity.STOP,
            "The neutral is open or loose",
            f"{a:g} and {b:g} V add up to {ab:g} V and are {apart:g} V apart{under}",
            "Open the main now: it destroys what is plugged in. Look at the neutral from the drop to the bar.",
        )
    if apart > UNEQUAL_V:
        return Judgement(
            "uneven",
            Severity.ASK,
            "The legs are uneven",
            f"{apart:g} V apart, both in band",
            "Put a load on one leg and measure again: a loose neutral drifts further apart.",
        )
    return None


def _apart(of: Volts | None) -> float | None:
    if of is None or of.a_to_neutral is None or of.b_to_neutral is None:
        return None
    return round(abs(of.a_to_neutral - of.b_to_neutral), 1)


def _band(of: Volts, shown: Shown, pair: Band, ng: float | None) -> Judgement:
    ab, a, b = shown
    out = [
        f"{name} {value:g} V is not {band[0]:g} to {band[1]:g} V"
        for name, value, band in (("leg to leg", ab, pair), ("leg A", a, LEG_V), ("leg B", b, LEG_V))
        if not band[0] <= value <= band[1]
    ]
    if out:
        high = sum(v > band[1] for v, band in ((ab, pair), (a, LEG_V), (b, LEG_V)))
        kind = "high" if high else "low"
        return Judgement(
            kind,
            Severity.FIX,
            f"The voltage is too {kind}",
            "; ".join(out),
            "Measure again at the line side of the meter; should it stay, it is for the utility.",
        )
    if ng is not None and ng > NEUTRAL_GROUND_V:
        return Judgement(
            "neutral to ground",
            Severity.FIX,
            "Voltage between neutral and ground",
            f"{ng:g} V, {NEUTRAL_GROUND_V:g} V at the most",
            "Look at the bonding screw or strap, and at the neutral's lugs.",
        )
    if ng is None and of.point == "panel":
        return Judgement("not measured", Severity.ASK, "Neutral to ground is not measured", _figures(of), "Measure it.")
    return Judgement("good", None, "In band", _figures(of))


def _figures(of: Volts) -> str:
    named = (
        ("leg to leg", of.leg_to_leg),
        ("A", of.a_to_neutral),
        ("B", of.b_to_neutral),
        ("neutral to ground", of.neutral_to_ground),
    )
    return ", ".join(f"{name} {number_text(value, 1)} V" for name, value in named if value is not None)


def at_point(readings: Iterable[Volts], point: Point, main_open: bool | None = None) -> Volts | None:
    """The last that was measured at a point; where the main's state matters, of those that say it."""
    mine = [
        reading
        for reading in readings
        if reading.point == point and (main_open is None or reading.main_open is main_open)
    ]
    return mine[-1] if mine else None


def judged_at(
    readings: Iterable[Volts], point: Point, main_open: bool | None = None, supply: str = "120/240"
) -> Judgement:
    """The judgement of the last readings at a point, against those before without a load; `supply` as in `judged`."""
    some = list(readings)
    last = at_point(some, point, main_open)
    if last is None:
        return Judgement("not measured", Severity.ASK, "Not measured", "", "Measure it.")
    before = [one for one in some if one.point == point and one.loaded is False and one is not last]
    return judged(last, before[-1] if before else None, supply)
