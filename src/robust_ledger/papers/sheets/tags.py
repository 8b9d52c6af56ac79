"""The tag sheet: a label for every wire's tag and a small number for the cover plates of what it feeds."""

from __future__ import annotations

from typing import Any

from reportlab.lib.units import inch
from reportlab.platypus import Flowable, PageBreak, Spacer, TableStyle

from robust_ledger.branch.model import Branch
from robust_ledger.job.keys import CircuitKey
from robust_ledger.papers.cut import LabelSheet, stock
from robust_ledger.papers.sheet import Lack, Sheet
from robust_ledger.papers.style import (
    HEADING,
    RULE,
    SMALL,
    STRONG,
    TITLE,
    WIDTH,
    Rows,
    page_of,
    para,
    stop_banner,
)
from robust_ledger.plan import Plan

NAME = "Tag sheet"
ACROSS, SMALL_ACROSS = 4, 12

CAUTIONS = (
    "Tag a wire before it comes off, never after. A capped wire keeps its tag and stays off. A pair has a label for each hot; where the "
    "neutral comes to the breaker, one more for it and one for the ground."
)


def story(plan: Plan) -> list[Flowable]:
    """Labels in the order of their tags, those of capped and unknown circuits too; then the numbers for plates. On stock the labels stand at their
    exact places, after a page to hold against it."""
    parts: list[Flowable] = [para(NAME, TITLE), *stop_banner(plan), Spacer(0, 6), para(CAUTIONS, SMALL), Spacer(0, 6)]
    labels = [label for tag in _tags(plan) for label in [_label(plan, tag)] * _pieces(plan, tag)]
    labels += [_new_label(plan, branch) for branch in plan.circuits.branches if branch.tag == "new" and not branch.off]
    if not labels:
        return [*parts, para("No circuit has been called out yet.")]
    kind = plan.job.stock.label_stock
    if kind != "plain" and kind in stock()["labels"]:
        parts += _on_stock(plan, labels, kind)
    else:
        parts.append(_grid(labels, ACROSS, 0.82 * inch))
    new = {
        b.tag: slot.position
        for bench in plan.benches.values()
        for slot in reversed(bench.schedule)
        for b in plan.circuits.branches
        if slot.key == b.key
    }
    numbers = [[para(new[str(tag)], STRONG), para(f"tag {tag}", SMALL)] for tag in _tags(plan) if str(tag) in new]
    return (
        [*parts, para("Numbers for cover plates", HEADING), _grid(numbers, SMALL_ACROSS, 0.42 * inch)]
        if numbers
        else parts
    )


def _on_stock(plan: Plan, labels: list[list[Flowable]], kind: str) -> list[Flowable]:
    """A page of outlines first, on plain paper; then sheet after sheet."""
    of, page = stock()["labels"][kind], page_of(plan)
    each = of["across"] * of["down"]
    words = (
        f"Test print: hold the next page against a sheet of {of['words']}. Print at 100%, without fitting to the page."
    )
    made: list[Flowable] = [para(words), PageBreak(), LabelSheet([], kind, page, test=True)]
    for start in range(0, len(labels), each):
        made += [PageBreak(), LabelSheet(labels[start : start + each], kind, page)]
    return [*made, PageBreak()]


def _pieces(plan: Plan, tag: int) -> int:
    """A label for each hot; where the neutral comes to the breaker one for it and the ground beside it."""
    branch = plan.branch(CircuitKey.of_tag(tag))
    circuit = plan.job.circuit(tag)
    poles = branch.poles if branch else circuit.poles if circuit else 1
    return max(1, poles) + (2 if branch is not None and branch.to_device else 0)


def _new_label(plan: Plan, branch: Branch) -> list[Flowable]:
    """A label of a new circuit, by what it feeds."""
    return [para(branch.feeds or "new", STRONG), para(_goes(plan, branch), STRONG), para("new circuit", SMALL)]


def _goes(plan: Plan, branch: Branch) -> str:
    """Its new space and breaker: "to 21, 20 A"."""
    for bench in plan.benches.values():
        spaces = [slot.position for slot in bench.schedule if slot.key == branch.key]
        if spaces:
            return f"to {' and '.join(spaces)}, {branch.rating_text} A"
    return "no space yet"


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
    goes = f" · {_goes(plan, branch)}" if branch and not branch.off else ""
    lines = [para(str(tag), TITLE), para(feeds, STRONG), para(where + pair + goes, SMALL)]
    return [*lines, para(marks, SMALL)] if marks else lines


def _grid(cells: list[Any], across: int, least: float) -> Rows:
    rows = [cells[start : start + across] for start in range(0, len(cells), across)]
    rows[-1] = [*rows[-1], *[""] * (across - len(rows[-1]))]
    style = [("GRID", (0, 0), (-1, -1), 0.5, RULE), ("VALIGN", (0, 0), (-1, -1), "TOP")]
    pad = [(side, (0, 0), (-1, -1), 3) for side in ("LEFTPADDING", "RIGHTPADDING", "TOPPADDING", "BOTTOMPADDING")]
    return Rows(
        rows,
        colWidths=[WIDTH / across] * across,
        style=TableStyle([*style, *pad]),
        spaceAfter=4,
        minRowHeights=[least] * len(rows),
    )


def _missing(plan: Plan) -> list[str]:
    return [] if plan.job.circuits else [Lack("circuits", "circuit:")]


SHEET = Sheet(4, "tags", NAME, _missing, story, ("crew", "file"))
