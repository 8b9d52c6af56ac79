"""How a line may go on, and everything that can be said: both from the vocabulary, so that neither is ever out of date."""

from __future__ import annotations

import re
from functools import cache

from robust_ledger.callout.defects import defects_said
from robust_ledger.callout.loads import kinds_said
from robust_ledger.callout.manifest import LINES
from robust_ledger.callout.phrases import vocabulary
from robust_ledger.job.job import Job

# What stands in an example where a value is said.
_SHOWN = dict(
    pair.split("=")
    for pair in """amps=150|kilo=22 k|inches=26|feet=12|conductor=2 copper|copper=2 copper|trade=inch and a quarter|count=2|number=10|second=1.8
        |area=1720|rest=…|name=…|width=14 and a half|height=26|depth=4|raceway=rigid|volts=240|circuit=8|other=7|space=21|panel=garage|side=top
        |over=driveway|room=basement|metal=aluminum|insulation=xhhw|edition=2023|method=optional|stage=load|spaces=9 and 11|poles=two
        |gauge=twelve|wires=three|cable=12-3|reading=4.1|length=22 inches|any_length=22|nth=third|side_at=top
        |side_along=top@2in|task=14|other_task=9|termination=main left|unit=inch pounds|hold=energize|point=panel|clock=5 pm
        |clock2=6 pm|date=12/1/2026|who=utility|weather=dry|inspection=another day""".replace("\n        ", "").split(
        "|"
    )
)


@cache
def said_on(stage: str) -> tuple[str, ...]:
    """The first way to say each thing on a stage, with an example where a value stands."""
    made: dict[str, None] = {}
    for name in LINES[stage].vocabularies if stage in LINES else (stage,):
        known = vocabulary(name)
        seen: set[tuple[str, str]] = set()
        for phrase in known.phrases:
            what = (phrase.fact, str(phrase.value))
            if what not in seen:
                seen.add(what)
                made[as_said(phrase.said)] = None
    if "load" in (LINES[stage].vocabularies if stage in LINES else ()):
        made |= dict.fromkeys(kinds_said())
    if stage == "walkthrough":
        made |= dict.fromkeys(defects_said())
    return tuple(made)


def as_said(said: str) -> str:
    """A phrase of the vocabulary as an example: `meter <is> {amps}` → "meter is 150"."""
    text = re.sub(r"\([^)]*\)", " ", said)
    text = re.sub(r"<([a-z]+)>", lambda found: _LISTED.get(found[1], found[1]), text)
    text = re.sub(r"\{([a-z_]+)\}", lambda found: _SHOWN.get(found[1], found[1]), text)
    return " ".join(part.split("|")[0] for part in text.split())


_LISTED = {
    "amps": "amp",
    "kw": "kW",
    "side": "top",
}  # the word of a list that is shown, where it is not the list's name


@cache
def _beginnings(stage: str) -> tuple[str, ...]:
    """What lines of a stage begin with, up to the first value."""
    made: dict[str, None] = {}
    for name in LINES[stage].vocabularies if stage in LINES else ():
        for phrase in vocabulary(name).phrases:
            words = as_said(phrase.said.partition("{")[0])
            if len(words) > 3 and phrase.said[0] not in "{(":
                made[words] = None
    return tuple(made)


def _named(stage: str) -> tuple[str, ...]:
    """Things of a stage that are called by a name: kinds of loads, defects."""
    return tuple(kinds_said()) if stage == "load" else defects_said() if stage == "walkthrough" else ()


def completion(text: str, stage: str, job: Job) -> str:
    """What Tab would add to a line: the rest of the phrase its last piece begins, or of a name of the job."""
    if stage not in LINES or len(text) > 300:
        return ""
    piece = re.split(r",\s*|\.\s+", text)[-1].lower()
    names = [load.name for load in job.loads] if stage in ("load", "bench") else []
    whole = piece == text.lower().lstrip()  # a thing is named at the beginning
    for stem in (piece, piece.rpartition(" ")[2]):
        if len(stem) < 3:
            continue
        named = _named(stage) if whole and stem == piece else ()
        for known in (*names, *_beginnings(stage), *named):
            if known.lower().startswith(stem) and len(known) > len(stem):
                return known[len(stem) :]
    return ""
