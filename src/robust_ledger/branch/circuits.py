"""From the old circuits and the new loads to the list of branch circuits for the new panel."""

from __future__ import annotations

from robust_ledger.branch.breaker import existing_breaker, new_circuit
from robust_ledger.branch.model import Branch, Origin
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import size_text
from robust_ledger.job.models import Circuit, Future, Job, Load, Mark, When
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.working import Working
from robust_ledger.load.tape import Calculation


def branches(job: Job, plates: dict[str, Entry], calculation: Calculation, codebook: Codebook) -> list[Branch]:
    """Every circuit of the new panel: kept ones by tag, then circuits for added loads, then futures.

    `plates` are the nameplates by load id; `calculation` tells what part of them counts, and the general load that is
    spread over the circuits that feed no listed load. So the legs together carry what was calculated.
    """
    breakers = {c.tag: existing_breaker(c, loads_of(job, c), plates, codebook) for c in job.circuits}
    shares = _general_circuits(job, breakers)
    result = []
    for circuit in job.circuits:
        wire = Working(f"branch.wire.tag:{circuit.tag}", f"Tag {circuit.tag}: wire", f"circuit:{circuit.tag}")
        size = size_text(circuit.gauge, circuit.metal) if circuit.gauge else None
        result.append(
            Branch(
                f"tag:{circuit.tag}",
                str(circuit.tag),
                circuit.feeds,
                circuit.room,
                circuit.poles,
                breakers[circuit.tag],
                wire.entry(wire.given("wire gauge as found", size, "", wire.place)),
                _expected(job, circuit, plates, calculation, breakers, shares),
                Origin.EXISTING,
                circuit.off,
                partner_key(job, circuit),
                Mark.LATER_120 in circuit.marks,
            )
        )
    fed, kept_free = job.fed_loads, reserved_loads(job)
    for load in job.loads:
        if load.id not in fed and (load.when is When.ADDED or load.id in kept_free):
            result.append(_new_branch(load, plates[load.id], calculation, codebook))
    for future in job.futures:
        result += _future_circuits(future) if future.reserve else []
    result.sort(key=lambda b: b.origin is Origin.FUTURE)
    return result


def loads_of(job: Job, circuit: Circuit) -> list[Load]:
    """The listed loads a circuit feeds with this job, each once: without ids that name none, loads that go and those
    that come later."""
    listed = [load for load_id in dict.fromkeys(circuit.load_ids) if (load := job.load(load_id))]
    return [load for load in listed if load.when in (When.EXISTING, When.ADDED)]


def names_loads(job: Job, circuit: Circuit) -> bool:
    """Whether a circuit is for listed loads, be it that they go with this job; else it carries general load."""
    return any(job.load(load_id) for load_id in circuit.load_ids)


def reserved_loads(job: Job) -> set[str]:
    """Loads marked «later» that spaces are kept free for: those of futures that reserve, and those of none."""
    reserving = {load_id for future in job.futures if future.reserve for load_id in future.load_ids}
    named = {load_id for future in job.futures for load_id in future.load_ids}
    return {x.id for x in job.loads if x.when is When.LATER and (x.id in reserving or x.id not in named)}


def _future_circuits(future: Future) -> list[Branch]:
    """The circuits of a future that are no load of their own, as reserved spaces."""
    made = []
    for number, circuit in enumerate(future.circuits, 1):
        name = f"future:{future.id}.{number}"
        place = f"future:{future.id}"
        work = Working(f"branch.breaker.{name}", f"{circuit.name}: breaker", place)
        breaker = work.entry(work.given("as entered for the future", circuit.breaker_a, "A", place))
        work = Working(f"branch.wire.{name}", f"{circuit.name}: wire", place)
        wire = work.entry(work.given("chosen when the future comes", None, "", place))
        work = Working(f"branch.expected.{name}", f"{circuit.name}: expected", place)
        expected = work.entry(work.take(Step("not there yet", 0.0, "VA")))
        made.append(Branch(name, "new", circuit.name, "", circuit.poles, breaker, wire, expected, Origin.FUTURE))
    return made


def partner_key(job: Job, circuit: Circuit) -> str:
    """The circuit whose neutral this one shares, from whichever side it was written down; "" for none or an odd one."""
    other = circuit.shares_neutral_with
    if other is None:
        other = next((c.tag for c in job.circuits if c.shares_neutral_with == circuit.tag), None)
    partner = job.circuit(other) if other is not None else None
    if partner is None or partner.tag == circuit.tag or circuit.poles + partner.poles != 2:
        return ""
    if partner.shares_neutral_with not in (None, circuit.tag) or circuit.off or partner.off:
        return ""
    return f"tag:{partner.tag}"


def _new_branch(load: Load, plate: Entry, calculation: Calculation, codebook: Codebook) -> Branch:
    breaker, wire = new_circuit(load, plate, codebook)
    work = Working(f"branch.expected.load:{load.id}", f"{load.name}: expected", f"load:{load.id}")
    expected = work.entry(_counted(work, load, plate, calculation))
    origin = Origin.FUTURE if load.when is When.LATER else Origin.NEW
    return Branch(f"load:{load.id}", "new", load.name, load.room, load.poles, breaker, wire, expected, origin)


def _general_circuits(job: Job, breakers: dict[int, Entry]) -> float:
    """Sum of the breaker ratings [A] of the 120 V circuits that feed no listed load."""
    return sum(
        breakers[c.tag].amount
        for c in job.circuits
        if c.poles == 1 and not c.off and not names_loads(job, c) and breakers[c.tag].known
    )


def _expected(
    job: Job,
    circuit: Circuit,
    plates: dict[str, Entry],
    calculation: Calculation,
    breakers: dict[int, Entry],
    shares_a: float,
) -> Entry:
    """What a circuit is expected to carry [VA], for the balance of the legs: its listed loads as far as the calculation
    counts them; else its share of the general load by breaker rating; nothing for a 240 V circuit without a load."""
    key = f"tag:{circuit.tag}"
    work = Working(f"branch.expected.{key}", f"Tag {circuit.tag}: expected", f"circuit:{circuit.tag}")
    breaker, loads = breakers[circuit.tag], loads_of(job, circuit)
    if circuit.off:
        return work.entry(work.take(Step("capped", 0.0, "VA")))
    if loads:
        return work.entry(
            work.total("its loads", [_counted(work, load, plates[load.id], calculation) for load in loads], "VA")
        )
    if names_loads(job, circuit):
        return work.entry(work.take(Step("its loads go with this job, or come later", 0.0, "VA")))
    if circuit.poles == 2:
        return work.entry(work.take(Step("240 V circuit without a listed load: loads both legs alike", 0.0, "VA")))
    rating = work.entry_step(breaker)
    whole = work.entry_step(calculation.general)
    together = work.given("breakers of all circuits without a listed load", shares_a or None, "A")
    share = work.quotient("its share", rating, together, "")
    return work.entry(work.product("expected", [whole, share], "VA"))


def _counted(work: Working, load: Load, plate: Entry, calculation: Calculation) -> Step:
    """A load's nameplate times the part of it that the calculation counts; futures and what cannot run together: none."""
    step = work.entry_step(plate)
    factor = calculation.factors.get(load.id)
    if factor is None:
        return work.take(Step("not counted in the calculation", 0.0, "VA"))
    return work.product(f"{load.name}, counted", [step, work.take(factor)], "VA")
