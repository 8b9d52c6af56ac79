"""Which of the four calculations are open to a job, what each leads to, and which one is recommended, with reasons."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import next_rating_a
from robust_ledger.job.job import Job
from robust_ledger.job.parts.house import LoadKind
from robust_ledger.job.parts.measured import Measured
from robust_ledger.ledger.entry import Citation, Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import number_text
from robust_ledger.ledger.working import Working
from robust_ledger.load.existing import existing_calculation
from robust_ledger.load.general import LoadInputs
from robust_ledger.load.legs import fuller_leg_entry, governing
from robust_ledger.load.management import IDLE, PERMITTED, by_nameplates, chargers_at_set_point
from robust_ledger.load.measured import measured_calculation
from robust_ledger.load.optional import optional_calculation
from robust_ledger.load.standard import standard_calculation
from robust_ledger.load.tape import Calculation

_BY_METHOD: dict[str, Callable[[LoadInputs], Calculation]] = {
    "standard": standard_calculation,
    "optional": optional_calculation,
    "existing": existing_calculation,
    "measured": measured_calculation,
}
_CHARGING_WORDS = {
    "block": "vehicle charging in the block",
    "added": "vehicle charging at 100% after the block",
    "continuous": "vehicle charging at 125%",
}


def calculation_by(name: str, inputs: LoadInputs) -> Calculation:
    """One calculation, with the practices it rests on."""
    made, practices = _managed(name, inputs) if inputs.managed else (_BY_METHOD[name](inputs), [])
    if any(load.kind is LoadKind.EV_CHARGER for load in inputs.loads):
        choice = inputs.job.decisions.ev_practice
        if name in ("optional", "existing") or choice == "continuous":
            practices.append(_CHARGING_WORDS[choice])
    words = "; ".join(part for part in (made.practice, *practices) if part)
    return replace(made, practice=words) if words != made.practice else made


def _managed(name: str, inputs: LoadInputs) -> tuple[Calculation, list[str]]:
    """The least of three readings of a set point, and which it is: at 125% in place of what it holds back [220.70]; where that is charging alone,
    as a charger of the set point [625.42]; and without it, as a set point is a permission and never raises a load."""
    made = _BY_METHOD[name](inputs)
    plain = _BY_METHOD[name](replace(inputs, loads=inputs.every, managed=[]))
    if not plain.total.known or not made.total.known:
        return made, []
    permitted = chargers_at_set_point(inputs)
    as_charger = by_nameplates(_BY_METHOD[name](permitted), permitted, inputs) if permitted is not None else None
    if as_charger is not None and as_charger.total.amount < min(made.total.amount, plain.total.amount):
        return as_charger, [PERMITTED]
    if plain.total.amount <= made.total.amount:
        return replace(plain, set_point_idle=True), [IDLE]
    return made, ["energy management: its set point at 125% in place of what it holds back"]


CALCULATIONS: dict[str, Callable[[LoadInputs], Calculation]] = {
    name: partial(calculation_by, name) for name in _BY_METHOD
}
NAMES = {
    "standard": "Standard calculation",
    "optional": "Optional calculation",
    "existing": "Existing dwelling",
    "measured": "Measured demand",
}
OPEN, CLOSED = "open", "not allowed"

# A year is taken as whole when no more than this part of its readings is missing.
COVERAGE_MIN = 0.99
YEAR_DAYS = 365


class Condition(Struct, frozen=True):
    """Something a method asks for: whether it holds, and in which words."""

    label: str
    holds: bool
    words: str
    cites: tuple[Citation, ...]


class Method(Struct, frozen=True):
    """One calculation as an option for this job. `state` is the entry "open" or "not allowed" with its conditions;
    `main` the standard main [A] it leads to; `fuller` the fuller leg [A] where 120 V loads lean on one."""

    name: str
    calculation: Calculation
    state: Entry
    main: Entry
    why: str
    fuller: Entry | None = None

    @property
    def governing(self) -> Entry:
        """What the main has to carry [A]: the calculated load, or the fuller leg where that is more."""
        return governing(self.calculation.amperes, self.fuller)

    @property
    def open(self) -> bool:
        """Whether the method may be used for this job."""
        return self.state.value == OPEN


def methods(inputs: LoadInputs) -> dict[str, Method]:
    """All four, in the order of the code."""
    return {name: _method(name, calculate(inputs), inputs) for name, calculate in CALCULATIONS.items()}


def _method(name: str, calculation: Calculation, inputs: LoadInputs) -> Method:
    conditions = list(_CONDITIONS[name](inputs.job, inputs.codebook))
    failing = [c for c in conditions if not c.holds]
    work = Working(f"load.{name}.open", f"{NAMES[name]}: allowed for this job?")
    for condition in conditions:
        work.note(condition.label, condition.words, condition.cites)
    result = Step("open", CLOSED if failing else OPEN)
    shown = failing or conditions
    why = "; ".join(f"{c.label}: {c.words}" for c in shown)
    fuller = fuller_leg_entry(calculation, inputs)
    main = _main(name, governing(calculation.amperes, fuller), inputs)
    return Method(name, calculation, work.entry(result, [calculation.cite]), main, why, fuller)


def _main(name: str, carried: Entry, inputs: LoadInputs) -> Entry:
    work = Working(f"load.{name}.main", f"{NAMES[name]}: standard main")
    return work.entry(standard_main(work, carried, inputs.codebook))


def standard_main(work: Working, amperes: Entry, codebook: Codebook) -> Step:
    """The smallest standard rating [A] at or above a load, never under the dwelling minimum [230.79(C), 240.6(A)]."""
    least = work.take(codebook.step("dwelling_main_min_a", "dwelling minimum"))
    needed = work.larger("at least", [work.entry_step(amperes), least], [codebook.cite("service_rating")])
    rating = next_rating_a(codebook, needed.amount) if needed.known else None
    return work.take(Step("next standard rating", rating, "A", cites=(codebook.cite("standard_ratings"),)))


def recommendation(options: dict[str, Method], inputs: LoadInputs) -> Entry:
    """The method to take, with the reason and why not the others.

    Where the service stays, a sound recording of this very house comes first and the existing-dwelling calculation
    second, since both ask the question at hand; for a new service the smallest load among the open methods.
    """
    work = Working("load.recommended", "Recommended method", Place("decisions:load_method"))
    stays = inputs.job.scope.keeps_service
    work.note(
        "the service that is there", "stays" if stays else "is replaced" if _said(inputs.job) else "not entered yet"
    )
    open_ = [m for m in options.values() if m.open and m.calculation.amperes.known]
    for method in options.values():
        state = method.calculation.amperes.text() if method.open else CLOSED
        work.steps.append(Step(NAMES[method.name], f"{state}; {method.why}", "", "", (method.calculation.cite,)))
    chosen, reason = _choose(open_, stays)
    work.note("chosen because", reason, name="because")
    result = Step("recommended", NAMES[chosen.name] if chosen else None)
    if chosen is None:
        work.missing = [options["standard"].calculation.amperes.why_unknown or "load"]
        return work.entry(result)
    return work.entry(result, [chosen.calculation.cite])


def recommended_name(entry: Entry) -> str:
    """The method's short name behind the recommendation; "" while there is none."""
    return next((name for name, words in NAMES.items() if words == entry.value), "")


