"""The conductors to earth and to pipes: from the service disconnect to each electrode, from a building's panel to its own, the bonds of water and
gas. Each is a run with one conductor and both its ends."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from msgspec.structs import replace

from robust_ledger.installation.facts import Facts
from robust_ledger.installation.model import Change, Conductor, Joint, Node, Piece, Run
from robust_ledger.installation.runs import as_found, in_front, landed, stays_entry
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.job.tree import node_of, place_of
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.place import NOWHERE, Place
from robust_ledger.service.bonding import electrode_entry
from robust_ledger.survey.grounding import ELECTRODE_WORDS, GroundingFigures

WAY = Place("grounding:gec_ft")
WAYS = {"water": "water_ft", "concrete": "concrete_ft", "ring": "ring_ft", "plate": "plate_ft"}
CLAMPS = {
    "concrete": "GEC at the concrete-encased electrode",
    "water": "Clamp at the metal water pipe",
    "ring": "GEC at the ground ring",
    "plate": "GEC at the plate",
}


def earth_runs(of: Facts, nodes: Mapping[str, Node], runs: Sequence[Run]) -> Iterator[Run]:
    """Electrode conductors first, at the first service disconnect and, as taps, at every other one; those of other buildings; then bonds."""
    service = [node for node in nodes.values() if node.service]
    if not service:
        return
    home = service[0]
    if of.grounding is None:
        yield _earth(of, home, "gec", _kept_gec(of), Change.KEPT, ())
    else:
        yield from _electrodes(of, home, of.grounding)
    for node in service[1:]:
        if (hots := _hots_to(node, runs)) is not None:  # in the enclosure of the first one the bar is the same
            yield _tap(of, node, home, hots)
    for panel in of.further:
        if (entry := of.figures.feeders[panel.id].gec) is not None and not nodes[panel.id].service:
            yield _of_building(of, nodes[panel.id], panel, entry)
    if of.grounding is not None:
        yield from _bonds(of, home, of.grounding)


def _kept_gec(of: Facts) -> Entry:
    return as_found("gec", "GEC, as found", of.job.grounding.gec, Place("grounding:gec"))


def _electrodes(of: Facts, home: Node, found: GroundingFigures) -> Iterator[Run]:
    """One run through all electrodes, or a conductor to each kind; as found where the GEC stays, but for rods that come on."""
    own = of.job.grounding
    new = (Change.REPLACED if own.gec else Change.NEW) if own.gec_new else Change.KEPT
    kinds = list(found.conductors)
    if found.one_run is not None:
        ends = [end for kind in kinds for end in _clamps(of, kind, found, new)]
        size = found.one_run if new.made else _kept_gec(of)
        yield _earth(of, home, "gec", size, new, ends)
        if not new.made:
            yield from _rods_alone(of, found, [end for end in ends if end.change.made])
        return
    for kind in kinds:
        ends = _clamps(of, kind, found, new)
        size = found.conductors[kind] if new.made else _kept_gec(of)
        yield _earth(of, home, "gec" if len(kinds) == 1 else f"gec.{kind}", size, new, ends, kind)
        if not new.made:
            yield from _rods_alone(of, found, [end for end in ends if end.change.made])


def _clamps(of: Facts, kind: str, found: GroundingFigures, change: Change) -> list[Joint]:
    """The ends at the electrodes of a kind: those found, and rods to be driven."""
    if kind != "rods":
        return [Joint(f"electrode.{kind}", CLAMPS[kind], "clamp", None, f"electrode.{kind}", change)]
    made = []
    there = of.job.grounding.rods
    for number in range(1, there + 1):
        words = f"Clamp of ground rod {number} that is there"
        made.append(Joint(f"rod.found.{number}", words, "clamp", None, "electrode.rods", change))
    added = int(found.rods_added.amount) if found.rods_added.known else 0
    for number in range(1, added + 1):
        words = f"Clamp of ground rod {number}"
        made.append(Joint(f"rod.{number}", words, "clamp", None, "electrode.rods", Change.NEW))
    return made


def _rods_alone(of: Facts, found: GroundingFigures, ends: Sequence[Joint]) -> Iterator[Run]:
    """The conductor to rods that come on where the GEC itself stays: it is joined to what is there."""
    size = found.conductors.get("rods")
    if not ends or size is None:
        return
    way = (Piece("its way", of.job.grounding.gec_ft, "ft", WAY),)
    tied = tuple(replace(end, wire=size) for end in ends)
    yield Run(
        "gec.added",
        "GEC to the rods that are driven",
        "GEC to the rods that are driven",
        "electrode.rods",
        "electrode.rods",
        "earth",
        tuple(Conductor("GEC", size, Change.NEW, None, end) for end in tied),
        Change.NEW,
        way,
        wires=1,
    )


def _earth(of: Facts, home: Node, key: str, size: Entry, change: Change, ends: Sequence[Joint], kind: str = "") -> Run:
    """A conductor from a node to one or more clamps: it runs on from one to the next, unspliced."""
    what = f"GEC to the {ELECTRODE_WORDS[kind]}" if kind else "GEC"
    name = f"{in_front(home)}GEC on the neutral bar" if home.key != "disconnect" else "GEC at the disconnect"
    words = name if key == "gec" else f"{name}, to the {ELECTRODE_WORDS.get(kind, '')}"
    start = landed(Joint(f"{home.key}.{key}", words, "neutral bar", None, home.key, change), size, change, home)
    wired = [replace(end, wire=size) for end in ends if change.made or not end.change.made]
    first = Conductor("GEC", size, change, start, wired[0] if wired else None)
    on = tuple(Conductor("GEC", size, change, None, end) for end in wired[1:])
    place = Place.of("grounding", WAYS.get(kind, "gec_ft"))
    return Run(
        key,
        what,
        what,
        home.key,
        f"electrode.{kind or 'all'}",
        "earth",
        (first, *on),
        change,
        (Piece("its way", getattr(of.job.grounding, place.name), "ft", place),),
        wires=1,
    )


def _hots_to(node: Node, runs: Sequence[Run]) -> Conductor | None:
    return next((run.conductor("A") for run in runs if run.end == node.key), None)


def _tap(of: Facts, node: Node, home: Node, hots: Conductor) -> Run:
    """The tap of another service disconnect to the common GEC, by the conductors that feed it [250.64(D)]."""
    size = replace(
        electrode_entry(hots.size, of.codebook), id=f"service.gec.{node.key}", label=f"GEC tap at the {node.name}"
    )
    change = node.change if node.change.made else Change.KEPT
    joint = Joint(
        f"{node.key}.gec", f"{in_front(node)}GEC tap on the neutral bar", "neutral bar", None, node.key, change
    )
    end = Joint(f"{node.key}.gec.tap", f"{in_front(node)}GEC tap at the common GEC", "clamp", size, home.key, change)
    panel = node_of(of.job, node.key)
    way_ft, place = (panel.gec_ft, place_of(panel, "gec_ft")) if panel is not None else (None, NOWHERE)
    return Run(
        f"gec.tap.{node.key}",
        f"GEC tap, {node.name}",
        f"GEC tap at the {node.name}",
        node.key,
        home.key,
        "earth",
        (Conductor("GEC", size, change, landed(joint, size, change, node), end),),
        change,
        (Piece("its way", way_ft, "ft", place),),
        wires=1,
    )  # fmt: skip


def _of_building(of: Facts, node: Node, panel: Panel, size: Entry) -> Run:
    """The GEC of a separate building, to its own rods: they come with a panel and a feeder that are new."""
    change = Change.KEPT if panel.there or panel.found else Change.NEW
    size = stays_entry(panel, "found_gec") if change is Change.KEPT else size
    words = f"{in_front(node)}GEC on the ground bar"
    start = landed(Joint(f"{node.key}.gec", words, "ground bar", None, node.key, change), size, change, node)
    ends = [
        Joint(f"rod.{node.key}.{number}", f"{in_front(node)}clamp of ground rod {number}", "clamp", size, f"electrode.{node.key}", change)
        for number in range(1, panel.rods + 1)
    ]  # fmt: skip
    first = Conductor("GEC", size, change, start, ends[0] if ends else None)
    return Run(
        f"gec.{node.key}",
        f"GEC of the {panel.name}",
        f"GEC of the {panel.name}",
        node.key,
        f"electrode.{node.key}",
        "earth",
        (first, *(Conductor("GEC", size, change, None, end) for end in ends[1:])),
        change,
        (Piece("its way", panel.gec_ft, "ft", place_of(panel, "gec_ft")),),
        wires=1,
    )


def _bonds(of: Facts, home: Node, found: GroundingFigures) -> Iterator[Run]:
    """Pipes that are not bonded yet: a conductor from the service equipment to a clamp on each."""
    own = of.job.grounding
    if own.water_bonded is False:
        yield _bond(of, home, "water", "metal water piping", found.water_bond)
    if own.water_jumper is False and "water" in found.conductors:
        size = found.conductors["water"]
        sides = [
            Joint(
                f"water_meter.{n}",
                f"Bonding jumper of the water meter, clamp {n}",
                "clamp",
                size,
                "electrode.water",
                Change.NEW,
            )
            for n in (1, 2)
        ]
        yield Run(
            "bond.water_meter",
            "bonding jumper around the water meter",
            "Bonding jumper around the water meter",
            "electrode.water",
            "electrode.water",
            "earth",
            (Conductor("bond", size, Change.NEW, *sides),),
            Change.NEW,
            (Piece("its way", own.jumper_ft, "ft", Place("grounding:jumper_ft")),),
            wires=1,
        )
    if own.gas == "not_bonded" and found.gas_bond is not None:
        yield _bond(of, home, "gas", "metal gas piping", found.gas_bond)


def _bond(of: Facts, home: Node, key: str, words: str, size: Entry) -> Run:
    place = Place.of("grounding", f"{key}_bond_ft")
    title = f"Bond of the {words}"
    start = Joint(
        f"{home.key}.bond.{key}", f"{in_front(home)}bond of the {words}", "neutral bar", size, home.key, Change.NEW
    )
    end = Joint(f"bond.{key}", f"Clamp at the {words}", "clamp", size, f"pipe.{key}", Change.NEW)
    return Run(
        f"bond.{key}",
        title.lower(),
        title,
        home.key,
        f"pipe.{key}",
        "earth",
        (Conductor("bond", size, Change.NEW, start, end),),
        Change.NEW,
        (Piece("its way", getattr(of.job.grounding, place.name), "ft", place),),
        wires=1,
    )
