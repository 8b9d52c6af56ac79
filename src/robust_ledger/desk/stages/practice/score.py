"""The score of what was handed in: the points, what was found, missed and invented, each explained."""

from __future__ import annotations

from collections.abc import Iterator
from html import escape

from PyQt6.QtWidgets import QTextBrowser, QVBoxLayout

from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.stages.practice.naming import NamedList
from robust_ledger.job.job import Job
from robust_ledger.plan import Plan
from robust_ledger.practice.codes import PracticeError
from robust_ledger.practice.judged import Verdict
from robust_ledger.practice.report import time_lines, trap_words
from robust_ledger.practice.score import Score, scored

HEADS = (("Missed", "stop"), ("Invented", "fix"), ("Found", "accent"))


class ScorePage(Page):
    """A page to read; before the hand-in it says what is kept back."""

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.text = QTextBrowser()
        self.text.setAccessibleName("Score")
        self.of: Job | None = None
        self.named = NamedList(store)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.named)
        column.addWidget(self.text, 1)

    def start(self) -> None:
        (self.named if self.named.isVisible() else self.text).setFocus()

    def apply_look(self) -> None:
        self.of = None

    def show_plan(self, plan: Plan) -> None:
        if self.of is plan.job:
            return
        self.of = plan.job
        self.named.show_named()
        self.named.setVisible(plan.job.practice.veiled and bool(plan.job.practice.named))
        if plan.job.practice.veiled:
            count = len(plan.job.practice.named)
            named = "1 fault is named" if count == 1 else f"{count} faults are named"
            self.text.setHtml(
                f"<p>Not handed in. {named} so far, Delete takes one back; what of it is right is kept back.</p>"
            )
            return
        try:
            self.text.setHtml("".join(_html(scored(plan.job))))
        except PracticeError as problem:
            self.text.setHtml(f"<p>{escape(str(problem))}</p>")


def _html(score: Score) -> Iterator[str]:
    """The score as it is shown."""
    yield f"<h2>{score.points} of 100</h2>"
    yield f"<p>{escape(' '.join(('Practice', score.code + '.', *time_lines(score))))}</p><table cellpadding='3'>"
    for part in score.parts:
        yield f"<tr><td>{part.name}</td><td align='right'><b>{part.points:.0f}</b> of {part.most}</td><td>{escape(part.how)}</td></tr>"
    yield "</table>"
    if trap := trap_words(score):
        yield f"<p>The trap in the load: {escape(trap)}</p>"
    verdicts = {"Missed": score.missed, "Invented": score.invented, "Found": score.found}
    for head, role in HEADS:
        if verdicts[head]:
            yield f"<h3 style='color:{LOOK.color(role).name()}'>{head}: {len(verdicts[head])}</h3>"
            yield from (_verdict(one, head) for one in verdicts[head])
    if score.ordered is not None and score.ordered.wrong:
        yield "<h3>Dark hours</h3>" + "".join(f"<p>{escape(one)}.</p>" for one in score.ordered.wrong)
    if score.misread:
        yield f"<h3>Misread: {len(score.misread)}</h3>"
        yield "<p>" + "<br>".join(escape(f"{one.where}{one.words}") for one in score.misread) + "</p>"


def _verdict(one: Verdict, head: str) -> str:
    only = " <i>Called out, not named: half the points.</i>" if head == "Found" and not one.named else ""
    sections = f" [{escape(one.sections)}]" if one.sections else ""
    more = f"<br>To be seen: {escape(one.seen)}. {escape(one.harm)}" if one.harm else ""
    return f"<p><b>{escape(one.where + one.words)}</b>.{only} {escape(one.why)}{sections}{more}</p>"
