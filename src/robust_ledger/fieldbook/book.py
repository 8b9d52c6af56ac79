"""The field book: one HTML file for the phone in the pocket. It works without a network and gives back call-out lines."""

from __future__ import annotations

import hashlib
import json
from pathlib import Path
from typing import Any

from robust_ledger.changeover.clock import clock_text
from robust_ledger.changeover.demands import DayError
from robust_ledger.changeover.energize import sequence
from robust_ledger.changeover.holds import holds
from robust_ledger.job.doors import hand_out_text
from robust_ledger.job.readers.torque_units import UNIT_WORDS, in_unit, torque_text
from robust_ledger.job.tree import panel_name
from robust_ledger.ledger.entry import Entry
from robust_ledger.plan import Plan

# How a hold and a unit are said on the line, so that what comes back is understood.
SAID = {
    "dead": "proven dead",
    "line_side": "line side",
    "covered": "covered",
    "energize": "energize",
    "voltages": "voltages",
}
UNIT_SAID = {"in-lb": "inch pounds", "ft-lb": "foot pounds", "N·m": "newton meters"}
CAUTIONS = (
    "The line side of the main stays live until the utility has disconnected it.",
    "Prove the tester on a live source, test, prove it again. Two testers.",
    "What a high-impedance tester shows behind an open main is live until a low-impedance one says otherwise.",
    "Nothing is energized before the hold is passed: bond, antioxidant, torque, capped circuits, count, nothing left inside.",
    "Stand aside and face away when the main is switched on.",
    "Never upsize a breaker to stop a trip.",
    "No standing water; cover back on when one steps away.",
)
FIGURES = (
    "service.main",
    "load.neutral",
    "service.neutral",
    "service.neutral_pulled",
    "service.gec",
    "service.mbj",
    "panel.spaces_used",
    "panel.leg_a",
    "panel.leg_b",
)


def write_book(plan: Plan, path: Path) -> Path:
    """Write the field book. Raises OSError."""
    return hand_out_text(path, book_html(plan))


def book_html(plan: Plan) -> str:
    """The whole file as text: page, style and program, with the job's data in it."""
    page = Path(__file__).with_name("book.html").read_text(encoding="utf-8")
    data = json.dumps(book_data(plan), ensure_ascii=False, separators=(",", ":")).replace("<", "\\u003c")
    return page.replace("/*DATA*/", data)


def book_data(plan: Plan) -> dict[str, Any]:
    """What stands in it."""
    heading, unit = plan.job.heading, plan.job.record.torque.tool_unit
    title = f"{heading.title} {heading.address}"
    return {
        "title": heading.title,
        "address": heading.address,
        "key": hashlib.sha256(title.encode()).hexdigest()[:12],
        "unit": UNIT_WORDS[unit],
        "unit_said": UNIT_SAID[unit],
        **_day(plan),
        "holds": [
            {
                "id": hold.id,
                "said": SAID[hold.id],
                "words": hold.words,
                "items": [
                    {"n": n, "words": item.words, "reading": bool(item.reading), "auto": item.auto}
                    for n, item in enumerate(hold.items, 1)
                ],
            }
            for hold in holds(plan.changeover)
        ],
        "torque": [
            {
                "key": termination.key,
                "words": termination.words,
                "wire": termination.wire_text,
                "due": round(in_unit(termination.due_in_lb, unit), 4) if termination.due_in_lb is not None else None,
                "text": torque_text(termination.due_in_lb, unit) if termination.due_in_lb is not None else "by the label",
                "verify": termination.verify,
                "factory": termination.factory,
            }
            for termination in plan.changeover.terminations
        ],
        "circuits": [
            {
                "key": str(one.branch.key),
                "name": one.branch.name,
                "panel": one.panel,
                "space": one.space,
                "rating": one.branch.rating_text,
                "feeds": one.branch.feeds or "unknown",
                "checks": [{"key": check.key, "words": check.words} for check in one.checks],
            }
            for one in sequence(plan.changeover)
        ],
        "tags": [
            {"tag": one.tag, "feeds": one.text, "old": one.old, "new": one.new, "breaker": one.device, "wires": one.reach or one.origin,
             "panel": name}
            for panel_id, bench in plan.benches.items()
            for name in [panel_name(plan.job, panel_id)]
            for one in bench.changes
        ],
        "directory": [
            {
                "panel": panel_name(plan.job, panel_id),
                "rows": [{"space": slot.position, "text": slot.text, "rating": slot.rating} for slot in bench.schedule],
            }
            for panel_id, bench in plan.benches.items()
            if bench.schedule
        ],
        "working": [_working(entry) for name in (*FIGURES,) if (entry := plan.entry(name)) is not None]
        + [_working(plan.service.conductors), _working(plan.load.chosen.total)],
        "cautions": list(CAUTIONS),
    }  # fmt: skip


def _day(plan: Plan) -> dict[str, Any]:
    """Tasks with their times, in the order of the day; without times where the day cannot be planned."""
    try:
        made = plan.changeover.schedule()
    except DayError as problem:
        rows = [
            {
                "id": task.id,
                "words": task.words,
                "at": "",
                "min": task.usual_min,
                "hold": task.hold,
                "who": task.who,
                "phase": task.phase,
            }
            for task in plan.changeover.tasks
        ]
        return {"tasks": rows, "day": str(problem)}
    rows = [
        {
            "id": slot.task.id,
            "words": slot.task.words,
            "at": clock_text(slot.start_min),
            "min": slot.end_min - slot.start_min,
            "hold": slot.task.hold,
            "who": slot.who,
            "phase": slot.task.phase,
        }
        for slot in made.day.slots
    ]
    off, on = clock_text(made.day.off_min), clock_text(made.day.on_min)
    words = f"Dark {off} to {on}, {made.day.dark_min} min; back by {clock_text(made.likely_min)} on four days of five"
    return {"tasks": rows, "day": words}


def _working(entry: Entry) -> dict[str, Any]:
    return {
        "label": entry.label,
        "value": entry.text() if entry.known else f"not known: {entry.why_unknown}",
        "steps": [
            {"label": s.label, "value": s.text(), "how": s.how, "cites": ", ".join(map(str, s.cites))}
            for s in entry.steps
        ],
    }
