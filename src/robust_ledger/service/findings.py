"""What is wrong with the sizes chosen, against the load, the meter socket and the panel."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import is_standard_rating, rating_text
from robust_ledger.job.job import Job
from robust_ledger.job.tree import inside_box
from robust_ledger.ledger.entry import Entry, Finding, Severity, Step
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place
from robust_ledger.service.fault import aic_places, next_aic

STAGE = "service"


def service_findings(job: Job, load: Entry, main: Entry, codebook: Codebook) -> Iterator[Finding]:
    """Findings of the Service stage."""
    make = Findings(STAGE, codebook, STAGE).make
    chosen = job.decisions.main_a
    if chosen is not None and not is_standard_rating(codebook, chosen):
        yield make(
            "main_rating",
            Severity.FIX,
            at=Place("decisions:main_a"),
            title=f"{chosen:g} A is not a standard size",
            text=f"A main of {chosen:g} A is not made; the sizes that follow from it are unknown.",
            remedy="Choose a standard rating, or let the load decide.",
            rules=("standard_ratings",),
        )
    if not main.known:
        return
    rating = main.amount
    if load.known and rating < load.amount and not (job.scope.keeps_service and chosen is None):
        yield make(
            "main_small",
            Severity.STOP,
            at=Place("decisions:main_a"),
            title=f"Main {rating:g} A is below the load",
            text=f"The calculated load is {load.text()}, the chosen main {main.text()}.",
            remedy=_larger(load, main, codebook),
            rules=("service_rating",),
        )
    if job.panel.terminals_c is None and rating <= codebook.number("terminal_60_max_a"):
        yield make(
            "terminals",
            Severity.ASK,
            at=Place("panel:terminals_c"),
            title="What the terminals are marked for was not checked",
            text=f"Up to {codebook.number('terminal_60_max_a'):g} A they decide the column; 60 °C is taken, which makes wires larger.",
            remedy="Read the label of panel and breakers: 75 °C where both say so.",
            rules=("terminal_temperature",),
        )
    least = codebook.step("dwelling_main_min_a")
    if rating < least.amount:
        yield _minimum(job, rating, least, codebook)
    yield from _meter(job, main, codebook)
    by_kept = (
        job.panel.main == "lugs" and job.kept_disconnect and job.first_ahead
    )  # told with the disconnect that stays
    if rating > job.panel.bus_a and not job.scope.split and not by_kept and inside_box(job) is None:
        yield make(
            "bus",
            Severity.STOP,
            at=Place("panel:bus_a"),
            title=f"Panel bus is {job.panel.bus_a:g} A",
            text=f"A main of {main.text()} does not protect a bus of {job.panel.bus_a:g} A.",
            remedy=f"Choose a panel with a bus of {main.text()} or more, or a main of {job.panel.bus_a:g} A or less.",
            rules=(
                "panel_bus",
                "panel_protection",
            ),
        )
    if job.panel.main == "lugs" and job.panel.first_disconnect:
        yield make(
            "lugs",
            Severity.STOP,
            at=Place("panel:main"),
            title="Main-lug panel without a disconnect ahead",
            text="The panel is taken as the first disconnect, but it has lugs and no main breaker.",
            remedy="Choose a main-breaker panel, or say that a disconnect stands ahead of it.",
            rules=("panel_protection",),
        )


def _larger(load: Entry, main: Entry, codebook: Codebook) -> str:
    """The main that carries the load, and what would have to go for the one chosen."""
    return f"Choose {rating_text(codebook, load.amount)}, or take {load.amount - main.amount:g} A of load out."


def _minimum(job: Job, rating: float, least: Step, codebook: Codebook) -> Finding:
    """A main below what a dwelling's service disconnect has to have: as planned it cannot be; one that was found and is replaced by
    another of its size has to be upgraded or agreed; one that is left alone is told."""
    stays = job.scope.keeps_service and job.decisions.main_a is None
    alone = stays and job.kept_disconnect and job.first_ahead
    severity = Severity.NOTE if alone else Severity.FIX if stays else Severity.STOP
    return Findings(STAGE, codebook, STAGE).make(
        "main_minimum",
        severity,
        at=Place("old_panel:main_a") if stays else Place("decisions:main_a"),
        title=f"Existing service of {rating:g} A is small for a dwelling"
        if stays
        else f"Main {rating:g} A is too small for a dwelling",
        text=f"A dwelling's service disconnect is rated at least {least.text()}; an old one that stays may be smaller."
        if stays
        else f"A dwelling's service disconnect is rated at least {least.text()}.",
        remedy="Tell the owner."
        if alone
        else f"Upgrade to {least.text()}, or have the AHJ agree to {rating:g} A."
        if stays
        else f"Choose {least.text()} or more.",
        cites=least.cites,
    )


def _meter(job: Job, main: Entry, codebook: Codebook) -> Iterator[Finding]:
    """The meter socket's label limits the service as long as the socket stays."""
    make = Findings(STAGE, codebook, STAGE).make
    label = job.existing.meter_label_a
    if job.decisions.meter_replaced:
        return
    if label is None:
        yield make(
            "meter_unknown",
            Severity.ASK,
            at=Place("existing:meter_label_a"),
            title="Meter socket's label not read",
            text="The largest service the meter socket may carry is not known.",
            remedy="Read the ampere marking on the socket's label.",
            rules=("meter_socket",),
        )
    elif main.amount > label:
        yield make(
            "meter",
            Severity.STOP,
            at=Place("existing:meter_label_a"),
            title=f"Meter socket rated {label:g} A",
            text=f"A main of {main.text()} is more than the meter socket may carry.",
            remedy=f"Replace the meter socket (utility-approved list), or keep the main at {label:g} A or less.",
            rules=("meter_socket",),
        )


def fault_findings(job: Job, entries: Mapping[str, Entry], codebook: Codebook) -> Iterator[Finding]:
    """The AIC rating of every place with devices against the fault current there [110.9]. A rating not read is asked for as soon as
    the fault current is known; a fault current that is not known, once the job puts in devices."""
    make = Findings(STAGE, codebook, STAGE).make
    source = entries["service.fault_source"]
    if not source.known and job.scope.said:
        yield make(
            "fault_unknown",
            Severity.ASK,
            at=Place("existing:utility_fault_a"),
            title="Available fault current not known",
            text="Whether any main or breaker may interrupt it cannot be told.",
            remedy="Ask the utility for its figure, or read kVA and %Z on the transformer.",
            rules=("interrupting_rating",),
        )
    for spot in aic_places(job, entries):
        fault = spot.fault
        if not fault.known or (spot.rating_a is not None and fault.amount <= spot.rating_a):
            continue
        if spot.rating_a is None:
            yield make(
                f"{spot.key}_unknown",
                Severity.ASK,
                at=spot.place,
                title=f"AIC rating of the {spot.words} not read",
                text=f"Available fault current there: {fault.text()}; not known if its devices are rated for it.",
                remedy="Read the rating on the label.",
                rules=("interrupting_rating",),
            )
            continue
        series = " A series rating counts only where the labels of both devices give it." if spot.key == "aic" else ""
        yield make(
            spot.key,
            Severity.STOP,
            at=spot.place,
            title=f"Available fault current {fault.amount:,.0f} A above the {spot.words}'s {spot.rating_a:,.0f} A",
            text=f"A breaker that opens more than it is rated for can burst.{series}",
            remedy=f"Use devices of {next_aic(fault.amount)} AIC or more, or ask the utility for its figure.",
            rules=("interrupting_rating", "series_rating") if series else ("interrupting_rating",),
        )
