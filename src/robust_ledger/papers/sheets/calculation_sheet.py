"""The calculation sheet: the open methods line by line, what-if, each size with its working, local rules, findings."""

from __future__ import annotations

from typing import Any

from reportlab.lib.units import inch
from reportlab.platypus import Flowable, KeepTogether, Spacer

from robust_ledger.ledger.entry import Entry, printed
from robust_ledger.ledger.text import UNKNOWN, sentence_end, upper_first, value_text
from robust_ledger.load.tape import Calculation
from robust_ledger.papers.load_tables import local_table, method_table, what_if_table
from robust_ledger.papers.sheet import Sheet, missing_heading
from robust_ledger.papers.style import (
    FIGURE,
    FIGURE_STRONG,
    HEAD_FIGURE,
    HEADING,
    SMALL,
    STRONG,
    TEXT,
    WASH,
    WIDTH,
    heading_block,
    para,
    ruled_table,
)
from robust_ledger.plan import Plan

TITLE = "Calculation sheet"

CAUTIONS = (
    "The line side stays live until the utility has disconnected it. Prove the tester on a live source before and after "
    "testing for absence of voltage. This sheet sizes; it does not replace the local code, the utility's rules or a license."
)


def story(plan: Plan) -> list[Flowable]:
    """The methods, tapes, what-if columns, local rules, sizes, findings and room for signatures."""
    parts: list[Flowable] = [*heading_block(plan, TITLE, notes=True), Spacer(0, 6)]
    chosen = plan.job.decisions.load_method
    parts += method_table(plan)
    for name, method in sorted(plan.load.methods.items(), key=lambda item: item[0] != chosen):
        if method.open or name == chosen:
            state = "used for this job" if name == chosen else "for comparison"
            parts += _tape(method.calculation, state, method.fuller, method.governing is method.fuller, "the main")
    for feeder in plan.feeders.loads.values():
        if feeder.calculation is not None:
            parts += _tape(
                feeder.calculation, "for its feeder", feeder.fuller, feeder.amperes is feeder.fuller, "its feeder"
            )
    parts += what_if_table(plan)
    parts += local_table(plan)
    parts.append(para("Sizes", HEADING))
    for entry in shown_entries(plan):
        parts.append(_working(entry))
    parts += _findings(plan)
    parts += [Spacer(0, 8), para(CAUTIONS, SMALL), Spacer(0, 22)]
    signature = [[para("Electrician, date", SMALL), ""]]
    parts.append(
        ruled_table(signature, [WIDTH / 2, WIDTH / 2], [("LINEABOVE", (0, 0), (0, 0), 0.6, "#1f2d38")], repeat=0)
    )
    return parts


def shown_entries(plan: Plan) -> list[Entry]:
    """The sizes the sheet works out, in the order they follow from one another."""
    of = plan.service.figures
    service = [of.main, of.conductors, plan.load.neutral, of.neutral, of.gec, of.mbj]
    return [*service, *_of_feeders(plan)]


def _of_feeders(plan: Plan) -> list[Entry]:
    """What is worked out of each feeder, in the order of the tree."""
    feeders = plan.service.figures.feeders.values()
    made = (entry for of in feeders for entry in (of.carried, of.conductors, of.least_neutral, of.neutral, of.egc))
    return [entry for entry in made if entry is not None]


