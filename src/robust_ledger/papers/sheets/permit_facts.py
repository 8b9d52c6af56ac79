"""Permit facts: what an application asks for, one fact a line, to be copied into any form."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from reportlab.lib.units import inch
from reportlab.platypus import Flowable, Spacer

from robust_ledger.installation.changes import wires_text
from robust_ledger.job.keys import MAIN
from robust_ledger.ledger.text import UNKNOWN, number_text
from robust_ledger.load.methods import NAMES
from robust_ledger.papers.sheet import Sheet, missing_heading
from robust_ledger.papers.style import SMALL, STRONG, WIDTH, heading_block, para, ruled_table
from robust_ledger.plan import Plan
from robust_ledger.survey import scope

TITLE = "Permit facts"


def facts(plan: Plan) -> Iterator[tuple[str, str]]:
    """Each fact with its name; "?" for what is not known."""
    job, service = plan.job, plan.service
    yield "Address", job.heading.address or UNKNOWN
    yield "Owner", job.heading.customer or UNKNOWN
    yield "Contractor", job.heading.company or job.heading.electrician or UNKNOWN
    if job.heading.contact:
        yield "Contractor's address", job.heading.contact
    if job.heading.ahj:
        yield "AHJ", job.heading.ahj
    yield "License", job.heading.license or UNKNOWN
    yield "Work", scope.title(job)
    yield "Code edition", f"NEC {plan.codebook.edition}"
    old = plan.installation.existing_a
    yield "Existing service", f"{old:g} A" if old else UNKNOWN
    yield "New service" if job.scope.new_service else "Service after this job", service.figures.mains.text()
    yield "Voltage", f"{job.dwelling.supply} V, single phase, three wires"
    yield "Calculated load", f"{plan.load.chosen.total.text()}, {plan.load.governing.text()}"
    yield "Method", f"{NAMES[job.decisions.load_method]} [{plan.load.chosen.cite}]"
    unit = "m²" if job.dwelling.area_unit == "m2" else "ft²"
    yield "Floor area", f"{number_text(job.dwelling.area)} {unit}" if job.dwelling.area is not None else UNKNOWN
    yield "Service conductors", wires_text(plan.installation.riser)
    yield "GEC", service.gec.text()
    yield "Available fault current at the panel", service.figures.fault_panel.text()
    panel = plan.installation.nodes[MAIN]
    yield "AIC of the panel", f"{panel.aic_a:,.0f} A" if panel.aic_a else UNKNOWN
    yield "Panel", f"{panel.spaces} spaces, {panel.bus_a:g} A bus"
    live = [branch for branch in plan.circuits.branches if not branch.off and branch.origin != "future"]
    yield "Branch circuits", str(len(live))
    yield "New circuits", str(sum(one.new_cable for one in live))
    rods = plan.walk.rods_added
    yield "Ground rods to drive", rods.text() if rods is not None else "0"
    yield "Emergency disconnect", service.figures.emergency.text()
    yield "Surge protection", service.figures.spd.text()
    yield "Day of the work", job.day.date or UNKNOWN


def order_facts(plan: Plan) -> list[tuple[str, str]]:
    """The facts of the utility's order form, by the names and in the order that it has; "?" for what a job does not tell."""
    known = {name.casefold(): value for name, value in facts(plan)}
    return [(name, known.get(name.casefold(), UNKNOWN)) for name in plan.job.utility.order_form]


def story(plan: Plan) -> list[Flowable]:
    """A table of two columns, and below it the utility's order form where its profile has one."""
    made = [*heading_block(plan, TITLE), Spacer(0, 6), _table(facts(plan))]
    if ordered := order_facts(plan):
        name = plan.job.utility.name or "the utility"
        made += [Spacer(0, 10), para(f"Service order of {name}", STRONG), Spacer(0, 4), _table(ordered)]
    return made


def _table(listed: Iterable[tuple[str, str]]) -> Flowable:
    rows = [[para(name, SMALL), para(value, STRONG)] for name, value in listed]
    return ruled_table(rows, [2.4 * inch, WIDTH - 2.4 * inch], repeat=0)


def _missing(plan: Plan) -> list[str]:
    lacking = dict.fromkeys(name for name, value in (*facts(plan), *order_facts(plan)) if value == UNKNOWN)
    return missing_heading(plan) + [name.lower() for name in lacking][:4]


SHEET = Sheet(0.5, "facts", TITLE, _missing, story, ("permit", "file"))
