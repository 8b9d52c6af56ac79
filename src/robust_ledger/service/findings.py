"""What is wrong with the sizes chosen, against the load, the meter socket and the panel."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import is_standard_rating, rating_text
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import AHEAD
from robust_ledger.job.tree import above_main, main_behind, main_fed, main_node
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.place import Place
from robust_ledger.service.fault import aic_places, next_aic
from robust_ledger.service.figures import ServiceFigures

STAGE = "service"
CLASS_A, CLASS_MAIN_A = 320, 400  # a class of sockets and meter-mains, by what it carries without end and by its main


def service_findings(job: Job, load: Entry, main: Entry, codebook: Codebook) -> Iterator[Finding]:
    """Findings of the Service stage."""
    find = Findings(codebook, STAGE).find
    chosen = job.decisions.main_a
    if chosen is not None and not is_standard_rating(codebook, chosen):
        yield find("service.main_rating", at=Place("decisions:main_a"), chosen=chosen)
    if not main.known:
        return
    rating = main.amount
    if load.known and rating < load.amount and not (job.scope.keeps_service and chosen is None):
        yield find(
            "service.main_small",
            at=Place("decisions:main_a"),
            rating=rating,
            load=load,
            main=main,
            ways=_larger(load, main, codebook),
        )
    if job.panel.terminals_c is None and rating <= codebook.number("terminal_60_max_a"):
        yield find("service.terminals", at=Place("panel:terminals_c"), most_a=codebook.number("terminal_60_max_a"))
    least = codebook.step("dwelling_main_min_a")
    if rating < least.amount:
        yield _minimum(job, rating, least, codebook)
    yield from _meter(job, main, load, codebook)
    by_kept = (
        job.panel.main == "lugs" and job.kept_disconnect and main_behind(job)
    )  # told with the disconnect that stays
    direct = (above_main(job) in AHEAD and main_node(job).fed_by == "lugs") or not main_fed(job)
    if rating > job.panel.bus_a and not job.scope.split and not by_kept and direct:
        yield find("service.bus", at=Place("panel:bus_a"), bus_a=job.panel.bus_a, main=main)
    if job.panel.main == "lugs" and job.panel.first_disconnect:
        yield find("service.lugs", at=Place("panel:main"))


def _larger(load: Entry, main: Entry, codebook: Codebook) -> str:
    """The main that carries the load, and what would have to go for the one chosen."""
    return f"Choose {rating_text(codebook, load.amount)}, or take {load.amount - main.amount:g} A of load out."


def _minimum(job: Job, rating: float, least: Step, codebook: Codebook) -> Finding:
    """A main below what a dwelling's service disconnect has to have: as planned it cannot be; one that was found and is replaced by
    another of its size has to be upgraded or agreed; one that is left alone is told."""
    stays = job.scope.keeps_service and job.decisions.main_a is None
    alone = stays and job.kept_disconnect and main_behind(job)
    return Findings(codebook, STAGE).find(
        "service.main_minimum",
        at=Place("old_panel:main_a") if stays else Place("decisions:main_a"),
        cites=least.cites,
        stays=stays,
        alone=alone,
        rating=rating,
        least=least,
    )


def _meter(job: Job, main: Entry, load: Entry, codebook: Codebook) -> Iterator[Finding]:
    """The meter socket's label limits the service as long as the socket stays. One of the 320 A class carries that without end and goes with a
    main of 400 A: there its label is compared with the load."""
    find = Findings(codebook, STAGE).find
    label = job.existing.meter_label_a
    if job.decisions.meter_replaced:
        return
    if label is None:
        yield find("service.meter_unknown", at=Place("existing:meter_label_a"))
    elif label == CLASS_A and main.amount <= CLASS_MAIN_A:
        if not load.known:
            yield find("service.meter_load", at=Place("existing:meter_label_a"), label=label, main=main)
        elif load.amount > label:
            yield find("service.meter", at=Place("existing:meter_label_a"), label=label, main=load)
    elif main.amount > label:
        yield find("service.meter", at=Place("existing:meter_label_a"), label=label, main=main)


def fault_findings(job: Job, figures: ServiceFigures, codebook: Codebook) -> Iterator[Finding]:
    """The AIC rating of every place with devices against the fault current there [110.9]. A rating not read is asked for as soon as
    the fault current is known; a fault current that is not known, once the job puts in devices."""
    find = Findings(codebook, STAGE).find
    source = figures.fault_source
    if not source.known and job.scope.said:
        yield find("service.fault_unknown", at=Place("existing:utility_fault_a"))
    for spot in aic_places(job, figures):
        fault = spot.fault
        if not fault.known or (spot.rating_a is not None and fault.amount <= spot.rating_a):
            continue
        if spot.rating_a is None:
            yield find("service.spot_unknown", at=spot.place, key=f"{spot.key}_unknown", words=spot.words, fault=fault)
            continue
        series = " A series rating counts only where the labels of both devices give it." if spot.key == "aic" else ""
        yield find(
            "service.spot",
            at=spot.place,
            key=spot.key,
            amount=fault.amount,
            words=spot.words,
            rating_a=spot.rating_a,
            series=series,
            next_aic=next_aic(fault.amount),
        )
