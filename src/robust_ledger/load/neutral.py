"""The neutral load: the maximum unbalance between the neutral and one leg [220.61]."""

from __future__ import annotations

from msgspec.structs import replace

from robust_ledger.job.parts.house import Load, LoadKind
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.working import Working
from robust_ledger.load.climate import Season, seasons
from robust_ledger.load.cooking import cooking_demand
from robust_ledger.load.general import LoadInputs
from robust_ledger.load.legs import lean_of, lean_step
from robust_ledger.load.nameplates import of_kind
from robust_ledger.load.standard import (
    charging_va,
    dryer_demand,
    fastened,
    fastened_factor,
    other_motors,
    table_cooking,
)
from robust_ledger.load.tape import Calculation


def neutral_entry(inputs: LoadInputs, standard: Calculation) -> Entry:
    """Neutral load [A]: general load and 120 V loads in full, cooking and dryers at 70%, 240 V-only loads not at all;
    what exceeds 200 A at 70%; on two legs of a wye nothing is reduced. It is taken from the standard calculation for
    every method [220.61, 220.82(A)]."""
    inputs = replace(inputs, loads=inputs.every, managed=[])  # a set point is between the legs, it spares no neutral
    codebook = inputs.codebook
    work = Working(f"load.{inputs.tape}.neutral" if inputs.part else "load.neutral", "Neutral load")
    wye = inputs.job.dwelling.supply != "120/240"
    parts = [work.entry_step(next(e for e in standard.entries if e.id == f"load.{inputs.tape}.general"))]
    reduced = codebook.step("neutral_cooking_dryer", "share on the neutral")
    if wye:
        reduced = Step("no reduction on two legs of a wye", 1.0, "", cites=(codebook.cite("neutral_wye"),))
    cooking = _on_neutral(table_cooking(inputs))
    if cooking:
        demand = cooking_demand(work, inputs.plates(cooking), codebook)
        parts.append(work.product("cooking on the neutral", [demand, reduced], "VA", reduced.cites))
    dryers = _on_neutral(of_kind(inputs.loads, LoadKind.DRYER))
    if dryers:
        demand = dryer_demand(work, inputs.plates(dryers), inputs)
        parts.append(work.product("dryers on the neutral", [demand, reduced], "VA", reduced.cites))
    singles: list[tuple[Load, Step]] = []
    appliances = _on_neutral(fastened(inputs))
    for load in appliances:
        plate = work.entry_step(inputs.nameplates[load.id], f"{load.name}{_taken(load)}")
        factor = fastened_factor(load, inputs, appliances)
        singles.append((load, work.product(f"{load.name} on the neutral", [plate, factor], "VA")))
    for load in _on_neutral(of_kind(inputs.loads, LoadKind.LIGHTING, LoadKind.PLUG_IN)):
        singles.append((load, work.entry_step(inputs.nameplates[load.id], load.name)))
    parts += [step for _load, step in singles]
    for load in _on_neutral(of_kind(inputs.loads, LoadKind.EV_CHARGER)):
        parts.append(charging_va(work, inputs.nameplates[load.id], inputs))
        singles.append((load, Step(load.name, inputs.nameplates[load.id].value, "VA")))  # its own amperes
    climate, running = _climate_and_motor(work, inputs)
    parts += climate
    total = work.total("load on the neutral", parts, "VA", [codebook.cite("neutral")])
    if total.known:
        own = [*singles, *running]
        lean_va = lean_of([(load, step.amount) for load, step in own if step.known], parts[0].amount, inputs)
        if lean_va > 0:  # the largest net load between the neutral and one leg, which is twice that at both
            total = work.total("twice that of the fuller leg", [total, lean_step(work, lean_va)], "VA")
    amps = work.quotient("unbalance at the service voltage", total, inputs.line_volts, "A")
    amps = amps if wye else _over_200(work, amps, inputs)
    return work.entry(
        work.round_half_up("neutral load in whole amperes", amps, [codebook.cite("rounding")]),
        [codebook.cite("neutral")],
    )


def _on_neutral(loads: list[Load]) -> list[Load]:
    """120 V loads, and 240 V loads with a neutral, said or by their kind."""
    return [load for load in loads if load.has_neutral]


def _taken(load: Load) -> str:
    """What the neutral of a load rests on where nobody has said it."""
    return ", taken as having a neutral" if load.two_hots and load.uses_neutral is None else ""


def _climate_and_motor(work: Working, inputs: LoadInputs) -> tuple[list[Step], list[tuple[Load, Step]]]:
    """Heating or cooling loads that use a neutral, and 25% of the largest motor on the neutral: of the season that puts more on it, which
    need not be the one that governs the whole load. Also the loads of that season one by one."""
    both = []
    for season in seasons(inputs):
        trial = Working.trial()
        parts, _running = _season_parts(trial, inputs, season)
        known = all(part.known for part in parts)
        both.append((season, sum(part.amount for part in parts) if known else None))
    unknown = next((season for season, va in both if va is None), None)
    chosen = unknown or max(both, key=lambda one: one[1] or 0)[0]
    if len({va for _season, va in both}) > 1:
        work.note("season with more on the neutral", chosen.name)
    return _season_parts(work, inputs, chosen)


def _season_parts(work: Working, inputs: LoadInputs, season: Season) -> tuple[list[Step], list[tuple[Load, Step]]]:
    by_entry = {inputs.nameplates[load.id].id: load for load in inputs.loads}
    running = [by_entry[entry.id] for entry in season.entries]
    singles = [(load, work.entry_step(inputs.nameplates[load.id], load.name)) for load in _on_neutral(running)]
    parts = [step for _load, step in singles]
    motors = other_motors(inputs)
    motors += [x for x in running if x.kind in (LoadKind.HEAT_PUMP, LoadKind.AIR_CONDITIONER)]
    plates = [p for p in inputs.plates(_on_neutral(motors)) if p.known]
    if plates:
        largest = work.entry_step(max(plates, key=lambda p: p.amount), "largest motor on the neutral")
        share = inputs.codebook.step("largest_motor", "share")
        parts.append(work.product("largest motor, addition", [largest, share], "VA", share.cites))
    return parts, singles


def _over_200(work: Working, amps: Step, inputs: LoadInputs) -> Step:
    """70% of the part above 200 A."""
    limit = inputs.codebook.step("neutral_over_a", "in full up to")
    if not amps.known or amps.amount <= limit.amount:
        return amps
    over = work.difference("above", amps, limit, "A")
    factor = work.take(inputs.codebook.step("neutral_over_factor", "share of what is above"))
    counted = work.product("counted of what is above", [over, factor], "A", factor.cites)
    return work.total("neutral load", [limit, counted], "A")
