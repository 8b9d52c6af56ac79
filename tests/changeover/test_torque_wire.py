"""A wire is a value up to the paper: what it is made of is never read back out of its text."""

from __future__ import annotations

import pytest
from builders import house

from robust_ledger.job.conductors import NOT_COPPER
from robust_ledger.job.edits import add_circuit
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.plan import plan


def made(metal: str, gauge: str | None = "10"):
    """The plan of a house with one circuit on a wire of some metal."""
    circuit = Circuit.read(
        {"tag": 1, "spaces": ["1"], "breaker_a": 20, "gauge": gauge, "metal": metal, "feeds": "den receptacles"}
    )
    return plan(add_circuit(house(1500), circuit))


@pytest.mark.parametrize(("metal", "written"), [("cu", "10 Cu"), ("al", "10 Al"), ("cca", "10 CCA")])
def test_the_torque_log_names_the_metal_as_the_trade_writes_it(metal, written):
    hot = next(row.of for row in made(metal).changeover.torque if row.of.key == "tag:1.hot1")
    assert (hot.wire_text, hot.aluminum) == (written, metal == "al")


def test_a_wire_nobody_measured_has_neither_size_nor_metal():
    branch = made("cu", None).circuits.branches[0]
    assert (branch.conductors, branch.wire_size, branch.wire_metal) == (None, None, "")


@pytest.mark.parametrize(("metal", "mixed"), [("cu", False), ("al", True), ("cca", True)])
def test_a_plain_copper_connector_is_for_copper_alone(metal, mixed):
    """Copper-clad aluminum is no copper: its splice wants a connector that is listed for it."""
    assert (made(metal).circuits.branches[0].wire_metal in NOT_COPPER) is mixed
