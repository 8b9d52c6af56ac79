"""Naming a fault: "5 doubled", "two wires under one screw at 5", "gec small"."""

from __future__ import annotations

from robust_ledger.job.job import Job
from robust_ledger.job.parts.practice import MOST_NAMED, Named
from robust_ledger.job.spaces import parse_old
from robust_ledger.practice.codes import PracticeError
from robust_ledger.practice.faults import FaultKind, at_spaces, fault_kinds


def read_named(text: str) -> Named:
    """A fault as somebody writes it: its kind by its words or its key, before or behind them the space it is at. Raises PracticeError."""
    words = text.strip().lower().replace("_", " ").replace(":", " ").split()
    if words[:1] == ["space"]:
        words.pop(0)
    space = next((words.pop(end) for end in (0, -1) if words and parse_old(words[end])), "")
    while words and words[-1] in ("at", "space"):
        words.pop()
    said = " ".join(words).rstrip(",")
    kind = next((one for one in fault_kinds().values() if said in (one.key.replace("_", " "), one.words.lower())), None)
    if kind is None:
        known = ", ".join(key.replace("_", " ") for key in fault_kinds())
        raise PracticeError(f'"{text.strip()[:60]}" names no fault; there are: {known}.')
    return checked(kind, space)


def checked(kind: FaultKind, space: str) -> Named:
    """A fault of a kind at a space. Raises PracticeError where it lacks the one it is at, or has one though it is of the house."""
    if kind.at == "space" and not parse_old(space):
        raise PracticeError(f"At which space? {kind.words[:1].upper()}{kind.words[1:]} is at a space of the panel.")
    return Named(kind=kind.key, space=space if kind.at == "space" else "")


def with_named(job: Job, named: Named) -> Job:
    """The job with a fault named; once is enough. Raises PracticeError when there are too many."""
    if named in job.practice.named:
        return job
    if len(job.practice.named) >= MOST_NAMED:
        raise PracticeError(f"{MOST_NAMED} faults are named already; no panel has so many.")
    return job.changed(practice=job.practice.changed(named=(*job.practice.named, named)))


def without_named(job: Job, gone: set[int]) -> Job:
    """The job without faults that were named, by their place in the list."""
    left = tuple(one for number, one in enumerate(job.practice.named) if number not in gone)
    return job.changed(practice=job.practice.changed(named=left))


def named_words(one: Named) -> str:
    """ "space 5: two wires under one screw"."""
    known = fault_kinds().get(one.kind)
    words = known.words if known else one.kind
    return at_spaces((one.space,) if one.space else ()) + words
