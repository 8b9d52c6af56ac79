"""Findings that few jobs raise, each with its twin one fact away that stays silent."""

from __future__ import annotations

import pytest
from builders import K, finding_ids, house, load

from robust_ledger.job.edits import change_branch, with_part
from robust_ledger.job.keys import CircuitKey
from robust_ledger.plan import plan


@pytest.mark.parametrize(("when", "told"), [("removed", True), ("existing", False)])
def test_a_future_cannot_take_out_what_goes_with_this_job(when, told):
    future = {"id": "pool", "name": "pool", "removes": ["pump"], "circuits": [{"name": "pool pump"}]}
    pump = load(K.MOTOR, "1kW", "pump", when=when)
    assert ("load.future:pool:pump" in finding_ids(plan(house(1500, pump, futures=[future])))) is told


@pytest.mark.parametrize(("chosen_a", "told"), [(42.0, True), (50.0, False)])
def test_a_breaker_chosen_for_a_new_load_is_a_standard_one(chosen_a, told):
    job = change_branch(
        house(1500, load(K.COOKING, "9.6kW", "range", when="added")), CircuitKey.of_load("range"), breaker_a=chosen_a
    )
    assert ("branch.breaker_chosen:range" in finding_ids(plan(job))) is told


@pytest.mark.parametrize(
    ("found", "told"),
    [({}, True), ({"rods": 1}, False), ({"rod_ohms": 18.0}, False), ({"water_pipe_ft": 8.0}, False)],
)
def test_a_water_pipe_is_not_the_only_electrode(found, told):
    """With the practice of measuring a rod, and none driven or measured yet, the pipe would stand alone."""
    known = {"practice": "measured", "rods": 0, "rod_ohms": None, "water_pipe_ft": 20.0, **found}
    job = with_part(house(1500, scope="upgrade", decisions={"main_a": 200.0}), "grounding", **known)
    assert ("grounding.supplement" in finding_ids(plan(job))) is told
