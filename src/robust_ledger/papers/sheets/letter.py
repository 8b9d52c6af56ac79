"""The hand-over letter: what was done, what was found and not done, the monthly test, what is left for later."""

from __future__ import annotations

from reportlab.platypus import Flowable, Spacer

from robust_ledger.installation.changes import wires_text
from robust_ledger.ledger.text import number_text
from robust_ledger.papers.sheet import Sheet, missing_heading
from robust_ledger.papers.style import HEADING, STRONG, TEXT, heading_block, para
from robust_ledger.plan import Plan
from robust_ledger.survey import scope
from robust_ledger.survey.defects import PRACTICE_WORDS

TITLE = "Hand-over letter"
LINE = TEXT.clone("letter", fontSize=9.5, leading=13.5)


def story(plan: Plan) -> list[Flowable]:
    """In the order an owner reads it."""
    parts: list[Flowable] = [*heading_block(plan, TITLE), Spacer(0, 6), para("What was done", HEADING)]
    parts += [para(f"–  {line}", LINE) for line in _done(plan)]
    parts.append(para("What was found, and what became of it", HEADING))
    parts += _defects(plan)
    parts.append(para("Once a month", HEADING))
    electronic = sum(branch.to_device for branch in plan.circuits.branches if not branch.off)
    press = f"Press the test button of each of the {electronic} AFCI and GFCI breakers, and of every GFCI receptacle."
    parts.append(para(f"{press} It has to go off, and on again by hand. One that does not is to be replaced.", LINE))
    parts.append(para("Spare room and plans", HEADING))
    parts += [para(f"–  {line}", LINE) for line in _later(plan)]
    parts.append(
        para(
            "Never put in a larger breaker because one trips. Leave the dead front on: the line side is live with the main off.",
            STRONG,
        )
    )
    parts += [
        Spacer(0, 18),
        para(f"{plan.job.heading.electrician or '________________________'}    Date: ________________", LINE),
    ]
    return parts


def _done(plan: Plan) -> list[str]:
    title = scope.title(plan.job)
    made = [f"{title[:1].upper()}{title[1:]}. Main {plan.service.figures.mains.text()}."]
    for node in plan.installation.nodes.values():
        if node.kind == "panel" and node.spaces and node.change.made:
            live = sum(not one.off and one.panel == node.panel_id for one in plan.circuits.branches)
            made.append(f"New {node.name}: {node.spaces} spaces, {live} circuits, each named inside the door.")
        elif node.change.made:
            rating = f", {node.rating.text()}" if node.rating is not None and node.rating.known else ""
            made.append(f"New {node.title.lower() if node.kind == 'meter socket' else node.name}{rating}.")
    for run in plan.installation.runs:
        if run.change.made:
            name = run.title if run.title[:2].isupper() else f"{run.title[:1].lower()}{run.title[1:]}"
            made.append(f"New {name}: {wires_text(run)}.")
    rods = plan.walk.rods_added
    if rods is not None and rods.known and rods.amount:
        made.append(f"Ground rods driven: {number_text(rods.amount)}.")
    if plan.installation.fitted.spd:
        made.append("A surge protective device for the whole house.")
    off = [branch for branch in plan.circuits.branches if branch.off]
    made += [f"Capped, not in use: {one.feeds or 'unknown'} (tag {one.tag})." for one in off]
    return made


def _defects(plan: Plan) -> list[Flowable]:
    """Both practices: what this job corrected, and what the owner is told of."""
    practice = PRACTICE_WORDS[plan.job.decisions.defect_practice]
    made: list[Flowable] = [para(f"Our practice: {practice}.", LINE)]
    ours = [one.defect for one in plan.walk.defects if one.ours]
    others = [one for one in plan.walk.defects if not one.ours]
    for defect in ours:
        state = "corrected" if defect.state == "done" else "to be corrected by us"
        made.append(para(f"–  {defect.what}{f', {defect.where}' if defect.where else ''}: {state}.", LINE))
    for one in others:
        at = f", {one.defect.where}" if one.defect.where else ""
        who = "we gladly make an offer" if one.left else f"for {one.by}"
        made.append(para(f"–  Not part of this work: {one.defect.what}{at}; {who}.", LINE))
    return made if len(made) > 1 else [para("Nothing beside this work was found.", LINE)]


def _later(plan: Plan) -> list[str]:
    left = plan.bench.spaces_left
    made = [
        f"{left.text()} spaces are left in the main panel after what is planned."
        if left.known
        else "Spaces left: not known."
    ]
    for future in plan.job.futures:
        made.append(
            f"{future.name}: {'its spaces are held in the panel' if future.reserve else 'thought of, no space held'}."
        )
    return made


def _missing(plan: Plan) -> list[str]:
    open_ = [defect.defect.what for defect in plan.walk.defects if defect.ours and defect.defect.state != "done"]
    return missing_heading(plan) + ([f"corrections: {', '.join(open_[:3])}"] if open_ else [])


SHEET = Sheet(10, "letter", TITLE, _missing, story, ("owner", "file"))
