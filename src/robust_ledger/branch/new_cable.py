"""New cables: breaker and copper size from the load, in the sizes people install, by the job's wiring method."""

from __future__ import annotations

from collections.abc import Sequence

from robust_ledger.branch.ampacity import WiringConditions, carries_a, column, new_conditions, wire_limit
from robust_ledger.branch.demand import Demand, limit_of, load_demand
from robust_ledger.branch.serves import serves
from robust_ledger.branch.vocabulary import OwnWords
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import (
    is_standard_rating,
    next_rating_a,
    previous_rating_a,
    sizes,
    sound_rating_a,
)
from robust_ledger.job.conductors import Conductors, size_text
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.changes import KEPT
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.house import Load, LoadKind
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working

LEAST_A = 15.0  # a new circuit of less, possible from 2023 on, is for lights alone
_TWENTY = frozenset({"kitchen", "dining", "laundry", "bath"})  # whose receptacle circuits have 20 A


def new_circuit(job: Job, load: Load, plate: Entry, codebook: Codebook) -> tuple[Entry, Entry]:
    """Breaker [A] and copper cable for a load that gets a circuit of its own; both unknown when its rating is."""
    place, key = Place.load(load.id), CircuitKey.of_load(load.id)
    return _for_loads(job, key, load.name, place, [load], {load.id: plate}, codebook)


def renewed_circuit(
    job: Job, circuit: Circuit, loads: list[Load], plates: dict[str, Entry], codebook: Codebook
) -> tuple[Entry, Entry]:
    """Breaker [A] and copper cable of an old circuit that gets a new cable: from its loads; without any from the breaker found, 20 A
    where that was not read or the rooms ask for it."""
    place, key, name = Place.circuit(circuit.tag), CircuitKey.of_tag(circuit.tag), f"Tag {circuit.tag}"
    if loads:
        return _for_loads(job, key, name, place, loads, plates, codebook)
    work = Working(f"branch.breaker.{key}", f"{name}: breaker", place)
    found = sound_rating_a(codebook, circuit.breaker_a)
    rating = work.given("breaker found", found, "A", place) if found else work.take(Step("breaker found", "not read"))
    twenty_a = codebook.number("small_appliance_rating_a")
    least = (
        twenty_a
        if found is None or serves(circuit.feeds, circuit.room, (), KEPT, job.conventions.own).places & _TWENTY
        else 0.0
    )
    result = max(found or 0.0, least)
    if result != found:
        rating = work.take(
            Step("general circuit on a new cable", result, "A", cites=(codebook.cite("small_appliance_rating"),))
        )
    breaker = work.entry(_chosen(work, job, key, rating, None, codebook))
    return breaker, cable_entry(job, key, name, place, breaker, None, codebook)


def _for_loads(
    job: Job,
    key: CircuitKey,
    name: str,
    place: Place,
    loads: Sequence[Load],
    plates: dict[str, Entry],
    codebook: Codebook,
) -> tuple[Entry, Entry]:
    work = Working(f"branch.breaker.{key}", f"{name}: breaker", place)
    demand = load_demand(work, list(loads), plates, codebook)
    assert demand is not None
    rating = _rating(work, loads, demand, codebook, job.conventions.own)
    breaker = work.entry(_chosen(work, job, key, rating, demand, codebook))
    return breaker, cable_entry(job, key, name, place, breaker, demand, codebook)


def _rating(work: Working, loads: Sequence[Load], demand: Demand, codebook: Codebook, own: OwnWords) -> Step:
    """The breaker [A]: the largest a machine or motor allows, a welder's rated current, else the next standard size above the load, in
    the sizes such a circuit is put in with."""
    if demand.mocp_a is not None:
        largest = previous_rating_a(codebook, demand.mocp_a)
        rating = min(demand.usual_a, largest or demand.usual_a) if demand.usual_a is not None else largest
        return work.take(Step("breaker", rating, "A", cites=(codebook.cite(demand.rule),)))
    if not demand.needed.known:
        return work.take(Step("breaker", None, "A", cites=(codebook.cite("standard_ratings"),)))
    needed_a = demand.needed.amount
    rating = next_rating_a(codebook, needed_a)
    result = work.take(Step("next standard size", rating, "A", cites=(codebook.cite("standard_ratings"),)))
    usual = _usual_sizes(loads, codebook, own) or (LEAST_A,)
    put_in = next((size for size in usual if size >= needed_a - 1e-9), None)
    if put_in is not None and put_in != rating:
        result = work.take(Step("size such circuits are put in with", put_in, "A"))
    if put_in is not None and loads[0].kind is LoadKind.COOKING and (offered := [s for s in usual if s > put_in]):
        work.note("for a larger range later", f"{offered[0]:g} A is offered: choose that breaker")
    return result


