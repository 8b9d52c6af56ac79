"""Amounts as people write them."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.job.parts.house import Nameplate
from robust_ledger.job.readers.quantity import (
    QuantityError,
    length_text,
    nameplate_text,
    read_area,
    read_feet,
    read_inches,
    read_nameplate,
)


@pytest.mark.parametrize(
    ("text", "amount", "unit", "volts"),
    [
        ("7.2kW", 7.2, "kW", 240), ("7.2 KW", 7.2, "kW", 240), ("1500VA", 1500, "VA", 240), ("1,500 w", 1500, "VA", 240),
        ("1500", 1500, "VA", 240), ("30A@240", 30, "A", 240), ("30 amps at 230 volts", 30, "A", 230), ("7.2A @ 115 V", 7.2, "A", 115),
        ("5A x 120", 5, "A", 120), (".5kW@120", 0.5, "kW", 120), ("9 kVA", 9, "kW", 240),
    ],
)  # fmt: skip
def test_nameplates(text, amount, unit, volts):
    assert read_nameplate(text, 240) == Nameplate(amount=amount, unit=unit, volts=volts)


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("", "is not a rating"), ("lots", "is not a rating"), ("12 hp", "ends at 10 hp"), ("nan", "is not a rating"),
        ("1e5", "is not a rating"), ("-3kW", "more than zero"), ("0", "more than zero"), ("30A@0", "0 V is not a voltage"),
        ("30A@480", "480 V is not a voltage"), ("900A@240", "more than a 400 A service"), ("9999kW", "more than a 400 A service"),
    ],
)  # fmt: skip
def test_ratings_that_cannot_be(text, sentence):
    with pytest.raises(QuantityError, match=sentence):
        read_nameplate(text, 240)


@given(
    st.floats(0.01, 50).map(lambda x: round(x, 2)), st.sampled_from(["kW", "A"]), st.sampled_from([120.0, 208.0, 240.0])
)
def test_a_rating_is_written_so_that_it_reads_back(amount, unit, volts):
    plate = Nameplate(amount=amount, unit=unit, volts=volts)
    assert read_nameplate(nameplate_text(plate), 120) == plate


@pytest.mark.parametrize(
    ("text", "area"),
    [
        ("1,720 sqft", (1720, "ft2")),
        ("1720", (1720, "ft2")),
        ("180 m2", (180, "m2")),
        ("180m²", (180, "m2")),
        ("1720 ft²", (1720, "ft2")),
        ("95.5 sq m", (95.5, "m2")),
    ],
)
def test_areas(text, area):
    assert read_area(text, "ft2") == area


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("big", "is not an area"),
        ("0", "more than zero"),
        ("-20", "more than zero"),
        ("90000 ft2", "larger than any"),
        ("3000 m2", "larger than any"),
    ],
)
def test_areas_that_cannot_be(text, sentence):
    with pytest.raises(QuantityError, match=sentence):
        read_area(text, "ft2")


@pytest.mark.parametrize(
    ("text", "inches"),
    [
        ("79", 79), ("79 in", 79), ('79"', 79), ("6'7\"", 79), ("6 ft 7 in", 79), ("6'", 72), ("14 1/2", 14.5), ("200 cm", 78.74),
        ("2 m", 78.74), ("3.875", 3.88), ("", None),
    ],
)  # fmt: skip
def test_lengths_in_inches(text, inches):
    assert read_inches(text, 400) == pytest.approx(inches, abs=0.01) if inches else read_inches(text, 400) is None


@pytest.mark.parametrize(
    ("text", "feet"), [("12", 12), ("12 ft", 12), ("12'6\"", 12.5), ("144 in", 12), ("3 m", 9.842), ("", None)]
)
def test_lengths_in_feet(text, feet):
    assert read_feet(text, 100) == (pytest.approx(feet) if feet else None)


@pytest.mark.parametrize("text", ["tall", "-3", "6'7'", "1/2/3", "1 1/0", "401", "nan", "1e3"])
def test_lengths_that_are_none(text):
    with pytest.raises(QuantityError):
        read_inches(text, 400)


@given(st.floats(0, 399).map(lambda v: round(v, 2)))
def test_a_length_is_read_back_as_written(inches):
    assert read_inches(length_text(inches), 400) == inches
    assert read_feet(length_text(inches), 400) == pytest.approx(inches, abs=0.001)
