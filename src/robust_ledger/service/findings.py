"""What is wrong with the sizes chosen, against the load, the meter socket and the panel."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import is_standard_rating
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Finding, Severity
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place
from robust_ledger.service.bonds import split_mains

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
    if load.known and rating < load.amount:
        yield make(
            "main_small",
            Severity.STOP,
            at=Place("decisions:main_a"),
            title=f"Main {rating:g} A is below the load",
            text=f"The calculated load is {load.text()}, the chosen main {main.text()}.",
            remedy="Choose a larger main, or take load out.",
            rules=("service_rating",),
        )
    least = codebook.step("dwelling_main_min_a")
    if rating < least.amount:
        yield make(
            "main_minimum",
            Severity.STOP,
            at=Place("decisions:main_a"),
            title=f"Main {rating:g} A is too small for a dwelling",
            text=f"A dwelling's service disconnect is rated at least {least.text()}.",
            remedy=f"Choose {least.text()} or more.",
            cites=least.cites,
        )
    yield from _meter(job, main, codebook)
    if rating > job.panel.bus_a and not split_mains(job):
        yield make(
            "bus",
            Severity.STOP,
            at=Place("panel:bus_a"),
            title=f"Panel bus is {job.panel.bus_a:g} A",
            text=f"A main of {main.text()} does not protect a bus of {job.panel.bus_a:g} A.",
            remedy="Choose a panel with a larger bus, or a smaller main.",
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


def _meter(job: Job, main: Entry, codebook: Codebook) -> Iterator[Finding]:
    """The meter socket's label limits the service as long as the socket stays."""
    make = Findings(STAGE, codebook, STAGE).make
    label = job.old_panel.meter_label_a
    if label is None:
        yield make(
            "meter_unknown",
            Severity.ASK,
            at=Place("old_panel:meter_label_a"),
            title="Meter socket's label not read",
            text="The largest service the meter socket may carry is not known.",
            remedy="Read the ampere marking on the socket's label.",
            rules=("meter_socket",),
        )
    elif main.amount > label and not job.decisions.meter_replaced:
        yield make(
            "meter",
            Severity.STOP,
            at=Place("old_panel:meter_label_a"),
            title=f"Meter socket rated {label:g} A",
            text=f"A main of {main.text()} is more than the meter socket may carry.",
            remedy=f"Replace the meter socket (utility-approved list), or keep the main at {label:g} A or less.",
            rules=("meter_socket",),
        )


def fault_findings(job: Job, fault: Entry, codebook: Codebook) -> Iterator[Finding]:
    """The panel's interrupting rating against the fault current there [110.9]; a rating not read is asked for as soon as
    the fault current is known."""
    make = Findings(STAGE, codebook, STAGE).make
    rating_a = job.panel.aic_a
    if not fault.known or (rating_a is not None and fault.amount <= rating_a):
        return
    if rating_a is None:
        yield make(
            "aic_unknown",
            Severity.ASK,
            at=Place("panel:aic_a"),
            title="AIC rating of the panel not read",
            text=f"Available fault current there: {fault.text()}; not known if the breakers are rated for it.",
            remedy="Read the rating on the panel's label.",
            rules=("interrupting_rating",),
        )
        return
    yield make(
        "aic",
        Severity.STOP,
        at=Place("panel:aic_a"),
        title=f"Available fault current {fault.amount:,.0f} A above the panel's {rating_a:,.0f} A",
        text="Available fault current exceeds the AIC rating; a breaker that opens more than it is rated for can burst.",
        remedy="Use a 22 kAIC main or a marked series rating, or ask the utility for its figure.",
        rules=("interrupting_rating",),
    )
