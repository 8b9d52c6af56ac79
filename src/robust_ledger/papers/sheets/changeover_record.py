"""Torque and test record of the changeover day: holds with who signed them, torques, voltages, circuits; what was passed with open items in red."""

from __future__ import annotations

from collections.abc import Iterator

from reportlab.lib.units import inch
from reportlab.platypus import Flowable

from robust_ledger.branch.ledger import LedgerRow
from robust_ledger.changeover.energize import Energized, sequence
from robust_ledger.changeover.holds import Hold, holds
from robust_ledger.changeover.live import durations
from robust_ledger.changeover.recorded import hold_words, moment_words
from robust_ledger.changeover.torque import Logged
from robust_ledger.changeover.volts import POINT_WORDS, judged
from robust_ledger.job.readers.torque_units import torque_text
from robust_ledger.ledger.text import number_text
from robust_ledger.papers.sheet import Lack, Sheet, missing_heading
from robust_ledger.papers.style import (
    FIGURE,
    HEADING,
    SMALL,
    STOP,
    STRONG,
    TEXT,
    WIDTH,
    heading_block,
    heads,
    para,
    ruled_table,
)
from robust_ledger.plan import Plan

TITLE = "Torque and test record"


def story(plan: Plan) -> list[Flowable]:
    """Holds, torque log, voltages, circuits, in the order of the day."""
    room = plan.changeover
    parts: list[Flowable] = heading_block(plan, TITLE)
    tool = plan.job.record.torque
    parts.append(para("Holds", HEADING))
    for hold in holds(room):
        parts += _hold(hold)
    parts.append(para("Torque", HEADING))
    parts.append(
        para(
            f"Tool: {tool.tool or 'not entered'}; calibrated {tool.calibrated or 'not known'}. A figure marked * is a usual one, not the label's.",
            SMALL,
        )
    )
    parts.append(_torque(room.torque))
    parts.append(para("Voltages", HEADING))
    parts.append(_volts(plan))
    parts.append(para("Circuits switched on", HEADING))
    parts.append(_circuits(plan))
    took = durations(room)
    if took:
        usual = {task.id: task for task in room.tasks}
        words = "; ".join(
            f"{usual[key].words[:40]} {minutes * usual[key].times:.0f} min" for key, minutes in took.items()
        )
        parts += [para("Times", HEADING), para(words, SMALL)]
    return parts


def _hold(hold: Hold) -> Iterator[Flowable]:
    """A hold in a line; what was overridden, or opened again, in red with what was open."""
    bad = hold.state in ("overridden", "reopened")
    yield para(hold_words(hold), STOP if bad else TEXT)
    if bad or not hold.signed_by:
        for one in hold.open_items:
            yield para(f"– {one.words}{f': {one.fault}' if one.fault else ''}", STOP if bad else SMALL)
    else:
        readings = ", ".join(f"{item.words}: {item.value} V" for item in hold.items if item.reading)
        if readings:
            yield para(readings, SMALL)


def _torque(rows: tuple[Logged, ...]) -> Flowable:
    head = heads("Termination", "Wire", ">Due", ">First pass", ">Second pass", "Marked", "")
    cells = [head]
    for one in rows:
        of, row = one.of, one.row
        due = (
            f"{torque_text(of.due_in_lb, of.label_unit)}{' *' if of.verify else ''}"
            if of.due_in_lb is not None
            else "check"
        )
        first, second = (
            "" if value is None else torque_text(value, of.label_unit) for value in (row.first, row.second)
        )
        wire = of.wire_text
        cells.append(
            [
                para(of.words),
                para(wire),
                para(due, FIGURE),
                para(first, FIGURE),
                para(second, FIGURE),
                para("yes" if row.marked else ""),
                para(one.wrong or ("" if one.done else "open"), STOP if one.wrong else SMALL),
            ]
        )
    widths = [0.6 * inch, 0.85 * inch, 0.85 * inch, 0.85 * inch, 0.55 * inch, 0.9 * inch]
    return ruled_table(cells, [WIDTH - sum(widths), *widths])


def _volts(plan: Plan) -> Flowable:
    head = heads("At", "Point", "Main", ">Leg to leg", ">A to N", ">B to N", ">N to ground", "Judged")
    cells = [head]
    for reading in plan.job.record.readings:
        found = judged(reading, supply=plan.job.dwelling.supply)
        main = "" if reading.main_open is None else "open" if reading.main_open else "on"
        figures = (reading.leg_to_leg, reading.a_to_neutral, reading.b_to_neutral, reading.neutral_to_ground)
        shown = [para("" if value is None else number_text(value, 1), FIGURE) for value in figures]
        words = f"{found.words}{' (simulated)' if reading.simulated else ''}"
        cells.append(
            [
                para(moment_words(reading.at)),
                para(POINT_WORDS[reading.point]),
                para(main),
                *shown,
                para(words, TEXT if found.good else STOP),
            ]
        )
    if len(cells) == 1:
        return para("None measured yet.", SMALL)
    widths = [1.0 * inch, 1.25 * inch, 0.45 * inch, 0.65 * inch, 0.55 * inch, 0.55 * inch, 0.75 * inch]
    return ruled_table(cells, [*widths, WIDTH - sum(widths)])


def _circuits(plan: Plan) -> Flowable:
    cells = [heads("Panel", "Space", "Breaker", "Feeds", "Protection", "State", "Checked", "Open")]
    rows = {one.key: one for one in plan.circuits.ledger}
    for one in sequence(plan.changeover):
        done = "; ".join(check.words for check in one.checks if check not in one.left)
        left = "; ".join(check.words for check in one.left)
        state = f"left off: {one.state.why}" if one.state.state == "off" else one.state.state or "not yet"
        feeds = para(one.branch.feeds or "unknown", STRONG)
        breaker = para(one.branch.rating_text)
        cells.append(
            [
                para(one.panel),
                para(one.space),
                breaker,
                feeds,
                para(_protection(rows.get(one.branch.key), one), SMALL),
                para(state),
                para(done, SMALL),
                para(left, SMALL),
            ]
        )
    widths = [0.8 * inch, 0.45 * inch, 0.5 * inch, 1.5 * inch, 1.2 * inch, 0.7 * inch]
    rest = (WIDTH - sum(widths)) / 2
    return ruled_table(cells, [*widths, rest, rest])


def _protection(row: LedgerRow | None, one: Energized) -> str:
    """What protects it, and whether that was tried: "ground-fault 2-pole, tested"."""
    if row is None or row.planned == "none":
        return ""
    return f"{row.planned}, {'tested' if one.tested == 'yes' else 'NOT TESTED'}"


def _missing(plan: Plan) -> list[str]:
    """What keeps it from being handed over: the heading, and holds that are not passed."""
    lacking = missing_heading(plan)
    open_ = [
        Lack(f"the hold {hold.words.lower()}", f"hold:{hold.id}") for hold in holds(plan.changeover) if not hold.passed
    ]
    return [*lacking, *open_]


SHEET = Sheet(6, "record", TITLE, _missing, story, ("file",))
