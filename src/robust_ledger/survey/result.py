"""What the walk-through answers with: all that the job's scope asks about, the links of the service, the defects."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.ledger.room import Room, by_id
from robust_ledger.service.result import ServiceResult
from robust_ledger.survey.chain import Link, chain_findings, links, summary, weakest
from robust_ledger.survey.defects import DefectMinutes, Judged, defect_findings, defect_minutes, judged
from robust_ledger.survey.fit import FitFigures, fit_figures, fit_findings
from robust_ledger.survey.grounding import GroundingFigures, grounding_figures
from robust_ledger.survey.grounding_findings import grounding_findings
from robust_ledger.survey.location import location_findings
from robust_ledger.survey.odd import odd_findings
from robust_ledger.survey.overhead import OverheadFigures, overhead_figures, overhead_findings
from robust_ledger.survey.scope import asked
from robust_ledger.survey.unasked import unasked_findings


class WalkResult(Room, Struct, frozen=True, dict=True):
    """The walk-through around a service."""

    job: Job
    codebook: Codebook
    service: ServiceResult
    withheld: str = ""  # why no link is judged; "" where they are
    lazy = ("chain.",)

    @property
    def asked(self) -> tuple[str, ...]:
        """The topics that the job's scope asks about."""
        return asked(self.job)

    @cached_property
    def grounding(self) -> GroundingFigures | None:
        """Electrodes, their conductors and the bonds of the piping; None where the scope does not ask about them."""
        job, hot = self.job, self.service.conductors
        return grounding_figures(job, hot, self.codebook) if "grounding" in self.asked else None

    @cached_property
    def fit(self) -> FitFigures | None:
        """Where the new enclosure may hang; None where the scope does not ask."""
        return fit_figures(self.job, self.codebook) if "fit" in self.asked else None

    @cached_property
    def overhead(self) -> OverheadFigures | None:
        """The clearances of the drop; None where the scope does not ask."""
        return overhead_figures(self.job, self.codebook) if "overhead" in self.asked else None

    @cached_property
    def defect_minutes(self) -> DefectMinutes:
        """What the defects take."""
        return defect_minutes(self.job)

    @cached_property
    def entries(self) -> dict[str, Entry]:  # type: ignore[override]
        """Grounding, fit and overhead where the scope asks about them, and the defects."""
        minutes = self.defect_minutes
        return by_id(
            *(
                entry
                for part in (self.grounding, self.fit, self.overhead)
                if part is not None
                for entry in part.entries()
            ),
            *(minutes.touch, minutes.scope, minutes.ours),
        )

    @property
    def rods_added(self) -> Entry | None:
        """Ground rods to drive; None where the scope does not ask about grounding."""
        return self.grounding.rods_added if self.grounding is not None else None

    @cached_property
    def chain(self) -> tuple[Link, ...]:
        """The links of the service, from the utility's conductors to the bus."""
        made = self.service
        found = links(self.job, made.alternatives, made.load, made.figures, self.codebook)
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
        return self.fit.bottom.amount if self.fit is not None and self.fit.bottom.known else None

    def families(self) -> Iterator[Entry]:
        """The limit of each link, and what is planned for it."""
        return (entry for link in self.chain for entry in (link.limit, link.planned))

    def findings(self) -> Iterator[Finding]:
        """Topic by topic. As long as the scope is not said, only what was entered is judged: a blank job asks nothing."""
        job, codebook = self.job, self.codebook
        yield from odd_findings(job, codebook)
        if self.grounding is not None and job.scope.said:
            yield from grounding_findings(job, self.grounding, codebook)
        if self.fit is not None:
            yield from fit_findings(job, self.fit, codebook)
        yield from unasked_findings(job, self.fit, codebook)
        if self.overhead is not None:
            yield from overhead_findings(job, self.overhead, codebook)
        yield from location_findings(job, codebook)
        yield from defect_findings(job, codebook)

    def chain_findings(self) -> Iterator[Finding]:
        """Links that stay and are too small."""
        made = self.service
        return chain_findings(self.job, made.main, made.load, made.conductors, made.neutral, self.codebook)


def walk_result(job: Job, service: ServiceResult, codebook: Codebook, withheld: str = "") -> WalkResult:
    """The walk-through of a job whose service is worked out."""
    return WalkResult(job, codebook, service, withheld)
