"""The column of a circuit's conductors, at each fact that decides it."""

from __future__ import annotations

import pytest

from robust_ledger.branch.ampacity import WiringConditions, column
from robust_ledger.branch.demand import _one_range
from robust_ledger.job.parts.house import Load, LoadKind


@pytest.mark.parametrize(
    ("cable", "insulated", "terminals_c", "size", "wanted"),
    [
        ("nm", False, 75, "10", (60, "nm_column")),
        ("se", True, 75, "10", (60, "se_cable")),
        ("se", None, 75, "10", (60, "se_cable")),
        ("se", False, 75, "10", (75, "terminal_temperature")),
        ("se", True, 75, "8", (75, "terminal_temperature")),
        ("mc", True, 75, "10", (75, "terminal_temperature")),
        ("ac", True, 75, "10", (60, "ac_cable")),
        ("ac", False, 75, "10", (75, "terminal_temperature")),
        ("mc", False, 60, "10", (60, "terminal_temperature")),
        ("mc", False, None, "10", (60, "terminal_temperature")),
    ],
)
def test_the_column_follows_from_the_cable_the_insulation_around_it_and_the_terminals(
    codebook, cable, insulated, terminals_c, size, wanted
):
    made = column(WiringConditions(cable, insulated, terminals_c), size, codebook)
    assert made[0] == wanted[0] and (cable == "nm" or made[2] == wanted[1])


def unit(room: str = "kitchen", volts: float = 240) -> Load:
    return Load.read(
        {
            "id": f"u{room}{volts}",
            "name": "oven",
            "kind": LoadKind.COOKING_UNIT,
            "room": room,
            "nameplate": {"amount": 4000, "volts": volts},
        }
    )


@pytest.mark.parametrize(
    ("units", "one"),
    [
        ([unit(), unit()], True),
        ([unit()], False),
        ([unit()] * 4, False),
        ([unit(), unit("cellar")], False),
        ([unit(), unit(volts=208)], False),
        ([unit(volts=0), unit(volts=0)], False),
    ],
)
def test_a_cooktop_and_ovens_of_one_room_and_voltage_are_taken_as_one_range(units, one):
    """220.55 note 4: one cooktop with one or two wall ovens, on one circuit in one room."""
    assert _one_range(units) is one
