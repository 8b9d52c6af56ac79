"""What the room of the installation answers with: nodes, runs, joints, labels, changes, worked out once and read by everything behind it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import cached_property

from msgspec import Struct

from robust_ledger.branch.model import Branch
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.installation.bonds import bond_findings
from robust_ledger.installation.changes import Changed, changes_of
from robust_ledger.installation.earth import earth_runs
from robust_ledger.installation.facts import Facts
from robust_ledger.installation.joints import joints_of
from robust_ledger.installation.labels import labels_of
from robust_ledger.installation.model import Joint, Label, Node, Run
from robust_ledger.installation.nodes import nodes_of
from robust_ledger.installation.pairs import pair_findings
from robust_ledger.installation.runs import runs_of
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.ledger.room import Room, by_id
from robust_ledger.service.result import ServiceResult
from robust_ledger.survey.grounding import GroundingFigures


class Fitted(Struct, frozen=True):
    """What is added to the service: the surge device's kind, whether an interlock kit and a bonding termination are to be bought."""

    spd: str
    interlock: bool
    intersystem: bool


class Installation(Room, Struct, frozen=True, dict=True):
    """What stands on the wall before and after."""

    facts: Facts

    @cached_property
    def nodes(self) -> dict[str, Node]:
        """Every node by its key, each after the one that feeds it; old boxes that come off at the end."""
        return {node.key: node for node in nodes_of(self.facts)}

    @cached_property
    def wired(self) -> tuple[Run, ...]:
        """The runs that carry the house's current, in the order in which their ends are fed."""
        return runs_of(self.facts, self.nodes)

    @cached_property
    def earth(self) -> tuple[Run, ...]:
        """The conductors to electrodes and pipes."""
        return tuple(earth_runs(self.facts, self.nodes, self.wired))

    @property
    def runs(self) -> tuple[Run, ...]:
        """Every run."""
        return (*self.wired, *self.earth)

    @cached_property
    def joints(self) -> tuple[Joint, ...]:
        """Every screw that this job tightens."""
        return joints_of(self.facts, tuple(self.nodes.values()), self.runs)

    @cached_property
    def labels(self) -> tuple[Label, ...]:
        """The labels that are due."""
        return tuple(labels_of(self.facts, self.nodes))

    @cached_property
    def changes(self) -> tuple[Changed, ...]:
        """What becomes of everything."""
        return tuple(changes_of(tuple(self.nodes.values()), self.runs))

    @cached_property
    def fitted(self) -> Fitted:
        """What is added to the service beside nodes and runs."""
        own, there = self.facts.job.equipment, self.facts.job.grounding.intersystem
        kind = f"type {own.spd_type}" if own.spd_type else "type by its label"
        ahead = ("meter socket", "disconnect", "meter-main")
        touched = any(run.change.made for run in self.wired if run.kind == "service") or any(
            node.change.made for node in self.nodes.values() if node.kind in ahead
        )
        return Fitted(kind if own.spd else "", bool(own.generator_a), touched and not there)

    @property
    def openings(self) -> int:
        """Holes to the outside that this job makes or opens: two of a mast, one of a way into the house."""
        masts = sum(run.raceway is not None and run.raceway.change.made and run.raceway.over_roof for run in self.wired)
        outdoors = {panel.id for panel in self.facts.further if panel.at in ("outdoors", "pole", "yard")}
        into = any(run.change.made for run in self.wired if run.start in ("meter", "disconnect", *outdoors))
        return 2 * masts + int(into or self.nodes["meter"].change.made)

    @property
    def existing_a(self) -> float | None:
        """The rating of the service as found [A]: the old main's, else the meter socket's label; None where neither was read."""
        job = self.facts.job
        return next((rating for rating in (job.old_panel.main_a, job.existing.meter_label_a) if rating), None)

    @property
    def riser(self) -> Run:
        """The run of the service conductors that are ours, up to the meter."""
        return self.wired[0]

    @property
    def bonded(self) -> tuple[Node, ...]:
        """The nodes that have a neutral of ours, in their order."""
        return tuple(node for node in self.nodes.values() if node.bond is not None)

    def node_of(self, panel_id: str) -> Node | None:
        """The node whose circuits are those of a panel; None where there is none."""
        return next((node for node in self.nodes.values() if node.panel_id == panel_id), None)

    def run_to(self, key: str) -> Run | None:
        """The run that feeds a node; None for the first."""
        return next((run for run in self.wired if run.end == key), None)

    @cached_property
    def entries(self) -> dict[str, Entry]:  # type: ignore[override]
        """The bond of each node, and the sizes that are this room's own: what stays, as found, and taps."""
        bonds = [node.bond.entry for node in self.bonded if node.bond is not None]
        sizes = [one.size for run in self.runs for one in run.conductors]
        own = [size for size in sizes if size.id.startswith(("installation.", "service.gec."))]
        return by_id(*bonds, *own)

    def findings(self) -> Iterator[Finding]:
        """A bond made twice or nowhere; a shared neutral between two panels."""
        yield from bond_findings(self.facts.job, tuple(self.nodes.values()), self.facts.codebook)
        yield from pair_findings(self.facts.job, self.facts.branches, self.facts.codebook)


def installation(
    job: Job,
    service: ServiceResult,
    grounding: GroundingFigures | None,
    branches: Sequence[Branch],
    codebook: Codebook,
) -> Installation:
    """The installation of a job whose service, grounding and circuits are worked out."""
    return Installation(Facts(job, service, grounding, branches, codebook))
