"""The load calculation for a permit, on one page: the method used line by line, what the service has to be, and its conductors."""

from __future__ import annotations

from typing import Any

from reportlab.lib.units import inch
from reportlab.platypus import Flowable, KeepInFrame

from robust_ledger.installation.changes import wires_text
from robust_ledger.ledger.entry import printed
from robust_ledger.ledger.text import UNKNOWN, number_text, value_text
from robust_ledger.load.methods import NAMES
from robust_ledger.papers.sheet import Sheet, missing_heading
from robust_ledger.papers.style import (
    FIGURE,
    FIGURE_STRONG,
    HEADING,
    SMALL,
    STRONG,
    WASH,
    WIDTH,
    heading_block,
    heads,
    para,
    ruled_table,
)
from robust_ledger.plan import Plan

TITLE = "Load calculation"
HIGH = 680.0  # points of a page, so that it stays one


def story(plan: Plan) -> list[Flowable]:
    """Everything on one page; it is made smaller where it would not fit."""
    parts = [*heading_block(plan, TITLE), *_facts(plan), *_tape(plan)]
    return [KeepInFrame(WIDTH, HIGH, parts, mode="shrink")]


def _facts(plan: Plan) -> list[Flowable]:
    job, service = plan.job, plan.service
    area = job.dwelling.area
    unit = "m²" if job.dwelling.area_unit == "m2" else "ft²"
    old = plan.installation.existing_a
    riser = plan.installation.riser
    raceway = riser.raceway.trade_size if riser.raceway is not None else riser.wiring
    rows = [
        ("Method", f"{NAMES[job.decisions.load_method]} [{plan.load.chosen.cite}]"),
        ("Floor area", f"{number_text(area)} {unit}" if area is not None else UNKNOWN),
        ("Existing service", f"{old:g} A" if old else UNKNOWN),
        ("Supply", f"{job.dwelling.supply} V, single phase, three wires"),
        ("Calculated load", f"{plan.load.chosen.total.text()}, {plan.load.governing.text()}"),
        ("Mains" if service.figures.mains is not service.main else "Main", service.figures.mains.text()),
        ("Service conductors", ", ".join(part for part in (wires_text(riser), riser.insulation) if part)),
        ("Raceway", raceway or UNKNOWN),
        ("GEC", service.gec.text()),
    ]
    table = ruled_table(
        [[para(a, SMALL), para(b, STRONG)] for a, b in rows], [1.5 * inch, WIDTH - 1.5 * inch], repeat=0
    )
    return [table]


def _tape(plan: Plan) -> list[Flowable]:
    calculation = plan.load.chosen
    rows: list[list[Any]] = [heads("Line", ">Amount", ">Factor", ">VA", "Section")]
    for line in calculation.lines:
        if line.counted:
            rows.append(
                [
                    para(line.label),
                    para(line.amount, FIGURE),
                    para(line.factor, FIGURE),
                    para(value_text(line.result_va, "VA"), FIGURE),
                    para(printed(line.cites), SMALL),
                ]
            )
    rows.append(
        [
            para("Calculated load", STRONG),
            "",
            "",
            para(calculation.total.text(), FIGURE_STRONG),
            para(str(calculation.cite), SMALL),
        ]
    )
    amperes = para(calculation.amperes.text(), FIGURE_STRONG)
    rows.append(
        [
            para("Amperes", STRONG),
            para(calculation.division.how, FIGURE),
            "",
            amperes,
            para(str(calculation.rounding), SMALL),
        ]
    )
    widths = [2.6 * inch, 1.35 * inch, 1.0 * inch, 1.05 * inch]
    marks = [("BACKGROUND", (0, len(rows) - 2), (-1, -1), WASH)]
    return [para("Calculation", HEADING), ruled_table(rows, [*widths, WIDTH - sum(widths)], marks)]


def _missing(plan: Plan) -> list[str]:
    total = plan.load.chosen.total
    return missing_heading(plan) + ([] if total.known else [total.why_unknown])


SHEET = Sheet(1.5, "load", TITLE, _missing, story, ("permit", "file"))
