"""A made-up old panel with hidden faults, from its code: the truth as a job, the faults in it, and the empty job that the learner fills."""

from __future__ import annotations

from random import Random

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job, blank_job
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.spaces import leg_of
from robust_ledger.practice.codes import PRACTICE_VERSION, Code
from robust_ledger.practice.faults import fault_kinds

SINGLES = (
    ("kitchen counter", 20), ("bath receptacles", 20), ("laundry", 20), ("garage receptacles", 20), ("refrigerator", 20), ("dishwasher", 20),
    ("outdoor receptacles", 20), ("workshop", 20), ("bedroom lights", 15), ("living room", 15), ("hall lights", 15), ("dining room", 15),
    ("basement lights", 15), ("smoke alarms", 15), ("furnace", 15), ("porch lights", 15),
)  # fmt: skip
TWOS = (("range", 40, "8"), ("dryer", 30, "10"), ("water heater", 30, "10"), ("well pump", 20, "12"))
WIRE = {15: "14", 20: "12"}
NEXT_A = {15: 20.0, 20: 30.0}  # the breaker that somebody put in since the right one tripped
SPACES = (12, 16, 20, 24)


class Planted(Struct, frozen=True):
    """A fault that was hidden: its kind, the spaces it is at, and the circuit's tag in the truth."""

    kind: str
    spaces: tuple[str, ...]
    tag: int

    @property
    def finding_id(self) -> str:
        """The finding that the plan of the truth has for it."""
        return f"{fault_kinds()[self.kind].finding}:tag:{self.tag}"


class Exercise(Struct, frozen=True):
    """A practice panel. `truth`: the job of whoever called everything out truly; `planted`: the faults in it; `start`: the learner's job."""

    code: Code
    truth: Job
    planted: tuple[Planted, ...]
    start: Job


def exercise(code: Code) -> Exercise:
    """The panel of a code, always the same one."""
    dice = Random(f"{PRACTICE_VERSION}/{code.level}/{code.seed}")
    spaces = dice.choice(SPACES)
    circuits = _sound(dice, spaces)
    wanted = [key for key, kind in fault_kinds().items() if kind.level <= code.level]
    newest = [key for key in wanted if fault_kinds()[key].level == code.level]
    chosen = [dice.choice(newest), *(dice.choice(wanted) for _ in range(dice.randrange(1, 2 + code.level)))]
    planted: list[Planted] = []
    touched: set[int] = set()
    for kind in chosen:
        made = _hide(kind, circuits, touched, dice)
        if made is not None:
            planted.append(made)
    if not planted and (last := _hide("wire_on_breaker", circuits, touched, dice)) is not None:
        planted.append(last)
    start = with_part(blank_job(), "heading", title=f"Practice {code}")
    start = with_part(start, "old_panel", spaces=spaces, main_a=100.0)
    truth = replace(start, circuits=tuple(circuits))
    return Exercise(code, truth, tuple(sorted(planted, key=lambda one: one.tag)), start)


def _sound(dice: Random, spaces: int) -> list[Circuit]:
    """Circuits with nothing wrong: two-poles at the top, then singles, a few spaces left open."""
    free = list(range(1, spaces + 1))
    made: list[Circuit] = []
    for feeds, amps, gauge in dice.sample(TWOS, dice.randrange(1, 4)):
        first = next((space for space in free if space + 2 in free), None)
        if first is None:
            break
        free = [space for space in free if space not in (first, first + 2)]
        here = (str(first), str(first + 2))
        made.append(_circuit(len(made) + 1, here, amps, 2, gauge, feeds, 3 if feeds in ("range", "dryer") else 2))
    count = min(len(SINGLES), len(free) - dice.randrange(0, 3))
    for feeds, amps in dice.sample(SINGLES, max(4, count)):
        made.append(_circuit(len(made) + 1, (str(free.pop(0)),), amps, 1, WIRE[amps], feeds, 2))
    return made


def _circuit(tag: int, spaces: tuple[str, ...], amps: int, poles: int, gauge: str, feeds: str, wires: int) -> Circuit:
    return Circuit(
        tag=tag, spaces=spaces, breaker_a=float(amps), poles=poles, gauge=gauge, cable="nm", conductors=3 if wires == 3 else 2, feeds=feeds
    )  # fmt: skip


def _hide(kind: str, circuits: list[Circuit], touched: set[int], dice: Random) -> Planted | None:
    """Put a fault into a circuit that has none yet; None where no circuit is fit for it."""
    fit = [one for one in circuits if one.tag not in touched and _fits(kind, one)]
    dice.shuffle(fit)
    for one in fit:
        partner = None
        if kind == "neutral_one_leg":
            partner = next((two for two in fit if two.tag > one.tag and _leg(two) == _leg(one)), None)
            if partner is None:
                continue
        for changed in _changed(kind, one, partner):
            circuits[changed.tag - 1] = changed
            touched.add(changed.tag)
        return Planted(kind, one.spaces + (partner.spaces if partner is not None else ()), one.tag)
    return None


def _fits(kind: str, one: Circuit) -> bool:
    """Which circuits a fault can be in, as one finds it in houses."""
    if kind == "bare_neutral":
        return one.feeds in ("range", "dryer")
    if kind == "white_hot":
        return one.poles == 2 and one.conductors == 2
    return one.poles == 1 and (kind != "aluminum" or one.gauge == "12")  # there is no smaller aluminum


def _changed(kind: str, one: Circuit, partner: Circuit | None) -> tuple[Circuit, ...]:
    """The circuit with the fault in it, and its partner where it has one."""
    if kind == "wire_on_breaker":
        return (replace(one, breaker_a=NEXT_A[int(one.breaker_a or 15)]),)
    if kind == "aluminum":
        return (replace(one, metal="al"),)
    if kind == "neutral_one_leg" and partner is not None:
        return (
            replace(one, conductors=3, shares_neutral_with=partner.tag),
            replace(partner, conductors=3, shares_neutral_with=one.tag, gauge=one.gauge, breaker_a=one.breaker_a),
        )
    if kind == "bare_neutral":
        return (replace(one, conductors=2, marks=(Mark.BARE_NEUTRAL,)),)
    return (replace(one, marks=(Mark(kind.replace("_", "-")),)),)


def _leg(one: Circuit) -> str:
    return leg_of(int(one.spaces[0]))
