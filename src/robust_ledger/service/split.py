"""A split service: two panels or more, each with its own main, behind one meter."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import is_standard_rating
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Finding, Severity, Step
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.service.ampacity import conditions, pick, terminal_column, write_pick
from robust_ledger.service.bonds import split_mains

STAGE = "service"
MAINS = Place("decisions:split_mains_a")


def split_entries(job: Job, codebook: Codebook) -> list[Entry]:
    """The conductors to each panel: each carries part of the load, so by the whole rating of its main [T310.16]."""
    made = []
    for number, rating_a in enumerate(split_mains(job), 1):
        work = Working(f"service.split.{number}", f"Conductors to panel {number}", Place("decisions:split_mains_a"))
        sound = rating_a if is_standard_rating(codebook, rating_a) else None
        rating = work.given(f"main of panel {number}", sound, "A", Place("decisions:split_mains_a"))
        if not rating.known:
            made.append(work.entry(Step("size", None)))
            continue
        work.note("83% rule", "not allowed: part of the load", [codebook.cite("dwelling_conductors")])
        column, why = terminal_column(job, rating.amount, codebook)
        work.note("terminals", why, [codebook.cite("terminal_temperature")])
        factor = conditions(work, job, codebook)
        one = pick(codebook, rating.amount, job.decisions.metal, column, factor, None)
        if one is None:
            made.append(work.entry(work.given("conductors from the table that are large enough", None)))
        else:
            made.append(work.entry(write_pick(work, one, column, factor, codebook), [codebook.cite("ampacity")]))
    return made


def split_findings(job: Job, load: Entry, codebook: Codebook) -> Iterator[Finding]:
    """Mains not said, not standard, above the bus, or together below the load."""
    if not job.scope.split:
        return
    mains = split_mains(job)
    make = Findings("service", codebook, STAGE).make
    if len(mains) < 2:
        yield make(
            "split_mains",
            Severity.ASK,
            at=MAINS,
            title="Mains of the split service not entered",
            text="Each panel of a split service has its own main, and its conductors follow from it.",
            remedy="Enter the mains, like 200, 200.",
            rules=("service_grouped",),
        )
        return
    if job.disconnect_ahead:
        yield make(
            "split_ahead",
            Severity.FIX,
            at=MAINS,
            title="One disconnect ahead of several panels",
            text="The conductors to each panel are protected where they begin, by a breaker of their own.",
            remedy="Take a disconnect with a breaker for each panel, or give each panel a main as a service disconnect of its own.",
            rules=("feeder_protection",),
        )
    if odd := [f"{main:g}" for main in mains if not is_standard_rating(codebook, main)]:
        yield make(
            "split_rating",
            Severity.FIX,
            at=MAINS,
            title=f"{', '.join(odd)} A is not a standard size",
            text="Its conductors are unknown with it.",
            remedy="Choose standard ratings, like 100, 125, 150, 175 or 200 A.",
            rules=("standard_ratings",),
        )
    if mains[0] > job.panel.bus_a:
        yield make(
            "split_bus",
            Severity.STOP,
            at=MAINS,
            title=f"Panel bus is {job.panel.bus_a:g} A",
            text=f"A main of {mains[0]:g} A does not protect it.",
            remedy=f"Take a panel with a bus of {mains[0]:g} A or more, or a main of {job.panel.bus_a:g} A or less.",
            rules=("panel_bus",),
        )
    if load.known and sum(mains) < load.amount:
        yield make(
            "split_small",
            Severity.STOP,
            at=MAINS,
            title="The mains together are below the load",
            text=f"{' + '.join(f'{m:g}' for m in mains)} A against {load.text()}.",
            remedy=f"Choose mains that come to {load.text()} or more together.",
            rules=("service_rating",),
        )
