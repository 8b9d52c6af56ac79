"""Jobs as every job format that ever landed wrote them: they open, lose nothing, and are planned."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest

from robust_ledger.job.files import job_text, parse_job, read_job
from robust_ledger.job.job import VERSION
from robust_ledger.job.parts.base import Model
from robust_ledger.plan import plan

LANDED = sorted((Path(__file__).parent / "landed").glob("format-*.ledger.json"))


def unknown_of(part, way="job"):
    """Every field that was kept as unknown, with its way."""
    if isinstance(part, Model):
        yield from (f"{way}.{name}" for name in part.unknown)
        for name in part.__struct_fields__:
            if name != "unknown":
                yield from unknown_of(getattr(part, name), f"{way}.{name}")
    elif isinstance(part, tuple | dict):
        for key, one in enumerate(part) if isinstance(part, tuple) else part.items():
            yield from unknown_of(one, f"{way}[{key}]")


def test_there_is_a_job_of_every_format():
    assert {int(re.findall(r"format-(\d+)", path.name)[0]) for path in LANDED} == set(range(1, VERSION + 1))


@pytest.mark.parametrize("path", LANDED, ids=lambda path: path.name.removesuffix(".ledger.json"))
def test_a_job_of_a_landed_format_opens_whole_and_is_planned(path):
    data = json.loads(path.read_text(encoding="utf-8"))
    job = read_job(path)
    assert job.version == VERSION and list(unknown_of(job)) == [], "no field of it is left as one that nobody knows"
    assert [one.tag for one in job.circuits] == [one["tag"] for one in data["circuits"]]
    assert [one.feeds for one in job.circuits] == [one["feeds"] for one in data["circuits"]]
    assert {one["id"] for one in data["loads"]} <= {one.id for one in job.loads}
    assert (job.heading.title, job.dwelling.area) == (data["heading"]["title"], data["dwelling"]["area"])
    assert len(job.decisions.placements) == len(data["decisions"].get("placements", {}))
    assert parse_job(job_text(job), "again") == job
    made = plan(job)
    assert made.load.chosen.total.known and made.service.main.known and made.bench.spaces_used.known
