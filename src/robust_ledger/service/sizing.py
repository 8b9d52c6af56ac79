"""Main, service conductors and neutral, each with its working."""

from __future__ import annotations

from typing import Literal

from msgspec.structs import replace

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import (
    area_cmil,
    is_standard_rating,
    next_rating_a,
    previous_rating_a,
    row_by_size,
    sound_rating_a,
)
from robust_ledger.job.conductors import METAL_TEXT, Conductors, size_text
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN, Panel
from robust_ledger.job.tree import fed_below, in_order, is_service
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.service.ampacity import (
    Laid,
    Needed,
    conditions,
    largest_device,
    pick,
    picked,
    service_laid,
    size_entry,
    write_carries,
)
from robust_ledger.service.bonds import split_mains
from robust_ledger.service.kept_equipment import kept_main


def only_disconnect(job: Job) -> Panel | None:
    """The one service disconnect at the meter through which everything goes, where it is a node of its own; None for several, or none."""
    first = [panel for panel in in_order(job) if panel.kind == "disconnect" and is_service(job, panel)]
    alone = len(first) == 1 and MAIN in fed_below(job, first[0].id) and not job.disconnect_ahead
    others = [panel for panel in in_order(job) if is_service(job, panel)]
    return first[0] if alone and len(others) == 1 else None


def main_entry(job: Job, load: Entry, codebook: Codebook) -> Entry:
    """The main [A]: the user's choice if there is one; where the service stays, the rating it has; else the smallest standard rating
    at or above the load, never under the dwelling minimum [230.79(C), 240.6(A)]."""
    work = Working("service.main", "Main", Place("decisions:main_a"))
    if job.scope.keeps_service and job.decisions.main_a is None:
        return work.entry(kept_main(work, job, codebook), [codebook.cite("service_rating")])
    amps = work.entry_step(load)
    least = work.take(codebook.step("dwelling_main_min_a", "dwelling minimum"))
    ratings = codebook.cite("standard_ratings")
    needed = work.larger("at least", [amps, least], [codebook.cite("service_rating")])
    rating = next_rating_a(codebook, needed.amount) if needed.known else None
    result = work.take(Step("next standard rating", rating, "A", cites=(ratings,)))
    chosen = job.decisions.main_a
    only = only_disconnect(job)
    if chosen is None and only is not None and only.breaker_a is not None:
        place = Place.of("panels", f"{only.id}.breaker_a")
        result = work.given(f"the {only.name}", sound_rating_a(codebook, only.breaker_a), "A", place)
    if chosen is not None:
        known = chosen if is_standard_rating(codebook, chosen) else None
        result = work.take(Step("chosen for this job", known, "A", place=Place("decisions:main_a"), cites=(ratings,)))
    return work.entry(result, [codebook.cite("service_rating"), ratings])


def service_conductor_entry(
    job: Job,
    main: Entry,
    load: Entry,
    metal: str,
    rule: str,
    codebook: Codebook,
) -> Entry:
    """Ungrounded service conductors for one metal. `rule` "dwelling" takes 83% of the rating where the 83% rule is open (see
    `open_to_83`), "full" the load, with a main of the next standard size up [240.4(B)], "strict" the whole rating. Unknown when the main is,
    and by the load while that is."""
    work = Working(f"service.conductors.{metal}.{rule}", f"Service conductors, {METAL_TEXT[metal]}")
    rating = work.entry_step(main)
    if not rating.known:
        return work.entry(Step("size", None))
    needed = _needed(work, job, rating, load, rule, codebook)
    if needed is None:
        return work.entry(Step("size", None))
    cites = [codebook.cite("dwelling_conductors")]
    return size_entry(work, job, service_laid(job), metal, needed, rating.amount, cites, codebook)


def open_to_83(job: Job, rating_a: float, feeder: bool, codebook: Codebook) -> str:
    """Why the 83% rule is closed to conductors with all of a dwelling's load; "" where it is open: 100 to 400 A on 120/240 V, and on
    two legs of a wye for feeders only; not ahead of a split service without a rating of its own [310.12]."""
    low, high = codebook.number("dwelling_rule_min_a"), codebook.number("dwelling_rule_max_a")
    if not low <= rating_a <= high:
        return f"the 83% rule covers {low:g} to {high:g} A"
    if not feeder and job.decisions.main_a is None and len(split_mains(job)) > 1:
        return "no one main carries all of it: the rating is that of no device"
    if job.dwelling.supply != "120/240" and not feeder:
        return "on 208Y/120 V the 83% rule is for feeders only"
    return ""


