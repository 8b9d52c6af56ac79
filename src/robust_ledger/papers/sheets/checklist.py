"""What to look at before the inspector is called, derived from the job, with boxes to tick."""

from __future__ import annotations

from collections.abc import Iterator

from reportlab.lib.units import inch
from reportlab.platypus import Flowable

from robust_ledger.changeover.holds import holds
from robust_ledger.installation.bonds import BOND_RULES, BOND_WORDS
from robust_ledger.installation.changes import wires_text
from robust_ledger.ledger.entry import Severity, printed
from robust_ledger.papers.sheet import Lack, Sheet, missing_heading
from robust_ledger.papers.style import HEADING, SMALL, STOP, TEXT, WIDTH, heading_block, para, ruled_table
from robust_ledger.plan import Plan

TITLE = "Before calling the inspector"


def lines(plan: Plan) -> Iterator[tuple[str, str]]:
    """What to look at, with its section."""
    job = plan.job
    yield "Permit card posted, plans and this packet on site", ""
    yield from _installation(plan)
    yield "Working space: 30 in wide, 36 in deep, 6 ft 6 in high, free", "110.26(A)"
    yield "Every opening that is not used closed; twist-outs counted", "110.12(A), 408.7"
    yield (
        "Cables secured within 12 in of the enclosure where they have clamps, 8 in in single boxes without",
        "334.30, 314.17",
    )
    yield "One neutral to a terminal; grounds as many as the label allows", "408.41, 110.14(A)"
    yield "Every termination tightened by the label, with the record", "110.14(D)"
    white = [c for c in job.circuits if "white-hot" in {str(mark) for mark in c.marks}]
    for circuit in white:
        yield f"Tag {circuit.tag}: the white hot re-marked at both ends", "200.7(C)"
    shared = [
        branch
        for branch in plan.circuits.branches
        if branch.partner and not branch.off and str(branch.partner) < str(branch.key)
    ]
    for one in shared:
        yield f"{one.name} and its partner: one handle, neutral wired through", "210.4(B)"
    electronic = [one for one in plan.circuits.branches if one.to_device and not one.off]
    for one in electronic:
        found = (*one.protection.arc.cites, *one.protection.ground.cites) if one.protection else ()
        cites = ", ".join(dict.fromkeys(cite.printed for cite in found))
        yield f"{one.name}, {one.feeds}: {one.device} breaker, tested by its button", cites
    yield "Directory legible, specific, dated; spares said to be spare", "408.4(A)"


def _installation(plan: Plan) -> Iterator[tuple[str, str]]:
    """Bonds, devices, conductors, earth and labels, node by node and run by run."""
    made, cite = plan.installation, plan.codebook.cite
    for node in made.bonded:
        if node.bond is not None:
            sections = dict.fromkeys(cite(rule).printed for rule in BOND_RULES[node.bond.kind])
            yield f"{node.title}: {BOND_WORDS[node.bond.kind]}", ", ".join(sections)
    for node in made.nodes.values():
        if node.kind == "panel" and node.rating is not None and node.rating.known:
            yield f"Overcurrent device of the {node.name}: {node.rating.text()}", cite("panel_protection").printed
    for run in made.runs:
        if not run.by_utility and run.conductors and (run.change.made or run.kind != "earth"):
            yield f"{run.title}: {wires_text(run)}", printed(run.conductors[0].size.cites)
    yield from (
        (f"Ground rods to drive: {rods.text()}", printed(rods.cites))
        for rods in [plan.walk.rods_added]
        if rods is not None and rods.known
    )
    earth = plan.walk.grounding
    for entry in (earth.water_bond, earth.gas_bond) if earth is not None else ():
        if entry is not None and entry.known and not any(run.conductors[0].size.id == entry.id for run in made.earth):
            yield f"{entry.label}: {entry.text()}", printed(entry.cites)
    for label in made.labels:
        if label.key in ("emergency", "spd", "solar", "interlock", "series"):
            yield f"Label: {' / '.join(label.lines)}", ""


def story(plan: Plan) -> list[Flowable]:
    """Boxes to tick, then holds and findings that are open."""
    rows = [[para(words, SMALL) for words in ("", "Look at", "Section")]]
    rows += [[para("[ ]"), para(words), para(cites, SMALL)] for words, cites in lines(plan)]
    table = ruled_table(rows, [0.35 * inch, WIDTH - 1.95 * inch, 1.6 * inch])
    parts: list[Flowable] = [*heading_block(plan, TITLE), table]
    open_ = [group for group in plan.groups if group.first.open and group.severity in (Severity.STOP, Severity.FIX)]
    if open_:
        parts.append(para("Still to be put right", HEADING))
        parts += [
            para(f"{group.severity}  {group.title}", STOP if group.severity is Severity.STOP else TEXT)
            for group in open_
        ]
    cured = [group for group in plan.groups if group.first.cured and not group.first.accepted]
    if cured:
        parts.append(para("Cured by the plan: tick when done", HEADING))
        parts += [para(f"[ ]  {group.title}: {group.remedy}") for group in cured]
    left = [hold.words for hold in holds(plan.changeover) if not hold.passed]
    if left:
        parts += [para("Holds not yet signed", HEADING), para(", ".join(left))]
    return parts


def _missing(plan: Plan) -> list[str]:
    return missing_heading(plan) + ([] if plan.job.circuits else [Lack("circuits", "circuit:")])


SHEET = Sheet(11, "checklist", TITLE, _missing, story, ("crew", "file"))
