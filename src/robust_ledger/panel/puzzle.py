"""From a planned job to the puzzle of arranging it: which places are lawful for which circuits, and what each costs."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from msgspec import Struct

from robust_ledger.branch.equipment import end_spaces
from robust_ledger.branch.model import Branch, Origin
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.changes import Wishes
from robust_ledger.job.spaces import below, covered, leg_of, parse_old, parse_position, row_of
from robust_ledger.panel.arrange import Item, Puzzle, Seat
from robust_ledger.panel.halves import halves_allowed
from robust_ledger.panel.reach import Wire

VOLTS = 120.0
BAND_PART = 0.02
INCHES_OF_A_ROW = 1.0


class Wanted(Struct, frozen=True):
    """What a puzzle is made of: the job, its circuits, their wires, the amperes each puts on a leg by the chosen basis, where they
    are now, and the height of the new enclosure's bottom, None where it is not known."""

    job: Job
    branches: Sequence[Branch]
    wires: Mapping[CircuitKey, Wire]
    amps: Mapping[CircuitKey, float]
    now: Mapping[CircuitKey, str]
    bottom_in: float | None = None
    withheld: str = ""  # why the best layouts are not told; "" where they are

    def pinned_at(self, key: CircuitKey) -> str:
        """Where a pinned circuit is held: the place it was fixed at, be it lawful or not."""
        return self.job.decisions.placements.get(key) or self.now.get(key, "")


def puzzle(wanted: Wanted) -> Puzzle:
    """Every lawful seat of every circuit that gets a space; pinned circuits have one."""
    job = wanted.job
    by_key = {b.key: b for b in wanted.branches if not b.off}
    lights_right = _lights_side(wanted)
    items, done = [], set()
    for branch in by_key.values():
        if branch.key in done:
            continue
        partner = by_key.get(branch.partner)
        group = (branch, partner) if partner is not None else (branch,)
        done |= {one.key for one in group}
        seats = tuple(_seats(wanted, group, lights_right))
        items.append(Item(name_of(branch), tuple(b.key for b in group), branch.origin is not Origin.FUTURE, seats))
    whole = sum(wanted.amps.get(b.key, 0.0) * b.poles for b in by_key.values() if b.origin is not Origin.FUTURE)
    band = max(job.decisions.wishes.band_a, BAND_PART * whole / 2)
    return Puzzle(job.panel.spaces, tuple(items), band)


def name_of(branch: Branch) -> str:
    """How a circuit is called in a sentence."""
    return f"tag {branch.tag}" if branch.tag != "new" else branch.feeds


def _seats(wanted: Wanted, group: tuple[Branch, ...], lights_right: bool) -> Iterator[Seat]:
    panel, placed = wanted.job.panel, wanted.job.decisions
    pins = {b.key: at for b in group if b.key in placed.pins and (at := wanted.pinned_at(b.key))}
    if len(group) == 2:
        for space in range(1, panel.spaces - 1):
            for first, second in (group, group[::-1]):
                made = _seat(wanted, ((first, str(space)), (second, str(below(space)))), lights_right)
                if _held(made, pins):
                    yield made
        return
    (branch,) = group
    held = end_spaces(branch, panel.spaces, panel.interior.main_at)
    for space in range(1, panel.spaces + 1):
        if covered(space, branch.poles)[-1] > panel.spaces or (held is not None and space not in held):
            continue
        made = _seat(wanted, ((branch, str(space)),), lights_right)
        if _held(made, pins):
            yield made
        if space in panel.tandem_spaces and halves_allowed(branch):
            for half in ("a", "b"):
                made = _seat(wanted, ((branch, f"{space}{half}"),), lights_right)
                if _held(made, pins):
                    yield made


def _held(seat: Seat, pins: Mapping[CircuitKey, str]) -> bool:
    return all(pins.get(key, position) == position for key, position in seat.positions)


