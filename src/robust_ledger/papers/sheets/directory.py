"""The panel directory: every circuit, odd left and even right, empty ones said to be a space [408.4(A)]."""

from __future__ import annotations

from typing import Any

from reportlab.lib.units import inch
from reportlab.platypus import Flowable, PageBreak, Spacer

from robust_ledger.installation.model import Node
from robust_ledger.job.keys import MAIN
from robust_ledger.job.spaces import shown
from robust_ledger.job.tree import panel_name
from robust_ledger.panel.bench_drawing import SHORT_DEVICE
from robust_ledger.panel.schedule import Slot
from robust_ledger.papers.cut import Card, Code, stock
from robust_ledger.papers.sheet import Lack, Sheet, missing_heading
from robust_ledger.papers.style import (
    FIGURE,
    FIGURE_STRONG,
    INK,
    SMALL,
    TEXT,
    WIDTH,
    para,
    ruled_table,
    stop_banner,
)
from robust_ledger.papers.style import TITLE as HEAD
from robust_ledger.plan import Plan

TITLE = "Panel directory"
QR_IN = 1.6  # about as small as a phone still reads so much text
NUMBERING = {
    "odd_left": "Numbers: odd on the left, even on the right, from the top.",
    "odd_right": "Numbers: even on the left, odd on the right, from the top.",
    "down": "Numbers: down the left side, then down the right.",
}
KINDS = "AF = AFCI, GF = GFCI, DF = dual function (AFCI/GFCI)."


def story(plan: Plan) -> list[Flowable]:
    """A directory for each panel, on a page of its own."""
    parts: list[Flowable] = []
    for panel_id in plan.benches:
        seen = plan.seen_from(panel_id)
        if _node(seen).spaces or seen.circuits.branches:
            parts += [PageBreak()] if parts else []
            parts += _carded(_of_panel(seen), plan.job.stock.door)
    return parts


def _carded(parts: list[Flowable], door: str) -> list[Flowable]:
    """On a card of the door's size with marks to cut along; the whole page for a door that is as large, or not known."""
    size = stock()["door"].get(door, {})
    return [Card(parts, size["width"], size["height"])] if "width" in size else parts


def _about(plan: Plan) -> list[Flowable]:
    """What feeds it, bus, AIC and volts, where it is switched off, and the date: nothing of the customer or the permit."""
    job, panel = plan.job, _node(plan)
    wires = "1Ø, 3W" if job.dwelling.supply == "120/240" else "208Y/120 V, 1Ø, 3W"
    aic = f"AIC {panel.aic_a:,.0f} A" if panel.aic_a else "AIC by its label"
    facts = [
        _supply(plan),
        f"bus {panel.bus_a:g} A" if panel.bus_a is not None else "bus by its label",
        aic,
        f"{job.dwelling.supply} V, {wires}",
        f"{panel.spaces} spaces",
    ]
    off = _switched_off(plan)
    where = " · ".join(part for part in (job.heading.title, job.heading.address, job.heading.date) if part)
    return [para(where, SMALL), para(" · ".join(facts), SMALL), para(f"{off}.", SMALL)]


def _node(plan: Plan) -> Node:
    """The panel in view as it stands on the wall."""
    node = plan.installation.node_of(plan.panel_id)
    assert node is not None, "every panel that circuits land in is a node"
    return node


def _switched_off(plan: Plan) -> str:
    """Where the panel in view is switched off: the first service equipment on its way from the utility."""
    made = plan.installation
    node = mine = made.node_of(plan.panel_id)
    while node is not None and not node.service:
        node = made.nodes.get(node.above)
    if node is None or mine is None:
        return "Service disconnect: not known"
    off = "Service disconnect: " + ("in this panel" if node is mine else _named(node))
    off += f", {node.where}" if node.where else ""
    emergency = any(label.key == "emergency" and label.node == node.key for label in made.labels)
    return off + ("; it is the emergency disconnect" if emergency else "")


def _named(node: Node) -> str:
    return "the disconnect ahead of the main panel" if node.key == "disconnect" else f"the {node.name}"


def _supply(plan: Plan) -> str:
    """What protects the panel in view."""
    made = plan.installation
    node = made.node_of(plan.panel_id)
    if node is None or node.rating is None:
        return "Fed from: not known"
    rating = node.rating.text()
    if node.kind != "panel" or node.above == "meter" or (node.key == MAIN and node.has_main):
        return f"Main {rating}"
    return f"Fed from the {made.nodes[node.above].name}, {rating}"


