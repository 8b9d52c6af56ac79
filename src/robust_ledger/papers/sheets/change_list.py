"""The change list: every tag with its old space, its new one, its breaker, and how its wires come there."""

from __future__ import annotations

from reportlab.lib.units import inch
from reportlab.platypus import Flowable, Spacer

from robust_ledger.job.tree import panel_name
from robust_ledger.panel.bench import Bench
from robust_ledger.panel.reach import UNKNOWN
from robust_ledger.papers.sheet import Sheet
from robust_ledger.papers.style import HEADING, SMALL, TEXT, WIDTH, heading_block, para, ruled_table
from robust_ledger.plan import Plan

TITLE = "Change list"
HEADS = ("Tag", "Circuit", "Old", "New", "Breaker", "Wires")


def story(plan: Plan) -> list[Flowable]:
    """Old circuits in the order of their tags, then new ones; what is to be landed where, panel by panel."""
    parts: list[Flowable] = [*heading_block(plan, TITLE), Spacer(0, 8)]
    for panel_id, bench in plan.benches.items():
        if len(plan.benches) > 1:
            parts.append(para(panel_name(plan.job, panel_id).capitalize(), HEADING))
        parts += _of_panel(bench)
    return parts


def _of_panel(bench: Bench) -> list[Flowable]:
    rows = [[para(word, SMALL) for word in HEADS]]
    for one in bench.changes:
        cells = (one.tag, one.text, one.old, one.new, one.device, one.reach or one.origin)
        rows.append([para(text, TEXT) for text in cells])
    widths = [0.42 * inch, 2.0 * inch, 0.55 * inch, 0.65 * inch, 1.55 * inch]
    splices = bench.splices.text()
    left, right = (bench.entry_of(f"panel.twist_outs_{side}").text() for side in ("left", "right"))
    words = (
        f"{splices} splices in this layout. Twist-outs to remove (count again before you break one): {left} left, {right} right. "
        "Land a wire straight on its breaker; grounds first, then neutrals, then hots."
    )
    return [para(words, SMALL), Spacer(0, 4), ruled_table(rows, [*widths, WIDTH - sum(widths)])]


def _missing(plan: Plan) -> list[str]:
    if not plan.job.circuits:
        return ["circuits"]
    wires = [reach for bench in plan.benches.values() for reach in bench.reach.values()]
    unknown = sum(1 for reach in wires if reach.verdict is UNKNOWN)
    return [f"the reach of {unknown} wires"] if unknown else []


SHEET = Sheet(5, "changes", TITLE, _missing, story, ("crew", "file"))
