"""What a feeder that was found may go on as: whether it stays, how many wires it has, and the mains of a split service."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import AHEAD, MAIN, Panel
from robust_ledger.job.tree import above, above_main, in_order, is_enclosure, main_behind
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.place import Place


def feeder_stays(job: Job) -> bool:
    """Whether the feeder to the inside panel is one that was found and goes on: not made new, and not one that only begins with a new
    disconnect or a moved panel."""
    at = above_main(job)
    node = job.panel_of(at)
    kept = node.there if node is not None else at == "disconnect" and job.kept_disconnect
    return kept and "feeder" not in job.scope.renews


def three_wires_stay(panel: Panel) -> bool | None:
    """Whether a three-wire feeder to a separate building may stay, with the bond in its panel: an existing one, and no other metal
    between the buildings [250.32(B) Ex.]. None while its wires
    were not counted or that was not looked at."""
    if not panel.found or panel.wires not in (None, 3) or not panel.separate_building or panel.metal_path:
        return False
    return None if panel.wires is None or panel.metal_path is None else True


def split_mains(job: Job) -> tuple[tuple[str, float | None], ...]:
    """The panels of a split service with their mains [A], the main panel first; empty for any other."""
    if not job.scope.split:
        return ()
    first = [panel for panel in in_order(job) if above(job, panel.id) in AHEAD and not is_enclosure(job, panel)]
    own = ((MAIN, job.decisions.split_main_a),) if above_main(job) in AHEAD else ()
    return (*own, *((panel.id, panel.breaker_a) for panel in first))


def wire_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """How many wires feed the inside panel behind a service disconnect: four; three that were found have to go [408.40, 250.142]."""
    if not main_behind(job) or not feeder_stays(job):
        return
    find = Findings(codebook, "walkthrough").find
    wires, wiring = job.existing.feeder_wires, job.existing.feeder_wiring
    bare = wiring == "se" and wires != 4
    if wires is not None and wires not in (3, 4):
        yield find("service.feeder_wires", at=Place("existing:feeder_wires"), wires=wires)
    elif wires == 3 or bare:
        yield find("service.feeder_three", at=Place("existing:feeder_wires"))
    elif wires is None:
        yield find("service.feeder_wires_unknown", at=Place("existing:feeder_wires"))
