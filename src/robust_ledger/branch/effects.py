"""What the findings of the old panel change in the plan of a circuit, each in a few words."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.branch.found_wiring import bare_neutral_refused
from robust_ledger.branch.model import Branch
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit, Mark


def effects(job: Job, circuit: Circuit, branch: Branch) -> tuple[str, ...]:
    """The differences between the circuit as found and as planned: breaker, cable, protection, ground, marking."""
    return tuple(_off(circuit) if branch.off else _kept(job, circuit, branch))


def _off(circuit: Circuit) -> Iterator[str]:
    yield "hots capped"
    yield "its EGC is landed"
    if Mark.LATER_120 in circuit.marks:
        yield "a space when it is converted"


def _kept(job: Job, circuit: Circuit, branch: Branch) -> Iterator[str]:
    yield from _by_decision(job, circuit, branch)
    if Mark.BARE_NEUTRAL in circuit.marks and bare_neutral_refused(job, circuit) and not branch.new_cable:
        yield "new four-wire cable"
    yield from _by_wiring(circuit)
    if branch.partner:
        yield f"one handle with tag {branch.partner.tag}, on the other leg"
    if Mark.DOUBLED in circuit.marks:
        yield "a breaker for each of its wires"
    if Mark.WHITE_HOT in circuit.marks:
        yield "its white is re-marked"
    if Mark.DARK_NEUTRAL in circuit.marks:
        yield "stays off until its polarity is corrected"
    if circuit.metal == "al":
        yield "terminals marked for aluminum"
    if Mark.UNKNOWN in circuit.marks or not circuit.feeds:
        yield "trace after power-up"


def _by_decision(job: Job, circuit: Circuit, branch: Branch) -> Iterator[str]:
    """What was decided of it, and the breaker that follows."""
    action = job.change(branch.key).action
    if action == "convert":
        yield "one pole, 120 V"
    if action == "split":
        yield f"split: tag {branch.tag}.2 gets a new cable"
    if branch.new_cable:
        yield "new cable"
    if branch.device.electronic:
        yield f"{branch.device} breaker"
    if not branch.breaker.known:
        yield "no breaker until its gauge is known"
    elif circuit.breaker_a and branch.breaker.amount != circuit.breaker_a:
        yield f"{branch.breaker.amount:g} A breaker instead of {circuit.breaker_a:g}"


def _by_wiring(circuit: Circuit) -> Iterator[str]:
    """What its kind of wiring wants."""
    if circuit.cable == "bx":
        yield "new cable, or no ground and protection at the first outlet"
    if circuit.cable == "knob_tube":
        yield "new cable, or landed unchanged without a ground"
    if circuit.cable in ("conduit", "ac", "mc"):
        yield "its metal is bonded to the enclosure as its EGC"
