"""What is wrong, unknown or worth knowing about each circuit as found."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.branch.ampacity import at_best, wire_limit
from robust_ledger.branch.breaker import exception_a, wire_carries
from robust_ledger.branch.circuits import conditions_of_circuit, loads_of, names_loads, renewed
from robust_ledger.branch.demand import MACHINES, Demand, load_demand
from robust_ledger.branch.found_wiring import (
    bare_neutral_findings,
    gone_findings,
    knob_tube_findings,
    no_ground_findings,
)
from robust_ledger.branch.links import proposed
from robust_ledger.branch.new_cable import not_possible
from robust_ledger.branch.old_panel import in_fuses
from robust_ledger.branch.serves import serves
from robust_ledger.branch.subject import STAGE, of_circuit
from robust_ledger.branch.three_wire import three_wire_findings
from robust_ledger.branch.wiring import wiring_findings
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import is_standard_rating, sizes
from robust_ledger.findings import Findings
from robust_ledger.job.conductors import size_text
from robust_ledger.job.devices import FOUND
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.parts.house import Load, When
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working

SMALL = ("14", "12", "10")
MOTORS = ("air conditioner", "heat pump", "well pump", "pool pump", "shop tool", "welder", "garage door")


def circuit_findings(job: Job, plates: dict[str, Entry], codebook: Codebook) -> Iterator[Finding]:
    """Findings of the Pull-off stage, circuit by circuit."""
    for circuit in job.circuits:
        about = of_circuit(circuit, codebook)
        yield from _wire(job, circuit, plates, codebook, about)
        yield from _voltage(job, circuit, about)
        yield from _marks(circuit, about)
        yield from bare_neutral_findings(job, circuit, about)
        yield from three_wire_findings(job, circuit, about)
        yield from no_ground_findings(job, circuit, about)
        yield from knob_tube_findings(circuit, about)
        yield from gone_findings(job, circuit, about)
        yield from _contradictions(circuit, about)
        yield from wiring_findings(circuit, in_fuses(job, circuit), renewed(job, circuit), codebook, about)
        yield from _shared_neutral(circuit, job, about)
        for load_id in dict.fromkeys(circuit.load_ids):
            if job.load(load_id) is None:
                yield about.find("branch.load", of=load_id, load_id=load_id)
        yield from _chosen(job, circuit, plates, codebook, about)
        if circuit.poles == 2 and not circuit.off and not names_loads(job, circuit):
            near = proposed(job, circuit)
            words = f" Its words name {near.name}." if near else ""
            yield about.find("branch.no_load", words=words)
    find = Findings(codebook, STAGE).find
    for load in job.loads:
        key = CircuitKey.of_load(load.id)
        chosen = job.change(key).breaker_a
        if chosen is not None and load.when is When.ADDED and load.id not in job.fed_loads:
            demand = load_demand(Working.trial(), [load], plates, codebook)
            if why := not_possible(chosen, demand, codebook):
                yield find(
                    "branch.breaker_chosen_new",
                    at=Place.branch(key),
                    of=load.id,
                    load=load.name,
                    chosen=chosen,
                    why=why,
                )
        feeding = [str(c.tag) for c in job.circuits if load.id in c.load_ids and not c.off]
        if len(feeding) > 1:
            yield find(
                "branch.fed_twice", at=Place.load(load.id), of=load.id, load=load.name, tags=" and ".join(feeding)
            )
        if load.when is When.EXISTING and not feeding and job.circuits:
            yield find("branch.no_circuit", at=Place.load(load.id), of=load.id, load=load.name)


def _wire(
    job: Job, circuit: Circuit, plates: dict[str, Entry], codebook: Codebook, about: Findings
) -> Iterator[Finding]:
    """Gauge against breaker, breaker against the standard ratings, wire against its load."""
    if circuit.off:
        return
    if circuit.breaker_a is None:
        yield about.find("branch.breaker_unknown")
    elif not is_standard_rating(codebook, circuit.breaker_a):
        yield about.find("branch.breaker_rating", breaker_a=circuit.breaker_a)
    if circuit.gauge is None:
        yield about.find("branch.gauge_unknown")
        return
    lies = conditions_of_circuit(job, circuit)
    limit = wire_limit(Working.trial(), circuit.gauge, circuit.metal, lies, codebook)
    if not limit.known:
        known = ", ".join((*sizes(codebook)[:6], "…", sizes(codebook)[-1]))
        yield about.find("branch.gauge_size", wire=size_text(circuit.gauge, circuit.metal), known=known)
        return
    if renewed(job, circuit):  # a new cable: what the old wire allows is of no matter
        return
    loads = loads_of(job, circuit)
    demand = load_demand(Working.trial(), loads, plates, codebook)
    excepted = exception_a(circuit, lies, demand, codebook)
    wire, found = size_text(circuit.gauge, circuit.metal), circuit.breaker_a
    if found and found > (excepted or limit.amount):
        better_a, open_ = at_best(lies, circuit.gauge, circuit.metal, codebook)
        if not excepted and better_a is not None and better_a >= found and open_:
            yield _not_checked(about, circuit, limit.amount, better_a, open_)
        else:
            yield _too_large(job, about, circuit, loads, demand, excepted, limit.amount)
    if demand is None or not demand.needed.known:
        return
    needed, carries = demand.needed, wire_carries(circuit, lies, codebook)
    if carries is not None and needed.amount > carries + 1e-9:
        yield about.find("branch.wire_for_load", wire=wire, needed=needed, carries=carries)
    elif found and demand.mocp_a is not None and demand.rule == "hvac_breaker" and found < needed.amount:
        yield about.find("branch.below_mca", found=found, amount=needed.amount, mocp_a=demand.mocp_a)


def _chosen(
    job: Job, circuit: Circuit, plates: dict[str, Entry], codebook: Codebook, about: Findings
) -> Iterator[Finding]:
    """A breaker chosen for a new cable that cannot be: no standard size, below the load, or more than a machine allows."""
    chosen = job.change(CircuitKey.of_tag(circuit.tag)).breaker_a
    if chosen is None or not renewed(job, circuit):
        return
    demand = load_demand(Working.trial(), loads_of(job, circuit), plates, codebook)
    if why := not_possible(chosen, demand, codebook):
        yield about.find(
            "branch.breaker_chosen", at=Place.branch(CircuitKey.of_tag(circuit.tag)), chosen=chosen, why=why
        )


def _not_checked(about: Findings, circuit: Circuit, limit_a: float, better_a: float, open_: str) -> Finding:
    """A breaker that its wire allows or not, by what was not looked at."""
    wire = size_text(circuit.gauge or "", circuit.metal)
    return about.find(
        "branch.wire_not_checked",
        wire=wire,
        breaker_a=circuit.breaker_a,
        limit_a=limit_a,
        better_a=better_a,
        open_=open_,
    )


def _machine_named(job: Job, circuit: Circuit) -> str:
    """A motor or compressor that a circuit's words alone name: its breaker may be larger than its wire's by its nameplate [430.52, 440.22]."""
    named = serves(circuit.feeds, circuit.room, (), job.change(CircuitKey.of_tag(circuit.tag)), job.conventions.own)
    return next((name for name in MOTORS if name in named.appliances), "")


def _too_large(
    job: Job,
    about: Findings,
    circuit: Circuit,
    loads: list[Load],
    demand: Demand | None,
    excepted: float | None,
    limit_a: float,
) -> Finding:
    """A breaker larger than its wire allows: by the nameplate, not known while a machine's was not read, or a fault."""
    wire, found = size_text(circuit.gauge or "", circuit.metal), circuit.breaker_a
    if excepted and demand is not None:
        return about.find(
            "branch.mocp",
            rules=("hvac_nameplate", "hvac_breaker") if demand.rule == "hvac_breaker" else (demand.rule,),
            found=found,
            limit_words=demand.limit_words,
            excepted=excepted,
            mocp_a=demand.mocp_a,
        )
    machine = next((load for load in loads if load.kind in MACHINES and load.two_hots), None)
    if machine is not None and len(loads) == 1 and machine.machine_figures is None:
        return about.find("branch.machine_breaker", found=found, wire=wire, machine=machine.name, limit_a=limit_a)
    if not loads and (named := _machine_named(job, circuit)):
        return about.find("branch.machine_breaker", found=found, wire=wire, machine=f"the {named}", limit_a=limit_a)
    return about.find(
        "branch.wire_on_breaker",
        rules=("small_conductors" if circuit.gauge in SMALL else "ampacity", "specific_loads"),
        wire=wire,
        found=found,
        limit_a=limit_a,
    )


