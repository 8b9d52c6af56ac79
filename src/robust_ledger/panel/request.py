"""What the Arrange button asks for: the puzzle of a planned job, its answer, what conflicts where there is none, and what would
save the splices that are left."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.spaces import shown
from robust_ledger.ledger.progress import Progress, go_on, unwatched
from robust_ledger.panel.arrange import MOST_SEATS, Answer, ArrangeError, Item, Option, Puzzle, fewest_splices, solve
from robust_ledger.panel.conflicts import demands, smallest_conflict, ways_out
from robust_ledger.panel.puzzle import Wanted, name_of, puzzle
from robust_ledger.panel.reach import SHORT, Reach, enclosures, wires

SHIFTS_IN = (2.0, 4.0, 6.0)
MOST_TAGS = 4
SIDES = ("top", "bottom", "left", "right")


def arrange(wanted: Wanted, progress: Progress = unwatched) -> Answer:
    """Two or three arrangements, proven; where nothing fits, why. Raises CanceledError once `progress` answers False, ArrangeError."""
    _refuse_withheld(wanted)
    _refuse_too_much([wanted])
    asked = puzzle(wanted)
    nowhere = [item for item in asked.items if item.needed and not item.seats]
    made = solve(asked, progress) if not nowhere else Answer(())
    return made if made.options else replace(made, conflict=_conflict(wanted, nowhere))


def arrange_all(panels: Sequence[Wanted], progress: Progress = unwatched) -> Answer:
    """Several panels together: the fewest splices over all of them, each with its legs in their band; a circuit that may go to either is
    a guest in the wants of each. Where nothing fits, why. Raises CanceledError once `progress` answers False, ArrangeError."""
    for wanted in panels:
        _refuse_withheld(wanted)
    _refuse_too_much(panels)
    asked = together([puzzle(wanted) for wanted in panels])
    nowhere = [item for item in asked.items if item.needed and not item.seats]
    made = solve(asked, progress) if not nowhere else Answer(())
    if made.options:
        return made
    own = (arrange(replace(wanted, branches=[b for b in wanted.branches if not b.either])) for wanted in panels)
    alone = next((answer.conflict for answer in own if answer.conflict), ())
    return replace(made, conflict=alone or ("the circuits do not fit the spaces of all panels together",))


def _refuse_withheld(wanted: Wanted) -> None:
    if wanted.withheld:
        raise ArrangeError(f"The best layouts are {wanted.withheld}: lay the panel out yourself.")


def _refuse_too_much(panels: Sequence[Wanted]) -> None:
    """More places than any house has are not even listed: that alone would take longer than anybody waits."""
    places = sum(
        len(wanted.branches) * (wanted.job.panel.spaces + 2 * len(wanted.job.panel.tandem_spaces)) for wanted in panels
    )
    if places > MOST_SEATS:
        raise ArrangeError(
            f"The circuits have up to {places:,} possible places, more than can be weighed; take fewer circuits, spaces or panels together."
        )


def together(puzzles: Sequence[Puzzle]) -> Puzzle:
    """One puzzle of several panels: spaces numbered through all of them, an item that stands in more than one with the seats of each."""
    items: dict[frozenset[CircuitKey], Item] = {}
    before = 0
    for group, one in enumerate(puzzles):
        for item in one.items:
            seats = tuple(
                replace(seat, covers=tuple(before + space for space in seat.covers), group=group) for seat in item.seats
            )
            known = items.get(frozenset(item.keys))
            items[frozenset(item.keys)] = replace(item, seats=(*(known.seats if known else ()), *seats))
        before += one.spaces
    band = max((one.band_a for one in puzzles), default=0.0)
    return Puzzle(before, tuple(items.values()), band, max(1, len(puzzles)))


def _conflict(wanted: Wanted, nowhere: list[Item]) -> tuple[str, ...]:
    """The smallest set of demands that cannot hold together; else what is missing, with the ways to make room."""
    pinned = {key: wanted.pinned_at(key) for key in wanted.job.decisions.pins}
    found = smallest_conflict(wanted.job, wanted.branches, demands(wanted.job, wanted.branches, pinned))
    if found:
        return (f"{'these cannot hold together' if len(found) > 1 else 'this cannot be'}: {' and '.join(found)}",)
    missing, ways = ways_out(wanted.job, wanted.branches)
    if missing:
        return (f"{missing} more spaces are needed", *ways)
    if nowhere:
        return tuple(f"{item.name} has no lawful space in this panel" for item in nowhere)
    return ("the circuits do not fit the spaces left between them",)


class Advice(Struct, frozen=True):
    """What a layout's splices are left for: single changes that would save some, the most first, and why each is there."""

    ways: tuple[str, ...]
    reasons: tuple[str, ...]

    @property
    def lines(self) -> tuple[str, ...]:
        """Both, the ways first."""
        return (*self.ways, *self.reasons)


