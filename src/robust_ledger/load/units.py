"""More than one dwelling unit on a service: asked where something speaks for it, named where it is so, never guessed."""

from __future__ import annotations

import re
from collections.abc import Iterator

from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.parts.futures import Future
from robust_ledger.job.parts.house import LoadKind, When
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.place import Place
from robust_ledger.load.general import LoadInputs

_WORDS = re.compile(
    r"\b(apartment|apt|in-law|mother-in-law|granny|adu|accessory dwelling|duplex|second kitchen|2nd kitchen|rental|tenant|unit [2b]"
    r"|carriage house|guest house|flat(?! roof| screen| iron| panel))\b",
    re.I,
)
UNITS = Place("dwelling:units")


def signs(job: Job) -> list[str]:
    """What speaks for a second dwelling unit: a second range, or words of a circuit, a load or the other panel."""
    found = []
    ranges = [
        x.name for x in job.loads if x.kind is LoadKind.COOKING and x.when in (When.EXISTING, When.ADDED) and x.two_hots
    ]
    if len(ranges) > 1:
        found.append(f"{len(ranges)} ranges ({', '.join(ranges)})")
    for load in job.loads:
        if _WORDS.search(f"{load.name} {load.room}"):
            found.append(load.name)
    for circuit in job.circuits:
        if _WORDS.search(f"{circuit.feeds} {circuit.room}"):
            found.append(f"tag {circuit.tag}, {circuit.feeds}")
    found += [f"the panel of the {panel.name}" for panel in job.panels if _WORDS.search(panel.name)]
    return found


def signs_of_future(job: Job, future: Future) -> list[str]:
    """What speaks for a dwelling unit that comes with a future: a range beside one that is there, or its words."""
    comes = [load for load in job.loads if load.id in future.load_ids]
    there = any(
        x.kind is LoadKind.COOKING
        and x.two_hots
        and x.when in (When.EXISTING, When.ADDED)
        and x.id not in future.removes
        for x in job.loads
    )
    found = [load.name for load in comes if load.kind is LoadKind.COOKING and load.two_hots and there]
    words = (
        future.name,
        *(f"{load.name} {load.room}" for load in comes),
        *(circuit.name for circuit in future.circuits),
    )
    return found + [text.strip() for text in words if _WORDS.search(text)]


def future_findings(inputs: LoadInputs) -> Iterator[Finding]:
    """ASK where a future looks like a dwelling unit of its own, and nobody has said."""
    job, find = inputs.job, Findings(inputs.codebook, "load").find
    for future in job.futures:
        found = signs_of_future(job, future) if future.units is None else []
        if found:
            yield find(
                "load.future_units",
                at=Place.of("future", future.id),
                of=future.id,
                future=future.name,
                words=", ".join(found[:3]).capitalize(),
            )


def units_findings(inputs: LoadInputs, method: str) -> Iterator[Finding]:
    """ASK where something speaks for a second unit and nobody has said; FIX where there are several and one calculation is made for
    all."""
    yield from future_findings(inputs)
    job, find = inputs.job, Findings(inputs.codebook, "load").find
    units = job.dwelling.units
    if units is None and (found := signs(job)):
        yield find("load.units", at=UNITS, words=", ".join(found[:3]).capitalize())
    elif units is not None and units > 1:
        rule = (
            "220.85 (two units: half again, at the most, by 220.84 for three)"
            if units == 2
            else "220.84 (three or more)"
        )
        yield find("load.units_one_service", at=UNITS, units=units, rule=rule)
    elif units is not None and units < 1:
        yield find("load.units_none", at=UNITS, units=units)
