"""What a learner has found, missed and invented of the faults of a practice panel."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

from robust_ledger.job.job import Job
from robust_ledger.job.parts.practice import Named
from robust_ledger.ledger.entry import Finding, Severity
from robust_ledger.plan import Plan
from robust_ledger.practice.exercise import Exercise, Planted
from robust_ledger.practice.faults import FaultKind, at_spaces, fault_kinds, judged_name

Key = tuple[str, str]  # a judged finding's name, and a space; the space is empty for what is of the house


class Verdict(Struct, frozen=True):
    """A fault with what became of it: where, which, why it is one by which section, what could have happened, and where it is seen. `named`:
    the learner has said it, not only called out what it follows from."""

    spaces: tuple[str, ...]
    words: str
    why: str
    sections: str = ""
    harm: str = ""
    seen: str = ""
    named: bool = False

    @property
    def where(self) -> str:
        """Its spaces in words."""
        return at_spaces(self.spaces)


class Judged(Struct, frozen=True):
    """The verdicts on a hand-in."""

    found: tuple[Verdict, ...]
    missed: tuple[Verdict, ...]
    invented: tuple[Verdict, ...]


def judged(job: Job, made: Exercise, theirs: Plan, truth: Plan, further: Sequence[Named] = ()) -> Judged:
    """Every fault of the panel against what the learner names, in the job or beside it, and what the plan of the hand-in finds."""
    names = {(one.kind, one.space): one for one in (*job.practice.named, *further)}
    seen, true = findings_at(job, theirs.findings), {one.id: one for one in truth.findings}
    found: list[Verdict] = []
    missed: list[Verdict] = []
    claimed: set[Key] = set()
    for one in made.planted:
        kind = fault_kinds()[one.kind]
        claimed |= _keys(one, kind.finding) | _keys(one, kind.also)
        said = [key for key in names if _says(*key, one, kind.finding)]
        beside = [key for key in names if _says(*key, one, kind.also)]  # what comes along with it is there as well
        for key in (*said, *beside):
            del names[key]
        is_read = bool(_keys(one, kind.finding) & seen.keys())
        verdict = _verdict(one.spaces, kind, true[one.finding_id], bool(said) or (kind.marked and is_read))
        (found if said or is_read else missed).append(verdict)
    invented = [_invented(*key) for key in names]
    taken = {(fault_kinds()[kind].finding, space) for kind, space in names if kind in fault_kinds()}
    counted: set[int] = set()
    for place, finding in sorted(seen.items()):
        if place not in claimed and place not in taken and id(finding) not in counted:
            counted.add(id(finding))
            invented.append(Verdict((place[1],) if place[1] else (), finding.title, "It is not there."))
    return Judged(tuple(found), tuple(missed), tuple(invented))


def _keys(one: Planted, finding: str) -> set[Key]:
    return {(finding, space) for space in one.spaces or ("",)} if finding else set()


def _says(kind: str, space: str, one: Planted, finding: str) -> bool:
    """Whether a fault that somebody names is one that makes a finding where a planted one is: two kinds may make the same."""
    known = fault_kinds().get(kind)
    if known is None or not finding or known.finding != finding:
        return False
    return not one.spaces or space in one.spaces or _whole(space, one)


def _whole(space: str, one: Planted) -> bool:
    """Whether somebody says "5" of what is at 5a and 5b."""
    return bool(space) and any(space == other.rstrip("ab") for other in one.spaces)


def _invented(kind: str, space: str) -> Verdict:
    known = fault_kinds().get(kind)
    return Verdict((space,) if space else (), known.words if known else kind, "It is not there.")


def findings_at(job: Job, findings: Sequence[Finding]) -> dict[Key, Finding]:
    """The judged findings by their name and each space of their circuit. Of the house's those that are only asked about do not count: nobody
    has looked yet."""
    by_tag = {one.tag: one for one in job.circuits}
    made: dict[Key, Finding] = {}
    for finding in findings:
        name = judged_name(finding.id)
        if not name:
            continue
        subject = finding.id.rpartition(":tag:")[2]
        circuit = by_tag.get(int(subject)) if ":tag:" in finding.id and subject.isdigit() else None
        if circuit is not None:
            made |= {(name, space): finding for space in circuit.spaces}
        elif finding.severity is not Severity.ASK:
            made[(name, "")] = finding
    return made


def _verdict(spaces: tuple[str, ...], kind: FaultKind, finding: Finding, is_named: bool) -> Verdict:
    sections = ", ".join(str(cite) for cite in finding.cites)
    return Verdict(spaces, kind.words, finding.text, sections, kind.harm, kind.seen, is_named)
