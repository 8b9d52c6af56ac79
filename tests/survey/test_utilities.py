"""Utilities' figures that jobs share: read back as they were kept, and refused in a sentence."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.job.parts.utility import Utility
from robust_ledger.survey.utilities import UtilitySetsError, read_utilities, text_of, with_utility

NORTH = Utility(
    name="North Valley co-op",
    meter_low_in=60.0,
    meter_high_in=72.0,
    mast_least="2-1/2",
    guy_above_in=24.0,
    free_in=48.0,
)


def test_a_set_is_kept_by_its_name_and_the_last_one_goes():
    known = with_utility((NORTH,), Utility(name="City power", guy_above_in=30.0))
    assert [one.name for one in known] == ["City power", "North Valley co-op"]
    again = with_utility(known, Utility(name="City power", guy_above_in=36.0))
    assert len(again) == 2 and read_utilities(text_of(again)) == again and again[0].guy_above_in == 36
    assert read_utilities("") == ()


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("not json", "is not JSON"),
        ("[]", "says nothing of"),
        (
            '{"format": "robust-ledger-utilities", "utilities": [{"name": "x", "guy_above_in": "high"}]}',
            "Utility 1 of the file: guy above in",
        ),
        ('{"format": "robust-ledger-utilities", "utilities": [7]}', "Utility 1 of the file: name"),
    ],
)
def test_what_is_no_such_document_is_refused(text, sentence):
    with pytest.raises(UtilitySetsError, match=sentence):
        read_utilities(text)


@given(st.text(max_size=300))
def test_no_text_breaks_the_reader(text):
    try:
        read_utilities(text)
    except UtilitySetsError as problem:
        assert str(problem)
