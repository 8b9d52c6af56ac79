"""Reading conductors as they are typed into a field, against the sizes the code knows."""

from __future__ import annotations

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import ampacity_a
from robust_ledger.job.conductors import Conductors


def read_conductor(text: str, codebook: Codebook) -> str:
    """ "2 Cu", "4/0 al", "250 kcmil Al" as it is kept; empty means not read. Raises ValueError with one sentence."""
    if not text.strip():
        return ""
    found = Conductors.read(text)
    if found is None or found.sets > 1 or ampacity_a(codebook, found.size, found.metal, 75) is None:
        raise ValueError(f'"{text.strip()}" is not a conductor; write it like 2 Cu or 4/0 Al.')
    return str(found)
