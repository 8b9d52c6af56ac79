"""The one-line drawing of many nodes: a row for each under what feeds it, moved right by how far it is from the utility, so that twelve of them
still stand on one sheet with words that can be read."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from msgspec import Struct

from robust_ledger.drawing.scene import Box, Scene, Stroke, Words, wrapped
from robust_ledger.installation.one_line import Drawn, Line

# Sizes of letters and what a line of them takes; the largest that goes on the sheet is taken.
SIZES = ((12, 15.0), (11, 13.5), (10, 12.0), (9, 11.0), (8, 10.0), (7, 8.5), (6, 7.5))
STEP, BOX_SHARE, PAD = 15.0, 0.27, 4.0
BONDS = {
    "in": "N–G BONDED HERE: bonding screw/strap IN",
    "out": "Bonding screw/strap REMOVED; neutrals and grounds separate",
    "open": "Bond: leave the screw; count its feeder's wires first",
    "supply": "Not service equipment: no MBJ here; the neutral grounds the can",
}


class Rowed(Struct, frozen=True):
    """A node in its row: how deep it stands, its title, the lines in its box and those beside it, and the row's height."""

    node: Drawn
    depth: int
    title: tuple[str, ...]
    inside: tuple[Line, ...]
    beside: tuple[Line, ...]
    height: float


def compact_scene(nodes: Sequence[Drawn], width: float, height: float) -> Scene:
    """Rows from the utility down; wires come to each box from the left, the ground dashed."""
    depth = depths(nodes)
    for size, line in SIZES:
        rows = [_row(node, depth[node.key], width, size, line) for node in _in_tree(nodes)]
        if sum(row.height + PAD for row in rows) + 4 <= height:
            break
    scene = Scene(width, height)
    top, at = 4.0, dict[str, Box]()
    for row in rows:
        box = Box(4 + STEP * row.depth, top, width * BOX_SHARE, row.height, fill="side")
        at[row.node.key] = box
        top += row.height + PAD
    for row in rows:
        if row.node.behind in at:
            _wires(scene, row.node, at[row.node.behind], at[row.node.key])
    for row in rows:
        _drawn(scene, row, at[row.node.key], size, line)
    return scene


def depths(nodes: Sequence[Drawn]) -> dict[str, int]:
    """How far each is from the utility."""
    depth = {"": -1}
    for node in nodes:
        depth[node.key] = depth[node.behind] + 1
    return depth


def _in_tree(nodes: Sequence[Drawn]) -> Iterator[Drawn]:
    """Each under what feeds it."""
    below: dict[str, list[Drawn]] = {}
    for node in nodes:
        below.setdefault(node.behind, []).append(node)

    def under(key: str) -> Iterator[Drawn]:
        for node in below.get(key, []):
            yield node
            yield from under(node.key)

    yield from under("")


def _row(node: Drawn, depth: int, width: float, size: int, line: float) -> Rowed:
    box = width * BOX_SHARE
    room = width - box - STEP * depth - 20
    bond_id = f"service.bond.{node.key}"
    inside = [Line(text, at.entry_id, at.differs) for at in _said(node) for text in wrapped(at.text, box - 8, size, 9)]
    feed = [one for one in node.feed if not one.differs]
    told = [Line(", ".join(one.text for one in feed), feed[0].entry_id)] if feed else []
    told += [one for one in (*node.feed, *node.lines) if one.differs]
    told += [Line(BONDS[node.bond], bond_id)] if node.bond else []
    told += [Line("; ".join(one.text for one in node.beside), node.beside[0].entry_id)] if node.beside else []
    beside = [
        Line(text, at.entry_id, at.differs)
        for at in told
        for text in wrapped(at.text, room * (0.9 if node.bond == "in" else 1), size, 12)
    ]
    title = tuple(wrapped(node.title, (box - 8) * 0.9, size, 9))
    lines = max(len(title) + len(inside), len(beside))
    return Rowed(node, depth, title, tuple(inside), tuple(beside), line * lines + 4)


def _said(node: Drawn) -> Iterator[Line]:
    """What stands in its box, figures of one kind to a line."""
    lines = [one for one in node.lines if not one.differs]
    if lines:
        yield lines[0]
    if len(lines) > 1:
        yield Line(", ".join(one.text for one in lines[1:]), lines[1].entry_id)


def _drawn(scene: Scene, row: Rowed, box: Box, size: int, line: float) -> None:
    node = row.node
    scene.add(box)
    for number, text in enumerate(row.title):
        scene.add(Words(box.x + 5, box.y + 3 + line * (number + 0.5), text, size, True))
    told = "; ".join([node.title, *(one.text for one in (*node.lines, *node.beside)), BONDS.get(node.bond, "")])
    if node.lines:
        scene.spot(box, node.lines[0].entry_id, told.rstrip("; "))
    for number, one in enumerate(row.inside, len(row.title)):
        scene.add(Words(box.x + 5, box.y + 3 + line * (number + 0.5), one.text, size, color="ink"))
    x = box.x + box.width + 8
    for number, one in enumerate(row.beside):
        y = box.y + 2 + line * (number + 0.5)
        bonded = node.bond == "in" and one.entry_id == f"service.bond.{node.key}"
        color = "stop" if one.differs else "accent" if bonded else "ink"
        scene.add(Words(x, y, one.text, size, one.differs or bonded, color=color))
        if one.entry_id:
            scene.spot(Box(x, y - line / 2, scene.width - x - 4, line), one.entry_id, one.text)


def _wires(scene: Scene, node: Drawn, above: Box, box: Box) -> None:
    """Two hots, a neutral and, with four wires, the ground dashed, from the box above down its left side and into this one."""
    x, y = above.x + 5, box.y + 6
    for number in range(node.wires):
        off = 2.4 * number
        dashed = number == 3
        scene.add(Stroke(x + off, above.y + above.height, x + off, y + off, dashed=dashed))
        scene.add(Stroke(x + off, y + off, box.x, y + off, dashed=dashed))
