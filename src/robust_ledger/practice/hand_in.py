"""The course of an exercise: begun, its time, the call of its customer, handed in."""

from __future__ import annotations

from datetime import datetime, timedelta

from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.practice.codes import Code
from robust_ledger.practice.exercise import CALLS_MIN, Exercise, panel_of
from robust_ledger.practice.score import code_of


def panel_for(job: Job) -> Exercise:
    """The panel that a job is of. Raises PracticeError."""
    return panel_of(code_of(job))


def begun(code: Code, at: datetime) -> Job:
    """The job to begin with, its clock running."""
    return with_part(panel_of(code).start, "practice", started=at.isoformat(timespec="seconds"))


def handed_in(job: Job, at: datetime) -> Job:
    """The job handed in, at the latest when its time is up. Raises PracticeError."""
    left = left_s(job, at)
    at = at if left is None or left >= 0 else at + timedelta(seconds=left)
    return with_part(job, "practice", handed_in=at.isoformat(timespec="seconds"))


def passed_s(job: Job, at: datetime) -> float:
    """Seconds from the beginning to a moment, or to the hand-in; 0 where the beginning is not known."""
    try:
        end = datetime.fromisoformat(job.practice.handed_in) if job.practice.handed_in else at
        return max(0.0, (end - datetime.fromisoformat(job.practice.started)).total_seconds())
    except (ValueError, TypeError):
        return 0.0


def left_s(job: Job, at: datetime) -> float | None:
    """Seconds left on the clock, below zero once it is over; None without a clock. Raises PracticeError."""
    clock_min = panel_for(job).clock_min
    return clock_min * 60 - passed_s(job, at) if clock_min and job.practice.started else None


def is_called(job: Job, at: datetime) -> bool:
    """Whether the customer has called by now: some minutes after the beginning; at once where it is not known when that was. Raises
    PracticeError."""
    if not panel_for(job).call:
        return False
    return bool(job.practice.handed_in) or not job.practice.started or passed_s(job, at) >= CALLS_MIN * 60
