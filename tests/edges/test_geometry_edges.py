"""The inside of an enclosure and the ways in it, worked out by hand with a ruler: inches from the top left corner."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from robust_ledger.job.parts.panels import Interior
from robust_ledger.panel.geometry import inside, way, way_to_bar


@pytest.mark.parametrize(
    ("main_at", "height_in", "first_row_in", "over", "under"),
    [
        # ten rows of two inches and six of the main; five inches at each end; the first row in the middle of its two inches
        ("top", 36.0, 12.0, False, True),
        ("bottom", 36.0, 6.0, True, False),
        ("none", 30.0, 6.0, True, True),
    ],
)
def test_an_enclosure_of_common_proportions(main_at, height_in, first_row_in, over, under):
    made = inside(Interior(pitch_in=2.0, main_at=main_at), 20, None, None)
    assert (made.height_in, made.first_row_in, made.over_open, made.under_open) == (
        height_in,
        first_row_in,
        over,
        under,
    )
    assert made.terminals_in == pytest.approx((3.65, 10.85)) and made.gutters_in == pytest.approx((1.825, 12.675))
    assert made.assumed == ("width", "height", "first row", "terminals")
    assert made.row_y(5) == first_row_in + 4 and made.bands_in == (1.5, height_in - 1.5)


def test_the_last_row_lies_within_by_the_pitch():
    """Ten rows of two inches from 12: the last at 30."""
    made = inside(Interior(pitch_in=2.0, main_at="top"), 20, None, None)
    assert replace(made, height_in=30.5).fits() and not replace(made, height_in=29.5).fits()


def test_a_main_that_is_none_takes_no_room():
    told = inside(Interior(main_at="none"), 20, 14.5, 30.0)
    assert told.first_row_in == 10.5, "(30 - 10) / 2 and half a row"


@pytest.mark.parametrize(("height_in", "first_row_in"), [(20.0, 3.5 + 6.0 - 1.5 + 0.5), (16.0, 7.5), (12.0, 7.5)])
def test_a_crowded_enclosure_leaves_an_inch_at_its_end(height_in, first_row_in):
    """Ten rows and the main are 16 in: two inches left in twenty, one at the least."""
    assert inside(Interior(main_at="top"), 20, 14.5, height_in).first_row_in == first_row_in


@pytest.mark.parametrize(("width_in", "terminal_in"), [(14.5, 3.65), (9.3, 1.05), (9.0, 1.0), (6.0, 1.0)])
def test_terminals_are_an_inch_from_the_side_at_least(width_in, terminal_in):
    assert inside(Interior(), 20, width_in, 30.0).terminals_in[0] == pytest.approx(terminal_in)


@pytest.mark.parametrize(
    ("fields", "assumed"),
    [
        ({"terminal_in": 7.2}, False),
        ({"terminal_in": 7.25}, True),  # the middle
        ({"terminal_in": 0.0}, True),
        ({"terminal_in": 0.1}, False),
    ],
)
def test_a_terminal_lies_between_the_side_and_the_middle(fields, assumed):
    assert ("terminals" in inside(Interior(**fields), 20, 14.5, 30.0).assumed) is assumed


@pytest.mark.parametrize(("first_in", "assumed"), [(None, True), (0.0, True), (0.1, False)])
def test_a_first_row_at_the_very_top_is_not_told(first_in, assumed):
    assert ("first row" in inside(Interior(first_row_in=first_in), 20, 14.5, 30.0).assumed) is assumed


@pytest.mark.parametrize(("pitch_in", "taken"), [(0.0, 1.0), (-1.0, 1.0), (0.5, 0.5)])
def test_a_pitch_of_nothing_is_an_inch(pitch_in, taken):
    made = inside(replace(Interior(), pitch_in=pitch_in), 20, 14.5, 30.0)
    assert made.pitch_in == taken and ("pitch" in made.assumed) is (pitch_in <= 0)


@pytest.mark.parametrize(("height_in", "assumed"), [(None, True), (0.0, True), (-2.0, True), (30.0, False)])
def test_a_height_of_nothing_is_not_told(height_in, assumed):
    assert ("height" in inside(Interior(), 20, 14.5, height_in).assumed) is assumed


@pytest.mark.parametrize(("at_in", "taken"), [(7.0, 5.0), (8.0, 10.0), (30.0, 10.0)])
def test_the_nearest_knockout(at_in, taken):
    made = inside(Interior(knockouts={"left": (5.0, 10.0)}), 20, 14.5, 30.0)
    assert made.nearest_knockout("left", at_in) == taken and made.nearest_knockout("top", at_in) == at_in


# 20 spaces in 14.5 by 30 in, the main above: rows from 13.5 to 22.5, gutters at 1.825 and 12.675, terminals at 3.65 and 10.85.
TOP = inside(Interior(main_at="top"), 20, 14.5, 30.0)
BOTTOM = inside(Interior(main_at="bottom"), 20, 14.5, 30.0)  # rows from 7.5 to 16.5
NONE = inside(Interior(main_at="none"), 20, 14.5, 30.0)


@pytest.mark.parametrize(
    ("box", "start", "right", "y", "length_in", "words"),
    [
        # down 1.5 to the band, 1.175 to the gutter, 12 down, 1.825 in
        (TOP, (3.0, 0.0), False, 13.5, 16.5, "to its gutter"),
        (TOP, (7.25, 0.0), False, 13.5, 1.5 + 5.425 + 12 + 1.825, "to its gutter"),  # the middle is of the left gutter
        (TOP, (7.3, 0.0), True, 13.5, 1.5 + 5.375 + 12 + 1.825, "to its gutter"),
        (TOP, (3.0, 30.0), False, 13.5, 1.5 + 1.175 + 15 + 1.825, "to its gutter"),
        (TOP, (0.0, 16.0), False, 13.5, 1.825 + 2.5 + 1.825, "to its gutter"),
        # the main bars the way above: 27 down, 10.85 across, 15 up
        (TOP, (3.0, 0.0), True, 13.5, 1.5 + 1.175 + 27 + 10.85 + 15 + 1.825, "across under the interior"),
        (TOP, (3.0, 30.0), True, 13.5, 1.5 + 9.675 + 15 + 1.825, "across under the interior"),
        # with the main below it goes across above
        (BOTTOM, (3.0, 0.0), True, 7.5, 1.5 + 9.675 + 6 + 1.825, "across over the interior"),
        (BOTTOM, (0.0, 16.0), True, 7.5, 1.825 + 14.5 + 10.85 + 6 + 1.825, "across over the interior"),
        # nothing in the way: the shorter one
        (NONE, (0.0, 10.0), True, 10.5, 1.825 + 8.5 + 10.85 + 9 + 1.825, "across over the interior"),
        (NONE, (0.0, 20.0), True, 19.5, 1.825 + 8.5 + 10.85 + 9 + 1.825, "across under the interior"),
    ],
)
def test_the_way_of_a_wire(box, start, right, y, length_in, words):
    made = way(box, start, right, y)
    assert made.length_in == pytest.approx(length_in) and made.words == words
    assert made.across is ("across" in words) and made.corners[0] == start


def test_a_bar_ends_the_way_at_the_gutter():
    assert way(TOP, (3.0, 0.0), False, 13.5, bar=True).length_in == pytest.approx(1.5 + 1.175 + 12)


@pytest.mark.parametrize(
    ("start", "sides", "length_in"),
    [
        ((0.0, 16.0), "both", 1.825),  # straight in
        ((14.5, 5.0), "both", 1.825 + 8.5),  # down to the first row
        ((0.0, 25.0), "left", 1.825 + 2.5),  # up to the last
        ((0.0, 25.0), "right", 1.825 + 3.5 + 10.85 + 6),  # down to the band, across, up to the last row
    ],
)
def test_the_way_to_a_bar(start, sides, length_in):
    assert way_to_bar(TOP, start, sides).length_in == pytest.approx(length_in)
