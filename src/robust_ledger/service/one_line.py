"""The one-line drawing as data: what stands where, the figures at it and on the way to it, and the bond. It shows the state that is
right; what differs from it as found or as entered is marked. Painted by the desk and by the papers alike."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN, Panel
from robust_ledger.job.tree import inside_box
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.text import number_text
from robust_ledger.service.bonds import BondPlace, bond_places
from robust_ledger.service.emergency import KIND_WORDS, Need, kind_of
from robust_ledger.service.equipment import MAIN_WORDS
from robust_ledger.service.feeder import INSULATIONS, WIRING_WORDS
from robust_ledger.service.figures import ServiceFigures
from robust_ledger.service.kept_equipment import conductors_stay
from robust_ledger.service.raceway import NO_RACEWAY, RACEWAY_WORDS


class Line(Struct, frozen=True):
    """A line of text in the drawing and the entry behind it, if it is a figure. `differs`: the state as found or as entered, which is
    not the one that is right."""

    text: str
    entry_id: str = ""
    differs: bool = False


class Node(Struct, frozen=True):
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


def one_line(job: Job, figures: ServiceFigures, electrodes: Sequence[Entry]) -> tuple[Node, ...]:
    """The utility, the meter and every disconnect and panel behind it; `electrodes` are the conductors to those of the grounding."""
    nodes = [
        Node("utility", "Utility", (_fault(figures.fault_source),)),
        Node("meter", "Meter socket (meter base)", _meter(job, figures), "utility", _line_side(job, figures)),
    ]
    for place in bond_places(job):
        if (panel := job.panel_of(place.key)) is not None:
            lines, feed, beside = _further(panel, place, figures)
        else:
            lines = _rating(job, place.key, figures)
            feed = _feed(job, place, figures)
            beside = _beside(job, place, figures, electrodes)
        now = () if place.right or place.supply else (_bond_now(place),)
        nodes.append(Node(place.key, place.title, (*lines, *now), place.behind, feed, place.wires, place.bond, beside))
    return tuple(nodes)


def _bond_now(place: BondPlace) -> Line:
    words = "now: bonded, screw comes OUT" if place.bonded else "now: not bonded, screw goes IN"
    return Line(words, f"service.bond.{place.key}", True)


def _meter(job: Job, figures: ServiceFigures) -> tuple[Line, ...]:
    label_a = job.existing.meter_label_a
    socket = "new socket" if job.decisions.meter_replaced else f"label {label_a:g} A" if label_a else "label not read"
    lines = [Line(socket, "chain.meter"), _fault(figures.fault_meter)]
    if job.equipment.bonding_bushings:
        lines.append(Line(f"bonding bushings, bonding jumper {figures.mbj.text()}", "service.mbj"))
    return tuple(lines)


def _hots(job: Job, entry: Entry) -> str:
    kind = "" if conductors_stay(job) else f" {job.service_run.insulation}"
    return f"2 × {entry.text()}{kind}"


def _line_side(job: Job, figures: ServiceFigures) -> tuple[Line, ...]:
    """The utility's conductors are the utility's; ours begin at the service head, with a lateral at the meter."""
    if job.existing.underground:
        return (Line("utility lateral, by utility"),)
    way = [
        Line("utility drop to the weatherhead, by utility"),
        Line(f"SE conductors {_hots(job, figures.conductors)}", figures.conductors.id),
        Line(f"neutral {figures.pulled_neutral.text()}, 3-wire", "service.neutral_pulled"),
    ]
    if job.raceway not in NO_RACEWAY:
        there, new = job.existing.trade_size, "riser" in job.scope.renews
        needed = figures.raceway
        size = needed.text() if new or not there else f"{there} in"
        way.append(Line(f"{size} {RACEWAY_WORDS[job.raceway]}", needed.id))
    elif job.raceway == "cable":
        way.append(Line("SE cable"))
    return tuple(way)


def _feed(job: Job, place: BondPlace, figures: ServiceFigures) -> tuple[Line, ...]:
    """The words on the way to a disconnect or panel: hots, neutral, EGC where four wires go, and what was found instead."""
    made: list[Line] = []
    neutral = Line(f"neutral {figures.pulled_neutral.text()}", "service.neutral_pulled")
    hots = Line(_hots(job, figures.conductors), figures.conductors.id)
    if place.key == MAIN and (entry := figures.split):
        hots = Line(f"2 × {entry.text()} {job.service_run.insulation}", entry.id)
        neutral = Line(f"neutral {entry.text()}", entry.id)
    elif place.key == "panel" and (inside := figures.inside):
        hots = Line(f"2 × {inside.text()}", inside.id)
        if inside_box(job) is not None:
            device = figures.panel_device
            if of_its_own := figures.inside_neutral:
                neutral = Line(f"neutral {of_its_own.text()}", of_its_own.id)
            made.append(Line(f"{device.text() if device.known else '?'} breaker", device.id))
    made += [hots, neutral]
    if place.wires == 4:
        made.append(Line(f"EGC {figures.egc.text()}, 4-wire", "service.egc"))
        if place.found_wires is not None and place.found_wires != 4:
            made.append(Line(f"now: {place.found_wires} wires", f"service.bond.{place.key}", True))
    else:
        made.append(Line("3-wire"))
    return tuple(made)


def _fault(entry: Entry) -> Line:
    words = f"fault current {number_text(entry.amount, 0)} A" if entry.known else "available fault current ?"
    return Line(words, entry.id)


def _aic(rating_a: float | None, series_a: float | None = None) -> str:
    words = f"AIC {number_text(rating_a)} A" if rating_a else "AIC ?"
    return f"{words}, series {number_text(series_a)} A" if series_a else words


def _rating(job: Job, key: str, figures: ServiceFigures) -> tuple[Line, ...]:
    if key == "disconnect":
        ahead, fault = figures.protection, figures.fault_disconnect
        assert fault is not None, "there is one wherever a disconnect stands ahead"
        where = job.existing.disconnect_at or "place not entered"
        kind = Line(KIND_WORDS[kind_of(job)], "service.emergency")
        aic = Line(_aic(job.existing.disconnect_aic_a), fault.id)
        return (Line(f"{ahead.text()}, {where}", ahead.id), kind, _fault(fault), aic)
    kind_words = MAIN_WORDS[job.panel.main]
    own = (figures.panel_device if job.scope.split else figures.main).text()
    rating = Line(f"{own}, {kind_words}" if job.panel.has_main else kind_words, "service.panel_main")
    fault = figures.fault_panel
    aic = Line(_aic(job.panel.aic_a, job.panel.series_aic_a), fault.id)
    return rating, Line(f"bus {job.panel.bus_a:g} A", "chain.panel"), _fault(fault), aic


def _beside(job: Job, place: BondPlace, figures: ServiceFigures, electrodes: Sequence[Entry]) -> tuple[Line, ...]:
    """Electrodes at the bond, emergency disconnect, surge device, intersystem bonding, generator and solar."""
    lines = []
    if place.first:
        for entry in electrodes or [figures.gec]:
            lines.append(Line(f"{entry.label} {entry.text()}", entry.id))
        lines.append(Line(f"MBJ {figures.mbj.text()}, or the listed screw", "service.mbj"))
        count = job.grounding.intersystem
        lines.append(Line(f"intersystem bonding (IBT), {count if count is not None else '?'} terminals"))
    outside = place.key == ("disconnect" if job.disconnect_ahead else "panel")
    if outside and figures.emergency.value in (Need.PROVIDED, Need.EXTRA):
        lines.append(Line("emergency disconnect", "service.emergency"))
    if place.key == ("disconnect" if job.equipment.spd_at == "disconnect" and job.disconnect_ahead else "panel"):
        kind = job.equipment.spd_type
        if job.equipment.spd:
            lines.append(Line(f"SPD type {kind}" if kind else "SPD (type 1 or 2)", "service.spd"))
    if place.key == "panel":
        if interlock := figures.interlock:
            lines.append(Line(f"interlock {interlock.text()}", interlock.id))
        if solar := figures.solar_bus:
            lines.append(Line(f"solar, bus {solar.text()}", solar.id))
    return tuple(lines)


def _further(
    panel: Panel, place: BondPlace, figures: ServiceFigures
) -> tuple[tuple[Line, ...], tuple[Line, ...], tuple[Line, ...]]:
    """A panel beside the main one: its lines, the words on its feeder, and its electrodes."""
    of = figures.feeders[panel.id]
    rating = of.rating.text() if of.rating.known else "?"
    kind = MAIN_WORDS["breaker" if panel.disconnect and not panel.box.has_main else panel.box.main]
    feeder = "main" if place.behind == "meter" else "feeder"
    lines = [Line(f"{rating} {feeder}, {kind}", of.rating.id)]
    if panel.box.bus_a > 0:
        lines.append(Line(f"bus {panel.box.bus_a:g} A", of.rating.id))
    lines += [_fault(of.fault), Line(_aic(panel.box.aic_a), of.fault.id)]
    feed = [
        Line(f"2 × {of.conductors.text()}", of.conductors.id),
        Line(f"neutral {of.neutral.text()}", of.neutral.id),
    ]
    ground = of.egc
    four = place.wires == 4 and ground is not None
    feed.append(Line(f"EGC {ground.text()}, 4-wire", ground.id) if four and ground else Line("3-wire"))
    raceway = of.raceway
    if raceway is not None and raceway.known:
        way = f"{raceway.text()} {RACEWAY_WORDS[panel.raceway]}, {INSULATIONS[panel.wiring]}"
        feed.append(Line(way, raceway.id))
    else:
        feed.append(Line(WIRING_WORDS[panel.wiring]))
    if place.found_wires is not None and place.found_wires != place.wires:
        feed.append(Line(f"now: {place.found_wires} wires", f"service.bond.{panel.id}", True))
    beside = []
    if place.behind == "meter":
        beside.append(Line(f"MBJ {figures.mbj.text()}, or the listed screw", "service.mbj"))
    if electrode := of.gec:
        beside.append(Line(f"({panel.rods}) ground rods, GEC {electrode.text()}", electrode.id))
    return tuple(lines), tuple(feed), tuple(beside)
