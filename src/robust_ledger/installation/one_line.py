"""The one-line drawing as data: what stands where, the figures at it and on the way to it, and the bond. It shows the state that is
right; what differs from it as found or as entered is marked. Painted by the desk and by the papers alike."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from robust_ledger.installation.facts import Facts
from robust_ledger.installation.labels import spd_node
from robust_ledger.installation.model import Change, Node, Run
from robust_ledger.installation.room import Installation
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.text import number_text
from robust_ledger.service.emergency import Need
from robust_ledger.service.equipment import MAIN_WORDS
from robust_ledger.service.raceway import RACEWAY_WORDS

BOXED = ("disconnect", "meter-main", "transfer equipment")  # a device in a box of its own


class Line(Struct, frozen=True):
    """A line of text in the drawing and the entry behind it, if it is a figure. `differs`: the state as found or as entered, which is
    not the one that is right."""

    text: str
    entry_id: str = ""
    differs: bool = False


class Drawn(Struct, frozen=True):
    """A box: its lines, what feeds it (`behind`, a key), the words on that way and its wires; the bond ("in", "out", "supply" or ""),
    and lines that stand beside it."""

    key: str
    title: str
    lines: tuple[Line, ...]
    behind: str = ""
    feed: tuple[Line, ...] = ()
    wires: int = 3
    bond: str = ""
    beside: tuple[Line, ...] = ()


def one_line(of: Installation) -> tuple[Drawn, ...]:
    """The utility, the meter and every disconnect and panel behind it."""
    made = []
    for node in of.nodes.values():
        if node.change is Change.REMOVED or node.kind == "splice box":
            continue
        run = of.run_to(node.key)
        made.append(
            Drawn(
                node.key,
                node.title,
                tuple(_lines(node, of.facts)),
                node.above,
                tuple(_way(run)) if run is not None else (),
                run.wires if run is not None else 3,
                node.bond.kind if node.bond is not None else "",
                tuple(_beside(node, of)),
            )
        )
    return tuple(made)


def _lines(node: Node, of: Facts) -> Iterator[Line]:
    """What stands in the box."""
    if node.kind == "service point":
        yield _fault(node)
        return
    if node.kind == "meter socket":
        yield from (Line(words, "chain.meter") for words in node.marked)
        yield _fault(node)
        if of.job.equipment.bonding_bushings:
            yield Line(f"bonding bushings, bonding jumper {of.figures.mbj.text()}", "service.mbj")
        return
    yield _device(node, of)
    if node.kind in BOXED:
        yield from (Line(words, "service.emergency") for words in node.marked)
    if node.bus_a is not None:
        bus = "chain.panel" if node.key == MAIN else node.rating.id if node.rating is not None else ""
        yield Line(f"bus {node.bus_a:g} A", bus)
    yield _fault(node)
    yield Line(_aic(node.aic_a, node.series_aic_a), node.fault.id if node.fault is not None else "")
    if node.bond is not None and not node.bond.right:
        words = "now: bonded, screw comes OUT" if node.bond.bonded else "now: not bonded, screw goes IN"
        yield Line(words, node.bond.entry.id, True)


def _device(node: Node, of: Facts) -> Line:
    """The device at a node, or ahead of its lugs."""
    rating = node.rating
    assert rating is not None, "every node behind the meter has one"
    said = rating.text() if rating.known else "?"
    if node.kind in BOXED:
        return Line(f"{rating.text()}, {node.where or 'place not entered'}", rating.id)
    kind = MAIN_WORDS[node.main]
    if node.key == MAIN:
        return Line(f"{said}, {kind}" if node.has_main else kind, "service.panel_main")
    return Line(f"{said} {'main' if node.above == 'meter' else 'feeder'}, {kind}", rating.id)


def _fault(node: Node) -> Line:
    fault = node.fault
    if fault is None or not fault.known:
        return Line("available fault current ?", fault.id if fault is not None else "")
    return Line(f"fault current {number_text(fault.amount, 0)} A", fault.id)


def _aic(rating_a: float | None, series_a: float | None = None) -> str:
    words = f"AIC {number_text(rating_a)} A" if rating_a else "AIC ?"
    return f"{words}, series {number_text(series_a)} A" if series_a else words


# --- ways ------------------------------------------------------------------------------------------------------------


def _way(run: Run) -> Iterator[Line]:
    """The words on a way: breaker, hots, neutral, EGC, what they lie in, and what was found instead. The utility's conductors are the
    utility's; ours begin at the service head, with a lateral at the meter."""
    if run.by_utility:
        yield Line("utility lateral, by utility")
        return
    if run.start == "utility" and run.raceway is not None and run.raceway.over_roof:
        yield Line("utility drop to the weatherhead, by utility")
    if run.device is not None and run.end == MAIN and run.begins == "breaker":
        yield Line(f"{_text(run.device)} breaker", run.device.id)
    yield from _wires(run)
    if run.raceway is not None and (run.raceway.trade_size or run.raceway.kind):
        kind = RACEWAY_WORDS[run.raceway.kind] if run.raceway.kind else "raceway, kind not entered"
        insulation = f", {run.insulation}" if run.start != "utility" and run.insulation else ""
        yield Line(f"{run.raceway.trade_size or '?'} {kind}{insulation}", run.raceway.size.id)
    elif run.wiring:
        yield Line(run.wiring)
    if run.found_wires is not None and run.found_wires != run.wires:
        yield Line(f"now: {run.found_wires} wires", f"service.bond.{run.end}", True)


