"""The tables about the load on the calculation sheet: the method's decision, what-if columns, local rules."""

from __future__ import annotations

from typing import Any

from reportlab.lib.units import inch
from reportlab.platypus import Flowable

from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.codebook.local import AMENDABLE, edition_figure, in_force
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.text import amount_text, number_text
from robust_ledger.load.edition import amendments_of
from robust_ledger.load.methods import NAMES
from robust_ledger.papers.style import FIGURE, HEAD_FIGURE, HEADING, SMALL, STRONG, WASH, WIDTH, para, ruled_table
from robust_ledger.plan import Plan


def method_table(plan: Plan) -> list[Flowable]:
    """All four methods side by side: open or not and why, amount, amperes, main; and the recommendation."""
    used = plan.job.decisions.load_method
    advice = plan.load.recommended
    rows: list[list[Any]] = [
        [
            *(para(t, SMALL) for t in ("Method", "Allowed for this job?")),
            *(para(t, HEAD_FIGURE) for t in ("Load", "Amperes", "Main")),
        ]
    ]
    marks = []
    for number, (name, method) in enumerate(plan.load.methods.items(), 1):
        words = f"{NAMES[name]} [{method.calculation.cite}]"
        if name == used:
            marks.append(("BACKGROUND", (0, number), (-1, number), WASH))
            words += ", used"
        if NAMES[name] == advice.value:
            words += ", recommended"
        rows.append(
            [
                para(words, STRONG if name == used else SMALL),
                para(f"{method.state.text()}. {method.why}", SMALL),
                para(method.calculation.total.text(), FIGURE),
                para(method.calculation.amperes.text(), FIGURE),
                para(method.main.text(), FIGURE),
            ]
        )
    widths = [2.0 * inch, 2.85 * inch, 0.9 * inch, 0.7 * inch]
    return [para("Methods", HEADING), ruled_table(rows, [*widths, WIDTH - sum(widths)], marks)]


def what_if_table(plan: Plan) -> list[Flowable]:
    """Today, after this job and with each future, by the method used."""
    if len(plan.what_if.columns) <= 2:
        return []
    first = plan.what_if.columns[0]
    rooms = [*(f"{rating} A" for rating in first.room), *(["weakest link"] if first.link_room else [])]
    heads = ("Load", "Amperes", "Main", *(f"spare on {room}" for room in rooms), "Spaces")
    rows: list[list[Any]] = [[para("What if", SMALL), *(para(t, HEAD_FIGURE) for t in heads)]]
    for column in plan.what_if.columns:
        left = [*column.room.values(), *([column.link_room] if column.link_room else [])]
        figures = [column.load, column.amperes, column.main, *left, column.spaces]
        rows.append([para(column.title), *(para(entry.text(), FIGURE) for entry in figures)])
        for answer in column.answers:
            rows.append([para(_answer(answer), SMALL), *[""] * len(heads)])
    first_width = 1.45 * inch
    spans = [("SPAN", (0, n), (-1, n)) for n, row in enumerate(rows) if n and row[1] == ""]
    load_width = 0.85 * inch
    each = (WIDTH - first_width - load_width) / (len(heads) - 1)
    widths = [first_width, load_width, *[each] * (len(heads) - 1)]
    return [para("What if", HEADING), ruled_table(rows, widths, spans)]


def _answer(answer: Entry) -> str:
    held = next((f", holding back {s.text()}" for s in answer.steps if s.name == "held back"), "")
    return f"{answer.label}: {answer.text()}{held}" if answer.known else f"{answer.label}: {answer.why_unknown}"


def local_table(plan: Plan) -> list[Flowable]:
    """What the jurisdiction has put in place of the edition's figures."""
    plain = load_codebook(plan.job.edition)
    rules = in_force(amendments_of(plan.job), plain)
    if not rules:
        return []
    rows: list[list[Any]] = [
        [para(t, SMALL) for t in ("Local amendment", f"Edition {plan.job.edition}", "Here", "Citation")]
    ]
    for rule in rules:
        value, unit, section = edition_figure(plain, rule.key)
        rows.append(
            [
                para(AMENDABLE[rule.key].words),
                para(" ".join(part for part in (_figure(value, unit), f"[{section}]") if part)),
                para(_figure(rule.value, unit) or "as the edition"),
                para(rule.section or section),
            ]
        )
    widths = [2.6 * inch, 1.9 * inch, 1.1 * inch]
    return [para("Local amendments in force", HEADING), ruled_table(rows, [*widths, WIDTH - sum(widths)])]


def _figure(value: float | None, unit: str) -> str:
    if value is None:
        return ""
    return f"{number_text(value * 100)}%" if unit == "" else amount_text(value, unit)
