"""What hangs on the feeder of each panel: its own circuits and those of the panels behind it."""

from __future__ import annotations

from collections.abc import Sequence

from robust_ledger.branch.model import Branch, Origin
from robust_ledger.branch.required import Requirement
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.futures import Future
from robust_ledger.job.parts.panel_tree import AHEAD, MAIN
from robust_ledger.job.tree import (
    above,
    above_main,
    ahead_box,
    fed_below,
    feeder_key,
    in_order,
    panel_of_key,
)
from robust_ledger.load.feeder import FeederCircuits
from robust_ledger.load.nameplates import present

_GENERAL = {"Small-appliance circuits": "small", "Laundry circuit": "laundry"}


def circuits_on(job: Job, branches: Sequence[Branch], required: Sequence[Requirement]) -> dict[str, FeederCircuits]:
    """By panel. A load without a circuit hangs on the main panel; a feeder's own breaker is no circuit of the house."""
    if not job.panels:
        return {}
    feeders = {feeder_key(job, panel) for panel in job.panels}
    fed = {branch.key: _loads_of(job, branch) for branch in branches if _counts(branch) and branch.key not in feeders}
    panel_of = {branch.key: branch.panel for branch in branches}
    there = {load.id for load in present(job.loads)}
    unfed = there - {load_id for ids in fed.values() for load_id in ids}
    kinds = {key: _GENERAL[one.name] for one in required if one.name in _GENERAL for key in one.keys}
    made = {}
    nodes = in_order(job)
    shares = any(above(job, panel.id) in AHEAD for panel in nodes) and job.scope.split
    own = (MAIN,) if shares or ahead_box(job) is not None or above_main(job) not in AHEAD else ()
    below_main = fed_below(job, MAIN)
    beside = frozenset(panel.id for panel in nodes if panel.takes_circuits and panel.id not in below_main)
    for panel_id in (*(panel.id for panel in nodes), *own):
        ids = fed_below(job, panel_id)
        mine = [key for key in fed if panel_of[key] in ids]
        general = [key for key in mine if not fed[key]]
        loose = unfed if MAIN in ids else frozenset()
        if MAIN in ids and not job.circuits:
            # Before the call-out all that every dwelling has counts where most of it will be.
            made[panel_id] = _before_call_out(job, frozenset(ids), there, beside, shares)
            continue
        made[panel_id] = FeederCircuits(
            frozenset(load_id for key in mine for load_id in fed[key] if load_id in there) | loose,
            len(general),
            sum(kinds.get(key) == "small" for key in general),
            sum(kinds.get(key) == "laundry" for key in general),
            bool(mine) and len(mine) == len(fed) and (not shares if MAIN in ids else not unfed),
            _later(job, ids),
            beside if MAIN in ids else frozenset(),
            len(mine),
            {
                panel_of[key]: sum(panel_of[one] == panel_of[key] and one not in kinds for one in general)
                for key in general
            },
        )
    return made


def _before_call_out(
    job: Job, ids: frozenset[str], there: set[str], beside: frozenset[str], shares: bool
) -> FeederCircuits:
    """The main panel's share while no old circuit is known: the general circuits of the dwelling, and every load that no other panel has."""
    dwelling = job.dwelling
    elsewhere = {x for x in there if panel_of_key(job, CircuitKey.of_load(x)) not in ids}
    return FeederCircuits(
        frozenset(there - elsewhere),
        1,
        dwelling.small_appliance_circuits,
        dwelling.laundry_circuits,
        not shares and not elsewhere and not beside,
        _later(job, ids),
        beside,
        0,
        {MAIN: 0},
    )


def _later(job: Job, ids: frozenset[str]) -> tuple[tuple[Future, frozenset[str]], ...]:
    """Futures that bring loads to a panel, or to one behind it."""
    made = []
    for future in job.futures:
        comes = frozenset(x for x in future.load_ids if panel_of_key(job, CircuitKey.of_load(x)) in ids)
        if comes:
            made.append((future, comes))
    return tuple(made)


def _counts(branch: Branch) -> bool:
    return not branch.off and branch.origin is not Origin.FUTURE and branch.key.kind != "equip"


def _loads_of(job: Job, branch: Branch) -> frozenset[str]:
    """Ids of the listed loads on a circuit."""
    if branch.key.kind == "load":
        return frozenset({branch.key.name})
    circuits = [circuit for tag in branch.sources if (circuit := job.circuit(tag))]
    return (
        frozenset(load_id for circuit in circuits for load_id in circuit.load_ids)
        if not branch.key.second
        else frozenset()
    )