def _seat(wanted: Wanted, placed: tuple[tuple[Branch, str], ...], lights_right: bool) -> Seat:
    covers: list[int] = []
    splices, tilt, wish, surplus, order = 0, 0.0, 0.0, 0.0, 0.0
    half = ""
    for branch, position in placed:
        space, half = parse_position(position) or (1, "")
        mine = covered(space, branch.poles)
        covers += mine
        reach = wanted.wires[branch.key].at(position)
        splices += reach.splices
        surplus += abs(reach.margin_in or 0.0)  # what is short anyway is to be short by little
        amps = 0.0 if branch.origin is Origin.FUTURE else wanted.amps.get(branch.key, 0.0)
        tilt += sum(amps if leg_of(one) == "A" else -amps for one in mine)
        moved = _moved(wanted, branch, space)
        order += moved
        wish += _wish(wanted, branch, mine, moved, lights_right)
        if before := parse_position(wanted.now.get(branch.key, "")):
            surplus += INCHES_OF_A_ROW * abs(row_of(before[0]) - row_of(space))
    return Seat(
        tuple((b.key, p) for b, p in placed),
        tuple(covers),
        half,
        splices,
        round(tilt, 2),
        wish,
        round(surplus, 2),
        order,
    )


def _moved(wanted: Wanted, branch: Branch, space: int) -> float:
    """How far an old circuit comes from its old place: rows, and two for the other side; nothing for a new one."""
    circuit = wanted.job.circuit(branch.origin_tag) if branch.origin_tag is not None else None
    old = parse_old(circuit.spaces[0]) if circuit and circuit.spaces else None
    if old is None:
        return 0.0
    return float(abs(row_of(old.space) - row_of(space)) + (2 if old.space % 2 != space % 2 else 0))


def _wish(wanted: Wanted, branch: Branch, spaces: list[int], moved: float, lights_right: bool) -> float:
    """Wishes weighed in whole steps. Reservations lie at the far end; who is heavy sits near the main; spares stay together when
    the rows near the main fill up first."""
    wishes: Wishes = wanted.job.decisions.wishes
    rows = (wanted.job.panel.spaces + 1) // 2
    at_bottom = wanted.job.panel.interior.main_at == "bottom"
    near = [rows - 1 - row_of(space) if at_bottom else row_of(space) for space in spaces]
    if branch.origin is Origin.FUTURE:
        return float(2 * sum(rows - 1 - distance for distance in near))
    cost = wishes.old_order * moved + wishes.spares_together * sum(near)
    cost += wishes.heavy_near_main * near[0] * min(4, int(wanted.amps.get(branch.key, 0.0) // 8))
    lit = branch.serves is not None and branch.serves.lights and not branch.serves.receptacles
    if lit and (spaces[0] % 2 == 0) != lights_right:
        cost += wishes.lights_together * 4
    return float(cost)


def _lights_side(wanted: Wanted) -> bool:
    """The side on which most lighting circuits were: there they are to be together."""
    right = left = 0
    for branch in wanted.branches:
        if branch.serves is None or not branch.serves.lights or branch.serves.receptacles or branch.origin_tag is None:
            continue
        circuit = wanted.job.circuit(branch.origin_tag)
        old = parse_old(circuit.spaces[0]) if circuit and circuit.spaces else None
        if old is not None:
            right, left = right + (old.space % 2 == 0), left + (old.space % 2)
    return right > left


def expected_amps(branches: Sequence[Branch]) -> dict[CircuitKey, float]:
    """What each circuit puts on a leg by the calculation [A per pole]; by breaker ratings as soon as one is not known."""
    if any(not b.expected.known for b in branches if not b.off):
        return handle_amps(branches)
    return {b.key: b.expected.amount / VOLTS / b.poles for b in branches if b.expected.known}


def handle_amps(branches: Sequence[Branch]) -> dict[CircuitKey, float]:
    """Breaker ratings, when nothing else is known."""
    return {b.key: b.breaker.amount if b.breaker.known and not b.off else 0.0 for b in branches}


def clamp_amps(job: Job, branches: Sequence[Branch]) -> dict[CircuitKey, float]:
    """The last clamp reading of each old circuit; nothing for those without one."""
    made = {}
    for branch in branches:
        circuits = [circuit for tag in branch.sources if (circuit := job.circuit(tag))]
        made[branch.key] = sum(circuit.clamp_a or 0.0 for circuit in circuits)
    return made
