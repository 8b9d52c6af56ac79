"""Entries, steps, citations and findings: how every derived value carries its working. Depends on nothing else."""

from __future__ import annotations

from collections.abc import Iterable
from enum import StrEnum

from msgspec import Struct

from robust_ledger.ledger.place import NOWHERE, Place
from robust_ledger.ledger.text import Value, amount_text


class Citation(Struct, frozen=True):
    """A section of the job's code edition; `verify` says what about it is not certain, empty when it is. `local`: the
    jurisdiction has put its own figure or section here."""

    section: str
    edition: str
    verify: str = ""
    local: bool = False

    def __str__(self) -> str:
        marks = [word for word, on in (("local", self.local), ("verify", self.verify)) if on]
        return f"{self.section} ({', '.join(marks)})" if marks else self.section

    @property
    def printed(self) -> str:
        """As a sheet for an authority has it. What is to be verified is said on the desk, to the one who can do it."""
        return f"{self.section} (local)" if self.local else self.section


def printed(cites: Iterable[Citation]) -> str:
    """Sections as a sheet has them, one after the other."""
    return ", ".join(cite.printed for cite in cites)


class Step(Struct, frozen=True):
    """One line of working: what it is, how it came about, and what came out.

    `how` is the arithmetic as written ("1,720 ft² × 3 VA/ft²"); `place` names the input it rests on
    ("load:range", "dwelling:area"), so that a click can lead there. `value` None means not known. `local`: it rests on
    a local amendment further back. `name` is what code takes it by: `entry.named("division")`; most have none.
    """

    label: str
    value: Value
    unit: str = ""
    how: str = ""
    cites: tuple[Citation, ...] = ()
    place: Place = NOWHERE
    local: bool = False
    name: str = ""

    @property
    def known(self) -> bool:
        """Whether there is a value."""
        return self.value is not None

    @property
    def amount(self) -> float:
        """The value as a number. Raises ValueError when it is unknown or a name."""
        if isinstance(self.value, int | float):
            return float(self.value)
        raise ValueError(f"{self.label} is not a number: {self.value!r}")

    def text(self) -> str:
        """The value with its unit; "?" where it is not known."""
        return amount_text(self.value, self.unit)


class Entry(Struct, frozen=True):
    """A derived value with its working. `id` is stable and documented in docs/entries.md.

    `why_unknown` says what is missing when `value` is None; `local` that a local amendment had a part in it, here or
    in an entry it rests on.
    """

    id: str
    label: str
    value: Value
    unit: str
    steps: tuple[Step, ...] = ()
    cites: tuple[Citation, ...] = ()
    place: Place = NOWHERE
    why_unknown: str = ""
    local: bool = False

    @property
    def known(self) -> bool:
        """Whether there is a value."""
        return self.value is not None

    @property
    def amount(self) -> float:
        """The value as a number. Raises ValueError when it is unknown or a name."""
        if isinstance(self.value, int | float):
            return float(self.value)
        raise ValueError(f"{self.label} is not a number: {self.value!r}")

    def text(self) -> str:
        """The value with its unit; "?" where it is not known."""
        return amount_text(self.value, self.unit)

    def step(self, label: str = "", place: Place = NOWHERE) -> Step:
        """This entry as an operand of the next one; a click leads to it, or to `place`."""
        return Step(
            label or self.label, self.value, self.unit, "", self.cites, place or Place.entry(self.id), self.local
        )

    def named(self, name: str) -> Step:
        """The step of that name. Raises KeyError."""
        for step in self.steps:
            if step.name == name:
                return step
        raise KeyError(f"{self.id} has no step {name}")

    def sections(self) -> tuple[Citation, ...]:
        """Every section used, in order of use, each once."""
        return tuple(dict.fromkeys((*(c for s in self.steps for c in s.cites), *self.cites)))


CURED = "cured by the plan"


class Severity(StrEnum):
    """STOP: unsafe or cannot be built. FIX: not to code. ASK: not known. NOTE: to be aware of."""

    STOP = "STOP"
    FIX = "FIX"
    ASK = "ASK"
    NOTE = "NOTE"

    @property
    def rank(self) -> int:
        """Its place among severities, the worst first."""
        return list(Severity).index(self)


class Finding(Struct, frozen=True):
    """Something wrong, unknown or worth knowing: where, what, by which section, and what to do about it.

    `id` is stable ("branch.wire-on-breaker:tag:7"), so that an acceptance with a reason stays with it. `field` names the field
    of its subject that it is about ("gauge"), so that a table can mark the cell; `kind` is what it has in common with others that say
    the same of another subject; one that is not `acceptable` stands whatever reason is given. `several` is what stands before and after the
    list when several of its kind are said together, `each` what stands for this one in it. `cured`: the plan itself puts it right.
    """

    id: str
    severity: Severity
    stage: str
    place: Place
    title: str
    text: str
    remedy: str
    cites: tuple[Citation, ...] = ()
    accepted: str = ""
    field: str = ""
    kind: str = ""
    acceptable: bool = True
    several: tuple[str, str] | None = None
    each: str = ""
    cured: bool = False

    @property
    def open(self) -> bool:
        """Still to be dealt with: not accepted with a reason, not cured by the plan, and more than a note."""
        return not self.accepted and not self.cured and self.severity is not Severity.NOTE

    @property
    def state(self) -> str:
        """What became of it, in words: "cured by the plan", "accepted: …", "" while it is open or but a note."""
        if self.accepted:
            return f"accepted: {self.accepted}"
        return CURED if self.cured else ""
