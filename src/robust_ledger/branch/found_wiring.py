"""What old wiring allows and what it does not: bare neutrals by their cable, circuits without a ground, knob-and-tube under insulation."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.job.tree import is_service, panel_of_key
from robust_ledger.ledger.entry import Finding, Severity
from robust_ledger.ledger.findings import Findings

NO_GROUND_CABLES = ("knob_tube", "bx")
_EXTENDED = ("extended", "lengthened")


def bare_neutral_refused(job: Job, circuit: Circuit) -> str:
    """Why a bare neutral may not stay as it is; "" where it may, or may once its cable is known to be SE [250.140]."""
    change, panel_id = job.change(CircuitKey.of_tag(circuit.tag)), panel_of_key(job, CircuitKey.of_tag(circuit.tag))
    if circuit.cable not in ("", "se"):
        return "Only the bare wire of SE cable was ever lawful as a neutral, and this is another cable."
    if change.work in _EXTENDED or change.action == "convert":
        return "Extended or converted it is no longer an existing circuit that may stay."
    panel = job.panel_of(panel_id)
    first = job.panel.first_disconnect and not job.first_ahead if panel_id == MAIN else False
    if panel is not None:
        first = panel.box.first_disconnect and is_service(job, panel)
    if not first:
        return "In the new panel neutrals and grounds are apart; a bare neutral may not land there."
    return ""


def bare_neutral_findings(job: Job, circuit: Circuit, about: Findings) -> Iterator[Finding]:
    """A bare neutral: settled by the plan, lawful, to be looked at, or to be stopped."""
    if Mark.BARE_NEUTRAL not in circuit.marks:
        return
    action = job.change(CircuitKey.of_tag(circuit.tag)).action
    if action in ("new_cable", "cap"):
        yield about.make(
            "bare_neutral",
            Severity.NOTE,
            title="has a bare neutral",
            text="The plan runs a new four-wire cable." if action == "new_cable" else "The plan caps it.",
            remedy="Change the receptacle with the cable." if action == "new_cable" else "Cap it at both ends.",
            rules=("bare_neutral",),
            field="marks",
        )
    elif refused := bare_neutral_refused(job, circuit):
        yield about.make(
            "bare_neutral",
            Severity.STOP,
            title="has a bare neutral",
            text=refused,
            remedy="Pull new 4-wire cable (two hots, neutral, EGC) and a 14-30 or 14-50 receptacle: set it on the Circuits page of the Bench.",
            rules=("bare_neutral", "bars_apart"),
            field="marks",
        )
    elif not circuit.cable:
        yield about.make(
            "bare_neutral",
            Severity.ASK,
            title="has a bare neutral, its cable not checked",
            text="It may stay if it is SE cable from this panel; the bare wire of NM cable may never be a neutral.",
            remedy='Read the jacket and add "se" or "nm" to its line.',
            rules=("bare_neutral",),
            field="marks",
        )
    else:
        yield about.make(
            "bare_neutral",
            Severity.NOTE,
            title="has a bare neutral",
            text="It may stay while this panel is the service equipment, where neutral and ground are bonded.",
            remedy="Keep a service disconnect from coming ahead of it (a meter disconnect may), or pull a four-wire cable.",
            rules=("bare_neutral", "bond_once"),
            field="marks",
        )


def no_ground_findings(job: Job, circuit: Circuit, about: Findings) -> Iterator[Finding]:
    """A circuit without a ground: lawful as it is; replaced receptacles and extensions need one of the ways there are."""
    if circuit.off or (Mark.NO_GROUND not in circuit.marks and circuit.cable not in NO_GROUND_CABLES):
        return
    change = job.change(CircuitKey.of_tag(circuit.tag))
    if change.action == "new_cable":
        return
    touched = change.work in ("receptacles", *_EXTENDED) or change.action == "convert"
    ways = (
        'receptacles of the two-slot kind; GFCI protection and three-slot ones marked "No Equipment Ground" and '
        '"GFCI Protected"; or an EGC run to it from the panel or the GEC'
    )
    yield about.make(
        "no_ground",
        Severity.FIX if touched else Severity.NOTE,
        title="has no ground",
        text="It may not be extended as it is."
        if change.work in _EXTENDED
        else "Nothing there trips on a fault to metal.",
        remedy=f"Lawful ways: {ways}. Or plan a new cable.",
        rules=("no_ground", "no_ground_extension"),
        field="marks",
    )


def knob_tube_findings(circuit: Circuit, about: Findings) -> Iterator[Finding]:
    """Knob-and-tube: needs free air around it."""
    if circuit.cable != "knob_tube":
        return
    if circuit.insulated:
        yield about.make(
            "knob_tube",
            Severity.FIX,
            title="is knob-and-tube wiring within thermal insulation",
            text="It was made to cool in free air; covered it overheats, and it may not lie in insulation.",
            remedy="Keep it off and run new cable, or have the insulation taken away from it.",
            rules=("knob_tube",),
        )
    else:
        seen = (
            "and must not be buried in insulation; nobody has looked whether it is" if circuit.insulated is None else ""
        )
        yield about.make(
            "knob_tube",
            Severity.ASK,
            title="is knob-and-tube wiring",
            text=f"It has no ground, is not extended {seen}".rstrip() + ".",
            remedy="Trace what is still on it and plan new cable; land it unchanged only if it is sound.",
            rules=("knob_tube",),
        )


def gone_findings(job: Job, circuit: Circuit, about: Findings) -> Iterator[Finding]:
    """A circuit whose loads all go with this job and that keeps its breaker."""
    change = job.change(CircuitKey.of_tag(circuit.tag))
    loads = [load for load_id in circuit.load_ids if (load := job.load(load_id)) is not None]
    if circuit.off or not loads or any(load.when != "removed" for load in loads) or change.action != "keep":
        return
    names = " and ".join(load.name for load in loads)
    yield about.make(
        "load_gone",
        Severity.ASK,
        title=f"keeps its breaker, but {names} {'go' if len(loads) > 1 else 'goes'} with this job",
        text="A live cable that ends in nothing is easily cut into.",
        remedy="Cap it on the Circuits page of the Bench, or say what it feeds from now on.",
        rules=("directory",),
        field="feeds",
    )
