"""The breaker a kept circuit gets: what was found, as far as its wire and its loads allow [240.4, 430.52, 440.22]."""

from __future__ import annotations

from functools import lru_cache

from robust_ledger.branch.ampacity import WiringConditions, carries_a, column, wire_limit
from robust_ledger.branch.demand import Demand, limit_of, load_demand
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import next_rating_a, sound_rating_a
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.house import Load
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working


def existing_breaker(
    circuit: Circuit,
    wiring_conditions: WiringConditions,
    loads: list[Load],
    plates: dict[str, Entry],
    codebook: Codebook,
) -> Entry:
    """The breaker a kept circuit gets: what was found, unless the wire allows less or the load needs and the wire
    allows more. A machine, motor or welder may allow more than the wire's own limit [240.4(G)]."""
    return (
        _kept(circuit, wiring_conditions, loads, plates, codebook)
        if loads
        else _without_loads(circuit, wiring_conditions, codebook)
    )


@lru_cache(maxsize=4096)
def _without_loads(circuit: Circuit, wiring_conditions: WiringConditions, codebook: Codebook) -> Entry:
    """The same circuit as with the keystroke before, mostly."""
    return _kept(circuit, wiring_conditions, [], {}, codebook)


def _kept(
    circuit: Circuit,
    wiring_conditions: WiringConditions,
    loads: list[Load],
    plates: dict[str, Entry],
    codebook: Codebook,
) -> Entry:
    key = CircuitKey.of_tag(circuit.tag)
    work = Working(f"branch.breaker.{key}", f"Tag {circuit.tag}: breaker", Place.circuit(circuit.tag))
    if circuit.off:
        return work.entry(work.note("capped: no breaker", "none"))
    if circuit.gauge is None:
        return work.entry(work.given("wire gauge", None, "", work.place))
    limit = wire_limit(work, circuit.gauge, circuit.metal, wiring_conditions, codebook)
    if not limit.known:
        return work.entry(limit)
    found = sound_rating_a(codebook, circuit.breaker_a)
    work.take(
        Step("breaker found", circuit.breaker_a or "not read", "A" if circuit.breaker_a else "", place=work.place)
    )
    demand = load_demand(work, loads, plates, codebook)
    excepted = exception_a(circuit, wiring_conditions, demand, codebook)
    if demand is not None and excepted:
        rating = (demand.usual_a or excepted) if found is None else min(found, excepted)
        cite = (codebook.cite("specific_loads"), codebook.cite(demand.rule))
        return work.entry(work.take(Step(f"breaker in plan, by {demand.limit_words}", rating, "A", cites=cite)))
    work.note("exception by its load", "none", [codebook.cite("specific_loads")])
    wanted = next_rating_a(codebook, demand.needed.amount) if demand and demand.needed.known else None
    rating = min(limit.amount, max(found or 0, wanted or 0) or limit.amount)
    return work.entry(work.take(Step("breaker in plan", rating, "A", cites=limit.cites)))


def wire_carries(circuit: Circuit, wiring_conditions: WiringConditions, codebook: Codebook) -> float | None:
    """Ampacity of the wire found [A]; None where its size is not known."""
    if circuit.gauge is None:
        return None
    return carries_a(circuit.gauge, circuit.metal, column(wiring_conditions, circuit.gauge, codebook)[0], codebook)


def exception_a(
    circuit: Circuit, wiring_conditions: WiringConditions, demand: Demand | None, codebook: Codebook
) -> float | None:
    """The breaker [A] that a machine, motor or welder allows on this wire beyond the wire's own limit; None where it sets none."""
    return (
        limit_of(demand, wire_carries(circuit, wiring_conditions, codebook), codebook) if demand is not None else None
    )
