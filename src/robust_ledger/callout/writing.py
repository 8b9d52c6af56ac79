"""What was said of a circuit written into the job, and the loads that belong to it found."""

from __future__ import annotations

from typing import Any

from robust_ledger.branch.links import proposals
from robust_ledger.callout.circuit import Reading
from robust_ledger.callout.spoken import Fault, Spoken
from robust_ledger.job.edits import add_circuit, change_circuit, change_old_box, link_load, with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.spaces import parse_old

# What a line says about a circuit; tag, note and photos are not in it.
SPOKEN = (
    "spaces", "breaker_a", "poles", "device", "gauge", "conductors", "metal", "cable", "free_in", "enters", "enters_at_in", "slack_in", "clamp_a",
    "feeds", "room", "marks", "shares_neutral_with", "load_ids",
)  # fmt: skip


def write_down(job: Job, circuit: Circuit) -> Job:
    """Put a circuit as read into the job: a new one, or what the line says of a tag that is there. Links to loads stay while
    the description does."""
    before = job.circuit(circuit.tag)
    if before is None:
        return add_circuit(job, circuit)
    changes = {name: getattr(circuit, name) for name in SPOKEN}
    if not circuit.load_ids and before.feeds == circuit.feeds:
        changes["load_ids"] = before.load_ids
    return change_circuit(job, circuit.tag, **changes)


def taken_up(job: Job, reading: Reading) -> Job:
    """The job with what a complete reading says: a circuit, spaces with nothing wired to them, or the old panel's main."""
    change = reading.change
    if change is not None and change.main_a is not None:
        return with_part(job, "old_panel", main_a=change.main_a)
    if change is not None:
        for space in change.blank:
            position = parse_old(space)
            box = job.old_box(position.box) if position else None
            if position is not None and box is not None:
                bare = space.removeprefix(position.box)
                job = change_old_box(job, position.box, blank_spaces=tuple(dict.fromkeys((*box.blank_spaces, bare))))
        return job
    if reading.circuit is None:
        return job
    return write_down(job, reading.circuit)


def joined(job: Job, tag: int) -> Job:
    """The job with a circuit joined to the loads it plainly feeds: one candidate for each appliance that its words name."""
    circuit = job.circuit(tag)
    if circuit is None or circuit.load_ids or circuit.off:
        return job
    for load in proposals(job, circuit):
        job = link_load(job, load.id, tag)
    return job


def corrected(job: Job, tag: int, said: dict[str, Any]) -> Job:
    """The job with what was said anew of a circuit that is there; marks come on top of those it has."""
    circuit = job.circuit(tag)
    if circuit is None:
        return job
    changes = {name: value for name, value in said.items() if name in SPOKEN}
    if "marks" in changes:
        changes["marks"] = tuple(dict.fromkeys((*circuit.marks, *changes["marks"])))
    if changes.get("poles") == 1 and len(circuit.spaces) == 2 and "spaces" not in changes:
        changes["spaces"] = circuit.spaces[:1]
    if len(changes.get("spaces", ())) == 2 and "poles" not in changes:
        changes["poles"] = 2
    if "feeds" in changes:
        changes.setdefault("load_ids", ())
    return change_circuit(job, tag, **changes)


def of_reading(reading: Reading, line: str) -> Spoken:
    """A circuit's reading as what every stage says."""
    edit = (lambda job: taken_up(job, reading)) if reading.complete else None
    tag = reading.circuit.tag if reading.circuit else None
    follows = (lambda job: joined(job, tag)) if tag is not None else None
    name = reading.change.words if reading.change else f"call out tag {reading.circuit.tag}" if reading.circuit else ""
    rival = of_reading(reading.rival, line) if reading.rival else None
    place = f"circuit:{reading.circuit.tag}" if reading.circuit else ""
    fault = reading.fault
    if fault is None and not reading.complete and line.strip():
        fault = Fault(
            f"Missing: {', '.join(reading.wanted) or 'a circuit'}; say ? for what is not known.", 0, len(line)
        )
    return Spoken(
        "pulloff",
        reading.understood,
        edit,
        name,
        fault,
        reading.wanted,
        (),
        reading.asks,
        place=place,
        rival=rival,
        cost=reading.cost,
        facts=reading.said,
        follows=follows,
    )
