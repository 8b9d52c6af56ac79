"""What the arrangement balances by, as the job has chosen; loaded when it is asked for."""

from __future__ import annotations

from collections.abc import Sequence

from robust_ledger.branch.model import Branch
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.panel.puzzle import Wanted, clamp_amps, expected_amps, handle_amps
from robust_ledger.panel.reach import wires
from robust_ledger.plan import Plan


def wanted_of(plan: Plan) -> Wanted:
    """Everything Arrange works from. Expected amperes stand in where the house cannot be simulated."""
    bench = plan.bench  # of the panel in view: other panels' circuits have their own
    branches = bench.circuits.branches
    return Wanted(
        bench.job,
        branches,
        bench.wires,
        _amps(plan, branches),
        bench.placement.positions,
        plan.walk.bottom_in,
        plan.withheld,
    )


def wanted_of_all(plan: Plan) -> dict[str, Wanted]:
    """The same of every panel whose label was read, by its id; a circuit marked for either panel is a guest in those it is not in."""
    made, amps = {}, _amps(plan, plan.circuits.branches)
    pinned = {key for bench in plan.benches.values() for key in bench.job.decisions.pins}
    stay = pinned | {b.partner for b in plan.circuits.branches if b.key in pinned}  # with what shares its neutral
    may = [b for b in plan.circuits.branches if b.either and not b.off and b.key.kind != "equip"]
    free = [b for b in may if b.key not in stay]
    partners = {b.partner for b in free if b.partner}
    free += [b for b in plan.circuits.branches if b.key in partners and b not in free]
    for panel_id, bench in plan.benches.items():
        if not bench.job.panel.spaces:
            continue
        guests = [branch for branch in free if branch.panel != panel_id]
        cables = {**bench.wires, **wires(bench.job, guests, bench.boxes)}
        bottom = plan.walk.bottom_in if panel_id == MAIN else None
        held = (*bench.circuits.branches, *guests)
        made[panel_id] = Wanted(bench.job, held, cables, amps, bench.placement.positions, bottom, plan.withheld)
    return made


def _amps(plan: Plan, branches: Sequence[Branch]) -> dict[CircuitKey, float]:
    basis = plan.job.decisions.wishes.balance_by
    if basis == "handles":
        return handle_amps(branches)
    if basis == "clamp":
        return clamp_amps(plan.job, branches)
    if basis == "simulated":
        from robust_ledger.measure.simulate.house import house_of
        from robust_ledger.measure.simulate.peaks import daily_peak_amps

        house = house_of(plan)
        if house is not None:
            return daily_peak_amps(house)
    return expected_amps(branches)