def _of_panel(plan: Plan) -> list[Flowable]:
    """The schedule of the panel in view as a table, what is off and what has no space."""
    title = f"{TITLE}: {panel_name(plan.job, plan.panel_id)}" if len(plan.benches) > 1 else TITLE
    parts: list[Flowable] = [para(title, HEAD), *stop_banner(plan), *_about(plan), Spacer(0, 6)]
    by_space: dict[int, list[Slot]] = {}
    for slot in plan.bench.schedule:
        by_space.setdefault(slot.space, []).append(slot)
    panel = _node(plan)
    right = SMALL.clone("head-figure", alignment=FIGURE.alignment)
    head = [para("No.", right), para("Circuit", SMALL), para("A", right)]
    rows: list[list[Any]] = [[*head, para("Leg", right), *[head[2], head[1], head[0]]]]
    marks: list[Any] = []
    for odd in range(1, panel.spaces + 1, 2):
        left, right = by_space[odd], by_space.get(odd + 1, [])
        marks += _brackets(left, len(rows), (1, 2), plan) + _brackets(right, len(rows), (5, 4), plan)
        rows.append([*_cells(left, plan), para(left[0].leg, FIGURE_STRONG), *reversed(_cells(right, plan))])
    side = (WIDTH - 0.4 * inch) / 2
    widths = [0.42 * inch, side - 1.12 * inch, 0.7 * inch]
    parts.append(ruled_table(rows, [*widths, 0.4 * inch, *reversed(widths)], marks))
    off = [branch for branch in plan.circuits.branches if branch.off]
    waiting = [b for key in plan.bench.placement.waiting if (b := plan.branch(key))]
    if off or waiting:
        parts.append(Spacer(0, 8))
        parts += [para(f"Tag {b.tag}: {b.directory_text}. Hots capped, EGC landed on the ground bar.") for b in off]
        parts += [para(f"No space in panel: tag {b.tag}, {b.directory_text}.") for b in waiting]
    if plan.job.stock.qr:
        parts += [Spacer(0, 6), Code(code_text(plan), QR_IN)]
    parts.append(Spacer(0, 8))
    parts.append(
        para(
            f"{NUMBERING[panel.numbering]} {KINDS} Wire tags show the old circuit numbers.",
            SMALL,
        )
    )
    return parts


def code_text(plan: Plan) -> str:
    """The table of the panel in view as text, a line a space: what the QR code says."""
    lines = [f"{panel_name(plan.job, plan.panel_id)}, {plan.job.heading.date}".strip(", ")]
    for slot in plan.bench.schedule:
        if slot.pole == 0:
            lines.append(f"{slot.position} {slot.text}{f', {slot.rating} A' if slot.rating else ''}")
    return "\n".join(lines)


def _brackets(slots: list[Slot], row: int, columns: tuple[int, int], plan: Plan) -> list[Any]:
    """The two spaces of a two-pole as one line, with a bracket beside it."""
    if len(slots) != 1 or not slots[0].key or slots[0].pole != 0:
        return []
    branch = plan.branch(slots[0].key)
    if branch is None or branch.poles != 2:
        return []
    text, rating = columns
    spans = [("SPAN", (column, row), (column, row + 1)) for column in columns]
    side = "LINEBEFORE" if text < rating else "LINEAFTER"
    return [*spans, (side, (text, row), (text, row + 1), 1.6, INK)]


def _cells(slots: list[Slot], plan: Plan) -> list[Any]:
    """Number, text and breaker of one space, halves of a tandem one below the other."""
    texts, ratings, numbers = [], [], []
    for slot in slots:
        texts.append("″" if slot.pole else slot.text)
        branch = plan.branch(slot.key) if slot.key else None
        kind = SHORT_DEVICE[branch.device.kind] if branch and slot.rating else ""
        ratings.append("" if slot.pole else f"{slot.rating} {kind}".rstrip())
        numbers.append(shown(slot.position, _node(plan).numbering, _node(plan).spaces))
    return [para("\n".join(numbers), FIGURE), para("\n".join(texts), TEXT), para("\n".join(ratings), FIGURE)]


def _missing(plan: Plan) -> list[str]:
    unknown = [b.tag for b in plan.circuits.branches if b.feeds_unknown]
    missing = missing_heading(plan)
    if not plan.job.circuits:
        missing.append(Lack("circuits", "circuit:"))
    if unknown:
        missing.append(Lack(f"what tag {', '.join(unknown)} feeds", f"circuit:{unknown[0]}"))
    if waiting := sum(len(bench.placement.waiting) for bench in plan.benches.values()):
        missing.append(f"a space for {waiting} circuits")
    return missing


SHEET = Sheet(1, "directory", TITLE, _missing, story, ("owner", "file"))
