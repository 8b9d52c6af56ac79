"""A circuit as the call-out line that reads back to it, the terse way."""

from __future__ import annotations

from functools import lru_cache

from robust_ledger.branch.links import loads_named
from robust_ledger.callout.circuit import best_description
from robust_ledger.callout.letters import LOAD
from robust_ledger.callout.words import CABLE_SHORT, MARK_SHORT
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.readers.quantity import length_text

_NO_JOB = Job()


_WANTING = ("mw", "mwbc", "clamp", "slack", "free")  # at the end of a line they want a tag, a reading or a length


def callout_text(circuit: Circuit, job: Job | None = None) -> str:
    """Write a circuit as the line that reads back to it. With its job, loads are named that the description does not."""
    amps = "?" if circuit.breaker_a is None else f"{circuit.breaker_a:g}"
    wires = f"-{circuit.conductors}" if circuit.conductors and circuit.gauge else ""
    gauge = (circuit.gauge or "?") + wires + (circuit.metal if circuit.metal != "cu" and circuit.gauge else "")
    before = [
        ",".join(circuit.spaces) or "-",
        f"{amps}/{circuit.poles}" if circuit.poles > 1 else amps,
        gauge,
        CABLE_SHORT[circuit.cable] if circuit.cable else "",
        circuit.device,
    ]
    after = [f"={load_id}" for load_id in _unnamed_loads(circuit, job)] if job else []
    after += [MARK_SHORT[mark] for mark in circuit.marks]
    if circuit.shares_neutral_with is not None:
        after.append(f"mw tag {circuit.shares_neutral_with}")
    if circuit.clamp_a is not None:
        after.append(f"clamp {circuit.clamp_a:g}")
    at = f"@{length_text(circuit.enters_at_in)}in" if circuit.enters and circuit.enters_at_in is not None else ""
    if circuit.free_in is not None:
        after.append(f"{circuit.enters or 'free'}{at} {length_text(circuit.free_in)}in")
    elif circuit.enters:
        after.append(f"{circuit.enters}{at} ?")
    if circuit.slack_in is not None:
        after.append(f"slack {length_text(circuit.slack_in)}in")
    return _written(" ".join(part for part in before if part), circuit.feeds, " ".join(after))


@lru_cache(maxsize=8192)
def _written(before: str, feeds: str, after: str) -> str:
    """The line with the description as it is where it reads as one, else in quotes."""
    feeds = " ".join(feeds.replace('"', "'").split())
    if not feeds:
        return f"{before} {after}".strip()
    plain = f"{before} {feeds} {after}".strip()
    wants_more = feeds.lower().endswith(_WANTING)
    reads = not wants_more and best_description(plain, _NO_JOB) == feeds
    return plain if reads else f'{before} "{feeds}" {after}'.strip()


def _unnamed_loads(circuit: Circuit, job: Job) -> list[str]:
    """The linked loads, unless the description names just these. A load whose id is no plain word is left to the link."""
    named = list(loads_named(circuit.feeds, job.loads))
    linked = [load_id for load_id in circuit.load_ids if job.load(load_id) and LOAD.match(f"={load_id}")]
    return [] if linked == named else linked