def _needed(
    work: Working,
    job: Job,
    rating: Step,
    load: Entry,
    rule: str,
    codebook: Codebook,
) -> Needed | None:
    """What the conductors have to be good for; None while the load is not known and the practice goes by it."""
    cites = [codebook.cite("dwelling_conductors")]
    closed = open_to_83(job, rating.amount, False, codebook)
    if rule == "dwelling" and not closed:
        work.note("carries all of the dwelling's load", "yes", cites)
        factor = work.take(codebook.step("dwelling_factor", "83% rule"))
        return Needed(work.product("ampacity needed", [rating, factor], "A").amount, 0.0, "none")
    work.note("83% rule", closed or "not used, by choice", cites)
    if rule == "strict":
        work.note("practice", "ampacity of the whole rating")
        return Needed(rating.amount, rating.amount, "whole")
    work.note("practice", "by the load, main of the next size up", [codebook.cite("next_size_up")])
    carried = work.entry_step(load, "the load")
    if carried.known and carried.amount > rating.amount:  # a main below the load fails by itself
        carried = work.smaller("no more than the main passes", [carried, rating])
    return Needed(carried.amount, rating.amount, "next") if carried.known else None


def largest_on(
    work: Working,
    job: Job,
    laid: Laid,
    one: Conductors,
    rating_a: float,
    load: tuple[Entry, bool],
    practice: Literal["next", "whole"],
    codebook: Codebook,
) -> Step:
    """The largest device [A] on conductors found, at about `rating_a`: by their ampacity, the next size up as far as the load stays below it, and
    by the 83% rule where they carry all of the dwelling's load and it is open [240.4(B), (D), 310.12]. `load`: what they carry, and whether that is
    all of the dwelling's. Unknown while their ampacity is."""
    carries = write_carries(work, job, laid, one, rating_a, conditions(work, laid, codebook), codebook)
    if not carries.known:
        return Step("largest breaker", None, "A")
    carried, whole = load
    found, cite = largest_device(one, carries.amount, practice, codebook)
    allowed = found or 0.0
    if practice == "next" and carried.known and carried.amount > carries.amount:
        work.entry_step(carried, "no next size up: its load is above the ampacity")
        below = previous_rating_a(codebook, carries.amount) or 0.0
        allowed, cite = min(allowed, below), codebook.cite("standard_ratings")
    if whole and job.decisions.conductor_rule == "dwelling":
        factor = work.take(codebook.step("dwelling_factor", "83% rule"))
        by_83 = previous_rating_a(codebook, carries.amount / factor.amount)
        if by_83 is not None and by_83 > allowed and not open_to_83(job, by_83, True, codebook):
            allowed, cite = by_83, codebook.cite("dwelling_conductors")
    return work.take(Step("largest breaker on it", allowed or None, "A", cites=(cite,)))


def neutral_conductor_entry(job: Job, ungrounded: Entry, neutral: Entry, main: Entry, codebook: Codebook) -> Entry:
    """The grounded service conductor: large enough for the neutral load, not below the least of the bonding table,
    and no larger than the ungrounded ones need be [220.61, 250.24(C)(1)]. Beside conductors in parallel one in each set,
    by the ungrounded ones of that set and not below 1/0."""
    work = Working("service.neutral", "Neutral conductor")
    hot = picked(ungrounded)
    amps = work.entry_step(neutral)
    if hot is None or not amps.known:
        work.entry_step(ungrounded)
        return work.entry(Step("size", None))
    row = row_by_size(codebook, "bonding_jumper", hot.size, hot.metal)
    cites = (codebook.cite("neutral_minimum"), codebook.cite("bonding_jumper"))
    beside = Conductors(row[f"{hot.metal}_size"] if row else hot.size, hot.metal)
    least = Step(f"least beside {size_text(hot.size, hot.metal)}", beside, cites=cites)
    rating_a = main.amount if main.known else 0
    result = neutral_beside(work, job, service_laid(job), hot, (amps.amount, rating_a), least, codebook)
    return work.entry(result, [codebook.cite("neutral"), codebook.cite("neutral_minimum")])


def neutral_beside(
    work: Working, job: Job, laid: Laid, hot: Conductors, carried: tuple[float, float], least: Step, codebook: Codebook
) -> Step:
    """The neutral of any run, service or feeder, beside its hots: the smallest that carries the unbalance, not below `least`, which is told by what
    the neutral has to do in a fault, and no larger than the hots need be [220.61]. Beside conductors in parallel one in each set, not below 1/0.
    `carried`: the unbalance, and the device ahead [A]."""
    unbalance_a, rating_a = carried
    laid = replace(laid, sets=hot.sets)
    factor = conditions(work, laid, codebook)
    one = pick(job, laid, hot.metal, Needed(unbalance_a, 0.0, "none"), rating_a, factor, codebook)
    if one is None:
        return work.given("conductors from the table that carry the neutral load", None)
    write_carries(work, job, laid, one, rating_a, factor, codebook)
    work.take(Step("smallest that carries it", one, cites=(codebook.cite("ampacity"),)))
    work.take(least)
    floor = least.value.size if isinstance(least.value, Conductors) else hot.size
    size = max(one.size, floor, key=lambda s: area_cmil(codebook, s) or 0)
    if (area_cmil(codebook, size) or 0) > (area_cmil(codebook, hot.size) or 0):
        size = hot.size
        work.note("no larger than the ungrounded conductors", size_text(hot.size, hot.metal))
    return work.take(Step("the larger of both", Conductors(size, hot.metal, hot.sets)))
