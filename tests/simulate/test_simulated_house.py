"""The simulated house: physics of the main, the same answer for the same seed, and a day that adds up."""

from __future__ import annotations

import math
import subprocess
import sys

import numpy as np
import pytest
from builders import K, called_out, house, load
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.ledger.progress import CanceledError
from robust_ledger.measure.simulate.habits import Cycles, Uses, Weather
from robust_ledger.measure.simulate.house import House, Source, house_of
from robust_ledger.measure.simulate.study import day_of, notable_days, running_at, study
from robust_ledger.measure.simulate.trip import TripCurve
from robust_ledger.measure.simulate.year import DAYS, MINUTES, simulate_year
from robust_ledger.plan import plan

CURVE = TripCurve()


@pytest.fixture(scope="module")
def bungalow():
    from pathlib import Path

    from robust_ledger.job.files import read_job

    return house_of(plan(read_job(Path(__file__).parents[2] / "examples" / "marrow-lane.ledger.json")))


def alone(habit, amperes=(10.0, 10.0), main_a=100.0) -> House:
    return House(("one",), (Source("one", 0, amperes, (habit,)),), main_a, 20.0, ())


# --- the main ---------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize("multiple", [1.2, 1.35, 1.5, 2.0, 3.0])
def test_the_main_opens_when_its_heat_says_so(multiple):
    """From cold at a steady current: time constant × ln(m² ÷ (m² − holds²)); the minutes of the simulation agree."""
    seconds = 600 * math.log(multiple**2 / (multiple**2 - 1.15**2))
    assert CURVE.seconds_to_trip(multiple) == pytest.approx(seconds)
    (minute,) = CURVE.trips(np.full(300, multiple * 100.0), 100.0)[:1]
    assert abs(minute + 1 - seconds / 60) <= 1


@pytest.mark.parametrize(("multiple", "least", "most"), [(1.35, 60, 7200), (2.0, 20, 480)])
def test_the_curve_lies_within_what_the_product_standard_leaves_open(multiple, least, most):
    assert least < CURVE.seconds_to_trip(multiple) < most


@given(st.floats(0.1, 1.15), st.integers(30, 400))
def test_below_its_holding_current_it_never_opens(multiple, rating):
    assert CURVE.seconds_to_trip(multiple) is None
    assert not len(CURVE.trips(np.full(3000, multiple * rating), rating))


def test_it_remembers_heat():
    """Three minutes at twice the rating do not open a cool main; two such bursts close together do, far apart they do
    not; one that has carried 90 A for hours opens at the first."""
    burst, near, far = np.full(3, 200.0), np.full(2, 20.0), np.full(90, 20.0)
    assert not len(CURVE.trips(np.concatenate([burst, far]), 100))
    assert len(CURVE.trips(np.concatenate([burst, near, burst, far]), 100)) == 1
    assert not len(CURVE.trips(np.concatenate([burst, far, burst, far, burst, far]), 100))
    assert len(CURVE.trips(np.concatenate([np.full(90, 90.0), burst]), 100)) == 1


# --- the year ---------------------------------------------------------------------------------------------------------
def test_the_same_seed_gives_the_same_year_and_another_one_another(bungalow):
    one, same, other, next_run = (simulate_year(bungalow, *key) for key in ((5, 0), (5, 0), (6, 0), (5, 1)))
    assert (one.legs == same.legs).all() and (one.runs.start == same.runs.start).all()
    assert (one.legs != other.legs).any() and (one.legs != next_run.legs).any()


def test_legs_are_the_sum_of_their_circuits(bungalow):
    year = simulate_year(bungalow, 3)
    for number in notable_days(year).values():
        day = day_of(year, number, CURVE)
        together = np.sum([amperes for _name, amperes in day.circuits], axis=0)
        assert (together >= day.legs.max(axis=0) - 1e-6).all(), "no leg carries what no circuit does"
        assert day.legs.min() >= 0 and day.legs.shape == (2, 1440)
    assert day_of(year, notable_days(year)["the year's peak"], CURVE).legs.max() == year.legs.max()


def test_nothing_runs_twice_at_once(bungalow):
    year = simulate_year(bungalow, 8)
    for number, source in enumerate(bungalow.sources):
        its = year.runs.source == number
        assert (year.runs.start[its][1:] >= year.runs.end[its][:-1]).all(), source.name
    assert year.runs.end.max() <= MINUTES and year.runs.level.max() <= 1


def test_a_single_load_loads_both_legs_with_its_own_current():
    year = simulate_year(alone(Cycles(60, 0.5)), 1)
    assert set(np.unique(year.legs)) == {0.0, 10.0} and (year.legs[0] == year.legs[1]).all()
    assert year.legs[0].mean() == pytest.approx(5.0, rel=0.02)


