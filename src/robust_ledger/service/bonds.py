"""Where neutral and ground are bonded: at the first disconnect on every way from the utility, and nowhere after it."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.job.parts.heading import Scope
from robust_ledger.ledger.entry import Entry, Finding, Severity
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working

STAGE = "service"


class BondPlace(Struct, frozen=True):
    """A disconnect or panel on the way of the service. `behind` is the key of what feeds it ("meter" at the start);
    `bonded` what is planned there, `first` whether it is the first disconnect on its way; `wires` of what feeds it."""

    key: str
    title: str
    behind: str
    bonded: bool
    first: bool
    wires: int

    @property
    def right(self) -> bool:
        return self.bonded is self.first


def bond_places(job: Job) -> tuple[BondPlace, ...]:
    """Every disconnect and panel, from the meter on: a disconnect ahead, the panel (several in a split service), and the
    sub-panel."""
    places: list[BondPlace] = []
    ahead = job.disconnect_ahead
    if ahead:
        places.append(BondPlace("disconnect", "Disconnect", "meter", True, True, 3))
    mains = split_mains(job)
    for number in range(1, max(1, len(mains)) + 1):
        key, title = ("panel", "Panel") if number == 1 else (f"panel_{number}", f"Panel {number}")
        behind = "disconnect" if ahead else "meter"
        places.append(BondPlace(key, title, behind, job.panel.first_disconnect, not ahead, 4 if ahead else 3))
    if job.has_sub_panel:
        sub = job.sub_panel
        places.append(
            BondPlace("sub_panel", sub.name.capitalize() or "Sub-panel", "panel", sub.bonded, False, sub.wires)
        )
    return tuple(places)


def split_mains(job: Job) -> tuple[float, ...]:
    """The mains [A] of the panels of a split service; empty for any other."""
    return job.decisions.split_mains_a if job.scope is Scope.SPLIT else ()


def bond_entries(job: Job, codebook: Codebook) -> list[Entry]:
    """For each place whether the bonding screw or strap goes in or comes out, and why."""
    made = []
    for place in bond_places(job):
        work = Working(
            f"service.bond.{place.key}",
            f"Neutral and ground in the {place.title.lower()}",
            Place("panel:first_disconnect"),
        )
        if place.first:
            work.note("first disconnect on its way", "yes", [codebook.cite("bond_once")])
            work.note("bonding screw or strap", "in, and tight", [codebook.cite("main_jumper")])
            made.append(work.entry(work.note("neutral and ground", "bonded here")))
            continue
        work.note("behind a disconnect", "yes", [codebook.cite("bond_once")])
        work.note("bonding screw or strap", "out", [codebook.cite("bars_apart")])
        work.note("wires to it", "four: two hots, neutral, EGC")
        made.append(
            work.entry(work.note("neutral and ground", "separate: isolated neutral bar, ground bar bonded to can"))
        )
    return made


def bond_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """A bond made twice on one way, or nowhere; the sub-panel's own is told with its feeder."""
    make, rules = Findings("service", codebook, STAGE).make, ("bond_once", "bars_apart")
    if job.disconnect_ahead and job.panel.first_disconnect:
        rated = f" of {job.chain.disconnect_a:g} A" if job.chain.disconnect_a is not None else ""
        yield make(
            "bond_twice",
            Severity.STOP,
            at=Place("panel:first_disconnect"),
            title="Neutral and ground would be bonded twice",
            text=f"A disconnect{rated} stands ahead of a panel that is marked as the first one.",
            remedy="Bond at the disconnect alone: take the mark off the panel, or the disconnect off the service path.",
            rules=rules,
        )
    if not job.disconnect_ahead and not job.panel.first_disconnect:
        yield make(
            "bond_nowhere",
            Severity.STOP,
            at=Place("panel:first_disconnect"),
            title="Neutral and ground would be bonded nowhere",
            text="The panel is said to have a disconnect ahead, and the service path has none: a fault would trip nothing.",
            remedy="Enter the disconnect on the service path or mark it new, or mark the panel as the first disconnect.",
            rules=rules,
        )
