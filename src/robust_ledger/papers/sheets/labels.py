"""Labels for the equipment: emergency disconnect, SPD, generator interlock, series rating, fault current, each with where it goes."""

from __future__ import annotations

from typing import Any

from reportlab.lib.colors import HexColor, black, white
from reportlab.lib.units import inch
from reportlab.platypus import Flowable, KeepTogether, Spacer

from robust_ledger.papers.sheet import Lack, Sheet
from robust_ledger.papers.style import SMALL, STRONG, heading_block, para, ruled_table
from robust_ledger.plan import Plan

TITLE = "Labels"
RED = HexColor("#b3261e")
LARGE = STRONG.clone("label-large", fontSize=14, leading=18, textColor=white)
PLAIN = STRONG.clone("label-plain", fontSize=11, leading=14, textColor=black)


def story(plan: Plan) -> list[Flowable]:
    """A label after the other, each with the place it goes to."""
    parts: list[Flowable] = [*heading_block(plan, TITLE), Spacer(0, 6)]
    for label in plan.installation.labels:
        rows: list[list[Any]] = [[para(line, LARGE if label.red else PLAIN)] for line in label.lines]
        style = [("BACKGROUND", (0, 0), (-1, -1), RED)] if label.red else []
        box = [*style, ("BOX", (0, 0), (-1, -1), 1, black)]
        table = ruled_table(rows, [4.2 * inch], box, repeat=0)
        table.hAlign = "LEFT"
        parts.append(KeepTogether([para(label.where, SMALL), table, Spacer(0, 10)]))
    return parts


def _missing(plan: Plan) -> list[str]:
    untyped = any(label.key == "spd" and "?" in label.lines[-1] for label in plan.installation.labels)
    return [Lack("the type of the SPD", "equipment:spd_type")] if untyped else []


SHEET = Sheet(8, "labels", TITLE, _missing, story, ("crew", "file"))
