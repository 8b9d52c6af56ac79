"""A circuit as the subject of findings: as found, and of the new panel."""

from __future__ import annotations

from robust_ledger.branch.model import Branch
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import upper_first

STAGE = "pulloff"


def of_branch(branch: Branch, codebook: Codebook, stage: str = "bench") -> Findings:
    """A maker of findings about one circuit of the new panel; their titles begin with its tag, or with what a new one feeds."""
    subject = f"Tag {branch.tag}" if branch.tag != "new" else upper_first(branch.feeds)
    return Findings(codebook, stage).about(Place.branch(branch.key), branch.key, subject)


def of_circuit(circuit: Circuit, codebook: Codebook, named: bool = True) -> Findings:
    """A maker of findings about one circuit as found; their titles begin with its tag where it is `named`."""
    made = Findings(codebook, STAGE)
    return made.about(Place.circuit(circuit.tag), CircuitKey.of_tag(circuit.tag), f"Tag {circuit.tag}" if named else "")
