"""Overhead: each clearance at its edge, straps counted on a stick, and habits that are looser than the code."""

from __future__ import annotations

import math

import pytest
from builders import finding_ids, house, with_parts
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.job.edits import with_part
from robust_ledger.plan import plan
from robust_ledger.survey.overhead_drawing import overhead_scene


def drop(edition: str = "2023", run: dict | None = None, **planned):
    job = house(1500, scope="upgrade", edition=edition, service_run=run or {})
    return plan(with_part(job, "overhead", **{"mast": False, "over": "yard", "roof": "none", **planned}))


def found(made) -> set[str]:
    return {one.removeprefix("overhead.") for one in finding_ids(made) if one.startswith("overhead.")}


@pytest.mark.parametrize(
    ("planned", "wrong"),
    [
        ({"attachment_ft": 10, "loop_ft": 10, "span_ft": 10, "weatherhead_ft": 10}, set()),
        ({"attachment_ft": 9.9}, {"attachment_ft"}),
        ({"loop_ft": 9.9}, {"loop_ft"}),
        ({"span_ft": 11.9, "over": "drive"}, {"span_ft"}),
        ({"span_ft": 12, "over": "drive"}, set()),
        ({"span_ft": 17.9, "over": "road"}, {"span_ft"}),
        ({"span_ft": 18, "over": "road"}, set()),
        ({"roof": "steep", "roof_in": 36}, set()),
        ({"roof": "steep", "roof_in": 35}, {"roof_in"}),
        ({"roof": "overhang", "roof_in": 18, "roof_run_in": 72, "overhang_in": 48}, set()),
        ({"roof": "overhang", "roof_in": 17, "roof_run_in": 73, "overhang_in": 49}, {"roof_in", "roof_run_in", "overhang_in"}),
        ({"roof": "none", "roof_in": 1, "roof_run_in": 400}, set()),
        ({"window_ft": 2.9}, {"window_ft"}),
        ({"window_ft": 3}, set()),
        ({"attachment_ft": 14, "weatherhead_ft": 13.9}, {"head"}),
        ({"free_in": 35}, {"free"}),
        ({"strap_end_in": 12, "strap_between_in": 30}, set()),
        ({"strap_end_in": 13, "strap_between_in": 31}, {"strap_end_in", "strap_between_in"}),
    ],
)  # fmt: skip
def test_every_clearance_at_its_edge(planned, wrong):
    assert found(drop(**planned)) == wrong


@pytest.mark.parametrize(("edition", "least_in"), [("2017", 96), ("2020", 102), ("2023", 102)])
def test_a_flat_roof_by_edition(edition, least_in):
    assert found(drop(edition, roof="low", roof_in=least_in)) == set()
    made = drop(edition, roof="low", roof_in=least_in - 1)
    assert found(made) == {"roof_in"}
    assert any(c.verify for s in made.entries["overhead.roof_in"].steps for c in s.cites) is (edition != "2017")
    assert "18 in above any roof" in next(f for f in made.findings if f.id == "overhead.roof_in").text


@pytest.mark.parametrize(
    ("run", "between", "riser_ft", "straps"),
    [
        ({}, 30, 2, 1),  # 24 in: both ends in reach of one strap
        ({}, 30, 2.1, 2),  # 1.2 in between the outer ones
        ({}, 30, 9, 4),  # 108 − 24 = 84: 2.8 gaps
        ({}, 30, 9.5, 4),  # 90: 3 gaps
        ({}, 30, 9.6, 5),
        ({"raceway": "rmc"}, 120, 9, 2),  # 108 − 72 = 36
        ({"raceway": "rmc"}, 120, 6, 1),
        ({"raceway": "pvc40", "trade_size": "2"}, 60, 20, 4),  # 240 − 72 = 168: 2.8 gaps
        ({"raceway": "pvc40", "trade_size": "3"}, 72, 20, 4),  # 2.33 gaps
    ],
)
def test_straps_counted_on_a_stick(run, between, riser_ft, straps):
    made = drop(run=run, riser_ft=riser_ft, strap_between_in=between)
    assert made.entries["overhead.straps"].value == straps
    assert "strap_between_in" not in found(made)
    assert "strap_between_in" in found(drop(run=run, strap_between_in=between + 1))


def test_what_is_not_told_stays_unknown():
    made = drop(run={"raceway": "pvc40"}, riser_ft=20)
    assert not made.entries["overhead.straps"].known, "PVC's distance goes by a trade size that is not entered"
    assert drop().entries["overhead.attachment_ft"].why_unknown == "point of attachment, to be measured"
    assert not [e for e in plan(house(1500, scope="swap")).entries if e.startswith("overhead.")]
    under = with_parts(house(1500, scope="upgrade"), "chain", underground=True)
    assert "overhead" not in plan(under).walk.asked


@given(st.floats(0.1, 60), st.sampled_from(["cable", "rmc", "emt"]))
def test_that_many_straps_hold_and_one_fewer_does_not(riser_ft, raceway):
    """Put on as evenly as can be, n straps keep both limits; n − 1 cannot."""
    end, between = (12, 30) if raceway == "cable" else (36, 120)
    count = drop(run={"raceway": raceway}, riser_ft=riser_ft).entries["overhead.straps"].amount
    reach = lambda n: 2 * end + (n - 1) * between  # noqa: E731
    assert reach(count) >= riser_ft * 12 - 1e-6
    assert count == 1 or reach(count - 1) < riser_ft * 12


HEIGHTS = st.one_of(st.none(), st.floats(0, 40))


@given(HEIGHTS, HEIGHTS, HEIGHTS, HEIGHTS, HEIGHTS, st.sampled_from(["none", "low", "steep", "overhang"]))
def test_the_drawing_stands_whatever_is_told(attachment, head, loop, span, riser, roof):
    made = drop(attachment_ft=attachment, weatherhead_ft=head, loop_ft=loop, span_ft=span, riser_ft=riser, roof=roof)
    scene = overhead_scene(made.job, made.walk.overhead, made.codebook, 380, 500)
    for spot in scene.spots:
        assert spot.entry_id in made.entries and spot.words
    for shape in scene.shapes:
        assert all(math.isfinite(getattr(shape, name)) for name in ("x", "y") if hasattr(shape, name))
