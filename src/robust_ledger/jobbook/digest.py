"""What the job book knows of a job: who and where, how it stands, what is open, what it cost in hours, and the words it is found by."""

from __future__ import annotations

import os
from collections.abc import Iterator
from datetime import date
from pathlib import Path

from msgspec import Struct

from robust_ledger.changeover.clock import now
from robust_ledger.changeover.live import clock_of, durations, happened
from robust_ledger.changeover.recorded import is_over
from robust_ledger.changeover.room import DayTasks
from robust_ledger.job.files import SUFFIX, JobFileError, read_job
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Severity
from robust_ledger.plan import Plan, plan
from robust_ledger.survey.defects import catalogue

INSPECTIONS = ("inspection", "inspection_first")
COLUMNS = ("who", "equipment", "findings", "circuits", "dates", "other")  # what is searched, the most telling first
MOST_LETTERS = 20_000  # of a column


class Digest(Struct, frozen=True):
    """A job as the book has it. `stamp`: time of change [ns] and size of its file; `words`: by the columns that are searched; `hours`: hours of
    work of our own people, None without a record; `defects`: kinds found; `minutes`: minutes each time by the task."""

    path: str
    stamp: tuple[int, int]
    title: str
    stands: str
    address: str = ""
    customer: str = ""
    day: str = ""
    stop: int = 0
    fix: int = 0
    hours: float | None = None
    words: tuple[str, ...] = ("",) * len(COLUMNS)
    defects: tuple[str, ...] = ()
    minutes: tuple[tuple[str, float], ...] = ()
    fault: str = ""


def stamp_of(path: str | Path) -> tuple[int, int] | None:
    """Time of change and size of a file; None when it cannot be looked at."""
    try:
        status = os.stat(path)
    except (OSError, ValueError):
        return None
    return status.st_mtime_ns, status.st_size


def digest_file(path: str) -> Digest:
    """A job's file as the book has it; one that cannot be read is in it too, with the sentence that says why."""
    stamp = stamp_of(path) or (0, 0)
    name = Path(path).name
    try:
        job = read_job(Path(path))
        return digest_of(job, path, stamp)
    except JobFileError as problem:
        fault = str(problem)
    except (
        ArithmeticError,
        ValueError,
        LookupError,
        TypeError,
        AttributeError,
        RecursionError,
        MemoryError,
    ) as problem:
        fault = f"{name} could not be worked out ({type(problem).__name__})."
    return Digest(path, stamp, name.removesuffix(SUFFIX), "damaged", words=(name, "", "", "", "", ""), fault=fault)


def digest_of(job: Job, path: str, stamp: tuple[int, int]) -> Digest:
    """A job as the book has it."""
    made = plan(job)
    room = made.changeover
    open_ = [finding for finding in made.findings if finding.open]
    heading = job.heading
    return Digest(
        path,
        stamp,
        heading.title or Path(path).name,
        stands(job, room),
        heading.address,
        heading.customer,
        job.day.date or heading.date,
        sum(one.severity is Severity.STOP for one in open_),
        sum(one.severity is Severity.FIX for one in open_),
        hours(room),
        tuple("\n".join(dict.fromkeys(part for part in parts if part))[:MOST_LETTERS] for parts in _columns(made)),
        tuple(dict.fromkeys(defect_words(defect.kind, defect.what) for defect in job.defects)),
        tuple(durations(room).items()),
    )


def stands(job: Job, room: DayTasks) -> str:
    """How a job stands: the user's own word, else by the record: inspected, done, in work, planned."""
    if job.heading.stands:
        return job.heading.stands
    record = job.record
    begun = record.events or record.readings or record.circuits or record.torque.rows or record.holds
    if not begun:
        return "planned"
    over = {one.task_id for one in happened(room, clock_of(job, now())) if one.end_min is not None}
    if over & set(INSPECTIONS) and (is_over(room) or "inspection" in over):
        return "inspected"
    ours = {task.id for task in room.tasks if task.who == "us"}
    return "done" if is_over(room) or (ours and ours <= over) else "in_work"


def hours(room: DayTasks) -> float | None:
    """Hours of work of our own people, as the record has them; None without one."""
    if not room.job.record.events:
        return None
    people = {task.id: task.people for task in room.tasks if task.who == "us"}
    begun = happened(room, clock_of(room.job, now()))
    spent = [
        (one.end_min - one.start_min) * people[one.task_id]
        for one in begun
        if one.end_min is not None and one.task_id in people
    ]
    return round(sum(spent) / 60, 2) if spent else None


def defect_words(kind: str, what: str) -> str:
    """A defect by its kind in the catalogue's words; one of the user's own by what it was called."""
    known = catalogue().get(kind)
    return known.what if known is not None else what.strip()


def date_words(text: str) -> str:
    """A date as somebody would look for it: "2026-12-08 Dec December 8 Tuesday"; any other text as it is."""
    try:
        day = date.fromisoformat(text.strip())
    except ValueError:
        return text
    return f"{text} {day:%b} {day:%B} {day.day} {day:%A} {day.year}"


def _columns(made: Plan) -> Iterator[list[str]]:
    """The words of each column."""
    job = made.job
    heading = job.heading
    yield [
        heading.title,
        heading.customer,
        heading.address,
        heading.permit,
        heading.ahj,
        heading.company,
        job.utility.name,
    ]
    yield [
        *(box.marks for _mark, box in job.all_boxes),
        job.panel.families,
        *(caution.mark for caution in job.cautions),
    ]
    yield [
        *(finding.title for finding in made.findings if finding.open),
        *(f"{defect.what} {defect.where}" for defect in job.defects),
    ]
    yield [*(f"{circuit.feeds} {circuit.note}" for circuit in job.circuits), *(load.name for load in job.loads)]
    yield [date_words(job.day.date), date_words(heading.date)]
    yield [
        heading.notes,
        *(panel.name for panel in job.panels),
        *job.day.names,
        *(f"{event.task} {event.note}" for event in job.record.events if event.note),
    ]
