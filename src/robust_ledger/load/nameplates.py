"""Nameplates in volt-amperes, at the nameplate's own voltage."""

from __future__ import annotations

import re

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.job.parts.house import Load, LoadKind, When
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working


def nameplate_entry(load: Load, codebook: Codebook) -> Entry:
    """The load's rating [VA]: as given, kilowatts × 1000, amperes × the nameplate's own volts, or where there is only horsepower the
    current of the motor table × those volts [T430.248]. Unknown stays unknown."""
    place = Place.load(load.id)
    work = Working(f"load.nameplate.{load.id}", f"{load.name}: nameplate", place)
    plate = load.nameplate
    if plate.unit == "hp" or (plate.amount is None and load.motor_hp is not None):
        return work.entry(_by_horsepower(work, load, codebook))
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


def _by_horsepower(work: Working, load: Load, codebook: Codebook) -> Step:
    """Table current of a motor × its volts; a size between two rows takes the larger one."""
    place, plate = Place.load(load.id), load.nameplate
    hp = plate.amount if plate.unit == "hp" else load.motor_hp
    sound = hp if hp is not None and hp > 0 and plate.volts > 0 else None
    work.given(f"{load.name}: horsepower", sound, "hp", place)
    table = codebook.table("motor_current")
    row = table.first_covering("hp", sound - 0.001) if sound else None
    column = "115" if plate.volts < 150 else "200" if plate.volts < 204 else "208" if plate.volts < 220 else "230"
    amps = work.take(
        Step("full-load current by the table", float(row[f"amps_{column}v"]) if row else None, "A", cites=(table.cite,))
    )
    volts = work.given("voltage", plate.volts if plate.volts > 0 else None, "V", place)
    return work.product("volt-amperes", [amps, volts], "VA")


def counts_as_motor(load: Load) -> bool:
    """Whether a load counts for the largest motor: as said, by its kind or horsepower, else as its words say."""
    if load.is_motor is not None:
        return load.is_motor
    if load.kind is LoadKind.MOTOR or load.motor_hp is not None or load.nameplate.unit == "hp":
        return True
    return load.kind is LoadKind.APPLIANCE and _MOTOR_WORDS.search(load.name) is not None


_MOTOR_WORDS = re.compile(
    r"\b(disposal|disposer|hood|fan|pump|opener|compressor|vacuum|blower|jet|air handler)s?\b", re.I
)


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
    """The loads of some kinds."""
    return [load for load in loads if load.kind in kinds]


_HEATING_WORDS = re.compile(r"\b(?:furnace|boiler|air handler|fan coil|burner|hydronic|circulator)s?\b", re.I)


def not_among(load: Load, codebook: Codebook) -> str:
    """Why a load is none of the fastened appliances that four or more of count less: cooking, by the edition, and what belongs to space heating;
    "" where it is one [220.53]."""
    if load.kind in (LoadKind.COOKING, LoadKind.COOKING_UNIT) and not codebook.number("fastened_cooking"):
        return "cooking, none of the four"
    return "part of the heating, none of the four" if _HEATING_WORDS.search(load.name) else ""


def is_large_fastened(load: Load, va: float | None, codebook: Codebook) -> bool:
    """Whether a fastened appliance counts among the "four or more": at or above the edition's size [220.53].

    Horsepower or volt-amperes, either will do: a small motor does not hide the watts of a heater beside it. An unknown rating is taken as
    one that counts; its own line stays unknown in any case.
    """
    if load.motor_hp is not None and load.motor_hp >= codebook.number("fastened_threshold_hp"):
        return True
    return va is None or va >= codebook.number("fastened_threshold_w")
