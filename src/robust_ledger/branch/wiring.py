"""What old wiring means for the new panel, circuit by circuit: its kind, metal and what was done to it. Each with the effect
on the plan: new breaker, new cable, protection further on, kept capped, ground to be landed."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import area_cmil
from robust_ledger.findings import Findings
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.ledger.entry import Finding

CABLE_NAMES = {
    "nm": "non-metallic cable",
    "cloth": "cloth insulation",
    "rubber": "rubber insulation",
    "bx": "old BX, no bonding strip",
    "ac": "AC cable with bonding strip",
    "mc": "metal-clad cable",
    "conduit": "metal conduit",
    "se": "service-entrance cable",
    "uf": "underground feeder cable",
    "knob_tube": "knob-and-tube wiring",
}


def wiring_findings(
    circuit: Circuit, fused: bool, renewed: bool, codebook: Codebook, about: Findings
) -> Iterator[Finding]:
    """Judgment of the wiring as found; a capped circuit is judged for its kind only. `fused`: it is in a fuse box, where 30 A plug fuses
    are told of once; `renewed`: it gets a new cable."""
    yield from _kind(circuit, about)
    yield from _conversion(circuit, about)
    if circuit.off:
        return
    if circuit.metal == "al" and circuit.gauge and _branch_size(circuit.gauge, codebook) and not renewed:
        yield about.find("branch.aluminum")
    if circuit.poles == 1 and (circuit.breaker_a or 0) >= 30 and not fused:
        yield about.find("branch.single_30", breaker_a=circuit.breaker_a)
    yield from _doubled(circuit, about)


def _branch_size(gauge: str, codebook: Codebook) -> bool:
    """Of the solid sizes that loosen under screws; 8 AWG and larger are stranded, landed as any feeder is."""
    return (area_cmil(codebook, gauge) or 0) < (area_cmil(codebook, "8") or 0)


def _kind(circuit: Circuit, about: Findings) -> Iterator[Finding]:
    """By the kind of wiring found."""
    if circuit.cable in ("cloth", "rubber"):
        yield about.find("branch.insulation", key=f"insulation_{circuit.cable}", cable=CABLE_NAMES[circuit.cable])
    elif circuit.cable == "bx":
        yield about.find("branch.armor")
    elif circuit.cable in ("conduit", "ac", "mc"):
        words = {
            "conduit": "The conduit itself is the EGC: its locknuts and couplings carry the fault current.",
            "ac": "Armor and strip together are the EGC.",
            "mc": "Its EGC wire, or its armor where it is listed so, is the EGC.",
        }[circuit.cable]
        yield about.find("branch.ground_path", cable=CABLE_NAMES[circuit.cable], why=words)


def _doubled(circuit: Circuit, about: Findings) -> Iterator[Finding]:
    if Mark.DOUBLED in circuit.marks:
        yield about.find("branch.doubled")


def _conversion(circuit: Circuit, about: Findings) -> Iterator[Finding]:
    """From 240 V to 120 V, some day: off until then."""
    if Mark.LATER_120 in circuit.marks:
        yield about.find("branch.later_120")
        if circuit.poles == 1:
            yield about.find("branch.later_120_poles")
