"""Fit: the band for the panel's bottom, worked on paper, and which constraint binds; the drawing to scale."""

from __future__ import annotations

import pytest
from builders import finding_ids, house, with_parts
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.drawing.scene import Box, Ring
from robust_ledger.plan import plan
from robust_ledger.survey.fit_drawing import FOOT, HEAD, fit_scene

OLD = {"width_in": 14.0, "height_in": 24.0}
NEW = {"width_in": 14.5, "height_in": 36.0, "depth_in": 3.75}
BASE = {"old": OLD, "new": NEW, "old_bottom_in": 48.0, "handle_in": 30.0, "slack_in": 10.0}


def fitted(**changes):
    return plan(with_parts(house(1500, scope="swap"), "fit", **{**BASE, **changes}))


def edge(made, side: str) -> tuple[float | None, str]:
    entry = made.entries[f"fit.{side}"]
    return entry.value, entry.steps[-1].label.removeprefix("binds: by the ")


@pytest.mark.parametrize(
    ("changes", "low", "high", "bottom"),
    [
        ({}, (26, "cables"), (49, "handle"), 36),  # old top 72; 72 − 10 − 36; 79 − 30; 72 − 36
        ({"handle_in": None}, (26, "cables"), (43, "handle"), 36),  # the top itself: 79 − 36
        ({"ceiling_in": 84, "headroom_in": 6}, (26, "cables"), (42, "ceiling"), 36),  # 84 − 6 − 36
        ({"ceiling_in": 72, "headroom_in": 6}, (26, "cables"), (30, "ceiling"), 30),  # the old top no longer fits
        ({"slack_in": 0}, (36, "cables"), (49, "handle"), 36),
        ({"least_in": 40}, (40, "binds: your minimum"), (49, "handle"), 40),
        ({"meter_low_in": 48, "meter_high_in": 72, "meter_to_panel_in": -26}, (26, "cables"), (46, "meter window"), 36),
        ({"meter_low_in": 60, "meter_high_in": 72, "meter_to_panel_in": -26}, (34, "meter window"), (46, "meter window"), 36),
        ({"meter_low_in": 60, "meter_high_in": 72}, (26, "cables"), (49, "handle"), 36),  # they do not hang together
        ({"platform_in": 8}, (26, "cables"), (57, "handle"), 36),
        ({"enters": "bottom"}, (0, "nothing is good for it up: the floor"), (49, "handle"), 36),
        ({"new_bottom_in": 20}, (26, "cables"), (49, "handle"), 20),
    ],
)  # fmt: skip
def test_the_band_by_hand(changes, low, high, bottom):
    made = fitted(**changes)
    for side, (value, words) in (("low", low), ("high", high)):
        assert made.entries[f"fit.{side}"].value == value
        assert made.entries[f"fit.{side}"].steps[-1].label.endswith(words.removeprefix("binds: "))
    assert made.entries["fit.bottom"].value == bottom


@pytest.mark.parametrize(
    ("changes", "ids"),
    [
        ({}, set()),
        ({"ceiling_in": 60}, {"fit.band"}),  # at most 24, at least 26
        ({"new_bottom_in": 20}, {"fit.height"}),
        ({"new_bottom_in": 50}, {"fit.height", "fit.handle"}),  # handle at 80
        ({"space_width_in": 29.5}, {"fit.space_width_in"}),
        ({"space_width_in": 30, "space_depth_in": 36, "space_height_in": 78}, set()),
        ({"space_depth_in": 35}, {"fit.space_depth_in"}),
        ({"space_height_in": 77}, {"fit.space_height_in"}),
        ({"flush": True, "bay_in": 14.25, "stud_in": 3.5}, {"fit.bay"}),  # ½ in of drywall covers what stands out
        ({"flush": True, "bay_in": 14.5, "stud_in": 3.5, "finish_in": 0}, {"fit.stud"}),
        ({"flush": True, "bay_in": 14.5, "stud_in": 3.75}, set()),
        ({"bay_in": 14.25, "stud_in": 3.5}, set()),  # mounted on the wall
        ({"cutout_in": 40}, {"fit.cutout"}),
        ({"meter_in": 75, "meter_low_in": 48, "meter_high_in": 72}, {"fit.meter"}),
        ({"new": {**NEW, "height_in": None}}, set()),  # nothing known, nothing invented
    ],
)
def test_what_does_not_fit(changes, ids):
    unasked = {"fit.space_unknown", "fit.handle_unknown"}  # their own table has them
    assert {one for one in finding_ids(fitted(**changes)) if one.startswith("fit.")} - unasked == ids


@pytest.mark.parametrize(
    ("changes", "top", "bottom", "words"),
    [
        ({"new_bottom_in": 40}, 4, -8, "raceways cut back by 4 in"),
        ({"new_bottom_in": 30}, -6, -18, "raceways extended by 6 in"),
        ({"new_bottom_in": 30, "enters": "bottom"}, -6, -18, "raceways cut back by 18 in"),
        ({"new_bottom_in": 50, "enters": "bottom"}, 14, 2, "raceways extended by 2 in"),
        ({}, 0, -12, "stays as it is"),
    ],
)
def test_what_enters_is_cut_back_or_extended(changes, top, bottom, words):
    made = fitted(**changes)
    shifts = [made.entries[f"fit.{side}_shift"] for side in ("top", "bottom")]
    assert [s.value for s in shifts] == [top, bottom]
    assert words in [step.value for s in shifts for step in s.steps]


def test_a_height_that_is_not_told_leaves_the_band_unknown():
    made = fitted(new={"width_in": 14.5}, handle_in=None)
    assert made.entries["fit.high"].why_unknown == "height of the new enclosure"
    assert not made.entries["fit.bottom"].known


LENGTHS = st.one_of(st.none(), st.floats(1, 120))


@given(LENGTHS, LENGTHS, LENGTHS, LENGTHS, LENGTHS, st.sampled_from(["top", "bottom", "both"]), LENGTHS)
def test_what_is_taken_lies_within_the_band_and_the_drawing_keeps_its_scale(
    height, handle, ceiling, slack, old_bottom, enters, meter
):
    fit = {"new": {"width_in": 14.5, "height_in": height}, "handle_in": handle, "ceiling_in": ceiling, "slack_in": slack,
           "old_bottom_in": old_bottom, "enters": enters, "meter_in": meter}  # fmt: skip
    made = fitted(**fit)
    low, high, bottom = (made.entries[f"fit.{name}"] for name in ("low", "high", "bottom"))
    if low.known and high.known and bottom.known and low.amount <= high.amount:
        assert low.amount - 1e-9 <= bottom.amount <= high.amount + 1e-9
    scene = fit_scene(made.job, made.walk.fit, made.codebook, 440, 560)
    scale = (560 - FOOT - HEAD) / (max(ceiling or 0, 78, 79) + 6)
    panels = [s for s in scene.shapes if isinstance(s, Box) and s.weight == 2]
    if panels:
        assert panels[0].height == pytest.approx(height * scale) and panels[0].width == pytest.approx(14.5 * scale)
        assert panels[0].y + panels[0].height == pytest.approx(560 - FOOT - bottom.amount * scale)
    rings = [s for s in scene.shapes if isinstance(s, Ring)]
    assert [ring.y for ring in rings] == pytest.approx([560 - FOOT - meter * scale] if meter else [])
