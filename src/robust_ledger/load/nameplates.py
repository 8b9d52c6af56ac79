"""Nameplates in volt-amperes, at the nameplate's own voltage."""

from __future__ import annotations

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.models import Load, LoadKind, When
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.working import Working


def nameplate_entry(load: Load) -> Entry:
    """The load's rating [VA]: as given, kilowatts × 1000, or amperes × the nameplate's own volts. Unknown stays unknown."""
    place = f"load:{load.id}"
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
    """The loads that this job's service carries: what is there and what comes now, not the futures."""
    return [load for load in loads if load.when is not When.LATER]


def of_kind(loads: list[Load], *kinds: LoadKind) -> list[Load]:
    return [load for load in loads if load.kind in kinds]


def is_large_fastened(load: Load, va: float | None, codebook: Codebook) -> bool:
    """Whether a fastened appliance counts among the «four or more»: at or above the edition's size [220.53].

    A motor-driven one is measured in horsepower where its nameplate gives it, else by its volt-amperes. An unknown
    rating is taken as one that counts; its own line stays unknown in any case.
    """
    if load.is_motor and load.motor_hp is not None:
        return load.motor_hp >= codebook.number("fastened_threshold_hp")
    return va is None or va >= codebook.number("fastened_threshold_w")
