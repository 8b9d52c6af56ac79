"""Drawings as data: the same on screen and paper, every part leads to an entry, and SVG that any reader takes."""

from __future__ import annotations

import xml.etree.ElementTree as ET

import pytest
from builders import answers, sub_panel, with_parts
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.drawing.scene import Box, Ring, Scene, Stroke, Words, wrapped
from robust_ledger.drawing.svg import svg_text
from robust_ledger.job.edits import change_panel, with_part
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.papers.drawings import DRAWINGS, drawings_of, scene_of
from robust_ledger.plan import plan

NS = "{http://www.w3.org/2000/svg}"


@pytest.fixture
def split(demo):
    """A job that fills the one-line: two panels, a feeder, a generator and solar."""
    job = with_part(demo, "main_feed", breaker_a=150.0)
    job = with_part(sub_panel(job, breaker_a=60.0), "equipment", generator_a=30.0, inverter_a=16.0)
    second = Panel(id="panel-2", name="panel 2", fed_from="disconnect", breaker_a=100, separate_building=False)
    return replace(job, scope=answers("split"), panels=(second, *job.panels))


def words_of(scene: Scene) -> list[str]:
    return [shape.text for shape in scene.shapes if isinstance(shape, Words)]


def test_every_drawing_of_the_demo_and_what_leads_where(demo_plan):
    assert [drawing.name for drawing in drawings_of(demo_plan)] == [drawing.name for drawing in DRAWINGS]
    for drawing in DRAWINGS:
        scene = scene_of(drawing, demo_plan)
        assert scene.spots
        for spot in scene.spots:
            assert spot.words and (not spot.entry_id or demo_plan.entry(spot.entry_id)), spot


def test_drawings_that_do_not_belong_to_the_job_are_left_out(small):
    assert [drawing.name for drawing in drawings_of(plan(small))] == ["one-line", "chain", "fit", "bench"]


def test_the_one_line_shows_both_panels_their_bond_and_what_hangs_on_them(split):
    made = plan(split)
    words = words_of(scene_of(DRAWINGS[0], made))
    told = " ".join(words)
    assert all(
        one in told for one in ("Panel", "Panel 2", "Garage", "solar, bus 170 A", "interlock 30 A", "SPD type 1")
    )
    assert sum("IN" in text.split() for text in words) == 1 and sum("REMOVED;" in text.split() for text in words) == 3
    apart = with_parts(with_parts(split, "chain", disconnect_a=None, replaced=()), "panel", first_disconnect=True)
    alone = plan(change_panel(apart, "panel-2", **{"box.first_disconnect": True}))
    assert sum("IN" in text.split() for text in words_of(scene_of(DRAWINGS[0], alone))) == 2, (
        "each panel is first on its way"
    )


@pytest.mark.parametrize("size", [(420, 480), (470, 560), (700, 600)])
def test_nothing_of_the_one_line_leaves_its_plane(split, demo, size):
    for job in (split, demo):
        scene = DRAWINGS[0].draw(plan(job), *size)
        for shape in scene.shapes:
            if isinstance(shape, Box):
                assert shape.x >= 0 and shape.x + shape.width <= size[0] and shape.y + shape.height <= size[1] + 1
        boxes = [s for s in scene.shapes if isinstance(s, Box)]
        for number, one in enumerate(boxes):
            for other in boxes[number + 1 :]:
                apart = one.x + one.width <= other.x or other.x + other.width <= one.x
                assert apart or one.y + one.height <= other.y or other.y + other.height <= one.y, (
                    "boxes lie on each other"
                )


def test_the_chain_draws_amperes_to_scale_and_marks_the_weakest(demo_plan):
    """The bars of 125 and 200 A stand in that proportion on one ground line."""
    scene = scene_of(DRAWINGS[1], demo_plan)
    heights = {round(b.height, 3): b for b in scene.shapes if isinstance(b, Box) and not b.dashed}
    tall = sorted(heights)
    assert tall[-1] / tall[0] == pytest.approx(200 / 125, rel=1e-3)
    assert len({round(b.y + b.height, 3) for b in heights.values()}) == 1
    assert words_of(scene).count("weakest") == 1


def test_svg_is_well_formed_and_carries_the_words_as_text(demo_plan):
    for drawing in DRAWINGS:
        scene = scene_of(drawing, demo_plan)
        root = ET.fromstring(svg_text(scene))
        assert root.tag == f"{NS}svg" and root.get("viewBox") == f"0 0 {drawing.size[0]:g} {drawing.size[1]:g}"
        assert [t.text for t in root.iter(f"{NS}text")] == words_of(scene)
        assert svg_text(scene) == svg_text(scene_of(drawing, demo_plan))


TEXT = st.text(st.characters(codec="utf-8", exclude_categories=["Cs", "Cc"]), max_size=20)


@given(TEXT, st.floats(-500, 500), st.sampled_from(["ink", "stop", "wash"]), st.booleans())
def test_any_words_become_sound_svg(text, x, color, flag):
    scene = Scene(100, 100)
    scene.add(
        Box(x, 0, 10, 10, color, color, flag, flag),
        Stroke(0, 0, x, 5, color, flag),
        Ring(x, x, 3, color),
        Words(x, 0, text, 12, flag),
    )
    try:
        root = ET.fromstring(svg_text(scene))
    except ET.ParseError:
        assert any(not char.isprintable() for char in text), "only what no document holds"
    else:
        assert "".join(root.find(f"{NS}text").itertext()) == text or "\r" in text


@given(st.text("abc def", max_size=80), st.integers(20, 300))
def test_wrapping_loses_no_word(text, width):
    assert " ".join(wrapped(text, width, 12)).split() == text.split()
    assert len(wrapped(text, width, 12, 2)) <= 2
