"""The optional calculation for an existing dwelling: does the service that is there carry the additions? [220.83]"""

from __future__ import annotations

from msgspec.structs import replace

from robust_ledger.job.parts.house import Load, LoadKind, When
from robust_ledger.ledger.place import Place
from robust_ledger.load.block import CLIMATE, add_block, controls_of, count_climate
from robust_ledger.load.climate import seasons
from robust_ledger.load.general import LoadInputs
from robust_ledger.load.management import add_management
from robust_ledger.load.nameplates import of_kind
from robust_ledger.load.tape import Calculation, Tape


def adds_climate(inputs: LoadInputs) -> list[Load]:
    """Heating or cooling that comes with this job; without any, part (A) holds, else part (B)."""
    return [load for load in of_kind(inputs.every, *CLIMATE) if load.when is When.ADDED]


def existing_calculation(inputs: LoadInputs) -> Calculation:
    """220.83: (A) all loads in one block, first 8 kVA at 100% and the rest at 40%; (B), where heating or cooling is
    added, the larger of the two in full and everything else in the block."""
    tape, codebook = Tape("existing"), inputs.codebook
    added = adds_climate(inputs)
    climate = of_kind(inputs.loads, *CLIMATE)
    if not added:
        in_block = list(inputs.loads)
    else:
        units = of_kind(climate, LoadKind.HEATING)
        in_block_too = units if _many(inputs, units) else []
        climate = [load for load in climate if load not in in_block_too]
        in_block = [load for load in inputs.loads if load not in climate]
    add_block(tape, inputs, in_block, "existing")
    if added and climate:
        _in_full(tape, inputs, climate)
    add_management(tape, inputs)
    part = codebook.cite("existing_with_climate" if added else "existing_general")
    title = "Existing dwelling, heating or cooling added" if added else "Existing dwelling"
    return tape.close(title, part, inputs.line_volts, [codebook.cite("rounding")])


def _many(inputs: LoadInputs, units: list[Load]) -> bool:
    """Four or more separately controlled units stand in the block (an inference, marked so in the codebook)."""
    controls = sum(max(1, load.controls) for load in units)
    return controls >= inputs.codebook.number("existing_many_controls")


def _in_full(tape: Tape, inputs: LoadInputs, climate: list[Load]) -> None:
    """The larger of heating and cooling at 100% [220.83(B)]."""
    codebook = inputs.codebook
    work = tape.working("climate", "Heating or cooling, the larger in full")
    if units := of_kind(climate, LoadKind.HEATING):
        limit = codebook.step("existing_many_controls")
        controls_of(work, units, limit.amount)
    sums = []
    for season in seasons(replace(inputs, loads=climate)):
        if season.entries:
            sums.append(work.total(season.name, [work.entry_step(e) for e in season.entries], "VA"))
    larger = work.larger("the larger of the two", sums)
    factor = work.take(codebook.step("existing_climate", "factor"))
    cite = codebook.cite("existing_with_climate")
    chosen = next((s.label for s in sums if s.known and s.value == larger.value), "heating or cooling")
    entry = work.entry(
        work.product("counted", [larger, factor], "VA", [cite]), [cite], f"{chosen.capitalize()}, in full"
    )
    entry = replace(entry, place=Place.load(climate[0].id))
    tape.add("Heating or cooling", entry, larger, factor)
    count_climate(tape, inputs, entry, climate)
