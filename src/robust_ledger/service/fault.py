"""Voltage drop along service and feeder conductors, and the fault current along them by the point-to-point method."""

from __future__ import annotations

import math

from msgspec import Struct

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.conductors import Conductors, size_text
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN, Panel
from robust_ledger.job.tree import place_of
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.service.ampacity import picked
from robust_ledger.service.figures import ServiceFigures

_STEEL = ("rmc", "imc", "emt")
# Household load at the service, mostly resistive; the figure only weighs the small reactance.
POWER_FACTOR = 0.95


# Ratings that devices for dwellings are made in [A].
AIC_SERIES = (10_000, 22_000, 42_000, 65_000)


def next_aic(fault_a: float) -> str:
    """The next rating of the series at or above a fault current: "22 kA"."""
    return next((f"{one / 1000:g} kA" for one in AIC_SERIES if one >= fault_a), "more than 65 kA")


class AicPlace(Struct, frozen=True):
    """A place with devices that have to interrupt a fault: its fault current and the rating of its devices [A], alone or in series
    with what is ahead."""

    key: str
    words: str
    fault: Entry
    rating_a: float | None
    place: Place


def aic_places(job: Job, figures: ServiceFigures) -> list[AicPlace]:
    """The disconnect ahead and the panel; a sub-panel's is told with its feeder. A series rating by label counts for the panel where
    a service disconnect stands ahead of it."""
    made = []
    if figures.fault_disconnect is not None:
        rating_a = _sound_aic(job.existing.disconnect_aic_a)
        at = Place("existing:disconnect_aic_a")
        made.append(AicPlace("aic_disconnect", "disconnect", figures.fault_disconnect, rating_a, at))
    own, series = _sound_aic(job.panel.aic_a), _sound_aic(job.panel.series_aic_a)
    rating_a = max((r for r in (own, series if job.disconnect_ahead else None) if r is not None), default=None)
    made.append(AicPlace("aic", "panel", figures.fault_panel, rating_a, Place("panel:aic_a")))
    return made


def _sound_aic(rating_a: float | None) -> float | None:
    """An AIC rating as read; below a thousand amperes something else was read, or kiloamperes were meant."""
    return rating_a if rating_a is not None and rating_a >= 1000 else None


def voltage_drop_entry(job: Job, conductors: Entry, amperes: Entry, line_volts: Step, codebook: Codebook) -> Entry:
    """Drop from the service drop to the panel at the calculated load, in percent of the service voltage:
    2 · I · (R cos φ + X sin φ) · L; 3% is a target, not a rule [Ch. 9 T8, T9]."""
    work = Working("service.voltage_drop", "Voltage drop of the service conductors", Place("service_run:length_ft"))
    load = work.entry_step(amperes)
    ohms = _ohms(work, conductors, _service_length(work, job, "length_ft"), _in_steel(job), codebook)
    return drop_along(work, load, ohms, line_volts, codebook)


def drop_along(work: Working, load: Step, ohms: Step, line_volts: Step, codebook: Codebook) -> Entry:
    """There and back at a load, in percent of the voltage, beside the target."""
    both = work.product("there and back", [load, ohms, Step("both ways", 2, "")], "V")
    part = work.quotient("of the service voltage", both, work.take(line_volts), "")
    percent = work.product("in percent", [part, Step("percent", 100, "%")], "%")
    work.take(codebook.step("voltage_drop_target", "target, not a rule"))
    return work.entry(percent, [codebook.cite("conductor_resistance")])


def feeder_drop_entry(panel: Panel, conductors: Entry, carried: Entry, line_volts: Step, codebook: Codebook) -> Entry:
    """The same for the feeder of a panel, at the load it carries."""
    words = f"Voltage drop of the feeder to the {panel.name}"
    work = Working(f"feeder.{panel.id}.voltage_drop", words, place_of(panel, "length_ft"))
    load = work.entry_step(carried)
    ohms = _ohms(work, conductors, _feeder_length(work, panel), False, codebook)
    return drop_along(work, load, ohms, line_volts, codebook)


