"""Neutral and ground at a node, by one function for every node that has a neutral: bonded at the service equipment on every way from the
utility, apart after it, the can grounded by the neutral before it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.installation.model import BondKind, Node
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working

# What is to be seen at a node, by its bond: hold, record, field book, phone and checklist have their words from here; the drawing, with less
# room, has shorter ones for the same bond.
BOND_WORDS: dict[BondKind, str] = {
    "in": "bonding screw or strap IN: neutral and ground are one here",
    "out": "bonding screw or strap OUT: neutral floats, grounds apart",
    "open": "bonding screw or strap: LEAVE IT until the wires of its feeder are counted and other metal paths looked for",
    "supply": "supply side, no service equipment: the NEUTRAL GROUNDS THE CAN, as in a meter socket; nothing isolated, no grounds landed apart",
}
# The rules behind it.
BOND_RULES: dict[BondKind, tuple[str, ...]] = {
    "in": ("bond_once", "main_jumper"),
    "out": ("bond_once", "bars_apart"),
    "open": ("outbuilding_three", "outbuilding_wires"),
    "supply": ("supply_bond",),
}


def bond_kind(ahead: bool, service: bool, old_feeder: bool | None) -> BondKind:
    """What has to be at a node. `ahead`: it stands ahead of the service equipment [250.142(A)]; `service`: it is the first disconnect on its
    way [250.24]; `old_feeder`: an existing feeder of three wires to a separate building may stay; None: not known whether it does [250.32(B) Ex.]."""
    if ahead:
        return "supply"
    if old_feeder is None and not service:
        return "open"
    return "in" if service or old_feeder else "out"


def bond_entry(
    key: str, title: str, place: Place, kind: BondKind, old_feeder: bool | None, codebook: Codebook
) -> Entry:
    """Whether the bonding screw or strap goes in or comes out at a node, and why."""
    work = Working(f"service.bond.{key}", f"Neutral and ground in the {title.lower()}", place)
    if kind == "supply":
        why = "no: it stands on the supply side of the service"
        work.note("service equipment", why, [codebook.cite("emergency_disconnect")])
        words = "no bonding jumper: the neutral grounds the can, as in a meter socket"
        return work.entry(work.note("neutral and ground", words, [codebook.cite("supply_bond")]))
    if kind == "open":
        cites = [codebook.cite("outbuilding_three"), codebook.cite("outbuilding_wires")]
        work.note("feeder found to another building", "its wires not counted, or other metal paths not checked", cites)
        work.note("bonding screw or strap", "left as it is until that is known")
        return work.entry(work.given("neutral and ground: how many wires the feeder has", None, "", place))
    if kind == "in":
        if old_feeder:
            cites = [codebook.cite("outbuilding_wires")]
            work.note("three wires, no other metal path", "the old feeder may stay", cites)
        else:
            work.note("first disconnect on its way", "yes", [codebook.cite("bond_once")])
        work.note("bonding screw or strap", "in, and tight", [codebook.cite("main_jumper")])
        return work.entry(work.note("neutral and ground", "bonded here"))
    work.note("behind a disconnect", "yes", [codebook.cite("bond_once")])
    work.note("bonding screw or strap", "out", [codebook.cite("bars_apart")])
    work.note("wires to it", "four: two hots, neutral, EGC", [codebook.cite("feeder_wires")])
    words = "separate: isolated neutral bar, ground bar bonded to can"
    return work.entry(work.note("neutral and ground", words))


def bond_findings(job: Job, nodes: Sequence[Node], codebook: Codebook) -> Iterator[Finding]:
    """A bond made twice on the way to the main panel, or nowhere; that of another panel is told with its feeder."""
    find = Findings(codebook, "service").find
    main = next(node for node in nodes if node.key == MAIN)
    if main.bond is None or main.bond.right:
        return
    at = Place("panel:first_disconnect")
    if main.bond.bonded:
        above = next((node for node in nodes if node.key == main.above), None)
        rating = above.rating if above is not None else None
        rated = f" of {rating.text()}" if rating is not None and rating.known else ""
        yield find("service.bond_twice", at=at, rated=rated)
    else:
        yield find("service.bond_nowhere", at=at, ahead=main.above != "meter")
