"""Loads held back by an energy management system: its set point in place of what they would count [220.70, 625.42]."""

from __future__ import annotations

from robust_ledger.ledger.place import Place
from robust_ledger.load.general import LoadInputs
from robust_ledger.load.tape import Tape


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
