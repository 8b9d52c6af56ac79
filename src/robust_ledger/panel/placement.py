"""Where each circuit goes in the new panel: fixed placements first, the rest dealt out evenly over the legs.

A plain method: 2-pole circuits and shared-neutral pairs from the top down; futures keep adjacent spaces at the very
bottom, as long as the circuits of today have room; then single circuits, heaviest first, to the lighter leg among the
topmost free spaces, so that spares stay together. Tandems are used only in marked spaces and only when the panel is
too small without them.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from msgspec import Struct, field

from robust_ledger.branch.equipment import end_spaces
from robust_ledger.branch.model import Branch, Origin
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.panels import NewPanel
from robust_ledger.job.spaces import below, covered, leg_of, parse_position, shown
from robust_ledger.panel.halves import halves_allowed


class Placement(Struct):
    """The result: circuit key → position ("7", "7a"), who waits and why, and fixed placements that do not hold."""

    positions: dict[CircuitKey, str] = field(default_factory=dict)
    waiting: list[CircuitKey] = field(default_factory=list)
    refused: dict[CircuitKey, str] = field(default_factory=dict)


class Dealer:
    """Keeps who sits where while circuits are dealt out."""

    def __init__(self, panel: NewPanel, weights: dict[str, float], sides: Mapping[CircuitKey, bool]) -> None:
        self.panel, self.sides = panel, sides
        self.seats: dict[str, str] = {}
        self.result = Placement()
        self.leg_weight = {"A": 0.0, "B": 0.0}
        self.weights = weights

    def free(self, space: int, half: str = "") -> bool:
        """Whether a whole space, or one half of a tandem, is inside the panel and empty."""
        seats = self.seats
        if not 1 <= space <= self.panel.spaces or str(space) in seats:
            return False
        if half:
            return f"{space}{half}" not in seats
        return f"{space}a" not in seats and f"{space}b" not in seats

    def why_not(self, branch: Branch, position: str) -> str:
        """Why a circuit cannot sit at a position; "" when it can."""
        where = parse_position(position)
        if where is None:
            return f'"{position}" is no space'
        space, half = where
        held = end_spaces(branch, self.panel.spaces, self.panel.interior.main_at)
        if held is not None and space not in held:
            return f"it belongs {'beside the main' if branch.end == 'near' else 'at the far end of the bus'}"
        if half and space not in self.panel.tandem_spaces:
            return f"space {self.number(space)} is not marked for a tandem"
        if half and branch.poles > 1:
            return "a 2-pole does not fit half a space"
        if half and branch.to_device:
            return f"{branch.device} breakers do not fit half a space"
        for one in covered(space, branch.poles):
            if not 1 <= one <= self.panel.spaces:
                return (
                    f"space {self.number(one)} is not in the panel"
                    if branch.poles == 1
                    else f"a 2-pole at {self.number(space)} would need space {self.number(one)}"
                )
            if not self.free(one, half):
                return f"space {self.number(one, half)} is taken"
        return ""

    def number(self, space: int, half: str = "") -> str:
        """A space as the panel is marked."""
        return shown(f"{space}{half}", self.panel.numbering, self.panel.spaces)

    def seat(self, branch: Branch, space: int, half: str = "") -> None:
        """Put a circuit on its spaces."""
        for one in covered(space, branch.poles):
            self.seats[f"{one}{half}"] = branch.key
        self.result.positions[branch.key] = f"{space}{half}"
        if branch.poles == 1 and branch.origin is not Origin.FUTURE:
            self.leg_weight[leg_of(space)] += self.weights[branch.key]

    def top_free_pair(self, key: CircuitKey) -> int | None:
        """The topmost space whose lower neighbor is free too, on the side where the wires are; left before right."""
        topmost: int | None = None
        for space in range(1, self.panel.spaces + 1):
            if self.free(space) and self.free(below(space)):
                if self.own_side(key, space):
                    return space
                topmost = topmost or space
        return topmost

    def own_side(self, key: CircuitKey, space: int) -> bool:
        """Whether a space is on the side where a circuit's wires come in; new cables are at home on both."""
        return key not in self.sides or self.sides[key] == (space % 2 == 0)


