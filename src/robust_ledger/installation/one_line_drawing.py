"""The one-line drawing laid out: the utility on top, every disconnect and panel below what feeds it."""

from __future__ import annotations

from collections.abc import Sequence

from robust_ledger.drawing.scene import Box, Scene, Stroke, Words, wrapped
from robust_ledger.installation.one_line import Drawn, Line
from robust_ledger.installation.one_line_compact import BONDS, compact_scene, depths

LINE = 15.0
BOX, WIDE = 186.0, 220.0  # of a box by itself, and of one beside others, in which everything stands
WIRE_GAP = 6.0
FEED, MOST_GAP = 14.0, 124.0  # a line of words on a way, and the longest way
LEAST_COLUMN = 150.0  # of a box beside others; with less room there are rows
LEAST_SHARE = 0.8  # of the way its words need: a little closer they are still read


def one_line_scene(nodes: Sequence[Drawn], width: float, height: float) -> Scene:
    """Boxes in rows by how far they are from the utility, panels of a split service side by side; three or four wires
    between them, the ground dashed; at each panel whether neutral and ground are joined."""
    depth = depths(nodes)
    rows: list[list[Drawn]] = [[n for n in nodes if depth[n.key] == d] for d in range(max(depth.values()) + 1)]
    tall = [max(24 + LINE * len(_lines(n, width / len(row), len(row) == 1)) for n in row) for row in rows]
    needed = [max(tall[n], _beside_height(row[0], width)) if len(row) == 1 else tall[n] for n, row in enumerate(rows)]
    if max(len(row) for row in rows) * LEAST_COLUMN > width or not _go_in(rows, width, height - 12 - sum(needed)):
        return compact_scene(nodes, width, height)
    scene = Scene(width, height)
    gaps, tight = _gaps(rows, width, height - 12 - sum(needed))
    center: dict[str, tuple[float, float]] = {}
    y = 6.0
    for number, (row, box_height) in enumerate(zip(rows, tall, strict=True)):
        column, alone = width / len(row), len(row) == 1
        y += gaps[number]
        for at, node in enumerate(row):
            x = 4.0 if alone else at * column + 4
            # A sub-panel hangs below the panel that feeds it.
            if alone and node.behind in center and depth[node.behind] and len(rows[depth[node.behind]]) > 1:
                x = center[node.behind][0] - BOX / 2
            box = Box(x, y, BOX if alone else min(WIDE, column - 8), box_height, fill="side")
            if node.behind in center:
                from_x, from_y = center[node.behind]
                lines = _feed_lines(node, column, alone, tight)
                _wires(scene, node, (from_x, from_y), box, (gaps[number] if alone else y - from_y, lines, alone))
            center[node.key] = (box.x + box.width / 2, box.y + box.height)
            _box(scene, node, box, column, alone)
        y += needed[number]
    return scene


def _go_in(rows: Sequence[Sequence[Drawn]], width: float, spare: float) -> bool:
    """Whether the words on the ways go between the boxes, as many figures to a line as go in."""
    needed = sum(
        FEED * max(len(_feed_lines(node, width / len(row), len(row) == 1, True)) for node in row)
        + (6 if len(row) == 1 else 38)
        for row in rows[1:]
    )
    return spare >= needed * LEAST_SHARE


def _gaps(rows: Sequence[Sequence[Drawn]], width: float, spare: float) -> tuple[list[float], bool]:
    """The way above each row, as long as its words need and there is room for; whether figures have to share a line."""
    for tight in (False, True):
        needed = [0.0]
        for row in rows[1:]:
            alone = len(row) == 1
            most = max(len(_feed_lines(node, width / len(row), alone, tight)) for node in row)
            needed.append(FEED * most + (6 if alone else 38))
        more = (spare - sum(needed)) / max(1, len(rows) - 1)
        if more >= 0:
            return [0.0, *(min(MOST_GAP, gap + more) for gap in needed[1:])], tight
    return [gap * max(0.0, spare) / sum(needed) for gap in needed], True


def _feed_lines(node: Drawn, column: float, alone: bool, tight: bool) -> list[Line]:
    """The words on the way to a box, broken to the room there is beside its wires; in a tight drawing as many figures to a
    line as go in."""
    lines, room = list(node.feed), column - (70 if alone else 66)
    if tight:
        lines = _joined(lines, room)
    return [Line(text, line.entry_id, line.differs) for line in lines for text in wrapped(line.text, room, 12)]


def _beside_height(node: Drawn, width: float) -> float:
    """How far down the words beside a box that stands alone reach."""
    if not node.bond:
        return 0.0
    room = width - BOX - 38
    return 10 + LINE * (len(_bond_lines(node, room)) + len(_beside_lines(node, room)))


