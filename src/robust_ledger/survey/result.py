"""What the walk-through answers with: all that the job's scope asks about, the links of the service, the defects."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import cached_property

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.ledger.room import Room, by_id
from robust_ledger.service.result import ServiceResult
from robust_ledger.survey.chain import Link, chain_findings, links, summary, weakest
from robust_ledger.survey.defects import Judged, defect_entries, defect_findings, judged
from robust_ledger.survey.fit import fit_entries, fit_findings
from robust_ledger.survey.grounding import grounding_entries
from robust_ledger.survey.grounding_findings import grounding_findings
from robust_ledger.survey.location import location_findings
from robust_ledger.survey.odd import odd_findings
from robust_ledger.survey.overhead import overhead_entries, overhead_findings
from robust_ledger.survey.scope import asked


def _entries(job: Job, ungrounded: Entry, codebook: Codebook) -> list[Entry]:
    """Grounding, fit and overhead where the scope asks about them, and the defects."""
    topics = asked(job)
    made = grounding_entries(job, ungrounded, codebook) if "grounding" in topics else []
    made += fit_entries(job, codebook) if "fit" in topics else []
    made += overhead_entries(job, codebook) if "overhead" in topics else []
    return made + defect_entries(job)


def _findings(job: Job, entries: Mapping[str, Entry], codebook: Codebook) -> Iterator[Finding]:
    """Topic by topic. As long as the scope is not said, only what was entered is judged: a blank job asks nothing."""
    topics = asked(job)
    yield from odd_findings(job, codebook)
    if "grounding" in topics and job.scope.said:
        yield from grounding_findings(job, entries, codebook)
    if "fit" in topics:
        yield from fit_findings(job, entries, codebook)
    if "overhead" in topics:
        yield from overhead_findings(job, entries, codebook)
    yield from location_findings(job, codebook)
    yield from defect_findings(job, codebook)


class WalkResult(Room, Struct, frozen=True, dict=True):
    """The walk-through around a service."""

    job: Job
    codebook: Codebook
    service: ServiceResult
    entries: dict[str, Entry]
    withheld: str = ""  # why no link is judged; "" where they are
    lazy = ("chain.",)

    @property
    def asked(self) -> tuple[str, ...]:
        """The topics that the job's scope asks about."""
        return asked(self.job)

    @cached_property
    def chain(self) -> tuple[Link, ...]:
        """The links of the service, from the utility's conductors to the bus."""
        made = self.service
        found = links(self.job, made.alternatives, made.main, made.load, made.entries, self.codebook)
        return tuple(replace(link, verdict=self.withheld, fails=False) for link in found) if self.withheld else found

    @cached_property
    def chain_words(self) -> str:
        """What the links say together, in a sentence or two."""
        if self.withheld:
            return f"Which link holds and which does not is {self.withheld}."
        return summary(self.chain, self.service.main)

    def weakest(self) -> tuple[float, str] | None:
        """The lowest limit [A] among the links that stay and are known, and its name."""
        return weakest(self.chain)

    @cached_property
    def defects(self) -> tuple[Judged, ...]:
        """The inherited defects by both practices."""
        return judged(self.job)

    @property
    def bottom_in(self) -> float | None:
        """Height of the new enclosure's bottom above the floor [in]; None where it is not known."""
        bottom = self.entries.get("fit.bottom")
        return bottom.amount if bottom is not None and bottom.known else None

    def families(self) -> Iterator[Entry]:
        return (entry for link in self.chain for entry in (link.limit, link.planned))

    def findings(self) -> Iterator[Finding]:
        return _findings(self.job, self.entries, self.codebook)

    def chain_findings(self) -> Iterator[Finding]:
        """Links that stay and are too small."""
        made = self.service
        return chain_findings(self.job, made.main, made.load, made.conductors, made.neutral, self.codebook)


def walk_result(job: Job, service: ServiceResult, codebook: Codebook, withheld: str = "") -> WalkResult:
    """The walk-through of a job whose service is worked out."""
    return WalkResult(job, codebook, service, by_id(*_entries(job, service.conductors, codebook)), withheld)