def source_fault_entry(job: Job, main: Entry, line_volts: Step, codebook: Codebook) -> Entry:
    """Available fault current [A] where the utility's conductors end: the utility's figure for this service, the transformer's full
    load current ÷ its impedance, or the row of the utility's table for a service of this main."""
    run = job.existing
    work = Working(
        "service.fault_source", "Available fault current at the utility's end", Place("existing:utility_fault_a")
    )
    cites = [codebook.cite("interrupting_rating")]
    if run.utility_fault_a is not None:
        sound = _positive(run.utility_fault_a)
        return work.entry(work.given("from the utility", sound, "A", Place("existing:utility_fault_a")), cites)
    kva, percent = _positive(run.transformer_kva), _positive(run.transformer_percent_z)
    if kva is None and percent is None and job.utility.fault_table:
        return work.entry(_of_table(work, job, main), cites)
    if kva is None and percent is None:
        return work.entry(work.given("the utility's figure, or the transformer's kVA and %Z", None, "A"), cites)
    rating = work.given("transformer", kva, "kVA", Place("existing:transformer_kva"))
    va = work.product("in volt-amperes", [rating, Step("VA in a kVA", 1000, "VA/kVA")], "VA")
    full_a = work.quotient("full-load current", va, work.take(line_volts), "A")
    z = work.quotient(
        "impedance",
        work.given("impedance", percent, "%", Place("existing:transformer_percent_z")),
        Step("percent", 100, "%"),
        "",
    )
    return work.entry(work.quotient("behind its impedance", full_a, z, "A"), cites)


def _of_table(work: Working, job: Job, main: Entry) -> Step:
    """The row of the utility's table for this service: the smallest that takes it in; not known beyond the last row."""
    at = Place("utility:fault_table")
    rating = work.entry_step(main)
    rows = sorted(job.utility.fault_table, key=lambda row: row.up_to_a)
    fits = next((row for row in rows if rating.known and row.up_to_a >= rating.amount), None)
    if fits is None:
        last = f"the utility's table ends at {rows[-1].up_to_a:g} A"
        return work.given(last if rating.known else "the utility's table, by the main", None, "A", at)
    return work.given(f"the utility's table, services up to {fits.up_to_a:g} A", fits.fault_a, "A", at)


def service_fault_entry(
    job: Job, at: str, conductors: Entry, source: Entry, line_volts: Step, codebook: Codebook
) -> Entry:
    """Fault current [A] at the "meter", the "disconnect" beside it or the "panel", point to point: f = 2 · L · I · Z ÷ E of the
    conductors so far, the source's current ÷ (1 + f).

    From a transformer the fault between a leg and neutral, half again as high at its terminals and at half the voltage,
    is worked out too, and the larger counts.
    """
    place = Place("panel:aic_a") if at == "panel" else Place("service_run:riser_ft")
    work = Working(f"service.fault_{at}", f"Available fault current at the {at}", place)
    available = work.entry_step(source)
    length = _service_length(work, job, "length_ft" if at == "panel" else "riser_ft")
    ohms = _ohms(work, conductors, length, _in_steel(job), codebook, impedance=True)
    result = _along(work, f"between the legs, at the {at}", available, ohms, work.take(line_volts))
    if job.existing.utility_fault_a is None:
        times = work.take(Step("leg to neutral at the transformer's terminals", 1.5, ""))
        to_neutral = work.product("leg to neutral, at the source", [available, times], "A")
        single = _along(
            work, f"leg to neutral, at the {at}", to_neutral, ohms, work.take(Step("leg to neutral", 120, "V"))
        )
        result = work.larger("the larger of both", [result, single])
    return work.entry(result, [codebook.cite("interrupting_rating")])


