"""Measured demand: 125% of the highest recorded demand plus what is new [220.87]."""

from __future__ import annotations

from msgspec.structs import replace

from robust_ledger.job.parts.house import LoadKind, When
from robust_ledger.job.parts.measured import Measured
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.load.block import CLIMATE
from robust_ledger.load.climate import seasons
from robust_ledger.load.general import LoadInputs
from robust_ledger.load.management import add_management
from robust_ledger.load.nameplates import of_kind
from robust_ledger.load.standard import charging_va
from robust_ledger.load.tape import Calculation, Tape

_NEW = "New load"


def measured_calculation(inputs: LoadInputs) -> Calculation:
    """220.87: the existing load is 125% of the maximum demand of a year, or of a recording of 30 days; new loads are
    added in full. Loads that go are not taken off: the recording cannot tell their part."""
    tape, codebook = Tape("measured"), inputs.codebook
    tape.general = _demand(tape, inputs)
    added = [load for load in inputs.loads if load.when is When.ADDED]
    for load in (x for x in added if x.kind not in CLIMATE):
        work = tape.working(f"new.{load.id}", load.name, Place.load(load.id))
        plate = inputs.nameplates[load.id]
        result = charging_va(work, plate, inputs) if load.kind is LoadKind.EV_CHARGER else work.entry_step(plate)
        entry = tape.add(_NEW, work.entry(result, [codebook.cite("measured")]), plate.text(), "100%")
        tape.count([load.id], entry, [plate], "added to the measured demand")
    _new_climate(tape, replace(inputs, loads=of_kind(added, *CLIMATE)))
    add_management(tape, replace(inputs, managed=inputs.managed if _new_managed(inputs) else []))
    return tape.close("Measured demand", codebook.cite("measured"), inputs.line_volts, [codebook.cite("rounding")])


def _new_managed(inputs: LoadInputs) -> bool:
    """What is held back and was there during the recording is in the recording already."""
    return any(load.when is When.ADDED for load in inputs.managed)


def _demand(tape: Tape, inputs: LoadInputs) -> Entry:
    codebook, measured = inputs.codebook, inputs.job.measured or Measured()
    label = f"Maximum demand, {measured.peak_at}" if measured.peak_at else "Maximum demand"
    work = tape.working("demand", label, Place("measured:peak"))
    va = demand_va(work, inputs)
    factor = work.take(codebook.step("measured_factor", "factor"))
    cite = codebook.cite("measured" if measured.route == "year" else "measured_exception")
    entry = work.entry(work.product("existing load", [va, factor], "VA", [cite]), [cite])
    tape.add("Measured", entry, va, factor)
    if measured.seasonal_va > 0:
        work = tape.working("seasonal", "Heating or cooling out of season", Place("measured:seasonal_va"))
        extra = work.given("added by calculation", measured.seasonal_va, "VA", Place("measured:seasonal_va"))
        tape.add("Measured", work.entry(extra, [codebook.cite("measured_exception")]), extra, "100%")
    return entry


def demand_va(work: Working, inputs: LoadInputs) -> Step:
    """The recorded peak in volt-amperes: kilowatts through the power factor; amperes of the most loaded leg as if the
    other leg carried as much."""
    measured = inputs.job.measured
    if measured is None or measured.peak is None or measured.peak <= 0:
        return work.given("recorded maximum demand", None, "VA", Place("measured:peak"))
    peak = work.given("recorded maximum", measured.peak, measured.peak_unit, Place("measured:peak"), measured.peak_at)
    if measured.peak_unit == "A":
        return work.product("on both legs", [peak, work.take(inputs.line_volts)], "VA")
    watts = work.product("in watts", [peak, Step("watts in a kilowatt", 1000, "W/kW")], "W")
    sound = 0 < measured.power_factor <= 1
    factor = work.given("power factor", measured.power_factor if sound else None, "", Place("measured:power_factor"))
    return work.quotient("volt-amperes", watts, factor, "VA")


def _new_climate(tape: Tape, inputs: LoadInputs) -> None:
    """New heating and cooling: the larger of what can run together."""
    if not inputs.loads:
        return
    work = tape.working("new_climate", "New heating or cooling", Place.load(inputs.loads[0].id))
    sums = [
        work.total(season.name, [work.entry_step(e) for e in season.entries], "VA")
        for season in seasons(inputs)
        if season.entries
    ]
    larger = work.larger("the larger of what runs together", sums, [inputs.codebook.cite("noncoincident")])
    entry = work.entry(larger, [inputs.codebook.cite("measured"), inputs.codebook.cite("noncoincident")])
    tape.add(_NEW, entry, larger, "100%")
    tape.count([x.id for x in inputs.loads], entry, inputs.plates(inputs.loads), "added to the measured demand")
