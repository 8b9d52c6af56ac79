"""What old wiring allows and what it does not: bare neutrals by their cable, circuits without a ground, knob-and-tube under insulation."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.branch.circuits import loads_of
from robust_ledger.branch.serves import serves
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.job.tree import is_service, main_behind, panel_of_key
from robust_ledger.ledger.entry import Finding

NO_GROUND_CABLES = ("knob_tube", "bx")
_EXTENDED = ("extended", "lengthened")


def bare_neutral_refused(job: Job, circuit: Circuit) -> str:
    """Why a bare neutral may not stay as it is; "" where it may, or may once its cable is known to be SE [250.140]."""
    change, panel_id = job.change(CircuitKey.of_tag(circuit.tag)), panel_of_key(job, CircuitKey.of_tag(circuit.tag))
    if circuit.cable not in ("", "se"):
        return "Only the bare wire of SE cable was ever lawful as a neutral, and this is another cable."
    if change.work in _EXTENDED or change.action == "convert":
        return "Extended or converted it is no longer an existing circuit that may stay."
    if not bars_together(job, panel_id):
        return "In the new panel neutrals and grounds are apart; a bare neutral may not land there."
    return ""


def bars_together(job: Job, panel_id: str) -> bool:
    """Whether neutral and ground are one in a panel as planned: it is the service equipment [250.24]."""
    if panel_id == MAIN:
        return job.panel.first_disconnect and not main_behind(job)
    panel = job.panel_of(panel_id)
    return panel is not None and panel.box.first_disconnect and is_service(job, panel)


def bare_neutral_findings(job: Job, circuit: Circuit, about: Findings) -> Iterator[Finding]:
    """A bare neutral: settled by the plan, lawful, to be looked at, or to be stopped."""
    if Mark.BARE_NEUTRAL not in circuit.marks:
        return
    action = job.change(CircuitKey.of_tag(circuit.tag)).action
    if action in ("new_cable", "cap"):
        yield about.find("branch.bare_neutral_goes", new_cable=action == "new_cable")
    elif refused := bare_neutral_refused(job, circuit):
        yield about.find("branch.bare_neutral_barred", why=refused)
    elif not circuit.cable:
        yield about.find("branch.bare_neutral_cable")
    else:
        yield about.find("branch.bare_neutral_stays")


def no_ground_findings(job: Job, circuit: Circuit, about: Findings) -> Iterator[Finding]:
    """A circuit without a ground: lawful as it is; replaced receptacles and extensions need one of the ways there are."""
    if circuit.off or (Mark.NO_GROUND not in circuit.marks and circuit.cable not in NO_GROUND_CABLES):
        return
    change = job.change(CircuitKey.of_tag(circuit.tag))
    if change.action == "new_cable":
        return
    touched = change.work in ("receptacles", *_EXTENDED) or change.action == "convert"
    read = serves(circuit.feeds, circuit.room, loads_of(job, circuit), change, job.conventions.own)
    own = "an EGC run to it from the panel or the GEC"
    plugged = (
        'receptacles of the two-slot kind; GFCI protection and three-slot ones marked "No Equipment Ground" and '
        '"GFCI Protected"; or ' + own
    )
    ways = own if read.fixed and not read.receptacles else plugged
    yield about.find("branch.no_ground", touched=touched, extended=change.work in _EXTENDED, ways=ways)


def knob_tube_findings(circuit: Circuit, about: Findings) -> Iterator[Finding]:
    """Knob-and-tube: needs free air around it."""
    if circuit.cable != "knob_tube":
        return
    if circuit.insulated:
        yield about.find("branch.knob_tube")
    else:
        yield about.find("branch.knob_tube_seen", unseen=circuit.insulated is None)


def gone_findings(job: Job, circuit: Circuit, about: Findings) -> Iterator[Finding]:
    """A circuit whose loads all go with this job and that keeps its breaker."""
    change = job.change(CircuitKey.of_tag(circuit.tag))
    loads = [load for load_id in circuit.load_ids if (load := job.load(load_id)) is not None]
    if circuit.off or not loads or any(load.when != "removed" for load in loads) or change.action != "keep":
        return
    names = " and ".join(load.name for load in loads)
    yield about.find("branch.load_gone", several=len(loads) > 1, names=names)
