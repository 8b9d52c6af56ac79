"""The inside of an enclosure: what is told, and common proportions for the rest."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from robust_ledger.job.parts.panels import Interior
from robust_ledger.panel.geometry import entry_point, inside


def test_common_proportions_stand_where_nothing_is_told():
    """20 rows of an inch and the main's 6 in make the block; 14.5 in wide."""
    made = inside(Interior(), 40, None, None)
    assert (made.width_in, made.rows, made.pitch_in) == (14.5, 20, 1.0)
    assert "width" in made.assumed and made.fits()


@pytest.mark.parametrize(("spaces", "rows"), [(1, 1), (2, 1), (3, 2), (30, 15), (42, 21)])
def test_two_spaces_make_a_row(spaces, rows):
    assert inside(Interior(), spaces, 14.5, 30.0).rows == rows


@pytest.mark.parametrize(
    ("changes", "holds"),
    [
        ({"first_row_in": 8.0, "height_in": 18.0}, True),  # ten rows of an inch: the last at 17
        ({"first_row_in": 8.0, "height_in": 17.0}, False),  # the last on the very edge
        ({"first_row_in": 8.0, "height_in": 17.1}, True),
        ({"first_row_in": 0.0, "height_in": 30.0}, False),
        ({"first_row_in": 0.1, "height_in": 30.0}, True),
    ],
)
def test_the_rows_lie_within_the_enclosure(changes, holds):
    made = replace(inside(Interior(), 20, 14.5, 30.0), **changes)
    assert made.fits() is holds


@pytest.mark.parametrize(("width_in", "told"), [(15.0, True), (0.0, False), (-3.0, False), (None, False)])
def test_a_width_that_cannot_be_is_none(width_in, told):
    made = inside(Interior(), 20, width_in, 30.0)
    assert (made.width_in, "width" in made.assumed) == ((15.0, False) if told else (14.5, True))


@pytest.mark.parametrize(
    ("side", "at_in", "right", "point"),
    [
        ("top", 3.0, True, (3.0, 0.0)),
        ("bottom", 3.0, True, (3.0, 30.0)),
        ("left", 7.0, True, (0.0, 7.0)),
        ("right", 7.0, False, (14.5, 7.0)),
    ],
)
def test_a_cable_comes_in_at_its_side(side, at_in, right, point):
    assert entry_point(inside(Interior(), 40, 14.5, 30.0), side, at_in, right) == point


def test_a_cable_through_the_back_comes_in_where_the_gutter_of_its_side_is():
    box = inside(Interior(), 40, 14.5, 30.0)
    assert [entry_point(box, "back", 9.0, right)[0] for right in (False, True)] == list(box.gutters_in)
