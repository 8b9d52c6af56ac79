"""The optional calculation for a dwelling [220.82]."""

from __future__ import annotations

from msgspec.structs import replace

from robust_ledger.job.parts.house import LoadKind
from robust_ledger.ledger.entry import Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.load.block import CLIMATE, add_block, controls_of, count_climate
from robust_ledger.load.climate import add_up
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
    if cooling:
        total = add_up(work, inputs.plates(cooling), "air conditioning")
        choices.append(_times(work, "air conditioning", total, codebook.step("optional_ac")))
    pumps, strips = of_kind(loads, LoadKind.HEAT_PUMP), of_kind(loads, LoadKind.SUPPLEMENTAL_HEAT)
    if pumps or strips:
        choices += _heat_pump(work, inputs)
    heating = of_kind(loads, LoadKind.HEATING)
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
    """Compressor at 100% and supplemental heat at 65%; with an interlock they are two choices instead of one."""
    codebook, loads = inputs.codebook, inputs.loads
    pumps = inputs.plates(of_kind(loads, LoadKind.HEAT_PUMP))
    strips = of_kind(loads, LoadKind.SUPPLEMENTAL_HEAT)
    compressor = _times(
        work, "heat pump compressor", add_up(work, pumps, "compressors"), codebook.step("optional_heat_pump")
    )
    if not strips:
        return [compressor]
    share = codebook.step("optional_supplemental")
    free = _times(
        work,
        "supplemental heat",
        add_up(work, inputs.plates([s for s in strips if not s.interlocked]), "supplemental heat connected"),
        share,
    )
    together = work.total("heat pump with supplemental heat", [compressor, free], "VA", share.cites)
    locked = [s for s in strips if s.interlocked]
    if not locked:
        return [together]
    work.note("supplemental heat interlocked against the compressor", "the compressor is left out beside it")
    alone = _times(
        work, "interlocked supplemental heat", add_up(work, inputs.plates(locked), "interlocked heat connected"), share
    )
    return [together, work.total("supplemental heat without compressor", [alone, free], "VA", share.cites)]


def _times(work: Working, label: str, total: Step, factor: Step) -> Step:
    return work.product(label, [total, work.take(factor)], "VA", factor.cites)
