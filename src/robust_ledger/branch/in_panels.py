"""Which panel each circuit goes to, and what the circuits that feed panels carry."""

from __future__ import annotations

from msgspec.structs import replace

from robust_ledger.branch.model import Branch, Origin
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.job.tree import fed_nodes, feeder_key, panel_name, panels_of
from robust_ledger.ledger.entry import Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working


def in_panels(job: Job, made: list[Branch]) -> list[Branch]:
    """Each circuit with the panel it goes to. The circuit of a feeder carries what its panel and those behind it carry."""
    if not job.panels:
        return made
    of = panels_of(job)
    placed = [replace(b, panel=of(b.key), either=job.change(b.key).either) for b in made]
    by_key = {b.key: b for b in placed}
    for panel in reversed(fed_nodes(job)):  # from the last one back, so that what is behind is known
        key = feeder_key(job, panel)
        if key is not None and key in by_key and not by_key[key].off:
            mine = [b for b in by_key.values() if b.panel == panel.id and not b.off and b.origin is not Origin.FUTURE]
            by_key[key] = _as_feeder(job, by_key[key], panel, mine)
    return list(by_key.values())


def _carrying(job: Job, branch: Branch, panel_id: str, fed: list[Branch]) -> Branch:
    """A feeder's breaker with the load of the circuits it feeds."""
    work = Working(branch.expected.id, branch.expected.label, branch.breaker.place)
    parts = [work.entry_step(one.expected) for one in fed] or [Step("nothing in its panel yet", 0.0, "VA")]
    return replace(
        branch, expected=work.entry(work.total(f"what the {panel_name(job, panel_id)} carries", parts, "VA"))
    )


def _as_feeder(job: Job, branch: Branch, panel: Panel, fed: list[Branch]) -> Branch:
    """The circuit that is a panel's feeder: with that one's breaker, the load of the circuits it feeds, and new wires where it is
    renewed."""
    branch = _carrying(job, branch, panel.id, fed)
    if branch.key.kind == "equip":
        return branch
    place = Place.of("panels", f"{panel.id}.breaker_a")
    breaker = branch.breaker
    if panel.breaker_a is not None:
        work = Working(branch.breaker.id, branch.breaker.label, place)
        breaker = work.entry(work.given("breaker of the feeder", panel.breaker_a, "A", place))
    words = "feeder that stays" if panel.found else "feeder, renewed"
    return replace(
        branch,
        breaker=breaker,
        poles=2,
        new_cable=not panel.found,
        origin_words=f"tag {branch.tag} {words}",
    )
