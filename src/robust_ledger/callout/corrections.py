"""Lines about circuits that are there: "same", "tag 7 15 14 den", "tag 7 is ten gauge", "no, thirty"."""

from __future__ import annotations

import re

from msgspec.structs import replace

from robust_ledger.branch.old_panel import first_free_position
from robust_ledger.callout.circuit import Reading, read_callout, read_change
from robust_ledger.callout.spoken import Fault, Spoken
from robust_ledger.callout.text import callout_text
from robust_ledger.callout.writing import corrected, of_reading
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job

STAGE = "pulloff"
_TAG = re.compile(r"\s*(as\s+)?tag\s+(\d{1,9})(?!\d)\s*:?\s*(.*)", re.I | re.S)
_IS = re.compile(r"(?:is|'s|has|gets|goes)\s+(.*)", re.I | re.S)
_NO = re.compile(r"\s*(?:no|nope|sorry|correction|make that|i mean)[,\s]+(.+)", re.I | re.S)
_NOT = re.compile(r"\s*no\s+(?:ground|idea|clue|breaker|wire|label)\b", re.I)


def read_correction(line: str, job: Job, codebook: Codebook, last: int | None) -> Spoken | None:
    """Read a line as being about a circuit that is there; None where it is about another matter. `last`: tag of the one that was said
    last."""
    if line.strip().lower() == "same":
        if not job.circuits:
            return _refused(line, "There is no circuit yet to repeat.")
        return _whole(read_callout(same_as_last(job), job, codebook), line)
    if match := _TAG.fullmatch(line):
        return _of_tag(line, match, job, codebook)
    if (match := _NO.fullmatch(line)) and not _NOT.match(line) and last is not None and job.circuit(last) is not None:
        return _changed(match[1], line, job, codebook, last)
    return None


def _of_tag(line: str, match: re.Match[str], job: Job, codebook: Codebook) -> Spoken:
    new, tag, rest = bool(match[1]), int(match[2]), match[3]
    if not new and job.circuit(tag) is None:
        return _refused(line, f"There is no tag {tag} to change.")
    if not rest.strip():
        return Spoken(STAGE, (f"tag {tag}",), wanted=("what changes",))
    if says := _IS.fullmatch(rest):
        return _changed(says[1], line, job, codebook, tag)
    reading = read_callout(rest, job, codebook, tag)
    if new or reading.complete:
        return _whole(reading, line)
    changed = _changed(rest, line, job, codebook, tag)
    return _whole(reading, line) if changed.fault is not None and reading.fault is not None else changed


def _whole(reading: Reading, line: str) -> Spoken:
    """A circuit from a whole line that names its tag: the terse way is meant, and no other reading offered."""
    return replace(of_reading(reading, line), rival=None)


def _refused(line: str, text: str) -> Spoken:
    return Spoken(STAGE, fault=Fault(text, 0, len(line)))


def _changed(rest: str, line: str, job: Job, codebook: Codebook, tag: int) -> Spoken:
    """What is said anew of a circuit; only that changes."""
    reading = read_change(rest, job, codebook, tag)
    if reading.fault is not None or not reading.said:
        fault = reading.fault or Fault("Nothing of this is understood.", 0, len(line))
        return Spoken(STAGE, reading.understood, fault=replace(fault, start=0, end=len(line)))
    return Spoken(
        STAGE,
        (f"tag {tag} changes", *reading.understood),
        lambda job: corrected(job, tag, reading.said),
        f"change tag {tag}",
        asks=reading.asks,
        place=f"circuit:{tag}",
        facts=reading.said,
    )


def same_as_last(job: Job) -> str:
    """The line that repeats the last circuit for the next free space."""
    last = job.circuits[-1]
    spare = {"spaces": (first_free_position(job),), "shares_neutral_with": None, "clamp_a": None, "load_ids": ()}
    return callout_text(replace(last, **spare))