def _usual_sizes(loads: Sequence[Load], codebook: Codebook, own: OwnWords) -> tuple[float, ...]:
    """The breakers [A] a circuit of its own for such a load is put in with; none where any size is."""
    if len(loads) != 1:
        return ()
    load, name = loads[0], loads[0].kind.value
    if load.kind in (LoadKind.APPLIANCE, LoadKind.PLUG_IN) and not load.two_hots:
        kitchen = serves(load.name, load.room, (load,), KEPT, own).places & {"kitchen", "dining"}
        name = "kitchen_appliance" if kitchen else name
    elif not load.two_hots or load.tankless:
        return ()
    row = codebook.table("usual_circuits").row("load", name)
    return tuple(float(word) for word in row["breakers_a"].split()) if row else ()


def _chosen(work: Working, job: Job, key: CircuitKey, rating: Step, demand: Demand | None, codebook: Codebook) -> Step:
    """The breaker the user has chosen instead, where it can be."""
    chosen = job.change(key).breaker_a
    if chosen is None or not rating.known or not_possible(chosen, demand, codebook):
        return rating
    return work.take(Step("breaker chosen", chosen, "A", place=Place.branch(key)))


def not_possible(chosen_a: float, demand: Demand | None, codebook: Codebook) -> str:
    """Why a breaker cannot be for a load; "" where it can."""
    if not is_standard_rating(codebook, chosen_a):
        return "no standard size"
    if demand is None or not demand.needed.known:
        return ""
    if chosen_a < demand.needed.amount - 1e-9:
        return f"its load needs {demand.needed.text()}"
    if demand.mocp_a is not None and chosen_a > demand.mocp_a:
        return f"{demand.limit_words} allows {demand.mocp_a:g} A"
    return ""


def cable_entry(
    job: Job, key: CircuitKey, name: str, place: Place, breaker: Entry, demand: Demand | None, codebook: Codebook
) -> Entry:
    """The smallest copper cable that carries the load and may have the breaker."""
    wire = Working(f"branch.wire.{key}", f"{name}: cable", place)
    rating = wire.entry_step(breaker)
    needed = wire.take(demand.needed) if demand is not None else rating
    if not (rating.known and needed.known):
        return wire.entry(wire.given("cable size", None))
    wiring_conditions = new_conditions(job)
    size = _cable_for(needed.amount if demand is not None else 0.0, rating.amount, demand, wiring_conditions, codebook)
    if size is None:
        return wire.entry(wire.given("cable size", None))
    column_c, why, rule = column(wiring_conditions, size, codebook)
    wire.note("temperature column", why, [codebook.cite(rule)])
    cites = (codebook.cite("ampacity"), codebook.cite(rule), codebook.cite("small_conductors"))
    wire.take(
        Step(f"{size_text(size, 'cu')} at {column_c} °C", carries_a(size, "cu", column_c, codebook), "A", cites=cites)
    )
    return wire.entry(wire.take(Step("smallest copper cable", Conductors(size, "cu"))), cites)


def _cable_for(
    needed_a: float, rating_a: float, demand: Demand | None, wiring_conditions: WiringConditions, codebook: Codebook
) -> str | None:
    """The smallest copper size that carries `needed_a` and may have a breaker of `rating_a`."""
    for size in sizes(codebook):
        ampacity = carries_a(size, "cu", column(wiring_conditions, size, codebook)[0], codebook)
        if ampacity is None or ampacity < needed_a - 1e-9:
            continue
        limit = wire_limit(Working.trial(), size, "cu", wiring_conditions, codebook)
        # A machine's nameplate and a welder may have more than the wire's own limit; a motor's cable is put in with its usual breaker.
        by_load = demand is not None and demand.rule != "motor_breaker" and demand.mocp_a is not None
        most_a = limit_of(demand, ampacity, codebook) if by_load and demand is not None else None
        if (limit.known and limit.amount >= rating_a) or (most_a is not None and most_a >= rating_a):
            return size
    return None
