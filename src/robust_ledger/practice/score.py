"""What a learner has found, missed and invented, each explained; and how truly the breakers and wires were read."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from msgspec import Struct

from robust_ledger.job.files import SUFFIX, JobFileError, read_job
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.ledger.entry import Finding
from robust_ledger.plan import plan
from robust_ledger.practice.codes import Code, PracticeError, read_code
from robust_ledger.practice.exercise import Exercise, exercise
from robust_ledger.practice.faults import FaultKind, fault_kinds, watched

FAULT_POINTS, READING_POINTS = 70, 30
INVENTED_POINTS = 5  # each fault that is not there costs so many
READ = ("breaker_a", "poles", "gauge", "metal")


class Verdict(Struct, frozen=True):
    """A fault with what became of it: where, which, why it is one by which section, and what could have happened."""

    spaces: tuple[str, ...]
    words: str
    why: str
    sections: str
    harm: str
    seen: str


class Misread(Struct, frozen=True):
    """A circuit that was called out otherwise than it is, or not at all."""

    spaces: tuple[str, ...]
    words: str


class Score(Struct, frozen=True):
    """Points of a hundred: seventy for the faults, five of them off for each invented one, thirty for reading."""

    code: str
    points: int
    found: tuple[Verdict, ...]
    missed: tuple[Verdict, ...]
    invented: tuple[Verdict, ...]
    misread: tuple[Misread, ...]
    circuits: int


def code_of(job: Job) -> Code:
    """The code of the panel that a job was practiced on, from its title. Raises PracticeError."""
    head, _, code = job.heading.title.partition(" ")
    if head != "Practice" or not code:
        raise PracticeError("The job is of no practice panel: its title has no code.")
    return read_code(code)


def scored(job: Job, made: Exercise | None = None) -> Score:
    """The score of a hand-in. Raises PracticeError."""
    made = made or exercise(code_of(job))
    theirs = _found(job)
    truth = {one.id: one for one in plan(made.truth).findings}
    found: list[Verdict] = []
    missed: list[Verdict] = []
    claimed: set[tuple[str, str]] = set()
    for one in made.planted:
        kind = fault_kinds()[one.kind]
        keys = {(kind.finding, space) for space in one.spaces}
        hit = keys & theirs.keys()
        claimed |= keys | {(kind.also, space) for space in one.spaces}
        (found if hit else missed).append(_verdict(one.spaces, kind, truth[one.finding_id]))
    invented = [
        _verdict_of(finding)
        for key, finding in sorted(theirs.items())
        if key not in claimed and _is_first(key, finding, theirs)
    ]
    misread = _misread(job, made)
    count = len(made.truth.circuits)
    faults = max(0.0, FAULT_POINTS * len(found) / len(made.planted) - INVENTED_POINTS * len(invented))
    points = faults + READING_POINTS * (count - len(misread)) / count
    return Score(str(made.code), round(points), tuple(found), tuple(missed), tuple(invented), tuple(misread), count)


def _found(job: Job) -> dict[tuple[str, str], Finding]:
    """The judged findings of a job, by their kind and each space of their circuit."""
    by_tag = {one.tag: one for one in job.circuits}
    made: dict[tuple[str, str], Finding] = {}
    for finding in plan(job).findings:
        name, _, subject = finding.id.partition(":tag:")
        circuit = by_tag.get(int(subject)) if subject.isdigit() else None
        if name in watched() and circuit is not None:
            made |= {(name, space): finding for space in circuit.spaces}
    return made


def _is_first(key: tuple[str, str], finding: Finding, theirs: dict[tuple[str, str], Finding]) -> bool:
    """A fault at two spaces is one."""
    return key == min(other for other, one in theirs.items() if one is finding)


def _verdict(spaces: tuple[str, ...], kind: FaultKind, finding: Finding) -> Verdict:
    sections = ", ".join(str(cite) for cite in finding.cites)
    return Verdict(spaces, kind.words, finding.text, sections, kind.harm, kind.seen)


def _verdict_of(finding: Finding) -> Verdict:
    return Verdict((), finding.title, "It is not there.", "", "", "")


def _misread(job: Job, made: Exercise) -> list[Misread]:
    """Circuits that were not called out, or with another handle or wire, and those that are not there."""
    theirs = {space: one for one in job.circuits for space in one.spaces}
    wrong = []
    for true in made.truth.circuits:
        read = theirs.get(true.spaces[0])
        if read is None:
            wrong.append(Misread(true.spaces, "not called out"))
        elif words := _differs(true, read):
            wrong.append(Misread(true.spaces, words))
    return wrong


def _differs(true: Circuit, read: Circuit) -> str:
    parts = [f"{name.removesuffix('_a')} {_text(getattr(read, name))}, it is {_text(getattr(true, name))}" for name in READ
             if getattr(read, name) != getattr(true, name)]  # fmt: skip
    if read.spaces != true.spaces:
        parts.append(f"spaces {' and '.join(read.spaces)}, they are {' and '.join(true.spaces)}")
    return "; ".join(parts)


def _text(value: object) -> str:
    return f"{value:g}" if isinstance(value, float) else "not read" if value is None else str(value)


def score_lines(score: Score) -> list[str]:
    """The score in words, a line each."""
    lines = [f"Practice {score.code}: {score.points} of 100"]
    for head, verdicts in (("Found", score.found), ("MISSED", score.missed), ("Invented", score.invented)):
        lines += [f"{head}: {len(verdicts)}"] if verdicts else []
        for one in verdicts:
            where = f"space {' and '.join(one.spaces)}: " if one.spaces else ""
            lines.append(f"  {where}{one.words}. {one.why}" + (f" [{one.sections}]" if one.sections else ""))
            lines += [f"    to be seen: {one.seen}.", f"    {one.harm}"] if one.harm else []
    lines.append(f"Read truly: {score.circuits - len(score.misread)} of {score.circuits} circuits")
    lines += [f"  space {' and '.join(one.spaces)}: {one.words}" for one in score.misread]
    return lines


RESULT_COLUMNS = ("file", "code", "points", "found", "missed", "invented", "misread", "why not")


def result_rows(folder: Path) -> Iterator[list[str]]:
    """A row for each job in a folder, for the instructor: its points, or why it has none."""
    for path in sorted(folder.glob(f"*{SUFFIX}")):
        try:
            score = scored(read_job(path))
        except (PracticeError, JobFileError) as problem:
            yield [path.name, "", "", "", "", "", "", str(problem)]
            continue
        counts = (score.points, *(len(one) for one in (score.found, score.missed, score.invented, score.misread)))
        yield [path.name, score.code, *map(str, counts), ""]
