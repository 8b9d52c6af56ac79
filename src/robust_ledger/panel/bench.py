"""The bench in one piece: circuits in their spaces, their wires, what is required of them, and every finding about them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from robust_ledger.branch.model import Branch
from robust_ledger.branch.outlets import share_findings
from robust_ledger.branch.required import Requirement, required_findings, requirements
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.panel.counting import counting_entries
from robust_ledger.panel.directory import (
    bar_findings,
    count_entries,
    count_findings,
    reach_findings,
    splices_entry,
    wording_findings,
)
from robust_ledger.panel.placement import Placement, place_branches
from robust_ledger.panel.reach import Enclosures, Reach, Wire, enclosures, wires
from robust_ledger.panel.schedule import Slot, bench_findings, leg_entries, schedule, space_entries


@dataclass(frozen=True, slots=True)
class Bench:
    """What the new panel comes to: where each circuit sits, how its wires come there, and the entries of counts and legs."""

    branches: list[Branch]
    placement: Placement
    schedule: tuple[Slot, ...]
    boxes: Enclosures
    wires: dict[CircuitKey, Wire]
    reach: dict[CircuitKey, Reach]
    requirements: tuple[Requirement, ...]
    entries: list[Entry]


def bench(job: Job, branches: list[Branch], bottom_in: float | None, codebook: Codebook) -> Bench:
    """Place the circuits and follow their wires; `bottom_in` is the height of the new enclosure's bottom, None where not known."""
    boxes = enclosures(job, bottom_in)
    cables = wires(job, branches, boxes)
    sides = {key: wire.start[0] > wire.box.width_in / 2 for key, wire in cables.items() if wire.known}
    placement = place_branches(branches, job.panel, job.decisions.placements, sides)
    reach = {key: cables[key].at(position) for key, position in placement.positions.items()}
    entries = [
        *counting_entries(job, branches),
        *(entry for b in branches for entry in (b.breaker, b.wire, b.expected)),
        *leg_entries(branches, placement, job.panel),
        *space_entries(branches, placement, job.panel),
        *count_entries(job, branches, placement),
        splices_entry(branches, reach),
    ]
    return Bench(
        branches,
        placement,
        schedule(branches, placement, job.panel),
        boxes,
        cables,
        reach,
        requirements(job, branches, codebook),
        entries,
    )


def findings_of_bench(
    job: Job, made: Bench, plates: dict[str, Entry], entries: Mapping[str, Entry], codebook: Codebook
) -> Iterator[Finding]:
    """Spaces, wires, what is required and shared, wording, and counts against the label."""
    branches = made.branches
    yield from bench_findings(job, branches, made.placement, entries["panel.spaces_left"], codebook)
    yield from reach_findings(branches, made.reach, entries["panel.splices"], codebook)
    yield from required_findings(job, branches, made.requirements, codebook)
    yield from share_findings(job, branches, plates, codebook)
    yield from wording_findings(branches, codebook)
    yield from count_findings(job, entries, codebook)
    yield from bar_findings(job, branches, codebook)
