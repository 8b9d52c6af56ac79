"""Where things sit inside an enclosure, and how long the way of a wire is [in]: origin at the inside's top left, x right, y down.

A way is made of upright and level pieces, as wires are dressed: from the entry to a gutter, along it, in to the terminal. It
changes sides above or below the interior, never across the side where the line conductors land.
"""

from __future__ import annotations

from functools import lru_cache

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.parts.panels import Interior
from robust_ledger.job.spaces import row_of

# Proportions of the interior of a common panel, taken where a measure is not told.
WIDTH_IN = 14.5
MAIN_HEIGHT_IN = 6.0
END_ROOM_IN = 5.0
TERMINAL_HALF_IN = 3.6
BAND_IN = 1.5

Point = tuple[float, float]

# The same few entries and rows come up for every circuit, and again with the next keystroke.
_remembered = lru_cache(maxsize=20_000)


class Inside(Struct, frozen=True):
    """An enclosure's inside. `assumed` names the measures that follow from common proportions; `over_open`, `under_open`: a
    wire may change sides above or below the interior. `left_in`, `top_in`: its corner on the wall, from a common datum, y down."""

    width_in: float
    height_in: float
    rows: int
    first_row_in: float
    pitch_in: float
    terminals_in: tuple[float, float]
    gutters_in: tuple[float, float]
    over_open: bool
    under_open: bool
    left_in: float
    top_in: float
    knockouts: tuple[tuple[str, tuple[float, ...]], ...]
    assumed: tuple[str, ...]

    def row_y(self, space: int) -> float:
        """Height of a space's terminal below the top."""
        return self.first_row_in + row_of(space) * self.pitch_in

    @property
    def bands_in(self) -> tuple[float, float]:
        """Where a wire can pass above and below the interior."""
        return BAND_IN, self.height_in - BAND_IN

    def nearest_knockout(self, side: str, at_in: float) -> float:
        """The knockout of a side that is nearest to a place; the place itself where none is written down."""
        places = dict(self.knockouts).get(side)
        return min(places, key=lambda one: abs(one - at_in)) if places else at_in

    def fits(self) -> bool:
        """Whether the rows lie within the enclosure."""
        last = self.first_row_in + (self.rows - 1) * self.pitch_in
        return self.first_row_in > 0 and last < self.height_in


def inside(
    interior: Interior,
    spaces: int,
    width_in: float | None,
    height_in: float | None,
    corner: Point = (0.0, 0.0),
) -> Inside:
    """The inside of an enclosure with so many spaces, from what is told of it and common proportions for the rest."""
    assumed = []
    rows = max(1, (spaces + 1) // 2)
    pitch = interior.pitch_in
    if pitch <= 0:
        pitch = 1.0
        assumed.append("pitch")
    main = MAIN_HEIGHT_IN if interior.main_at != "none" else 0.0
    block = rows * pitch + main
    if not width_in or width_in <= 0:
        width_in = WIDTH_IN
        assumed.append("width")
    if not height_in or height_in <= 0:
        height_in = block + 2 * END_ROOM_IN
        assumed.append("height")
    end = max(1.0, (height_in - block) / 2)
    first = interior.first_row_in
    if first is None or first <= 0:
        first = end + (main if interior.main_at == "top" else 0.0) + pitch / 2
        assumed.append("first row")
    terminal = interior.terminal_in
    if terminal is None or not 0 < terminal < width_in / 2:
        terminal = max(1.0, width_in / 2 - TERMINAL_HALF_IN)
        assumed.append("terminals")
    return Inside(
        width_in,
        height_in,
        rows,
        first,
        pitch,
        (terminal, width_in - terminal),
        (terminal / 2, width_in - terminal / 2),
        interior.main_at != "top",
        interior.main_at != "bottom",
        corner[0],
        corner[1],
        tuple((side, tuple(at)) for side, at in interior.knockouts.items()),
        tuple(assumed),
    )


class Way(Struct, frozen=True):
    """The way of a wire as its corners, in words how it goes, its length, and whether it changes sides."""

    corners: tuple[Point, ...]
    words: str
    length_in: float
    across: bool = False


def entry_point(box: Inside, side: str, at_in: float, right: bool) -> Point:
    """Where a cable comes in: `at_in` from the left on top and bottom, else from the top. One through the back comes in where
    the gutter on its side is."""
    if side == "top":
        return at_in, 0.0
    if side == "bottom":
        return at_in, box.height_in
    if side == "left":
        return 0.0, at_in
    if side == "right":
        return box.width_in, at_in
    return box.gutters_in[1 if right else 0], at_in


@_remembered
def way(box: Inside, start: Point, right: bool, y: float, bar: bool = False) -> Way:
    """The shortest lawful way from an entry to a terminal, or to a bar beside the gutter, at height `y` on one side of the
    interior. The line side bars one way across at the most."""
    x0, y0 = start
    own, other = box.gutters_in if x0 <= box.width_in / 2 else box.gutters_in[::-1]
    gutter = box.gutters_in[1 if right else 0]
    end = ((gutter, y),) if bar else ((gutter, y), (box.terminals_in[1 if right else 0], y))
    over, under = box.bands_in
    level = min(max(y0, over), under)
    if gutter == own:
        return _along("to its gutter", start, (x0, level), (own, level), *end)
    ways = []
    for band, is_open, words in ((over, box.over_open, "over"), (under, box.under_open, "under")):
        if is_open:
            start_points = ((x0, level),) if level == band else ((x0, level), (own, level), (own, band))
            crossing = _along(f"across {words} the interior", start, *start_points, (other, band), *end)
            ways.append(replace(crossing, across=True))
    return min(ways, key=lambda one: one.length_in)


def _along(words: str, *points: Point) -> Way:
    """A way along these corners, repeats left out."""
    corners, length, before = [points[0]], 0.0, points[0]
    for point in points[1:]:
        if point != before:
            corners.append(point)
            length += abs(point[0] - before[0]) + abs(point[1] - before[1])
            before = point
    return Way(tuple(corners), words, length)


@_remembered
def way_to_bar(box: Inside, start: Point, sides: str) -> Way:
    """To the nearest free place of a bar that runs beside the rows, on one side or on both."""
    top = box.first_row_in
    bottom = top + (box.rows - 1) * box.pitch_in
    ways = [
        way(box, start, right, y, bar=True)
        for right in ((False, True) if sides == "both" else (sides == "right",))
        for y in {top, bottom, min(max(start[1], top), bottom)}
    ]
    return min(ways, key=lambda one: one.length_in)
