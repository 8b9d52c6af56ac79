"""A short way to write the findings of the walk-through."""

from __future__ import annotations

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.ledger.entry import Finding, Severity

STAGE = "walkthrough"


class Findings:
    """Makes findings of one topic: `earth.spacing` at the field `earth:rod_spacing_ft`."""

    def __init__(self, topic: str, codebook: Codebook) -> None:
        self.topic, self.codebook = topic, codebook

    def make(
        self, key: str, severity: Severity, place: str, title: str, text: str, remedy: str, *rules: str
    ) -> Finding:
        cites = tuple(self.codebook.cite(rule) for rule in rules)
        return Finding(f"{self.topic}.{key}", severity, STAGE, place, title, text, remedy, cites)
