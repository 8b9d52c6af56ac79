"""Ranges, dryers, cooktops and panels that were wired while their neutral was also the ground: each asked for one by one where this job takes neutral
and ground apart ahead of it, and what four wires take [250.140, 250.142(B), 250.32(B)]."""

from __future__ import annotations

import re
from collections.abc import Iterator

from robust_ledger.branch.circuits import loads_of, names_loads
from robust_ledger.branch.found_wiring import bars_together
from robust_ledger.branch.serves import serves
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.job.tree import feeder_tag, panel_of_key
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.text import UNKNOWN, number_text

# What has a neutral of its own on two hots, and what may do without one.
ALWAYS = ("range", "dryer")
MAYBE = ("cooktop", "wall oven")
_SETTLED = ("new_cable", "cap", "convert")
_PANEL = re.compile(
    r"\bsub[ -]?panels?\b|\bfeeders?\b|\bfeeds? (?:the )?\w+ panel\b|\b(?:garage|barn|shed|shop|attic|basement) panel\b",
    re.I,
)
_BUILDING = re.compile(
    r"\b(?:detached \w+|barn|pole barn|outbuilding|out building|guest house|guesthouse|casita|accessory building|shop building)\b",
    re.I,
)


def three_wire_findings(job: Job, circuit: Circuit, about: Findings) -> Iterator[Finding]:
    """A range or dryer on a cable whose bare wire would be its neutral; one whose wires nobody has counted, where the bond moves; a panel that the
    directory names and the tree has not."""
    if circuit.off or circuit.poles != 2 or job.change(CircuitKey.of_tag(circuit.tag)).action in _SETTLED:
        return
    if _is_panel(job, circuit):
        yield about.find("branch.panel_unlisted", words=circuit.feeds)
        return
    what, sure = neutral_appliance(job, circuit)
    if not what or Mark.BARE_NEUTRAL in circuit.marks or circuit.conductors in (3, 4):
        return
    cable, feet = four_wires(job, circuit), _feet(job, circuit)
    if circuit.conductors == 2 and circuit.cable != "se":
        if sure:
            yield about.find("branch.two_wire", what=what, cable=cable, feet=feet)
        else:
            yield about.find("branch.two_wire_maybe", what=what, cable=cable, feet=feet)
    elif bond_moves(job, circuit):
        yield about.find("branch.three_wire", what=what, cable=cable, feet=feet, se=circuit.cable == "se")


def neutral_appliance(job: Job, circuit: Circuit) -> tuple[str, bool]:
    """What on a circuit has a neutral beside two hots, and whether it has for sure; "" for none. A load that is said to have none has none."""
    loads = [load for load in loads_of(job, circuit) if load.two_hots]
    if (loads and not any(load.has_neutral for load in loads)) or (names_loads(job, circuit) and not loads):
        return "", False
    named = serves(
        circuit.feeds, circuit.room, loads, job.change(CircuitKey.of_tag(circuit.tag)), job.conventions.own
    ).appliances
    said = any(load.uses_neutral for load in loads)
    for name in (*ALWAYS, *MAYBE):
        if name in named:
            return name, said or name in ALWAYS
    return "", False


def bond_moves(job: Job, circuit: Circuit) -> bool:
    """Whether this job takes neutral and ground apart in the panel the circuit lands in, where they were together before."""
    panel_id = panel_of_key(job, CircuitKey.of_tag(circuit.tag))
    if bars_together(job, panel_id):
        return False
    panel = job.panel_of(panel_id)
    return not job.kept_disconnect if panel_id == MAIN else panel is not None and not panel.there


def four_wires(job: Job, circuit: Circuit) -> str:
    """The cable with four wires that it takes."""
    size = circuit.gauge or UNKNOWN
    return f"{size}-3 with ground"


def _feet(job: Job, circuit: Circuit) -> str:
    way = job.change(CircuitKey.of_tag(circuit.tag)).cable_ft
    return f"{number_text(way)} ft" if way is not None else f"{UNKNOWN} ft (enter its way on the Circuits page)"


def _is_panel(job: Job, circuit: Circuit) -> bool:
    """Whether its words name a panel, or a building that has one, and no panel of the tree is fed by it."""
    if any(feeder_tag(job, panel) == circuit.tag for panel in job.panels):
        return False
    if _PANEL.search(circuit.feeds):
        return True
    read = serves(circuit.feeds, circuit.room, (), job.change(CircuitKey.of_tag(circuit.tag)), job.conventions.own)
    return bool(_BUILDING.search(circuit.feeds)) and not read.appliances and not circuit.load_ids