def _voltage(job: Job, circuit: Circuit, about: Findings) -> Iterator[Finding]:
    """A 240 V load wants two poles, a 120 V load one; a range or dryer with a neutral is a 240 V load."""
    for load in loads_of(job, circuit):
        if load.poles != circuit.poles and not circuit.off:
            yield about.find(
                "branch.poles",
                of=load.id,
                two_poles=circuit.poles > 1,
                load=load.name,
                poles=circuit.poles,
                volts=load.nameplate.volts,
                load_poles=load.poles,
            )


def _contradictions(circuit: Circuit, about: Findings) -> Iterator[Finding]:
    """Two things said of a circuit that cannot both be; until one is taken back the safer of them counts."""
    if circuit.guarded == "none" and circuit.device in FOUND:
        yield about.find("branch.protected_or_not", found=str(FOUND[circuit.device]))
    if Mark.BARE_NEUTRAL in circuit.marks and circuit.conductors in (3, 4):
        yield about.find("branch.neutral_bare_or_not", wires=circuit.conductors)


def _marks(circuit: Circuit, about: Findings) -> Iterator[Finding]:
    if Mark.CAPPED in circuit.marks:
        yield about.find("branch.capped")
    if Mark.WHITE_HOT in circuit.marks:
        yield about.find("branch.white_hot")
    if Mark.DARK_NEUTRAL in circuit.marks:
        yield about.find("branch.dark_neutral")
    if Mark.FOUND_OFF in circuit.marks and not circuit.off:
        yield about.find("branch.found_off")
    if Mark.UNKNOWN in circuit.marks or (not circuit.feeds and not circuit.off):
        yield about.find("branch.unknown")


def _shared_neutral(circuit: Circuit, job: Job, about: Findings) -> Iterator[Finding]:
    other = circuit.shares_neutral_with
    if other is None:
        return
    partner = job.circuit(other)
    if partner is None:
        yield about.find("branch.neutral_partner", other=other)
    elif partner.tag == circuit.tag:
        yield about.find("branch.neutral_self")
    elif partner.shares_neutral_with not in (None, circuit.tag):
        yield about.find("branch.neutral_ring", other=other, shares_neutral_with=partner.shares_neutral_with)
    elif circuit.off or partner.off:
        yield about.find("branch.neutral_off", other=other)
    elif circuit.poles + partner.poles != 2:
        yield about.find("branch.neutral_poles", other=other)
