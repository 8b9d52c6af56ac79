"""The new panel as a drawing: breakers in their spaces, legs on every row, and each wire from its entry to its terminal."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from itertools import pairwise

from msgspec import Struct

from robust_ledger.branch.model import Branch, Origin
from robust_ledger.drawing.scene import Box, Ring, Scene, Stroke, Words
from robust_ledger.job.devices import DeviceKind
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.spaces import leg_of, shown
from robust_ledger.ledger.entry import Entry
from robust_ledger.panel.reach import JUST, NEW, REACHES, SHORT, UNKNOWN, Reach, Wire
from robust_ledger.panel.schedule import Slot

WIRING, NUMBER, LEG, EDGE = 66.0, 24.0, 24.0, 5.0
MAIN_ROWS = 1.7
NARROW = 160.0
LEAST_PITCH, MOST_PITCH = 15.0, 38.0
DIGIT = 0.56
SHORT_DEVICE = {DeviceKind.ARC: "AF", DeviceKind.GROUND: "GF", DeviceKind.DUAL: "DF", DeviceKind.STANDARD: ""}


class Picture(Struct, frozen=True):
    """What is drawn: the job, its circuits by key, every slot, how the wires come there, the main, and which circuits have an
    open finding."""

    job: Job
    branches: Mapping[CircuitKey, Branch]
    schedule: tuple[Slot, ...]
    reach: Mapping[CircuitKey, Reach]
    wires: Mapping[CircuitKey, Wire]
    main: Entry
    flagged: frozenset[CircuitKey]


class Tile(Struct, frozen=True):
    """A breaker, an empty space or half a tandem: its slots from the top, and its place on the drawing."""

    position: str
    key: CircuitKey
    slots: tuple[Slot, ...]
    box: Box

    @property
    def left(self) -> bool:
        """Whether it is on the left."""
        return self.slots[0].space % 2 == 1


class Layout(Struct, frozen=True):
    """Where everything is drawn."""

    outline: Box
    main: Box | None
    tiles: tuple[Tile, ...]
    legs: tuple[tuple[str, Box], ...]
    pitch: float
    wiring: tuple[tuple[float, float], tuple[float, float]]


def lay_out(picture: Picture, width: float, height: float) -> Layout:
    """The drawing's places in a field of `width` × `height`; rows never get lower than LEAST_PITCH."""
    job = picture.job
    rows = (job.panel.spaces + 1) // 2
    at = job.panel.interior.main_at
    main_rows = MAIN_ROWS if at != "none" else 0.6
    pitch = min(MOST_PITCH, max(LEAST_PITCH, (height - 4 * EDGE) / (rows + main_rows + 0.8)))
    top = EDGE + pitch * (main_rows if at == "top" else 0.6) + EDGE
    wiring = min(WIRING, width * 0.1)
    tile = (width - 2 * EDGE - 2 * wiring - 2 * NUMBER - LEG) / 2
    left = EDGE + wiring
    right = left + tile + 2 * NUMBER + LEG
    by_key: dict[str, list[Slot]] = {}
    for slot in picture.schedule:
        by_key.setdefault(slot.key or slot.position, []).append(slot)
    tiles = []
    for slots in by_key.values():
        first = slots[0]
        y, tall = top + (first.space - 1) // 2 * pitch, pitch * len(slots)
        if first.position[-1:] in ("a", "b"):
            tall = pitch / 2
            y += tall if first.position.endswith("b") else 0
        x = left if first.space % 2 else right
        tiles.append(Tile(first.position, first.key, tuple(slots), Box(x, y + 1, tile, tall - 2)))
    middle = left + tile + NUMBER
    legs = tuple((leg_of(2 * row + 1), Box(middle, top + row * pitch + 1, LEG, pitch - 2)) for row in range(rows))
    bottom = top + rows * pitch
    whole = bottom + EDGE + (pitch * main_rows if at == "bottom" else pitch * 0.8)
    main = None
    if at != "none":
        y = EDGE * 1.6 if at == "top" else bottom + EDGE
        main = Box(width / 2 - tile * 0.42 - NUMBER, y, tile * 0.84 + 2 * NUMBER, pitch * MAIN_ROWS - EDGE)
    outline = Box(2, 2, width - 4, whole - 2)
    zones = ((EDGE + 4, left - 6), (right + tile + 6, width - EDGE - 4))
    return Layout(outline, main, tuple(tiles), legs, pitch, zones)


