"""The arithmetic leaves its own trail, and the unknown stays unknown."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.ledger.entry import Citation, Entry, Finding, Severity, Step
from robust_ledger.ledger.text import amount_text, number_text, value_text
from robust_ledger.ledger.working import Working

AMOUNTS = st.floats(0, 1e6, allow_nan=False)


def test_a_product_writes_what_it_did():
    work = Working("x", "lighting")
    area = work.given("floor area", 1720, "ft²")
    unit = work.take(Step("general lighting, VA/ft²", 3, "VA/ft²", cites=(Citation("220.41", "2023"),)))
    entry = work.entry(work.product("general lighting", [area, unit], "VA"))
    assert entry.text() == "5,160 VA"
    assert entry.steps[-1].how == "1,720 ft² × 3 VA/ft²"
    assert [str(c) for c in entry.sections()] == ["220.41"]


@given(st.lists(AMOUNTS, min_size=1, max_size=6))
def test_the_value_of_an_entry_is_its_last_step(values):
    work = Working("x", "sum")
    entry = work.entry(work.total("sum", [Step(str(n), v, "VA") for n, v in enumerate(values)], "VA"))
    assert entry.value == sum(values) == entry.steps[-1].value


@given(st.lists(st.one_of(st.none(), AMOUNTS), min_size=1, max_size=6))
def test_one_unknown_operand_makes_every_operation_unknown(values):
    steps = [Step(str(n), v, "VA") for n, v in enumerate(values)]
    work = Working("x", "x")
    for result in (work.total("t", steps, "VA"), work.product("p", steps, "VA"), work.larger("l", steps)):
        assert result.known == (None not in values)


@pytest.mark.parametrize(
    ("exact", "whole"), [(142.49, 142), (142.5, 143), (142.99, 143), (0.4, 0), (100.0, 100), (89.4999999999, 90)]
)
def test_fractions_below_one_half_are_dropped(exact, whole):
    """89.4999999999 is 89.5 in binary clothes; it goes up."""
    work = Working("x", "x")
    assert work.round_half_up("whole", Step("exact", exact, "A")).value == whole


def test_the_reason_for_an_unknown_is_its_first_cause():
    work = Working("area", "lighting")
    area = work.given("floor area", None, "ft²")
    first = work.entry(work.product("lighting", [area, Step("unit", 3)], "VA"))
    work = Working("total", "total")
    total = work.entry(work.total("total", [work.entry_step(first), Step("range", 8000, "VA")], "VA"))
    assert not total.known and total.text() == "?"
    assert total.why_unknown == "floor area"
    with pytest.raises(ValueError, match="not a number"):
        _ = total.amount


@pytest.mark.parametrize(
    ("value", "unit", "text"),
    [(34316.8, "VA", "34,317 VA"), (142.97, "A", "143 A"), (81.55, "A", "81.6 A"), (11.2, "kW", "11.2 kW"), (None, "A", "?"),
     ("4/0 Al", "", "4/0 Al"), (1720.0, "ft²", "1,720 ft²"), (0.83, "", "0.83"), (3, "", "3")],
)  # fmt: skip
def test_amounts_are_written_one_way(value, unit, text):
    assert amount_text(value, unit) == text


@given(st.integers(-(10**9), 10**9))
def test_whole_numbers_read_back(value):
    assert int(number_text(value).replace(",", "")) == value
    assert value_text(None) == "?"


def test_severities_are_in_order_and_notes_are_never_open():
    assert [s.value for s in sorted(Severity, key=lambda s: s.rank)] == ["STOP", "FIX", "ASK", "NOTE"]
    note = Finding("a", Severity.NOTE, "load", "", "t", "x", "y")
    stop = Finding("a", Severity.STOP, "load", "", "t", "x", "y")
    assert not note.open and stop.open
    assert not Finding("a", Severity.STOP, "load", "", "t", "x", "y", (), "inspector agreed").open
    assert Entry("a", "b", 3, "A").step("c").place == "entry:a"
