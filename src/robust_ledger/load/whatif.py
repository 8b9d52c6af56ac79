"""What-if columns: today, after this job, and with each future; which mains each of them fits, and how many spaces."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.job import Job
from robust_ledger.job.parts.futures import Future
from robust_ledger.job.parts.house import Load, When
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.load.general import LoadInputs, load_inputs
from robust_ledger.load.legs import fuller_leg_entry
from robust_ledger.load.methods import calculation_by, standard_main
from robust_ledger.load.tape import Calculation

RATINGS_A = (100, 125, 150, 200)


class Column(Struct, frozen=True):
    """One state of the house: its load [A] and [VA] by the chosen method, the main it needs [A], what is left [A] below
    each rating and below the weakest link that stays, and the spaces it takes. `answers` say what to do where it
    is too much; `fuller`: its fuller leg [A] where 120 V loads lean on one."""

    key: str
    title: str
    job: Job
    load: Entry
    amperes: Entry
    main: Entry
    room: dict[int, Entry]
    link_room: Entry | None
    spaces: Entry
    answers: tuple[Entry, ...] = ()
    fuller: Entry | None = None

    @property
    def entries(self) -> list[Entry]:
        """Every entry of the column."""
        link = [self.link_room] if self.link_room else []
        fuller = [self.fuller] if self.fuller else []
        return [self.load, *fuller, self.amperes, self.main, *self.room.values(), *link, self.spaces, *self.answers]


MOST_ALONE = 12  # later loads with a column of their own; beyond that the rest has one together


def futures_of(job: Job) -> list[Future]:
    """The named futures, then each load marked "later" that none of them has, as a future of its own."""
    named = {load_id for future in job.futures for load_id in future.load_ids}
    single = [x for x in job.loads if x.when is When.LATER and x.id not in named]
    alone, rest = (single, []) if len(single) <= MOST_ALONE else (single[: MOST_ALONE - 1], single[MOST_ALONE - 1 :])
    made = [Future(id=f"load.{x.id}", name=x.name, load_ids=(x.id,)) for x in alone]
    if rest:
        made.append(Future(id="load.", name=f"{len(rest)} more later loads", load_ids=tuple(x.id for x in rest)))
    return [*job.futures, *made]


def states(job: Job) -> list[tuple[str, str, Job]]:
    """Every column as (key, title, the job as it would be)."""
    made = [("today", "Today", today(job)), ("after", "After this job", job)]
    return made + [(f"future.{f.id}", f"With {f.name}", with_future(job, f)) for f in futures_of(job)]


def today(job: Job) -> Job:
    """The house as it is: what the job takes out is there, what it brings is not."""

    def before(load: Load) -> Load:
        when = {When.REMOVED: When.EXISTING, When.ADDED: When.LATER}.get(load.when, load.when)
        return load if when is load.when else replace(load, when=when)

    return replace(job, loads=tuple(before(load) for load in job.loads))


def with_future(job: Job, future: Future) -> Job:
    """The house after this job and a future: its loads have come, those it takes out have gone."""

    def then(load: Load) -> Load:
        if load.id in future.removes:
            return replace(load, when=When.REMOVED)
        if load.id in future.load_ids and load.when is When.LATER:
            return replace(load, when=When.ADDED)
        return load

    dwelling = job.dwelling
    changes: dict[str, float] = {}
    if future.area and dwelling.area is not None:
        changes["area"] = dwelling.area + future.area
    if future.small_appliance_circuits:
        changes["small_appliance_circuits"] = dwelling.small_appliance_circuits + future.small_appliance_circuits
    if changes:
        dwelling = replace(dwelling, **changes)
    return replace(job, loads=tuple(then(load) for load in job.loads), dwelling=dwelling)


def columns(base: LoadInputs, after: Calculation, spaces_used: Entry, link: tuple[float, str] | None) -> list[Column]:
    """All columns of a job, whose own calculation is `after`. `link` is the weakest link that stays, its limit [A] and
    its name. `spaces_used` are the spaces its circuits take in the new panel, without futures."""
    return [
        _column(key, title, job, after if job is base.job else calculated(job, base), base, spaces_used, link)
        for key, title, job in states(base.job)
    ]


def calculated(job: Job, base: LoadInputs) -> Calculation:
    """The load of another state of the house by the job's method; nameplates are the same in all of them."""
    return calculation_by(job.decisions.load_method, load_inputs(job, base.codebook, base.nameplates))


