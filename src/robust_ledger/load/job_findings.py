"""What is odd in the choices around the load calculation: method, energy management, supply, local rules and futures."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.codebook.local import AMENDABLE, Amendment, fault
from robust_ledger.job.parts.house import LoadKind, When
from robust_ledger.ledger.entry import Finding, Severity
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place
from robust_ledger.load.climate import partner_of
from robust_ledger.load.general import LoadInputs
from robust_ledger.load.methods import NAMES, Method
from robust_ledger.load.nameplates import present

STAGE = "load"


def job_findings(inputs: LoadInputs, chosen: Method) -> Iterator[Finding]:
    """Findings about what was chosen, not about single loads."""
    make = Findings(STAGE, inputs.codebook, STAGE).make
    if not chosen.open:
        title = f"{NAMES[chosen.name]} is not allowed for this job"
        remedy = "Use a method that is allowed, or correct what it requires."
        yield make(
            "method",
            Severity.FIX,
            at=Place("decisions:load_method"),
            title=title,
            text=f"{chosen.why}.",
            remedy=remedy,
            cites=chosen.state.cites,
        )
    yield from _management(inputs, chosen)
    yield from _interlocks(inputs)
    yield from _supply(inputs)
    yield from _local_rules(inputs)
    yield from _futures(inputs)


def _management(inputs: LoadInputs, chosen: Method) -> Iterator[Finding]:
    make = Findings(STAGE, inputs.codebook, STAGE).make
    job, codebook = inputs.job, inputs.codebook
    marked = [load for load in present(job.loads) if load.managed]
    cites = (codebook.cite("management"),)
    setpoint_a = job.management.setpoint_a
    if not marked:
        return
    if setpoint_a is None or setpoint_a <= 0:
        names = ", ".join(load.name for load in marked)
        text = f"{names}: marked as held back, but the system has no set point, so all count in full."
        remedy = "Enter the set point of the energy management system, or take the mark off."
        yield make(
            "setpoint",
            Severity.ASK,
            at=Place("management:setpoint_a"),
            title="No set point given",
            text=text,
            remedy=remedy,
            cites=cites,
        )
        return
    for load in marked:
        if load not in inputs.managed:
            title = f"{load.name} counts in full"
            text = f"Edition {job.edition} lets a set point stand for vehicle charging only."
            remedy = "Take the mark off, or use an edition that allows it."
            yield make(
                f"managed:{load.id}",
                Severity.NOTE,
                at=Place.load(load.id),
                title=title,
                text=text,
                remedy=remedy,
                cites=cites,
            )
    if inputs.managed and "counted without" in chosen.calculation.practice:
        counts = f"{setpoint_a:g} A × {inputs.line_volts.amount:g} V × 125%"
        yield make(
            "setpoint_idle",
            Severity.NOTE,
            at=Place("management:setpoint_a"),
            title=f"Set point {setpoint_a:g} A saves nothing here",
            text=f"By this calculation what it holds back counts for less than {counts}: it is counted without the system.",
            remedy="A lower set point would count; the system may stay for the branch circuits.",
            cites=cites,
        )
    plates = inputs.plates(inputs.managed)
    drawn_a = sum(p.amount for p in plates if p.known) / inputs.line_volts.amount
    if plates and all(p.known for p in plates) and setpoint_a > drawn_a:
        title = f"Set point {setpoint_a:g} A holds nothing back"
        text = f"All that it controls draws {drawn_a:.0f} A at most: the set point allows more. They count without it."
        remedy = "Lower the set point, or take the marks off."
        yield make(
            "setpoint_high",
            Severity.ASK,
            at=Place("management:setpoint_a"),
            title=title,
            text=text,
            remedy=remedy,
            cites=cites,
        )


def _supply(inputs: LoadInputs) -> Iterator[Finding]:
    make = Findings(STAGE, inputs.codebook, STAGE).make
    if inputs.job.dwelling.supply == "120/240":
        return
    names = [load.name for load in inputs.every if load.nameplate.volts >= 220]
    if names:
        text = (
            f"{', '.join(names)}: counted at the nameplate's own voltage, while this supply has 208 V between its legs."
        )
        remedy = "See whether each is made for 208 V; heaters then give three quarters of their rating."
        title = "Rated for 240 V on a 208 V supply"
        yield make(
            "supply",
            Severity.NOTE,
            at=Place("dwelling:supply"),
            title=title,
            text=text,
            remedy=remedy,
            rules=("neutral_wye",),
        )


def _local_rules(inputs: LoadInputs) -> Iterator[Finding]:
    make = Findings(STAGE, inputs.codebook, STAGE).make
    plain = load_codebook(inputs.job.edition)
    for rule in inputs.job.local_rules:
        if why := fault(Amendment(rule.key, rule.value, rule.section), plain):
            words = AMENDABLE[rule.key].words if rule.key in AMENDABLE else rule.key
            title = f"Local amendment not used: {words}"
            text = f"{why} The edition's own figure is used."
            yield make(
                f"local:{rule.key}",
                Severity.FIX,
                at=Place("local_rules"),
                title=title,
                text=text,
                remedy="Correct or delete the local amendment.",
            )


def _interlocks(inputs: LoadInputs) -> Iterator[Finding]:
    """Supplemental heat that is interlocked, in a house with several heat pumps, and nobody has said with which."""
    make = Findings(STAGE, inputs.codebook, STAGE).make
    pumps = [load for load in inputs.every if load.kind is LoadKind.HEAT_PUMP]
    for strip in inputs.every:
        locked = strip.kind is LoadKind.SUPPLEMENTAL_HEAT and strip.interlocked
        if not locked or partner_of(strip, pumps):
            continue
        several = len(pumps) > 1
        yield make(
            f"interlock:{strip.id}",
            Severity.ASK,
            at=Place.load(strip.id),
            title=f"{strip.name}: interlocked with which heat pump?"
            if several
            else f"{strip.name}: interlocked, without a heat pump",
            text="Counted as running beside all of them until it is said."
            if several
            else "Counted as heat of its own.",
            remedy="Choose its heat pump." if several else "Enter the heat pump, or take the mark off.",
            rules=("optional_climate",),
        )


def _futures(inputs: LoadInputs) -> Iterator[Finding]:
    make = Findings(STAGE, inputs.codebook, STAGE).make
    job = inputs.job
    for future in job.futures:
        place = Place.of("future", future.id)
        for load_id in dict.fromkeys((*future.load_ids, *future.removes)):
            load = job.load(load_id)
            title = ""
            if load is None:
                title, text = f'{future.name}: "{load_id}" is no load', "It names a load that is not in the house."
            elif load_id in future.load_ids and load.when is not When.LATER:
                title, text = f"{future.name}: {load.name} is not a later one", "It counts with this job already."
            elif load_id in future.removes and load.when is When.REMOVED:
                title, text = f"{future.name}: {load.name} goes already", "It is taken out with this job."
            if title:
                remedy = "Take it out of the future, or change when the load comes."
                yield make(
                    f"future:{future.id}:{load_id}", Severity.ASK, at=place, title=title, text=text, remedy=remedy
                )
        if future.without_load:
            yield make(
                f"future_load:{future.id}",
                Severity.ASK,
                at=place,
                title=f"{future.name}: circuits, but no load",
                text="Spaces are reserved for it; what it draws is not entered, so whether it fits is not known.",
                remedy='Add its loads in the house as "later", and take them into this future.',
            )
    chargers = [x for x in present(job.loads) if x.kind is LoadKind.EV_CHARGER]
    if job.decisions.ev_practice == "continuous" and chargers:
        text = "Charging counts at 125% in the service load too, as some jurisdictions require."
        remedy = "Change the practice if yours does not require it."
        cites = inputs.codebook.step("ev_continuous").cites
        yield make(
            "ev_practice",
            Severity.NOTE,
            at=Place("decisions:ev_practice"),
            title="Charging at 125%",
            text=text,
            remedy=remedy,
            cites=cites,
        )
