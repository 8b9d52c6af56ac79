"""Moving circuits in the new panel: what a move does to the layout, or why it cannot be."""

from __future__ import annotations

from collections.abc import Collection
from itertools import pairwise

from msgspec import Struct

from robust_ledger.branch.equipment import end_spaces
from robust_ledger.branch.model import Branch
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.panels import NewPanel
from robust_ledger.job.spaces import covered, parse_position, shown
from robust_ledger.ledger.text import upper_first
from robust_ledger.panel.halves import halves_allowed


class Move(Struct, frozen=True):
    """The outcome: the whole new layout, or the reason against it, and who else moved."""

    placements: dict[CircuitKey, str] | None
    reason: str = ""
    displaced: tuple[str, ...] = ()


def move(
    branches: dict[CircuitKey, Branch],
    positions: dict[CircuitKey, str],
    panel: NewPanel,
    key: CircuitKey,
    target: str,
    pins: Collection[CircuitKey] = (),
) -> Move:
    """Put a circuit at `target`. Who sits there takes the space it leaves, when it fits there whole.

    Neighbors that share a neutral move as one. Nothing is ever dropped, and nothing pinned is moved: a move that does not work
    out is refused with its reason and changes nothing.
    """
    made = _move(branches, positions, panel, key, target)
    if made.placements is not None:
        for other, position in made.placements.items():
            held = end_spaces(branches[other], panel.spaces, panel.interior.main_at) if other in branches else None
            if held is not None and position != positions.get(other) and int(position.rstrip("ab")) not in held:
                where_to = "beside the main" if branches[other].end == "near" else "at the far end of the bus"
                return Move(None, f"{_name(branches[other])} belongs {where_to}.")
        for other in pins:
            if other in branches and made.placements.get(other) != positions.get(other):
                where_it_is = shown(positions.get(other, ""), panel.numbering, panel.spaces)
                return Move(None, f"{_name(branches[other])} is pinned to {where_it_is}; P takes the pin out.")
    return made


def _move(
    branches: dict[CircuitKey, Branch], positions: dict[CircuitKey, str], panel: NewPanel, key: CircuitKey, target: str
) -> Move:
    number = shown(target, panel.numbering, panel.spaces)
    where = parse_position(target)
    if where is None or not 1 <= where[0] <= panel.spaces:
        return Move(None, f"There is no space {number} in this panel.")
    if where[1] and where[0] not in panel.tandem_spaces:
        return Move(None, f"Space {number.rstrip('ab')} is not marked for a tandem.")
    if positions.get(key) == target:
        return Move(None, "It is there already.")
    if where[1] or positions.get(key, "")[-1:] in ("a", "b"):
        return _swap_halves(branches, positions, key, target)
    block = _block(branches, positions, key)
    first = where[0] - 2 * next(offset for member, offset in block if member == key)
    size = sum(branches[member].poles for member, _ in block)
    wanted = covered(first, size)
    for space in wanted:
        if not 1 <= space <= panel.spaces:
            below_it = shown(str(space), panel.numbering, panel.spaces)
            return Move(None, f"{_name(branches[key])} needs {size} adjacent spaces, and there is no space {below_it}.")
    source = [s for member, _ in block for s in _spaces(branches, positions, member)]
    return _shift(branches, positions, block, source, wanted)


def _shift(
    branches: dict[CircuitKey, Branch],
    positions: dict[CircuitKey, str],
    block: list[tuple[CircuitKey, int]],
    source: list[int],
    wanted: list[int],
) -> Move:
    """Move a block onto `wanted` and let what was there take the spaces it leaves."""
    members = {member for member, _ in block}
    sitting = [k for k in positions if k not in members and set(_spaces(branches, positions, k)) & set(wanted)]
    vacated = [s for s in source if s not in wanted]
    result = dict(positions)
    for member, offset in block:
        result[member] = str(wanted[0] + 2 * offset)
    needed = [s for s in wanted if s not in source]
    seats = dict(zip(needed, vacated, strict=False))
    for other in sitting:
        spaces = _spaces(branches, positions, other)
        name = _name(branches[other])
        if positions[other][-1:] in ("a", "b"):
            return Move(None, f"{name} sits in a tandem there; move it first.")
        if not source:
            return Move(None, f"{name} sits there; move it first.")
        if not set(spaces) <= set(seats):
            return Move(None, f"{name} sits there and would not fit where this one comes from.")
        new = [seats[s] for s in spaces]
        if any(b - a != 2 for a, b in pairwise(new)):
            return Move(None, f"{name} sits there and would not fit where this one comes from.")
        result[other] = str(new[0])
    for other in sitting:
        if len(_block(branches, positions, other)) > len(_block(branches, result, other)):
            return Move(
                None,
                f"{_name(branches[other])} sits there and would be parted from the circuit it shares a neutral with.",
            )
    return Move(result, "", tuple(sitting))


def _swap_halves(
    branches: dict[CircuitKey, Branch], positions: dict[CircuitKey, str], key: CircuitKey, target: str
) -> Move:
    """Moves to or from half a space: only single circuits, one against one."""
    there = [k for k, position in positions.items() if k != key and _overlap(branches, k, position, target)]
    moving = branches[key]
    if target[-1:] in ("a", "b") and not halves_allowed(moving) and moving.poles == 1 and not moving.partner:
        return Move(None, f"{str(moving.device).capitalize()} breakers do not fit half a space.")
    if branches[key].poles > 1 or any(branches[k].poles > 1 for k in there):
        return Move(None, "A 2-pole does not fit half a space.")
    if len(there) > 1 or (there and positions[there[0]] != target):
        return Move(None, f"Space {target.rstrip('ab')} holds a tandem; choose one of its halves.")
    result = {**positions, key: target}
    if there:
        if key not in positions:
            return Move(None, f"{_name(branches[there[0]])} sits there; move it first.")
        result[there[0]] = positions[key]
    return Move(result, "", tuple(there))


def _overlap(branches: dict[CircuitKey, Branch], key: CircuitKey, position: str, target: str) -> bool:
    if position == target:
        return True
    here, there = parse_position(position), parse_position(target)
    if here is None or there is None or (here[1] and there[1]):
        return False
    return there[0] in covered(here[0], branches[key].poles)


def _block(
    branches: dict[CircuitKey, Branch], positions: dict[CircuitKey, str], key: CircuitKey
) -> list[tuple[CircuitKey, int]]:
    """The circuits that move as one, with their offset in rows: a shared-neutral pair of neighbors, or one alone."""
    partner = branches[key].partner
    here = parse_position(positions.get(key, ""))
    there = parse_position(positions.get(partner, "")) if partner in branches else None
    if here and there and abs(here[0] - there[0]) == 2 and not here[1] and not there[1]:
        return [(key, 0), (partner, 1)] if here[0] < there[0] else [(partner, 0), (key, 1)]
    return [(key, 0)]


def _spaces(branches: dict[CircuitKey, Branch], positions: dict[CircuitKey, str], key: CircuitKey) -> list[int]:
    where = parse_position(positions.get(key, ""))
    return covered(where[0], branches[key].poles) if where else []


def _name(branch: Branch) -> str:
    return f"Tag {branch.tag}" if branch.tag != "new" else upper_first(branch.feeds)
