"""The panels as a tree: what feeds what, row by row, each with its feeder and what it has left."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.drawing.scene import Box, Scene, Stroke, Words
from robust_ledger.installation.model import Change, Node, Run
from robust_ledger.installation.room import Installation
from robust_ledger.job.conductors import Conductors
from robust_ledger.service.equipment import MAIN_WORDS

ROW, STEP, LINE = 34.0, 28.0, 26.0
LEAST_WIDTH = 300.0


class TreeRow(Struct, frozen=True):
    """A row of the tree: what it is, what feeds it, how deep it stands, its words, and the entry behind it. `fixed`: it stays where it is;
    `bad`: something about it has to stop."""

    key: str
    above: str
    depth: int
    title: str
    words: str
    right: str
    entry_id: str
    fixed: bool = False
    bad: bool = False


def tree_rows(of: Installation, spaces: Mapping[str, str]) -> tuple[TreeRow, ...]:
    """From the meter on; `spaces` are the words on the spaces of each panel."""
    rows: dict[str, list[TreeRow]] = {}
    kept_in_view = {panel.id for panel in of.facts.job.panels if not panel.is_fed}
    for node in of.nodes.values():
        if node.kind not in ("service point", "old box") or node.key in kept_in_view:
            above = node.above or ("utility" if node.key == "meter" else "")
            rows.setdefault(above, []).append(_row(node, of.run_to(node.key), spaces))
    made: list[TreeRow] = []

    def put(row: TreeRow, depth: int) -> None:
        made.append(replace(row, depth=depth))
        for below in rows.get(row.key, []):
            put(below, depth + 1)

    put(rows["utility"][0], 0)
    for loose in rows.get("", []):  # what has no feeder: splice boxes, what is taken out
        made.append(loose)
    return tuple(made)


def _row(node: Node, run: Run | None, spaces: Mapping[str, str]) -> TreeRow:
    right = spaces.get(node.panel_id, "") if node.panel_id else ""
    title = {"meter": "Meter", "panel": "Main panel"}.get(node.key, node.title)
    entry_id = node.rating.id if node.rating is not None else node.fault.id if node.fault is not None else ""
    if node.lost:
        return TreeRow(node.key, node.above, 0, title, f"fed {node.lost}", right, entry_id, bad=True)
    if node.change is Change.REMOVED:
        return TreeRow(node.key, "", 0, title, "taken out by this job", "", entry_id)
    if node.kind == "splice box":
        return TreeRow(node.key, "", 0, title, "splice box", "", entry_id)
    words, fixed = "", node.key in ("meter", "disconnect", "panel")
    if node.rating is not None:
        said = node.rating.text() if node.rating.known else "?"
        if node.key == "disconnect":
            words = node.rating.text()
        elif fixed:
            by = " breaker there" if run is not None and run.start != "meter" and run.begins == "breaker" else ""
            words = f"{said}{by}, {MAIN_WORDS[node.main]}"
        elif run is not None:
            words = _fed_words(node, run)
    return TreeRow(node.key, node.above, 0, title, words, right, entry_id, fixed)


def _fed_words(node: Node, run: Run) -> str:
    """A panel's breaker, wire and load."""
    rating = node.rating
    said = rating.text() if rating is not None and rating.known else "breaker ?"
    begins = {
        "breaker": f"{said} breaker",
        "lugs": "feed-through lugs",
        "tap": f"{said}, tap",
        "load side": f"{said}, load side",
    }
    words = f"{said} main" if node.above == "meter" else begins[run.begins]
    hots = run.conductor("A")
    if hots is not None and hots.size.known:
        size = hots.size.value
        words += f" · {size.short if isinstance(size, Conductors) else hots.size.text()}"
    carried = run.carried
    words += f" · carries {carried.text()}" if carried is not None and carried.known else " · load ?"
    return words + (" · there" if node.change is Change.KEPT else "")


def tree_height(nodes: tuple[TreeRow, ...]) -> float:
    """Height that the drawing needs."""
    return ROW * len(nodes) + 6


def row_box(nodes: tuple[TreeRow, ...], number: int, width: float) -> Box:
    """Where a row is; deep ones move right by less, so that there is room for their words."""
    deepest = max(node.depth for node in nodes)
    step = min(STEP, max(4.0, (width - LEAST_WIDTH) / max(1, deepest)))
    x = 4 + nodes[number].depth * step
    return Box(x, 4 + ROW * number, width - x - 6, LINE)


def tree_scene(nodes: tuple[TreeRow, ...], width: float) -> Scene:
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
        panel = not node.fixed or node.key == "panel"
        scene.add(Box(box.x, box.y, box.width, box.height, "stop" if node.bad else "ink", "side" if panel else "page"))
        scene.add(Words(box.x + 8, middle, node.title, 13, True))
        color = "stop" if node.bad else "ink"
        scene.add(Words(box.x + 20 + 8.2 * max(10, len(node.title)), middle, node.words, 12, color=color))
        scene.add(Words(box.x + box.width - 8, middle, node.right, 12, align="right", color="faint"))
        words = ", ".join(part for part in (node.title, node.words.replace(" · ", ", "), node.right) if part)
        scene.spot(box, node.entry_id, words)
    return scene
