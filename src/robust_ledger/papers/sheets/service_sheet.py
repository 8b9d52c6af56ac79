"""The service sheet: one-line diagram, chain, earth, fit, overhead, equipment, conventions, and both lists of defects."""

from __future__ import annotations

from typing import Any

from reportlab.lib.colors import HexColor, white
from reportlab.lib.units import inch
from reportlab.platypus import Flowable, KeepTogether, Spacer

from robust_ledger.ledger.entry import Entry, printed
from robust_ledger.papers.drawings import SceneFlowable, drawings_of, scene_of
from robust_ledger.papers.sheet import Lack, Sheet, missing_heading
from robust_ledger.papers.style import (
    FIGURE,
    HEADING,
    SMALL,
    STRONG,
    WIDTH,
    heading_block,
    para,
    ruled_table,
)
from robust_ledger.plan import Plan
from robust_ledger.service.conventions import conventions
from robust_ledger.survey import scope
from robust_ledger.survey.defects import PRACTICE_WORDS
from robust_ledger.survey.fit import band_text

TITLE = "Service sheet"
LABEL_RED = HexColor("#b3261e")
LABEL = STRONG.clone("label", textColor=white, fontSize=11, leading=14)

CAUTIONS = (
    "The drop, the riser and the line side of the meter socket stay live until the utility has disconnected them. The utility's "
    "own rules for meter, mast and heights come before this sheet."
)


def story(plan: Plan) -> list[Flowable]:
    """Scope, drawings, and a table for each topic the scope asks about."""
    parts: list[Flowable] = [
        *heading_block(plan, TITLE),
        Spacer(0, 4),
        para(f"Scope: {scope.title(plan.job)}. {scope.words(plan.job)}", SMALL),
    ]
    drawn = {one.name: scene_of(one, plan) for one in drawings_of(plan)}
    if "one-line" in drawn:
        parts += [para("One-line diagram", HEADING), SceneFlowable(drawn["one-line"], 0.84)]
    if "chain" in drawn:
        figure = SceneFlowable(drawn["chain"], WIDTH / drawn["chain"].width)
        words = para(plan.walk.chain_words)
        parts.append(KeepTogether([para("Service path", HEADING), figure, words, Spacer(0, 4)]))
    parts += _chain(plan)
    parts += _entries(plan, "Bonds", "service.bond.")
    parts += _equipment(plan)
    parts += _label(plan)
    for run in plan.installation.wired:
        if run.key.startswith("feeder."):
            parts += _entries(plan, f"Feeder of the {plan.installation.nodes[run.end].name}", f"{run.key}.")
    parts += _changes(plan)
    parts += _entries(plan, "Grounding", "grounding.")
    for name, title in (("fit", "Fit"), ("overhead", "Overhead")):
        if name in drawn:
            figure = SceneFlowable(drawn[name], 0.62)
            words = [para(band_text(plan.walk.fit))] if name == "fit" else []
            parts.append(KeepTogether([para(title, HEADING), figure, *words]))
        if name in plan.walk.asked:
            parts += _entries(plan, "", f"{name}.")
    parts += _entries(plan, "Counts", "count.")
    parts += _defects(plan)
    parts += _conventions(plan)
    return [*parts, Spacer(0, 8), para(CAUTIONS, SMALL)]


def _rows(head: tuple[str, ...], rows: list[list[Any]], widths: list[float]) -> Flowable:
    top = [para(text, SMALL) for text in head]
    return ruled_table([top, *rows], [*widths, WIDTH - sum(widths)])


def _entries(plan: Plan, title: str, prefix: str) -> list[Flowable]:
    """Every entry of a topic with its value, or why it is not known."""
    found = [entry for entry in plan.entries.values() if entry.id.startswith(prefix)]
    if not found:
        return []
    rows = [[para(e.label), para(_value(e), FIGURE), para(printed(e.cites), SMALL)] for e in found]
    table = _rows(("", "", "Section"), rows, [3.1 * inch, 2.3 * inch])
    return [para(title, HEADING), table] if title else [table]


def _value(entry: Entry) -> str:
    return entry.text() if entry.known else f"not known: {entry.why_unknown}"


def _chain(plan: Plan) -> list[Flowable]:
    rows = [
        [para(link.title), para(link.limit.text(), FIGURE), para(link.planned.text(), FIGURE), para(link.verdict)]
        for link in plan.walk.chain
    ]
    return [_rows(("Link", "As found", "After", "Keep / replace"), rows, [2.2 * inch, 1.0 * inch, 1.0 * inch])]


def _equipment(plan: Plan) -> list[Flowable]:
    rows = [[para(e.label), para(_value(e)), para(printed(e.cites), SMALL)] for e in plan.service.figures.decided]
    return [para("Equipment", HEADING), _rows(("", "", "Section"), rows, [2.4 * inch, 3.0 * inch])]


def _changes(plan: Plan) -> list[Flowable]:
    """What becomes of every box and every run."""
    rows = [[para(one.words), para(one.planned), para(one.change)] for one in plan.installation.changes]
    return [para("Found and planned", HEADING), _rows(("", "As planned", "This job"), rows, [2.6 * inch, 3.6 * inch])]


def _label(plan: Plan) -> list[Flowable]:
    """The label on the outside of the emergency disconnect, as it has to read."""
    lines = plan.service.emergency_label
    if not lines:
        return []
    rows = [[para(line, LABEL)] for line in lines]
    table = ruled_table(rows, [3.2 * inch], [("BACKGROUND", (0, 0), (-1, -1), LABEL_RED)], repeat=0)
    words = "Label on the outside of the emergency disconnect: red, letters white and at least 1/2 in high"
    return [KeepTogether([para(words, SMALL), table])]


def _defects(plan: Plan) -> list[Flowable]:
    """What was found, who corrects it, and whether this job does."""
    if not plan.walk.defects:
        return []
    practice = PRACTICE_WORDS[plan.job.decisions.defect_practice]
    rows = []
    for one in plan.walk.defects:
        defect = one.defect
        what = f"{defect.what}, {defect.where}" if defect.where else defect.what
        this_job = para("this job" if one.ours else "owner advised")
        by = "" if defect.who == "us" else one.by
        answer = " / ".join(part for part in (defect.fix, by) if part)
        rows.append([para(what), para(answer), this_job, para(defect.state)])
    head = ("Found", "Correction / by", "Scope", "State")
    widths = [2.5 * inch, 2.6 * inch, 1.1 * inch]
    return [para(f"Defects found; for this job: {practice}", HEADING), _rows(head, rows, widths)]


def _conventions(plan: Plan) -> list[Flowable]:
    rows = [
        [para(name, STRONG), para(words), para(printed(cites), SMALL)]
        for name, words, cites in conventions(plan.job, plan.codebook)
    ]
    return [para("Conventions", HEADING), _rows(("", "", "Section"), rows, [1.0 * inch, 4.6 * inch])]


def _missing(plan: Plan) -> list[str]:
    main = plan.service.main
    missing = missing_heading(plan) + ([] if main.known else [main.why_unknown])
    if not plan.job.scope.said:
        missing.append(Lack("the scope", "scope:service"))
    elif left := [
        question.title.lower() for question in scope.questions(plan.job) if question.answer(plan.job) is None
    ]:
        missing.append(f"of the scope: {', '.join(left)}")
    unread = [link.title.lower() for link in plan.walk.chain if link.stays and not link.limit.known]
    return missing + ([f"to be read: {', '.join(unread)}"] if unread else [])


SHEET = Sheet(3, "service", TITLE, _missing, story, ("crew", "file"))
