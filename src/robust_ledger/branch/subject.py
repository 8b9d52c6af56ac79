"""An old circuit as the subject of findings."""

from __future__ import annotations

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place

STAGE = "pulloff"


def of_circuit(circuit: Circuit, codebook: Codebook, named: bool = False) -> Findings:
    """A maker of findings about one circuit as found; `named`: their titles begin with its tag."""
    made = Findings("branch", codebook, STAGE)
    return made.about(Place.circuit(circuit.tag), CircuitKey.of_tag(circuit.tag), f"Tag {circuit.tag}" if named else "")
