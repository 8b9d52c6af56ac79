"""All entries and findings of the walk-through that the job's scope asks about."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.job.parts.heading import Scope
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.survey.defects import defect_entries, defect_findings
from robust_ledger.survey.fit import fit_entries, fit_findings, known_fit
from robust_ledger.survey.grounding import earth_entries, earth_findings
from robust_ledger.survey.location import location_findings
from robust_ledger.survey.odd import odd_findings
from robust_ledger.survey.overhead import overhead_entries, overhead_findings
from robust_ledger.survey.scope import asked


def walkthrough_entries(job: Job, ungrounded: Entry, codebook: Codebook) -> list[Entry]:
    """Earth, fit and overhead where the scope asks about them, and the defects."""
    topics = asked(job)
    made = earth_entries(job, ungrounded, codebook) if "earth" in topics else []
    made += fit_entries(job, codebook) if "fit" in topics else []
    made += overhead_entries(job, codebook) if "overhead" in topics else []
    return made + defect_entries(job)


def walkthrough_findings(job: Job, entries: Mapping[str, Entry], codebook: Codebook) -> Iterator[Finding]:
    """Topic by topic. As long as the scope is not said, only what was entered is judged: a blank job asks nothing."""
    topics = asked(job)
    yield from odd_findings(job, codebook)
    if "earth" in topics and job.scope is not Scope.UNSAID:
        yield from earth_findings(job, entries, codebook)
    if "fit" in topics and known_fit(job.fit):
        yield from fit_findings(job, entries, codebook)
    if "overhead" in topics:
        yield from overhead_findings(job, entries, codebook)
    yield from location_findings(job, codebook)
    yield from defect_findings(job, codebook)
