"""From the old circuits and the new loads to the list of branch circuits for the new panel."""

from __future__ import annotations

import math
import re
from functools import lru_cache

from msgspec.structs import replace

from robust_ledger.branch.ampacity import WiringConditions, conditions_of
from robust_ledger.branch.asked import Ask
from robust_ledger.branch.breaker import existing_breaker
from robust_ledger.branch.equipment import equipment_branches
from robust_ledger.branch.in_panels import in_panels
from robust_ledger.branch.model import Branch, Origin
from robust_ledger.branch.new_cable import cable_entry, new_circuit, renewed_circuit
from robust_ledger.branch.protection import protection
from robust_ledger.branch.serves import Serves, in_other_building, serves
from robust_ledger.branch.vocabulary import OwnWords
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.devices import FOUND
from robust_ledger.job.job import Job
from robust_ledger.job.keys import NO_CIRCUIT, CircuitKey
from robust_ledger.job.parts.changes import KEPT
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.parts.futures import Future
from robust_ledger.job.parts.house import Load, When
from robust_ledger.job.tree import in_another_building
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.load.tape import Calculation

_SEVERAL = re.compile(r"\b(?:receptacles|recepts?s|outlets|plugs)\b", re.I)  # more than one of them, by the words


def branches(
    job: Job, plates: dict[str, Entry], calculation: Calculation, main: Entry, codebook: Codebook
) -> list[Branch]:
    """Every circuit of the new panel: old ones as they are kept, converted, split or merged, then circuits for added loads,
    then futures, each with its protection.

    `plates` are the nameplates by load id; `calculation` tells what part of them counts, and the general load that is
    spread over the circuits that feed no listed load. So the legs together carry what was calculated. `main`: the service's [A].
    """
    job = _as_decided(job)
    breakers = {
        c.tag: existing_breaker(c, conditions_of_circuit(job, c), loads_of(job, c), plates, codebook)
        for c in job.circuits
    }
    cables: dict[int, Entry] = {}
    for circuit in job.circuits:
        if renewed(job, circuit):
            made = renewed_circuit(job, circuit, loads_of(job, circuit), plates, codebook)
            breakers[circuit.tag], cables[circuit.tag] = made
    shares = _general_circuits(job, breakers)
    result = []
    for circuit in job.circuits:
        expected = _expected(job, circuit, plates, calculation, breakers, shares)
        found = cables.get(circuit.tag) or _found_wire(
            circuit.tag, Conductors(circuit.gauge, circuit.metal) if circuit.gauge else None
        )
        result += _from_old(job, circuit, (breakers[circuit.tag], found, expected), codebook)
    result = _one_rating_a_pair(_merged(job, result))
    fed, kept_free = job.fed_loads, reserved_loads(job)
    for load in job.loads:
        if load.id not in fed and (load.when is When.ADDED or load.id in kept_free):
            result.append(_new_branch(job, load, plates[load.id], calculation, codebook))
    result += equipment_branches(job, main, codebook)
    for future in job.futures:
        result += _future_circuits(future, job.conventions.own) if future.reserve else []
    result.sort(key=lambda b: b.origin is Origin.FUTURE)
    return _protected(job, in_panels(job, result), codebook)


def _as_decided(job: Job) -> Job:
    """The job with its circuits as they are to be: what is capped is off, what is converted has one pole and is on."""
    decided = {
        key: change.action for key, change in job.decisions.circuits.items() if change.action in ("cap", "convert")
    }
    if not decided:
        return job
    made = []
    for circuit in job.circuits:
        action = decided.get(CircuitKey.of_tag(circuit.tag))
        if action == "cap" and not circuit.off:
            circuit = replace(circuit, marks=(*circuit.marks, Mark.CAPPED))
        elif action == "convert" and circuit.poles == 2:
            marks = tuple(mark for mark in circuit.marks if mark is not Mark.LATER_120)
            circuit = replace(circuit, marks=marks, poles=1)
        made.append(circuit)
    return replace(job, circuits=tuple(made))


def renewed(job: Job, circuit: Circuit) -> bool:
    """Whether an old circuit gets a new cable, so that what its old wire allows is of no matter."""
    return job.change(CircuitKey.of_tag(circuit.tag)).action == "new_cable" and not circuit.off


