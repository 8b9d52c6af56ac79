"""The one maker of findings: topic, stage and subject are filled in, rules become citations."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Protocol

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.ledger.entry import Citation, Finding, Severity
from robust_ledger.ledger.place import NOWHERE, Place


class Cites(Protocol):
    """What knows the sections: a codebook."""

    def cite(self, rule: str) -> Citation: ...


class Findings(Struct, frozen=True):
    """Makes findings of one topic: `fit.handle` at the field `fit:handle_in`. `about` narrows it to one subject, so that each
    finding's id ends in the subject's key and its title begins with the subject's name."""

    topic: str
    codebook: Cites
    stage: str = "walkthrough"
    place: Place = NOWHERE
    subject_key: str = ""
    subject: str = ""

    def about(self, place: Place, subject_key: str, subject: str = "") -> Findings:
        """The same maker for one subject, told where it is."""
        return replace(self, place=place, subject_key=f":{subject_key}", subject=subject)

    def make(
        self,
        key: str,
        severity: Severity,
        *,
        title: str,
        text: str,
        remedy: str,
        at: Place = NOWHERE,
        rules: Iterable[str] = (),
        cites: Iterable[Citation] = (),
        field: str = "",
        kind: str = "",
    ) -> Finding:
        """A finding at a place, citing the rules. `field` is the field of the subject that it is about, where a row of a table
        stands for the subject; `cites` are citations that a figure has brought along; `kind` groups it with others where its key alone
        does not."""
        if self.subject:
            title = f"{self.subject}{title}" if title.startswith(":") else f"{self.subject} {title}"
        sections = (*cites, *(self.codebook.cite(rule) for rule in rules))
        return Finding(
            id=f"{self.topic}.{key}{self.subject_key}",
            severity=severity,
            stage=self.stage,
            place=at or self.place,
            title=title,
            text=text,
            remedy=remedy,
            cites=sections,
            field=field,
            kind=f"{self.topic}.{kind or key.partition(':')[0]}",
        )
