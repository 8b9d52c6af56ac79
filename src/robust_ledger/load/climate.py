"""Heating against cooling: only what can run together is counted together [220.60]."""

from __future__ import annotations

from msgspec import Struct

from robust_ledger.job.parts.house import LoadKind
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
        return all(entry.known for entry in self.entries)

    def sum_va(self) -> float:
        return sum(entry.amount for entry in self.entries)


def seasons(inputs: LoadInputs) -> tuple[Season, Season]:
    """Heating and cooling as they can run. A heat pump's compressor runs in both; supplemental heat runs with it
    unless interlocked, in which case the larger of the two counts."""
    fixed = inputs.plates(of_kind(inputs.loads, LoadKind.HEATING, LoadKind.THERMAL_STORAGE))
    pumps = inputs.plates(of_kind(inputs.loads, LoadKind.HEAT_PUMP))
    supplemental = of_kind(inputs.loads, LoadKind.SUPPLEMENTAL_HEAT)
    free = inputs.plates([load for load in supplemental if not load.interlocked])
    locked = inputs.plates([load for load in supplemental if load.interlocked])
    if not _all_known(pumps + locked):
        together = pumps + locked
    else:
        together = pumps if _sum(pumps) >= _sum(locked) else locked
    heating = (*fixed, *together, *free)
    cooling = (*inputs.plates(of_kind(inputs.loads, LoadKind.AIR_CONDITIONER)), *pumps)
    heat_motors = [entry for entry in pumps if entry in heating]
    return Season("heating", heating, _largest(heat_motors)), Season("cooling", cooling, _largest(list(cooling)))


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
    return work.total(label, [work.entry_step(e) for e in entries] or [Step("none", 0, "VA")], "VA")


def _all_known(entries: list[Entry]) -> bool:
    return all(entry.known for entry in entries)


def _sum(entries: list[Entry]) -> float:
    return sum(entry.amount for entry in entries if entry.known)


def _largest(entries: list[Entry]) -> Entry | None:
    return max((e for e in entries if e.known), key=lambda e: e.amount, default=None)
