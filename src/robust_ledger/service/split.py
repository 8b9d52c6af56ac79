"""A split service: two panels or more, each with its own main, behind one meter."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import is_standard_rating
from robust_ledger.job.job import Job
from robust_ledger.job.parts.heading import Scope
from robust_ledger.ledger.entry import Entry, Finding, Severity, Step
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.working import Working
from robust_ledger.service.ampacity import conditions, pick, terminal_column, write_pick
from robust_ledger.service.bonds import split_mains

STAGE = "service"
MAINS = "decisions:split_mains_a"


def split_entries(job: Job, codebook: Codebook) -> list[Entry]:
    """The conductors to each panel: each carries part of the load, so by the whole rating of its main [T310.16]."""
    made = []
    for number, rating_a in enumerate(split_mains(job), 1):
        work = Working(f"service.split.{number}", f"Conductors to panel {number}", "decisions:split_mains_a")
        sound = rating_a if is_standard_rating(codebook, rating_a) else None
        rating = work.given(f"main of panel {number}", sound, "A", "decisions:split_mains_a")
        if not rating.known:
            made.append(work.entry(Step("size", None)))
            continue
        work.note("dwelling rule", "not open: part of the load", [codebook.cite("dwelling_conductors")])
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
    if job.scope is not Scope.SPLIT:
        return
    mains = split_mains(job)

    finding = Findings("service", codebook, STAGE).make
    if len(mains) < 2:
        yield finding("split_mains", Severity.ASK, MAINS, "Mains of the split service not said",
                      "Each panel of a split service has its own main, and its conductors follow from it.",
                      "Enter the mains, like 200, 200.", "service_grouped")  # fmt: skip
        return
    if job.disconnect_ahead:
        yield finding("split_ahead", Severity.FIX, MAINS, "One disconnect ahead of several panels",
                      "The conductors to each panel are protected where they begin, by a breaker of their own.",
                      "Take a disconnect with a breaker for each panel, or give each panel a main as a service disconnect of its own.",
                      "feeder_protection")  # fmt: skip
    if odd := [f"{main:g}" for main in mains if not is_standard_rating(codebook, main)]:
        yield finding("split_rating", Severity.FIX, MAINS, f"{', '.join(odd)} A is no standard rating",
                      "Its conductors are unknown with it.", "Choose standard ratings.", "standard_ratings")  # fmt: skip
    if mains[0] > job.panel.bus_a:
        yield finding("split_bus", Severity.STOP, MAINS, f"Panel bus is {job.panel.bus_a:g} A",
                      f"A main of {mains[0]:g} A does not protect it.", "A larger bus or a smaller main.", "panel_bus")  # fmt: skip
    if load.known and sum(mains) < load.amount:
        yield finding("split_small", Severity.STOP, MAINS, "The mains together are below the load",
                      f"{' + '.join(f'{m:g}' for m in mains)} A against {load.text()}.", "Choose larger mains.", "service_rating")  # fmt: skip
