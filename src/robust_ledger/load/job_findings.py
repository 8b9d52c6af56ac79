"""What is odd in the choices around the load calculation: method, energy management, supply, local rules and futures."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.codebook.local import AMENDABLE, Amendment, fault
from robust_ledger.findings import Findings
from robust_ledger.job.parts.house import LoadKind, When
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.place import Place
from robust_ledger.load.climate import partner_of
from robust_ledger.load.general import LoadInputs
from robust_ledger.load.methods import NAMES, Method
from robust_ledger.load.nameplates import present

STAGE = "load"


def job_findings(inputs: LoadInputs, chosen: Method) -> Iterator[Finding]:
    """Findings about what was chosen, not about single loads."""
    find = Findings(inputs.codebook, STAGE).find
    if not chosen.open:
        yield find(
            "load.method",
            at=Place("decisions:load_method"),
            cites=chosen.state.cites,
            method=NAMES[chosen.name],
            why=chosen.why,
        )
    yield from _management(inputs, chosen)
    yield from _interlocks(inputs)
    yield from _supply(inputs)
    yield from _local_rules(inputs)
    yield from _futures(inputs)


def _management(inputs: LoadInputs, chosen: Method) -> Iterator[Finding]:
    find = Findings(inputs.codebook, STAGE).find
    job = inputs.job
    marked = [load for load in present(job.loads) if load.managed]
    setpoint_a = job.management.setpoint_a
    if not marked:
        return
    if setpoint_a is None or setpoint_a <= 0:
        names = ", ".join(load.name for load in marked)
        yield find("load.setpoint", at=Place("management:setpoint_a"), names=names)
        return
    for load in marked:
        if load not in inputs.managed:
            yield find("load.managed", at=Place.load(load.id), of=load.id, load=load.name, edition=job.edition)
    if chosen.calculation.set_point_idle:
        yield find(
            "load.setpoint_idle",
            at=Place("management:setpoint_a"),
            setpoint_a=setpoint_a,
            line_v=inputs.line_volts.amount,
        )
    plates = inputs.plates(inputs.managed)
    drawn_a = sum(p.amount for p in plates if p.known) / inputs.line_volts.amount
    if plates and all(p.known for p in plates) and setpoint_a > drawn_a:
        yield find("load.setpoint_high", at=Place("management:setpoint_a"), setpoint_a=setpoint_a, drawn_a=drawn_a)


def _supply(inputs: LoadInputs) -> Iterator[Finding]:
    find = Findings(inputs.codebook, STAGE).find
    if inputs.job.dwelling.supply == "120/240":
        return
    names = [load.name for load in inputs.every if load.nameplate.volts >= 220]
    if names:
        yield find("load.supply", at=Place("dwelling:supply"), names=", ".join(names))


def _local_rules(inputs: LoadInputs) -> Iterator[Finding]:
    find = Findings(inputs.codebook, STAGE).find
    plain = load_codebook(inputs.job.edition)
    for rule in inputs.job.local_rules:
        if why := fault(Amendment(rule.key, rule.value, rule.section), plain):
            words = AMENDABLE[rule.key].words if rule.key in AMENDABLE else rule.key
            yield find("load.local", at=Place("local_rules"), of=rule.key, words=words, why=why)


def _interlocks(inputs: LoadInputs) -> Iterator[Finding]:
    """Supplemental heat that is interlocked, in a house with several heat pumps, and nobody has said with which."""
    find = Findings(inputs.codebook, STAGE).find
    pumps = [load for load in inputs.every if load.kind is LoadKind.HEAT_PUMP]
    for strip in inputs.every:
        locked = strip.kind is LoadKind.SUPPLEMENTAL_HEAT and strip.interlocked
        if not locked or partner_of(strip, pumps):
            continue
        several = len(pumps) > 1
        yield find("load.interlock", at=Place.load(strip.id), of=strip.id, several=several, strip=strip.name)


def _futures(inputs: LoadInputs) -> Iterator[Finding]:
    find = Findings(inputs.codebook, STAGE).find
    job = inputs.job
    for future in job.futures:
        place = Place.of("future", future.id)
        for load_id in dict.fromkeys((*future.load_ids, *future.removes)):
            load = job.load(load_id)
            of = f"{future.id}:{load_id}"
            if load is None:
                yield find("load.future_unlisted", at=place, of=of, future=future.name, load_id=load_id)
            elif load_id in future.load_ids and load.when is not When.LATER:
                yield find("load.future_now", at=place, of=of, future=future.name, load=load.name)
            elif load_id in future.removes and load.when is When.REMOVED:
                yield find("load.future_gone", at=place, of=of, future=future.name, load=load.name)
        if future.without_load:
            yield find("load.future_load", at=place, of=future.id, future=future.name)
    chargers = [x for x in present(job.loads) if x.kind is LoadKind.EV_CHARGER]
    if job.decisions.ev_practice == "continuous" and chargers:
        cites = inputs.codebook.step("ev_continuous").cites
        yield find("load.ev_practice", at=Place("decisions:ev_practice"), cites=cites)
