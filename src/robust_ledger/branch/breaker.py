"""The breaker each circuit's wire allows, and the wire each load needs [240.4, 210.19, 210.20, 440]."""

from __future__ import annotations

from functools import lru_cache

from msgspec import Struct

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import ampacity_a, is_standard_rating, next_rating_a, previous_rating_a, sizes
from robust_ledger.job.conductors import Conductors, size_text
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.house import Load, LoadKind
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.load.cooking import cooking_demand

_CONTINUOUS = {
    LoadKind.HEATING: "space_heat_branch",
    LoadKind.FURNACE: "space_heat_branch",
    LoadKind.SUPPLEMENTAL_HEAT: "space_heat_branch",
    LoadKind.THERMAL_STORAGE: "space_heat_branch",
    LoadKind.WATER_HEATER: "water_heater_branch",
    LoadKind.EV_CHARGER: "ev_branch",
    LoadKind.MOTOR: "motor_branch",
    # Only where the nameplate's minimum circuit ampacity is not known.
    LoadKind.HEAT_PUMP: "hvac_branch",
    LoadKind.AIR_CONDITIONER: "hvac_branch",
}


class Demand(Struct, frozen=True):
    """What the loads of one circuit ask of it: amperes, and a nameplate breaker limit where there is one."""

    needed: Step
    mocp_a: float | None = None


def cable_column_c(codebook: Codebook) -> int:
    """The ampacity column [°C] for cable inside the house, whatever its insulation is good for [334.80]."""
    return int(codebook.number("cable_column_c"))


def wire_limit(work: Working, gauge: str, metal: str, codebook: Codebook) -> Step:
    """The largest breaker a wire may have without an exception [A]; unknown for a size that is not in the tables."""
    table = codebook.table("small_conductors")
    wire = size_text(gauge, metal)
    row = table.row("size", gauge)
    if row and row[f"{metal}_max_a"]:
        return work.take(Step(f"{wire} allows", float(row[f"{metal}_max_a"]), "A", cites=(table.cite,)))
    ampacity = ampacity_a(codebook, gauge, metal, cable_column_c(codebook))
    if ampacity is None:
        return work.given(f"ampacity of {wire}", None, "A")
    cites = (codebook.cite("ampacity"), codebook.cite("nm_cable"))
    work.take(Step(f"{wire} as cable, {cable_column_c(codebook)} °C", ampacity, "A", cites=cites))
    rating = next_rating_a(codebook, ampacity)
    return work.take(Step("next standard rating allowed", rating, "A", cites=(codebook.cite("next_size_up"),)))


def load_demand(work: Working, loads: list[Load], plates: dict[str, Entry], codebook: Codebook) -> Demand | None:
    """What the loads on one circuit need [A], at their own voltage: continuous ones at 125%, cooking by its table,
    heating and cooling machines by their nameplate. None without loads."""
    if not loads:
        return None
    if len(loads) == 1 and (figures := loads[0].machine_figures):
        mca_a, mocp_a = figures
        place, cite = Place.load(loads[0].id), (codebook.cite("hvac_nameplate"),)
        needed = work.take(Step(f"{loads[0].name}: minimum circuit ampacity", mca_a, "A", "", cite, place))
        work.take(Step("largest breaker by nameplate", mocp_a, "A", "", cite, place))
        return Demand(needed, mocp_a)
    if _one_range(loads):
        return Demand(_combined_cooking(work, loads, plates, codebook))
    parts = [_load_amps(work, load, plates[load.id], codebook) for load in loads]
    needed = parts[0] if len(parts) == 1 else work.total("needed by all its loads", parts, "A")
    return Demand(needed)


def _load_amps(work: Working, load: Load, plate: Entry, codebook: Codebook) -> Step:
    volts = Step(f"{load.name}: voltage", load.nameplate.volts if load.nameplate.volts > 0 else None, "V")
    if load.kind is LoadKind.COOKING and plate.known and plate.amount > codebook.number("cooking_table_min_va"):
        return _range_amps(work, plate, volts, codebook)
    amps = work.quotient(f"{load.name}: amperes", work.entry_step(plate), volts, "A")
    rule = _CONTINUOUS.get(load.kind, "continuous_branch" if load.continuous else "")
    if not rule:
        return amps
    factor = codebook.step("continuous_factor", "continuous, or a motor")
    return work.product(f"{load.name}: with 25%", [amps, factor], "A", [codebook.cite(rule)])


def _range_amps(work: Working, plate: Entry, volts: Step, codebook: Codebook) -> Step:
    """A range circuit: the table's demand, from 8¾ kW at least 40 A [220.55, 210.19(A)]."""
    demand = cooking_demand(work, [plate], codebook)
    amps = work.quotient("range: demand in amperes", demand, volts, "A", [codebook.cite("cooking")])
    if plate.amount >= codebook.number("range_branch_large_kw") * 1000:
        return work.larger("range circuit", [amps, work.take(codebook.step("range_branch_min_a", "at least"))])
    return amps


def _one_range(loads: list[Load]) -> bool:
    """Whether all a circuit feeds is a cooktop with one or two wall ovens of one room, at one voltage [220.55 note 4]."""
    units = 2 <= len(loads) <= 3 and all(load.kind is LoadKind.COOKING_UNIT for load in loads)
    rooms, volts = {load.room.lower() for load in loads}, {load.nameplate.volts for load in loads}
    return units and len(rooms) == 1 and "" not in rooms and len(volts) == 1 and min(volts) > 0


