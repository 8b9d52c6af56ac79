"""The load of a feeder: Part III for what hangs on it, the job's own method where it feeds the whole dwelling [220.40, 220.82]."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec import Struct, field
from msgspec.structs import replace

from robust_ledger.job.job import Job
from robust_ledger.job.parts.futures import Future
from robust_ledger.job.parts.house import Load
from robust_ledger.job.parts.panel_tree import MAIN, Panel
from robust_ledger.job.tree import ahead_box
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.room import Room, by_id
from robust_ledger.ledger.working import Working
from robust_ledger.load.general import LoadInputs
from robust_ledger.load.legs import fuller_leg_entry, governing
from robust_ledger.load.methods import CALCULATIONS
from robust_ledger.load.neutral import neutral_entry
from robust_ledger.load.result import LoadResult
from robust_ledger.load.tape import Calculation


class FeederCircuits(Struct, frozen=True):
    """What hangs on a feeder, its own panel's and of those behind it: ids of loads, number of circuits that feed no listed load, of which
    small-appliance and laundry ones; `whole`: it is all there is in the dwelling; `later`: futures that bring loads to it;
    `beside`: where the main panel is among them, panels whose floor area is no part of its own; `circuits` of all kinds; `served`: the
    panels whose general circuits those are, each with how many that are for no kitchen and no laundry."""

    load_ids: frozenset[str]
    general: int
    small_appliance: int
    laundry: int
    whole: bool
    later: tuple[tuple[Future, frozenset[str]], ...] = ()
    beside: frozenset[str] = frozenset()
    circuits: int = 0
    served: Mapping[str, int] = field(default_factory=dict)

    @property
    def empty(self) -> bool:
        """Whether nothing is on it, now or later."""
        return not self.load_ids and not self.general and not self.later


class FeederLoad(Struct, frozen=True):
    """What a feeder has to carry [A], and what its neutral does; `calculation` is its tape, None where the dwelling's own counts or
    nothing hangs on it yet. `method` tells which calculation was open to it, and why not another; `later`: what it comes to [A] with each
    future; `fuller`: its fuller leg [A] where 120 V loads lean on one."""

    amperes: Entry
    neutral: Entry
    method: Entry
    calculation: Calculation | None
    whole: bool
    later: tuple[tuple[Future, Calculation, Entry], ...] = ()
    circuits: int = 0
    fuller: Entry | None = None

    @property
    def entries(self) -> tuple[Entry, ...]:
        """Everything worked out for it."""
        tape = self.calculation.entries if self.calculation else (self.amperes,)
        later = (entry for _future, made, amperes in self.later for entry in (*made.entries, amperes))
        fuller = (self.fuller,) if self.fuller is not None else ()
        return (*tape, *fuller, self.neutral, self.method, *later)


class FeederLoads(Room, Struct, frozen=True):
    """The load of every feeder by its panel's id."""

    loads: dict[str, FeederLoad]
    entries: dict[str, Entry]


def feeder_loads(panels: tuple[Panel, ...], by_feeder: Mapping[str, FeederCircuits], load: LoadResult) -> FeederLoads:
    """The load of each node's feeder, and the main panel's own share where it has one: in a split service, behind a disconnect that is not
    the only one, on a breaker of a meter-main."""
    made = {}
    job = load.inputs.job
    for panel_id, on_it in by_feeder.items():
        panel = next((one for one in panels if one.id == panel_id), None) or Panel(id=panel_id, name="main panel")
        served = _area_below(job, panel, panels, on_it)
        bare = sum(count for one, count in on_it.served.items() if any(p.id == one and p.area == 0 for p in panels))
        made[panel_id] = feeder_load(panel.changed(area=served), on_it, load, bare)
    return FeederLoads(made, by_id(*(entry for one in made.values() for entry in one.entries)))


def _area_below(job: Job, panel: Panel, panels: tuple[Panel, ...], on_it: FeederCircuits) -> float | None:
    """The floor area that the general circuits on a feeder serve: that of every panel on it which has some; None where one is not said. The
    main panel's is the dwelling's less what panels beside it serve; an enclosure outdoors serves no rooms unsaid."""
    if not on_it.served:
        return panel.area
    by_id_, box, areas = {one.id: one for one in panels}, ahead_box(job), []
    own = (
        {panel.id} if panel.id in by_id_ and panel.takes_circuits else set()
    )  # it has outlets of its own, listed or not
    for panel_id in own | set(on_it.served):
        if panel_id == MAIN:
            beside = [by_id_[one] for one in on_it.beside]
            others = [one.area if one != box else one.area or 0.0 for one in beside]
            whole = job.dwelling.area
            rest = whole - sum(one or 0.0 for one in others) if whole is not None and None not in others else None
            areas.append(rest if rest is None or rest >= 0 else None)
        else:
            areas.append(by_id_[panel_id].area)
    return None if None in areas else sum(one or 0.0 for one in areas)


