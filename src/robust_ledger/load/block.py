"""The demand block of the optional methods: general load and nameplates together, the first kVA in full, the rest at a share."""

from __future__ import annotations

from collections.abc import Sequence

from robust_ledger.job.parts.house import Load, LoadKind
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import amount_text
from robust_ledger.ledger.working import Working
from robust_ledger.load.general import LoadInputs, add_general
from robust_ledger.load.standard import charging_va
from robust_ledger.load.tape import Tape

CLIMATE = (
    LoadKind.HEATING,
    LoadKind.FURNACE,
    LoadKind.THERMAL_STORAGE,
    LoadKind.HEAT_PUMP,
    LoadKind.SUPPLEMENTAL_HEAT,
    LoadKind.AIR_CONDITIONER,
)
_GROUP = "General block"


def add_block(tape: Tape, inputs: LoadInputs, loads: Sequence[Load], rule: str) -> None:
    """Write the block of `rule` ("optional" or "existing") with `loads` in it, before and after demand, and vehicle
    charging after it where the job's practice wants it there [220.82(B), 220.83(A)]."""
    general = add_general(tape, inputs, _GROUP)
    block, apart, in_block = list(general), list[Entry](), list[str]()
    cite = inputs.codebook.cite(f"{rule}_general")
    for load in loads:
        work = tape.working(f"item.{load.id}", load.name, Place.load(load.id))
        plate = inputs.nameplates[load.id]
        if load.kind is LoadKind.EV_CHARGER:
            entry = work.entry(charging_va(work, plate, inputs), [inputs.codebook.cite("ev")])
            if inputs.job.decisions.ev_practice != "block":
                apart.append(entry)
                tape.count([load.id], entry, [plate], f"counted by the {rule} calculation")
                continue
        else:
            entry = work.entry(work.entry_step(plate), [cite])
        block.append(tape.add(_GROUP, entry, plate.text(), "", counted=False))
        in_block.append(load.id)
    whole, counted = _after_demand(tape, block, inputs, rule)
    tape.count(in_block, counted, [whole], "part of the general block that counts")
    tape.general = _general_share(tape, general, whole, counted)
    for entry in apart:
        tape.add("Vehicle charging", entry, entry.text(), "100%")


def _general_share(tape: Tape, general: list[Entry], whole: Entry, counted: Entry) -> Entry:
    """What the floor area, small-appliance and laundry circuits come to within the block after demand."""
    work = tape.working("general", "General load within the block")
    before = work.total("general load before demand", [work.entry_step(e) for e in general], "VA")
    part = work.quotient("part of the block that counts", work.entry_step(counted), work.entry_step(whole), "")
    entry = work.entry(work.product("general load after demand", [before, part], "VA", counted.cites))
    tape.entries.append(entry)
    return entry


def _after_demand(tape: Tape, block: list[Entry], inputs: LoadInputs, rule: str) -> tuple[Entry, Entry]:
    """Write the block's sum, its first kVA and its rest; returns the block before and after demand."""
    codebook = inputs.codebook
    work = tape.working("block_sum", "General block before demand")
    whole = work.entry(work.total("general block before demand", [work.entry_step(e) for e in block], "VA"))
    tape.add(_GROUP, whole, "", "", counted=False)
    cite = [codebook.cite(f"{rule}_general")]
    work = tape.working("block_first", "First of the general block")
    first_va = work.take(codebook.step(f"{rule}_first_va", "at 100% up to"))
    first = work.smaller("of which the first at 100%", [work.entry_step(whole), first_va], cite)
    label = f"First {first_va.amount / 1000:g} kVA"
    first_entry = tape.add(_GROUP, work.entry(first, cite, label), first, "100%")
    work = tape.working("block_rest", "Rest of the general block")
    rest = work.difference("the rest", work.entry_step(whole), work.entry_step(first_entry), "VA")
    factor = work.take(codebook.step(f"{rule}_rest", "factor"))
    result = work.product("rest, counted", [rest, factor], "VA", cite)
    rest_entry = tape.add(_GROUP, work.entry(result), amount_text(rest.value, "VA"), factor)
    work = tape.working("block", "General block after demand")
    both = work.total(
        "general block after demand", [work.entry_step(first_entry), work.entry_step(rest_entry)], "VA", cite
    )
    after = work.entry(both)
    tape.entries.append(after)
    return whole, after


def count_climate(tape: Tape, inputs: LoadInputs, counted: Entry, loads: Sequence[Load]) -> None:
    """Spread what is counted of heating and cooling over its loads, for the balance of the legs."""
    plates = inputs.plates(list(loads))
    tape.count([load.id for load in loads], counted, plates, "part of heating and cooling that counts")


def controls_of(work: Working, heating: Sequence[Load], many_from: float) -> bool:
    """Whether the heating has as many separate controls as `many_from`; written down as a step."""
    controls = sum(max(1, load.controls) for load in heating)
    many = controls >= many_from
    work.note(
        "separately controlled units",
        f"{controls}, {f'{many_from:g} or more' if many else f'fewer than {many_from:g}'}",
    )
    return many