def _tape(calculation: Calculation, state: str, fuller: Entry | None, decides: bool, what: str) -> list[Flowable]:
    """A tape line by line; `fuller`: its fuller leg, where 120 V loads lean on one, and whether that decides `what`."""
    figures = ("Amount", "Factor", "VA", "Subtotal")
    head = [para("Line", SMALL), *(para(t, HEAD_FIGURE) for t in figures), para("Section", SMALL)]
    rows: list[list[Any]] = [head]
    group = ""
    for line in calculation.lines:
        if line.group != group:
            group = line.group
            rows.append([para(group, STRONG), "", "", "", "", ""])
        cites = printed(line.cites)
        figure = FIGURE if line.counted else SMALL_FIGURE
        rows.append(
            [
                para(line.label),
                para(line.amount, FIGURE),
                para(line.factor, FIGURE),
                para(value_text(line.result_va, "VA"), figure),
                para("" if not line.counted else value_text(line.subtotal_va, "VA"), FIGURE),
                para(cites, SMALL),
            ]
        )
    total, amperes = calculation.total, calculation.amperes
    rows.append(
        [
            para("Calculated load", STRONG),
            "",
            "",
            "",
            para(total.text(), FIGURE_STRONG),
            para(str(calculation.cite), SMALL),
        ]
    )
    rows.append(
        [
            para("Amperes", STRONG),
            para(calculation.division.how, FIGURE),
            "",
            "",
            para(amperes.text(), FIGURE_STRONG),
            para(str(calculation.rounding), SMALL),
        ]
    )
    if fuller is not None:
        words = "The fuller leg" + (f", decides {what}" if decides else "")
        rows.append(
            [
                para(words, STRONG),
                para(fuller.named("division").how, FIGURE),
                "",
                "",
                para(fuller.text(), FIGURE_STRONG),
                "",
            ]
        )
    if not total.known:
        rows.append([para(f"Not known: {total.why_unknown}", STRONG), "", "", "", para(UNKNOWN, FIGURE_STRONG), ""])
    widths = [2.15 * inch, 1.2 * inch, 1.15 * inch, 0.75 * inch, 0.95 * inch]
    table = ruled_table(rows, [*widths, WIDTH - sum(widths)], [("BACKGROUND", (0, len(rows) - 2), (-1, -1), WASH)])
    practice = [para(f"Practice: {calculation.practice}.", SMALL)] if calculation.practice else []
    return [para(f"{calculation.title} [{calculation.cite}], {state}", HEADING), *practice, table]


SMALL_FIGURE = FIGURE.clone("small-figure", textColor=SMALL.textColor)


def _working(entry: Entry) -> Flowable:
    """One entry: its value in the head, a row for every step."""
    rows: list[list[Any]] = [
        [
            para(entry.label, STRONG),
            "",
            para(entry.text(), FIGURE_STRONG),
            para(printed(entry.cites), SMALL),
        ]
    ]
    if not entry.known:
        rows.append([para(f"Not known: {entry.why_unknown}"), "", "", ""])
    for step in entry.steps:
        cites = printed(step.cites)
        rows.append([para(step.label, TEXT), para(step.how, SMALL), para(step.text(), FIGURE), para(cites, SMALL)])
    table = ruled_table(
        rows,
        [2.35 * inch, 2.15 * inch, 1.25 * inch, WIDTH - 5.75 * inch],
        [("BACKGROUND", (0, 0), (-1, 0), WASH)],
        repeat=0,
    )
    return KeepTogether([table, Spacer(0, 6)])


def _findings(plan: Plan) -> list[Flowable]:
    if not plan.findings:
        return []
    rows: list[list[Any]] = [[para(t, SMALL) for t in ("", "Finding", "What to do, or why it was accepted", "Section")]]
    for group in plan.groups:
        answer = " ".join(
            part for part in (upper_first(group.first.state), "" if group.first.accepted else group.remedy) if part
        )
        cites = printed(group.cites)
        rows.append(
            [
                para(str(group.severity), STRONG),
                para(f"{group.title}{sentence_end(group.title)} {group.text}"),
                para(answer),
                para(cites, SMALL),
            ]
        )
    table = ruled_table(rows, [0.55 * inch, 3.0 * inch, 2.6 * inch, WIDTH - 6.15 * inch])
    return [para("Findings", HEADING), table]


def _missing(plan: Plan) -> list[str]:
    total = plan.load.chosen.total
    return missing_heading(plan) + ([] if total.known else [total.why_unknown])


SHEET = Sheet(2, "calculation", TITLE, _missing, story, ("file",))
