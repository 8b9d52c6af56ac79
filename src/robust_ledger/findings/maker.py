"""The one maker of findings: looks the kind up in the catalogue, fills in values, subject, stage and place; rules become citations."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Protocol

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.findings.catalogue import COUNT, SAID, CatalogueError, Kind, chosen, filled, kind_of, wanted
from robust_ledger.ledger.entry import Citation, Finding, Severity
from robust_ledger.ledger.place import NOWHERE, Place

TAG = "Tag "


class Cites(Protocol):
    """What knows the sections: a codebook."""

    def cite(self, rule: str) -> Citation:
        """The section of a rule."""
        ...


class Findings(Struct, frozen=True):
    """Makes the findings of a stage: "fit.handle" at the field `fit:handle_in`. `topic` begins their ids where the kind's own does not:
    with the panel that all are about; `about` narrows it to one subject, so that each finding's id ends in the subject's key and its
    title begins with the subject's name."""

    codebook: Cites
    stage: str = "walkthrough"
    topic: str = ""
    place: Place = NOWHERE
    subject_key: str = ""
    subject: str = ""

    def about(self, place: Place, subject_key: str, subject: str = "") -> Findings:
        """The same maker for one subject, told where it is."""
        return replace(self, place=place, subject_key=f":{subject_key}", subject=subject)

    def find(
        self,
        name: str,
        /,
        *,
        at: Place = NOWHERE,
        of: str | None = None,
        key: str | None = None,
        severity: Severity | None = None,
        rules: Iterable[str] = (),
        cites: Iterable[Citation] = (),
        kind: str = "",
        **values: object,
    ) -> Finding:
        """The finding of that name, at a place. `of`: which one of several things it is about, part of its id; `key`: its own part of the
        id, where that is worked out; `severity`, `rules` and `cites` are for what a figure or a list has brought along; `kind` groups it
        apart. All else are the values and flags of its words: just those that the catalogue has places for. Raises CatalogueError."""
        if odd := wanted(name) ^ (values.keys() - {COUNT}):
            raise CatalogueError(f"{name}: its words and its values differ in {', '.join(sorted(odd))}")
        said = kind_of(name)
        topic, _, own = name.partition(".")
        topic = self.topic or topic
        if key is None:
            key = said.id or own
        title, several, each = self._titles(said, values)
        return Finding(
            id=f"{topic}.{key}{'' if of is None else f':{of}'}{self.subject_key}",
            severity=_severity(name, said, severity, values),
            stage=self.stage,
            place=at or self.place,
            title=title,
            text=filled(chosen(said.text, values), values),
            remedy=filled(chosen(said.remedy, values), values),
            cites=(*cites, *(self.codebook.cite(rule) for rule in (*chosen(said.rules, values), *rules))),
            field=said.field,
            kind=f"{topic}.{kind or key.partition(':')[0]}",
            several=several,
            each=each,
            cured=bool(values[said.cured]) if isinstance(said.cured, str) else said.cured,
        )

    def _titles(self, said: Kind, values: dict[str, object]) -> tuple[str, tuple[str, str] | None, str]:
        """Its title; what stands before and after the list of several; and what stands for it in that list."""
        for word, table in said.words.items():
            values[word] = filled(chosen(table, values), values)
        words = chosen(said.title, values)
        title = filled(words, values)
        if self.subject:
            return self._of_subject(words, title, values)
        if not said.each:
            return title, None, ""
        before, after = (said.several or _together(words.replace(said.each, "{each}"))).split("{each}")
        several = (filled(before, values, several=True), filled(after, values, several=True))
        return title, several, filled(said.each, values)

    def _of_subject(
        self, words: str, said: str, values: Mapping[str, object]
    ) -> tuple[str, tuple[str, str] | None, str]:
        """The same where a subject begins the title: "Tags 3, 10 have a bare neutral", "14 Cu on 20 A: tags 5, 9"."""
        title = f"{self.subject}{said}" if said.startswith(":") else f"{self.subject} {said}"
        tag = self.subject.startswith(TAG)
        each = self.subject.removeprefix(TAG)
        together = filled(words, values, several=True)
        if together != said:
            return title, ("Tags " if tag else "", f" {together}"), each
        said = said.removeprefix(":").strip()
        return title, (f"{said}{' ' if said.endswith('?') else ': '}{'tags ' if tag else ''}", ""), each


def _together(title: str) -> str:
    """A title of several, with the list behind what is said: "rating not known: kiln, lathe"."""
    start = "{each}: "
    return f"{title.removeprefix(start)}: {{each}}" if title.startswith(start) else title


def _severity(name: str, said: Kind, given: Severity | None, values: Mapping[str, object]) -> Severity:
    """What the catalogue says, or what was worked out where it leaves that open."""
    severity = chosen(said.severity, values)
    if (severity == SAID) != (given is not None):
        raise CatalogueError(f"{name}: its severity is {'not given' if given is None else 'that of the catalogue'}")
    return given or Severity(severity)
