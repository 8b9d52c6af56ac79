"""The panels as a tree: who is fed from whom, which circuits belong to which, and a job as one of them sees it."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from msgspec.structs import replace

from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.panel_tree import AHEAD, MAIN, Panel
from robust_ledger.job.parts.panels import NewPanel

FEEDER = "feeder."  # of an equipment key: the breaker of a panel's feeder
MAIN_FEEDER = CircuitKey.of_equipment(f"{FEEDER}{MAIN}")


def back_fed_key(panel_id: str) -> CircuitKey:
    """The back-fed main of a panel, which sits in spaces of its bus."""
    return CircuitKey.of_equipment("main" if panel_id == MAIN else f"main.{panel_id}")


def panel_name(job: Job, panel_id: str) -> str:
    """What a panel is called: "main panel", "garage panel"."""
    if panel_id == MAIN:
        return "main panel"
    panel = job.panel_of(panel_id)
    name = (panel.name if panel else panel_id) or "sub"
    return name if name.lower().endswith("panel") else f"{name} panel"


def panel_ids(job: Job) -> tuple[str, ...]:
    """The main panel and every other, in the order in which they are fed."""
    return (MAIN, *(panel.id for panel in in_order(job)))


def in_order(job: Job) -> tuple[Panel, ...]:
    """The panels beside the main one, each after the one that feeds it."""
    if not job.panels:
        return ()
    made: list[Panel] = []
    above = {panel.id: parent(job, panel) for panel in job.panels}

    def put(feeding: str) -> None:
        for panel in job.panels:
            if above[panel.id] == feeding:
                made.append(panel)
                put(panel.id)

    for start in (*AHEAD, MAIN):
        put(start)
    return tuple(made)


def parent(job: Job, panel: Panel) -> str:
    """What feeds a panel: "meter", "disconnect", "panel" or an id. One that is fed by itself, or by nothing there is, counts as fed
    from the main panel; `lost` tells of it. What is fed from a disconnect with spaces of its own has its breaker in those."""
    if panel.fed_from == "disconnect" and (box := ahead_box(job)) is not None and box.id != panel.id:
        return box.id
    return MAIN if lost(job, panel) else panel.fed_from


def fed_at(job: Job, panel: Panel) -> str:
    """The same for the way of the current: the enclosure of the disconnect is the disconnect itself, and one that is not there is no
    stop on the way."""
    above, box = parent(job, panel), ahead_box(job)
    above = "disconnect" if box is not None and above == box.id else above
    return "meter" if above == "disconnect" and not job.disconnect_ahead else above


def lost(job: Job, panel: Panel) -> str:
    """Why it is not known what feeds a panel: "by itself", or "by one that is not there"; "" where it is."""
    by_id = {one.id: one for one in job.panels}
    at, passed = panel, {panel.id}
    while at.fed_from not in (*AHEAD, MAIN):
        if at.fed_from not in by_id:
            return "by one that is not there" if at is panel else ""
        if at.fed_from == panel.id:
            return "by itself"
        if at.fed_from in passed:  # a circle further up: told there
            return ""
        passed.add(at.fed_from)
        at = by_id[at.fed_from]
    return ""


def fed_below(job: Job, panel_id: str) -> frozenset[str]:
    """A panel and every one that is fed from it, directly or by way of others."""
    made = {panel_id}
    for panel in in_order(job):
        if parent(job, panel) in made:
            made.add(panel.id)
    return frozenset(made)


def depth(job: Job, panel: Panel) -> int:
    """How many panels stand between it and the service."""
    count, at = 0, parent(job, panel)
    while (above := job.panel_of(at)) is not None and count < len(job.panels):
        count, at = count + 1, parent(job, above)
    return count + (at == MAIN)


def takes_spaces(job: Job, panel: Panel) -> bool:
    """Whether the breaker of its feeder sits in a panel of this job."""
    return panel.fed_by != "lugs" and parent(job, panel) not in AHEAD


def is_service(job: Job, panel: Panel) -> bool:
    """Whether a panel is a service disconnect itself: nothing of the service stands ahead of it but a meter disconnect or the like."""
    above = fed_at(job, panel)
    return above == "meter" or (above == "disconnect" and not job.first_ahead)


def ahead_box(job: Job) -> Panel | None:
    """The panel that is the enclosure of the disconnect ahead, as in a meter-main with spaces of its own; None where there is none."""
    if not job.disconnect_ahead:
        return None
    return next((panel for panel in job.panels if panel.fed_by == "same" and panel.fed_from == "disconnect"), None)


def is_enclosure(job: Job, panel: Panel) -> bool:
    """Whether a panel is the enclosure of the disconnect ahead, so that it has no feeder."""
    box = ahead_box(job)
    return box is not None and box.id == panel.id


def inside_box(job: Job) -> Panel | None:
    """The panel with the breaker that feeds the main one; None where it is fed otherwise."""
    return ahead_box(job) if job.decisions.inside_fed_by == "breaker" else None


def feeder_tag(job: Job, panel: Panel) -> int | None:
    """The old circuit that fed a panel: as said, else the one that is called a feeder and names it, or is the only one it can be."""
    if panel.feeder_tag is not None or not takes_spaces(job, panel):
        return panel.feeder_tag
    alone, name = len(job.panels) == 1, panel.name.strip().lower()
    said = {one.feeder_tag for one in job.panels}
    for circuit in job.circuits:
        words = circuit.feeds.lower()
        if "feeder" in words and not circuit.off and circuit.tag not in said and (alone or (name and name in words)):
            return circuit.tag
    return None


def feeder_key(job: Job, panel: Panel) -> CircuitKey | None:
    """The circuit that is a panel's feeder; None where its breaker is in no panel of this job."""
    if not takes_spaces(job, panel):
        return None
    tag = feeder_tag(job, panel)
    return CircuitKey.of_tag(tag) if tag is not None else CircuitKey.of_equipment(f"{FEEDER}{panel.id}")


