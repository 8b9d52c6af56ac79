"""What is wrong, unknown or worth knowing about each circuit as found."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.branch.breaker import load_demand, nameplate_limit, wire_limit
from robust_ledger.branch.circuits import loads_of, names_loads
from robust_ledger.branch.links import proposed
from robust_ledger.branch.wiring import Report, wiring_findings
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import is_standard_rating, size_text, sizes
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.parts.house import When
from robust_ledger.ledger.entry import Entry, Finding, Severity
from robust_ledger.ledger.working import Working

STAGE = "pulloff"


def circuit_findings(job: Job, plates: dict[str, Entry], codebook: Codebook) -> Iterator[Finding]:
    """Findings of the Pull-off stage, circuit by circuit."""
    for circuit in job.circuits:
        report = _reporter(circuit, codebook)
        yield from _wire(job, circuit, plates, codebook, report)
        yield from _voltage(job, circuit, report)
        yield from _marks(job, circuit, report)
        yield from wiring_findings(circuit, codebook, report)
        yield from _shared_neutral(circuit, job, report)
        for load_id in dict.fromkeys(circuit.load_ids):
            if job.load(load_id) is None:
                yield report(
                    f"load:{load_id}",
                    Severity.FIX,
                    f"feeds «{load_id}», which is not listed",
                    "The load it is said to feed is not in the house.",
                    "Link it to a listed load, or to none.",
                )
        if circuit.poles == 2 and not circuit.off and not names_loads(job, circuit):
            near = proposed(job, circuit)
            words = f" Its words name {near.name}." if near else ""
            yield report(
                "no_load",
                Severity.NOTE,
                "is a 240 V circuit without a listed load",
                f"What it feeds is not among the loads of the house, and is counted nowhere.{words}",
                "Link it to its load, or enter the load.",
            )
    for load in job.loads:
        feeding = [str(c.tag) for c in job.circuits if load.id in c.load_ids and not c.off]
        if len(feeding) > 1:
            yield Finding(
                f"branch.fed_twice:{load.id}",
                Severity.ASK,
                STAGE,
                f"load:{load.id}",
                f"{load.name} is fed by tags {' and '.join(feeding)}",
                "A load on two circuits is counted on both of them for the legs.",
                "Keep the tag that really feeds it.",
                (codebook.cite("directory"),),
            )
        if load.when is When.EXISTING and not feeding and job.circuits:
            yield Finding(
                f"branch.no_circuit:{load.id}",
                Severity.NOTE,
                STAGE,
                f"load:{load.id}",
                f"No circuit yet for {load.name}",
                f"{load.name} is in the house, but no circuit called out so far feeds it.",
                "Link it to its circuit when that one is found.",
            )


def _reporter(circuit: Circuit, codebook: Codebook) -> Report:
    def report(kind: str, severity: Severity, title: str, text: str, remedy: str, *rules: str) -> Finding:
        """A finding at this circuit; `rules` are cited."""
        return Finding(
            f"branch.{kind}:tag:{circuit.tag}",
            severity,
            STAGE,
            f"circuit:{circuit.tag}",
            f"Tag {circuit.tag}{title}" if title.startswith(":") else f"Tag {circuit.tag} {title}",
            text,
            remedy,
            tuple(codebook.cite(rule) for rule in rules),
        )

    return report


def _wire(
    job: Job, circuit: Circuit, plates: dict[str, Entry], codebook: Codebook, report: Report
) -> Iterator[Finding]:
    """Gauge against breaker, breaker against the standard ratings, wire against its load."""
    if circuit.off:
        return
    if circuit.breaker_a is None:
        yield report(
            "breaker_unknown",
            Severity.ASK,
            ": breaker not read",
            "The breaker found was not written down.",
            "Read the handle.",
            "standard_ratings",
        )
    elif not is_standard_rating(codebook, circuit.breaker_a):
        yield report(
            "breaker_rating",
            Severity.ASK,
            f": {circuit.breaker_a:g} A is no standard rating",
            f"Breakers are not made for {circuit.breaker_a:g} A.",
            "Read the handle again.",
            "standard_ratings",
        )
    if circuit.gauge is None:
        yield report(
            "gauge_unknown",
            Severity.ASK,
            ": gauge not known",
            "Without the gauge the right breaker is unknown.",
            "Measure the conductor before it is landed.",
            "small_conductors",
        )
        return
    limit = wire_limit(Working("", ""), circuit.gauge, circuit.metal, codebook)
    if not limit.known:
        known = ", ".join((*sizes(codebook)[:6], "…", sizes(codebook)[-1]))
        yield report(
            "gauge_size",
            Severity.FIX,
            f": «{size_text(circuit.gauge, circuit.metal)}» is no branch conductor",
            f"The ampacity table has no such conductor (it has {known}).",
            "Measure the conductor again.",
            "ampacity",
        )
        return
    demand = load_demand(Working("", ""), loads_of(job, circuit), plates, codebook)
    excepted = nameplate_limit(circuit, demand, codebook)
    found = circuit.breaker_a
    wire = f"{size_text(circuit.gauge, circuit.metal)}"
    if found and found > (excepted or limit.amount):
        if excepted:
            yield report(
                "mocp",
                Severity.FIX,
                f": {found:g} A breaker, nameplate allows {excepted:g}",
                f"The machine's nameplate sets the largest breaker at {demand.mocp_a if demand else 0:g} A.",
                f"The plan puts a {excepted:g} A breaker in.",
                "hvac_nameplate",
                "hvac_breaker",
            )
        else:
            yield report(
                "wire_on_breaker",
                Severity.FIX,
                f": {wire} on {found:g} A",
                f"{wire} may have at most {limit.amount:g} A; it was found on {found:g} A.",
                f"The plan puts a {limit.amount:g} A breaker in. A breaker that trips is never answered by a bigger one.",
                *(c for c in ("small_conductors", "specific_loads")),
            )
    needed = demand.needed if demand else None
    if needed and needed.known and not excepted and needed.amount > limit.amount:
        yield report(
            "wire_for_load",
            Severity.FIX,
            f": {wire} is too small for its load",
            f"Its loads need {needed.text()}, the wire allows {limit.text()}.",
            "Run a new cable for it, or take the load off this circuit.",
            "continuous_branch",
        )


def _voltage(job: Job, circuit: Circuit, report: Report) -> Iterator[Finding]:
    """A 240 V load wants two poles, a 120 V load one; a range or dryer with a neutral is a 240 V load."""
    for load in loads_of(job, circuit):
        if load.poles != circuit.poles and not circuit.off:
            yield report(
                f"poles:{load.id}",
                Severity.ASK,
                f"feeds {load.name} with {circuit.poles} pole{'s' if circuit.poles > 1 else ''}",
                f"{load.name} is rated {load.nameplate.volts:g} V and needs {load.poles}.",
                "Look at the nameplate and the breaker again, or correct which tag feeds it.",
                "two_pole",
            )


def _marks(job: Job, circuit: Circuit, report: Report) -> Iterator[Finding]:
    if Mark.CAPPED in circuit.marks:
        yield report(
            "capped",
            Severity.NOTE,
            "was capped when you came",
            "Nobody knows why it was taken off; it stays off.",
            "Land its equipment ground, keep the hots capped.",
            "directory",
        )
    if Mark.WHITE_HOT in circuit.marks:
        yield report(
            "white_hot",
            Severity.NOTE,
            "has a white wire used as a hot",
            "Once loose it looks like a neutral.",
            "Re-mark it before it comes off.",
            "white_hot",
        )
    if Mark.DARK_NEUTRAL in circuit.marks:
        yield report(
            "dark_neutral",
            Severity.ASK,
            "has a dark wire on the neutral bar",
            "Somewhere on this circuit the polarity is probably reversed.",
            "Mark it as neutral for now; find and correct the outlet before the circuit is energised.",
            "neutral_identification",
        )
    if Mark.BARE_NEUTRAL in circuit.marks:
        if (action := job.change(f"tag:{circuit.tag}").action) in ("new_cable", "cap"):
            yield report(
                "bare_neutral",
                Severity.NOTE,
                "has a bare neutral",
                "The plan runs a new four-wire cable." if action == "new_cable" else "The plan caps it.",
                "Change the receptacle with the cable." if action == "new_cable" else "Cap it at both ends.",
                "bare_neutral",
            )
        elif job.panel.first_disconnect:
            yield report(
                "bare_neutral",
                Severity.NOTE,
                "has a bare neutral",
                "It may stay only where neutral and ground are bonded, as planned for this panel.",
                "If a disconnect comes ahead of the panel, a new four-wire cable is needed.",
                "bare_neutral",
                "bond_once",
            )
        else:
            yield report(
                "bare_neutral",
                Severity.STOP,
                "has a bare neutral",
                "In the new panel neutrals and grounds are apart; a bare neutral may not land there.",
                "Run a new four-wire cable and change the receptacle: say so on the Circuits page of the Bench.",
                "bare_neutral",
                "bars_apart",
            )
    if Mark.UNKNOWN in circuit.marks or (not circuit.feeds and not circuit.off):
        yield report(
            "unknown",
            Severity.ASK,
            "feeds something unknown",
            "The directory has to say what each circuit serves.",
            "Trace it after re-energising; until then the directory says unknown.",
            "directory",
        )


def _shared_neutral(circuit: Circuit, job: Job, report: Report) -> Iterator[Finding]:
    other = circuit.shares_neutral_with
    if other is None:
        return
    partner = job.circuit(other)
    if partner is None:
        yield report(
            "neutral_partner",
            Severity.FIX,
            f"shares a neutral with tag {other}, which does not exist",
            "The pair has to land on opposite legs and open together, and its other half is not known.",
            "Correct the tag number.",
            "multiwire",
        )
    elif partner.tag == circuit.tag:
        yield report(
            "neutral_self",
            Severity.FIX,
            "is said to share a neutral with itself",
            "A shared neutral belongs to two circuits.",
            "Correct the tag number.",
            "multiwire",
        )
    elif partner.shares_neutral_with not in (None, circuit.tag):
        yield report(
            "neutral_ring",
            Severity.FIX,
            f"and tag {other} disagree about the shared neutral",
            f"Tag {other} names tag {partner.shares_neutral_with} as its partner.",
            "A shared neutral belongs to two circuits; correct one of them.",
            "multiwire",
        )
    elif circuit.off or partner.off:
        yield report(
            "neutral_off",
            Severity.ASK,
            f"shares a neutral with tag {other}, and one of them is capped",
            "A capped hot beside a live shared neutral is easily reconnected wrongly.",
            "Keep both tags together.",
            "multiwire",
        )
    elif circuit.poles + partner.poles != 2:
        yield report(
            "neutral_poles",
            Severity.ASK,
            f"shares a neutral with tag {other}, but they are not two 1-poles",
            "A shared neutral is expected between two 1-pole circuits.",
            "Look at the cable again.",
            "multiwire",
        )
