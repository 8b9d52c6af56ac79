"""What is said of a place: the findings about it, and the entries that explain it."""

from __future__ import annotations

from robust_ledger.job.keys import CircuitKey
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import is_whole
from robust_ledger.plan import Plan


def findings_at(plan: Plan, place: str) -> list[Finding]:
    """Findings of any stage about a place; a branch circuit stands for the old circuit or the load it comes from."""
    here = Place(place)
    places = {here}
    if here.kind == "branch":
        key = CircuitKey(here.name)
        places.add(Place.of("circuit" if key.kind == "tag" else key.kind, key.name))
    elif here.kind == "circuit":
        places.add(Place.branch(_key_of(here)))
    elif here.kind == "load":
        places.add(Place.branch(CircuitKey.of_load(here.name)))
    return [finding for finding in plan.findings if finding.place in places]


def entries_of(plan: Plan, place: str) -> tuple[str, ...]:
    """The entries that explain a place, the most telling first."""
    here = Place(place)
    if here.kind == "circuit":
        key = _key_of(here)
        wanted = [f"branch.breaker.{key}", f"branch.expected.{key}"]
    elif here.kind == "branch":
        key = CircuitKey(here.name)
        wanted = [
            f"reach.{key}",
            f"splice.{key}",
            f"protection.{key}",
            f"branch.breaker.{key}",
            f"branch.expected.{key}",
        ]
    elif here.kind == "load":
        key = CircuitKey.of_load(here.name)
        counted = [line.entry_id for line in plan.load.chosen.lines if line.place == here]
        wanted = [f"load.nameplate.{here.name}", *counted, f"branch.breaker.{key}", f"branch.wire.{key}"]
    else:
        wanted = [entry_id for entry_id, entry in plan.entries.items() if entry.place == here][:2]
    return tuple(dict.fromkeys(entry_id for entry_id in wanted if plan.entry(entry_id)))


def _key_of(circuit: Place) -> CircuitKey:
    """The key of an old circuit's place; of no circuit where it names no tag."""
    return CircuitKey.of_tag(int(circuit.name)) if is_whole(circuit.name) else CircuitKey(circuit.name)