def without(job: Job, gone: Sequence[Load]) -> Job:
    """The job with some loads gone, and no set point of its own."""
    ids = {load.id for load in gone}
    loads = tuple(replace(x, when=When.REMOVED) if x.id in ids else replace(x, managed=False) for x in job.loads)
    return replace(job, loads=loads)


def state_column(job: Job, base: LoadInputs) -> Column:
    """One state of the house as a column of its own, without spaces."""
    none = Entry("whatif.state.spaces", "spaces", None, "")
    return _column("state", "This job", job, calculated(job, base), base, none, None)


def _column(
    key: str,
    title: str,
    job: Job,
    calculation: Calculation,
    base: LoadInputs,
    spaces_used: Entry,
    link: tuple[float, str] | None,
) -> Column:
    load = _renamed(calculation, f"whatif.{key}.load", f"{title}: load")
    future = next((f for f in job.futures if key == f"future.{f.id}"), None)
    if future is not None and (future.without_load or future.units):  # it draws something: never "fits"
        unknown = Working(load.id, load.label)
        why = (
            f"what {future.name} draws"
            if not future.units
            else f"{future.name}: another dwelling unit, 220.85 for two or 220.84"
        )
        load = unknown.entry(unknown.given(why, None, "VA"), load.cites)
    amps = Working(f"whatif.{key}.amperes", f"{title}: amperes")
    exact = amps.quotient("at the service voltage", amps.entry_step(load), amps.take(base.line_volts), "A")
    rounded = amps.round_half_up("in whole amperes", exact, [calculation.rounding])
    inputs = load_inputs(job, base.codebook, base.nameplates)
    by_column = replace(calculation, total=load, title=title)
    fuller = fuller_leg_entry(by_column, inputs, f"whatif.{key}.fuller_leg") if load.known else None
    if fuller is not None and fuller.amount > rounded.amount:
        rounded = amps.larger("the fuller leg is more", [rounded, amps.entry_step(fuller)])
    amperes = amps.entry(rounded, [calculation.cite, calculation.rounding])
    main = Working(f"whatif.{key}.main", f"{title}: main needed")
    room = {rating: _room(key, title, amperes, rating, f"a {rating} A main", str(rating)) for rating in RATINGS_A}
    link_room = _room(key, title, amperes, link[0], link[1], "link") if link else None
    main_entry = main.entry(standard_main(main, amperes, base.codebook))
    spaces = _spaces(key, title, base.job, spaces_used)
    return Column(key, title, job, load, amperes, main_entry, room, link_room, spaces, fuller=fuller)


def _renamed(calculation: Calculation, entry_id: str, label: str) -> Entry:
    """The tape of a column as the steps of one entry."""
    work = Working(entry_id, label)
    local = {entry.id for entry in calculation.entries if entry.local}
    for line in calculation.lines:
        how = f"{line.amount} × {line.factor}" if line.factor else line.amount
        if line.counted:
            work.take(Step(line.label, line.result_va, "VA", how, line.cites, line.place, line.entry_id in local))
    total = calculation.total
    work.missing = [total.why_unknown] if not total.known else []
    return work.entry(Step("calculated load", total.value, "VA"), [calculation.cite])


def _room(key: str, title: str, amperes: Entry, rating_a: float, words: str, name: str) -> Entry:
    work = Working(f"whatif.{key}.room.{name}", f"{title}: spare on {words}")
    rating = work.given(words, rating_a, "A")
    return work.entry(work.difference("left", rating, work.entry_step(amperes), "A"))


def _spaces(key: str, title: str, job: Job, spaces_used: Entry) -> Entry:
    """Spaces in the new panel: those of this job, the poles a future brings and those it frees; for today those of the old."""
    work = Working(f"whatif.{key}.spaces", f"{title}: spaces")
    if key == "today":
        taken = {space.rstrip("ab") for c in job.circuits for space in c.spaces}
        return work.entry(work.given("spaces with a circuit in the old panel", len(taken)))
    parts = [work.entry_step(spaces_used, "circuits of this job")]
    future = next((f for f in futures_of(job) if key == f"future.{f.id}"), None)
    if future:
        fed = job.fed_loads
        for load in job.loads:
            if load.id in future.load_ids and load.when is When.LATER and load.id not in fed:
                parts.append(work.given(load.name, load.poles, "", Place.load(load.id)))
        for circuit in future.circuits:
            parts.append(work.given(circuit.name, circuit.poles))
        for old in job.circuits:
            if old.tag in future.frees and not old.off:
                parts.append(work.given(f"tag {old.tag} goes", -old.poles, "", Place.circuit(old.tag)))
    return work.entry(work.total("spaces", parts, ""))
