"""What is wrong or unknown on the day itself: found as soon as the day is dated or its record begun, not before."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.changeover.demands import faults_of_people
from robust_ledger.changeover.energize import sequence
from robust_ledger.changeover.holds import holds
from robust_ledger.changeover.room import DayTasks
from robust_ledger.changeover.torque import tool_fault
from robust_ledger.changeover.volts import POINT_WORDS, judged_at
from robust_ledger.job.parts.record import ChangeoverRecord
from robust_ledger.ledger.entry import Finding, Severity
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place

STAGE = "changeover"


def day_findings(room: DayTasks) -> Iterator[Finding]:
    """Findings of the Changeover stage."""
    job = room.job
    if not job.day.date and job.record == ChangeoverRecord():
        return
    make = Findings("day", room.parts.codebook, STAGE)
    for fault in faults_of_people(job.day):
        yield make.make(
            "names",
            Severity.ASK,
            title="Who works is not entered",
            text=fault,
            remedy="Name both.",
            at=Place("day:names"),
        )
    if fault := tool_fault(job):
        yield make.make("tool", Severity.ASK, title="Torque tool", text=fault, remedy="Enter the date on its certificate, or take one in date.",
                        at=Place("record:torque.calibrated"), rules=("torque",))  # fmt: skip
    if job.record.holds:
        yield from _holds(room, make)
    if job.record.torque.rows:
        for row in room.torque:
            if row.wrong:
                yield make.about(Place(f"torque:{row.of.key}"), row.of.key, row.of.words).make(
                    "torque", Severity.FIX, title="is not tightened right", text=f"{row.wrong[:1].upper()}{row.wrong[1:]}.",
                    remedy="Loosen it and tighten it again to what is due.", rules=("torque",),
                )  # fmt: skip
    if job.record.circuits:
        for one in sequence(room):
            if one.state.state == "on" and one.keeps_off:
                yield make.about(Place(f"switched:{one.branch.key}"), str(one.branch.key), one.branch.name).make(
                    "on", Severity.FIX, title="is on too early", text=f"It stays off until this is done: {one.keeps_off.removeprefix('first ')}.",
                    remedy="Switch it off, check it, and put it right.",
                )  # fmt: skip
    for point, words in POINT_WORDS.items():
        if not any(one.point == point for one in job.record.readings):
            continue
        found = judged_at(job.record.readings, point)
        if found.severity is not None:
            yield make.about(Place(f"volts:{point}"), point, words.capitalize()).make(
                "volts", found.severity, title=f": {found.words[:1].lower()}{found.words[1:]}", text=f"{found.reason}.", remedy=found.do,
                kind=f"volts-{found.kind.replace(' ', '-')}",
            )  # fmt: skip


def _holds(room: DayTasks, make: Findings) -> Iterator[Finding]:
    for hold in holds(room):
        about = make.about(Place(f"hold:{hold.id}"), hold.id, f'Hold "{hold.words}"')
        if hold.state == "reopened":
            yield about.make("reopened", Severity.STOP, title="is open again", text=f"Since {hold.signed_by} signed it: {hold.why}.",
                             remedy="Go through it again and sign it.")  # fmt: skip
        elif hold.state == "overridden":
            left = "; ".join(one.words for one in hold.open_items[:3])
            yield about.make("overridden", Severity.FIX, title="was passed with open items",
                             text=f"By {hold.signed_by}: {hold.overridden}. Open: {left}.", remedy="Do what is open and sign it.")  # fmt: skip
