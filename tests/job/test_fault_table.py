"""The utility's table of fault currents as it is typed."""

from __future__ import annotations

import pytest

from robust_ledger.job.readers.numbers import fault_table_text, names_text, read_fault_table, read_names


@pytest.mark.parametrize(
    "text",
    [
        "200 A 10 kA, 400 A 22 kA",
        "400: 22,000; 200: 10,000",
        "up to 200 A 10k,400 A 22k",
        "200 10,000, 400 22,000",
        "200A 10,000 A,400A 22,000 A",
    ],
)
def test_a_table_is_read_however_it_is_written(text):
    rows = read_fault_table(text)
    assert [(row.up_to_a, row.fault_a) for row in rows] == [(200.0, 10_000.0), (400.0, 22_000.0)]
    assert fault_table_text(rows) == "200 A 10 kA, 400 A 22 kA" and read_fault_table(fault_table_text(rows)) == rows


@pytest.mark.parametrize("text", ["200", "200 A", "ten kA", "200 A 10", "200 A 900 kA", "200 A much"])
def test_what_is_no_table_is_refused(text):
    with pytest.raises(ValueError, match=r"\.$"):
        read_fault_table(text)


def test_names_in_their_order():
    assert read_fault_table(" ") == () and read_names("Address; New service, ,") == ("Address", "New service")
    assert read_names(names_text(("Address", "License"))) == ("Address", "License")
