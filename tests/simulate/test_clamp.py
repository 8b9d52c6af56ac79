"""The simulated clamp meter: it shows what flows, on the right leg, as exactly as a hand-held one."""

from __future__ import annotations

from datetime import datetime, timedelta

import numpy as np
import pytest
from builders import finding_ids

from robust_ledger.job.edits import add_readings, remove_circuits
from robust_ledger.job.parts.circuits import ClampReading
from robust_ledger.measure.simulate.clamp import GAIN_PART, OFFSET_A, RESOLUTION_A, SimulatedClamp
from robust_ledger.measure.simulate.house import house_of
from robust_ledger.plan import plan

NOON = datetime(2026, 1, 15, 12, 0)


@pytest.fixture
def clamp(demo_plan):
    return SimulatedClamp(house_of(demo_plan))


def test_all_circuits_together_are_what_flows_in_the_main(clamp):
    """Summed over all circuits at one minute, the clamp agrees with the legs of the simulated year within its error."""
    minute = (15 - 1) * 1440 + 12 * 60
    whole = clamp.year.legs[:, minute]
    read = {"A": 0.0, "B": 0.0}
    for key in clamp.house.keys:
        for moment in clamp.read(key, NOON):
            read[moment.leg] += moment.amperes
    slack = len(clamp.house.keys) * (OFFSET_A + RESOLUTION_A)
    for leg, amperes in zip("AB", whole, strict=True):
        assert abs(read[leg] - amperes) <= GAIN_PART * amperes + slack


def test_a_two_pole_has_two_readings_a_one_pole_one_and_a_capped_one_none(clamp):
    assert [m.leg for m in clamp.read("tag:3", NOON)] == ["A", "B"]
    assert len(clamp.read("tag:9", NOON)) == 1 and clamp.read("tag:28", NOON) == () and clamp.read("tag:99", NOON) == ()


def test_a_water_heater_is_on_or_off_and_says_so(clamp):
    """4.5 kW at 240 V is 18.75 A, or nothing."""
    shown = [clamp.read("tag:3", NOON + timedelta(minutes=7 * n))[0] for n in range(200)]
    on = [m for m in shown if m.running]
    assert on and all(m.amperes == pytest.approx(18.75, rel=0.03, abs=0.2) for m in on)
    assert all(m.amperes == 0 for m in shown if not m.running) and len(on) < 100
    assert np.allclose([round(m.amperes * 10) for m in shown], [m.amperes * 10 for m in shown]), "in its steps"


def test_readings_stay_apart_from_the_demand(demo):
    """They are kept with the circuit and go with it; load, findings and legs do not move."""
    before = plan(demo)
    after = add_readings(demo, (ClampReading(tag=9, leg="A", amperes=12.0), ClampReading(tag=9, leg="B", amperes=99.0)))
    made = plan(after)
    assert after.circuit(9).clamp_a == 99 and made.load.chosen.amperes == before.load.chosen.amperes
    assert made.bench.legs[0] == before.bench.legs[0] and finding_ids(made) == finding_ids(before)
    assert remove_circuits(after, {9}).readings == ()