def _choose(open_: list[Method], stays: bool) -> tuple[Method | None, str]:
    by_name = {method.name: method for method in open_}
    if stays and "measured" in by_name:
        return by_name["measured"], "the service stays, and the recording shows what this house really draws"
    if stays and "existing" in by_name:
        return by_name["existing"], "the service stays, and this calculation asks whether it carries the additions"
    if not open_:
        return None, "nothing can be worked out yet"
    least = min(open_, key=lambda m: (m.calculation.amperes.amount, m.name != "optional"))
    if len(open_) == 1:
        return least, "the only one that is allowed"
    return least, "all that are allowed may be used, and it comes to the least load"


def _said(job: Job) -> bool:
    return job.scope.said


def _standard_conditions(job: Job, codebook: Codebook) -> Iterable[Condition]:
    yield Condition("any dwelling", True, "yes", (codebook.cite("standard"),))


def _optional_conditions(job: Job, codebook: Codebook) -> Iterable[Condition]:
    cites = (codebook.cite("optional"),)
    units = job.dwelling.units or 1
    words = f"no, {units} units: 220.85 for two, 220.84 for more" if units > 1 else "yes"
    yield Condition("one dwelling unit", units == 1, words, cites)
    yield Condition("one set of 3 wires", True, f"yes, {job.dwelling.supply} V", cites)
    least = codebook.step("optional_service_min_a")
    main_a = job.decisions.main_a or (job.old_panel.main_a if job.scope.keeps_service else None)
    large = main_a is None or main_a >= least.amount
    words = f"the main is {main_a:g} A" if main_a is not None else "yes (100 A minimum, 230.79(C))"
    yield Condition(f"service of {least.text()} or more", large, words, least.cites)


