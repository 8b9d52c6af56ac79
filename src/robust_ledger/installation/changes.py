"""What becomes of everything between what was found and what is planned: the difference, node by node and run by run."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from msgspec import Struct

from robust_ledger.installation.model import Change, Conductor, Node, Run
from robust_ledger.service.raceway import RACEWAY_WORDS


class Changed(Struct, frozen=True):
    """A thing and what becomes of it: its key, what it is called, how it is planned, and how much of it this job puts in."""

    key: str
    words: str
    planned: str
    change: Change


def changes_of(nodes: Sequence[Node], runs: Sequence[Run]) -> Iterator[Changed]:
    """Nodes in their order, then runs with their raceways."""
    for node in nodes:
        if node.kind != "service point":
            yield Changed(node.key, node.title, _node_words(node), _node_change(node, runs))
    for run in runs:
        if not run.by_utility:
            yield Changed(run.key, run.title, wires_text(run), _run_change(run))
        if run.raceway is not None:
            kind = RACEWAY_WORDS[run.raceway.kind] if run.raceway.kind else "kind ?"
            words = f"{run.raceway.trade_size or 'trade size ?'} {kind}"
            yield Changed(f"{run.key}.raceway", f"Raceway: {run.words}", words, run.raceway.change)


def _node_change(node: Node, runs: Sequence[Run]) -> Change:
    """A node that stays is touched where a conductor of this job lands in it."""
    if node.change is not Change.KEPT:
        return node.change
    landed = (joint for run in runs for one in run.conductors for joint in one.joints if joint.node == node.key)
    return Change.TOUCHED if any(joint.change.worked_at for joint in landed) else Change.KEPT


def _run_change(run: Run) -> Change:
    """A run that stays is touched where it is landed anew."""
    if run.change is not Change.KEPT:
        return run.change
    ends = (joint for one in run.conductors for joint in one.joints)
    return Change.TOUCHED if any(joint.change.worked_at for joint in ends) else Change.KEPT


def _node_words(node: Node) -> str:
    rating = node.rating.text() if node.rating is not None and node.rating.known else ""
    parts = [rating, *node.marked, f"{node.spaces} spaces" if node.spaces else ""]
    return ", ".join(part for part in parts if part)


def wires_text(run: Run) -> str:
    """The conductors of a run in a line."""
    if run.by_utility:
        return "the utility's"
    by_name: dict[str, Conductor] = {one.name: one for one in run.conductors}
    hots = by_name.get("A")
    parts = [f"2 × {hots.size.text()}"] if hots is not None else []
    names = {"N": "neutral", "G": "EGC", "GEC": "", "bond": ""}
    parts += [f"{names[name]} {by_name[name].size.text()}".strip() for name in names if name in by_name]
    return ", ".join(parts)
