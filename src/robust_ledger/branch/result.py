"""What the room of the branch circuits answers with: every circuit of the new panel, what is required, practices of outlets."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property

from msgspec import Struct

from robust_ledger.branch.circuits import branches
from robust_ledger.branch.effects import effects
from robust_ledger.branch.feeder_circuits import circuits_on
from robust_ledger.branch.findings import circuit_findings
from robust_ledger.branch.ledger import LedgerRow, ledger, ledger_findings, supply_side_findings
from robust_ledger.branch.model import Branch
from robust_ledger.branch.old_panel import old_panel_findings
from robust_ledger.branch.outlets import Practices, all_practices, fastened_share, general_circuits, share_findings
from robust_ledger.branch.passes import pass_findings
from robust_ledger.branch.protection import protection_entry
from robust_ledger.branch.required import Requirement, required_findings, requirements
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.ledger.room import Room, by_id
from robust_ledger.load.feeder import FeederCircuits
from robust_ledger.load.result import LoadResult


class CircuitsResult(Room, Struct, frozen=True, dict=True):
    """The circuits of the new panel."""

    job: Job
    codebook: Codebook
    load: LoadResult
    branches: tuple[Branch, ...]
    lazy = ("protection.", "outlets.")

    @cached_property
    def entries(self) -> dict[str, Entry]:  # type: ignore[override]
        """Breaker, wire and expected load of every circuit."""
        return by_id(*(entry for b in self.branches for entry in (b.breaker, b.wire, b.expected)))

    @cached_property
    def by_key(self) -> dict[CircuitKey, Branch]:
        """The circuits by their keys."""
        return {branch.key: branch for branch in self.branches}

    @cached_property
    def requirements(self) -> tuple[Requirement, ...]:
        """The circuits a dwelling has to have, each with those that count for it."""
        return requirements(self.job, self.branches, self.codebook)

    @cached_property
    def ledger(self) -> tuple[LedgerRow, ...]:
        """The protection of every circuit: found, required now, planned and where."""
        return ledger(self.job, self.branches)

    @cached_property
    def by_feeder(self) -> dict[str, FeederCircuits]:
        """What hangs on the feeder of each panel beside the main one."""
        return circuits_on(self.job, self.branches, self.requirements) if self.job.panels else {}

    @cached_property
    def least_general(self) -> dict[int, Entry]:
        """The least number of general circuits for the floor area, by their rating [A]."""
        return general_circuits(self.job, self.load.entries["load.optional.lighting"], self.codebook)

    @cached_property
    def practices(self) -> tuple[Practices, ...]:
        """How many outlets each general circuit may have, by three practices."""
        return all_practices(self.job, self.branches, self.codebook)

    def effects(self, tag: int) -> tuple[str, ...]:
        """What the plan changes of a circuit as found."""
        key = CircuitKey.of_tag(tag)
        circuit, branch = self.job.circuit(tag), self.by_key.get(key)
        if circuit is not None and branch is None:
            return (f"combined with tag {self.job.change(key).into}",)
        return effects(self.job, circuit, branch) if circuit and branch else ()

    def families(self) -> Iterator[Entry]:
        """The kind of each breaker with the reasons; what the practices rest on, shares of fastened loads, the least number of
        general circuits."""
        for branch in self.branches:
            if (made := self._protection(branch)) is not None:
                yield made
        yield from (entry for one in self.practices for entry in (one.by_va, one.by_use))
        plates = self.load.inputs.nameplates
        shares = (fastened_share(self.job, branch, plates, self.codebook) for branch in self.branches)
        yield from (share for share in shares if share is not None)
        yield from self.least_general.values()

    def one_of_family(self, entry_id: str) -> Entry | None:
        """The protection of one circuit without working out that of all."""
        kind, _, key = entry_id.partition(".")
        if kind != "protection":
            return super().one_of_family(entry_id)
        branch = self.by_key.get(CircuitKey(key))
        return self._protection(branch) if branch else None

    def _protection(self, branch: Branch) -> Entry | None:
        if branch.protection is None:
            return None
        return protection_entry(branch.key, branch.name, branch.work, branch.protection, self.codebook)

    def old_findings(self) -> Iterator[Finding]:
        """Findings of the Pull-off: the circuits and the panel as found, the marking order."""
        yield from circuit_findings(self.job, self.load.inputs.nameplates, self.codebook)
        yield from old_panel_findings(self.job, self.codebook)
        yield from pass_findings(self.job, self.codebook)

    def required_findings(self) -> Iterator[Finding]:
        """What is required and missing, and what may not share a circuit."""
        yield from required_findings(self.job, self.branches, self.requirements, self.codebook)
        yield from supply_side_findings(self.job, self.branches, self.codebook)
        yield from ledger_findings(self.job, self.branches, self.codebook)
        yield from share_findings(self.job, self.branches, self.load.inputs.nameplates, self.codebook)


def circuits_result(job: Job, load: LoadResult, main: Entry, codebook: Codebook) -> CircuitsResult:
    """Every circuit of the new panel, dealt the load by the job's method; `main` is the service's [A]."""
    made = branches(job, load.inputs.nameplates, load.dealt, main, codebook)
    return CircuitsResult(job, codebook, load, tuple(made))
