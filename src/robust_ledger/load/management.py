"""Loads held back by an energy management system: its set point in place of what they would count [220.70, 625.42]."""

from __future__ import annotations

from msgspec.structs import replace

from robust_ledger.job.parts.house import Load, LoadKind
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.load.general import LoadInputs
from robust_ledger.load.tape import Calculation, Tape

IDLE = "energy management counted without: its set point at 125% is more than what it holds back"
PERMITTED = "vehicle charging as a charger of the set point, the most that is permitted, not the set point at 125%"


def add_management(tape: Tape, inputs: LoadInputs) -> None:
    """Write the set point × service voltage as a continuous load, in place of all loads it holds back."""
    if not inputs.managed:
        return
    codebook, loads = inputs.codebook, inputs.managed
    names = ", ".join(load.name for load in loads)
    work = tape.working("management", f"Energy management: {names}", Place.load(loads[0].id))
    setpoint = work.given("set point", inputs.job.management.setpoint_a, "A", Place("management:setpoint_a"))
    amount = work.product("all that it holds back", [setpoint, work.take(inputs.line_volts)], "VA")
    factor = work.take(codebook.step("management_factor", "taken as continuous"))
    entry = work.entry(work.product("counted", [amount, factor], "VA", [codebook.cite("management")]))
    tape.add("Energy management", entry, amount, factor)
    tape.count([load.id for load in loads], entry, inputs.plates(loads), "part that the set point lets through")


def chargers_at_set_point(inputs: LoadInputs) -> LoadInputs | None:
    """The inputs with each charger that is held back counting as one of what its set point permits, several sharing it by their nameplates;
    None where anything else is held back too, or a nameplate is not known [625.42]."""
    held, plates = inputs.managed, inputs.plates(inputs.managed)
    if not held or any(load.kind is not LoadKind.EV_CHARGER for load in held) or not all(one.known for one in plates):
        return None
    drawn_va = sum(one.amount for one in plates)
    permitted = {
        load.id: _permitted(inputs, load, plate.amount / drawn_va) for load, plate in zip(held, plates, strict=True)
    }
    return replace(inputs, loads=inputs.every, managed=[], nameplates={**inputs.nameplates, **permitted})


def _permitted(inputs: LoadInputs, load: Load, share: float) -> Entry:
    """What the set point lets one charger draw [VA], never more than its nameplate."""
    work = Working(
        f"load.permitted.{load.id}", f"{load.name}: what the set point permits", Place("management:setpoint_a")
    )
    plate = work.entry_step(inputs.nameplates[load.id])
    parts = [
        work.given("set point", inputs.job.management.setpoint_a, "A", Place("management:setpoint_a")),
        work.take(inputs.line_volts),
    ]
    if share < 1:
        parts.append(work.given("its part, by the nameplates", share, ""))
    permitted = work.product("permitted", parts, "VA", [inputs.codebook.cite("charging_permitted")])
    return work.entry(
        work.smaller("the smaller of both", [permitted, plate]), [inputs.codebook.cite("charging_permitted")]
    )


def by_nameplates(made: Calculation, permitted: LoadInputs, inputs: LoadInputs) -> Calculation:
    """A calculation with chargers at their set point, its factors told on the nameplates that everything else goes by."""
    factors, entries = dict(made.factors), []
    for load in inputs.managed:
        own, plate = permitted.nameplates[load.id], inputs.nameplates[load.id]
        entries.append(own)
        factor = factors.get(load.id)
        if factor is not None and factor.known:
            part = factor.amount * own.amount / plate.amount
            factors[load.id] = Step(
                "as a charger of its set point", part, "", cites=factor.cites, place=Place.entry(own.id)
            )
    return replace(made, factors=factors, entries=(*entries, *made.entries))
