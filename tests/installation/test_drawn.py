"""The one-line of any tree stands on one sheet: nothing leaves it, no words lie over others, every node and its figures are there."""

from __future__ import annotations

import pytest

from installation.trees import base, tree
from robust_ledger.drawing.scene import Scene, Words
from robust_ledger.installation.one_line_drawing import one_line_scene
from robust_ledger.job.edits import add_panel, with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN, Panel
from robust_ledger.job.templates import TEMPLATES
from robust_ledger.plan import Plan, plan

SHEET = (500.0, 560.0)  # as the sheet has it
WIDE_OF_A_LETTER = 0.5  # of its size, on the average


def in_a_row(count: int) -> Job:
    job = base()
    for number in range(count):
        above = f"p{number - 1}" if number else MAIN
        job = add_panel(
            job, Panel(id=f"p{number}", name=f"panel {number}", fed_from=above, breaker_a=60.0, length_ft=20.0)
        )
    return job


def side_by_side(count: int) -> Job:
    job = with_part(base(), "scope", service="split")
    for number in range(count):
        at = ("meter", MAIN)[number % 2]
        job = add_panel(
            job, Panel(id=f"p{number}", name=f"panel {number}", fed_from=at, breaker_a=60.0, length_ft=20.0)
        )
    return job


TREES = {
    "twelve in a row": lambda: in_a_row(12),
    "twelve side by side": lambda: side_by_side(12),
    **{f"template {one.key}": lambda one=one: one.take(base()) for one in TEMPLATES},
    **{f"tree {seed}": lambda seed=seed: tree(seed) for seed in range(12)},
}


def boxes_of(scene: Scene) -> list[tuple[float, float, float, float, str]]:
    """Where each line of words lies: left, top, right, bottom."""
    made = []
    for one in scene.shapes:
        if isinstance(one, Words) and one.text:
            wide = WIDE_OF_A_LETTER * one.size * len(one.text)
            left = one.x - {"left": 0.0, "center": wide / 2, "right": wide}[one.align]
            made.append((left, one.y - one.size * 0.35, left + wide, one.y + one.size * 0.35, one.text))
    return made


@pytest.mark.parametrize("name", TREES)
def test_the_one_line_of_any_tree_stands_on_one_sheet(name):
    made: Plan = plan(TREES[name]())
    scene = one_line_scene(made.one_line, *SHEET)
    lines = boxes_of(scene)
    for left, top, right, bottom, text in lines:
        assert left >= -2 and right <= SHEET[0] + 12 and top >= 0 and bottom <= SHEET[1], text
    over = [
        (one[4], other[4])
        for number, one in enumerate(lines)
        for other in lines[:number]
        if one[0] < other[2] and other[0] < one[2] and one[1] < other[3] - 0.5 and other[1] < one[3] - 0.5
    ]
    assert not over
    drawn = " ".join(text for *_where, text in lines)
    assert {word for box in made.one_line for word in box.title.split()} <= set(drawn.split())
    assert sum(text.startswith("N–G BONDED HERE") for *_where, text in lines) == sum(
        box.bond == "in" for box in made.one_line
    )
