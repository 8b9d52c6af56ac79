"""Every screw of the day, from the meter to the last ground: ends of conductors that are new or landed anew, circuits, joints of the factory."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from robust_ledger.branch.model import Branch, Origin
from robust_ledger.installation.facts import Facts
from robust_ledger.installation.model import Change, Joint, Node, Run
from robust_ledger.installation.runs import feeder_branches, in_front
from robust_ledger.job.tree import back_fed_key

FACTORY = {"main": "main to the bus", "neutral": "neutral bar", "ground": "ground bar"}


def joints_of(of: Facts, nodes: Sequence[Node], runs: Sequence[Run]) -> tuple[Joint, ...]:
    """The ends at the meter and the disconnect, at electrodes, bushings; then panel by panel its main, its circuits, its factory joints."""
    ends = [joint for run in runs for one in run.conductors for joint in one.joints if joint.change.worked_at]
    panels = [node for node in nodes if node.panel_id]
    at_panels = {node.key for node in panels if node.key == node.panel_id}
    boxes = [node.key for node in nodes if node.key not in at_panels]
    made = [joint for key in boxes for joint in ends if joint.node == key and not _is_circuit(joint)]
    made += _bond_screws([node for node in nodes if node.key not in at_panels])
    made += [joint for joint in ends if joint.node not in boxes and joint.node not in at_panels]
    made += _bushings(of, nodes)
    live = live_branches(of.branches)
    fed = set(feeder_branches(of))
    for node in panels:
        mine = [joint for joint in ends if joint.node == node.key and not _is_circuit(joint)]
        made += mine if node.key == node.panel_id else []
        for branch in live:
            if branch.panel == node.panel_id:
                made += _circuit(branch, node, ends) if branch.key in fed else _branch(branch, node)
        made += _factory(node) if node.change.made else []
    return tuple(made)


def live_branches(branches: Sequence[Branch]) -> list[Branch]:
    """Circuits that get a breaker on this day."""
    return [branch for branch in branches if branch.origin is not Origin.FUTURE and not branch.off]


def _is_circuit(joint: Joint) -> bool:
    """Whether it is an end at the breaker of a feeder, which stands among the circuits."""
    return joint.key.startswith(("tag:", "equip:"))


def _circuit(branch: Branch, node: Node, ends: Sequence[Joint]) -> Iterator[Joint]:
    """The ends of a feeder at its breaker, with the sizes of its own conductors."""
    mine = f"{branch.key}."
    return (joint for joint in ends if joint.key.startswith(mine) and joint.node == node.key)


def _branch(branch: Branch, node: Node) -> Iterator[Joint]:
    """Hots, a neutral where it has one, a ground, of a circuit that is on. The wires of a back-fed main are those of the panel's feeder."""
    if branch.key == back_fed_key(node.panel_id):
        return
    change = Change.NEW if branch.new_cable else Change.TOUCHED
    shared = branch.partner and str(branch.partner) < str(branch.key)  # the neutral of two hots is one wire
    name, wire = f"{in_front(node)}{branch.name}", branch.wire
    for pole in range(branch.poles):
        side = f" leg {'AB'[pole]}" if branch.poles == 2 else ""
        yield Joint(f"{branch.key}.hot{pole + 1}", f"{name}, breaker{side}", "breaker", wire, node.key, change)
    if (branch.poles == 1 or branch.uses_neutral) and not shared:
        at = "its breaker" if branch.to_device else "the neutral bar"
        part = "breaker" if branch.to_device else "neutral bar"
        yield Joint(f"{branch.key}.neutral", f"{name}, neutral on {at}", part, wire, node.key, change)
    yield Joint(f"{branch.key}.ground", f"{name}, ground", "ground bar", wire, node.key, change)


def _bond_screws(nodes: Sequence[Node]) -> Iterator[Joint]:
    """The bonding screw of a new disconnect, where it goes in."""
    for node in nodes:
        if node.change.made and node.bond is not None and node.bond.kind == "in":
            words = f"{node.title}: bonding screw or strap"
            yield Joint(f"{node.key}.factory.bond", words, "factory", None, node.key, node.change)


def _bushings(of: Facts, nodes: Sequence[Node]) -> Iterator[Joint]:
    """Bonding bushings of a metal service raceway where its knockouts want them, and of a nipple: at both ends."""
    job = of.job
    metal = job.raceway in ("rmc", "imc", "emt") and job.equipment.bonding_bushings
    if not (job.service_run.nipple or metal):
        return
    first = next(node for node in nodes if node.above == "meter")
    words = "panel" if first.kind == "panel" else first.title.lower()
    mbj = of.figures.mbj
    yield Joint("bushing.meter", "Bonding bushing at the meter", "bushing", mbj, "meter", Change.NEW)
    yield Joint("bushing.panel", f"Bonding bushing at the {words}", "bushing", mbj, first.key, Change.NEW)


def _factory(node: Node) -> Iterator[Joint]:
    """Joints the factory made: they loosen on the truck. A disconnect with breakers in it has its bonding screw among the disconnects."""
    joints = dict(FACTORY)
    if node.key == node.panel_id and node.bond is not None and node.bond.kind == "in":
        joints["bond"] = "bonding screw or strap"
    for key, words in joints.items():
        name = f"{in_front(node)}Factory joint: {words}"
        yield Joint(f"{node.panel_id}.factory.{key}", name, "factory", None, node.key, node.change)
