"""What is wrong with the sizes chosen, against the load, the meter socket and the panel."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import is_standard_rating
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Finding, Severity
from robust_ledger.service.bonds import split_mains

STAGE = "service"


def service_findings(job: Job, load: Entry, main: Entry, codebook: Codebook) -> Iterator[Finding]:
    """Findings of the Service stage."""
    chosen = job.decisions.main_a
    if chosen is not None and not is_standard_rating(codebook, chosen):
        yield Finding(
            "service.main_rating",
            Severity.FIX,
            STAGE,
            "decisions:main_a",
            f"{chosen:g} A is no standard rating",
            f"A main of {chosen:g} A is not made; the sizes that follow from it are unknown.",
            "Choose a standard rating, or let the load decide.",
            (codebook.cite("standard_ratings"),),
        )
    if not main.known:
        return
    rating = main.amount
    if load.known and rating < load.amount:
        yield Finding(
            "service.main_small",
            Severity.STOP,
            STAGE,
            "decisions:main_a",
            f"Main {rating:g} A is below the load",
            f"The calculated load is {load.text()}, the chosen main {main.text()}.",
            "Choose a larger main, or take load out.",
            (codebook.cite("service_rating"),),
        )
    least = codebook.step("dwelling_main_min_a")
    if rating < least.amount:
        yield Finding(
            "service.main_minimum",
            Severity.STOP,
            STAGE,
            "decisions:main_a",
            f"Main {rating:g} A is too small for a dwelling",
            f"A dwelling's service disconnect is rated at least {least.text()}.",
            f"Choose {least.text()} or more.",
            least.cites,
        )
    yield from _meter(job, main, codebook)
    if rating > job.panel.bus_a and not split_mains(job):
        yield Finding(
            "service.bus",
            Severity.STOP,
            STAGE,
            "panel:bus_a",
            f"Panel bus is {job.panel.bus_a:g} A",
            f"A main of {main.text()} does not protect a bus of {job.panel.bus_a:g} A.",
            "Choose a panel with a larger bus, or a smaller main.",
            (codebook.cite("panel_bus"), codebook.cite("panel_protection")),
        )
    if job.panel.main == "lugs" and job.panel.first_disconnect:
        yield Finding(
            "service.lugs",
            Severity.STOP,
            STAGE,
            "panel:main",
            "Main-lug panel without a disconnect ahead",
            "The panel is taken as the first disconnect, but it has lugs and no main breaker.",
            "Choose a main-breaker panel, or say that a disconnect stands ahead of it.",
            (codebook.cite("panel_protection"),),
        )


def _meter(job: Job, main: Entry, codebook: Codebook) -> Iterator[Finding]:
    """The meter socket's label limits the service as long as the socket stays."""
    label = job.old_panel.meter_label_a
    if label is None:
        yield Finding(
            "service.meter_unknown",
            Severity.ASK,
            STAGE,
            "old_panel:meter_label_a",
            "Meter socket's label not read",
            "The largest service the meter socket may carry is not known.",
            "Read the ampere marking on the socket's label.",
            (codebook.cite("meter_socket"),),
        )
    elif main.amount > label and not job.decisions.meter_replaced:
        yield Finding(
            "service.meter",
            Severity.STOP,
            STAGE,
            "old_panel:meter_label_a",
            f"Meter socket is labelled {label:g} A",
            f"A main of {main.text()} is more than the meter socket may carry.",
            f"Replace the socket (ask the utility for its list), or keep the main at {label:g} A or less.",
            (codebook.cite("meter_socket"),),
        )


def fault_findings(job: Job, fault: Entry, codebook: Codebook) -> Iterator[Finding]:
    """The panel's interrupting rating against the fault current there [110.9]; a rating not read is asked for as soon as
    the fault current is known."""
    rating_a = job.panel.interrupting_a
    if not fault.known or (rating_a is not None and fault.amount <= rating_a):
        return
    if rating_a is None:
        yield Finding(
            "service.interrupting_unknown",
            Severity.ASK,
            STAGE,
            "panel:interrupting_a",
            "Interrupting rating of the panel not read",
            f"The fault current there is {fault.text()}; whether the devices open it is not known.",
            "Read the rating on the panel's label.",
            (codebook.cite("interrupting_rating"),),
        )
        return
    yield Finding(
        "service.interrupting",
        Severity.STOP,
        STAGE,
        "panel:interrupting_a",
        f"Fault current {fault.amount:,.0f} A above the panel's {rating_a:,.0f} A",
        "A main or breaker that has to open more than its interrupting rating can burst.",
        "Take a panel and breakers with a higher rating, or ask the utility for its figure.",
        (codebook.cite("interrupting_rating"),),
    )
