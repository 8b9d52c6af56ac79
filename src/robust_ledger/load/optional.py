"""The optional calculation for a dwelling [220.82]."""

from __future__ import annotations

from dataclasses import replace

from robust_ledger.job.models import LoadKind
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.text import amount_text
from robust_ledger.ledger.working import Working
from robust_ledger.load.climate import add_up
from robust_ledger.load.general import LINE_VOLTS, LoadInputs, add_general
from robust_ledger.load.nameplates import of_kind
from robust_ledger.load.standard import charging_va
from robust_ledger.load.tape import Calculation, Tape

_CLIMATE = (
    LoadKind.HEATING,
    LoadKind.THERMAL_STORAGE,
    LoadKind.HEAT_PUMP,
    LoadKind.SUPPLEMENTAL_HEAT,
    LoadKind.AIR_CONDITIONER,
)


def optional_calculation(inputs: LoadInputs) -> Calculation:
    """220.82: the general block, first 10 kVA at 100 % and the rest at 40 %, plus the largest heating or cooling choice."""
    tape, codebook = Tape("optional"), inputs.codebook
    general = add_general(tape, inputs, "General block")
    block, apart, in_block = list(general), list[Entry](), list[str]()
    for load in (x for x in inputs.loads if x.kind not in _CLIMATE):
        work = tape.working(f"item.{load.id}", load.name, f"load:{load.id}")
        plate = inputs.nameplates[load.id]
        if load.kind is LoadKind.EV_CHARGER:
            entry = work.entry(charging_va(work, plate, inputs), [codebook.cite("ev")])
            if inputs.job.decisions.ev_in_optional == "added":
                apart.append(entry)
                tape.count([load.id], entry, [plate], "counted by the optional calculation")
                continue
        else:
            entry = work.entry(work.entry_step(plate), [codebook.cite("optional_general")])
        block.append(tape.add("General block", entry, plate.text(), "", counted=False))
        in_block.append(load.id)
    whole, counted = _block_after_demand(tape, block, inputs)
    tape.count(in_block, counted, [whole], "part of the general block that counts")
    tape.general = _general_share(tape, general, whole, counted)
    for entry in apart:
        tape.add("Vehicle charging", entry, entry.text(), "100 %")
    _climate(tape, inputs)
    return tape.close("Optional calculation", codebook.cite("optional"), LINE_VOLTS, [codebook.cite("rounding")])


def _general_share(tape: Tape, general: list[Entry], whole: Entry, counted: Entry) -> Entry:
    """What the floor area, small-appliance and laundry circuits come to within the block after demand."""
    work = tape.working("general", "General load within the block")
    before = work.total("general load before demand", [work.entry_step(e) for e in general], "VA")
    part = work.quotient("part of the block that counts", work.entry_step(counted), work.entry_step(whole), "")
    entry = work.entry(work.product("general load after demand", [before, part], "VA", counted.cites))
    tape.entries.append(entry)
    return entry


def _block_after_demand(tape: Tape, block: list[Entry], inputs: LoadInputs) -> tuple[Entry, Entry]:
    """Write the block's sum, its first 10 kVA and its rest; returns the block before and after demand."""
    codebook = inputs.codebook
    work = tape.working("block_sum", "General block before demand")
    whole = work.entry(work.total("general block before demand", [work.entry_step(e) for e in block], "VA"))
    tape.add("General block", whole, "", "", counted=False)
    cite = [codebook.cite("optional_general")]
    first_va = codebook.step("optional_first_va", "the first at 100 %")
    work = tape.working("block_first", f"First {first_va.amount / 1000:g} kVA")
    base = work.entry_step(whole)
    value = min(base.amount, first_va.amount) if base.known else None
    first = work.take(Step("of which the first at 100 %", value, "VA", f"at most {first_va.text()}", tuple(cite)))
    first_entry = tape.add("General block", work.entry(first, cite), first, "100 %")
    work = tape.working("block_rest", "Rest of the general block")
    rest = work.difference("the rest", work.entry_step(whole), first, "VA")
    factor = work.take(codebook.step("optional_rest", "factor"))
    result = work.product("rest, counted", [rest, factor], "VA", cite)
    rest_entry = tape.add("General block", work.entry(result), amount_text(rest.value, "VA"), factor)
    work = tape.working("block", "General block after demand")
    both = work.total(
        "general block after demand", [work.entry_step(first_entry), work.entry_step(rest_entry)], "VA", cite
    )
    after = work.entry(both)
    tape.entries.append(after)
    return whole, after


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
    places = [load for load in inputs.loads if load.kind in _CLIMATE]
    entry = replace(entry, place=f"load:{places[0].id}")
    tape.add("Heating or cooling", entry, chosen.how if chosen else "", "")
    tape.count([x.id for x in places], entry, inputs.plates(places), "part of heating and cooling that counts")


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
        controls = sum(max(1, load.controls) for load in heating)
        many = controls >= codebook.number("optional_many_controls")
        work.note("separately controlled units", f"{controls}, {'four or more' if many else 'fewer than four'}")
        total = add_up(work, inputs.plates(heating), "electric space heating")
        key = "optional_heat_many" if many else "optional_heat_few"
        choices.append(_times(work, "electric space heating", total, codebook.step(key)))
    storage = of_kind(loads, LoadKind.THERMAL_STORAGE)
    if storage:
        total = add_up(work, inputs.plates(storage), "thermal storage")
        choices.append(_times(work, "thermal storage", total, codebook.step("optional_thermal_storage")))
    return choices


def _heat_pump(work: Working, inputs: LoadInputs) -> list[Step]:
    """Compressor at 100 % and supplemental heat at 65 %; with an interlock they are two choices instead of one."""
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
