"""What the room of the new panel answers with: circuits in their spaces, their wires, counts and legs, and every finding about them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import cached_property

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.branch.result import CircuitsResult
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.job.tree import panel_ids, panel_name, seen_from
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.room import Room, by_id
from robust_ledger.ledger.working import Working
from robust_ledger.panel.bench_drawing import Picture
from robust_ledger.panel.counting import counting_entries, counting_findings
from robust_ledger.panel.directory import (
    Change,
    bar_findings,
    change_list,
    count_entries,
    count_findings,
    reach_findings,
    splices_entry,
    wording_findings,
)
from robust_ledger.panel.knockouts import KnockoutPlan, knockout_findings, knockout_plan
from robust_ledger.panel.placement import Placement, place_branches
from robust_ledger.panel.reach import Enclosures, Reach, Wire, enclosures, reach_entry, wires
from robust_ledger.panel.schedule import Slot, bench_findings, leg_entries, loose_entry, schedule, space_entries
from robust_ledger.panel.splicing import gutter_entries, gutter_findings, splice_entry
from robust_ledger.panel.under_its_name import entries_of, entry_id, findings_of


class Bench(Room, Struct, frozen=True, dict=True):
    """What the new panel comes to: where each circuit sits, how its wires come there, and the entries of counts and legs."""

    job: Job
    codebook: Codebook
    circuits: CircuitsResult
    placement: Placement
    schedule: tuple[Slot, ...]
    boxes: Enclosures
    wires: dict[CircuitKey, Wire]
    reach: dict[CircuitKey, Reach]
    entries: dict[str, Entry]
    panel_id: str = MAIN
    lazy = ("reach.", "splice.", "knockouts.")

    def entry_of(self, name: str) -> Entry:
        """An entry of this panel, by what it is called for the main one: "panel.spaces_used"."""
        return self.entries[entry_id(self.panel_id, name)]

    @property
    def spaces_used(self) -> Entry:
        """Spaces this job takes, waiting circuits included."""
        return self.entry_of("panel.spaces_used")

    @property
    def spaces_left(self) -> Entry:
        """Spaces left after those that are reserved."""
        return self.entry_of("panel.spaces_left")

    @property
    def legs(self) -> tuple[Entry, Entry]:
        """What leg A and leg B are expected to carry [A]."""
        return self.entry_of("panel.leg_a"), self.entry_of("panel.leg_b")

    @property
    def loose(self) -> Entry | None:
        """What loads draw that are on no circuit [A]; None where there is none, and beside the main panel."""
        return self.entries.get("panel.legs_loose")

    @property
    def twist_outs(self) -> tuple[Entry, Entry]:
        """Twist-outs to take from the dead front, left and right."""
        return self.entry_of("panel.twist_outs_left"), self.entry_of("panel.twist_outs_right")

    @property
    def splices(self) -> Entry:
        """Splices in this layout."""
        return self.entry_of("panel.splices")

    @cached_property
    def changes(self) -> tuple[Change, ...]:
        """Old space and new space of every circuit."""
        return change_list(self.job, self.circuits.branches, self.placement, self.reach)

    @cached_property
    def knockouts(self) -> KnockoutPlan:
        """Which cable comes in through which knockout."""
        return knockout_plan(
            self.job, self.circuits.branches, self.placement, self.wires, self.boxes.new, self.codebook
        )

    def families(self) -> Iterator[Entry]:
        """The wire of every placed circuit: its free length, and what is to spare where it sits."""
        yield from self.knockouts.entries(self.panel_id)
        for key in self.reach:
            yield from self._reach_of(key)
            if (splice := self._splice_of(key)) is not None:
                yield splice

    def one_of_family(self, entry_id: str) -> Entry | None:
        """One of its entries without working out those of all wires."""
        if entry_id.startswith("knockouts."):
            return next((entry for entry in self.knockouts.entries(self.panel_id) if entry.id == entry_id), None)
        if entry_id.startswith("splice."):
            return self._splice_of(CircuitKey(entry_id.removeprefix("splice.")))
        key = CircuitKey(entry_id.removeprefix("reach.").removeprefix("free."))
        return next((entry for entry in self._reach_of(key) if entry.id == entry_id), None)

    def _splice_of(self, key: CircuitKey) -> Entry | None:
        """The box for a circuit's splice; None where its wires reach."""
        branch = self.circuits.by_key.get(key)
        if branch is None or key not in self.reach or not self.reach[key].splices:
            return None
        gutter = self.entries.get("panel.gutter_splices")
        return splice_entry(branch, self.wires[key], self.reach[key], gutter, self.codebook)

    def _reach_of(self, key: CircuitKey) -> Iterator[Entry]:
        branch = self.circuits.by_key.get(key)
        if branch is not None and key in self.reach:
            wire = self.wires[key]
            if wire.free:
                yield wire.free
            yield reach_entry(wire, self.reach[key], branch.name)

    def picture(self, main: Entry, flagged: frozenset[Place]) -> Picture:
        """The panel as it is drawn; `flagged` are the places with an open finding."""
        branches = self.circuits.by_key
        marked = frozenset(key for key in branches if flagged & _places(key))
        return Picture(self.job, branches, self.schedule, self.reach, self.wires, main, marked)

    def counting_findings(self) -> Iterator[Finding]:
        """Whether the panel leaves the spares that are asked for."""
        return findings_of(self.job, self.panel_id, counting_findings(self.job, self._as_main, self.codebook))

    @property
    def _as_main(self) -> dict[str, Entry]:
        """The entries by what they are called for the main panel."""
        if self.panel_id == MAIN:
            return self.entries
        names = (
            "count.needed",
            "count.recommended",
            "panel.circuits",
            "panel.tandems",
        )
        return {name: self.entry_of(name) for name in names}

    def findings(self) -> Iterator[Finding]:
        """Spaces, wires, wording, and counts against the label."""
        return findings_of(self.job, self.panel_id, self._findings())

    def _findings(self) -> Iterator[Finding]:
        job, codebook, branches = self.job, self.codebook, list(self.circuits.branches)
        yield from bench_findings(job, branches, self.placement, self.spaces_left, codebook)
        yield from reach_findings(branches, self.reach, self.splices, codebook, self.boxes.nowhere)
        yield from wording_findings(branches, codebook, job.conventions.own)
        yield from count_findings(job, self.circuits.branches, self._as_main, codebook)
        yield from bar_findings(job, branches, codebook)
        if self.panel_id == MAIN:
            yield from gutter_findings(self.entries, codebook)
        if any(self.boxes.new.knockouts):
            names = {branch.key: branch.name for branch in branches}
            yield from knockout_findings(self.knockouts, names, codebook)


