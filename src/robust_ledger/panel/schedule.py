"""The schedule of the new panel: every space with what lands in it, the legs' balance and the counts."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from msgspec import Struct

from robust_ledger.branch.model import Branch, Origin
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.keys import NO_CIRCUIT, CircuitKey
from robust_ledger.job.parts.house import When
from robust_ledger.job.parts.panels import NewPanel
from robust_ledger.job.spaces import covered, leg_of, parse_position, shown
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.panel.conflicts import ways_out
from robust_ledger.panel.placement import Placement

STAGE = "bench"
EMPTY = "SPACE"  # a spare would be a breaker with nothing on it


class Slot(Struct, frozen=True):
    """One terminal of the new panel: a space, or half of one in a tandem. `pole` counts from 0 in a 2-pole."""

    position: str
    space: int
    leg: str
    key: CircuitKey
    pole: int
    text: str
    rating: str
    wire: str
    tag: str


def schedule(branches: list[Branch], placement: Placement, panel: NewPanel) -> tuple[Slot, ...]:
    """Every space from 1 on, empty ones said to be a space; halves of a tandem stand on their own."""
    by_key = {b.key: b for b in branches}
    taken: dict[str, tuple[Branch, int]] = {}
    for key, position in placement.positions.items():
        space, half = parse_position(position) or (0, "")
        for pole, one in enumerate(covered(space, by_key[key].poles)):
            taken[f"{one}{half}"] = (by_key[key], pole)
    slots = []
    for space in range(1, panel.spaces + 1):
        halves = [h for h in ("a", "b") if f"{space}{h}" in taken]
        for position in [f"{space}{h}" for h in ("a", "b")] if halves else [str(space)]:
            branch, pole = taken.get(position, (None, 0))
            if branch is None:
                slots.append(Slot(position, space, leg_of(space), NO_CIRCUIT, 0, EMPTY, "", "", ""))
            else:
                held, wire = branch.origin is Origin.FUTURE, branch.wire.text()
                slots.append(
                    Slot(
                        position,
                        space,
                        leg_of(space),
                        branch.key,
                        pole,
                        branch.directory_text,
                        "" if held else branch.rating_text,
                        wire,
                        branch.tag,
                    )
                )
    return tuple(slots)


def leg_entries(branches: list[Branch], placement: Placement, panel: NewPanel) -> tuple[Entry, Entry]:
    """What each leg is expected to carry [A]: its 1-pole circuits, and half of each 2-pole, at 120 V."""
    result = []
    by_key = {b.key: b for b in branches}
    for leg in ("A", "B"):
        work = Working(f"panel.leg_{leg.lower()}", f"Leg {leg}")
        parts = []
        for key, position in placement.positions.items():
            branch = by_key[key]
            if branch.origin is Origin.FUTURE:
                continue
            space = (parse_position(position) or (0, ""))[0]
            on_leg = sum(1 for one in covered(space, branch.poles) if leg_of(one) == leg)
            if on_leg:
                va = branch.expected.amount * on_leg / branch.poles if branch.expected.known else None
                number = shown(position, panel.numbering, panel.spaces)
                label = f"{number}: {branch.directory_text}" + (", half" if branch.poles == 2 else "")
                parts.append(work.take(Step(label, va, "VA", place=Place.entry(branch.expected.id))))
        total = work.total("expected on this leg", parts or [Step("nothing placed", 0, "VA")], "VA")
        amps = work.quotient("at leg voltage", total, Step("leg to neutral", 120, "V"), "A")
        result.append(work.entry(amps))
    return result[0], result[1]


def loose_entry(job: Job, plates: Mapping[str, Entry]) -> Entry | None:
    """What the loads that are there and on no circuit draw [A], each at its own voltage: it is on no leg as long as nobody has said
    where it hangs. None where every load has its circuit."""
    loose = [load for load in job.loads if load.when is When.EXISTING and load.id not in job.fed_loads]
    if not loose:
        return None
    work = Working("panel.legs_loose", "Loads on no circuit")
    parts = []
    for load in loose:
        plate = plates[load.id]
        volts = 240 if load.two_hots else 120
        amps = plate.amount / volts if plate.known else None
        parts.append(work.take(Step(f"{load.name}, at {volts} V", amps, "A", place=Place.load(load.id))))
    return work.entry(work.total("on no leg as long as they are joined to no circuit", parts, "A"))


def space_entries(branches: list[Branch], placement: Placement, panel: NewPanel) -> tuple[Entry, Entry]:
    """Spaces used (waiting circuits included) and spaces left after the reserved ones."""
    work = Working("panel.spaces_used", "Spaces used", Place("panel:spaces"))
    halves = [p for p in placement.positions.values() if p[-1:] in ("a", "b")]
    whole = [b for b in branches if not b.off and placement.positions.get(b.key, "") not in halves]
    now = sum(b.poles for b in whole if b.origin is not Origin.FUTURE)
    kept = [work.given("poles of circuits of this job", now)]
    if halves:
        kept.append(work.given("spaces with a tandem", len({p[:-1] for p in halves})))
    used = work.entry(work.total("spaces used", kept, ""))
    work = Working("panel.spaces_left", "Spaces open", Place("panel:spaces"))
    have = work.given("spaces of the panel", panel.spaces, "", Place("panel:spaces"))
    rest = work.difference("after this job", have, work.entry_step(used), "")
    reserved = work.given("reserved for futures", sum(b.poles for b in whole if b.origin is Origin.FUTURE))
    left = work.difference("left", rest, reserved, "")
    return used, work.entry(left)


def bench_findings(
    job: Job, branches: list[Branch], placement: Placement, left: Entry, codebook: Codebook
) -> Iterator[Finding]:
    """Findings of the Bench stage: circuits without a space, placements that do not hold, shared neutrals apart."""
    panel = job.panel
    by_key, find = {b.key: b for b in branches}, Findings(codebook, STAGE).find
    now = [key for key in placement.waiting if by_key[key].origin is not Origin.FUTURE and key not in placement.refused]
    if now:
        names = ", ".join(f"{by_key[key].tag} {by_key[key].directory_text}" for key in now)
        over = -left.amount if left.amount < 0 else 0
        need = f"{over:g} more spaces are needed" if over else "no fitting spaces are free"
        yield find(
            "panel.full",
            at=Place("panel:spaces"),
            count=len(now),
            names=names,
            spaces=panel.spaces,
            need=need,
            ways=_ways(job, branches),
        )
    for key in placement.waiting:
        if by_key[key].origin is Origin.FUTURE and key not in placement.refused:
            yield find("panel.future", at=Place.branch(key), of=key, feeds=by_key[key].feeds)
    for key, reason in placement.refused.items():
        yield find(
            "panel.refused", at=Place.branch(key), of=key, tag=by_key[key].tag, feeds=by_key[key].feeds, reason=reason
        )
    yield from _shared_neutrals(branches, placement, codebook)


def _ways(job: Job, branches: list[Branch]) -> str:
    """The three cheapest ways to make room, or that circuits only have to be moved."""
    missing, ways = ways_out(job, branches)
    if not missing:
        return "There is room enough: Arrange (F9), or move circuits together."
    return "Cheapest first: " + "; or ".join(ways) + "."


def _shared_neutrals(branches: list[Branch], placement: Placement, codebook: Codebook) -> Iterator[Finding]:
    find = Findings(codebook, STAGE).find
    for branch in branches:
        here = parse_position(placement.positions.get(branch.key, ""))
        there = parse_position(placement.positions.get(branch.partner, ""))
        if not branch.partner or branch.key > branch.partner or not here or not there:
            continue
        tags = f"Tags {branch.tag} and {branch.partner.tag}"
        if leg_of(here[0]) == leg_of(there[0]):
            yield find(
                "panel.neutral_leg", at=Place.branch(branch.key), of=branch.key, tags=tags, leg_of=leg_of(here[0])
            )
        elif abs(here[0] - there[0]) != 2:
            yield find("panel.neutral_apart", at=Place.branch(branch.key), of=branch.key, tags=tags)
