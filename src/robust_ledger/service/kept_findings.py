"""What a device that stays protects: conductors, bus and lugs behind it are judged against its own rating."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import is_standard_rating, next_rating_a, previous_rating_a
from robust_ledger.findings import Findings
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import AHEAD
from robust_ledger.job.tree import above_main, inside_box
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import number_text
from robust_ledger.ledger.working import Working
from robust_ledger.service.ampacity import conditions, found_laid, write_carries
from robust_ledger.service.bonds import feeder_stays
from robust_ledger.service.figures import ServiceFigures
from robust_ledger.service.kept_equipment import (
    DISCONNECT,
    OLD_MAIN,
    conductors_stay,
    kept_ratings,
    staying_runs,
)
from robust_ledger.service.sizing import open_to_83

STAGE = "service"
FEEDER = Place("existing:feeder_conductors")


def carried_a(
    work: Working, one: Conductors, rating_a: float, load: Entry, feeder: bool, job: Job, codebook: Codebook
) -> Step:
    """The largest standard device [A] that conductors found are good for, at about `rating_a`, by the job's practice: 83% rule where it
    is open, the next size up as far as the load stays below the ampacity, or the ampacity itself [310.12, 240.4(B)]."""
    laid = found_laid(job)
    if job.existing.insulation_c is None:
        work.note("insulation", "not read: 75 °C taken")
    carries = write_carries(work, job, laid, one, rating_a, conditions(work, laid, codebook), codebook)
    if not carries.known:
        return Step("largest standard device", None, "A")
    ampacity = carries.amount
    rule, cites = job.decisions.conductor_rule, [codebook.cite("standard_ratings")]
    best = previous_rating_a(codebook, ampacity)
    if rule != "strict" and not (load.known and load.amount > ampacity):
        best = next_rating_a(codebook, ampacity)
        cites = [codebook.cite("next_size_up")]
    if rule == "dwelling":
        factor = work.take(codebook.step("dwelling_factor", "83% rule"))
        by_83 = previous_rating_a(codebook, ampacity / factor.amount)
        if by_83 is not None and not open_to_83(job, by_83, feeder, codebook):
            best = max(best or 0, by_83)
    return work.take(Step("largest standard device they are good for", best, "A", cites=tuple(cites)))


def inside_limit_entry(job: Job, load: Entry, codebook: Codebook) -> Entry:
    """The largest device [A] that the feeder found to the inside panel is good for."""
    work = Working("service.inside.limit", "Feeder to the inside panel as found: largest device", FEEDER)
    one = Conductors.read(job.existing.feeder_conductors)
    if one is None:
        return work.entry(work.given("feeder to the inside panel: size and metal, to be read", None, "A", FEEDER))
    rating_a = job.existing.disconnect_a or 0.0
    return work.entry(carried_a(work, one, rating_a, load, True, job, codebook))


def kept_findings(job: Job, load: Entry, figures: ServiceFigures, codebook: Codebook) -> Iterator[Finding]:
    """Ratings of what stays that are odd or not read; a bus or feeder smaller than the device that stays ahead of it; a main above
    that of a service that stays."""
    find, main = Findings(codebook, STAGE).find, figures.main
    if job.scope.keeps_service and job.decisions.main_a is None:
        yield from _ratings(job, codebook)
    if conductors_stay(job):
        unread = [(field, words) for field, words, found in staying_runs(job) if Conductors.read(found) is None]
        if unread:
            which = "" if len(unread) > 1 else f": {unread[0][1].lower()}"
            at = Place.of("existing", unread[0][0])
            yield Findings(codebook, "walkthrough").find("service.kept_conductors", at=at, which=which)
    old_a = min((r for _words, r, _place in kept_ratings(job) if r), default=None)
    if job.scope.keeps_service and main.known and old_a is not None and main.amount > old_a:
        yield find("service.kept_main", at=Place("decisions:main_a"), main=main, old_a=old_a)
    protection = figures.ahead
    if above_main(job) not in AHEAD and feeder_stays(job):  # behind a node that stays
        yield from _kept_feeder(job, figures.panel_device, load, find, codebook)
    if protection is None or not protection.known or not job.kept_disconnect or above_main(job) not in AHEAD:
        return
    if inside_box(job) is not None:  # its breaker stands between
        yield from _kept_feeder(job, figures.panel_device, load, find, codebook)
        return
    if job.panel.main == "lugs" and protection.amount > job.panel.bus_a:
        yield find("service.kept_bus", at=DISCONNECT, protection=protection, bus_a=job.panel.bus_a)
    yield from _kept_feeder(job, protection, load, find, codebook)


def _kept_feeder(
    job: Job, device: Entry, load: Entry, find: Callable[..., Finding], codebook: Codebook
) -> Iterator[Finding]:
    """A feeder to the inside panel that stays, smaller than the device ahead of it."""
    limit = inside_limit_entry(job, load, codebook)
    if not feeder_stays(job) or not limit.known or not device.known or device.amount <= limit.amount:
        return
    words = "breaker" if inside_box(job) is not None else "disconnect"
    title = f"Kept disconnect {device.text()}" if words == "disconnect" else f"Breaker of {device.text()}"
    yield find(
        "service.kept_feeder",
        at=FEEDER,
        title=title,
        feeder_conductors=job.existing.feeder_conductors,
        limit=limit,
        words=words,
        device=device,
    )


def _ratings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """Devices of a service that stays, not read or misread."""
    find = Findings(codebook, "walkthrough").find
    for words, rating_a, place in kept_ratings(job):
        name = "old_main" if place == OLD_MAIN else "disconnect"
        if rating_a is None:
            other = len(kept_ratings(job)) > 1 and any(r for _w, r, _p in kept_ratings(job))
            if other and name == "old_main":
                continue  # the disconnect ahead tells the service's rating
            yield find("service.kept_rating", at=place, of=name, words=words.capitalize())
        elif not is_standard_rating(codebook, rating_a):
            yield find(
                "service.kept_rating_odd", at=place, of=name, words=words.capitalize(), rating=number_text(rating_a)
            )
