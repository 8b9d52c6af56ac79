"""Findings of one kind in one line: "14 Cu on 20 A: tags 5, 9, 12"."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence

from msgspec import Struct

from robust_ledger.ledger.entry import Citation, Finding, Severity

_TAG = re.compile(r"Tag (\d+)(?::)? (.+)")
# A group speaks of several.
_PLURAL = {
    "has": "have",
    "feeds": "feed",
    "is": "are",
    "shares": "share",
    "lands": "land",
    "needs": "need",
    "goes": "go",
}


class Group(Struct, frozen=True):
    """Findings that say the same of several subjects; one alone is a group of one. `key` is stable as long as the kind is there."""

    key: str
    findings: tuple[Finding, ...]

    @property
    def first(self) -> Finding:
        return self.findings[0]

    @property
    def alone(self) -> bool:
        return len(self.findings) == 1

    @property
    def severity(self) -> Severity:
        return self.first.severity

    @property
    def title(self) -> str:
        """What they have in common, and whom it is about."""
        return self.first.title if self.alone else _together([one.title for one in self.findings])

    @property
    def text(self) -> str:
        return " ".join(dict.fromkeys(one.text for one in self.findings))

    @property
    def remedy(self) -> str:
        return " ".join(dict.fromkeys(one.remedy for one in self.findings))

    @property
    def cites(self) -> tuple[Citation, ...]:
        return tuple(dict.fromkeys(cite for one in self.findings for cite in one.cites))


def grouped(findings: Iterable[Finding]) -> tuple[Group, ...]:
    """The findings by kind, in the order in which the first of each comes. What was accepted stands apart from what is open, and what
    is said of tags in other words ("14 Cu on 20 A", "12 Cu on 30 A") is another group."""
    made: dict[tuple[object, ...], list[Finding]] = {}
    for one in findings:
        tag = _TAG.fullmatch(one.title)
        made.setdefault((one.kind, one.severity, one.accepted, tag[2] if tag else ""), []).append(one)
    return tuple(Group(f"{key[0]}:{same[0].id}", tuple(same)) for key, same in made.items())


def _together(titles: Sequence[str]) -> str:
    """Several titles as one: what they have in common said once, what differs in a list."""
    tags = [_TAG.fullmatch(title) for title in titles]
    if all(tags):
        numbers = ", ".join(tag[1] for tag in tags if tag)
        words = next(tag[2] for tag in tags if tag)
        verb, _, rest = words.partition(" ")
        if verb in _PLURAL and ":" not in titles[0].split(" ", 2)[1]:
            return f"Tags {numbers} {_PLURAL[verb]} {rest}"
        return f"{words}: tags {numbers}"
    words_of = [title.split(" ") for title in titles]
    shortest = min(len(words) for words in words_of)
    ahead = next((n for n in range(shortest) if len({words[n] for words in words_of}) > 1), shortest)
    left = shortest - ahead
    behind = next((n for n in range(left) if len({words[-1 - n] for words in words_of}) > 1), left)
    middles = [" ".join(words[ahead : len(words) - behind]).strip(":,") for words in words_of]
    start, end = " ".join(words_of[0][:ahead]), " ".join(words_of[0][len(words_of[0]) - behind :])
    if not start and not end:
        return "; ".join(dict.fromkeys(titles))
    names = ", ".join(dict.fromkeys(middle for middle in middles if middle))
    if end:
        return f"{f'{start} … ' if start else ''}{end}: {names}" if names else f"{start} {end}".strip()
    return f"{start.rstrip(':')} {names}"
