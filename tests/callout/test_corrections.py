"""What was said, said anew: of facts, of loads, of the day, of circuits; and that a "no" before a thing still denies it."""

from __future__ import annotations

import pytest

from robust_ledger.callout.session import Session
from robust_ledger.callout.text import callout_text
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job, blank_job

BOOK = load_codebook("2023")


def said(stage: str, *lines: str) -> tuple[Job, list]:
    """The job after some lines, and what came of the last."""
    session = Session(with_part(blank_job(), "old_panel", spaces=42), BOOK, stage)
    outcomes = [session.say(number, line) for number, line in enumerate(lines, 1)]
    return session.job, outcomes


@pytest.mark.parametrize(
    ("stage", "lines", "value"),
    [
        ("walkthrough", ("meter says 200", "no, one fifty"), lambda job: job.existing.meter_label_a == 150),
        ("walkthrough", ("ceiling is 8 feet", "i mean seven six"), lambda job: job.fit.ceiling_in == 90),
        ("walkthrough", ("gas is bonded", "no, not bonded"), lambda job: job.grounding.gas == "not_bonded"),
        ("walkthrough", ("riser is 2 aluminum", "make that copper"), lambda job: job.existing.riser_conductors == "2 Cu"),
        ("walkthrough", ("riser is 2 aluminum", "make that 1/0 copper"), lambda job: job.existing.riser_conductors == "1/0 Cu"),
        ("walkthrough", ("two ground rods", "sorry, one"), lambda job: job.grounding.rods == 1),
        ("load", ("range 12 kw", "no, 11.2 kw"), lambda job: [load.nameplate.amount for load in job.loads] == [11.2]),
        ("load", ("dryer 5000 watts", "make that 5600 watts"), lambda job: job.loads[0].nameplate.amount == 5600),
        ("changeover", ("start at seven", "no, eight"), lambda job: job.day.start == "8:00 am"),
        ("service", ("garage sub panel on a sixty", "no, hundred amp"), lambda job: job.panels[0].breaker_a == 100),
        # one fact away: nothing is corrected
        ("walkthrough", ("gas is bonded", "no gas"), lambda job: job.grounding.gas == "none"),
        ("walkthrough", ("gas is bonded", "no rods"), lambda job: (job.grounding.gas, job.grounding.rods) == ("bonded", 0)),
    ],
)  # fmt: skip
def test_a_fact_is_said_anew(stage, lines, value):
    job, outcomes = said(stage, *lines)
    assert value(job) and not outcomes[-1].fault, outcomes[-1]


def test_a_correction_of_nothing_is_refused_and_writes_nowhere_else():
    """ "make that copper" after a height is no metal of the service."""
    job, outcomes = said("walkthrough", "ceiling is 8 feet", "make that copper")
    assert outcomes[-1].fault.startswith("that corrects nothing of what was said last: ceiling: 96 in")
    assert job.decisions.metal == blank_job().decisions.metal


@pytest.mark.parametrize(
    ("lines", "circuits"),
    [
        (("7 20 12 den", "not seven, eleven"), ["11 20 12 den"]),
        (("7 20 12 den", "not twenty, thirty"), ["7 30 12 den"]),
        (("7 20 12 den", "not den, office"), ["7 20 12 office"]),
        (("7 20 12 den", "make that ten gauge"), ["7 20 10 den"]),
        (("7 20 12 den", "tag one is hall lights"), ["7 20 12 hall lights"]),
        (("7 20 12 den", "same again but kitchen right"), ["7 20 12 den", "1 20 12 kitchen right"]),
        (("7 20 12 den", "same"), ["7 20 12 den", "1 20 12 den"]),
        (("7 20 12 den", "9 20 12 hall", "both of those are double tapped"), ["7 20 12 den dbl", "9 20 12 hall dbl"]),
        (("7 20 12 den", "9 20 12 hall", "strike that one"), ["7 20 12 den"]),
        (("7 20 12 den", "9 20 12 hall", "delete tag one"), ["9 20 12 hall"]),
    ],
)
def test_a_circuit_is_said_anew(lines, circuits):
    job, outcomes = said("pulloff", *lines)
    assert not outcomes[-1].fault, outcomes[-1]
    assert [callout_text(circuit) for circuit in job.circuits] == circuits


@pytest.mark.parametrize(
    ("lines", "sentence"),
    [
        (("7 20 12 den", "not forty, thirty"), "tag 1 has no forty."),
        (("12 20 12 den", "not twelve, ten"), '"twelve" may be more than one of its figures; say which'),
        (("7 20 12 den", "delete tag nine"), "there is no tag 9 to take out."),
        (("7 20 12 den", "tag nine is hall"), "there is no tag 9 to change."),
        (("same again but den",), "there is no circuit yet to repeat."),
    ],
)
def test_what_cannot_be_corrected_is_told_and_nothing_changes(lines, sentence):
    job, outcomes = said("pulloff", *lines)
    assert sentence in outcomes[-1].fault
    assert len(job.circuits) == len(lines) - 1


def test_a_shared_neutral_by_a_number_that_is_a_tag_and_a_space_is_asked():
    """The crew counts tags, the directory counts spaces."""
    _job, outcomes = said("pulloff", "2 20 12 den", "1 20 12 hall", "4 20 12-3 porch shares with 2")
    assert "Tag 2 is hall, space 2 is den; say which" in outcomes[-1].fault
