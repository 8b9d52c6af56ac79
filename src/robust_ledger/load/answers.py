"""What to do where a load is too much: hold some of it back by energy management, or split the service over two panels."""

from __future__ import annotations

import math
from collections.abc import Sequence

from msgspec.structs import replace

from robust_ledger.codebook.conductors import next_rating_a
from robust_ledger.job.job import Job
from robust_ledger.job.parts.house import Load, LoadKind, When
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.working import Working
from robust_ledger.load.block import CLIMATE
from robust_ledger.load.climate import seasons
from robust_ledger.load.general import LoadInputs, load_inputs
from robust_ledger.load.standard import standard_calculation
from robust_ledger.load.tape import Calculation
from robust_ledger.load.whatif import Column, calculated, state_column, without

# The largest single panel: above it the service is split.
LARGEST_MAIN_A = 200
# The least current a vehicle charger can be told to draw; less than that is no answer.
LEAST_SETPOINT_A = 6
# And the least part of what is held back that is still of use; ours.
LEAST_SHARE = 0.25
_CAN_WAIT = (
    LoadKind.WATER_HEATER,
    LoadKind.THERMAL_STORAGE,
    LoadKind.DRYER,
    LoadKind.SUPPLEMENTAL_HEAT,
    LoadKind.APPLIANCE,
)
_LEAST_WORTH_VA = 3000
MOST_HELD = 24  # no management system of a dwelling holds back more
# A water heater above this has no storage and cannot wait.
_LARGEST_STORAGE_VA = 6000


def answers_for(column: Column, base: LoadInputs, link: tuple[float, str] | None) -> tuple[Entry, ...]:
    """What to do about a column: the set point that keeps it below the weakest link (or a 200 A main), and above 200 A
    the split over two panels. Nothing for one that fits, or whose load is unknown."""
    if not column.amperes.known or column.key == "today":
        return ()
    found = []
    if link and link[0] < LARGEST_MAIN_A and column.amperes.amount > link[0]:
        found.append(_management_answer(column, base, link[0], link[1], "link"))
    if column.amperes.amount > LARGEST_MAIN_A:
        found.append(_management_answer(column, base, LARGEST_MAIN_A, "200 A main", "200"))
        found.append(_split_answer(column, base))
    return tuple(found)


def answer_within(job: Job, base: LoadInputs, limit_a: float) -> Entry | None:
    """The set point that keeps a state of the house within a limit [A]; None where its load is unknown."""
    column = state_column(job, base)
    return _management_answer(column, base, limit_a, "service that stays", "kept") if column.amperes.known else None


def _management_answer(column: Column, base: LoadInputs, limit_a: float, words: str, name: str) -> Entry:
    """The highest set point [A] that keeps the load within the limit, holding back as few loads as will do."""
    title = f"{column.title}: set point to stay within the {words}"
    work = Working(f"whatif.{column.key}.setpoint.{name}", title)
    codebook = base.codebook
    limit = work.given(words, limit_a, "A")
    allowed = work.product("load allowed", [limit, work.take(base.line_volts)], "VA")
    factor = codebook.step("management_factor", "the set point is taken as continuous")
    held: list[Load] = []
    for load in _candidates(column.job, base)[:MOST_HELD]:
        held.append(load)
        left = calculated(without(column.job, held), base)
        if not left.total.known:
            break
        room_va = allowed.amount - left.total.amount
        setpoint_a = math.floor(room_va / factor.amount / base.line_volts.amount + 1e-9)
        drawn_a = sum(base.nameplates[x.id].amount for x in held) / base.line_volts.amount
        if all(load.kind is LoadKind.EV_CHARGER for load in held):
            more_a = _as_charger(column.job, base, held, allowed.amount, (setpoint_a, math.floor(drawn_a)))
            if more_a > max(setpoint_a, LEAST_SETPOINT_A):
                return _answer_as_charger(work, column.job, base, held, more_a)
        if setpoint_a >= max(LEAST_SETPOINT_A, LEAST_SHARE * drawn_a):
            work.note("held back", ", ".join(x.name for x in held), [codebook.cite("management")], "held back")
            rest = work.take(Step("load without them", left.total.value, "VA", cites=(left.cite,)))
            room = work.difference("room for them", allowed, rest, "VA")
            part = work.quotient("before the factor", room, work.take(factor), "VA")
            exact = work.quotient("at the service voltage", part, base.line_volts, "A")
            result = work.take(Step("highest whole set point", setpoint_a, "A", f"{exact.text()}, fraction dropped"))
            return work.entry(result, [codebook.cite("management")])
    reason = f"nothing that can wait leaves a usable set point within {limit_a:g} A"
    if not codebook.number("management_any_load"):
        reason += "; this edition lets only vehicle charging count so"
    return work.entry(work.given(reason, None, "A"), [codebook.cite("management")])


def _held_at(job: Job, held: Sequence[Load], setpoint_a: int) -> Job:
    """The job with some loads held back at a set point."""
    ids = {load.id for load in held}
    loads = tuple(replace(one, managed=one.id in ids) for one in job.loads)
    return replace(job, loads=loads, management=replace(job.management, setpoint_a=float(setpoint_a)))


