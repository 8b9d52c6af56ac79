"""Heating against cooling: only what can run together is counted together [220.60]."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

from robust_ledger.job.parts.house import Load, LoadKind
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.working import Working
from robust_ledger.load.general import LoadInputs
from robust_ledger.load.nameplates import of_kind


class Season(Struct, frozen=True):
    """What runs together in one season: its entries, and the largest motor among them [VA]."""

    name: str
    entries: tuple[Entry, ...]
    largest_motor: Entry | None

    @property
    def known(self) -> bool:
        """Whether every load of the season is known."""
        return all(entry.known for entry in self.entries)

    def sum_va(self) -> float:
        """Its loads together [VA]."""
        return sum(entry.amount for entry in self.entries)


class System(Struct, frozen=True):
    """A heat pump with the supplemental heat that is interlocked with it; free supplemental heat is a system without a pump."""

    pump: Load | None
    locked: tuple[Load, ...]
    free: tuple[Load, ...] = ()


def systems(loads: Sequence[Load]) -> list[System]:
    """Every heat pump with its own interlocked heat, and the supplemental heat that runs beside whatever runs. An interlock belongs to
    its pair: heat that is said to be interlocked, with several pumps in the house and none of them named, runs beside all of them."""
    pumps = [load for load in loads if load.kind is LoadKind.HEAT_PUMP]
    strips = [load for load in loads if load.kind is LoadKind.SUPPLEMENTAL_HEAT]
    partner = {strip.id: partner_of(strip, pumps) for strip in strips}
    made = [System(pump, tuple(s for s in strips if partner[s.id] == pump.id)) for pump in pumps]
    free = tuple(s for s in strips if not partner[s.id])
    return made + ([System(None, (), free)] if free else [])


def partner_of(strip: Load, pumps: Sequence[Load]) -> str:
    """The id of the heat pump that supplemental heat is interlocked with; "" for none, and while it is not told which."""
    if not strip.interlocked:
        return ""
    if strip.interlocks_with:
        return next((pump.id for pump in pumps if pump.id == strip.interlocks_with), "")
    return pumps[0].id if len(pumps) == 1 else ""


def seasons(inputs: LoadInputs) -> tuple[Season, Season]:
    """Heating and cooling as they can run. A heat pump's compressor runs in both; supplemental heat runs with it unless interlocked,
    in which case the larger of the two counts, pair by pair."""
    plates = inputs.nameplates
    fixed = inputs.plates(of_kind(inputs.loads, LoadKind.HEATING, LoadKind.FURNACE, LoadKind.THERMAL_STORAGE))
    pumps = inputs.plates(of_kind(inputs.loads, LoadKind.HEAT_PUMP))
    heating: list[Entry] = list(fixed)
    for system in systems(inputs.loads):
        pump = [plates[system.pump.id]] if system.pump else []
        locked, free = inputs.plates(list(system.locked)), inputs.plates(list(system.free))
        if not _all_known(pump + locked):
            heating += pump + locked
        else:
            heating += pump if _sum(pump) >= _sum(locked) else locked
        heating += free
    cooling = (*inputs.plates(of_kind(inputs.loads, LoadKind.AIR_CONDITIONER)), *pumps)
    heat_motors = [entry for entry in pumps if entry in heating]
    return Season("heating", tuple(heating), _largest(heat_motors)), Season("cooling", cooling, _largest(list(cooling)))


def larger_season(work: Working, inputs: LoadInputs, other_motor: Entry | None) -> Season:
    """Choose the season that makes the service larger, the 25% of its motor included in the comparison [220.60]."""
    codebook = inputs.codebook
    share = codebook.number("largest_motor")
    heating, cooling = seasons(inputs)
    sums = []
    for season in (heating, cooling):
        motors = [m for m in (season.largest_motor, other_motor) if m and m.known]
        extra = share * max((m.amount for m in motors), default=0)
        value = season.sum_va() + extra if season.known else None
        sums.append(work.given(f"{season.name}, with 25% of the largest motor", value, "VA"))
    chosen = heating if not (sums[0].known and sums[1].known) or sums[0].amount >= sums[1].amount else cooling
    if not heating.known or not cooling.known:
        chosen = heating if not heating.known else cooling
    elif heating.entries and cooling.entries:
        work.note("only the larger counts", chosen.name, [codebook.cite("noncoincident")])
    return chosen


def add_up(work: Working, entries: tuple[Entry, ...] | list[Entry], label: str) -> Step:
    """Several entries as one sum [VA]; nothing where there is none."""
    return work.total(label, [work.entry_step(e) for e in entries] or [Step("none", 0, "VA")], "VA")


def _all_known(entries: list[Entry]) -> bool:
    return all(entry.known for entry in entries)


def _sum(entries: list[Entry]) -> float:
    return sum(entry.amount for entry in entries if entry.known)


def _largest(entries: list[Entry]) -> Entry | None:
    return max((e for e in entries if e.known), key=lambda e: e.amount, default=None)
