"""What a device that stays protects: conductors, bus and lugs behind it are judged against its own rating."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import is_standard_rating
from robust_ledger.findings import Findings
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import AHEAD
from robust_ledger.job.tree import above_main, main_node
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import number_text
from robust_ledger.service.figures import ServiceFigures
from robust_ledger.service.kept_equipment import (
    DISCONNECT,
    OLD_MAIN,
    conductors_stay,
    kept_ratings,
    staying_runs,
)

STAGE = "service"


def kept_findings(job: Job, figures: ServiceFigures, codebook: Codebook) -> Iterator[Finding]:
    """Ratings of what stays that are odd or not read; a bus smaller than the device that stays ahead of it; a main above
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
    if protection is None or not protection.known or not job.kept_disconnect:
        return
    by_load_side = main_node(job).fed_by == "lugs" and above_main(job) in AHEAD
    if by_load_side and job.panel.main == "lugs" and protection.amount > job.panel.bus_a:
        yield find("service.kept_bus", at=DISCONNECT, protection=protection, bus_a=job.panel.bus_a)


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