def conditions_of_circuit(job: Job, circuit: Circuit) -> WiringConditions:
    """How the wire of an old circuit lies, and whether anything may be plugged in on it."""
    if not circuit.gauge or circuit.gauge in ("14", "12", "10") or circuit.load_ids:
        return conditions_of(job, circuit)
    change = job.change(CircuitKey.of_tag(circuit.tag))
    if circuit.poles > 1 and not _SEVERAL.search(circuit.feeds) and (change.outlets or 1) < 2:
        return conditions_of(job, circuit)  # one receptacle or machine, as two hots have as a rule
    plugged = serves(circuit.feeds, circuit.room, (), change, job.conventions.own).receptacles and change.outlets != 1
    return conditions_of(job, circuit, plugged)


def _from_old(job: Job, circuit: Circuit, made: tuple[Entry, Entry, Entry], codebook: Codebook) -> list[Branch]:
    """What becomes of an old circuit; a split one is two, the second on a new cable. `made`: breaker, wire and expected load."""
    breaker, found, expected = made
    key = CircuitKey.of_tag(circuit.tag)
    change = job.change(key)
    converted, off = change.action == "convert" and not circuit.off, circuit.off
    words = {"new_cable": "new cable", "split": "split", "cap": "capped"}.get(change.action, "off" if off else "kept")
    first = Branch(
        key=key,
        tag=str(circuit.tag),
        feeds=circuit.feeds,
        room=circuit.room,
        poles=circuit.poles,
        breaker=breaker,
        wire=found,
        expected=expected,
        origin=Origin.EXISTING,
        off=off,
        partner=NO_CIRCUIT if off or change.action in ("new_cable", "split") else partner_key(job, circuit),
        converts=Mark.LATER_120 in circuit.marks,
        sources=(circuit.tag,),
        origin_words=f"tag {circuit.tag} converted to 120 V" if converted else f"tag {circuit.tag} {words}",
        uses_neutral=_needs_neutral(job, circuit),
        new_cable=change.action == "new_cable",
        work=change.work or _work(job, circuit, change.action, codebook),
        serves=serves(circuit.feeds, circuit.room, loads_of(job, circuit), change, job.conventions.own),
    )
    if change.action != "split" or off:
        return [first]
    work = Working(f"branch.expected.{key}.2", f"Tag {circuit.tag}, second: expected", Place.circuit(circuit.tag))
    nothing = work.entry(work.take(Step("counted on the first of the two", 0.0, "VA")))
    again = replace(breaker, id=f"{breaker.id}.2")
    second_key, name = CircuitKey.of_second(circuit.tag), f"Tag {circuit.tag}, second"
    cable = cable_entry(job, second_key, name, Place.circuit(circuit.tag), again, None, codebook)
    second = replace(
        first,
        key=second_key,
        tag=f"{circuit.tag}.2",
        feeds=change.other_feeds or f"second of {circuit.feeds}",
        breaker=again,
        wire=cable,
        expected=nothing,
        sources=(circuit.tag,),
        origin_words=f"split from tag {circuit.tag}",
        new_cable=True,
        work="new",
        serves=serves(change.other_feeds or circuit.feeds, circuit.room, (), KEPT, job.conventions.own),
    )
    return [first, second]


@lru_cache(maxsize=4096)
def _found_wire(tag: int, size: Conductors | None) -> Entry:
    work = Working(f"branch.wire.tag:{tag}", f"Tag {tag}: wire", Place.circuit(tag))
    return work.entry(work.given("wire gauge as found", size, "", work.place))


def _work(job: Job, circuit: Circuit, action: str, codebook: Codebook) -> str:
    """The kind of work where the user has not said it: a new cable or new outlets, a new appliance, a longer cable where the panel moves
    away from it, or none."""
    if action in ("new_cable", "convert"):
        return "extended"
    if any(load.when is When.ADDED for load in loads_of(job, circuit)):
        return "appliance"
    if job.scope.panel_place != "moved":
        return "none"
    moved = moved_ft(job)
    return "short" if moved is not None and moved <= codebook.number("arc_fault_short_ft") else "lengthened"


def moved_ft(job: Job) -> float | None:
    """How far the main panel moves along and up its wall [ft]; None while its way along the wall, or the height of either bottom, is not
    entered: a height nobody has said is none that stays."""
    along, new_in, old_in = job.panel.right_of_old_in, job.fit.new_bottom_in, job.fit.old_bottom_in
    if not along or new_in is None or old_in is None:
        return None
    return math.hypot(along, new_in - old_in) / 12