def _beside_lines(node: Drawn, room: float) -> list[Line]:
    """What stands beside a box, broken to the room there is."""
    return [Line(text, one.entry_id, one.differs) for one in node.beside for text in wrapped(one.text, room, 12)]


def _lines(node: Drawn, column: float, alone: bool) -> list[Line]:
    """What stands in the box: beside others also the bond and what hangs on it, for which there is no room next to it."""
    room = BOX if alone else min(WIDE, column - 8)
    own = [Line(text, one.entry_id, one.differs) for one in node.lines for text in wrapped(one.text, room - 6, 12)]
    if alone or not node.bond:
        return own
    return [*own, *_bond_lines(node, room), *_beside_lines(node, room)]


def _bond_lines(node: Drawn, room: float) -> list[Line]:
    """What the bonding screw does at this panel, broken to the room there is."""
    return [Line(text, f"service.bond.{node.key}") for text in wrapped(BONDS[node.bond], room, 12)]


def _box(scene: Scene, node: Drawn, box: Box, column: float, alone: bool) -> None:
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


def _bond_words(node: Drawn) -> list[str]:
    said = {
        "in": "neutral and ground bonded here",
        "out": "neutrals and grounds separate",
        "open": "bond not known",
        "supply": "not service equipment",
    }
    return [said[node.bond]] if node.bond else []


def _bond(scene: Scene, node: Drawn, box: Box) -> None:
    """Beside a box that stands alone: the bond with its way to earth, or the screw that comes out."""
    x, y = box.x + box.width, box.y + 9
    if node.bond == "in":
        scene.add(Stroke(x, y, x + 16, y, "accent", weight=2), Stroke(x + 16, y, x + 16, y + 14, "accent", weight=2))
        for number, half in enumerate((9, 6, 3)):
            level = y + 14 + 4 * number
            scene.add(Stroke(x + 16 - half, level, x + 16 + half, level, "accent", weight=2))
    color = "accent" if node.bond == "in" else "ink"
    room = scene.width - x - 34
    screw = _bond_lines(node, room)
    for number, line in enumerate(screw):
        scene.add(Words(x + 30, y + LINE * number, line.text, 12, node.bond == "in", color=color))
    scene.spot(Box(x + 30, y - 8, 190, LINE * len(screw)), f"service.bond.{node.key}", _bond_words(node)[0])
    for number, line in enumerate(_beside_lines(node, room), len(screw)):
        at = Box(x + 30, y + LINE * number - 8, 180, LINE)
        scene.add(Words(x + 30, y + LINE * number, line.text, 12))
        if line.entry_id:
            scene.spot(at, line.entry_id, line.text)


def _joined(lines: Sequence[Line], room: float) -> list[Line]:
    """Figures put behind one another as far as they fit."""
    made: list[Line] = []
    for line in lines:
        if made and len(wrapped(f"{made[-1].text}, {line.text}", room, 12)) == 1:
            last = made.pop()
            made.append(Line(f"{last.text}, {line.text}", last.entry_id or line.entry_id, last.differs or line.differs))
        else:
            made.append(line)
    return made


def _wires(
    scene: Scene, node: Drawn, start: tuple[float, float], box: Box, way: tuple[float, Sequence[Line], bool]
) -> None:
    """Two hots and a neutral, and the ground dashed where it is apart; the sizes beside them. `way`: its length below what stands
    above, the words on it, whether the box stands alone."""
    gap, lines, alone = way
    x = box.x + 34
    from_x = start[0] - BOX / 2 + 34
    fan = max(4.0, gap - FEED * len(lines) - 15 - WIRE_GAP * (node.wires - 1))  # below what stands beside the box above
    for number in range(node.wires):
        offset = WIRE_GAP * number
        ground = number == 3
        top = start[1]
        if abs(from_x - x) > 1:
            middle = top + fan + offset
            scene.add(Stroke(from_x + offset, top, from_x + offset, middle, dashed=ground))
            scene.add(Stroke(from_x + offset, middle, x + offset, middle, dashed=ground))
            top = middle
        scene.add(Stroke(x + offset, top, x + offset, box.y, dashed=ground))
    # Beside others the wires fan out above: the figures keep to the lower end.
    middle = box.y - gap / 2 if alone else box.y - 5 - FEED / 2 * len(lines)
    first = middle - FEED * (len(lines) - 1) / 2
    for number, line in enumerate(lines):
        at = Box(x + 32, first + FEED * number - 7, 190, FEED)
        color = "stop" if line.differs else "accent" if line.entry_id else "faint"
        scene.add(Words(at.x, at.y + 7, line.text, 12, line.differs, color=color))
        if line.entry_id:
            scene.spot(at, line.entry_id, line.text)
