"""What is not said is never good: with any one fact unsaid no verdict gets quieter, no figure smaller, without a question or a "?" in its place."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from pairs import PAIRS, made

from robust_ledger.codebook.conductors import area_cmil
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.files import job_text
from robust_ledger.job.job import Job
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.plan import Plan, plan

SHIPPED = sorted((Path(__file__).parents[2] / "examples").glob("*.ledger.json"))
FIGURES = ("service.main", "service.conductors", "service.neutral", "service.gec", "service.mbj")
BLANK = json.loads(job_text(Job()))
# What nobody can leave unsaid by emptying a field, and what a job is without: words, its own day, what it was priced with, what was done.
NOT_ASKED = (
    "heading",
    "record",
    "day",
    "stock",
    "practice",
    "profiles",
    "decisions",
    "pull_off",
    "conventions",
    "readings",
    "futures",
    "utility",
)


# Unsaid these say something: no old circuit fed that panel; as long as the bond stays where it is, nobody counts the wires of each
# range; and a label allows a circuit a space at the least.
MEANT = (("panel", "max_circuits"), ("panels", "feeder_tag"), ("circuits", "conductors"))


def said(data: Any, blank: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Every fact of a job that may be unsaid: a figure or a yes where there may be none."""
    if isinstance(data, dict):
        for key, value in data.items():
            if path or key not in NOT_ASKED:
                yield from said(value, blank.get(key) if isinstance(blank, dict) else None, (*path, key))
    elif isinstance(data, list):
        for number, value in enumerate(data):
            yield from said(value, None, (*path, number))
    elif data not in (None, "") and not isinstance(data, str) and blank is None:
        yield path


def without(data: dict[str, Any], path: tuple[Any, ...]) -> Job | None:
    """The job with one fact unsaid; None where it may not be."""
    copy = json.loads(json.dumps(data))
    at: Any = copy
    for part in path[:-1]:
        at = at[part]
    at[path[-1]] = None
    try:
        return Job.read(copy)
    except ModelError:
        return None


def loud(made_: Plan) -> dict[str, int]:
    """What is open, and how bad."""
    return {one.id: one.severity.rank for one in made_.findings if one.open}


def unknown(made_: Plan) -> set[str]:
    return {entry.id for entry in made_.all_entries.values() if not entry.known}


def size_of(made_: Plan, figure: str) -> float | None:
    """A rating, or the area of a conductor; None for neither."""
    entry = made_.entries.get(figure)
    if entry is None or not entry.known:
        return None
    one = entry.value
    area = area_cmil(made_.codebook, one.size) if isinstance(one, Conductors) else None
    return (
        area * one.sets
        if isinstance(one, Conductors) and area
        else entry.amount
        if isinstance(one, int | float)
        else None
    )


def quieter(before: Plan, after: Plan) -> list[str]:
    """What got quieter or smaller, with nothing asked in its place."""
    was, now = loud(before), loud(after)
    told = {one for one in now if one not in was} or unknown(after) - unknown(before)
    lost = [one for one in was if one not in now]
    smaller = [
        figure for figure in FIGURES
        if (old := size_of(before, figure)) and (new := size_of(after, figure)) and new < old
    ]  # fmt: skip
    return [] if told else [*lost, *smaller]


@pytest.mark.parametrize("path", SHIPPED, ids=lambda path: path.name.split(".")[0])
def test_a_shipped_job_with_any_fact_unsaid_is_no_quieter(path: Path):
    data = json.loads(path.read_text("utf-8"))
    before, wrong, tried = plan(Job.read(data)), [], 0
    for way in said(data, BLANK):
        job = without(data, way)
        if job is not None:
            tried += 1
            wrong += [(".".join(map(str, way)), one) for one in quieter(before, plan(job))]
    assert tried >= 60 and not wrong, wrong


@pytest.mark.parametrize("number", range(0, len(PAIRS), 4))
def test_a_job_with_a_fault_and_any_fact_unsaid_is_no_quieter(number: int):
    """The faults of the table, each with every other fact of its job unsaid in turn."""
    data = json.loads(job_text(made(PAIRS[number].facts, "2023")))
    before = plan(Job.read(data))
    for way in said(data, BLANK):
        job = without(data, way) if (way[0], way[-1]) not in MEANT else None
        if job is not None:
            assert not quieter(before, plan(job)), (PAIRS[number].finding, way)