def _existing_conditions(job: Job, codebook: Codebook) -> Iterable[Condition]:
    words = "yes"
    if not job.scope.said:
        words = "not entered yet: choose the scope of the job"
    elif not job.scope.keeps_service:
        words = "no: the service is being replaced; use 220.82 or Part III"
    cites = (codebook.cite("existing"),)
    yield Condition("for an existing service", job.scope.keeps_service, words, cites)
    if (units := job.dwelling.units or 1) > 1:
        yield Condition("one dwelling unit", False, f"no, {units} units", cites)


def _measured_conditions(job: Job, codebook: Codebook) -> Iterable[Condition]:
    cite, exception = (codebook.cite("measured"),), (codebook.cite("measured_exception"),)
    measured = job.measured
    if measured is None or measured.peak is None:
        yield Condition("demand recording", False, "none read yet", cite)
        return
    protected = (codebook.cite("measured_rating"),)
    yield Condition("protected against overload", True, "yes, by its main", protected)
    if measured.exports:
        words = "no, energy was sent out: the readings show the rest after generation, not what the house used"
        yield Condition("shows what the house used", False, words, cite)
    if measured.route == "year":
        yield from _year_conditions(measured, cite)
        return
    least = codebook.number("measured_days_min")
    days = f"{number_text(measured.longest_days, 1)} of {least:g} days; a gap starts them anew"
    yield Condition("30 days without a gap", measured.longest_days >= least - 1e-6, days, exception)
    short = measured.interval_min <= 15
    yield Condition("averages over 15 minutes", short, f"every {measured.interval_min:g} minutes", exception)
    renewable = (codebook.cite("measured_renewable"),)
    source = known_source(job)
    words = source or ("confirmed" if measured.renewable is False else "not confirmed yet")
    yield Condition(
        "no renewable source, no peak shaving", not source and measured.renewable is False, words, renewable
    )
    lived_in = "confirmed" if measured.occupied else "not confirmed yet"
    yield Condition("lived in during the recording", measured.occupied, lived_in, exception)
    season = measured.seasonal or measured.seasonal_va > 0
    words = "recorded in season" if measured.seasonal else "added by calculation" if season else "neither yet"
    yield Condition("larger of heating and cooling in it", season, words, exception)


def known_source(job: Job) -> str:
    """What is known anywhere of a source or a battery beside the utility, in words; "" when nothing is."""
    measured = job.measured
    if measured is not None and measured.renewable:
        return "there is"
    if job.equipment.inverter_a is not None:
        return f"there is: a solar inverter of {job.equipment.inverter_a:g} A"
    if job.equipment.battery:
        return "there is: a battery"
    return "there is: energy was sent out" if measured is not None and measured.exports else ""


def _year_conditions(measured: Measured, cite: tuple[Citation, ...]) -> Iterable[Condition]:
    hidden = "; shorter peaks do not show" if measured.interval_min > 15 else ""
    yield Condition("as metered", True, f"averages over {measured.interval_min:g} minutes{hidden}", cite)
    whole = measured.days >= YEAR_DAYS - 0.5
    days = f"{number_text(measured.days, 0)} of {YEAR_DAYS} days"
    if not whole and measured.missing:
        days += f"; missing: {measured.missing[0]}"
    yield Condition("a whole year", whole, days, cite)
    enough = measured.coverage >= COVERAGE_MIN
    words = f"{number_text(measured.coverage * 100, 1)}% of the readings are there"
    if not enough and measured.missing:
        words += f"; missing: {', '.join(measured.missing[:3])}"
    yield Condition(f"at least {COVERAGE_MIN * 100:g}% of it (ours)", enough, words, cite)


_CONDITIONS: dict[str, Callable[[Job, Codebook], Iterable[Condition]]] = {
    "standard": _standard_conditions,
    "optional": _optional_conditions,
    "existing": _existing_conditions,
    "measured": _measured_conditions,
}
