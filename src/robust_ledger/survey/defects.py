"""Inherited defects: the catalogue, which of them are this job's by either practice, and what they cost in minutes."""

from __future__ import annotations

import tomllib
from collections.abc import Iterator
from functools import cache
from pathlib import Path

from msgspec import Struct

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.fields import choices_at
from robust_ledger.job.job import Job
from robust_ledger.job.parts.defects import Defect
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import upper_first
from robust_ledger.ledger.working import Working
from robust_ledger.survey.scope import renews, touches

PRACTICE_WORDS = choices_at("decisions.defect_practice")
PART_WORDS = {
    "panel": "panel",
    "riser": "riser or mast",
    "meter": "meter",
    "grounding": "grounding",
    "branch": "branch circuit",
    "outdoor": "outdoors",
    "room": "room",
}
WHO_WORDS = {"us": "this job", "owner": "owner", "utility": "utility", "other": "other trade"}


class Known(Struct, frozen=True):
    """A defect of the catalogue, in our words."""

    kind: str
    what: str
    fix: str
    part: str
    minutes: float
    material: str
    rule: str
    hazard: bool = False


class Judged(Struct, frozen=True):
    """A defect with its answer by both practices, and the one that holds for this job."""

    defect: Defect
    by_touch: bool
    by_scope: bool
    ours: bool

    @property
    def left(self) -> bool:
        """Whether nobody has taken it on: it would fall to this job, which does not correct it; the owner is to know."""
        return self.defect.who == "us" and not self.ours

    @property
    def by(self) -> str:
        """Who corrects it, in words."""
        return "owner advised" if self.left else WHO_WORDS[self.defect.who]


@cache
def catalogue() -> dict[str, Known]:
    """The defects that ship with the product, by their key."""
    text = (Path(__file__).parent / "defects.toml").read_text(encoding="utf-8")
    return {kind: Known(kind, **item) for kind, item in tomllib.loads(text).items()}


def judged(job: Job) -> tuple[Judged, ...]:
    """Every defect of the job by both practices: "what you touch you own" takes what sits on a part the job renews or has to
    touch, "scope only" what it renews. The user's own word on a defect goes before either."""
    new, touched, made = renews(job), touches(job), []
    for defect in job.defects:
        by_scope = defect.part in new
        by_touch = by_scope or defect.part in touched
        by_practice = by_touch if job.decisions.defect_practice == "touch" else by_scope
        made.append(Judged(defect, by_touch, by_scope, by_practice if defect.in_scope is None else defect.in_scope))
    return tuple(made)


class DefectMinutes(Struct, frozen=True):
    """Minutes [min] of the defects that are this job's and still to do: by "what you touch you own", by "scope only", and as decided."""

    touch: Entry
    scope: Entry
    ours: Entry


def defect_minutes(job: Job) -> DefectMinutes:
    """What the defects take, by each practice and as decided."""
    every = judged(job)
    return DefectMinutes(
        _minutes("touch", 'Defects by "what you touch you own"', [j for j in every if j.by_touch]),
        _minutes("scope", 'Defects by "scope only"', [j for j in every if j.by_scope]),
        _minutes("ours", "Defects this job corrects", [j for j in every if j.ours]),
    )


def _minutes(name: str, words: str, mine: list[Judged]) -> Entry:
    work = Working(f"defects.{name}", words, Place("decisions:defect_practice"))
    parts = []
    for one in mine:
        if one.defect.state == "done" or one.defect.who != "us":
            continue
        minutes = one.defect.minutes
        sound = minutes if minutes is not None and minutes >= 0 else None
        parts.append(work.given(f"{one.defect.what}: minutes", sound, "min", Place.of("defect", one.defect.id)))
    return work.entry(work.total("together", parts or [work.given("none to do", 0, "min")], "min"))


def material(job: Job) -> tuple[str, ...]:
    """What the defects of this job take, for the material list."""
    return tuple(
        one.defect.material
        for one in judged(job)
        if one.ours and one.defect.material and one.defect.who == "us" and one.defect.state != "done"
    )


def defect_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """Open defects: a hazard stops, one of this job is to be fixed, the rest is for the owner to know. A match with the
    user's caution list is asked about."""
    find = Findings(codebook).find
    for one in judged(job):
        defect = one.defect
        if defect.state != "open":
            continue
        known = catalogue().get(defect.kind)
        hazard = known is not None and known.hazard
        where = f" ({defect.where})" if defect.where else ""
        by = "" if one.left and not hazard else f" By: {WHO_WORDS[defect.who]}."
        yield find(
            "defect.open",
            at=Place.of("defect", defect.id),
            key=defect.id,
            rules=[known.rule] if known else [],
            kind="ours" if one.ours else "left",
            hazard=hazard,
            ours=one.ours,
            what=upper_first(defect.what or "defect without words"),
            where=where,
            fix=upper_first(defect.fix) or "Say how it is corrected",
            by=by,
        )
    for caution in job.cautions:
        yield find(
            "caution.mark",
            at=Place("old_panel:marks"),
            key=caution.mark,
            mark=caution.mark,
            text=caution.text,
        )