def _wires(run: Run) -> Iterator[Line]:
    if not run.conductors:
        return
    hots, neutral, ground = (run.conductor(name) for name in ("A", "N", "G"))
    there = ", as found" if run.change is Change.KEPT else ""
    if hots is not None:
        kind = f" {run.insulation}" if run.insulation and run.raceway is None and run.kind == "service" else ""
        words = "SE conductors " if run.start == "utility" and not run.words.startswith("lateral") else ""
        yield Line(f"{words}2 × {_text(hots.size)}{kind}{there}", hots.size.id)
    if neutral is not None:
        yield Line(f"neutral {_text(neutral.size)}", neutral.size.id)
    if ground is None:
        yield Line("3-wire")
    elif run.wires == 4:
        yield Line(f"EGC {_text(ground.size)}, 4-wire", ground.size.id)


def _text(entry: Entry) -> str:
    return entry.text() if entry.known else "?"


# --- beside a box ----------------------------------------------------------------------------------------------------


def _beside(node: Node, of: Installation) -> Iterator[Line]:
    """Electrodes and bonds at the node, emergency disconnect, surge device, intersystem bonding, generator and solar."""
    facts = of.facts
    own, figures = facts.job.equipment, facts.figures
    for run in of.earth:
        if run.start == node.key:
            size = run.conductors[0].size
            rods = sum(one.end is not None and one.end.key.startswith("rod.") for one in run.conductors)
            count = f"({rods}) ground rods, " if node.building and rods else ""
            there = ", as found" if run.change is Change.KEPT and size.known and node.service else ""
            label = "GEC" if node.building and not node.service else size.label if run.change.made else run.title
            yield Line(f"{count}{label} {_text(size)}{there}", size.id)
    if node.service:
        yield Line(f"MBJ {figures.mbj.text()}, or the listed screw", "service.mbj")
    home = next((one for one in of.nodes.values() if one.service), None)
    if home is not None and home.key == node.key:
        count_of = facts.job.grounding.intersystem
        yield Line(f"intersystem bonding (IBT), {count_of if count_of is not None else '?'} terminals")
    if node.above == "meter" and figures.emergency.value in (Need.PROVIDED, Need.EXTRA):
        yield Line("emergency disconnect", "service.emergency")
    if own.spd and node.key == spd_node(facts, of.nodes):
        yield Line(f"SPD type {own.spd_type}" if own.spd_type else "SPD (type 1 or 2)", "service.spd")
    if node.key == MAIN:
        for words, entry in (("interlock", figures.interlock), ("solar, bus", figures.solar_bus)):
            if entry is not None:
                yield Line(f"{words} {entry.text()}", entry.id)
