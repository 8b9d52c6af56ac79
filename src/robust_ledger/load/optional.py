"""The optional calculation for a dwelling [220.82]."""

from __future__ import annotations

from msgspec.structs import replace

from robust_ledger.job.parts.house import LoadKind
from robust_ledger.ledger.entry import Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.load.block import CLIMATE, add_block, controls_of, count_climate
from robust_ledger.load.climate import add_up, systems
from robust_ledger.load.general import LoadInputs
from robust_ledger.load.management import add_management
from robust_ledger.load.nameplates import of_kind
from robust_ledger.load.tape import Calculation, Tape


def optional_calculation(inputs: LoadInputs) -> Calculation:
    """220.82: the general block, first 10 kVA at 100% and the rest at 40%, plus the largest heating or cooling choice."""
    tape, codebook = Tape("optional"), inputs.codebook
    add_block(tape, inputs, [x for x in inputs.loads if x.kind not in CLIMATE], "optional")
    _climate(tape, inputs)
    add_management(tape, inputs)
    return tape.close("Optional calculation", codebook.cite("optional"), inputs.line_volts, [codebook.cite("rounding")])


def _climate(tape: Tape, inputs: LoadInputs) -> None:
    """The largest one of the six heating and cooling choices [220.82(C)]."""
    codebook = inputs.codebook
    work = tape.working("climate", "Heating or cooling, the largest choice")
    choices = _choices(work, inputs)
    if not choices:
        return
    result = work.larger("the largest choice", choices, [codebook.cite("optional_climate")])
    chosen = next((c for c in choices if c.known and c.value == result.value), None)
    label = chosen.label if chosen else "Heating or cooling"
    entry = work.entry(
        result, [codebook.cite("optional_climate"), *(chosen.cites if chosen else ())], label.capitalize()
    )
    places = [load for load in inputs.loads if load.kind in CLIMATE]
    entry = replace(entry, place=Place.load(places[0].id))
    tape.add("Heating or cooling", entry, chosen.how if chosen else "", "")
    count_climate(tape, inputs, entry, places)


def _choices(work: Working, inputs: LoadInputs) -> list[Step]:
    codebook, loads = inputs.codebook, inputs.loads
    choices: list[Step] = []
    cooling = of_kind(loads, LoadKind.AIR_CONDITIONER)
    if cooling:  # every zone runs on the hottest day, a heat pump's compressor too
        both = cooling + of_kind(loads, LoadKind.HEAT_PUMP)
        words = "cooling of all zones" if len(both) > 1 else "air conditioning"
        total = add_up(work, inputs.plates(both), words)
        choices.append(_times(work, words, total, codebook.step("optional_ac")))
    pumps, strips = of_kind(loads, LoadKind.HEAT_PUMP), of_kind(loads, LoadKind.SUPPLEMENTAL_HEAT)
    if pumps or strips:
        choices += _heat_pump(work, inputs)
    heating = of_kind(loads, LoadKind.HEATING, LoadKind.FURNACE)
    if heating:
        many = controls_of(work, heating, codebook.number("optional_many_controls"))
        total = add_up(work, inputs.plates(heating), "electric space heating")
        key = "optional_heat_many" if many else "optional_heat_few"
        choices.append(_times(work, "electric space heating", total, codebook.step(key)))
    storage = of_kind(loads, LoadKind.THERMAL_STORAGE)
    if storage:
        total = add_up(work, inputs.plates(storage), "thermal storage")
        choices.append(_times(work, "thermal storage", total, codebook.step("optional_thermal_storage")))
    return choices


def _heat_pump(work: Working, inputs: LoadInputs) -> list[Step]:
    """Compressors at 100% and supplemental heat at 65%, system by system: of an interlocked pair the larger of the two counts, all
    other systems with it."""
    codebook = inputs.codebook
    full, share = codebook.step("optional_heat_pump"), codebook.step("optional_supplemental")
    parts, cites = [], full.cites
    for system in systems(inputs.loads):
        name = system.pump.name if system.pump else "supplemental heat"
        pump = None
        if system.pump is not None:
            plate = add_up(work, [inputs.nameplates[system.pump.id]], f"{name}: compressor connected")
            pump = _times(work, f"{name}: compressor", plate, full)
        if heat := [*system.locked, *system.free]:
            words = "interlocked heat" if system.locked else "supplemental heat"
            cites = share.cites
            strip = _times(work, words, add_up(work, inputs.plates(heat), f"{words} connected"), share)
            if pump is None:
                parts.append(strip)
                continue
            work.note("supplemental heat interlocked against the compressor", "the larger of the two counts")
            parts.append(work.larger(f"{name} or its heat", [pump, strip]))
        elif pump is not None:
            parts.append(pump)
    return [work.total("heat pump with supplemental heat" if cites == share.cites else "heat pump", parts, "VA", cites)]


def _times(work: Working, label: str, total: Step, factor: Step) -> Step:
    return work.product(label, [total, work.take(factor)], "VA", factor.cites)