def fed_by_key(key: CircuitKey) -> str:
    """The id of the panel that a feeder's breaker feeds; "" for any other circuit."""
    return key.name.removeprefix(FEEDER) if key.kind == "equip" and key.name.startswith(FEEDER) else ""


def panel_of_key(job: Job, key: CircuitKey) -> str:
    """The panel a circuit belongs to. A feeder's breaker is where it is fed from; what is marked for no panel there is, is in the main
    one."""
    return panels_of(job)(key)


def panels_of(job: Job) -> Callable[[CircuitKey], str]:
    """The same for many circuits of one job, whose feeders are looked for once."""
    if not job.panels:
        return lambda _key: MAIN
    fed_by_tag = {tag: panel for panel in reversed(job.panels) if (tag := feeder_tag(job, panel)) is not None}
    return lambda key: _panel_of(job, key, fed_by_tag)


def _panel_of(job: Job, key: CircuitKey, fed_by_tag: Mapping[int, Panel]) -> str:
    if key.kind == "equip":
        kind, _, of = key.name.partition(".")
        if kind == "main":
            return of if job.panel_of(of) is not None else MAIN
        if key == MAIN_FEEDER:
            return box.id if (box := inside_box(job)) is not None else MAIN
        fed = job.panel_of(of) if kind == "feeder" else None
        return parent(job, fed) if fed is not None and takes_spaces(job, fed) else MAIN
    if key.tag is not None:
        fed = fed_by_tag.get(key.tag)
        if fed is not None and takes_spaces(job, fed):
            return parent(job, fed)
    chosen = job.change(key).panel
    return chosen if chosen and job.panel_of(chosen) is not None else MAIN


def record_of(job: Job, panel_id: str) -> NewPanel:
    """The record of a panel."""
    panel = job.panel_of(panel_id)
    return panel.box if panel is not None else job.panel


def seen_from(job: Job, panel_id: str) -> Job:
    """The job with one panel in the main one's place: its record, and only the placements in it. For all that is about one panel."""
    if panel_id == MAIN and not job.panels:
        return job
    decided = job.decisions
    of = panels_of(job)
    placements = {key: at for key, at in decided.placements.items() if of(key) == panel_id}
    pins = tuple(key for key in decided.pins if of(key) == panel_id)
    decisions = replace(decided, placements=placements, pins=pins)
    return replace(job, panel=record_of(job, panel_id), decisions=decisions)
