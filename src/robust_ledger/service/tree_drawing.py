"""The panels as a tree: what feeds what, row by row, each with its feeder and what it has left."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.drawing.scene import Box, Scene, Stroke, Words
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import AHEAD, MAIN, Panel
from robust_ledger.job.tree import ahead_box, fed_at, in_order, inside_box, is_enclosure, lost
from robust_ledger.service.equipment import MAIN_WORDS
from robust_ledger.service.figures import FeederFigures, ServiceFigures

ROW, STEP, LINE = 34.0, 28.0, 26.0
LEAST_WIDTH = 300.0


class Node(Struct, frozen=True):
    """A row of the tree: what it is, what feeds it, how deep it stands, its words, and the entry behind it. `bad`: something about it
    has to stop."""

    key: str
    above: str
    depth: int
    title: str
    words: str
    right: str
    entry_id: str
    bad: bool = False


def tree_nodes(job: Job, figures: ServiceFigures, spaces: Mapping[str, str]) -> tuple[Node, ...]:
    """From the meter on; `spaces` are the words on the spaces of each panel."""
    main = figures.main
    nodes = [Node("meter", "", 0, "Meter", "", "", "service.fault_meter")]
    top = "meter"
    if job.disconnect_ahead:
        ahead = figures.protection
        same = ahead_box(job)
        right = spaces.get(same.id, "") if same else ""
        nodes.append(Node("disconnect", "meter", 1, "Disconnect", ahead.text(), right, ahead.id))
        top = "disconnect"
    kind = MAIN_WORDS[job.panel.main]
    device = figures.panel_device if job.scope.split else main
    words = f"{device.text() if device.known else '?'}, {kind}"
    if inside_box(job) is not None:
        device = figures.panel_device
        words = f"{device.text() if device.known else '?'} breaker there, {kind}"
    main_node = Node(MAIN, top, 0, "Main panel", words, spaces.get(MAIN, ""), device.id)
    rows: dict[str, list[Node]] = {top: [main_node]}
    for panel in in_order(job):
        if not is_enclosure(job, panel):
            above = fed_at(job, panel)
            rows.setdefault(above, []).append(_node(job, panel, above, figures.feeders[panel.id], spaces))
    if len(nodes) > 1:
        rows["meter"] = [nodes[1], *rows.get("meter", [])]
    made: list[Node] = []

    def put(node: Node, depth: int) -> None:
        made.append(replace(node, depth=depth))
        for one in rows.get(node.key, []):
            put(one, depth + 1)

    put(nodes[0], 0)
    return tuple(made)


def _node(job: Job, panel: Panel, above: str, of: FeederFigures, spaces: Mapping[str, str]) -> Node:
    size = of.conductors.value
    wire = size.short if isinstance(size, Conductors) else of.conductors.text()
    rating = of.rating.text() if of.rating.known else "breaker ?"
    words = (
        f"{rating} main" if above == "meter" else "feed-through lugs" if panel.fed_by == "lugs" else f"{rating} breaker"
    )
    words += f" · {wire}" if of.conductors.known else ""
    words += f" · carries {of.carried.text()}" if of.carried.known else " · load ?"
    words += " · there" if panel.there else ""
    if why := lost(job, panel):
        words = f"fed {why}"
    title = panel.name[:1].upper() + panel.name[1:] or "Panel"
    return Node(panel.id, above, 0, title, words, spaces.get(panel.id, ""), of.rating.id, bool(why))


def tree_height(nodes: tuple[Node, ...]) -> float:
    """Height that the drawing needs."""
    return ROW * len(nodes) + 6


def row_box(nodes: tuple[Node, ...], number: int, width: float) -> Box:
    """Where a row is; deep ones move right by less, so that there is room for their words."""
    deepest = max(node.depth for node in nodes)
    step = min(STEP, max(4.0, (width - LEAST_WIDTH) / max(1, deepest)))
    x = 4 + nodes[number].depth * step
    return Box(x, 4 + ROW * number, width - x - 6, LINE)


def tree_scene(nodes: tuple[Node, ...], width: float) -> Scene:
    """The rows with the lines between them; a spot for each."""
    scene = Scene(width, tree_height(nodes))
    boxes = {node.key: row_box(nodes, number, width) for number, node in enumerate(nodes)}
    for node in nodes:
        box = boxes[node.key]
        if node.above in boxes:
            above = boxes[node.above]
            x = above.x + 10
            scene.add(Stroke(x, above.y + above.height, x, box.y + box.height / 2, "faint"))
            scene.add(Stroke(x, box.y + box.height / 2, box.x, box.y + box.height / 2, "faint"))
    for node in nodes:
        box, middle = boxes[node.key], boxes[node.key].y + LINE / 2
        panel = node.key not in AHEAD
        scene.add(Box(box.x, box.y, box.width, box.height, "stop" if node.bad else "ink", "side" if panel else "page"))
        scene.add(Words(box.x + 8, middle, node.title, 13, True))
        color = "stop" if node.bad else "ink"
        scene.add(Words(box.x + 20 + 8.2 * max(10, len(node.title)), middle, node.words, 12, color=color))
        scene.add(Words(box.x + box.width - 8, middle, node.right, 12, align="right", color="faint"))
        words = ", ".join(part for part in (node.title, node.words.replace(" · ", ", "), node.right) if part)
        scene.spot(box, node.entry_id, words)
    return scene
