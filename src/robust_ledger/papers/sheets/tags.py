"""The tag sheet: a label for every wire's tag and a small number for the cover plates of what it feeds."""

from __future__ import annotations

from typing import Any

from reportlab.lib.units import inch
from reportlab.platypus import Flowable, Spacer, Table, TableStyle

from robust_ledger.job.keys import CircuitKey
from robust_ledger.papers.sheet import Lack, Sheet
from robust_ledger.papers.style import (
    HEADING,
    RULE,
    SMALL,
    STRONG,
    TITLE,
    WIDTH,
    heading_block,
    para,
)
from robust_ledger.plan import Plan

NAME = "Tag sheet"
ACROSS, SMALL_ACROSS = 4, 12

CAUTIONS = (
    "Tag a wire before it comes off, never after. A capped wire keeps its tag and stays off. Print the sheet twice: a pair "
    "has two hots."
)


def story(plan: Plan) -> list[Flowable]:
    """Labels in the order of their tags, those of capped and unknown circuits too; then the numbers for plates."""
    parts: list[Flowable] = [*heading_block(plan, NAME), Spacer(0, 6), para(CAUTIONS, SMALL), Spacer(0, 6)]
    labels = [_label(plan, tag) for tag in _tags(plan)]
    if not labels:
        return [*parts, para("No circuit has been called out yet.")]
    parts.append(_grid(labels, ACROSS, 0.82 * inch))
    parts.append(para("Numbers for cover plates", HEADING))
    new = {
        b.tag: slot.position
        for bench in plan.benches.values()
        for slot in reversed(bench.schedule)
        for b in plan.circuits.branches
        if slot.key == b.key
    }
    numbers = [[para(new[str(tag)], STRONG), para(f"tag {tag}", SMALL)] for tag in _tags(plan) if str(tag) in new]
    return [*parts, _grid(numbers, SMALL_ACROSS, 0.42 * inch)] if numbers else parts


def _tags(plan: Plan) -> list[int]:
    return sorted(circuit.tag for circuit in plan.job.circuits)


def _label(plan: Plan, tag: int) -> list[Flowable]:
    """A label: the tag large, where it sat, what it feeds and whether it stays off."""
    circuit, branch = plan.job.circuit(tag), plan.branch(CircuitKey.of_tag(tag))
    assert circuit is not None
    where = f"from space {', '.join(circuit.spaces)}" if circuit.spaces else "from no space"
    pair = f" · with tag {branch.partner.tag}" if branch and branch.partner else ""
    feeds = branch.directory_text if branch else f"{circuit.feeds or 'unknown'}, {' '.join(plan.circuits.effects(tag))}"
    marks = " · ".join(str(mark) for mark in circuit.marks)
    lines = [para(str(tag), TITLE), para(feeds, STRONG), para(where + pair, SMALL)]
    return [*lines, para(marks, SMALL)] if marks else lines


def _grid(cells: list[Any], across: int, least: float) -> Table:
    rows = [cells[start : start + across] for start in range(0, len(cells), across)]
    rows[-1] = [*rows[-1], *[""] * (across - len(rows[-1]))]
    style = [("GRID", (0, 0), (-1, -1), 0.5, RULE), ("VALIGN", (0, 0), (-1, -1), "TOP")]
    pad = [(side, (0, 0), (-1, -1), 3) for side in ("LEFTPADDING", "RIGHTPADDING", "TOPPADDING", "BOTTOMPADDING")]
    return Table(
        rows,
        colWidths=[WIDTH / across] * across,
        style=TableStyle([*style, *pad]),
        spaceAfter=4,
        minRowHeights=[least] * len(rows),
    )


def _missing(plan: Plan) -> list[str]:
    return [] if plan.job.circuits else [Lack("circuits", "circuit:")]


SHEET = Sheet(4, "tags", NAME, _missing, story, ("crew", "file"))
