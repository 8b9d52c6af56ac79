"""Drawings as data: boxes, lines, circles and words in one plane, painted alike on the screen, in the papers and as SVG.

Lengths are in points of a screen at text size 1; y grows downwards. Colors are roles ("ink", "faint", "accent", "stop", "fix",
"ask", "rule", "side", "wash", "page"), so that each painter uses its own theme.
"""

from __future__ import annotations

import textwrap
from typing import Literal

from msgspec import Struct, field

Align = Literal["left", "center", "right"]


class Box(Struct, frozen=True):
    """A rectangle; `fill` "" leaves it open, `hatch` slants lines across it instead of filling it."""

    x: float
    y: float
    width: float
    height: float
    edge: str = "ink"
    fill: str = ""
    dashed: bool = False
    hatch: bool = False
    weight: float = 1.3


class Stroke(Struct, frozen=True):
    """A line from one point to another, whole, dashed or dotted."""

    x1: float
    y1: float
    x2: float
    y2: float
    color: str = "ink"
    dashed: bool = False
    weight: float = 1.3
    dotted: bool = False


class Ring(Struct, frozen=True):
    """A circle around a point."""

    x: float
    y: float
    radius: float
    color: str = "ink"
    weight: float = 1.3


class Words(Struct, frozen=True):
    """One line of text: `x` is its left end, middle or right end by `align`; `y` the middle of its height."""

    x: float
    y: float
    text: str
    size: float = 12
    bold: bool = False
    align: Align = "left"
    color: str = "ink"


class Spot(Struct, frozen=True):
    """A part of the drawing that can be chosen: its bounds, the entry behind it, and how it is read aloud."""

    x: float
    y: float
    width: float
    height: float
    entry_id: str
    words: str


Shape = Box | Stroke | Ring | Words


class Scene(Struct):
    """A whole drawing, filled shape by shape, later ones on top."""

    width: float
    height: float
    shapes: list[Shape] = field(default_factory=list)
    spots: list[Spot] = field(default_factory=list)

    def add(self, *shapes: Shape) -> None:
        """Put shapes on top of what is there."""
        self.shapes.extend(shapes)

    def spot(self, box: Box, entry_id: str, words: str) -> None:
        """A place that leads to an entry and says itself aloud."""
        self.spots.append(Spot(box.x, box.y, box.width, box.height, entry_id, words))


def arrow(scene: Scene, x: float, y1: float, y2: float, text: str, color: str = "faint", part: float = 0.5) -> None:
    """An upright dimension: a line with a tick at both ends, its figure beside it at a part of its length."""
    scene.add(Stroke(x, y1, x, y2, color, weight=1))
    for y in (y1, y2):
        scene.add(Stroke(x - 4, y, x + 4, y, color, weight=1))
    scene.add(Words(x + 7, y1 + (y2 - y1) * part, text, 12, color=color))


def wrapped(text: str, width: float, size: float, most: int = 3) -> list[str]:
    """Words broken into lines of about a width; the face's letters are 0.55 of its size wide on the average. What does not
    fit into `most` lines runs on in the last one."""
    lines = textwrap.wrap(text, max(4, int(width / (0.55 * size))), break_long_words=False)
    return lines if len(lines) <= most else [*lines[: most - 1], " ".join(lines[most - 1 :])]
