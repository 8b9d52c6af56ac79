"""Where a rule turns: the figures just on and just beside its edge, each by hand."""

from __future__ import annotations

import pytest
from builders import K, house, load, unknown_load
from msgspec.structs import replace

from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.edits import with_part
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.working import Working
from robust_ledger.load.legs import governing
from robust_ledger.load.nameplates import held_back, is_large_fastened, nameplate_entry
from robust_ledger.load.neutral import _over_200
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


@pytest.mark.parametrize(("volts", "amps"), [(150, 9.2), (203, 9.2), (204, 8.8), (219.9, 8.8), (220, 8.0)])
def test_the_columns_of_the_motor_table_meet_without_a_gap(codebook, volts, amps):
    motor = unknown_load(K.MOTOR, "pump", volts, motor_hp=1.0)
    assert nameplate_entry(motor, codebook).amount == pytest.approx(amps * volts)


@pytest.mark.parametrize(
    ("hp", "amps"), [(1 / 4, 5.8), (0.3, 7.2), (1 / 3, 7.2), (0.34, 9.8), (1.0, 16.0), (1.01, 20.0)]
)
def test_horsepower_between_two_rows_takes_the_larger(codebook, hp, amps):
    """T430.248 at 115 V: 5.8, 7.2, 9.8, 16 and 20 A for a quarter, a third, a half, one and one and a half."""
    assert nameplate_entry(unknown_load(K.MOTOR, "pump", 115, motor_hp=hp), codebook).amount == pytest.approx(
        amps * 115
    )


@pytest.mark.parametrize(
    ("kind", "managed", "setpoint_a", "edition", "held"),
    [
        (K.EV_CHARGER, True, 30.0, "2020", True),
        (K.EV_CHARGER, False, 30.0, "2020", False),
        (K.EV_CHARGER, True, None, "2020", False),
        (K.EV_CHARGER, True, 0.0, "2020", False),
        (K.EV_CHARGER, True, 0.5, "2020", True),
        (K.WATER_HEATER, True, 30.0, "2020", False),  # anything but charging only from 2023
        (K.WATER_HEATER, True, 30.0, "2023", True),
    ],
)
def test_what_counts_at_the_set_point(kind, managed, setpoint_a, edition, held):
    one = load(kind, "4500W@240", "managed", managed=managed)
    job = with_part(house(1500, one, edition=edition), "management", setpoint_a=setpoint_a)
    assert held_back(one, job, load_codebook(edition)) is held


@pytest.mark.parametrize(
    ("edition", "va", "hp", "counts"),
    [
        ("2017", None, None, True),  # not known: taken as one that counts
        ("2017", 100.0, None, True),
        ("2023", 500.0, None, True),
        ("2023", 499.9, None, False),
        ("2023", 499.9, 0.25, True),
        ("2023", 499.9, 0.24, False),
        ("2023", 600.0, 0.1, True),
    ],
)
def test_what_is_large_enough_for_four_or_more(edition, va, hp, counts):
    """220.53: from 500 W or a quarter horsepower on, by the editions that say so."""
    one = load(K.APPLIANCE, "500W@120", "appliance", motor_hp=hp)
    assert is_large_fastened(one, va, load_codebook(edition)) is counts


@pytest.mark.parametrize(
    ("plate", "va"), [("1.5kW@240", 1500.0), ("10A@120", 1200.0), ("700VA@120", 700.0), ("700W@120", 700.0)]
)
def test_a_nameplate_in_volt_amperes(codebook, plate, va):
    assert nameplate_entry(load(K.APPLIANCE, plate, "thing"), codebook).amount == va


@pytest.mark.parametrize(
    ("amount", "volts", "known"), [(0.0, 240, False), (0.1, 240, True), (4500.0, 0, False), (4500.0, 1, True)]
)
def test_a_rating_of_nothing_or_at_no_volts_is_none(codebook, amount, volts, known):
    one = load(K.APPLIANCE, "500W@120", "thing")
    one = replace(one, nameplate=replace(one.nameplate, amount=amount, volts=volts))
    assert nameplate_entry(one, codebook).known is known


@pytest.mark.parametrize(("hp", "volts", "told"), [(0.0, 230, None), (0.5, 230, 0.5), (0.5, 0, None), (0.5, 1, 0.5)])
def test_horsepower_of_nothing_is_told_as_not_known(codebook, hp, volts, told):
    made = nameplate_entry(unknown_load(K.MOTOR, "pump", volts, motor_hp=hp), codebook)
    assert next(step.value for step in made.steps if step.label == "pump: horsepower") == told


@pytest.mark.parametrize(("edition", "told"), [("2017", False), ("2020", False), ("2023", True)])
def test_a_least_for_charging_is_told_only_where_there_is_one(edition, told):
    """220.57 came with 2023: 7,200 VA at the least."""
    charger = load(K.EV_CHARGER, "16A@240", "charger")
    steps = plan(house(1500, charger, edition=edition)).entries["load.standard.other.charger"].steps
    assert any(step.label == "at least" for step in steps) is told


@pytest.mark.parametrize(
    ("amperes", "counted", "above"), [(199.0, 199.0, False), (200.0, 200.0, False), (210.0, 207.0, True)]
)
def test_seventy_percent_of_the_neutral_above_two_hundred(amperes, counted, above):
    """220.61(B): 200 A in full, 70% of the ten above."""
    work = Working.trial()
    made = _over_200(work, Step("unbalance", amperes, "A"), plan(house(1500)).load.inputs)
    assert made.amount == pytest.approx(counted) and any(step.label == "above" for step in work.steps) is above
