"""Nameplates in volt-amperes, at the nameplate's own voltage."""

from __future__ import annotations

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.job.parts.house import Load, LoadKind, When
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working


def nameplate_entry(load: Load) -> Entry:
    """The load's rating [VA]: as given, kilowatts × 1000, or amperes × the nameplate's own volts. Unknown stays unknown."""
    place = Place.load(load.id)
    work = Working(f"load.nameplate.{load.id}", f"{load.name}: nameplate", place)
    plate = load.nameplate
    valid = plate.amount is not None and plate.amount > 0 and plate.volts > 0
    rating = work.given(f"{load.name}: nameplate rating", plate.amount if valid else None, plate.unit, place)
    if plate.unit == "kW":
        result = work.product("volt-amperes", [rating, work.given("in a kilowatt", 1000, "VA/kW")], "VA")
    elif plate.unit == "A":
        volts = work.given("nameplate voltage", plate.volts, "V", place)
        result = work.product("volt-amperes", [rating, volts], "VA")
    else:
        result = Step("volt-amperes", rating.value, "VA", place=place)
        work.take(result) if valid else None
    return work.entry(result)


def present(loads: tuple[Load, ...]) -> list[Load]:
    """The loads that this job's service carries: what stays and what comes now, not what goes nor the futures."""
    return [load for load in loads if load.when in (When.EXISTING, When.ADDED)]


def held_back(load: Load, job: Job, codebook: Codebook) -> bool:
    """Whether a load counts at the set point of the energy management system: marked so, a set point given, and of a
    kind the edition lets count so: vehicle charging, from 2023 anything [625.42, 220.70]."""
    setpoint_a = job.management.setpoint_a
    open_to_it = load.kind is LoadKind.EV_CHARGER or codebook.number("management_any_load") > 0
    return load.managed and setpoint_a is not None and setpoint_a > 0 and open_to_it


def of_kind(loads: list[Load], *kinds: LoadKind) -> list[Load]:
    return [load for load in loads if load.kind in kinds]


def is_large_fastened(load: Load, va: float | None, codebook: Codebook) -> bool:
    """Whether a fastened appliance counts among the "four or more": at or above the edition's size [220.53].

    A motor-driven one is measured in horsepower where its nameplate gives it, else by its volt-amperes. An unknown
    rating is taken as one that counts; its own line stays unknown in any case.
    """
    if load.is_motor and load.motor_hp is not None:
        return load.motor_hp >= codebook.number("fastened_threshold_hp")
    return va is None or va >= codebook.number("fastened_threshold_w")
