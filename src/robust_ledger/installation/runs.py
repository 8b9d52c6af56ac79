"""The runs between the nodes: conductors, raceway, lengths, and both ends of every conductor."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Literal

from robust_ledger.branch.model import Branch
from robust_ledger.installation.facts import Facts
from robust_ledger.installation.model import Change, Conductor, Joint, Node, Piece, Raceway, Run
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.panel_tree import MAIN, Panel
from robust_ledger.job.tree import (
    by_service,
    fed_nodes,
    feeder_key,
    feeder_tag,
    is_tap,
    panel_name,
    place_of,
)
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.service.feeder import INSULATIONS, WIRING_WORDS
from robust_ledger.service.found_feeder import WORDS

FREE_AT_HEAD_IN = 36.0  # for the drip loop, where the utility has not said more
IN_METER_IN = 24.0  # from the hub to the jaws and back out
AT_PANEL_IN = 36.0  # from the connector to the main terminals
IN_METER = Piece("in the meter socket", IN_METER_IN, "in")
BUS = "factory bus"
LEGS = {"A": "leg A", "B": "leg B", "N": "neutral", "G": "EGC"}


def runs_of(of: Facts, nodes: Mapping[str, Node]) -> tuple[Run, ...]:
    """Every run, in the order in which its end is fed."""
    made = [_riser(of, nodes)]
    if "disconnect" in nodes or nodes[MAIN].above == "meter":
        made.append(_load(of, nodes))
    fed = [panel for panel in fed_nodes(of.job) if panel.id != MAIN or nodes[MAIN].above != "meter"]
    return (*made, *(_feeder(of, nodes, panel) for panel in fed))


def as_found(key: str, words: str, text: str, place: Place) -> Entry:
    """The size of a conductor that stays, as it was read; unknown where it was not."""
    work = Working(f"installation.{key}", words, place)
    read = Conductors.read(text)
    if read is None:
        return work.entry(work.given(f"{words.lower()}: size and metal, to be read", None, "", place))
    return work.entry(work.take(Step("as found", read, place=place)))


def stays_entry(panel: Panel, field: str) -> Entry:
    """The same of what stays with a node: "found_neutral", "found_ground", "found_gec"."""
    of = f"GEC of the {panel.name}" if field == "found_gec" else f"Feeder to the {panel.name}: {WORDS[field]}"
    key = f"feeder.{panel.id}.{field.removeprefix('found_')}"
    return as_found(key, f"{of}, as found", getattr(panel, field), place_of(panel, field))


# --- the service conductors ---------------------------------------------------------------------------------------


def _service_change(of: Facts, run: str) -> Change:
    if of.renews(run):
        return Change.REPLACED if of.found_wire(run) else Change.NEW
    stays = of.job.scope.keeps_service or (of.job.scope.said and of.found_wire(run))
    return Change.KEPT if stays else Change.OPEN


def _service_sizes(of: Facts, run: str, change: Change, landing: Entry) -> tuple[Entry, Entry]:
    """Hots and neutral of a run of the service: as planned where it is new or nobody has said, else as found."""
    if change is not Change.KEPT:
        return landing, of.figures.pulled_neutral
    words = "Service conductors to the meter" if run == "riser" else "Service conductors behind the meter"
    place = Place(f"existing:{'riser' if run == 'riser' else 'load'}_conductors")
    hots = as_found(f"{run}.hots", f"{words}, as found", of.found_wire(run), place)
    found = of.job.existing.neutral
    neutral = as_found(f"{run}.neutral", f"{words}: neutral, as found", found, Place("existing:neutral"))
    return hots, neutral


def _riser(of: Facts, nodes: Mapping[str, Node]) -> Run:
    job, run = of.job, of.job.service_run
    change = _service_change(of, "riser")
    hots, neutral = _service_sizes(of, "riser", change, of.figures.conductors)
    riser_ft = run.riser_ft if run.riser_ft is not None else job.overhead.riser_ft
    up = Piece("up the riser", riser_ft, "ft", Place("service_run:riser_ft"))
    free_in = job.overhead.free_in if job.overhead.free_in is not None else FREE_AT_HEAD_IN
    free = Piece("free at the weatherhead", free_in, "in", Place("overhead:free_in"))
    under = job.existing.underground
    ends = _ends(nodes["meter"], "meter.line.{}", "Meter, line side, {}", "meter")
    raceway = None
    if job.raceway != "cable" and (job.raceway or "riser" in job.scope.renews):
        raceway = Raceway(
            job.raceway,
            of.figures.raceway,
            Change.REPLACED if "riser" in job.scope.renews else Change.KEPT,
            Piece("riser", riser_ft, "ft", Place("service_run:riser_ft")),
            over_roof=not under,
            found_size=job.existing.trade_size,
            strap_between_in=job.overhead.strap_between_in,
        )
    return Run(
        "riser",
        "lateral to meter" if under else "weatherhead to meter",
        "Lateral" if under else "Service-entrance conductors",
        "utility",
        "meter",
        "service",
        _set(hots, neutral, None, change, {}, ends, nodes["utility"], nodes["meter"]),
        change,
        (up, IN_METER) if under else (up, free, IN_METER),
        raceway=raceway,
        insulation=job.service_run.insulation if change is not Change.KEPT else "",
        wiring="SE cable" if job.raceway == "cable" else "",
        by_utility=under and not change.made and not of.found_wire("riser"),
    )


def _load(of: Facts, nodes: Mapping[str, Node]) -> Run:
    """From the meter to the first disconnect, or to the panel."""
    job, run, ahead = of.job, of.job.service_run, "disconnect" in nodes
    change = _service_change(of, "load")
    landing = of.figures.conductors if ahead else of.figures.landing
    hots, neutral = _service_sizes(of, "load", change, landing)
    if not ahead and change is not Change.KEPT:
        neutral = of.figures.landing_neutral
    parts = (run.length_ft, run.riser_ft, *((job.main_feed.length_ft,) if ahead else ()))
    rest = None if None in parts else parts[0] - sum(part or 0.0 for part in parts[1:])
    rest = rest if rest is not None and rest > 0 else None  # parts that are longer than the whole say nothing
    end = "disconnect" if ahead else MAIN
    place = (
        Place("main_feed:length_ft") if ahead and job.main_feed.length_ft is None else Place("service_run:length_ft")
    )
    way = Piece(f"from meter to {'disconnect' if ahead else 'panel'}", rest, "ft", place)
    starts = _ends(nodes["meter"], "meter.load.{}", "Meter, load side, {}", "meter")
    ends = _top(of, nodes[end])
    return Run(
        "load",
        f"meter to {'disconnect' if ahead else 'panel'}",
        f"Conductors from the meter to the {'disconnect' if ahead else 'panel'}",
        "meter",
        end,
        "service",
        _set(hots, neutral, None, change, starts, ends, nodes["meter"], nodes[end]),
        change,
        (way, IN_METER, Piece(f"at the {'disconnect' if ahead else 'panel'}", AT_PANEL_IN, "in")),
        insulation=job.service_run.insulation if change is not Change.KEPT else "",
    )


# --- feeders -------------------------------------------------------------------------------------------------------


def _feeder(of: Facts, nodes: Mapping[str, Node], panel: Panel) -> Run:
    """To any panel or other node, from the meter on or behind a disconnect."""
    figures = of.figures.feeders[panel.id]
    node = nodes[panel.id]
    above = nodes[node.above]
    stood = all(one.change in (Change.KEPT, Change.REPLACED) for one in (above, node)) and above.key != "meter"
    before = stood or panel.conductors or feeder_tag(of.job, panel) is not None
    change = Change.KEPT if panel.found else Change.REPLACED if before else Change.NEW
    three = node.bond is None or node.bond.kind in ("in", "supply")
    if panel.in_meter and above.key == "meter":
        return _factory_bus(node, change)
    way = Piece(f"from the {above.name} to the {node.name}", panel.length_ft, "ft", place_of(panel, "length_ft"))
    raceway = None
    if figures.raceway is not None:
        length = Piece("feeder", panel.length_ft, "ft", place_of(panel, "length_ft"))
        raceway = Raceway(panel.raceway, figures.raceway, change, length, found_size=panel.found_size)
    ends, starts, feeder = _top(of, node), _feeder_starts(of, above, panel), not by_service(of.job, panel.id)
    missing = panel.found and panel.wires != 4
    neutral = stays_entry(panel, "found_neutral") if panel.found else figures.neutral
    ground = stays_entry(panel, "found_ground") if panel.found and not missing else figures.ground
    return Run(
        f"feeder.{panel.id}",
        f"feeder of the {panel.name}" if feeder else f"service conductors to the {panel.name}",
        f"{'Feeder' if feeder else 'Service conductors'} to the {panel.name}",
        above.key,
        panel.id,
        "feeder" if feeder else "service",
        _set(figures.conductors, neutral, None if three else ground, change, starts, ends, above, node, missing=missing),
        change,
        (way, Piece("at this panel", AT_PANEL_IN, "in"), Piece("at the other", AT_PANEL_IN, "in")),
        wires=3 if three else 4,
        found_wires=panel.wires if panel.found else None,
        raceway=raceway,
        insulation=INSULATIONS.get(panel.laid_as, ""),
        wiring=WIRING_WORDS[panel.laid_as],
        device=figures.rating,
        carried=figures.carried,
        begins=_begins(of.job, above, panel),
    )  # fmt: skip


def _begins(job: Job, above: Node, panel: Panel) -> Literal["breaker", "lugs", "tap", "load side"]:
    if is_tap(job, panel):
        return "tap"
    return "load side" if not above.panel_id else "lugs" if panel.fed_by == "lugs" else "breaker"


def _factory_bus(node: Node, change: Change) -> Run:
    """From the meter to a main in its own enclosure: no wires of ours."""
    words = f"bus of the meter's enclosure to the {node.name}"
    return Run(
        f"feeder.{node.key}",
        words,
        words[:1].upper() + words[1:],
        "meter",
        node.key,
        "service",
        (),
        change,
        (),
        wiring=BUS,
    )


def _feeder_starts(of: Facts, above: Node, panel: Panel) -> dict[str, Joint]:
    """Where a feeder begins: a breaker, feed-through lugs, the load side of a disconnect or of the meter."""
    if (key := feeder_key(of.job, panel)) is not None:
        return _breaker_ends(of, key, above)
    to = f"to the {panel_name(of.job, panel.id)}"
    if above.key == "meter":
        return _ends(above, f"meter.load.{panel.id}.{{}}", f"Meter, load side, {{}} {to}", "meter")
    begins = {"lugs": "feed-through lug", "tap": "tap"}.get(_begins(of.job, above, panel), "load side")
    words = f"{above.title}, {begins}, {{}} {to}"
    made = _ends(above, f"{above.key}.lugs.{panel.id}.{{}}", words, "lug")
    made["G"] = _joint(above, f"{above.key}.lugs.{panel.id}.G", f"{above.title}, EGC {to}", "ground bar")
    return made


def _breaker_ends(of: Facts, key: CircuitKey, above: Node) -> dict[str, Joint]:
    """A feeder's breaker in a panel: its two poles, the neutral bar and the ground bar, by the keys that any circuit's have."""
    branch = next((one for one in of.branches if one.key == key and not one.off), None)
    if branch is None:
        return {}
    return breaker_joints(branch, above, of)


def breaker_joints(branch: Branch, node: Node, of: Facts) -> dict[str, Joint]:
    """Where a circuit of a two-pole breaker lands."""
    name = f"{in_front(node)}{branch.name}"
    at = "its breaker" if branch.to_device else "the neutral bar"
    return {
        "A": _joint(node, f"{branch.key}.hot1", f"{name}, breaker leg A", "breaker"),
        "B": _joint(node, f"{branch.key}.hot2", f"{name}, breaker leg B", "breaker"),
        "N": _joint(node, f"{branch.key}.neutral", f"{name}, neutral on {at}", "breaker" if branch.to_device else "neutral bar"),
        "G": _joint(node, f"{branch.key}.ground", f"{name}, ground", "ground bar"),
    }  # fmt: skip


# --- ends ------------------------------------------------------------------------------------------------------------


def in_front(node: Node) -> str:
    """The name of a node before its joints, of those beside the main panel."""
    return "" if node.key == MAIN else f"{node.name[:1].upper()}{node.name[1:]}: "


def _joint(node: Node, key: str, words: str, part: str) -> Joint:
    return Joint(key, words, part, None, node.key, Change.KEPT)


def _ends(node: Node, key: str, words: str, part: str) -> dict[str, Joint]:
    """The ends of two hots and a neutral at a node, by their names."""
    return {name: _joint(node, key.format(name), words.format(LEGS[name]), part) for name in ("A", "B", "N")}


def _top(of: Facts, node: Node) -> dict[str, Joint]:
    """Where what feeds a node lands in it: its main or its lugs, the neutral lug, the ground bar."""
    if node.kind in ("disconnect", "meter-main", "transfer equipment"):
        made = _ends(node, f"{node.key}.line.{{}}", f"{node.title}, line side, {{}}", "lug")
        made["G"] = _joint(node, f"{node.key}.line.G", f"{node.title}, EGC of its feeder", "ground bar")
        return made
    name, part = in_front(node), "main" if node.has_main else "lug"
    where = "Main breaker" if node.has_main else "Main lug"
    return {
        "A": _joint(node, f"{node.key}.main.A", f"{name}{where}, leg A", part),
        "B": _joint(node, f"{node.key}.main.B", f"{name}{where}, leg B", part),
        "N": _joint(node, f"{node.key}.main.N", f"{name}Neutral lug", "lug"),
        "G": _joint(node, f"{node.key}.main.G", f"{name}EGC of its feeder", "ground bar"),
    }


def _set(
    hots: Entry,
    neutral: Entry,
    ground: Entry | None,
    change: Change,
    starts: Mapping[str, Joint],
    ends: Mapping[str, Joint],
    above: Node,
    node: Node,
    missing: bool = False,
) -> tuple[Conductor, ...]:
    """Two hots, a neutral and, with four wires, the EGC, each with its ends that this job tightens. `missing`: the EGC has to be there, and in
    what stays there is none, or nobody has looked."""
    sizes = {"A": hots, "B": hots, "N": neutral, **({"G": ground} if ground is not None else {})}
    made = []
    for name, size in sizes.items():
        if name == "G" and missing:
            made.append(Conductor(name, size, Change.OPEN))
            continue
        start, end = (landed(at.get(name), size, change, where) for at, where in ((starts, above), (ends, node)))
        made.append(Conductor(name, size, change, start, end))
    return tuple(made)


def landed(joint: Joint | None, size: Entry, change: Change, node: Node) -> Joint | None:
    """An end with its wire and what becomes of it: new with a new conductor, touched where the node is new and the conductor stays."""
    if joint is None:
        return None
    becomes = Change.TOUCHED if not change.made and node.change.made else change
    return Joint(joint.key, joint.words, joint.part, size, joint.node, becomes)


def feeder_branches(of: Facts) -> Iterator[CircuitKey]:
    """The circuits that are feeders of a panel: their ends are those of a run."""
    for panel in fed_nodes(of.job):
        if (key := feeder_key(of.job, panel)) is not None:
            yield key
