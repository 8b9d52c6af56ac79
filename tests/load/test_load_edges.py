"""Where a rule turns: the figures just on and just beside its edge, each by hand."""

from __future__ import annotations

import pytest
from builders import K, house, load, unknown_load

from robust_ledger.ledger.entry import Entry
from robust_ledger.load.legs import governing
from robust_ledger.load.nameplates import nameplate_entry
from robust_ledger.plan import plan


@pytest.mark.parametrize(("fuller_a", "which"), [(99.0, "load"), (100.0, "load"), (101.0, "leg")])
def test_the_fuller_leg_decides_only_where_it_is_more(fuller_a, which):
    amperes, fuller = Entry("load", "load", 100.0, "A"), Entry("leg", "leg", fuller_a, "A")
    assert governing(amperes, fuller).id == which


@pytest.mark.parametrize(
    ("volts", "va"),
    [
        (115, 16 * 115),
        (149, 16 * 149),
        (200, 9.2 * 200),
        (208, 8.8 * 208),
        (219, 8.8 * 219),
        (220, 8 * 220),
        (230, 8 * 230),
        (240, 8 * 240),
    ],
)
def test_a_motor_of_one_horsepower_takes_the_column_of_its_voltage(codebook, volts, va):
    """T430.248: 16 A at 115 V, 9.2 A at 200 V, 8.8 A at 208 V, 8 A at 230 V."""
    motor = unknown_load(K.MOTOR, "pump", volts, motor_hp=1.0)
    assert nameplate_entry(motor, codebook).amount == pytest.approx(va)


def neutral_labels(*loads) -> list[str]:
    return [step.label for step in plan(house(1500, *loads)).entries["load.neutral"].steps]


def test_the_season_is_told_only_where_the_neutral_differs_between_the_two():
    fan = load(K.MOTOR, "6A@120", "furnace blower")
    cooler = load(K.AIR_CONDITIONER, "9A@120", "window unit")
    assert "season with more on the neutral" not in neutral_labels(fan)
    assert "season with more on the neutral" in neutral_labels(fan, cooler)


@pytest.mark.parametrize(("said", "taken"), [(None, True), (True, False)])
def test_a_neutral_nobody_has_said_is_told_as_taken(said, taken):
    stove = load(K.APPLIANCE, "3kW@240", "wall heater", uses_neutral=said)
    assert any("taken as having a neutral" in label for label in neutral_labels(stove)) is taken


@pytest.mark.parametrize(
    ("hp", "volts", "known"), [(0.0, 240.0, False), (1.0, 0.0, False), (1.0, 240.0, True), (500.0, 240.0, False)]
)
def test_horsepower_of_nothing_at_no_volts_or_beyond_the_table_is_no_rating(codebook, hp, volts, known):
    """Beyond the motor table a plan is made all the same, and the load is told as not known."""
    motor = unknown_load(K.MOTOR, "pump", volts, motor_hp=hp)
    assert nameplate_entry(motor, codebook).known is known
    assert any(one.id == "load.nameplate:pump" for one in plan(house(1500, motor)).findings) is not known