def test_uses_keep_their_number_hours_and_length():
    noon = tuple(1.0 if hour == 12 else 0.0 for hour in range(24))
    runs = simulate_year(alone(Uses(1.0, noon, (20, 30), home=False)), 2).runs
    assert len(runs.start) == pytest.approx(DAYS, rel=0.25)
    assert set((runs.start // 60 % 24).tolist()) == {12} and (runs.end - runs.start).max() <= 30
    at_home = simulate_year(alone(Uses(1.0, noon, (20, 30))), 2).runs
    assert len(at_home.start) < 0.75 * len(runs.start), "nobody cooks in an empty house"


def test_heating_runs_in_winter_and_cooling_in_summer():
    for habit, busy, idle in (
        (Weather("heat", 14, -18), (0, 60), (180, 240)),
        (Weather("cool", 23, 35), (180, 240), (0, 60)),
    ):
        legs = simulate_year(alone(habit), 4).legs[0]
        mean = [legs[first * 1440 : last * 1440].mean() for first, last in (busy, idle)]
        assert mean[0] > 5 * mean[1]


# --- many years -------------------------------------------------------------------------------------------------------
def test_a_study_is_its_years_in_order(bungalow):
    told: list[float] = []
    made = study(bungalow, 6, 11, lambda part: not told.append(part))
    assert told == [pytest.approx((n + 1) / 6) for n in range(6)]
    for run, peak in enumerate(made.years):
        year = simulate_year(bungalow, 11, run)
        assert peak.peak_a == year.legs.max() and peak.demand_a <= peak.peak_a
        assert running_at(year, peak.minute, peak.leg, 4) == list(peak.running)
        assert (peak.clamp_a == year.legs[:, 900::1440].max(axis=0)).all()
    assert study(bungalow, 6, 11).highest_a == made.highest_a


def test_it_can_be_stopped(bungalow):
    with pytest.raises(CanceledError):
        study(bungalow, 50, 1, lambda part: part < 0.1)


def test_handles_say_nothing_and_a_clamp_little(bungalow):
    """680 A of handles; never more than a fraction of it flows. A reading at 3 pm is far from the peak."""
    made = study(bungalow, 8, 2)
    assert bungalow.handles_a == 680 and made.highest_a < bungalow.handles_a / 3
    low, middle, high = made.clamp_quantiles()
    assert 0 <= low <= middle <= high <= 1 and middle < 0.3
    assert made.trip_chance == 0 and not made.causes()


def test_a_main_too_small_opens_and_says_what_ran(bungalow):
    small = House(bungalow.circuits, bungalow.sources, 60.0, bungalow.handles_a, ())
    made = study(small, 4, 2)
    assert made.trip_chance == 1 and made.trips_a_year > 1
    assert {name for name, _ in made.causes()} <= {source.name for source in bungalow.sources}
    larger = House(bungalow.circuits, bungalow.sources, 80.0, bungalow.handles_a, ())
    assert study(larger, 4, 2).trips_a_year <= made.trips_a_year


# --- from the plan ----------------------------------------------------------------------------------------------------
def test_the_house_follows_the_plan(demo):
    made = house_of(plan(demo))
    by_name = {source.name: source for source in made.sources}
    assert made.main_a == 150 and not made.left_out
    assert by_name["water heater"].amperes == (18.75, 18.75)
    assert sorted(by_name["dishwasher"].amperes) == [0, 10]
    assert "vehicle charger" not in by_name and "cable behind the panel" not in made.circuits
    assert len(made.circuits) == len(set(made.circuits)), "each circuit by its own name"


def test_what_is_held_back_draws_less():
    """48 A and 18.75 A held back to 30 A together: each at 30 ÷ 66.75 of its rating."""
    held = [
        load(K.EV_CHARGER, "48A@240", "charger", managed=True),
        load(K.WATER_HEATER, "4.5kW", "heater", managed=True),
    ]
    made = house_of(plan(house(1500, *held, management={"setpoint_a": 30})))
    assert sum({s.name: s.amperes[0] for s in made.sources}.values()) == pytest.approx(30)


def test_unknown_ratings_are_left_out_and_named():
    unread = {"id": "kiln", "name": "kiln", "nameplate": {"amount": None, "volts": 240}}
    job = called_out(house(1500, unread, decisions={"main_a": 150}), "1 20 12 kitchen counter")
    made = house_of(plan(job))
    assert made.left_out == ("kiln",) and {s.name for s in made.sources} == {"kitchen counter"}
    assert house_of(plan(house(None))) is None


def test_it_needs_no_screen():
    code = (
        "import sys, robust_ledger.measure.simulate.study, robust_ledger.measure.metering.read; "
        "sys.exit(any(m.startswith('PyQt6') for m in sys.modules))"
    )
    assert subprocess.run([sys.executable, "-c", code], check=False).returncode == 0
