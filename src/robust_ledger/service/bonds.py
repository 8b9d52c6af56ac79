"""Where neutral and ground are bonded: at the service disconnect on every way from the utility, and nowhere after it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from msgspec import Struct

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import AHEAD, MAIN, Panel
from robust_ledger.job.tree import fed_at, in_order, is_enclosure, is_service, parent
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working

STAGE = "service"


Bond = Literal["in", "out", "supply"]
# What is to be seen at a place, by its bond: hold, record, field book, phone and checklist have their words from here; the drawing, with less
# room, has shorter ones for the same bond.
BOND_WORDS: dict[Bond, str] = {
    "in": "bonding screw or strap IN: neutral and ground are one here",
    "out": "bonding screw or strap OUT: neutral floats, grounds apart",
    "supply": "supply side, no service equipment: the NEUTRAL GROUNDS THE CAN, as in a meter socket; nothing isolated, no grounds landed apart",
}
# The rules behind it.
BOND_RULES: dict[Bond, tuple[str, ...]] = {
    "in": ("bond_once", "main_jumper"),
    "out": ("bond_once", "bars_apart"),
    "supply": ("supply_bond",),
}


class BondPlace(Struct, frozen=True):
    """A disconnect or panel on the way of the service. `behind` is the key of what feeds it ("meter" at the start); `first`: the bond
    belongs here; `bonded`: it is planned, or was found, here; `wires` what has to feed it, `found_wires` what was found and stays
    (None: nothing stays, or not counted). `supply`: on the supply side and no service equipment."""

    key: str
    title: str
    behind: str
    bonded: bool
    first: bool
    wires: int
    found_wires: int | None = None
    supply: bool = False

    @property
    def right(self) -> bool:
        """Whether the neutral is bonded just where it has to be."""
        return self.bonded is self.first

    @property
    def bond(self) -> Bond:
        """Neutral and ground as they have to be here: bonded, apart, or the can grounded by the neutral on the supply side [250.142(A)]."""
        return "supply" if self.supply else "in" if self.first else "out"


def bond_places(job: Job) -> tuple[BondPlace, ...]:
    """Every disconnect and panel, from the meter on: a disconnect ahead, the main panel, and every other one."""
    places: list[BondPlace] = []
    ahead, fed = job.disconnect_ahead, job.first_ahead
    if ahead:
        places.append(BondPlace("disconnect", "Disconnect", "meter", fed, fed, 3, supply=not fed))
    behind = "disconnect" if ahead else "meter"
    found = job.existing.feeder_wires if fed and feeder_stays(job) else None
    places.append(BondPlace(MAIN, "Panel", behind, job.panel.first_disconnect, not fed, 4 if fed else 3, found))
    for panel in in_order(job):
        if not is_enclosure(job, panel):
            places.append(_panel_place(job, panel))
    return tuple(places)


def service_equipment(job: Job) -> tuple[BondPlace, ...]:
    """The places that are service equipment: the first disconnect on each way from the utility [100, 230.70]."""
    return tuple(
        place for place in bond_places(job) if place.bond == "in" and not _bonded_by_old_feeder(job, place.key)
    )


def _bonded_by_old_feeder(job: Job, key: str) -> bool:
    panel = job.panel_of(key)
    return panel is not None and not is_service(job, panel)


def _panel_place(job: Job, panel: Panel) -> BondPlace:
    """A panel beside the main one: with the bond where it is a service disconnect itself, or on an old three-wire feeder that stays."""
    above, name = fed_at(job, panel), panel.name[:1].upper() + panel.name[1:] or "Sub-panel"
    service = is_service(job, panel)
    three = not service and three_wires_stay(panel) is True
    wires = 3 if service or three else 4
    found = panel.wires if panel.found else None
    return BondPlace(panel.id, name, above, panel.box.first_disconnect, service or three, wires, found)


def feeder_stays(job: Job) -> bool:
    """Whether the feeder from a disconnect to the inside panel is one that was found and goes on: not made new, and not one that
    only begins with a new disconnect or a moved panel."""
    return job.kept_disconnect and "feeder" not in job.scope.renews


def three_wires_stay(panel: Panel) -> bool | None:
    """Whether a three-wire feeder to a separate building may stay, with the bond in its panel: an existing one, and no other metal
    between the buildings [250.32(B) Ex.]. None while that was not looked at."""
    if not panel.found or panel.wires != 3 or not panel.separate_building or panel.metal_path:
        return False
    return None if panel.metal_path is None else True


def split_mains(job: Job) -> tuple[tuple[str, float | None], ...]:
    """The panels of a split service with their mains [A], the main panel first; empty for any other."""
    if not job.scope.split:
        return ()
    beside = [panel for panel in in_order(job) if parent(job, panel) in AHEAD and not is_enclosure(job, panel)]
    return ((MAIN, job.decisions.split_main_a), *((panel.id, panel.breaker_a) for panel in beside))


def bond_entries(job: Job, codebook: Codebook) -> list[Entry]:
    """For each place whether the bonding screw or strap goes in or comes out, and why."""
    made = []
    for place in bond_places(job):
        title = f"Neutral and ground in the {place.title.lower()}"
        further = job.panel_of(place.key)
        spot = Place.of("panels", f"{place.key}.box.first_disconnect") if further else Place("panel:first_disconnect")
        work = Working(f"service.bond.{place.key}", title, spot)
        if place.supply:
            work.note(
                "service equipment",
                "no: it stands on the supply side of the service",
                [codebook.cite("emergency_disconnect")],
            )
            words = "no bonding jumper: the neutral grounds the can, as in a meter socket"
            made.append(work.entry(work.note("neutral and ground", words, [codebook.cite("supply_bond")])))
            continue
        if place.first:
            if place.key != MAIN and place.behind not in AHEAD:
                work.note(
                    "three wires, no other metal path", "the old feeder may stay", [codebook.cite("outbuilding_wires")]
                )
            else:
                work.note("first disconnect on its way", "yes", [codebook.cite("bond_once")])
            work.note("bonding screw or strap", "in, and tight", [codebook.cite("main_jumper")])
            made.append(work.entry(work.note("neutral and ground", "bonded here")))
            continue
        work.note("behind a disconnect", "yes", [codebook.cite("bond_once")])
        work.note("bonding screw or strap", "out", [codebook.cite("bars_apart")])
        work.note("wires to it", "four: two hots, neutral, EGC", [codebook.cite("feeder_wires")])
        words = "separate: isolated neutral bar, ground bar bonded to can"
        made.append(work.entry(work.note("neutral and ground", words)))
    return made


def bond_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """A bond made twice on one way, or nowhere; the sub-panel's own is told with its feeder."""
    find = Findings(codebook, STAGE).find
    if job.first_ahead and job.panel.first_disconnect:
        rated = f" of {job.existing.disconnect_a:g} A" if job.existing.disconnect_a is not None else ""
        yield find("service.bond_twice", at=Place("panel:first_disconnect"), rated=rated)
    if not job.first_ahead and not job.panel.first_disconnect:
        ahead = job.disconnect_ahead
        yield find("service.bond_nowhere", at=Place("panel:first_disconnect"), ahead=ahead)


def wire_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """How many wires feed the inside panel behind a service disconnect: four; three that were found have to go [408.40, 250.142]."""
    if not job.first_ahead or not feeder_stays(job):
        return
    find = Findings(codebook, "walkthrough").find
    wires, wiring = job.existing.feeder_wires, job.existing.feeder_wiring
    bare = wiring == "se" and wires != 4
    if wires is not None and wires not in (3, 4):
        yield find("service.feeder_wires", at=Place("existing:feeder_wires"), wires=wires)
    elif wires == 3 or bare:
        yield find("service.feeder_three", at=Place("existing:feeder_wires"))
    elif wires is None:
        yield find("service.feeder_wires_unknown", at=Place("existing:feeder_wires"))
