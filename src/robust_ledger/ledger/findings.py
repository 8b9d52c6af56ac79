"""A short way to write findings: topic, stage and citations filled in."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from robust_ledger.ledger.entry import Citation, Finding, Severity


class Cites(Protocol):
    """What knows the sections: a codebook."""

    def cite(self, rule: str) -> Citation: ...


@dataclass(frozen=True, slots=True)
class Findings:
    """Makes findings of one topic: `earth.spacing` at the field `earth:rod_spacing_ft`."""

    topic: str
    codebook: Cites
    stage: str = "walkthrough"

    def make(
        self, key: str, severity: Severity, place: str, title: str, text: str, remedy: str, *rules: str
    ) -> Finding:
        """A finding at a place, citing the rules."""
        cites = tuple(self.codebook.cite(rule) for rule in rules)
        return Finding(f"{self.topic}.{key}", severity, self.stage, place, title, text, remedy, cites)
