"""The fuller leg: what 120 V loads that lean on one leg make of the service's amperes, however well they are dealt out."""

from __future__ import annotations

from collections.abc import Iterable

from robust_ledger.job.parts.house import Load, LoadKind
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.working import Working
from robust_ledger.load.general import LoadInputs
from robust_ledger.load.tape import Calculation

_GRAIN_VA = 10.0  # loads are dealt out in steps of this; a finer one moves nobody's main
_MOST_GRAINS = 50_000  # half a million volt-amperes; what is odder is dealt out in larger steps


def least_lean_va(loads_va: list[float], spread_va: float) -> float:
    """The least difference [VA] between two legs over which single 120 V loads can be dealt, when `spread_va` of small loads fills up
    whichever leg is lower. Exact to 10 VA for any number of loads of a dwelling."""
    grain_va = max(_GRAIN_VA, sum(va for va in loads_va if va > 0) / _MOST_GRAINS)
    grains = [round(va / grain_va) for va in loads_va if va > 0]
    whole, reach = sum(grains), 1
    for grain in grains:
        reach |= reach << grain
    half = whole // 2
    best = next(side for side in range(half, -1, -1) if reach >> side & 1)
    return max(0.0, (whole - 2 * best) * grain_va - spread_va)


def lean_of(loads_va: Iterable[tuple[Load, float]], spread_va: float, inputs: LoadInputs) -> float:
    """What the 120 V loads among some put on one leg more than on the other [VA]; nothing on two legs of a wye."""
    if inputs.job.dwelling.supply != "120/240":
        return 0.0
    return least_lean_va([va for load, va in loads_va if not load.two_hots], spread_va)


def fuller_leg_entry(calculation: Calculation, inputs: LoadInputs, entry_id: str = "") -> Entry | None:
    """Amperes of the fuller leg where 120 V loads lean on it: half of what is balanced, and the lean, at 120 V. None where nothing
    leans, on two legs of a wye, and while the load is not known. `entry_id`: what it is called where it is not the method's own."""
    if not calculation.total.known or not calculation.general.known:
        return None
    counted = []
    for load in inputs.every:
        factor, plate = calculation.factors.get(load.id), inputs.nameplates[load.id]
        if factor is not None and factor.known and plate.known:
            part = (
                1.0 if load.kind is LoadKind.EV_CHARGER else factor.amount
            )  # its own amperes, not the least it counts for
            counted.append((load, plate.amount * part))
    lean_va = lean_of(counted, calculation.general.amount, inputs)
    if lean_va <= 0:
        return None
    work = Working(entry_id or f"load.{calculation.method}.fuller_leg", f"{calculation.title}: the fuller leg")
    total = work.entry_step(calculation.total)
    both = work.total("twice the fuller leg", [total, lean_step(work, lean_va)], "VA")
    amps = work.quotient("at the service voltage", both, work.take(inputs.line_volts), "A", name="division")
    return work.entry(work.round_half_up("the fuller leg", amps, [calculation.rounding]), [calculation.cite])


def lean_step(work: Working, lean_va: float) -> Step:
    """The lean [VA] written down."""
    words = "what 120 V loads put on one leg more than on the other, dealt out as well as they can be"
    return work.given(words, lean_va, "VA")


def governing(amperes: Entry, fuller: Entry | None) -> Entry:
    """What the main has to carry [A]: the calculated load, or the fuller leg where that is more."""
    if fuller is None or not amperes.known or fuller.amount <= amperes.amount:
        return amperes
    return fuller