def _needs_neutral(job: Job, circuit: Circuit) -> bool:
    """A 240 V circuit whose load, or whose found wiring, has a neutral."""
    return Mark.BARE_NEUTRAL in circuit.marks or any(
        load.two_hots and load.has_neutral for load in loads_of(job, circuit)
    )


def _merged(job: Job, made: list[Branch]) -> list[Branch]:
    """Circuits that go on another one's breaker: the smaller breaker is good for both, what they feed is read together."""
    by_tag = {b.origin_tag: b for b in made if not b.key.second}
    gone: set[CircuitKey] = set()
    for tag in list(by_tag):
        branch = by_tag[tag]
        change = job.change(branch.key)
        target = by_tag.get(change.into) if change.action == "merge" and change.into is not None else None
        if not can_merge(branch, target, job) or target is None:
            continue
        gone.add(branch.key)
        place, from_place = Place.circuit(target.origin_tag), Place.circuit(branch.origin_tag)
        work = Working(target.breaker.id, target.breaker.label, place)
        ratings = [work.entry_step(target.breaker), work.entry_step(branch.breaker, place=from_place)]
        breaker = work.entry(work.smaller("the smaller breaker is good for both", ratings))
        work = Working(target.expected.id, target.expected.label, place)
        both = [
            work.entry_step(target.expected),
            work.entry_step(branch.expected, f"tag {branch.tag} combined with it", from_place),
        ]
        by_tag[target.origin_tag] = replace(
            target,
            breaker=breaker,
            expected=work.entry(work.total("both", both, "VA")),
            feeds=f"{target.feeds}; {branch.feeds}",
            sources=(*target.sources, *branch.sources),
            origin_words=f"{target.origin_words}, tag {branch.tag} combined with it",
            serves=_together(target.serves, branch.serves),
        )
    return [by_tag.get(b.origin_tag, b) if not b.key.second else b for b in made if b.key not in gone]


def _one_rating_a_pair(made: list[Branch]) -> list[Branch]:
    """Circuits behind one handle have one rating: the smaller of both."""
    by_key = {b.key: b for b in made}
    result = []
    for branch in made:
        partner = by_key.get(branch.partner)
        if (
            partner
            and branch.breaker.known
            and partner.breaker.known
            and branch.breaker.amount > partner.breaker.amount
        ):
            work = Working(branch.breaker.id, branch.breaker.label, branch.breaker.place)
            both = [work.entry_step(branch.breaker), work.entry_step(partner.breaker)]
            branch = replace(branch, breaker=work.entry(work.smaller("one handle for both: the smaller rating", both)))
        result.append(branch)
    return result


def can_merge(branch: Branch, target: Branch | None, job: Job) -> bool:
    """Only live one-pole circuits without a shared neutral, onto one that stays itself."""
    if target is None or target.key == branch.key or job.change(target.key).action == "merge":
        return False
    return all(one.poles == 1 and not one.off and not one.partner for one in (branch, target))


def _together(one: Serves | None, other: Serves | None) -> Serves | None:
    if one is None or other is None:
        return one or other
    return Serves(
        one.places | other.places,
        one.receptacles or other.receptacles,
        one.lights or other.lights,
        one.fixed or other.fixed,
        one.appliances | other.appliances,
        one.alarms or other.alarms,
    )


def _protected(job: Job, made: list[Branch], codebook: Codebook) -> list[Branch]:
    """Each circuit with the breaker its rooms, its building, loads and kind of work ask for."""
    apart = {panel for panel in {b.panel for b in made} if in_another_building(job, panel)}
    made = [
        replace(b, serves=in_other_building(b.serves))
        if b.panel in apart and b.serves and not job.change(b.key).places
        else b
        for b in made
    ]
    asks = {
        b.key: Ask(
            b.serves,
            b.poles,
            b.breaker.amount if b.breaker.known and not b.off else None,
            b.work,
            job.change(b.key).sink_ft,
            job.heading.date,
            *_watched_for(job, b),
            metal_run=job.decisions.new_wiring in ("mc", "ac"),
        )
        for b in made
        if b.serves is not None
    }
    listed, wants = job.panel.devices, job.decisions.ahj_arc_fault
    return [
        b
        if b.off or b.key not in asks
        else replace(
            b,
            protection=protection(
                asks[b.key], asks.get(b.partner), job.change(b.key).protect_at, listed, wants, codebook
            ),
        )
        for b in made
    ]


