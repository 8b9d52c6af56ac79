"""Voltage drop along the service conductors, and the fault current at the panel by the point-to-point method."""

from __future__ import annotations

import math

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import size_text
from robust_ledger.job.models import Job
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.working import Working
from robust_ledger.service.sizing import bare_size

_STEEL = ("rmc", "imc", "emt")
# Household load at the service, mostly resistive; the figure only weighs the small reactance.
POWER_FACTOR = 0.95


def voltage_drop_entry(job: Job, conductors: Entry, amperes: Entry, line_volts: Step, codebook: Codebook) -> Entry:
    """Drop from the service drop to the panel at the calculated load, in percent of the service voltage:
    2 · I · (R cos φ + X sin φ) · L; 3 % is a target, not a rule [Ch. 9 T8, T9]."""
    work = Working("service.voltage_drop", "Voltage drop of the service conductors", "service_run:length_ft")
    load = work.entry_step(amperes)
    ohms = _ohms(work, job, conductors, codebook)
    both = work.product("there and back", [load, ohms, Step("both ways", 2, "")], "V")
    part = work.quotient("of the service voltage", both, work.take(line_volts), "")
    percent = work.product("in percent", [part, Step("percent", 100, "%")], "%")
    work.take(codebook.step("voltage_drop_target", "target, not a rule"))
    return work.entry(percent, [codebook.cite("conductor_resistance")])


def source_fault_entry(job: Job, line_volts: Step, codebook: Codebook) -> Entry:
    """Available fault current [A] where the utility's conductors end: the utility's figure, or the transformer's full
    load current ÷ its impedance."""
    run = job.service_run
    work = Working("service.fault_source", "Fault current at the utility's end", "service_run:utility_fault_a")
    cites = [codebook.cite("interrupting_rating")]
    if run.utility_fault_a is not None:
        sound = run.utility_fault_a if run.utility_fault_a > 0 else None
        return work.entry(work.given("from the utility", sound, "A", "service_run:utility_fault_a"), cites)
    kva = run.transformer_kva if run.transformer_kva and run.transformer_kva > 0 else None
    percent = run.transformer_percent_z if run.transformer_percent_z and run.transformer_percent_z > 0 else None
    if kva is None and percent is None:
        return work.entry(work.given("the utility's figure, or the transformer's kVA and %Z", None, "A"), cites)
    rating = work.given("transformer", kva, "kVA", "service_run:transformer_kva")
    va = work.product("in volt-amperes", [rating, Step("VA in a kVA", 1000, "VA/kVA")], "VA")
    full_a = work.quotient("full-load current", va, work.take(line_volts), "A")
    z = work.quotient(
        "impedance",
        work.given("impedance", percent, "%", "service_run:transformer_percent_z"),
        Step("percent", 100, "%"),
        "",
    )
    return work.entry(work.quotient("behind its impedance", full_a, z, "A"), cites)


def panel_fault_entry(job: Job, conductors: Entry, source: Entry, line_volts: Step, codebook: Codebook) -> Entry:
    """Fault current [A] at the panel, point to point: f = 2 · L · I · Z ÷ E of the conductors, the source's current ÷ (1 + f).

    From a transformer the fault between a leg and neutral, half again as high at its terminals and at half the voltage,
    is worked out too, and the larger counts.
    """
    work = Working("service.fault_panel", "Fault current at the panel", "panel:interrupting_a")
    available = work.entry_step(source)
    ohms = _ohms(work, job, conductors, codebook, impedance=True)
    result = _along(work, "between the legs", available, ohms, work.take(line_volts))
    if job.service_run.utility_fault_a is None:
        times = work.take(Step("leg to neutral at the transformer's terminals", 1.5, ""))
        to_neutral = work.product("leg to neutral, at the source", [available, times], "A")
        single = _along(work, "leg to neutral", to_neutral, ohms, work.take(Step("leg to neutral", 120, "V")))
        result = work.larger("the larger of both", [result, single])
    return work.entry(result, [codebook.cite("interrupting_rating")])


def _along(work: Working, words: str, available: Step, ohms: Step, volts: Step) -> Step:
    """What is left of a fault current at the end of the conductors."""
    drop = work.product(
        f"{words}: drop at that current, there and back", [Step("both ways", 2, ""), available, ohms], "V"
    )
    f = work.quotient(f"{words}: f", drop, volts, "")
    divisor = work.total(f"{words}: 1 + f", [Step("one", 1, ""), f], "")
    return work.quotient(f"{words}, at the panel", available, divisor, "A")


def _ohms(work: Working, job: Job, conductors: Entry, codebook: Codebook, impedance: bool = False) -> Step:
    """Resistance weighed with the reactance for the load, or the impedance, of one conductor over its length [Ω]."""
    run = job.service_run
    picked = bare_size(conductors)
    table = codebook.table("conductor")
    row = table.row("size", picked[0]) if picked else None
    if picked is None or row is None:
        work.entry_step(conductors)
        return Step("ohms", None, "Ω")
    size, metal = picked
    reactance = row["reactance_steel_ohm_per_kft" if run.raceway in _STEEL else "reactance_ohm_per_kft"]
    r = float(row[f"{metal}_ohm_per_kft"]) if row[f"{metal}_ohm_per_kft"] else None
    x = float(reactance) if reactance else None
    cites = (table.cite,)
    work.take(Step(f"{size_text(size, metal)}: resistance", r, "Ω/1000 ft", cites=cites))
    work.take(Step(f"{size_text(size, metal)}: reactance", x, "Ω/1000 ft", cites=cites))
    known = r is not None and x is not None
    if impedance:
        value = math.hypot(r or 0, x or 0) if known else None
        per_kft = work.take(Step("impedance", value, "Ω/1000 ft", "√(R² + X²)"))
    else:
        sine = math.sqrt(1 - POWER_FACTOR**2)
        value = (r or 0) * POWER_FACTOR + (x or 0) * sine if known else None
        per_kft = work.take(Step("R cos φ + X sin φ", value, "Ω/1000 ft", f"cos φ {POWER_FACTOR:g}"))
    sound = run.length_ft if run.length_ft and run.length_ft > 0 else None
    length = work.given("length, one way", sound, "ft", "service_run:length_ft")
    kft = work.quotient("in thousands of feet", length, Step("", 1000, "ft/1000 ft"), "1000 ft")
    return work.product("over the length", [per_kft, kft], "Ω")
