"""What is wrong in a recording, and what it comes to: by hand, by the shipped files, and by properties."""

from __future__ import annotations

from datetime import datetime, timedelta
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from msgspec.structs import replace

from robust_ledger.job.parts.measured import Measured
from robust_ledger.measure.metering.checks import Kind, checked
from robust_ledger.measure.metering.demand import Demand, reduce, to_measured
from robust_ledger.measure.metering.read import guess_file, read_recording
from robust_ledger.measure.metering.recording import MeterFileError, Recording
from robust_ledger.measure.metering.stamps import clock_changes

SHIPPED = Path(__file__).parents[2] / "examples" / "interval-data"


def minutes(text: str) -> int:
    return int((datetime.fromisoformat(text) - datetime(1970, 1, 1)) / timedelta(minutes=1))


def recording(values, start: str = "2025-07-01", step: int = 15, unit: str = "kW", stamps=None) -> Recording:
    value = np.asarray(values, dtype=float)
    at = minutes(start) + np.arange(len(value)) * step if stamps is None else np.asarray(stamps)
    return Recording(at.astype(np.int64), value.reshape(len(value), -1), unit)  # type: ignore[arg-type]


def shipped(name: str, leave_out: tuple[Kind, ...] = ()) -> Demand:
    path = SHIPPED / name
    found = guess_file(path)
    series = checked(read_recording(path, found.reading), 125 * 240 / 1000)
    return reduce(series, {issue.key for issue in series.issues if issue.kind in leave_out})


# --- units and windows ------------------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("unit", "step", "values", "peak"),
    [
        ("kWh", 15, [0.5, 2.0, 1.0], 8.0),  # 2 kWh in a quarter of an hour
        ("kWh", 30, [0.5, 2.0, 1.0], 4.0),
        ("kWh", 60, [0.5, 2.0, 1.0], 2.0),
        ("kWh", 5, [0.1, 0.4, 0.3, 0.5, 0.1], 4.8),  # the best three in a row: 1.2 kWh in 15 minutes
        ("Wh", 15, [500, 2000], 8.0),
        ("kW", 15, [3.0, 8.0], 8.0),
        ("W", 15, [3000, 8000], 8.0),
        ("kW", 5, [1, 9, 9, 3, 1], 7.0),  # (9 + 9 + 3) ÷ 3: a peak of minutes is no demand
        ("register kWh", 15, [100.0, 100.5, 102.5, 103.0], 8.0),
        ("A", 15, [20, 47], 47.0),
    ],
)
def test_maximum_demand_by_unit_and_interval(unit, step, values, peak):
    demand = reduce(checked(recording(values, unit=unit, step=step)))
    assert demand.peak == pytest.approx(peak)
    assert demand.series.unit == ("A" if unit == "A" else "kW")


@given(arrays(np.float64, st.integers(30, 300), elements=st.floats(0, 40)), st.sampled_from([15, 30, 60]))
def test_duration_curve_and_coverage(values, step):
    demand = reduce(checked(recording(values, step=step)))
    assert demand.peak == values.max() == demand.duration[0] and demand.coverage == 1
    assert (np.diff(demand.duration) <= 0).all() and demand.share[-1] == 1
    assert demand.duration.sum() == pytest.approx(values.sum())
    assert max(demand.months.values()) == demand.peak


