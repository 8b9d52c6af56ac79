"""The code edition a job is under, with what its jurisdiction has changed laid over it."""

from __future__ import annotations

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.local import Amendment, amended_codebook
from robust_ledger.job.job import Job


def amendments_of(job: Job) -> tuple[Amendment, ...]:
    """The job's local rules as the codebook takes them."""
    return tuple(Amendment(rule.key, rule.value, rule.section) for rule in job.local_rules)


def codebook_of(job: Job) -> Codebook:
    """The job's edition with its local rules laid over it."""
    return amended_codebook(job.edition, amendments_of(job))