def place_branches(
    branches: list[Branch],
    panel: NewPanel,
    fixed: dict[CircuitKey, str],
    sides: Mapping[CircuitKey, bool] | None = None,
) -> Placement:
    """Place every circuit that needs a space, on the side where its wires come in as far as that goes: `sides` says of a key
    whether that is the right one. Fixed placements are never moved or dropped in silence: one that does not hold makes its
    circuit wait, and is in `refused` with the reason."""
    active = [b for b in branches if not b.off]
    dealer = Dealer(panel, weigh(active), sides or {})
    by_key = {b.key: b for b in active}
    for key, position in fixed.items():
        if branch := by_key.get(key):
            if reason := dealer.why_not(branch, position) or _claimed(branch, position, fixed, by_key):
                dealer.result.refused[key] = reason
            else:
                space, half = parse_position(position) or (0, "")
                dealer.seat(branch, space, half)
    open_ = [b for b in active if b.key not in fixed]
    _deal_doubles(dealer, [b for b in open_ if b.origin is not Origin.FUTURE], by_key)
    singles = [b for b in open_ if b.origin is not Origin.FUTURE and b.key not in dealer.result.positions]
    _deal_futures(dealer, [b for b in open_ if b.origin is Origin.FUTURE], sum(b.poles == 1 for b in singles))
    _deal_singles(dealer, singles)
    dealer.result.waiting = [b.key for b in active if b.key not in dealer.result.positions]
    return dealer.result


def _claimed(branch: Branch, position: str, fixed: dict[CircuitKey, str], by_key: dict[CircuitKey, Branch]) -> str:
    """Why a circuit that has grown to two poles must wait: its second space is where another one was fixed."""
    space, _ = parse_position(position) or (0, "")
    for other, where in fixed.items():
        seat = parse_position(where)
        if other != branch.key and other in by_key and seat and seat[0] in covered(space, branch.poles)[1:]:
            return f"space {seat[0]} is taken"
    return ""


def weigh(branches: list[Branch]) -> dict[str, float]:
    """What to balance by: expected volt-amperes, or breaker ratings as soon as one expectation is unknown."""
    if all(b.expected.known for b in branches):
        return {b.key: b.expected.amount for b in branches}
    return {b.key: b.breaker.amount if b.breaker.known else 0.0 for b in branches}


def _deal_doubles(dealer: Dealer, open_: list[Branch], by_key: dict[CircuitKey, Branch]) -> None:
    """2-poles and shared-neutral pairs, heaviest first; of a pair the heavier half goes to the lighter leg."""
    doubles: list[tuple[float, list[Branch]]] = []
    for branch in open_:
        if branch.poles == 2:
            doubles.append((dealer.weights[branch.key], [branch]))
        elif branch.partner and branch.partner in by_key:
            partner = by_key[branch.partner]
            if partner in open_ and branch.key < partner.key:
                doubles.append((dealer.weights[branch.key] + dealer.weights[partner.key], [branch, partner]))
            elif partner not in open_:
                _seat_beside(dealer, branch, partner)
    for _, group in sorted(doubles, key=lambda d: (not d[1][0].end, -d[0])):
        held = end_spaces(group[0], dealer.panel.spaces, dealer.panel.interior.main_at)
        if held is not None:
            space = next((s for s in held if dealer.free(s) and dealer.free(below(s))), None)
        else:
            space = dealer.top_free_pair(group[0].key)
        if space is None:
            continue
        if len(group) == 1:
            dealer.seat(group[0], space)
            continue
        light = min(dealer.leg_weight, key=lambda leg: (dealer.leg_weight[leg], leg))
        heavy_first = leg_of(space) == light
        first, second = sorted(group, key=lambda b: dealer.weights[b.key], reverse=heavy_first)
        dealer.seat(first, space)
        dealer.seat(second, below(space))