@given(arrays(np.float64, 400, elements=st.floats(0.1, 10)), st.sets(st.integers(1, 398), min_size=1, max_size=60))
def test_readings_taken_away_are_gaps_and_nothing_else(values, gone):
    keep = np.array([n for n in range(400) if n not in gone])
    stamps = minutes("2025-07-01") + keep * 15
    series = checked(recording(values[keep], stamps=stamps))
    missing = sum(int(series.at_min[i.last] - series.at_min[i.first]) // 15 - 1 for i in series.gaps)
    demand = reduce(series)
    assert missing == len(gone) and demand.coverage == pytest.approx(1 - len(gone) / 400)
    assert demand.peak == values[keep].max()
    assert demand.longest_days * 96 == max(
        len(run) for run in "".join("." if n in gone else "x" for n in range(400)).split(".")
    )


@given(st.permutations(range(48)))
def test_the_order_of_rows_does_not_matter(order):
    values, stamps = np.arange(48.0), minutes("2025-07-01") + np.arange(48) * 15
    mixed = checked(recording(values[list(order)], stamps=stamps[list(order)]))
    assert not mixed.issues and reduce(mixed).peak_at_min == stamps[-1]


# --- clocks -----------------------------------------------------------------------------------------------------------
def local_day(day: str, step: int, ends: bool) -> list[int]:
    """Wall-clock stamps of a day and the one after with a change in it, at the start or the end of each interval."""
    spring, autumn = clock_changes(2025)
    stamps = []
    for n in range(2 * 1440 // step):
        standard = minutes(day) + (n + ends) * step
        instant = standard - (step if ends else 0)
        summer = spring <= instant < autumn - 60
        stamps.append(standard + 60 * summer)
    return stamps


@pytest.mark.parametrize("ends", [False, True], ids=["stamped at the start", "stamped at the end"])
@pytest.mark.parametrize("step", [5, 15, 30, 60])
@pytest.mark.parametrize(
    ("day", "words"), [("2025-03-08", "forward on 2025-03-09"), ("2025-11-01", "back on 2025-11-02")]
)
def test_a_change_of_the_clock_is_neither_gap_nor_double(day, words, step, ends):
    stamps = local_day(day, step, ends)
    series = checked(recording(np.arange(1.0, len(stamps) + 1), stamps=stamps, step=step))
    assert not series.issues and words in series.notes[0]
    assert reduce(series).days == 2 and (np.diff(series.value[:, 0]) > 0).all(), "the two passes stay in order"


def test_a_clock_that_never_changes_is_left_alone():
    stamps = minutes("2025-03-08") + np.arange(2 * 96) * 15
    series = checked(recording(np.ones(len(stamps)), stamps=stamps))
    assert not series.issues and not series.notes


def test_an_hour_that_is_really_missing_is_a_gap():
    stamps = [
        m
        for m in (minutes("2025-07-01") + np.arange(96) * 15).tolist()
        if not minutes("2025-07-01 02:00") <= m < minutes("2025-07-01 03:00")
    ]
    assert [i.kind for i in checked(recording(np.ones(len(stamps)), stamps=stamps)).issues] == [Kind.GAP]


def test_a_single_reading_below_zero_is_a_register_set_back_and_no_export():
    """A meter exchanged: one reading of −812, all others between 1 and 3. Two of them, or a small one, are energy sent out."""
    values = np.tile([1.0, 2.0, 3.0, 2.0], 100)
    back = values.copy()
    back[137] = -812.0
    series = checked(recording(back))
    assert [issue.kind for issue in series.issues] == [Kind.RESET] and "set back" in series.issues[0].words
    assert not reduce(series).exports and not reduce(series, {issue.key for issue in series.issues}).exports
    small = values.copy()
    small[137] = -1.5
    twice = back.copy()
    twice[200] = -800.0
    for sent in (small, twice):
        made = checked(recording(sent))
        assert [issue.kind for issue in made.issues] == [Kind.SENT_OUT] and reduce(made).exports
        assert reduce(made, {issue.key for issue in made.issues}).exports, (
            "leaving them out does not undo that there is a source"
        )


def test_a_channel_of_energy_sent_out_is_an_export_even_without_a_negative_reading():
    quiet = recording(np.tile([1.0, 2.0], 60))
    assert not reduce(checked(quiet)).exports
    assert reduce(checked(replace(quiet, sent_out=True))).exports


# --- faults -----------------------------------------------------------------------------------------------------------
def test_doubles_resets_spikes_zeros_and_energy_sent_out():
    values = np.tile([1.0, 2.0, 3.0, 2.0], 100)
    spiky = values.copy()
    spiky[200] = 60.0
    (spike,) = checked(recording(spiky)).issues
    assert spike.kind is Kind.SPIKE and "60.0 kW at 2025-07-03 02:00: alone" in spike.words
    (over,) = checked(recording(np.append(values, 31.0)), 30.0).issues
    assert "more than the service carries (30 kW)" in over.words
    sustained = values.copy()
    sustained[200:204] = 11.0
    assert not checked(recording(sustained)).issues, "an hour of real load is no spike"
    silent = values.copy()
    silent[40:60] = 0
    (zeros,) = checked(recording(silent)).issues
    assert (zeros.kind, zeros.words) == (
        Kind.SILENT,
        "zero for 5 h from 2025-07-01 10:00: no power, or nothing recorded",
    )
    sent = values.copy()
    sent[[50, 90]] = -1.0
    (out,) = checked(recording(sent)).issues
    assert out.kind is Kind.SENT_OUT and "2 readings below zero" in out.words
    stamps = minutes("2025-07-01") + np.array([0, 15, 15, 30, 30, 45])
    double = checked(recording([1, 2, 2, 3, 5, 1], stamps=stamps))
    assert [i.words for i in double.issues] == [
        "two readings for 2025-07-01 00:15, alike",
        "two readings for 2025-07-01 00:30, not alike",
    ]
    assert reduce(double).peak == 5, "of two readings the higher one counts until the user says otherwise"
    register = checked(recording([10.0, 11.0, 12.0, 1.0, 2.0], unit="register kWh"))
    assert [i.kind for i in register.issues] == [Kind.RESET] and reduce(register).peak == 4.0


def test_a_register_spreads_what_it_counted_across_a_gap():
    """3 kWh over half an hour are 6 kW; over a single quarter they would have been 12."""
    stamps = minutes("2025-07-01") + np.array([0, 15, 45, 60])
    series = checked(recording([0.0, 1.0, 4.0, 4.5], stamps=stamps, unit="register kWh"))
    assert series.value[:, 0].tolist() == [4.0, 6.0, 2.0] and [i.kind for i in series.issues] == [Kind.GAP]


def test_readings_are_left_out_only_when_the_user_says_so():
    values = np.tile([1.0, 2.0, 3.0, 2.0], 100)
    values[200] = 60.0
    series = checked(recording(values))
    as_it_is, without = reduce(series), reduce(series, {series.issues[0].key})
    assert (as_it_is.peak, as_it_is.coverage, as_it_is.excluded) == (60, 1, 0)
    assert (without.peak, without.excluded) == (3, 1) and without.coverage < 1
    assert without.longest_days < as_it_is.longest_days, "a reading left out is a gap: the 30 days start anew"


@pytest.mark.parametrize(
    ("stamps", "sentence"),
    [([0], "single reading"), ([0, 1440, 2880], "24 hours apart"), ([0, 7, 14, 21], "7 minutes apart")],
)
def test_intervals_that_show_no_demand(stamps, sentence):
    with pytest.raises(MeterFileError, match=sentence):
        checked(recording(np.ones(len(stamps)), stamps=stamps))


# --- the shipped files ------------------------------------------------------------------------------------------------
def test_the_clean_year_opens_the_measured_method(demo):
    demand = shipped("clean-year.csv")
    assert (demand.days, demand.coverage, demand.missing, demand.series.issues) == (365, 1, (), ())
    found = guess_file(SHIPPED / "clean-year.csv")
    assert to_measured(demand, "interval-data/clean-year.csv", found.reading.as_dict(), demo.measured) == demo.measured


def test_the_dirty_file_holds_every_fault_and_says_what_is_missing():
    demand = shipped("dirty-eleven-months.csv")
    assert {i.kind for i in demand.series.issues} == {Kind.GAP, Kind.DOUBLE, Kind.SPIKE, Kind.SENT_OUT, Kind.SILENT}
    assert demand.missing[0] == "1 December to 31 December" and demand.days == 334 and demand.exports
    assert demand.peak == 64.0 and shipped("dirty-eleven-months.csv", (Kind.SPIKE,)).peak < 12
    measured = to_measured(demand, "x", {})
    assert measured.route == "year" and measured.exports


def test_two_legs_of_a_recorder():
    """The leg with more decides; kilowatts of one leg count for both."""
    demand = shipped("leg-recorder-32-days.txt")
    assert demand.leg_peaks[0] == demand.peak > demand.leg_peaks[1]
    measured = to_measured(demand, "recorder", {}, Measured(occupied=True, seasonal=True))
    assert (measured.route, measured.peak_unit, measured.longest_days, measured.occupied) == (
        "thirty_days",
        "A",
        32,
        True,
    )
    kilowatts = reduce(checked(recording([[1.0, 2.0], [3.0, 2.5]], unit="kW")))
    assert to_measured(kilowatts, "x", {}).peak == 6.0


def test_a_wrong_year_is_left_out_and_many_are_refused():
    """One stamp in the year 9999 would stretch the recording over 8,000 years; a few such rows are told, many are no recording."""
    at = minutes("2025-07-01") + np.arange(1000) * 15
    values = np.full(1000, 2.0)
    wrong = at.copy()
    wrong[[10, 500]] = minutes("9999-12-31"), minutes("1070-01-01")
    series = checked(recording(values, stamps=wrong))
    assert len(series.at_min) == 998 and "2 readings lie years away from all others" in series.notes[0]
    assert reduce(series).days < 11
    wrong[600:] = at[600:] + minutes("5000-01-01")
    with pytest.raises(MeterFileError, match="with years between them: the dates cannot be right"):
        checked(recording(values, stamps=wrong))


def test_holes_in_every_quarter_of_an_hour_are_a_sentence():
    """Readings every 5 minutes of which every third is missing: no 15 minutes follow one another."""
    at = np.array([minutes("2025-07-01") + 5 * n for n in range(90) if n % 3 != 2])
    with pytest.raises(MeterFileError, match="No quarter of an hour in it is without a hole"):
        reduce(checked(recording(np.ones(60), step=5, stamps=at)))
    whole = np.array([minutes("2025-07-01") + 5 * n for n in range(90) if n % 4 != 3])
    assert reduce(checked(recording(np.ones(len(whole)), step=5, stamps=whole))).peak == 1.0