def feeder_load(panel: Panel, by_feeder: FeederCircuits, load: LoadResult, bare: int) -> FeederLoad:
    """The load of one feeder. `bare`: general circuits on it of panels without a floor area, which count one by one."""
    codebook, place = load.inputs.codebook, Place.of("panels", f"{panel.id}.load_a")
    work = Working(f"load.feeder.{panel.id}.method", f"Feeder to the {panel.name}: calculation", place)
    if by_feeder.whole:
        work.note("feeds the whole dwelling", "yes", [codebook.cite("optional")])
        method = work.entry(work.note("calculation", "as for the dwelling"))
        return FeederLoad(
            _as_for_the_dwelling(panel, "amperes", load.governing),
            _as_for_the_dwelling(panel, "neutral", load.neutral),
            method,
            None,
            True,
        )
    work.note("feeds the whole dwelling", "no, part of it")
    work.note("optional calculation", "not allowed: it is for a dwelling's whole load", [codebook.cite("optional")])
    method = work.entry(work.note("calculation", "standard, for what hangs on it", [codebook.cite("standard")]))
    if by_feeder.empty:
        words = f"circuits in the {panel.name}"
        return FeederLoad(_unknown(panel, "amperes", words), _unknown(panel, "neutral", words), method, None, False)
    inputs = _inputs(panel, by_feeder, load.inputs, bare)
    made = CALCULATIONS["standard"](inputs)
    words = "circuits of a building without floor area at 1,500 VA each" if inputs.circuits else ""
    practice = "; ".join(part for part in (made.practice, words) if part)
    made = replace(made, title=f"Feeder to the {panel.name}", practice=practice)
    later = tuple(_later(future, ids, inputs) for future, ids in by_feeder.later)
    fuller = fuller_leg_entry(made, inputs)
    amperes, neutral = governing(made.amperes, fuller), neutral_entry(inputs, made)
    return FeederLoad(amperes, neutral, method, made, False, later, by_feeder.circuits, fuller)


def _later(future: Future, load_ids: frozenset[str], inputs: LoadInputs) -> tuple[Future, Calculation, Entry]:
    """The same with what a future brings to the panel and takes away, and the amperes of its fuller leg."""
    comes = [load for load in inputs.job.loads if load.id in load_ids]
    stays = [load for load in inputs.loads if load.id not in future.removes]
    later = replace(inputs, loads=[*stays, *comes], part=f"{inputs.part}.with.{future.id}")
    made = CALCULATIONS["standard"](later)
    return future, made, governing(made.amperes, fuller_leg_entry(made, later))


def _inputs(panel: Panel, by_feeder: FeederCircuits, whole: LoadInputs, bare: int) -> LoadInputs:
    """The calculation's inputs, of what hangs on the feeder alone."""

    def mine(loads: list[Load]) -> list[Load]:
        return [load for load in loads if load.id in by_feeder.load_ids]

    dwelling = replace(
        whole.job.dwelling,
        area=panel.area if by_feeder.general else 0.0,
        small_appliance_circuits=by_feeder.small_appliance,
        laundry_circuits=by_feeder.laundry,
    )
    return replace(
        whole,
        job=replace(whole.job, dwelling=dwelling),
        loads=mine(whole.loads),
        managed=mine(whole.managed),
        general=bool(by_feeder.general),
        part=panel.id,
        circuits=bare,
    )


def _as_for_the_dwelling(panel: Panel, name: str, entry: Entry) -> Entry:
    work = Working(f"load.feeder.{panel.id}.{name}", f"Feeder to the {panel.name}: {entry.label}", entry.place)
    return work.entry(work.entry_step(entry, "all of the dwelling's load"))


def _unknown(panel: Panel, name: str, what: str) -> Entry:
    words = "load" if name == "amperes" else "neutral load"
    work = Working(f"load.feeder.{panel.id}.{name}", f"Feeder to the {panel.name}: {words}")
    work.missing.append(what)
    return work.entry(Step(words, None, "A"))
