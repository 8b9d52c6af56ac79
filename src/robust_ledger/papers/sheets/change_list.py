"""The change list: every tag with its old space, its new one, its breaker, and how its wires come there."""

from __future__ import annotations

from reportlab.lib.units import inch
from reportlab.platypus import Flowable, Spacer

from robust_ledger.branch.model import Branch, Origin
from robust_ledger.job.conductors import METAL_TEXT
from robust_ledger.job.tree import panel_name
from robust_ledger.ledger.text import upper_first
from robust_ledger.panel.bench import Bench
from robust_ledger.panel.directory import Change
from robust_ledger.panel.reach import UNKNOWN
from robust_ledger.papers.sheet import Sheet
from robust_ledger.papers.style import HEADING, SMALL, TEXT, WIDTH, heading_block, para, ruled_table
from robust_ledger.plan import Plan

TITLE = "Change list"
HEADS = ("", "Tag", "Circuit", "Old", "New", "Breaker", "Wire", "How it comes there")


def story(plan: Plan) -> list[Flowable]:
    """Old circuits in the order of their tags, then new ones; what is to be landed where, panel by panel."""
    parts: list[Flowable] = [*heading_block(plan, TITLE), Spacer(0, 8)]
    for panel_id, bench in plan.benches.items():
        if len(plan.benches) > 1:
            parts.append(para(upper_first(panel_name(plan.job, panel_id)), HEADING))
        parts += _of_panel(bench)
    return parts


def _of_panel(bench: Bench) -> list[Flowable]:
    rows = [[para(word, SMALL) for word in HEADS]]
    for change in bench.changes:
        branch = bench.circuits.by_key.get(change.key)
        if branch is not None and branch.origin is Origin.FUTURE:
            continue  # a space that is held is no cable to land
        wire = branch.wire.text() if branch is not None and not branch.off else ""
        cells = (
            "[ ]",
            change.tag,
            change.text,
            change.old,
            change.new,
            change.device,
            wire,
            _how(change, branch, bench),
        )
        rows.append([para(text, TEXT) for text in cells])
    widths = [0.28 * inch, 0.38 * inch, 1.6 * inch, 0.5 * inch, 0.62 * inch, 1.15 * inch, 0.55 * inch]
    splices = bench.splices.text()
    left, right = (entry.text() for entry in bench.twist_outs)
    words = (
        f"{splices} splices in this layout. Twist-outs to remove (count again before you break one): {left} left, {right} right. "
        "Land a wire straight on its breaker; grounds first, then neutrals, then hots."
    )
    return [para(words, SMALL), Spacer(0, 4), ruled_table(rows, [*widths, WIDTH - sum(widths)])]


def _how(change: Change, branch: Branch | None, bench: Bench) -> str:
    """How its wires come there: the splice with its box and connector, a handle tie, a neutral that goes to the breaker."""
    parts = [change.reach or change.origin]
    if branch is None or branch.off:
        return parts[0]
    box = bench.one_of_family(f"splice.{change.key}")
    if box is not None and change.key in bench.reach and bench.reach[change.key].splices:
        metal = branch.wire_metal
        kind = (
            f"connector listed for {METAL_TEXT[metal]} to Cu"
            if metal in ("al", "cca")
            else f"connector for two {branch.wire_size or '?'} AWG"
        )
        parts.append(f"{kind}; box: {box.text() if box.known else 'size not known'}")
    if branch.partner and branch.poles == 1:
        parts.append("one two-pole breaker with its partner" if branch.on_one_handle else "handle tie with its partner")
    if branch.to_device:
        parts.append("neutral to the breaker")
    return "; ".join(part for part in parts if part)


def _missing(plan: Plan) -> list[str]:
    if not plan.job.circuits:
        return ["circuits"]
    wires = [reach for bench in plan.benches.values() for reach in bench.reach.values()]
    unknown = sum(1 for reach in wires if reach.verdict is UNKNOWN)
    return [f"the reach of {unknown} wires"] if unknown else []


SHEET = Sheet(5, "changes", TITLE, _missing, story, ("crew", "file"))
