"""A split service: two panels or more, each with its own main, behind one meter."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from msgspec.structs import replace

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import is_standard_rating, rating_text, sound_rating_a
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import AHEAD, MAIN, Panel
from robust_ledger.job.tree import above_main, panel_name
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.load.feeder import FeederLoad
from robust_ledger.service.ampacity import Needed, service_laid, size_entry
from robust_ledger.service.bonds import split_mains
from robust_ledger.service.feeder import feeder_neutral_entry, least_neutral_entry

STAGE = "service"
MAINS = Place("decisions:split_main_a")


def split_entry(job: Job, codebook: Codebook) -> Entry | None:
    """The conductors to the main panel of a split service: it carries part of the load, so by the whole rating of its main [T310.16].
    Those to the others are their feeders' own."""
    if not job.scope.split or above_main(job) not in AHEAD:
        return None
    rating_a = job.decisions.split_main_a
    work = Working("service.split", "Conductors to the main panel", MAINS)
    sound = sound_rating_a(codebook, rating_a)
    rating = work.given("main of the main panel", sound, "A", MAINS)
    if not rating.known:
        return work.entry(Step("size", None))
    work.note("83% rule", "not allowed: part of the load", [codebook.cite("dwelling_conductors")])
    needed, laid = Needed(rating.amount, rating.amount, "whole"), replace(service_laid(job), sets=None)
    return size_entry(work, job, laid, job.decisions.metal, needed, rating.amount, (), codebook)


def mains_entry(job: Job, main: Entry) -> Entry:
    """The mains that are really there: those of a split service one by one, else the main. The rating that the load asks for is in a split
    service that of no device."""
    mains = split_mains(job)
    if len(mains) < 2:
        return main
    work = Working("service.mains", "Mains", MAINS)
    for key, rating_a in mains:
        place = MAINS if key == MAIN else Place.of("panels", f"{key}.breaker_a")
        work.given(f"main of the {panel_name(job, key)}", rating_a, "A", place)
    rated = [rating_a for _key, rating_a in mains if rating_a is not None]
    words = " + ".join(f"{rating_a:g}" for rating_a in rated) + " A" if len(rated) == len(mains) else None
    return work.entry(Step("together", words))


def split_neutral_entry(job: Job, hots: Entry, own: FeederLoad, codebook: Codebook) -> Entry:
    """The neutral to the main panel of a split service: for the unbalance of what it carries, not below the least beside its hots, as that of
    any other of its panels [220.61, 250.24(C)(1)]."""
    main = Panel(id=MAIN, name="main panel", metal=job.decisions.metal)
    rating = Step("main", sound_rating_a(codebook, job.decisions.split_main_a), "A", place=MAINS)
    device = Entry("service.panel_device", "main of the main panel", rating.value, "A")
    return feeder_neutral_entry(job, main, (hots, least_neutral_entry(main, hots, codebook), device, own), codebook)


def split_findings(job: Job, load: Entry, own: FeederLoad | None, codebook: Codebook) -> Iterator[Finding]:
    """Panels or mains not said, not standard, above the bus, or together below the load; `own` is what the main panel carries of it."""
    if not job.scope.split:
        return
    mains = split_mains(job)
    find = Findings(codebook, STAGE).find
    rated = [rating for _panel, rating in mains if rating is not None]
    if len(mains) < 2 or len(rated) < len(mains):
        alone = len(mains) < 2
        yield find("service.split_mains", at=Place("panels:") if alone else MAINS, alone=alone)
    if mains and mains[0][0] == MAIN and mains[0][1] is not None:
        yield from _of_main_panel(job, mains[0][1], own, find, codebook)
    if len(rated) == len(mains) > 1 and load.known and sum(rated) < load.amount:
        yield find("service.split_small", at=MAINS, mains=" + ".join(f"{m:g}" for m in rated), load=load)


def _of_main_panel(
    job: Job, main_a: float, own: FeederLoad | None, find: Callable[..., Finding], codebook: Codebook
) -> Iterator[Finding]:
    """The main panel's own main: no standard rating, above its bus, below what it carries."""
    if not is_standard_rating(codebook, main_a):
        yield find("service.split_rating", at=MAINS, name=main_a)
    if main_a > job.panel.bus_a:
        yield find("service.split_bus", at=MAINS, bus_a=job.panel.bus_a, main_a=main_a)
    if own is not None and own.amperes.known and own.amperes.amount > main_a:
        next_rating = rating_text(codebook, own.amperes.amount)
        yield find("service.split_share", at=MAINS, main_a=main_a, amperes=own.amperes, next_rating=next_rating)
