"""Which method: the load calculation to take for a job, by the product's own recommendation."""

from __future__ import annotations

from collections.abc import Callable
from random import Random

from msgspec.structs import replace

from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job, blank_job
from robust_ledger.job.parts.house import Load, LoadKind, Nameplate, When
from robust_ledger.job.parts.measured import Measured
from robust_ledger.load.edition import codebook_of
from robust_ledger.load.methods import NAMES, recommended_name
from robust_ledger.load.result import load_result
from robust_ledger.practice.drills.model import Question

RECORDED = Measured(
    route="thirty_days",
    interval_min=15,
    days=31,
    longest_days=31,
    coverage=1,
    peak=7.2,
    occupied=True,
    seasonal=True,
    renewable=False,
)


def _house(dice: Random) -> Job:
    """A house of some size with the usual machines."""
    loads = (
        Load(id="range", name="range", kind=LoadKind.COOKING, nameplate=Nameplate(amount=dice.choice((8.0, 10.0, 12.0)), unit="kW")),
        Load(id="dryer", name="dryer", kind=LoadKind.DRYER, nameplate=Nameplate(amount=5.0, unit="kW")),
        Load(id="water", name="water heater", kind=LoadKind.WATER_HEATER, nameplate=Nameplate(amount=4.5, unit="kW")),
        Load(id="car", name="car charger", kind=LoadKind.EV_CHARGER, nameplate=Nameplate(amount=32.0, unit="A"), when=When.ADDED),
    )  # fmt: skip
    return replace(with_part(blank_job(), "dwelling", area=float(dice.randrange(900, 2600, 100)), units=1), loads=loads)


def question(dice: Random) -> Question:
    """A job in a sentence or two."""
    job, words = dice.choice(cases())(dice)
    result = load_result(job, codebook_of(job))
    answer = NAMES[recommended_name(result.recommended)]
    reason = next((str(step.value) for step in result.recommended.steps if step.name == "because"), "")
    sections = ", ".join(str(cite) for cite in result.recommended.cites)
    return Question(f"{words} Which load calculation?", tuple(NAMES.values()), answer, reason, sections)


def cases() -> tuple[Callable[[Random], tuple[Job, str]], ...]:
    """What makes each case."""
    return (_stays, _recorded, _short_recording, _upgraded, _two_units, _small)


def _stays(dice: Random) -> tuple[Job, str]:
    job = with_part(_house(dice), "scope", service="kept")
    return with_part(
        job, "old_panel", main_a=150.0
    ), "One dwelling. A car charger comes in, the service of 150 A stays; nothing was recorded."


def _recorded(dice: Random) -> tuple[Job, str]:
    job, _ = _stays(dice)
    words = "One dwelling. A car charger comes in, the service stays; 31 days were recorded at 15 minutes, lived in, in season, no solar."
    return replace(job, measured=RECORDED), words


def _short_recording(dice: Random) -> tuple[Job, str]:
    job, _ = _stays(dice)
    days = dice.randrange(8, 26)
    words = f"One dwelling. A car charger comes in, the service stays; {days} days were recorded."
    return replace(job, measured=replace(RECORDED, days=days, longest_days=days)), words


def _upgraded(dice: Random) -> tuple[Job, str]:
    job = with_part(_house(dice), "scope", service="upgraded")
    return with_part(
        job, "decisions", main_a=200.0
    ), "One dwelling of the usual size. The service becomes 200 A, and a car charger comes in."


def _two_units(dice: Random) -> tuple[Job, str]:
    job = with_part(with_part(_house(dice), "scope", service="upgraded"), "dwelling", units=2)
    return with_part(job, "decisions", main_a=200.0), "Two dwelling units on one service that becomes 200 A."


def _small(dice: Random) -> tuple[Job, str]:
    job = with_part(_house(dice), "scope", service="upgraded")
    return with_part(job, "decisions", main_a=60.0), "A cabin whose service becomes 60 A, one dwelling."
