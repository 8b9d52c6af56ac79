"""Circuits that belong together and were put apart: two hots of one neutral in two panels."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from robust_ledger.branch.model import Branch
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.tree import panel_name
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.place import Place


def pair_findings(job: Job, branches: Sequence[Branch], codebook: Codebook) -> Iterator[Finding]:
    """A shared neutral whose hots go to different panels [210.4, 300.3(B)]."""
    find, by_key = Findings(codebook, "bench").find, {branch.key: branch for branch in branches}
    for branch in branches:
        other = by_key.get(branch.partner)
        if other is None or branch.key > other.key or branch.off or other.off or branch.panel == other.panel:
            continue
        tags = f"Tags {branch.tag} and {other.tag}"
        names = f"the {panel_name(job, branch.panel)} and the {panel_name(job, other.panel)}"
        yield find("panel.neutral_panels", at=Place.branch(branch.key), of=branch.key, tags=tags, names=names)