def bench_scene(picture: Picture, width: float, height: float) -> Scene:
    """The whole drawing; every tile can be chosen."""
    layout = lay_out(picture, width, height)
    scene = Scene(width, max(height, layout.outline.y + layout.outline.height + 2))
    o = layout.outline
    scene.add(Box(o.x, o.y, o.width, o.height, weight=1.6))
    if layout.main is not None:
        _main(scene, picture, layout.main)
    for leg, box in layout.legs:
        _leg(scene, leg, box)
    _wires(scene, picture, layout)
    for tile in layout.tiles:
        _tile(scene, picture, tile, layout)
    return scene


def _main(scene: Scene, picture: Picture, box: Box) -> None:
    scene.add(Box(box.x, box.y, box.width, box.height, "ink", "side", weight=1.4))
    rating = f"{picture.main.amount:g} A" if picture.main.known else "?"
    own = {"breaker": f"MAIN  {rating}", "back_fed": f"BACK-FED MAIN  {rating}", "lugs": f"MLO, {rating} ahead"}
    words = own[picture.job.panel.main]
    size = min(13.0, box.width / (len(words) * 0.62))
    scene.add(Words(box.x + box.width / 2, box.y + box.height / 2, words, size, True, "center"))


def _leg(scene: Scene, leg: str, box: Box) -> None:
    """A leg's ground, slanted for A and level for B, its letter on top."""
    scene.add(Box(box.x, box.y, box.width, box.height, "page", hatch=leg == "A", weight=0.1))
    if leg == "B":
        y = box.y + 3
        while y < box.y + box.height - 1:
            scene.add(Stroke(box.x, y, box.x + box.width, y, "faint", weight=0.8))
            y += 5
    side = min(box.height, 15.0)
    scene.add(
        Box(box.x + (box.width - side) / 2, box.y + (box.height - side) / 2, side, side, "page", "page", weight=0.1)
    )
    scene.add(Words(box.x + box.width / 2, box.y + box.height / 2, leg, min(12.0, side * 0.8), True, "center"))


def _tile(scene: Scene, picture: Picture, tile: Tile, layout: Layout) -> None:
    slot, box = tile.slots[0], tile.box
    branch = picture.branches.get(tile.key) if tile.key else None
    idle = branch is None or branch.origin is Origin.FUTURE
    edge = "rule" if branch is None else "faint"
    scene.add(Box(box.x, box.y, box.width, box.height, edge, "" if idle else "field", idle, weight=1.0))
    size = min(12.5, layout.pitch * 0.62, max(7.0, (box.height + 2) * 0.72))
    middle = box.y + box.height / 2
    figures = figures_of(branch, slot) if branch is not None else ""
    if box.width < NARROW:  # the name is worth more than the wire, which the margin tells
        figures = figures.partition(" · ")[0]
    small = min(11.0, size)
    if figures:
        scene.add(Words(box.x + box.width - 6, middle, figures, small, align="right", color="faint"))
    tag = f"{slot.tag}  " if slot.tag and slot.tag != "new" else ""
    text = f"later: {branch.feeds}" if branch is not None and idle else slot.text
    room = box.width - 22 - len(figures) * small * DIGIT
    color = "fix" if tile.key in picture.flagged else "faint" if idle else "ink"
    pinned = tile.key in picture.job.decisions.pins
    scene.add(Words(box.x + 7 + (9 if pinned else 0), middle, _fitted(f"{tag}{text}", room, size), size, color=color))
    if pinned:
        scene.add(Box(box.x + 4, middle - 3.5, 7, 7, "ink", "ink"))
    for index, one in enumerate(tile.slots):
        y = box.y + box.height * (index + 0.5) / len(tile.slots)
        number = shown(one.position, picture.job.panel.numbering, picture.job.panel.spaces)
        x = box.x + box.width + NUMBER - 4 if tile.left else box.x - NUMBER + 4
        scene.add(Words(x, y, number, min(11.5, size), align="right" if tile.left else "left", color="ink"))
    scene.spot(box, f"branch.breaker.{tile.key}" if tile.key else "", words_of(picture, tile))


def figures_of(branch: Branch, slot: Slot) -> str:
    """Breaker, kind and wire in short: "20 AF · 12"."""
    if not slot.rating:  # a space that is held has no breaker
        return ""
    kind = "T" if slot.position[-1:] in ("a", "b") else SHORT_DEVICE[branch.device.kind]
    rating = f"{slot.rating} {kind}".rstrip()
    wire = slot.wire.removesuffix(" Cu")
    return rating if branch.key.kind == "equip" else f"{rating} · {wire}"


