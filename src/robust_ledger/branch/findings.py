"""What is wrong, unknown or worth knowing about each circuit as found."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.branch.ampacity import at_best, wire_limit
from robust_ledger.branch.breaker import exception_a, wire_carries
from robust_ledger.branch.circuits import loads_of, lying, names_loads, renewed
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
from robust_ledger.branch.subject import STAGE, of_circuit
from robust_ledger.branch.wiring import wiring_findings
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import is_standard_rating, sizes
from robust_ledger.job.conductors import size_text
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.parts.house import Load, When
from robust_ledger.ledger.entry import Entry, Finding, Severity
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working

SMALL = ("14", "12", "10")


def circuit_findings(job: Job, plates: dict[str, Entry], codebook: Codebook) -> Iterator[Finding]:
    """Findings of the Pull-off stage, circuit by circuit."""
    for circuit in job.circuits:
        about = of_circuit(circuit, codebook, named=True)
        yield from _wire(job, circuit, plates, codebook, about)
        yield from _voltage(job, circuit, about)
        yield from _marks(circuit, about)
        yield from bare_neutral_findings(job, circuit, about)
        yield from no_ground_findings(job, circuit, about)
        yield from knob_tube_findings(circuit, about)
        yield from gone_findings(job, circuit, about)
        yield from wiring_findings(circuit, in_fuses(job, circuit), codebook, about)
        yield from _shared_neutral(circuit, job, about)
        for load_id in dict.fromkeys(circuit.load_ids):
            if job.load(load_id) is None:
                yield about.make(
                    f"load:{load_id}",
                    Severity.FIX,
                    title=f'feeds "{load_id}", which is not listed',
                    text="The load it is said to feed is not in the house.",
                    remedy="Link it to a listed load, or to none.",
                    field="feeds",
                )
        yield from _chosen(job, circuit, plates, codebook, about)
        if circuit.poles == 2 and not circuit.off and not names_loads(job, circuit):
            near = proposed(job, circuit)
            words = f" Its words name {near.name}." if near else ""
            yield about.make(
                "no_load",
                Severity.NOTE,
                title="is a 240 V circuit without a listed load",
                text=f"What it feeds is not among the loads of the house, and is counted nowhere.{words}",
                remedy="Link it to its load, or enter the load.",
            )
    make = Findings("branch", codebook, STAGE).make
    for load in job.loads:
        key = CircuitKey.of_load(load.id)
        chosen = job.change(key).breaker_a
        if chosen is not None and load.when is When.ADDED and load.id not in job.fed_loads:
            demand = load_demand(Working("", ""), [load], plates, codebook)
            if why := not_possible(chosen, demand, codebook):
                yield make(
                    f"breaker_chosen:{load.id}",
                    Severity.FIX,
                    at=Place.branch(key),
                    title=f"{load.name}: {chosen:g} A chosen, {why}",
                    text="The plan keeps the breaker it has worked out.",
                    remedy="Choose another one on the Circuits page of the Bench, or none.",
                    rules=("standard_ratings",),
                )
        feeding = [str(c.tag) for c in job.circuits if load.id in c.load_ids and not c.off]
        if len(feeding) > 1:
            yield make(
                f"fed_twice:{load.id}",
                Severity.ASK,
                at=Place.load(load.id),
                title=f"{load.name} is fed by tags {' and '.join(feeding)}",
                text="A load on two circuits is counted on both of them for the legs.",
                remedy="Keep the tag that really feeds it.",
                rules=("directory",),
            )
        if load.when is When.EXISTING and not feeding and job.circuits:
            yield make(
                f"no_circuit:{load.id}",
                Severity.NOTE,
                at=Place.load(load.id),
                title=f"No circuit yet for {load.name}",
                text=f"{load.name} is in the house, but no circuit called out so far feeds it.",
                remedy="Link it to its circuit when that one is found.",
            )


def _wire(
    job: Job, circuit: Circuit, plates: dict[str, Entry], codebook: Codebook, about: Findings
) -> Iterator[Finding]:
    """Gauge against breaker, breaker against the standard ratings, wire against its load."""
    if circuit.off:
        return
    if circuit.breaker_a is None:
        yield about.make(
            "breaker_unknown",
            Severity.ASK,
            title=": breaker (or fuse) size not recorded",
            text="The breaker found was not written down.",
            remedy="Read the handle.",
            rules=("standard_ratings",),
            field="breaker_a",
        )
    elif not is_standard_rating(codebook, circuit.breaker_a):
        yield about.make(
            "breaker_rating",
            Severity.ASK,
            title=f": {circuit.breaker_a:g} A is not a standard size",
            text=f"Breakers are not made for {circuit.breaker_a:g} A.",
            remedy="Read the handle again.",
            rules=("standard_ratings",),
            field="breaker_a",
        )
    if circuit.gauge is None:
        yield about.make(
            "gauge_unknown",
            Severity.ASK,
            title=": gauge not known",
            text="Without the gauge the right breaker is unknown.",
            remedy="Measure the conductor before it is landed.",
            rules=("small_conductors",),
            field="gauge",
        )
        return
    lies = lying(job, circuit)
    limit = wire_limit(Working("", ""), circuit.gauge, circuit.metal, lies, codebook)
    if not limit.known:
        known = ", ".join((*sizes(codebook)[:6], "…", sizes(codebook)[-1]))
        yield about.make(
            "gauge_size",
            Severity.FIX,
            title=f': "{size_text(circuit.gauge, circuit.metal)}" is no branch conductor',
            text=f"The ampacity table has no such conductor (it has {known}).",
            remedy="Measure the conductor again.",
            rules=("ampacity",),
            field="gauge",
        )
        return
    if renewed(job, circuit):  # a new cable: what the old wire allows is of no matter
        return
    loads = loads_of(job, circuit)
    demand = load_demand(Working("", ""), loads, plates, codebook)
    excepted = exception_a(circuit, lies, demand, codebook)
    wire, found = size_text(circuit.gauge, circuit.metal), circuit.breaker_a
    if found and found > (excepted or limit.amount):
        better_a, open_ = at_best(lies, circuit.gauge, circuit.metal, codebook)
        if not excepted and better_a is not None and better_a >= found and open_:
            yield _not_checked(about, circuit, limit.amount, better_a, open_)
        else:
            yield _too_large(about, circuit, loads, demand, excepted, limit.amount)
    if demand is None or not demand.needed.known:
        return
    needed, carries = demand.needed, wire_carries(circuit, lies, codebook)
    if carries is not None and needed.amount > carries + 1e-9:
        yield about.make(
            "wire_for_load",
            Severity.FIX,
            title=f": {wire} is too small for its load",
            text=f"Its loads need a wire for {needed.text()}, this one carries {carries:g} A.",
            remedy="Run a new cable for it (set it on the Circuits page of the Bench), or take the load off this circuit.",
            rules=("continuous_branch",),
            field="gauge",
        )
    elif found and demand.mocp_a is not None and demand.rule == "hvac_breaker" and found < needed.amount:
        yield about.make(
            "below_mca",
            Severity.FIX,
            title=f": {found:g} A breaker below the MCA of {needed.amount:g} A",
            text="It trips in the hottest week, when the machine runs longest.",
            remedy=f"A breaker from {needed.amount:g} A up to the nameplate's MOCP of {demand.mocp_a:g} A.",
            rules=("hvac_nameplate", "hvac_breaker"),
            field="breaker_a",
        )


def _chosen(
    job: Job, circuit: Circuit, plates: dict[str, Entry], codebook: Codebook, about: Findings
) -> Iterator[Finding]:
    """A breaker chosen for a new cable that cannot be: no standard size, below the load, or more than a machine allows."""
    chosen = job.change(CircuitKey.of_tag(circuit.tag)).breaker_a
    if chosen is None or not renewed(job, circuit):
        return
    demand = load_demand(Working("", ""), loads_of(job, circuit), plates, codebook)
    if why := not_possible(chosen, demand, codebook):
        yield about.make(
            "breaker_chosen",
            Severity.FIX,
            title=f": {chosen:g} A chosen, {why}",
            text="The plan keeps the breaker it has worked out.",
            remedy="Choose another one on the Circuits page of the Bench, or none.",
            rules=("standard_ratings",),
            at=Place.branch(CircuitKey.of_tag(circuit.tag)),
        )


def _not_checked(about: Findings, circuit: Circuit, limit_a: float, better_a: float, open_: str) -> Finding:
    """A breaker that its wire allows or not, by what was not looked at."""
    wire = size_text(circuit.gauge or "", circuit.metal)
    return about.make(
        "wire_on_breaker",
        Severity.ASK,
        title=f": {wire} on {circuit.breaker_a:g} A, not all of it checked",
        text=f"{wire} allows {limit_a:g} A as far as is known, and {better_a:g} A at best.",
        remedy=f"Look at {open_}; until then the plan puts a {limit_a:g} A breaker in.",
        rules=("terminal_temperature", "ampacity"),
        field="gauge",
    )


def _too_large(
    about: Findings, circuit: Circuit, loads: list[Load], demand: Demand | None, excepted: float | None, limit_a: float
) -> Finding:
    """A breaker larger than its wire allows: by the nameplate, not known while a machine's was not read, or a fault."""
    wire, found = size_text(circuit.gauge or "", circuit.metal), circuit.breaker_a
    if excepted and demand is not None:
        return about.make(
            "mocp",
            Severity.FIX,
            title=f": {found:g} A breaker, {demand.limit_words} allows {excepted:g}",
            text=f"Its largest breaker is {demand.mocp_a:g} A.",
            remedy=f"The plan puts a {excepted:g} A breaker in.",
            rules=("hvac_nameplate", "hvac_breaker") if demand.rule == "hvac_breaker" else (demand.rule,),
            field="breaker_a",
        )
    machine = next((one for one in loads if one.kind in MACHINES and one.two_hots), None)
    if machine is not None and len(loads) == 1 and machine.machine_figures is None:
        return about.make(
            "machine_breaker",
            Severity.ASK,
            title=f": {found:g} A on {wire}, nameplate of {machine.name} not read",
            text=f"The wire alone allows {limit_a:g} A; a machine's nameplate may allow more.",
            remedy="Read MCA and MOCP on it and enter both; until then the plan has the smaller breaker.",
            rules=("hvac_nameplate", "hvac_breaker"),
            field="breaker_a",
        )
    return about.make(
        "wire_on_breaker",
        Severity.FIX,
        title=f": {wire} on {found:g} A",
        text=f"{wire}: {limit_a:g} A. Found on {found:g} A.",
        remedy=f"The plan puts a {limit_a:g} A breaker in. Never upsize a breaker to stop a trip.",
        rules=("small_conductors" if circuit.gauge in SMALL else "ampacity", "specific_loads"),
        field="gauge",
    )