def _as_charger(job: Job, base: LoadInputs, held: Sequence[Load], allowed_va: float, between_a: tuple[int, int]) -> int:
    """The highest whole set point [A] within the load allowed where chargers count as ones of their set point: the load only rises with it."""
    low, high = max(0, between_a[0]), between_a[1]
    while low < high:
        tried = (low + high + 1) // 2
        fits = calculated(_held_at(job, held, tried), base).total.amount <= allowed_va + 1e-6
        low, high = (tried, high) if fits else (low, tried - 1)
    return low


def _answer_as_charger(work: Working, job: Job, base: LoadInputs, held: Sequence[Load], setpoint_a: int) -> Entry:
    """The answer by that reading: the load with the set point, and with one ampere more."""
    cite = base.codebook.cite("charging_permitted")
    work.note("held back", ", ".join(one.name for one in held), [cite], "held back")
    work.note("counted", "as a charger of the set point", [cite])
    for label, amperes in (("load with it", setpoint_a), ("load with one ampere more", setpoint_a + 1)):
        made = calculated(_held_at(job, held, amperes), base)
        work.take(Step(label, made.total.value, "VA", cites=(made.cite,)))
    return work.entry(work.take(Step("highest whole set point", setpoint_a, "A")), [cite])


def _candidates(job: Job, base: LoadInputs) -> list[Load]:
    """What can be held back, the most willing first: chargers, then large loads that can wait, largest first. By
    measured demand only what is new: the rest is within the recording."""
    loads = [x for x in job.loads if x.when in (When.EXISTING, When.ADDED) and base.nameplates[x.id].known]
    if job.decisions.load_method == "measured":
        loads = [x for x in loads if x.when is When.ADDED]
    chargers = [x for x in loads if x.kind is LoadKind.EV_CHARGER]
    if not base.codebook.number("management_any_load"):
        return chargers
    can_wait = [x for x in loads if x.kind in _CAN_WAIT and _worth_it(x.kind, base.nameplates[x.id].amount)]
    can_wait.sort(key=lambda x: -base.nameplates[x.id].amount)
    return chargers + can_wait


def _worth_it(kind: LoadKind, va: float) -> bool:
    instantaneous = kind is LoadKind.WATER_HEATER and va > _LARGEST_STORAGE_VA
    return va >= _LEAST_WORTH_VA and not instantaneous


def _split_answer(column: Column, base: LoadInputs) -> Entry:
    """Two panels under one meter: the general load stays in the first, the others go where they weigh least. Each
    carries a part of the dwelling, so each is sized by the standard calculation."""
    work = Working(f"whatif.{column.key}.split", f"{column.title}: service split over two panels")
    codebook = base.codebook
    inputs = load_inputs(column.job, codebook, base.nameplates)
    whole = _part(inputs, list(inputs.every), True)
    if not whole.total.known:
        return work.entry(work.entry_step(whole.total, "standard calculation of the whole house"))
    first, second = _divide(inputs)
    work.note("each panel carries a part", "standard calculation for each", [codebook.cite("feeder_part")])
    work.note("two mains under one meter", "each in its own enclosure", [codebook.cite("split_service")])
    texts = []
    for number, (loads, calculation) in enumerate((first, second), 1):
        names = ", ".join(load.name for load in loads) or "nothing else"
        work.note(f"panel {number}", f"general load, {names}" if number == 1 else names)
        amperes = calculation.amperes
        if not amperes.known:
            return work.entry(work.entry_step(amperes, f"load of panel {number}"))
        work.take(Step(f"panel {number}: load", amperes.value, "A", calculation.division.how, (calculation.cite,)))
        if amperes.amount > LARGEST_MAIN_A:
            return work.entry(work.given(f"no division leaves both at {LARGEST_MAIN_A} A or less", None))
        main_a = next_rating_a(codebook, max(amperes.amount, codebook.number("dwelling_main_min_a")))
        work.take(Step(f"panel {number}: main", main_a, "A", cites=(codebook.cite("standard_ratings"),)))
        texts.append(f"{main_a:g} A")
    work.take(Step("whole service, by the chosen method", column.amperes.value, "A", cites=column.amperes.cites))
    return work.entry(work.note("mains of the two panels", " + ".join(texts)), [codebook.cite("split_service")])


_Part = tuple[list[Load], Calculation]


def _divide(inputs: LoadInputs) -> tuple[_Part, _Part]:
    """Largest loads first, each to the panel that has less so far; heating and cooling stay together, since only the
    larger of them counts."""
    climate = [x for x in inputs.loads if x.kind in CLIMATE]
    others = [x for x in inputs.every if x.kind not in CLIMATE]
    groups = [([x], inputs.nameplates[x.id].amount) for x in others]
    if climate:
        groups.append((climate, max(season.sum_va() for season in seasons(replace(inputs, loads=climate)))))
    sides: tuple[list[Load], list[Load]] = ([], [])
    weights_va = [_part(inputs, [], True).total.amount, 0.0]
    for loads, va in sorted(groups, key=lambda group: -group[1]):
        lighter = 0 if weights_va[0] <= weights_va[1] else 1
        sides[lighter].extend(loads)
        weights_va[lighter] += va
    return (sides[0], _part(inputs, sides[0], True)), (sides[1], _part(inputs, sides[1], False))


def _part(inputs: LoadInputs, loads: list[Load], general: bool) -> Calculation:
    """The standard calculation of one panel's part."""
    return standard_calculation(replace(inputs, loads=loads, managed=[], general=general))