def advise(wanted: Wanted, best: Option, progress: Progress = unwatched) -> Advice:
    """Every splice that is left with the reason, and single changes that would save some, found by solving anew with that one
    change. Raises CanceledError once `progress` answers False."""
    by_key = {b.key: b for b in wanted.branches}
    placed = best.placements.items()
    short = [(key, reach) for key, position in placed if (reach := wanted.wires[key].at(position)).verdict == SHORT]
    short.sort(key=lambda one: one[1].margin_in or 0.0)
    reasons = [f"{name_of(by_key[key])}: {_why(wanted, key)}" for key, _ in short]
    changes = list(_changes(wanted, [key for key, _ in short[:MOST_TAGS]]))
    saved: list[tuple[int, str]] = []
    for number, (words, job, raised_in) in enumerate(changes):
        go_on(progress, number / len(changes))
        boxes = enclosures(job, wanted.bottom_in, raised_in)
        again = replace(wanted, job=job, wires=wires(job, list(wanted.branches), boxes))
        left = fewest_splices(puzzle(again))
        if left is not None and left < best.splices:
            saved.append((left, words))
    many = f"instead of {best.splices}"
    ways = [f"{words}: {left} splice{'s' if left != 1 else ''} {many}" for left, words in sorted(saved)[:4]]
    return Advice(tuple(ways), tuple(reasons))


def _why(wanted: Wanted, key: CircuitKey) -> str:
    """Whether a circuit reaches no space at all, or only some that others need more."""
    wire = wanted.wires[key]
    reaches: list[Reach] = [
        wire.at(str(space)) for space in range(1, wanted.job.panel.spaces + 1 - 2 * (wire.poles - 1))
    ]
    panel = wanted.job.panel
    good = [shown(reach.position, panel.numbering, panel.spaces) for reach in reaches if reach.splices == 0]
    if good:
        some = ", ".join(good[:6]) + (" …" if len(good) > 6 else "")
        return f"reaches only {some}, which other wires or pins need"
    best = max(reaches, key=lambda reach: (-reach.splices, reach.margin_in or 0.0))
    worst = min(best.conductors, key=lambda one: one.margin_in or 0.0)
    nearest = shown(best.position, panel.numbering, panel.spaces)
    return f"too short for every space; at {nearest} it lacks {-(worst.margin_in or 0.0):.1f} in ({worst.name})"


def _changes(wanted: Wanted, keys: list[CircuitKey]) -> Iterator[tuple[str, Job, float]]:
    """Single changes worth trying: in words, the job with it, and how much higher the enclosure hangs."""
    job = wanted.job
    for shift in SHIFTS_IN:
        yield f"mount the new enclosure {shift:g} in higher", job, shift
        yield f"mount the new enclosure {shift:g} in lower", job, -shift
    for bar, words in (("neutral_bar", "neutral"), ("ground_bar", "ground")):
        if getattr(job.panel.interior, bar) != "both":
            interior = replace(job.panel.interior, **{bar: "both"})
            yield f"a second {words} bar on the other side", with_part(job, "panel", interior=interior), 0.0
    by_key = {b.key: b for b in wanted.branches}
    for key in keys:
        circuit = job.circuit(by_key[key].origin_tag or 0)
        for side in SIDES:
            if circuit is None or side == (job.change(key).new_side or circuit.enters):
                continue
            yield f"bring {name_of(by_key[key])} in at the {side}", _entering(job, key, side), 0.0


def _entering(job: Job, key: CircuitKey, side: str) -> Job:
    change = job.change(key).changed(new_side=side, new_at_in=None)
    return with_part(job, "decisions", circuits={**job.decisions.circuits, key: change})
