"""When not everything fits: the smallest set of demands that cannot hold together, and how to make room for too many circuits."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from itertools import combinations

from msgspec import Struct

from robust_ledger.branch.equipment import end_spaces
from robust_ledger.branch.model import Branch, Origin
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.spaces import below, covered, parse_position, shown
from robust_ledger.ledger.text import is_whole
from robust_ledger.panel.arrange import INFEASIBLE, TIME_LIMIT_S
from robust_ledger.panel.counting import PANEL_SIZES
from robust_ledger.panel.halves import halves_allowed
from robust_ledger.panel.puzzle import name_of


class Demand(Struct, frozen=True):
    """One wish that may be dropped to see whether the rest holds."""

    words: str
    kind: str
    keys: tuple[CircuitKey, ...]
    position: str = ""


def demands(job: Job, branches: Sequence[Branch], now: dict[CircuitKey, str]) -> list[Demand]:
    """Pins, and pairs that share a neutral."""
    by_key = {b.key: b for b in branches if not b.off}
    made = [
        Demand(
            f"{name_of(by_key[key])} pinned to {shown(now[key], job.panel.numbering, job.panel.spaces)}",
            "pin",
            (key,),
            now[key],
        )
        for key in job.decisions.pins
        if key in by_key and now.get(key)
    ]
    for branch in by_key.values():
        if branch.partner in by_key and branch.key < branch.partner:
            names = f"{name_of(branch)} and {name_of(by_key[branch.partner])}"
            made.append(Demand(f"{names} one above the other", "pair", (branch.key, branch.partner)))
    return made


def smallest_conflict(job: Job, branches: Sequence[Branch], wanted: Sequence[Demand]) -> tuple[str, ...]:
    """The smallest set of demands that cannot hold together with every circuit of this job in the panel; empty when all of them
    can, or when the circuits do not fit even without them.

    Implicit hitting sets: a smallest set that meets every correction found so far is tried; if it can hold, what has to be
    given up for it is one more correction; if it cannot, it is the answer.
    """
    if not wanted or _holds(job, branches, wanted) or not _holds(job, branches, ()):
        return ()
    corrections: list[frozenset[int]] = []
    while True:
        tried = _smallest_hitting(corrections, len(wanted))
        kept = [wanted[n] for n in tried]
        if not _holds(job, branches, kept):
            return tuple(demand.words for demand in kept)
        grown = set(tried)
        for n in range(len(wanted)):
            if n not in grown and _holds(job, branches, [wanted[m] for m in sorted(grown | {n})]):
                grown.add(n)
        corrections.append(frozenset(range(len(wanted))) - grown)


def _smallest_hitting(sets: Sequence[frozenset[int]], count: int) -> tuple[int, ...]:
    members = sorted(set().union(*sets)) if sets else []
    for size in range(count + 1):
        for chosen in combinations(members, size):
            if all(one & set(chosen) for one in sets):
                return chosen
    return tuple(range(count))


def _holds(job: Job, branches: Sequence[Branch], kept: Iterable[Demand]) -> bool:
    """Whether every circuit of this job finds a place with these demands held: one small program without any cost."""
    import numpy as np
    from scipy.optimize import Bounds, LinearConstraint, milp
    from scipy.sparse import csr_matrix

    kept = list(kept)
    pins = {demand.keys[0]: demand.position for demand in kept if demand.kind == "pin"}
    active = [b for b in branches if not b.off and b.origin is not Origin.FUTURE]
    columns: list[tuple[str, str, tuple[str, ...]]] = []
    for branch in active:
        for position in _positions(job, branch):
            if pins.get(branch.key, position) == position:
                space, half = parse_position(position) or (1, "")
                columns.append((branch.key, position, tuple(_covers(space, half, branch.poles))))
    rows: list[tuple[dict[int, float], float, float]] = []
    for branch in active:
        rows.append(({n: 1.0 for n, one in enumerate(columns) if one[0] == branch.key}, 1.0, 1.0))
    spots = sorted({spot for _, _, covers in columns for spot in covers})
    rows += [({n: 1.0 for n, one in enumerate(columns) if spot in one[2]}, 0.0, 1.0) for spot in spots]
    for demand in kept:
        if demand.kind == "pair":
            rows += _together(columns, demand.keys)
    if any(not row and low > 0 for row, low, _ in rows):
        return False
    data = [(value, r, c) for r, (row, _, _) in enumerate(rows) for c, value in row.items()]
    if not data:
        return True
    values, at_row, at_column = zip(*data, strict=True)
    matrix = csr_matrix((values, (at_row, at_column)), shape=(len(rows), len(columns)))
    low, high = np.array([row[1] for row in rows]), np.array([row[2] for row in rows])
    size = len(columns)
    result = milp(
        np.zeros(size),
        integrality=np.ones(size),
        bounds=Bounds(0, 1),
        constraints=[LinearConstraint(matrix, low, high)],
        options={"time_limit": TIME_LIMIT_S},
    )
    return bool(result.status != INFEASIBLE)  # only what is proven counts against a demand


def _together(
    columns: Sequence[tuple[str, str, tuple[str, ...]]], keys: tuple[CircuitKey, ...]
) -> list[tuple[dict[int, float], float, float]]:
    """If the first of a pair sits in a space, the second sits just above or below it; half a tandem is no place for either."""
    first, second = keys
    where = {position: n for n, (key, position, _) in enumerate(columns) if key == second}
    made: list[tuple[dict[int, float], float, float]] = []
    for n, (key, position, _) in enumerate(columns):
        if key not in keys:
            continue
        if not is_whole(position):
            made.append(({n: 1.0}, 0.0, 0.0))
        elif key == first:
            beside = [str(below(int(position))), str(int(position) - 2)]
            made.append(({n: 1.0, **{where[one]: -1.0 for one in beside if one in where}}, -1.0, 0.0))
    return made


def _positions(job: Job, branch: Branch) -> list[str]:
    panel = job.panel
    held = end_spaces(branch, panel.spaces, panel.interior.main_at)
    whole = [str(s) for s in held or range(1, panel.spaces + 1) if covered(s, branch.poles)[-1] <= panel.spaces]
    if branch.poles > 1 or branch.to_device:  # a pair is kept out of halves by its own demand
        return whole
    return whole + [f"{s}{half}" for s in panel.tandem_spaces if s <= panel.spaces for half in ("a", "b")]


def _covers(space: int, half: str, poles: int) -> list[str]:
    """Halves of spaces a circuit takes: both of each of its spaces, or one."""
    return [f"{one}{h}" for one in covered(space, poles) for h in ("a", "b") if half in ("", h)]


def ways_out(job: Job, branches: Sequence[Branch]) -> tuple[int, tuple[str, ...]]:
    """How many spaces are missing for the circuits of this job with its reservations, and the cheapest ways to make room, cheapest
    first: reservations given up, tandems in marked spaces, light circuits joined, a larger panel, a sub-panel."""
    live = [b for b in branches if not b.off]
    now = sum(b.poles for b in live if b.origin is not Origin.FUTURE)
    reserved = sum(b.poles for b in live if b.origin is Origin.FUTURE)
    missing = now + reserved - job.panel.spaces
    if missing <= 0:
        return 0, ()
    ways = []
    short_today = max(0, now - job.panel.spaces)
    if reserved and not short_today:
        ways.append(f"give up {missing} of {reserved} reserved spaces (no material)")
    marked = sum(1 for space in job.panel.tandem_spaces if 1 <= space <= job.panel.spaces)
    can_halve = sum(1 for b in live if b.origin is not Origin.FUTURE and halves_allowed(b))
    tandems = min(marked, can_halve // 2)
    if 0 < missing <= tandems:
        ways.append(
            f"{missing} tandem breaker{'s' if missing > 1 else ''} in marked spaces, {2 * missing} circuits in them"
        )
    pairs = _light_pairs(live)
    if missing <= len(pairs):
        named = "; ".join(f"{name_of(a)} with {name_of(b)}" for a, b in pairs[:missing])
        ways.append(f"join {missing} pair{'s' if missing > 1 else ''} of lightly loaded circuits: {named}")
    larger = next((size for size in PANEL_SIZES if size >= now + reserved), None)
    if larger is not None:
        ways.append(f"a panel of {larger} spaces instead of {job.panel.spaces}")
    moved = missing + 2
    ways.append(f"a sub-panel: its feeder takes 2 spaces, so {moved} poles move to it")
    return missing, tuple(ways[:3])


def _light_pairs(live: Sequence[Branch]) -> list[tuple[Branch, Branch]]:
    """Pairs of old one-pole circuits that may go on one breaker: same rating, lights or general receptacles of rooms that have no
    circuit rule of their own, lightest together."""
    easy = {"living", "bedroom", "hall", "finished_basement", "unfinished_basement", "attic", "outdoors"}
    fit = [
        b
        for b in live
        if b.origin is Origin.EXISTING
        and b.poles == 1
        and not b.partner
        and b.serves
        and b.serves.places
        and b.serves.places <= easy
        and not b.serves.appliances
        and b.expected.known
        and b.breaker.known
    ]
    made = []
    for rating in sorted({b.breaker.amount for b in fit}):
        group = sorted((b for b in fit if b.breaker.amount == rating), key=lambda b: b.expected.amount)
        while len(group) >= 2 and (group[0].expected.amount + group[1].expected.amount) <= 0.8 * rating * 120:
            made.append((group[0], group[1]))
            group = group[2:]
    return sorted(made, key=lambda pair: pair[0].expected.amount + pair[1].expected.amount)
