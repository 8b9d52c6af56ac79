"""The house to be simulated, from a plan: every load and general circuit with its current on each leg."""

from __future__ import annotations

from msgspec import Struct

from robust_ledger.branch.model import Branch, Origin
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.house import Load
from robust_ledger.job.spaces import covered, leg_of, parse_position
from robust_ledger.load.nameplates import present
from robust_ledger.measure.simulate.habits import Habit, habits_of, plugs_of
from robust_ledger.plan import Plan


class Source(Struct, frozen=True):
    """Something that draws current: amperes on leg A and on leg B while it runs in full, and its habits; it never runs
    twice at once. `circuit` is the position of its circuit in the house's list."""

    name: str
    circuit: int
    amperes: tuple[float, float]
    habits: tuple[Habit, ...]


class House(Struct, frozen=True):
    """What the simulation runs on. `circuits` are names for people, `keys` theirs in the plan, `legs` which legs each is on;
    `main_a` the main it is behind, `handles_a` the
    sum of all breaker handles. `left_out` names what could not be simulated, because it is not known."""

    circuits: tuple[str, ...]
    sources: tuple[Source, ...]
    main_a: float
    handles_a: float
    left_out: tuple[str, ...]
    keys: tuple[CircuitKey, ...] = ()
    legs: tuple[tuple[float, float], ...] = ()


def house_of(plan: Plan) -> House | None:
    """The house of a plan, futures apart; None while the plan has no main."""
    main = plan.service.main
    if not main.known:
        return None
    names: list[str] = []
    keys: list[CircuitKey] = []
    on_legs: list[tuple[float, float]] = []
    sources: list[Source] = []
    left_out: list[str] = []
    handles_a = 0.0
    held = _held_back_share(plan)
    here = {load.id: load for load in present(plan.job.loads)}
    fed: set[str] = set()
    for branch in plan.circuits.branches:
        if branch.off or branch.origin is Origin.FUTURE or branch.key.kind == "equip":
            continue
        names.append(branch.directory_text)
        handles_a += branch.breaker.amount if branch.breaker.known else 0.0
        loads = _loads_on(branch, plan.job, here)
        fed |= {load.id for load in loads}
        legs = _legs(branch, plan, len(names))
        keys.append(branch.key)
        on_legs.append(legs)
        if loads:
            sources += _load_sources(loads, len(names) - 1, legs, plan, held, left_out)
        elif branch.poles == 1 and not _named(branch, plan.job):
            words = f"{branch.feeds} {branch.room}"
            sources += [
                Source(branch.directory_text, len(names) - 1, _amperes(p.amperes, legs), (p.habit,))
                for p in plugs_of(words)
            ]
    lonely = [load for load in here.values() if load.id not in fed]
    if lonely:
        names.append("on circuits not known")
        sources += _load_sources(lonely, len(names) - 1, (1.0, 0.0), plan, held, left_out)
    return House(tuple(names), tuple(sources), main.amount, handles_a, tuple(left_out), tuple(keys), tuple(on_legs))


def _loads_on(branch: Branch, job: Job, here: dict[str, Load]) -> list[Load]:
    kind, name = branch.key.kind, branch.key.name
    if kind == "load":
        return [here[name]] if name in here else []
    ids = [load_id for circuit in _old_circuits(branch, job) for load_id in circuit.load_ids]
    return [here[load_id] for load_id in dict.fromkeys(ids) if load_id in here]


def _old_circuits(branch: Branch, job: Job) -> list[Circuit]:
    """The old circuits it is made of; the second half of a split one has none of their loads."""
    if branch.key.tag is None:
        return []
    return [circuit for tag in branch.sources if (circuit := job.circuit(tag))]


def _named(branch: Branch, job: Job) -> bool:
    """Whether the circuit is there for listed loads that are gone: then nothing hangs on it."""
    return any(job.load(load_id) for circuit in _old_circuits(branch, job) for load_id in circuit.load_ids)


def _legs(branch: Branch, plan: Plan, number: int) -> tuple[float, float]:
    """The part of the circuit's current on each leg: (1, 0), (0, 1) or both for a 2-pole. One without a space takes
    the legs in turn."""
    if branch.poles == 2:
        return 1.0, 1.0
    position = parse_position(plan.bench.placement.positions.get(branch.key, ""))
    on_a = leg_of(covered(position[0], 1)[0]) == "A" if position else number % 2 == 0
    return (1.0, 0.0) if on_a else (0.0, 1.0)


def _load_sources(
    loads: list[Load], circuit: int, legs: tuple[float, float], plan: Plan, held: float, left_out: list[str]
) -> list[Source]:
    made = []
    for load in loads:
        plate = plan.load.inputs.nameplates[load.id]
        if not plate.known:
            left_out.append(load.name)
            continue
        both = (1.0, 1.0) if load.two_hots else (legs if sum(legs) == 1 else (1.0, 0.0))
        amperes = plate.amount / load.nameplate.volts * (held if load.managed else 1.0)
        made.append(Source(load.name, circuit, _amperes(amperes, both), habits_of(load)))
    return made


def _amperes(amperes: float, legs: tuple[float, float]) -> tuple[float, float]:
    return amperes * legs[0], amperes * legs[1]


def _held_back_share(plan: Plan) -> float:
    """The part of their rating that loads held back by energy management may draw, when all of them run."""
    setpoint_a = plan.job.management.setpoint_a
    managed = [x for x in present(plan.job.loads) if x.managed]
    drawn = sum(
        entry.amount / load.nameplate.volts for load in managed if (entry := plan.load.inputs.nameplates[load.id]).known
    )
    return min(1.0, setpoint_a / drawn) if setpoint_a and drawn else 1.0
