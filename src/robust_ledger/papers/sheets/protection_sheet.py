"""The protection ledger: of every circuit what protected it as found, what is required now and by which section, what is planned and where."""

from __future__ import annotations

from reportlab.lib.units import inch
from reportlab.platypus import Flowable, Spacer

from robust_ledger.branch.ledger import LedgerRow
from robust_ledger.changeover.energize import sequence
from robust_ledger.job.tree import panel_name
from robust_ledger.ledger.text import UNKNOWN, upper_first
from robust_ledger.papers.sheet import Sheet
from robust_ledger.papers.style import HEADING, SMALL, STRONG, TEXT, WIDTH, heading_block, heads, para, ruled_table
from robust_ledger.plan import Plan

TITLE = "Protection ledger"


def story(plan: Plan) -> list[Flowable]:
    """Panel by panel, the circuits in the order in which they were called out."""
    tested = {one.branch.key: one.tested for one in sequence(plan.changeover)}
    parts: list[Flowable] = [*heading_block(plan, TITLE)]
    words = (
        f"NEC {plan.codebook.edition}. What was protected as found stays protected, required now or not. "
        f'"{UNKNOWN}": nobody has looked, or what decides it is not known.'
    )
    parts.append(para(words, SMALL))
    for panel_id in plan.benches:
        mine = [row for row in plan.circuits.ledger if row.panel == panel_id]
        if not mine:
            continue
        if len(plan.benches) > 1:
            parts += [para(upper_first(panel_name(plan.job, panel_id)), HEADING), Spacer(0, 2)]
        cells = [heads("Tag", "Circuit", "As found", "Required now", "Section", "Planned", "Where", "Tested")]
        cells += [_row(row, tested.get(row.key, "")) for row in mine]
        widths = [0.4 * inch, 0.95 * inch, 1.05 * inch, 1.1 * inch, 1.05 * inch, 0.75 * inch, 0.55 * inch]
        parts.append(ruled_table(cells, [widths[0], WIDTH - sum(widths), *widths[1:]]))
    return parts


def _row(row: LedgerRow, tested: str) -> list[Flowable]:
    return [
        para(row.tag),
        para(row.feeds, STRONG),
        para(row.found, TEXT),
        para(row.required, TEXT),
        para(row.sections, SMALL),
        para(row.planned, TEXT),
        para(row.where, SMALL),
        para(tested, SMALL),
    ]


def _missing(plan: Plan) -> list[str]:
    if not plan.circuits.ledger:
        return ["circuits"]
    open_ = sum(UNKNOWN in row.required for row in plan.circuits.ledger)
    return (
        [f"what protection {open_} circuit{'s' if open_ > 1 else ''} need{'' if open_ > 1 else 's'}"] if open_ else []
    )


SHEET = Sheet(5.5, "protection", TITLE, _missing, story, ("permit", "file"))
