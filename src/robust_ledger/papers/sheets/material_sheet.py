"""Material and cut list: what to bring, how many are on hand and to buy, what it costs; conductors to be cut, color by color."""

from __future__ import annotations

from typing import Any

from reportlab.lib.units import inch
from reportlab.platypus import Flowable

from robust_ledger.ledger.text import UNKNOWN, number_text
from robust_ledger.material.item import total_cost
from robust_ledger.papers.sheet import Lack, Sheet, missing_heading
from robust_ledger.papers.style import (
    FIGURE,
    FIGURE_STRONG,
    HEADING,
    SMALL,
    STRONG,
    WIDTH,
    heading_block,
    heads,
    para,
    ruled_table,
)
from robust_ledger.plan import Plan

TITLE = "Material and cut list"


def story(plan: Plan) -> list[Flowable]:
    """Items group by group, the total, then the cuts."""
    return [*heading_block(plan, TITLE), _items(plan), para("Cut list", HEADING), _cuts(plan)]


def _items(plan: Plan) -> Flowable:
    stock = plan.job.stock
    rows: list[list[Any]] = [heads("", "Item", ">How many", ">On hand", ">To buy", ">Each", ">Cost")]
    group = ""
    for item in plan.material.items:
        if item.group != group:
            group = item.group
            rows.append(["", para(group, STRONG), "", "", "", "", ""])
        left, cost, price = item.to_buy(stock), item.cost(stock), item.price(stock)
        hand = stock.on_hand.get(item.key)
        rows.append(
            [
                para("[ ]", SMALL),
                para(item.words),
                para(item.entry.text(), FIGURE),
                para("" if hand is None else number_text(hand), FIGURE),
                para(UNKNOWN if left is None else number_text(left, 1), FIGURE),
                para("" if price is None else f"{price:,.2f}", FIGURE),
                para("" if cost is None else f"{cost:,.2f}", FIGURE),
            ]
        )
    cost, unknown = total_cost(plan.material.items, stock)
    words = f"Together; the price or number of {unknown} items is not known" if unknown else "Together"
    rows.append(["", para(words, STRONG), "", "", "", "", para(f"{cost:,.2f}", FIGURE_STRONG)])
    widths = [0.3 * inch, 0.75 * inch, 0.7 * inch, 0.65 * inch, 0.65 * inch, 0.75 * inch]
    return ruled_table(rows, [widths[0], WIDTH - sum(widths), *widths[1:]])


def _cuts(plan: Plan) -> Flowable:
    rows: list[list[Any]] = [heads("", "Conductor", "Color", ">Pieces", ">Cut to", "For")]
    for cut in plan.material.cuts:
        length = UNKNOWN if cut.length_ft is None else f"{number_text(cut.length_ft, 1)} ft"
        rows.append(
            [
                para("[ ]", SMALL),
                para(cut.wire),
                para(cut.color),
                para(str(cut.pieces), FIGURE),
                para(length, FIGURE),
                para(cut.where),
            ]
        )
    if len(rows) == 1:
        return para("No service or feeder conductor is replaced by this job.", SMALL)
    waste = plan.job.stock.waste_percent
    rows.append(["", para(f"With {waste:g}% waste, up to the next half foot.", SMALL), "", "", "", ""])
    widths = [0.3 * inch, 1.4 * inch, 1.2 * inch, 0.6 * inch, 0.8 * inch]
    return ruled_table(rows, [*widths, WIDTH - sum(widths)])


def _missing(plan: Plan) -> list[str]:
    unknown = [item.key for item in plan.material.items if not item.entry.known]
    return missing_heading(plan) + (
        [Lack(f"how much of {len(unknown)} items", f"material:{unknown[0]}")] if unknown else []
    )


SHEET = Sheet(7, "material", TITLE, _missing, story, ("crew", "file"))
