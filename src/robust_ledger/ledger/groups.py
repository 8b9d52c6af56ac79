"""Findings of one kind in one line: "14 Cu on 20 A: tags 5, 9, 12"."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct

from robust_ledger.ledger.entry import Citation, Finding, Severity


class Group(Struct, frozen=True):
    """Findings that say the same of several subjects; one alone is a group of one. `key` is stable as long as the kind is there."""

    key: str
    findings: tuple[Finding, ...]

    @property
    def first(self) -> Finding:
        """The finding that stands for the group."""
        return self.findings[0]

    @property
    def alone(self) -> bool:
        """Whether it is a group of one."""
        return len(self.findings) == 1

    @property
    def severity(self) -> Severity:
        """How bad they are."""
        return self.first.severity

    @property
    def title(self) -> str:
        """What they have in common, and whom it is about."""
        if self.alone:
            return self.first.title
        if self.first.several is None:
            return "; ".join(dict.fromkeys(finding.title for finding in self.findings))
        before, after = self.first.several
        return f"{before}{', '.join(dict.fromkeys(one.each for one in self.findings))}{after}"

    @property
    def text(self) -> str:
        """What is said of them, each sentence once."""
        return " ".join(dict.fromkeys(finding.text for finding in self.findings))

    @property
    def remedy(self) -> str:
        """What to do about them, each sentence once."""
        return " ".join(dict.fromkeys(finding.remedy for finding in self.findings))

    @property
    def cites(self) -> tuple[Citation, ...]:
        """Their sections, each once."""
        return tuple(dict.fromkeys(cite for finding in self.findings for cite in finding.cites))


def grouped(findings: Iterable[Finding]) -> tuple[Group, ...]:
    """The findings by kind, in the order in which the first of each comes. What was accepted or is cured stands apart from what is open, and what
    is said in other words ("14 Cu on 20 A", "12 Cu on 30 A") is another group."""
    made: dict[tuple[object, ...], list[Finding]] = {}
    for finding in findings:
        made.setdefault((finding.kind, finding.severity, finding.state, finding.several), []).append(finding)
    return tuple(Group(f"{key[0]}:{same[0].id}", tuple(same)) for key, same in made.items())
