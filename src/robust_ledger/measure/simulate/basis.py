"""What the arrangement balances by, as the job has chosen; loaded when it is asked for."""

from __future__ import annotations

from robust_ledger.panel.puzzle import Wanted, clamp_amps, expected_amps, handle_amps
from robust_ledger.plan import Plan


def wanted_of(plan: Plan) -> Wanted:
    """Everything Arrange works from. Expected amperes stand in where the house cannot be simulated."""
    basis = plan.job.decisions.wishes.balance_by
    amps = expected_amps(plan.circuits.branches)
    if basis == "handles":
        amps = handle_amps(plan.circuits.branches)
    elif basis == "clamp":
        amps = clamp_amps(plan.job, plan.circuits.branches)
    elif basis == "simulated":
        from robust_ledger.measure.simulate.house import house_of
        from robust_ledger.measure.simulate.peaks import daily_peak_amps

        house = house_of(plan)
        amps = daily_peak_amps(house) if house is not None else amps
    return Wanted(
        plan.job, plan.circuits.branches, plan.bench.wires, amps, plan.bench.placement.positions, plan.walk.bottom_in
    )