def _combined_cooking(work: Working, loads: list[Load], plates: dict[str, Entry], codebook: Codebook) -> Step:
    """Their nameplates together, taken as one range."""
    cite = [codebook.cite("cooking_together")]
    together = Working("branch.cooking_together", "cooktop and ovens as one range")
    steps = [work.entry_step(plates[load.id], load.name) for load in loads]
    total = work.total("cooktop and ovens as one range", steps, "VA", cite)
    if not total.known:
        return work.quotient("amperes", total, Step("volts", loads[0].nameplate.volts, "V"), "A")
    volts = Step("voltage", loads[0].nameplate.volts, "V")
    return _range_amps(work, together.entry(together.take(total), cite), volts, codebook)


def existing_breaker(circuit: Circuit, loads: list[Load], plates: dict[str, Entry], codebook: Codebook) -> Entry:
    """The breaker a kept circuit gets: what was found, unless the wire allows less or the load needs and the wire
    allows more. A heating or cooling machine's nameplate may allow more than the wire's own limit [240.4(G)]."""
    return _kept_breaker(circuit, loads, plates, codebook) if loads else _without_loads(circuit, codebook)


@lru_cache(maxsize=4096)
def _without_loads(circuit: Circuit, codebook: Codebook) -> Entry:
    """The same circuit as with the keystroke before, mostly."""
    return _kept_breaker(circuit, [], {}, codebook)


def _kept_breaker(circuit: Circuit, loads: list[Load], plates: dict[str, Entry], codebook: Codebook) -> Entry:
    key = CircuitKey.of_tag(circuit.tag)
    work = Working(f"branch.breaker.{key}", f"Tag {circuit.tag}: breaker", Place.circuit(circuit.tag))
    if circuit.off:
        return work.entry(work.note("capped: no breaker", "none"))
    if circuit.gauge is None:
        return work.entry(work.given("wire gauge", None, "", work.place))
    limit = wire_limit(work, circuit.gauge, circuit.metal, codebook)
    if not limit.known:
        return work.entry(limit)
    found = circuit.breaker_a if circuit.breaker_a and is_standard_rating(codebook, circuit.breaker_a) else None
    work.take(
        Step("breaker found", circuit.breaker_a or "not read", "A" if circuit.breaker_a else "", place=work.place)
    )
    demand = load_demand(work, loads, plates, codebook)
    excepted = nameplate_limit(circuit, demand, codebook)
    if excepted:
        rating = excepted if found is None else min(found, excepted)
        cite = (codebook.cite("specific_loads"),)
        return work.entry(work.take(Step("breaker in plan, by the nameplate", rating, "A", cites=cite)))
    work.note("exception by nameplate", "none", [codebook.cite("specific_loads")])
    wanted = next_rating_a(codebook, demand.needed.amount) if demand and demand.needed.known else None
    rating = min(limit.amount, max(found or 0, wanted or 0) or limit.amount)
    return work.entry(work.take(Step("breaker in plan", rating, "A", cites=limit.cites)))


def nameplate_limit(circuit: Circuit, demand: Demand | None, codebook: Codebook) -> float | None:
    """The breaker a machine's nameplate allows on this wire [A]: its conductor must hold the minimum circuit ampacity."""
    if demand is None or demand.mocp_a is None or circuit.gauge is None:
        return None
    ampacity = ampacity_a(codebook, circuit.gauge, circuit.metal, cable_column_c(codebook))
    if ampacity is None or ampacity < demand.needed.amount:
        return None
    return previous_rating_a(codebook, demand.mocp_a)


def new_circuit(load: Load, plate: Entry, codebook: Codebook) -> tuple[Entry, Entry]:
    """Breaker [A] and copper cable for a load that gets a circuit of its own; both unknown when its rating is."""
    place = Place.load(load.id)
    work = Working(f"branch.breaker.load:{load.id}", f"{load.name}: breaker", place)
    demand = load_demand(work, [load], {load.id: plate}, codebook)
    assert demand is not None
    needed = demand.needed
    if demand.mocp_a is not None:
        rating, cite = previous_rating_a(codebook, demand.mocp_a), codebook.cite("hvac_breaker")
    else:
        rating = next_rating_a(codebook, needed.amount) if needed.known else None
        cite = codebook.cite("standard_ratings")
    breaker = work.entry(work.take(Step("breaker", rating, "A", cites=(cite,))))
    wire = Working(f"branch.wire.load:{load.id}", f"{load.name}: cable", place)
    wire.entry_step(breaker)
    wire.take(needed)
    size = _cable_for(needed.amount, rating, demand.mocp_a is not None, codebook) if needed.known and rating else None
    if size is None:
        return breaker, wire.entry(wire.given("cable size", None))
    cites = (codebook.cite("ampacity"), codebook.cite("nm_cable"), codebook.cite("small_conductors"))
    ampacity = ampacity_a(codebook, size, "cu", cable_column_c(codebook))
    wire.take(Step(f"{size_text(size, 'cu')} as cable, {cable_column_c(codebook)} °C", ampacity, "A", cites=cites))
    return breaker, wire.entry(wire.take(Step("smallest copper cable", Conductors(size, "cu"))), cites)


def _cable_for(needed_a: float, rating_a: float, by_nameplate: bool, codebook: Codebook) -> str | None:
    """The smallest copper size that carries `needed_a` and may have a breaker of `rating_a`."""
    for size in sizes(codebook):
        ampacity = ampacity_a(codebook, size, "cu", cable_column_c(codebook))
        if ampacity is None or ampacity < needed_a - 1e-9:
            continue
        limit = wire_limit(Working("", ""), size, "cu", codebook)
        if by_nameplate or (limit.known and limit.amount >= rating_a):
            return size
    return None