def _voltage(job: Job, circuit: Circuit, about: Findings) -> Iterator[Finding]:
    """A 240 V load wants two poles, a 120 V load one; a range or dryer with a neutral is a 240 V load."""
    for load in loads_of(job, circuit):
        if load.poles != circuit.poles and not circuit.off:
            yield about.make(
                f"poles:{load.id}",
                Severity.ASK,
                title=f"feeds {load.name} with {circuit.poles} pole{'s' if circuit.poles > 1 else ''}",
                text=f"{load.name} is rated {load.nameplate.volts:g} V and needs {load.poles}.",
                remedy="Look at the nameplate and the breaker again, or correct which tag feeds it.",
                rules=("two_pole",),
                field="breaker_a",
            )


def _marks(circuit: Circuit, about: Findings) -> Iterator[Finding]:
    if Mark.CAPPED in circuit.marks:
        yield about.make(
            "capped",
            Severity.NOTE,
            title="found capped",
            text="Leave it off: reason unknown.",
            remedy="Land its EGC, keep the hots capped.",
            rules=("directory",),
        )
    if Mark.WHITE_HOT in circuit.marks:
        yield about.make(
            "white_hot",
            Severity.NOTE,
            title="has a white wire used as a hot",
            text="Once loose it looks like a neutral.",
            remedy="Re-mark it before it comes off.",
            rules=("white_hot",),
        )
    if Mark.DARK_NEUTRAL in circuit.marks:
        yield about.make(
            "dark_neutral",
            Severity.ASK,
            title="has a dark wire on the neutral bar",
            text="Somewhere on this circuit the polarity is probably reversed.",
            remedy="Mark it as neutral for now; find and correct the outlet before the circuit is energized.",
            rules=("neutral_identification",),
            field="marks",
        )
    if Mark.FOUND_OFF in circuit.marks and not circuit.off:
        yield about.make(
            "found_off",
            Severity.NOTE,
            title="was found switched off",
            text="Somebody had a reason, or it tripped and nobody noticed.",
            remedy="Ask the owner, and measure its insulation before it is turned on.",
            rules=("directory",),
            field="marks",
        )
    if Mark.UNKNOWN in circuit.marks or (not circuit.feeds and not circuit.off):
        yield about.make(
            "unknown",
            Severity.ASK,
            title="feeds something unknown",
            text="The directory has to say what each circuit serves.",
            remedy="Trace after power-up; until then the directory says unknown.",
            rules=("directory",),
            field="feeds",
        )


