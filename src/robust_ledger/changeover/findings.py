"""What is wrong or unknown on the day itself: found as soon as the day is dated or its record begun, not before."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.changeover.demands import faults_of_people
from robust_ledger.changeover.energize import sequence
from robust_ledger.changeover.holds import holds
from robust_ledger.changeover.room import DayTasks
from robust_ledger.changeover.torque import tool_fault
from robust_ledger.changeover.volts import POINT_WORDS, judged_at
from robust_ledger.findings import Findings
from robust_ledger.job.parts.record import ChangeoverRecord
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.place import Place

STAGE = "changeover"


def day_findings(room: DayTasks) -> Iterator[Finding]:
    """Findings of the Changeover stage."""
    job = room.job
    if not job.day.date and job.record == ChangeoverRecord():
        return
    finder = Findings(room.parts.codebook, STAGE)
    for fault in faults_of_people(job.day):
        yield finder.find("day.names", at=Place("day:names"), why=fault)
    if fault := tool_fault(job):
        yield finder.find("day.tool", at=Place("record:torque.calibrated"), why=fault)
    if job.record.holds:
        yield from _holds(room, finder)
    yield from _recorded(room, finder)
    for point, words in POINT_WORDS.items():
        if not any(reading.point == point for reading in job.record.readings):
            continue
        found = judged_at(job.record.readings, point, supply=job.dwelling.supply)
        if found.severity is not None:
            yield finder.about(Place(f"volts:{point}"), point, words.capitalize()).find(
                "day.volts",
                severity=found.severity,
                kind=f"volts-{found.kind.replace(' ', '-')}",
                words=found.words,
                reason=found.reason,
                do=found.do,
            )


def _recorded(room: DayTasks, finder: Findings) -> Iterator[Finding]:
    """Screws tightened wrong, and circuits that are on too early."""
    job = room.job
    if job.record.torque.rows:
        for row in room.torque:
            if row.wrong:
                yield finder.about(Place(f"torque:{row.of.key}"), row.of.key, row.of.words).find(
                    "day.torque", wrong=row.wrong
                )
    if job.record.circuits:
        for one in sequence(room):
            if one.state.state == "on" and one.first:
                yield finder.about(Place(f"switched:{one.branch.key}"), str(one.branch.key), one.branch.name).find(
                    "day.on", first=", ".join(one.first)
                )


def _holds(room: DayTasks, finder: Findings) -> Iterator[Finding]:
    for hold in holds(room):
        about = finder.about(Place(f"hold:{hold.id}"), hold.id, f'Hold "{hold.words}"')
        if hold.state == "reopened":
            yield about.find("day.reopened", signed_by=hold.signed_by, why=hold.why)
        elif hold.state == "overridden":
            left = "; ".join(one.words for one in hold.open_items[:3])
            yield about.find("day.overridden", signed_by=hold.signed_by, overridden=hold.overridden, left=left)
