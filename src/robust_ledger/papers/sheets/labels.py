"""Labels for the equipment: emergency disconnect, SPD, generator interlock, series rating, fault current, each with where it goes."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from reportlab.lib.colors import HexColor, black, white
from reportlab.lib.units import inch
from reportlab.platypus import Flowable, KeepTogether, Spacer

from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.ledger.entry import Entry
from robust_ledger.papers.sheet import Lack, Sheet
from robust_ledger.papers.style import SMALL, STRONG, heading_block, para, ruled_table
from robust_ledger.plan import Plan
from robust_ledger.service.bonds import BondPlace, service_equipment

TITLE = "Labels"
RED = HexColor("#b3261e")
LARGE = STRONG.clone("label-large", fontSize=14, leading=18, textColor=white)
PLAIN = STRONG.clone("label-plain", fontSize=11, leading=14, textColor=black)

Label = tuple[str, tuple[str, ...], bool]


def labels(plan: Plan) -> Iterator[Label]:
    """Where each goes, its lines, and whether it is white on red."""
    job = plan.job
    if plan.service.emergency_label:
        yield (
            "Outside of the emergency disconnect: letters at least 1/2 in high, white on red [230.85]",
            plan.service.emergency_label,
            True,
        )
    if job.equipment.spd:
        at = "disconnect" if job.equipment.spd_at == "disconnect" else "panel"
        yield (
            f"Beside the surge protective device at the {at}",
            ("SURGE PROTECTIVE DEVICE", f"TYPE {job.equipment.spd_type or '?'}"),
            False,
        )
    if job.equipment.generator_a:
        yield "At the interlock [702.7]", ("GENERATOR BREAKER WITH INTERLOCK", "MAIN OFF BEFORE GENERATOR ON"), False
    if job.equipment.inverter_a:
        yield (
            "At the inverter's breaker [705.12]",
            ("DO NOT RELOCATE THIS OVERCURRENT DEVICE", "TWO SOURCES FEED THIS PANEL"),
            True,
        )
    series = job.panel.series_aic_a
    if series:
        words = (
            "CAUTION – SERIES COMBINATION SYSTEM",
            f"RATED {series:,.0f} AMPERES",
            "IDENTIFIED REPLACEMENT COMPONENTS REQUIRED",
        )
        yield "On the enclosures of the series-rated devices [110.22]", words, True
    equipment = service_equipment(job)
    for place in equipment:
        fault = fault_at(plan, place)
        if fault is not None and fault.known:
            told = (f"AVAILABLE FAULT CURRENT {fault.amount:,.0f} A", f"CALCULATED {job.heading.date or '________'}")
            which = f", {place.title.lower()}" if place.key == "disconnect" or len(equipment) > 1 else ""
            yield (
                f"At the service equipment{which}, where the AHJ wants it; a dwelling needs none [110.24]",
                told,
                False,
            )
    yield "On the panel", ("DIRECTORY INSIDE THE DOOR", f"FED FROM: {_fed(plan)}"), False


def fault_at(plan: Plan, place: BondPlace) -> Entry | None:
    """The available fault current at a disconnect or panel: that of the place itself, not of what it feeds."""
    of = plan.service.figures
    if place.key in of.feeders:
        return of.feeders[place.key].fault
    return {"disconnect": of.fault_disconnect, MAIN: of.fault_panel}.get(place.key)


def _fed(plan: Plan) -> str:
    return "DISCONNECT AHEAD" if plan.job.disconnect_ahead else "METER"


def story(plan: Plan) -> list[Flowable]:
    """A label after the other, each with the place it goes to."""
    parts: list[Flowable] = [*heading_block(plan, TITLE), Spacer(0, 6)]
    for where, lines, red in labels(plan):
        rows: list[list[Any]] = [[para(line, LARGE if red else PLAIN)] for line in lines]
        style = [("BACKGROUND", (0, 0), (-1, -1), RED)] if red else []
        box = [*style, ("BOX", (0, 0), (-1, -1), 1, black)]
        table = ruled_table(rows, [4.2 * inch], box, repeat=0)
        table.hAlign = "LEFT"
        parts.append(KeepTogether([para(where, SMALL), table, Spacer(0, 10)]))
    return parts


def _missing(plan: Plan) -> list[str]:
    return (
        [Lack("the type of the SPD", "equipment:spd_type")]
        if plan.job.equipment.spd and not plan.job.equipment.spd_type
        else []
    )


SHEET = Sheet(8, "labels", TITLE, _missing, story, ("crew", "file"))
