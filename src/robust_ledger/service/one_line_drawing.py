"""The one-line drawing laid out: the utility on top, every disconnect and panel below what feeds it."""

from __future__ import annotations

from collections.abc import Sequence

from robust_ledger.drawing.scene import Box, Scene, Stroke, Words, wrapped
from robust_ledger.service.one_line import Line, Node

LINE = 15.0
BOX, WIDE = 186.0, 220.0  # of a box by itself, and of one beside others, in which everything stands
WIRE_GAP = 6.0
_SCREW = {
    "in": "N–G BONDED HERE: bonding screw/strap IN",
    "out": "Bonding screw/strap REMOVED; neutrals and grounds separate",
    "supply": "Not service equipment: no MBJ here; the neutral grounds the can",
}


def one_line_scene(nodes: Sequence[Node], width: float, height: float) -> Scene:
    """Boxes in rows by how far they are from the utility, panels of a split service side by side; three or four wires
    between them, the ground dashed; at each panel whether neutral and ground are joined."""
    scene = Scene(width, height)
    depth = {"": -1}
    for node in nodes:
        depth[node.key] = depth[node.behind] + 1
    rows: list[list[Node]] = [[n for n in nodes if depth[n.key] == d] for d in range(max(depth.values()) + 1)]
    tall = [max(24 + LINE * len(_lines(n, width / len(row), len(row) == 1)) for n in row) for row in rows]
    spare = height - 12 - sum(tall)
    gap = min(124.0, spare / max(1, len(rows) - 1)) if len(rows) > 1 else 0
    center: dict[str, tuple[float, float]] = {}
    y = 6.0
    for row, box_height in zip(rows, tall, strict=True):
        column = width / len(row)
        for number, node in enumerate(row):
            alone = len(row) == 1
            x = 4.0 if alone else number * column + 4
            # A sub-panel hangs below the panel that feeds it.
            if alone and node.behind in center and depth[node.behind] and len(rows[depth[node.behind]]) > 1:
                x = center[node.behind][0] - BOX / 2
            box = Box(x, y, BOX if alone else min(WIDE, column - 8), box_height, fill="side")
            _wires(scene, node, center.get(node.behind), box, gap, alone)
            center[node.key] = (box.x + box.width / 2, box.y + box.height)
            _box(scene, node, box, column, alone)
        y += box_height + gap
    return scene


def _lines(node: Node, column: float, alone: bool) -> list[Line]:
    """What stands in the box: beside others also the bond and what hangs on it, for which there is no room next to it."""
    if alone or not node.bond:
        return list(node.lines)
    room = min(WIDE, column - 8)
    beside = [Line(text, one.entry_id, one.differs) for one in node.beside for text in wrapped(one.text, room, 12)]
    return [*node.lines, *_bond_lines(node, room), *beside]


def _bond_lines(node: Node, room: float) -> list[Line]:
    """What the bonding screw does at this panel, broken to the room there is."""
    return [Line(text, f"service.bond.{node.key}") for text in wrapped(_SCREW[node.bond], room, 12)]


def _box(scene: Scene, node: Node, box: Box, column: float, alone: bool) -> None:
    scene.add(box, Words(box.x + box.width / 2, box.y + 12, node.title, 13, True, "center"))
    words = "; ".join([node.title, *(line.text for line in (*node.lines, *node.beside)), *_bond_words(node)])
    if node.lines:
        scene.spot(box, node.lines[0].entry_id, words)
    for number, line in enumerate(_lines(node, column, alone)):
        at = Box(box.x, box.y + 22 + LINE * number, box.width, LINE)
        strong = line.differs or (node.bond == "in" and line.entry_id == f"service.bond.{node.key}")
        color = "stop" if line.differs else "accent" if strong else "ink"
        scene.add(Words(box.x + box.width / 2, at.y + LINE / 2, line.text, 12, strong, "center", color))
        if number and line.entry_id:
            scene.spot(at, line.entry_id, line.text)
    if node.bond and alone:
        _bond(scene, node, box)


def _bond_words(node: Node) -> list[str]:
    said = {
        "in": "neutral and ground bonded here",
        "out": "neutrals and grounds separate",
        "supply": "not service equipment",
    }
    return [said[node.bond]] if node.bond else []


def _bond(scene: Scene, node: Node, box: Box) -> None:
    """Beside a box that stands alone: the bond with its way to earth, or the screw that comes out."""
    x, y = box.x + box.width, box.y + 9
    if node.bond == "in":
        scene.add(Stroke(x, y, x + 16, y, "accent", weight=2), Stroke(x + 16, y, x + 16, y + 14, "accent", weight=2))
        for number, half in enumerate((9, 6, 3)):
            level = y + 14 + 4 * number
            scene.add(Stroke(x + 16 - half, level, x + 16 + half, level, "accent", weight=2))
    color = "accent" if node.bond == "in" else "ink"
    screw = _bond_lines(node, scene.width - x - 34)
    for number, line in enumerate(screw):
        scene.add(Words(x + 30, y + LINE * number, line.text, 12, node.bond == "in", color=color))
    scene.spot(Box(x + 30, y - 8, 190, LINE * len(screw)), f"service.bond.{node.key}", _bond_words(node)[0])
    for number, line in enumerate(node.beside, len(screw)):
        at = Box(x + 30, y + LINE * number - 8, 180, LINE)
        scene.add(Words(x + 30, y + LINE * number, line.text, 12))
        if line.entry_id:
            scene.spot(at, line.entry_id, line.text)


def _pair(two: Sequence[Line]) -> Line:
    """Two figures in one line."""
    return Line(", ".join(one.text for one in two), two[0].entry_id, any(one.differs for one in two))


def _wires(scene: Scene, node: Node, start: tuple[float, float] | None, box: Box, gap: float, alone: bool) -> None:
    """Two hots and a neutral, and the ground dashed where it is apart; the sizes beside them."""
    if start is None:
        return
    x = box.x + 34
    from_x = start[0] - BOX / 2 + 34
    for number in range(node.wires):
        offset = WIRE_GAP * number
        ground = number == 3
        top = start[1]
        if abs(from_x - x) > 1:
            middle = top + gap * 0.25 + offset
            scene.add(Stroke(from_x + offset, top, from_x + offset, middle, dashed=ground))
            scene.add(Stroke(from_x + offset, middle, x + offset, middle, dashed=ground))
            top = middle
        scene.add(Stroke(x + offset, top, x + offset, box.y, dashed=ground))
    lines: tuple[Line, ...] = node.feed
    room = max(1, int((gap * (1.0 if alone else 0.6) - 4) // 14))
    if room < len(lines):  # a tight drawing: two figures to a line
        lines = tuple(_pair(lines[i : i + 2]) for i in range(0, len(lines), 2))
    # Beside others the wires fan out above: the figures keep to the lower end.
    middle = box.y - gap / 2 if alone else box.y - 8 - 7 * len(lines)
    first = middle - 14 * (len(lines) - 1) / 2
    for number, line in enumerate(lines):
        at = Box(x + 32, first + 14 * number - 7, 190, 14)
        color = "stop" if line.differs else "accent" if line.entry_id else "faint"
        scene.add(Words(at.x, at.y + 7, line.text, 12, line.differs, color=color))
        if line.entry_id:
            scene.spot(at, line.entry_id, line.text)