def _places(key: CircuitKey) -> set[Place]:
    """Where findings about a circuit may be: at itself, or at the old circuit it comes from."""
    return {Place.branch(key), Place.of("circuit", key.name) if key.kind == "tag" else Place(key)}


def benches(circuits: CircuitsResult, bottom_in: float | None) -> dict[str, Bench]:
    """The bench of every panel by its id, the main one first; `bottom_in` is the height of the main enclosure's bottom, None where not
    known."""
    return {panel_id: bench(circuits, bottom_in, panel_id) for panel_id in panel_ids(circuits.job)}


def all_spaces_used(made: Mapping[str, Bench]) -> Entry:
    """Spaces this job takes, in all its panels together."""
    if len(made) == 1:
        return made[MAIN].spaces_used
    work = Working("panels.spaces_used", "Spaces used in all panels")
    names = {panel_id: panel_name(made[MAIN].job, panel_id) for panel_id in made}
    parts = [work.entry_step(one.spaces_used, names[panel_id]) for panel_id, one in made.items()]
    return work.entry(work.total("in all panels", parts, ""))


def bench(circuits: CircuitsResult, bottom_in: float | None, panel_id: str = MAIN) -> Bench:
    """Place the circuits of one panel and follow their wires."""
    if circuits.job.panels:
        mine = tuple(branch for branch in circuits.branches if branch.panel == panel_id)
        circuits = replace(circuits, job=seen_from(circuits.job, panel_id), branches=mine)
    job, branches = circuits.job, list(circuits.branches)
    boxes = enclosures(job, bottom_in, beside=job.panel_of(panel_id))
    cables = wires(job, branches, boxes)
    sides = {key: wire.start[0] > wire.box.width_in / 2 for key, wire in cables.items() if wire.known}
    placement = place_branches(branches, job.panel, job.decisions.placements, sides)
    reach = {key: cables[key].at(position) for key, position in placement.positions.items()}
    loose = loose_entry(job, circuits.load.inputs.nameplates)
    entries = by_id(
        *entries_of(
            panel_id,
            (
                *counting_entries(job, branches),
                *leg_entries(branches, placement, job.panel),
                *space_entries(branches, placement, job.panel),
                *count_entries(job, branches, placement),
                splices_entry(branches, reach),
                *((loose,) if panel_id == MAIN and loose is not None else ()),
                *(gutter_entries(circuits, placement, cables, reach, boxes) if panel_id == MAIN else ()),
            ),
        )
    )
    slots = schedule(branches, placement, job.panel)
    return Bench(job, circuits.codebook, circuits, placement, slots, boxes, cables, reach, entries, panel_id)
