"""A job as lines: what is written reads in again to the same job, and the demo is made from its lines alone."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from builders import K, house, load
from golden_text import generated
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec import NODEFAULT
from msgspec.structs import fields, replace

from robust_ledger.callout.facts import _SECTIONS, facts
from robust_ledger.callout.session import replay
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.files import read_job
from robust_ledger.job.job import Job, blank_job
from robust_ledger.job.parts.base import AsGiven, Model
from robust_ledger.job.parts.house import Load, Nameplate
from robust_ledger.jobbook.profiles import KINDS, into, profile_of
from robust_ledger.practice.codes import Code
from robust_ledger.practice.exercise import exercise

BOOK = load_codebook("2023")
EXAMPLES = Path(__file__).parents[2] / "examples"


def known(job: Job) -> Job:
    """A job without the fields of other versions of the format."""
    return replace(job, unknown=AsGiven())


def back(lines: list[str]) -> Job:
    """The job that lines make, all of them understood."""
    job, outcomes = replay(lines, Job(), BOOK, "")
    assert [one for one in outcomes if one.fault] == []
    return job


@pytest.mark.parametrize("job", [known(job) for job in generated()], ids=range(40))
def test_a_generated_job_comes_back_from_its_lines(job):
    assert back(facts(job)) == job


@pytest.mark.parametrize("path", sorted(EXAMPLES.glob("*.ledger.json")), ids=lambda path: path.stem)
def test_a_shipped_job_comes_back_and_is_mostly_in_the_trades_tongue(path):
    job = read_job(path)
    lines = facts(job)
    assert back(lines) == job
    formal = [line for line in lines if line.startswith(("set ", "add "))]
    assert len(formal) < 0.4 * len(lines)


def test_the_demo_is_made_from_its_lines_alone():
    """As it would be dictated: meter, riser, rods, circuits, loads, service."""
    lines = (EXAMPLES / "marrow-lane.lines.txt").read_text(encoding="utf-8").splitlines()
    shipped = read_job(EXAMPLES / "marrow-lane.ledger.json")
    assert back(lines) == shipped
    assert replay(lines, blank_job(), BOOK, "")[0] == shipped, "begun with a blank job, as the command line does"


SIMPLE = {
    path: kind
    for part, kind in ((name, type(getattr(Job(), name))) for name in Job().__struct_fields__)
    if issubclass(kind, Model)
    for field in fields(kind)
    if (usual := field.default) is not NODEFAULT
    and isinstance(usual, bool | float | int | str | None)
    and field.name != "unknown"
    for path in [f"{part}.{field.name}"]
}
TEXTS = st.text(st.characters(codec="utf-8", exclude_categories=["C", "Z"]), min_size=1, max_size=12)
VALUES = st.one_of(st.booleans(), st.none(), st.integers(0, 400), st.sampled_from([0.5, 13.5, 22_000.0, 150.0]), TEXTS)


@settings(max_examples=250, deadline=None)
@given(st.dictionaries(st.sampled_from(sorted(SIMPLE)), VALUES, max_size=8))
def test_any_field_that_can_be_set_comes_back(values):
    """Fields take what they can hold; each fact of the job is written and read again."""
    job = blank_job()
    for path, value in values.items():
        line = f"set {path} = {json.dumps(value)}"
        job, _ = replay([line], job, BOOK, "")
    assert back(facts(job)) == job


@settings(max_examples=80, deadline=None)
@given(
    st.lists(
        st.builds(
            lambda kind, amount, unit, volts, room, when, mca: Load(
                id="", name=str(kind).replace("_", " "), kind=kind, room=room, when=when, mca_a=mca,
                nameplate=Nameplate(amount=amount, unit=unit, volts=volts),
            ),
            st.sampled_from(list(K)), st.sampled_from([None, 4.5, 11.2, 1200.0]), st.sampled_from(["kW", "VA", "A"]),
            st.sampled_from([120.0, 240.0]), st.sampled_from(["", "kitchen", "back porch", "2nd floor"]),
            st.sampled_from(["existing", "added", "later", "removed"]), st.sampled_from([None, 30.0]),
        ),
        max_size=5,
    )
)  # fmt: skip
def test_any_loads_come_back(loads):
    job = house(1500, *(replace(one, id=f"load-{number}") for number, one in enumerate(loads)))
    assert back(facts(job)) == job


def test_a_circuit_out_of_order_keeps_its_tag_and_its_note():
    job = house(1500, load(K.DRYER, "5kW", "dryer"))
    job, outcomes = replay(
        ["as tag 31: 7 20 12 den", "as tag 4: 9,11 30/2 10 dryer", 'set circuits[31].note = "warm"', "tag 4 shares neutral with 31"], job, BOOK
    )  # fmt: skip
    assert not [one for one in outcomes if one.fault]
    assert [(one.tag, one.note) for one in job.circuits] == [(31, "warm"), (4, "")]
    assert job.circuits[1].shares_neutral_with == 31 and job.circuits[1].load_ids, "joined to the one dryer there is"
    assert back(facts(job)) == job


def test_every_part_of_a_job_is_told():
    """A part that no line tells would be lost by whoever reads a job in from its lines."""
    told = {name for _head, names in _SECTIONS for name in names}
    assert told == set(Job.__struct_fields__) - {"unknown", "format", "version"}


def test_the_profiles_a_job_was_made_from_and_its_practice_come_back():
    job = read_job(EXAMPLES / "marrow-lane.ledger.json")
    for kind in KINDS:
        job = into(job, profile_of(job, kind, "x"))
    assert back(facts(job)).profiles == job.profiles and len(job.profiles) == len(KINDS)
    for level in (1, 3, 5):
        start = exercise(Code(level, 4)).start
        assert back(facts(start)) == start and start.practice.code