def words_of(picture: Picture, tile: Tile) -> str:
    """A tile read aloud."""
    slot = tile.slots[0]
    number = shown(tile.position, picture.job.panel.numbering, picture.job.panel.spaces)
    reach = picture.reach.get(tile.key)
    pinned = ", pinned" if tile.key in picture.job.decisions.pins else ""
    what = " ".join(part for part in (slot.text, slot.rating, slot.wire) if part)
    return f"Space {number}, leg {slot.leg}: {what}{', ' + reach.words if reach else ''}{pinned}"


def _fitted(text: str, room: float, size: float) -> str:
    """Names are shortened at their end; figures never are."""
    if _wide(text, size) <= room:
        return text
    while len(text) > 2 and _wide(text, size) + size * 0.8 > room:
        text = text[:-1]
    return text.rstrip() + "…"


@lru_cache(maxsize=4096)
def _wide(text: str, size: float) -> float:
    """About how wide a text is: the drawing knows no font, only that some letters are narrow and some are wide."""
    return size * sum(0.3 if c in "iljtfr.,:;' " else 0.84 if c in "mwMW" else 0.56 for c in text)


_LINE = {
    REACHES: ("accent", False, False),
    JUST: ("ask", True, False),
    SHORT: ("stop", False, True),
    UNKNOWN: ("faint", True, False),
}


def _wires(scene: Scene, picture: Picture, layout: Layout) -> None:
    """Each side's wires in lanes: who goes furthest along the gutter lies outermost, so that none crosses another."""
    drawn = [
        (tile, picture.wires[tile.key], picture.reach[tile.key])
        for tile in layout.tiles
        if tile.key in picture.reach and picture.reach[tile.key].verdict != NEW
    ]
    for right in (False, True):
        mine = [one for one in drawn if one[0].left != right]
        low, high = layout.wiring[1 if right else 0]
        mine.sort(key=lambda one: _far(one[1], one[0], layout), reverse=True)
        step = (high - low - 10) / max(1, len(mine))
        for lane, (tile, wire, reach) in enumerate(mine):
            x = high - step * lane if right else low + step * lane
            _wire(scene, tile, wire, reach, x, layout)


def _far(wire: Wire, tile: Tile, layout: Layout) -> float:
    """How far along the gutter a wire goes."""
    y = tile.box.y + tile.box.height / 2
    return layout.outline.height - y if _side(wire) == "bottom" else y


def _side(wire: Wire) -> str:
    """Where it comes in: at the end, the side or the back of the new enclosure."""
    if wire.start[1] <= 0:
        return "top"
    if wire.start[1] >= wire.box.height_in:
        return "bottom"
    return "side"


def _wire(scene: Scene, tile: Tile, wire: Wire, reach: Reach, x: float, layout: Layout) -> None:
    color, dashed, dotted = _LINE[reach.verdict]
    weight = 1.8 if reach.verdict == SHORT else 1.4
    outline = layout.outline
    y = tile.box.y + tile.box.height / 2
    end = tile.box.x if tile.left else tile.box.x + tile.box.width
    right = wire.start[0] > wire.box.width_in / 2
    points: list[tuple[float, float]]
    side = _side(wire) if reach.conductors else "unknown"
    if side == "unknown":
        start = tile.box.x - 22 if tile.left else tile.box.x + tile.box.width + 22
        points = [(start, y), (end, y)]
    else:
        across = reach.conductors[0].way.across
        first, last = outline.y, outline.y + outline.height
        level = first + wire.start[1] / wire.box.height_in * outline.height
        entry = (
            (x, first)
            if side == "top"
            else (x, last)
            if side == "bottom"
            else (outline.x if tile.left else outline.x + outline.width, level)
        )
        if across:
            other = layout.wiring[1 if right else 0]
            lane = other[0] + 2 if not right else other[1] - 2
            band = first + 5 if "over" in reach.conductors[0].way.words else last - 6
            start_y = entry[1] if side != "side" else level
            points = [(lane, start_y), (lane, band), (x, band), (x, y), (end, y)]
        else:
            points = [entry, (x, entry[1]), (x, y), (end, y)]
    for (x1, y1), (x2, y2) in pairwise(points):
        if (x1, y1) != (x2, y2):
            scene.add(Stroke(x1, y1, x2, y2, color, dashed, weight, dotted))
    if reach.verdict == SHORT:
        scene.add(Ring(end + (-5 if tile.left else 5), y, 3.2, "stop", 1.6))