def feeder_fault_entry(panel: Panel, conductors: Entry, above: Entry, line_volts: Step, codebook: Codebook) -> Entry:
    """Fault current [A] at a panel, from that at the place it is fed from, along the feeder."""
    place = place_of(panel, "box.aic_a")
    main = panel.id == MAIN  # it is called as where the service itself goes on to it
    name = "service.fault_panel" if main else f"feeder.{panel.id}.fault"
    work = Working(name, f"Available fault current at the {'panel' if main else panel.name}", place)
    available = work.entry_step(above)
    ohms = _ohms(work, conductors, _feeder_length(work, panel), False, codebook, impedance=True)
    words = "between the legs, at the panel"
    return work.entry(
        _along(work, words, available, ohms, work.take(line_volts)), [codebook.cite("interrupting_rating")]
    )


def _along(work: Working, words: str, available: Step, ohms: Step, volts: Step) -> Step:
    """What is left of a fault current at the end of the conductors."""
    drop = work.product(
        f"{words}: drop at that current, there and back", [Step("both ways", 2, ""), available, ohms], "V"
    )
    f = work.quotient(f"{words}: f", drop, volts, "")
    divisor = work.total(f"{words}: 1 + f", [Step("one", 1, ""), f], "")
    return work.quotient(words, available, divisor, "A")


def _ohms(
    work: Working, conductors: Entry, length: Step, steel: bool, codebook: Codebook, impedance: bool = False
) -> Step:
    """Resistance weighed with the reactance for the load, or the impedance, of one leg over its length [Ω]."""
    one = picked(conductors)
    row = codebook.table("conductor").row("size", one.size) if one else None
    if one is None or row is None:
        work.entry_step(conductors)
        return Step("ohms", None, "Ω")
    per_kft = _per_kft(work, one, row, steel, codebook, impedance)
    kft = work.quotient("in thousands of feet", length, Step("", 1000, "ft/1000 ft"), "1000 ft")
    ohms = work.product("over the length", [per_kft, kft], "Ω")
    if one.sets == 1:
        return ohms
    return work.quotient("shared by those in parallel", ohms, work.given("in parallel", one.sets), "Ω")


def _per_kft(
    work: Working, one: Conductors, row: dict[str, str], steel: bool, codebook: Codebook, impedance: bool
) -> Step:
    """One conductor over 1000 ft [Ω/1000 ft]."""
    words, cites = size_text(one.size, one.metal), (codebook.table("conductor").cite,)
    resistance = row[f"{one.metal}_ohm_per_kft"]
    reactance = row["reactance_steel_ohm_per_kft" if steel else "reactance_ohm_per_kft"]
    r, x = float(resistance or 0), float(reactance or 0)
    known = bool(resistance and reactance)
    work.take(Step(f"{words}: resistance", r if resistance else None, "Ω/1000 ft", cites=cites))
    work.take(Step(f"{words}: reactance", x if reactance else None, "Ω/1000 ft", cites=cites))
    if impedance:
        return work.take(Step("impedance", math.hypot(r, x) if known else None, "Ω/1000 ft", "√(R² + X²)"))
    value = r * POWER_FACTOR + x * math.sqrt(1 - POWER_FACTOR**2)
    how = f"cos φ {POWER_FACTOR:g}"
    return work.take(Step("R cos φ + X sin φ", value if known else None, "Ω/1000 ft", how))


def _service_length(work: Working, job: Job, field: str) -> Step:
    words = "length to the panel, one way" if field == "length_ft" else "length to the meter, one way"
    return work.given(words, _positive(getattr(job.service_run, field)), "ft", Place.of("service_run", field))


def _feeder_length(work: Working, panel: Panel) -> Step:
    place = place_of(panel, "length_ft")
    return work.given("length of the feeder, one way", _positive(panel.length_ft), "ft", place)


def _in_steel(job: Job) -> bool:
    return job.raceway in _STEEL


def _positive(value: float | None) -> float | None:
    return value if value is not None and value > 0 else None
