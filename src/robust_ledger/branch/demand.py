"""What the loads of a circuit ask of its wire, and how large a breaker they allow [210.19, 422, 424, 430, 440, 625, 630]."""

from __future__ import annotations

from msgspec import Struct

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import next_rating_a, previous_rating_a
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
MACHINES = (LoadKind.HEAT_PUMP, LoadKind.AIR_CONDITIONER)


class Demand(Struct, frozen=True):
    """What the loads of one circuit ask of it: amperes of its wire; for a machine, motor or welder the largest breaker [A], by the
    `rule` of that key, and for a welder no more than `by_wire` times what the wire carries. `usual_a`: the breaker put in for it, where
    that is not the largest."""

    needed: Step
    mocp_a: float | None = None
    rule: str = "hvac_breaker"
    by_wire: float | None = None
    usual_a: float | None = None

    @property
    def limit_words(self) -> str:
        """What sets the largest breaker."""
        return {"hvac_breaker": "the nameplate", "motor_breaker": "the motor", "welder_breaker": "the welder"}[
            self.rule
        ]


def load_demand(work: Working, loads: list[Load], plates: dict[str, Entry], codebook: Codebook) -> Demand | None:
    """What the loads on one circuit need [A], at their own voltage: continuous ones at 125%, cooking by its table,
    heating and cooling machines by their nameplate, motors and welders by their articles. None without loads."""
    if not loads:
        return None
    if len(loads) == 1 and (figures := loads[0].machine_figures):
        mca_a, mocp_a = figures
        place, cite = Place.load(loads[0].id), (codebook.cite("hvac_nameplate"),)
        needed = work.take(Step(f"{loads[0].name}: minimum circuit ampacity", mca_a, "A", "", cite, place))
        work.take(Step("largest breaker by nameplate", mocp_a, "A", "", cite, place))
        return Demand(needed, mocp_a)
    if len(loads) == 1 and loads[0].duty_percent is not None:
        return _welder(work, loads[0], plates[loads[0].id], codebook)
    if len(loads) == 1 and loads[0].kind is LoadKind.MOTOR:
        return _motor(work, loads[0], plates[loads[0].id], codebook)
    if _one_range(loads):
        return Demand(_combined_cooking(work, loads, plates, codebook))
    parts = [_load_amps(work, load, plates[load.id], codebook) for load in loads]
    needed = parts[0] if len(parts) == 1 else work.total("needed by all its loads", parts, "A")
    return Demand(needed)


def _volts(load: Load) -> Step:
    return Step(f"{load.name}: voltage", load.nameplate.volts if load.nameplate.volts > 0 else None, "V")


def _motor(work: Working, load: Load, plate: Entry, codebook: Codebook) -> Demand:
    """Full-load current by horsepower where that is known; 125% for the wire, up to 250% for the breaker, the next standard size up
    [430.6, 430.22, 430.52], put in with 175% so that it starts; a small motor may be on any 15 or 20 A circuit [430.53(A)]."""
    amps = work.quotient(f"{load.name}: full-load current", work.entry_step(plate), _volts(load), "A")
    factor = codebook.step("continuous_factor", "for the wire of one motor")
    needed = work.product("the wire carries at least", [amps, factor], "A", [codebook.cite("motor_branch")])
    if not needed.known:
        return Demand(needed, rule="motor_breaker")
    cite = codebook.cite("motor_breaker")
    most = work.product(
        "for its breaker", [amps, codebook.step("motor_breaker_factor", "inverse-time breaker")], "A", [cite]
    )
    rating = next_rating_a(codebook, most.amount)
    small_a = codebook.number("motor_group_240_a" if load.two_hots else "motor_group_120_a")
    small = amps.amount <= codebook.number("motor_group_load_a") and (load.motor_hp or _hp(load) or 0) <= 1
    if small and rating is not None and rating < small_a:
        work.take(
            Step("a motor of no more than 1 hp and 6 A may be on", small_a, "A", cites=(codebook.cite("motor_group"),))
        )
        rating = small_a
    work.take(Step("largest breaker, next standard size", rating, "A", cites=(cite,)))
    starts = next_rating_a(codebook, amps.amount * codebook.number("motor_usual_factor"))
    usual_a = min(rating, max(15.0, starts)) if rating is not None and starts is not None else None
    return Demand(needed, rating, "motor_breaker", usual_a=usual_a)


def _hp(load: Load) -> float | None:
    return load.nameplate.amount if load.nameplate.unit == "hp" else None


def _welder(work: Working, load: Load, plate: Entry, codebook: Codebook) -> Demand:
    """The wire by the rated current and the duty cycle, the breaker up to 200% of both [630.11, 630.12]."""
    amps = work.quotient(f"{load.name}: rated current", work.entry_step(plate), _volts(load), "A")
    table, duty = codebook.table("welder_duty"), load.duty_percent or 100.0
    row = table.first_covering("up_to_percent", duty)
    factor = work.take(Step(f"duty cycle {duty:g}%", float(row["factor"]) if row else None, "", cites=(table.cite,)))
    needed = work.product("the wire carries at least", [amps, factor], "A", [table.cite])
    twice = codebook.step("welder_breaker_factor", "its breaker")
    most = work.product("largest breaker", [amps, twice], "A", [codebook.cite("welder_breaker")])
    usual_a = next_rating_a(codebook, amps.amount) if amps.known else None
    return Demand(needed, most.amount if most.known else None, "welder_breaker", float(twice.amount), usual_a)


def limit_of(demand: Demand, ampacity_a: float | None, codebook: Codebook) -> float | None:
    """The largest breaker [A] a machine, motor or welder allows on a wire that carries `ampacity_a`; None where it sets none, or the
    wire is too small for it."""
    if (
        demand.mocp_a is None
        or ampacity_a is None
        or not demand.needed.known
        or ampacity_a < demand.needed.amount - 1e-9
    ):
        return None
    most_a = demand.mocp_a if demand.by_wire is None else min(demand.mocp_a, demand.by_wire * ampacity_a)
    return previous_rating_a(codebook, most_a)


def _load_amps(work: Working, load: Load, plate: Entry, codebook: Codebook) -> Step:
    volts = _volts(load)
    if load.kind is LoadKind.COOKING and plate.known and plate.amount > codebook.number("cooking_table_min_va"):
        return _range_amps(work, plate, volts, codebook)
    amps = work.quotient(f"{load.name}: amperes", work.entry_step(plate), volts, "A")
    rule = _CONTINUOUS.get(load.kind, "continuous_branch" if load.continuous else "")
    if load.tankless and not load.continuous:
        work.note(f"{load.name}: without a tank", "not a storage heater: 100%", [codebook.cite("tankless_branch")])
        rule = ""
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
