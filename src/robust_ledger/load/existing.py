"""The optional calculation for an existing dwelling: does the service that is there carry the additions? [220.83]"""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from robust_ledger.job.parts.house import Load, LoadKind, When
from robust_ledger.ledger.entry import Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.load.block import CLIMATE, add_block, controls_of, count_climate
from robust_ledger.load.climate import Season, seasons
from robust_ledger.load.general import LoadInputs
from robust_ledger.load.management import add_management
from robust_ledger.load.nameplates import of_kind
from robust_ledger.load.tape import Calculation, Tape


def adds_climate(inputs: LoadInputs) -> list[Load]:
    """Heating or cooling that comes with this job; without any, part (A) holds, else part (B). What replaces a machine of its kind
    that goes, and is no larger, adds nothing."""
    gone = [load for load in inputs.job.loads if load.kind in CLIMATE and load.when is When.REMOVED]
    added = []
    for load in of_kind(inputs.every, *CLIMATE):
        if load.when is not When.ADDED:
            continue
        like = next((old for old in gone if old.kind is load.kind and _no_larger(load, old, inputs)), None)
        if like is None:
            added.append(load)
        else:
            gone.remove(like)
    return added


def _no_larger(new: Load, old: Load, inputs: LoadInputs) -> bool:
    mine, before = inputs.nameplates[new.id], inputs.nameplates[old.id]
    return mine.known and before.known and mine.amount <= before.amount


def existing_calculation(inputs: LoadInputs) -> Calculation:
    """220.83: (A) all loads in one block, first 8 kVA at 100% and the rest at 40%; (B), where heating or cooling is added, the larger
    of the two and not both, and everything else in the block. Four or more separately controlled units of heating stand in the block;
    where cooling is the larger they stand nowhere."""
    tape, codebook = Tape("existing"), inputs.codebook
    climate = of_kind(inputs.loads, *CLIMATE)
    if not adds_climate(inputs):
        add_block(tape, inputs, list(inputs.loads), "existing")
        add_management(tape, inputs)
        cite = codebook.cite("existing_general")
        practice = "part (A): no heating or cooling is added; all loads, heating and cooling both, in the block"
        made = tape.close("Existing dwelling", cite, inputs.line_volts, [codebook.cite("rounding")])
        return replace(made, practice=practice)
    others = [load for load in inputs.loads if load not in climate]
    work = tape.working("climate", "Heating or cooling, the larger in full")
    chosen, units, words = _larger(work, inputs, climate, others)
    add_block(tape, inputs, [load for load in inputs.loads if load in others or load in units], "existing")
    if climate:
        _in_full(tape, work, inputs, climate, chosen, units)
    add_management(tape, inputs)
    cite = codebook.cite("existing_with_climate")
    title = "Existing dwelling, heating or cooling added"
    made = tape.close(title, cite, inputs.line_volts, [codebook.cite("rounding")])
    return replace(made, practice=f"part (B): heating or cooling is added; {words}")


def _many_units(inputs: LoadInputs, climate: Sequence[Load]) -> list[Load]:
    """Room units that stand in the block, being four or more with controls of their own (an inference, marked so in the codebook); a
    central furnace is none."""
    units = of_kind(list(climate), LoadKind.HEATING)
    controls = sum(max(1, load.controls) for load in units)
    return units if units and controls >= inputs.codebook.number("existing_many_controls") else []


def _larger(
    work: Working, inputs: LoadInputs, climate: list[Load], others: list[Load]
) -> tuple[Season, list[Load], str]:
    """The season that adds more, what of it stands in the block, and in words which one it is. An unknown nameplate makes the load
    unknown in any case; its season is taken."""
    heating, cooling = seasons(replace(inputs, loads=climate))
    units = _many_units(inputs, climate)
    if room := of_kind(climate, LoadKind.HEATING):
        controls_of(work, room, inputs.codebook.step("existing_many_controls").amount)
    if not heating.known or not cooling.known:
        unknown = heating if not heating.known else cooling
        return unknown, units if unknown is heating else [], unknown.name
    in_block = {inputs.nameplates[load.id].id for load in units}
    full = [sum(e.amount for e in season.entries if e.id not in in_block) for season in (heating, cooling)]
    share = inputs.codebook.step("existing_rest")
    at_share = share.amount * sum(inputs.nameplates[load.id].amount for load in units)
    if units:
        work.given("four or more units of heating, at their share in the block", at_share, "VA")
    sums = [
        work.given("heating, as it would count", full[0] + at_share, "VA"),
        work.given("cooling, as it would count", full[1], "VA"),
    ]
    hot = sums[0].amount >= sums[1].amount
    both = bool(heating.entries and cooling.entries)
    chosen = heating if hot else cooling
    words = f"the larger counts, {chosen.name}, not both" if both else f"{chosen.name} counts"
    work.note("not both", chosen.name, [inputs.codebook.cite("existing_with_climate")])
    return chosen, units if hot else [], words


def _in_full(
    tape: Tape, work: Working, inputs: LoadInputs, climate: list[Load], chosen: Season, units: list[Load]
) -> None:
    """The larger of heating and cooling at 100% [220.83(B)], without what stands in the block."""
    codebook = inputs.codebook
    in_block = {inputs.nameplates[load.id].id for load in units}
    entries = [entry for entry in chosen.entries if entry.id not in in_block]
    total = work.total(chosen.name, [work.entry_step(e) for e in entries] or [Step("none", 0, "VA")], "VA")
    factor = work.take(codebook.step("existing_climate", "factor"))
    cite = codebook.cite("existing_with_climate")
    result = work.product("counted", [total, factor], "VA", [cite])
    entry = work.entry(result, [cite], f"{chosen.name.capitalize()}, in full")
    entry = replace(entry, place=Place.load(climate[0].id))
    tape.add("Heating or cooling", entry, total, factor)
    rest = [load for load in climate if load not in units]
    count_climate(tape, inputs, entry, rest)
