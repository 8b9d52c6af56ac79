"""What protects the main panel's bus, and the mains of a split service: two panels or more, each with its own, behind one meter."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import AHEAD
from robust_ledger.job.tree import main_fed, main_node, node_of, panel_name, place_of
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.service.bonds import split_mains
from robust_ledger.service.figures import FeederFigures

MAINS = Place("main_feed:breaker_a")


def own_main(job: Job) -> bool:
    """Whether the main panel behind an enclosed disconnect has a main of its own: then that of the job."""
    node = main_node(job)
    return job.panel.has_main and main_fed(job) and node.fed_from in AHEAD and node.fed_by == "lugs"


def device_entry(job: Job, main: Entry, to_main: FeederFigures | None, codebook: Codebook) -> Entry:
    """The device that protects the main panel's bus [A]: that of its feeder, or the main of the job where the service lands in it, or its own one
    behind an enclosed disconnect [408.36]."""
    work = Working("service.panel_device", "Device that protects the main panel")
    device = main if to_main is None or own_main(job) else to_main.rating
    if to_main is not None and to_main.tap is not None:
        device = to_main.own or device
    return work.entry(work.entry_step(device), [codebook.cite("panel_protection")])


def mains_entry(job: Job, main: Entry) -> Entry:
    """The mains that are really there: those of a split service one by one, else the main. The rating that the load asks for is in a split
    service that of no device."""
    mains = split_mains(job)
    if len(mains) < 2:
        return main
    work = Working("service.mains", "Mains", MAINS)
    for key, rating_a in mains:
        node = node_of(job, key)
        place = place_of(node, "breaker_a") if node is not None else MAINS
        work.given(f"main of the {panel_name(job, key)}", rating_a, "A", place)
    rated = [rating_a for _key, rating_a in mains if rating_a is not None]
    words = " + ".join(f"{rating_a:g}" for rating_a in rated) + " A" if len(rated) == len(mains) else None
    return work.entry(Step("together", words))


def split_findings(job: Job, load: Entry, codebook: Codebook) -> Iterator[Finding]:
    """Panels of a split service, or their mains, not said; mains that are together below the load."""
    if not job.scope.split:
        return
    mains = split_mains(job)
    find = Findings(codebook, "service").find
    rated = [rating for _panel, rating in mains if rating is not None]
    if len(mains) < 2 or len(rated) < len(mains):
        alone = len(mains) < 2
        yield find("service.split_mains", at=Place("panels:") if alone else MAINS, alone=alone)
    if len(rated) == len(mains) > 1 and load.known and sum(rated) < load.amount:
        yield find("service.split_small", at=MAINS, mains=" + ".join(f"{m:g}" for m in rated), load=load)
