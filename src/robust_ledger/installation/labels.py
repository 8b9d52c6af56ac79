"""The labels that are due, each at its node."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from robust_ledger.installation.facts import Facts
from robust_ledger.installation.model import Label, Node
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.service.emergency import LABELS


def labels_of(of: Facts, nodes: Mapping[str, Node]) -> Iterator[Label]:
    """Emergency disconnect, surge device, interlock, solar, series rating, fault current, and what feeds each panel."""
    own, main = of.job.equipment, nodes[MAIN]
    first = [node for node in nodes.values() if node.above == "meter"]
    for node in first if of.service.emergency_label else ():
        where = "Outside of the emergency disconnect: letters at least 1/2 in high, white on red [230.85]"
        which = "" if len(first) == 1 else f"{node.title}. "
        lines = LABELS[_mark(of, node)]
        yield Label(node.key, which + where, lines, True, "emergency")
    if own.spd:
        at = spd_node(of, nodes)
        words = "panel" if at == MAIN else nodes[at].title.lower()
        lines = ("SURGE PROTECTIVE DEVICE", f"TYPE {own.spd_type or '?'}")
        yield Label(at, f"Beside the surge protective device at the {words}", lines, False, "spd")
    if own.generator_a:
        lines = ("GENERATOR BREAKER WITH INTERLOCK", "MAIN OFF BEFORE GENERATOR ON")
        yield Label(MAIN, "At the interlock [702.7]", lines, False, "interlock")
    if own.inverter_a:
        lines = ("DO NOT RELOCATE THIS OVERCURRENT DEVICE", "TWO SOURCES FEED THIS PANEL")
        yield Label(MAIN, "At the inverter's breaker [705.12]", lines, True, "solar")
    if main.series_aic_a:
        lines = (
            "CAUTION – SERIES COMBINATION SYSTEM",
            f"RATED {main.series_aic_a:,.0f} AMPERES",
            "IDENTIFIED REPLACEMENT COMPONENTS REQUIRED",
        )
        yield Label(MAIN, "On the enclosures of the series-rated devices [110.22]", lines, True, "series")
    yield from _fault_currents(of, nodes)
    yield from _fed(nodes)


def spd_node(of: Facts, nodes: Mapping[str, Node]) -> str:
    """The node that the surge device is at: the first disconnect where it was said so, else the main panel."""
    if of.job.equipment.spd_at != "disconnect":
        return MAIN
    return next((node.key for node in nodes.values() if node.above == "meter" and node.kind != "panel"), MAIN)


def _mark(of: Facts, node: Node) -> str:
    """Which of the lawful kinds an emergency disconnect is."""
    if node.key == "disconnect":
        return of.job.scope.disconnect_kind or "service"
    panel = of.job.panel_of(node.key)
    return (panel.marked if panel is not None else "") or "service"


def _fault_currents(of: Facts, nodes: Mapping[str, Node]) -> Iterator[Label]:
    """The available fault current at each service disconnect: that of the node itself, not of what it feeds."""
    equipment = [node for node in nodes.values() if node.service]
    for node in equipment:
        if node.fault is not None and node.fault.known:
            lines = (
                f"AVAILABLE FAULT CURRENT {node.fault.amount:,.0f} A",
                f"CALCULATED {of.job.heading.date or '________'}",
            )
            which = f", {node.title.lower()}" if node.key != MAIN or len(equipment) > 1 else ""
            where = f"At the service equipment{which}, where the AHJ wants it; a dwelling needs none [110.24]"
            yield Label(node.key, where, lines, False, f"fault.{node.key}")  # fmt: skip


def _fed(nodes: Mapping[str, Node]) -> Iterator[Label]:
    """What feeds each panel: on its door."""
    panels = [node for node in nodes.values() if node.kind == "panel"]
    for node in panels:
        above = nodes[node.above]
        fed = "METER" if above.key == "meter" else above.name.upper()
        where = "On the panel" if len(panels) == 1 else f"On the {node.name}"
        yield Label(node.key, where, ("DIRECTORY INSIDE THE DOOR", f"FED FROM: {fed}"), False, f"fed.{node.key}")
