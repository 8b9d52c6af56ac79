"""What a feeder that was found may go on as, by its wires, and the mains of a split service."""

from __future__ import annotations

from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import AHEAD, MAIN, Panel
from robust_ledger.job.tree import above, above_main, in_order, is_enclosure


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
    own = ((MAIN, job.main_feed.breaker_a),) if above_main(job) in AHEAD else ()
    return (*own, *((panel.id, panel.breaker_a) for panel in first))
