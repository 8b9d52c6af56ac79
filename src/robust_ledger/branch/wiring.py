"""What old wiring means for the new panel, circuit by circuit: its kind, metal and what was done to it. Each with the effect
on the plan: new breaker, new cable, protection further on, kept capped, ground to be landed."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import area_cmil
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.ledger.entry import Finding, Severity
from robust_ledger.ledger.findings import Findings

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


def wiring_findings(circuit: Circuit, fused: bool, codebook: Codebook, about: Findings) -> Iterator[Finding]:
    """Judgment of the wiring as found; a capped circuit is judged for its kind only. `fused`: it is in a fuse box, where 30 A plug fuses
    are told of once."""
    yield from _kind(circuit, about)
    yield from _conversion(circuit, about)
    if circuit.off:
        return
    if circuit.metal == "al" and circuit.gauge and _branch_size(circuit.gauge, codebook):
        yield about.make(
            "aluminum",
            Severity.FIX,
            title="is aluminum branch wiring",
            text="Its joints loosen and heat at devices that were not made for it. 12 AWG of it is a 15 A circuit.",
            remedy="Keep the smaller breaker of the plan; CO/ALR devices or listed Al/Cu connectors at every splice; AL-rated breaker terminals.",
            rules=(
                "small_conductors",
                "aluminum",
            ),
        )
    if circuit.poles == 1 and (circuit.breaker_a or 0) >= 30 and not fused:
        yield about.make(
            "single_30",
            Severity.ASK,
            title=f"is a single-pole {circuit.breaker_a:g} A",
            text="Rare in a house: half of a 240 V circuit, or a breaker put in for one that tripped.",
            remedy="Look at what it feeds, and for a second hot in the same cable, before it gets a breaker.",
            rules=("small_conductors",),
        )
    yield from _doubled(circuit, about)


def _branch_size(gauge: str, codebook: Codebook) -> bool:
    return (area_cmil(codebook, gauge) or 0) <= (area_cmil(codebook, "8") or 0)


def _kind(circuit: Circuit, about: Findings) -> Iterator[Finding]:
    """By the kind of wiring found."""
    if circuit.cable in ("cloth", "rubber"):
        yield about.make(
            f"insulation_{circuit.cable}",
            Severity.ASK,
            title=f"has {CABLE_NAMES[circuit.cable]}",
            text="Old insulation breaks off where it is bent, and behind it there is often no ground.",
            remedy="Handle gently, sleeve or heat-shrink in the panel, test it before it is energized; plan a new cable where it crumbles.",
            rules=("workmanship",),
        )
    elif circuit.cable == "bx":
        yield about.make(
            "armor",
            Severity.FIX,
            title="is old BX, no bonding strip",
            text="Its spiral armor is too poor a path to be the EGC.",
            remedy='Plan a new cable, or GFCI-protect and label "No Equipment Ground" (406.4(D)(2)).',
            rules=("armor",),
        )
    elif circuit.cable in ("conduit", "ac", "mc"):
        words = {
            "conduit": "The conduit itself is the EGC: its locknuts and couplings carry the fault current.",
            "ac": "Armor and strip together are the EGC.",
            "mc": "Its EGC wire, or its armor where it is listed so, is the EGC.",
        }[circuit.cable]
        yield about.make(
            "ground_path",
            Severity.NOTE,
            title=f"is in {CABLE_NAMES[circuit.cable]}",
            text=words,
            remedy="Keep it tight and bonded to the new enclosure; do not lose the path when it is cut back.",
            rules=("ground_paths",),
        )


def _doubled(circuit: Circuit, about: Findings) -> Iterator[Finding]:
    if Mark.DOUBLED in circuit.marks:
        yield about.make(
            "doubled",
            Severity.FIX,
            title="is on a double-tapped breaker",
            text="Two wires sit under one terminal; few breakers are marked for that.",
            remedy="A breaker for each, which takes one more space, or a splice to one wire where both belong together.",
            rules=("one_wire",),
        )


def _conversion(circuit: Circuit, about: Findings) -> Iterator[Finding]:
    """From 240 V to 120 V, some day: off until then."""
    if Mark.LATER_120 in circuit.marks:
        yield about.make(
            "later_120",
            Severity.NOTE,
            title="is to become a 120 V circuit",
            text="It stays off until its outlet is changed: the white wire is a hot today and will be the neutral.",
            remedy="Land the EGC, cap the hots, and re-mark the white when it is converted; the directory says so until then.",
            rules=("white_hot",),
        )
        if circuit.poles == 1:
            yield about.make(
                "later_120_poles",
                Severity.ASK,
                title="is to become 120 V, but has one pole already",
                text="A conversion is from 240 V.",
                remedy="Read the breaker again, or take the mark off.",
                rules=("two_pole",),
            )