def _seat_beside(dealer: Dealer, branch: Branch, partner: Branch) -> None:
    """Next to a partner that is fixed already, if a neighboring space is free."""
    where = parse_position(dealer.result.positions.get(partner.key, ""))
    if where:
        for space in (below(where[0]), where[0] - 2):
            if dealer.free(space):
                dealer.seat(branch, space)
                return


def _deal_singles(dealer: Dealer, singles: list[Branch]) -> None:
    """Single circuits: how many spaces they take is fixed first, then the heaviest goes to the lighter leg.

    A shared-neutral circuit that found no place beside its partner waits; it is not put just anywhere.
    """
    singles = [b for b in singles if b.poles == 1 and not b.partner]
    free = [s for s in range(1, dealer.panel.spaces + 1) if dealer.free(s)]
    tandems = [s for s in free if s in dealer.panel.tandem_spaces]
    doubled = tandems[-max(0, len(singles) - len(free)) :] if len(singles) > len(free) else []
    slots = [(s, "") for s in free if s not in doubled][: len(singles)]
    slots += [(s, half) for s in doubled for half in ("a", "b")]
    chosen: dict[str, list[Branch]] = {"A": [], "B": []}
    room = {leg: sum(1 for s, _ in slots if leg_of(s) == leg) for leg in ("A", "B")}
    totals = dict(dealer.leg_weight)
    for branch in sorted(singles, key=lambda b: (-dealer.weights[b.key], b.key)):
        legs = [leg for leg in ("A", "B") if len(chosen[leg]) < room[leg]]
        if not legs:
            continue
        leg = min(legs, key=lambda name: (totals[name], name))
        chosen[leg].append(branch)
        totals[leg] += dealer.weights[branch.key]
    _even_out(chosen, totals, dealer.weights)
    order = {b.key: n for n, b in enumerate(singles)}
    for leg, picked in chosen.items():
        picked.sort(key=lambda b: (bool(doubled) and halves_allowed(b), order[b.key]))
        for branch, (space, half) in _own_sides_first(dealer, picked, [x for x in slots if leg_of(x[0]) == leg]):
            if not half or halves_allowed(branch):
                dealer.seat(branch, space, half)


def _own_sides_first(
    dealer: Dealer, picked: list[Branch], slots: list[tuple[int, str]]
) -> Iterator[tuple[Branch, tuple[int, str]]]:
    """Each circuit the topmost slot on the side of its wires; who finds none there, and new cables, take what is left."""
    left, others = list(slots), []
    for branch in picked:
        mine = next((slot for slot in left if dealer.own_side(branch.key, slot[0])), None)
        if branch.key not in dealer.sides or mine is None:
            others.append(branch)
        else:
            left.remove(mine)
            yield branch, mine
    yield from zip(others, left, strict=False)


def _even_out(chosen: dict[str, list[Branch]], totals: dict[str, float], weights: dict[str, float]) -> None:
    """Exchange single circuits between the legs as long as that brings them closer together."""
    while True:
        gap = totals["A"] - totals["B"]
        swaps = [
            (abs(gap - 2 * (weights[a.key] - weights[b.key])), i, j)
            for i, a in enumerate(chosen["A"])
            for j, b in enumerate(chosen["B"])
        ]
        best = min(swaps, default=None)
        if best is None or best[0] >= abs(gap) - 1e-6:
            return
        _, i, j = best
        moved = weights[chosen["A"][i].key] - weights[chosen["B"][j].key]
        chosen["A"][i], chosen["B"][j] = chosen["B"][j], chosen["A"][i]
        totals["A"], totals["B"] = totals["A"] - moved, totals["B"] + moved


def _deal_futures(dealer: Dealer, futures: list[Branch], singles: int) -> None:
    """Futures take the lowest free spaces, adjacent ones for a 2-pole, as long as that leaves room for the single
    circuits of today."""
    for branch in futures:
        free = [s for s in range(1, dealer.panel.spaces + 1) if dealer.free(s)]
        if len(free) - branch.poles < singles:
            continue
        fitting = [s for s in free if all(dealer.free(one) for one in covered(s, branch.poles))]
        if fitting:
            dealer.seat(branch, fitting[-1])
