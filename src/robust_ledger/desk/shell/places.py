"""What is said of a place: the findings about it, and the entries that explain it."""

from __future__ import annotations

from robust_ledger.ledger.entry import Finding
from robust_ledger.plan import Plan


def findings_at(plan: Plan, place: str) -> list[Finding]:
    """Findings of any stage about a place; a branch circuit stands for the old circuit or the load it comes from."""
    kind, _, rest = place.partition(":")
    places = {place}
    if kind == "branch":
        places.add(rest.replace("tag:", "circuit:"))
    elif kind == "circuit":
        places.add(f"branch:tag:{rest}")
    elif kind == "load":
        places.add(f"branch:load:{rest}")
    return [finding for finding in plan.findings if finding.place in places]


def entries_of(plan: Plan, place: str) -> tuple[str, ...]:
    """The entries that explain a place, the most telling first."""
    kind, _, rest = place.partition(":")
    if kind == "circuit":
        rest = f"tag:{rest}"
    if kind in ("circuit", "branch"):
        wanted = [f"branch.breaker.{rest}", f"branch.wire.{rest}", f"branch.expected.{rest}"]
        if kind == "circuit":
            wanted.pop(1)
        else:
            wanted = [f"reach.{rest}", f"protection.{rest}", wanted[0], wanted[2]]
    elif kind == "load":
        counted = [line.entry_id for line in plan.chosen.lines if line.place == place]
        wanted = [f"load.nameplate.{rest}", *counted, f"branch.breaker.load:{rest}", f"branch.wire.load:{rest}"]
    else:
        wanted = [entry_id for entry_id, entry in plan.entries.items() if entry.place == place][:2]
    return tuple(dict.fromkeys(entry_id for entry_id in wanted if plan.entry(entry_id)))