def _watched_for(job: Job, branch: Branch) -> tuple[bool, bool]:
    """Whether the breakers that were found on its circuits watched for arc-faults, and for ground-faults."""
    kinds = [FOUND[one.device] for tag in branch.sources if (one := job.circuit(tag)) and one.device in FOUND]
    return any(kind.arc for kind in kinds), any(kind.ground for kind in kinds)


def loads_of(job: Job, circuit: Circuit) -> list[Load]:
    """The listed loads a circuit feeds with this job, each once: without ids that name none, loads that go and those
    that come later."""
    if not circuit.load_ids:
        return []
    listed = [load for load_id in dict.fromkeys(circuit.load_ids) if (load := job.load(load_id))]
    return [load for load in listed if load.when in (When.EXISTING, When.ADDED)]


def names_loads(job: Job, circuit: Circuit) -> bool:
    """Whether a circuit is for listed loads, be it that they go with this job; else it carries general load."""
    return any(job.load(load_id) for load_id in circuit.load_ids)


def reserved_loads(job: Job) -> set[str]:
    """Loads marked "later" that spaces are kept free for: those of futures that reserve, and those of none."""
    reserving = {load_id for future in job.futures if future.reserve for load_id in future.load_ids}
    named = {load_id for future in job.futures for load_id in future.load_ids}
    return {x.id for x in job.loads if x.when is When.LATER and (x.id in reserving or x.id not in named)}


def _future_circuits(future: Future, own: OwnWords) -> list[Branch]:
    """The circuits of a future that are no load of their own, as reserved spaces."""
    made = []
    for number, circuit in enumerate(future.circuits, 1):
        name = CircuitKey.of_future(future.id, number)
        place = Place.of("future", future.id)
        work = Working(f"branch.breaker.{name}", f"{circuit.name}: breaker", place)
        breaker = work.entry(work.given("as entered for the future", circuit.breaker_a, "A", place))
        work = Working(f"branch.wire.{name}", f"{circuit.name}: wire", place)
        wire = work.entry(work.given("chosen when the future comes", None, "", place))
        work = Working(f"branch.expected.{name}", f"{circuit.name}: expected", place)
        expected = work.entry(work.take(Step("not there yet", 0.0, "VA")))
        made.append(
            Branch(
                key=name,
                tag="new",
                feeds=circuit.name,
                room="",
                poles=circuit.poles,
                breaker=breaker,
                wire=wire,
                expected=expected,
                origin=Origin.FUTURE,
                origin_words=f"reserved for {future.name}",
                new_cable=True,
                work="new",
                serves=serves(circuit.name, "", (), KEPT, own),
            )
        )
    return made


def partner_key(job: Job, circuit: Circuit) -> CircuitKey:
    """The circuit whose neutral this one shares, from whichever side it was written down; "" for none or an odd one."""
    other = circuit.shares_neutral_with
    if other is None:
        other = next((c.tag for c in job.circuits if c.shares_neutral_with == circuit.tag), None)
    partner = job.circuit(other) if other is not None else None
    if partner is None or partner.tag == circuit.tag or circuit.poles + partner.poles != 2:
        return NO_CIRCUIT
    if partner.shares_neutral_with not in (None, circuit.tag) or circuit.off or partner.off:
        return NO_CIRCUIT
    return CircuitKey.of_tag(partner.tag)


def _new_branch(job: Job, load: Load, plate: Entry, calculation: Calculation, codebook: Codebook) -> Branch:
    breaker, wire = new_circuit(job, load, plate, codebook)
    work = Working(f"branch.expected.load:{load.id}", f"{load.name}: expected", Place.load(load.id))
    expected = work.entry(_counted(work, load, plate, calculation))
    origin = Origin.FUTURE if load.when is When.LATER else Origin.NEW
    key = CircuitKey.of_load(load.id)
    return Branch(
        key=key,
        tag="new",
        feeds=load.name,
        room=load.room,
        poles=load.poles,
        breaker=breaker,
        wire=wire,
        expected=expected,
        origin=origin,
        origin_words=f"new, for {load.name}" if origin is Origin.NEW else f"reserved for {load.name}",
        uses_neutral=load.two_hots and load.has_neutral,
        new_cable=True,
        work="new",
        serves=serves(load.name, load.room, (load,), job.change(key), job.conventions.own),
    )


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
    key = CircuitKey.of_tag(circuit.tag)
    work = Working(f"branch.expected.{key}", f"Tag {circuit.tag}: expected", Place.circuit(circuit.tag))
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