def _shared_neutral(circuit: Circuit, job: Job, about: Findings) -> Iterator[Finding]:
    other = circuit.shares_neutral_with
    if other is None:
        return
    partner = job.circuit(other)
    if partner is None:
        yield about.make(
            "neutral_partner",
            Severity.FIX,
            title=f"shares a neutral with tag {other}, which does not exist",
            text="The pair has to land on opposite legs and open together, and its other half is not known.",
            remedy="Correct the tag number.",
            rules=("multiwire",),
            field="marks",
        )
    elif partner.tag == circuit.tag:
        yield about.make(
            "neutral_self",
            Severity.FIX,
            title="is said to share a neutral with itself",
            text="A shared neutral belongs to two circuits.",
            remedy="Correct the tag number.",
            rules=("multiwire",),
            field="marks",
        )
    elif partner.shares_neutral_with not in (None, circuit.tag):
        yield about.make(
            "neutral_ring",
            Severity.FIX,
            title=f"and tag {other} disagree about the shared neutral",
            text=f"Tag {other} names tag {partner.shares_neutral_with} as its partner.",
            remedy="A shared neutral belongs to two circuits; correct one of them.",
            rules=("multiwire",),
            field="marks",
        )
    elif circuit.off or partner.off:
        yield about.make(
            "neutral_off",
            Severity.ASK,
            title=f"shares a neutral with tag {other}, and one of them is capped",
            text="A capped hot beside a live shared neutral is easily reconnected wrongly.",
            remedy="Keep both tags together.",
            rules=("multiwire",),
            field="marks",
        )
    elif circuit.poles + partner.poles != 2:
        yield about.make(
            "neutral_poles",
            Severity.ASK,
            title=f"shares a neutral with tag {other}, but they are not two 1-poles",
            text="A shared neutral is expected between two 1-pole circuits.",
            remedy="Look at the cable again.",
            rules=("multiwire",),
            field="marks",
        )
