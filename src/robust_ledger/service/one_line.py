"""The one-line drawing as data: what stands where, the figures at it and on the way to it, and the bond. Painted by the
desk and by the papers alike."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec import Struct

from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.text import number_text
from robust_ledger.service.bonds import bond_places, split_mains
from robust_ledger.service.equipment import Need
from robust_ledger.service.feeder import WIRING_WORDS


class Line(Struct, frozen=True):
    """A line of text in the drawing and the entry behind it, if it is a figure."""

    text: str
    entry_id: str = ""


class Node(Struct, frozen=True):
    """A box: its lines, what feeds it (`behind`, a key), the words on that way and its wires; the bond ("in", "out" or ""),
    and lines that stand beside it."""

    key: str
    title: str
    lines: tuple[Line, ...]
    behind: str = ""
    feed: tuple[Line, ...] = ()
    wires: int = 3
    bond: str = ""
    beside: tuple[Line, ...] = ()


def one_line(job: Job, ungrounded: Entry, entries: Mapping[str, Entry]) -> tuple[Node, ...]:
    """The utility, the meter and every disconnect and panel behind it."""
    label_a = job.old_panel.meter_label_a
    socket = "new socket" if job.decisions.meter_replaced else f"label {label_a:g} A" if label_a else "label not read"
    source, at_meter = entries["service.fault_source"], entries["service.fault_meter"]
    hots = Line(f"2 × {ungrounded.text()}", ungrounded.id)
    neutral = Line(f"neutral {entries['service.neutral'].text()}", "service.neutral")
    way = f"utility {'lateral' if job.chain.underground else 'drop'}, by utility"
    own = Line(f"SE conductors 2 × {ungrounded.text()}", ungrounded.id)
    nodes = [
        Node("utility", "Utility", (_fault(source),)),
        Node(
            "meter",
            "Meter socket (meter base)",
            (Line(socket, "chain.meter"), _fault(at_meter)),
            "utility",
            (Line(way), own, neutral),
        ),
    ]
    mains = split_mains(job)
    for place in bond_places(job):
        number = int(place.key[6:] or 1) if place.key.startswith("panel") else 0
        if place.key == "sub_panel":
            lines, feed, beside = _sub_panel(job, entries)
        else:
            lines = _rating(job, place.key, mains[number - 1] if number and mains else None, entries)
            feed = (
                (Line(f"2 × {entries[f'service.split.{number}'].text()}", f"service.split.{number}"),)
                if number and mains
                else (hots, neutral)
            )
            if place.wires == 4:
                feed = (*feed, Line(f"EGC {entries['service.egc'].text()}", "service.egc"))
            beside = _beside(job, place.key, place.first, entries)
        bond = "in" if place.bonded else "out"
        nodes.append(Node(place.key, place.title, lines, place.behind, feed, place.wires, bond, beside))
    return tuple(nodes)


def _fault(entry: Entry) -> Line:
    return Line(
        f"fault current {number_text(entry.amount, 0)} A" if entry.known else "available fault current ?", entry.id
    )


def _rating(job: Job, key: str, own_a: float | None, entries: Mapping[str, Entry]) -> tuple[Line, ...]:
    main = entries["service.main"]
    words = f"{own_a:g} A" if own_a is not None else main.text()
    if key == "disconnect":
        where = "indoors" if job.chain.disconnect_inside else "outdoors"
        return (Line(f"{words}, {where}", main.id),)
    kind = "main breaker" if job.panel.main == "breaker" else "main lug only (MLO)"
    rating = Line(f"{words}, {kind}" if job.panel.main == "breaker" else kind, "service.panel_main")
    return rating, Line(f"bus {job.panel.bus_a:g} A", "chain.panel"), _fault(entries["service.fault_panel"])


def _beside(job: Job, key: str, first: bool, entries: Mapping[str, Entry]) -> tuple[Line, ...]:
    """Electrodes at the bond, emergency disconnect, surge device, generator and solar."""
    lines = []
    if first:
        lines.append(Line(f"GEC {entries['service.gec'].text()}", "service.gec"))
        lines.append(Line(f"MBJ {entries['service.mbj'].text()}", "service.mbj"))
        if entries["service.emergency"].value in (Need.PROVIDED, Need.EXTRA):
            lines.append(Line("emergency disconnect", "service.emergency"))
    if key == "panel":
        if job.equipment.spd:
            lines.append(Line("SPD (Type 1 or 2)", "service.spd"))
        if interlock := entries.get("service.interlock"):
            lines.append(Line(f"interlock {interlock.text()}", interlock.id))
        if solar := entries.get("service.solar_bus"):
            lines.append(Line(f"solar, bus {solar.text()}", solar.id))
    return tuple(lines)


def _sub_panel(job: Job, entries: Mapping[str, Entry]) -> tuple[tuple[Line, ...], tuple[Line, ...], tuple[Line, ...]]:
    sub = job.sub_panel
    rating = f"{sub.breaker_a:g} A feeder" if sub.breaker_a is not None else "feeder ?"
    kind = "main breaker at sub" if sub.disconnect else "main lug only (MLO)"
    lines = (Line(f"{rating}, {kind}", "feeder.conductors"), _fault(entries["feeder.fault"]))
    hots, neutral = entries["feeder.conductors"], entries["feeder.neutral"]
    feed = [Line(f"2 × {hots.text()}", hots.id), Line(f"neutral {neutral.text()}", neutral.id)]
    if sub.wires == 4:
        feed.append(Line(f"EGC {entries['feeder.egc'].text()}", "feeder.egc"))
    feed.append(Line(WIRING_WORDS[sub.wiring]))
    electrode = entries.get("feeder.gec")
    beside = (Line(f"({sub.rods}) ground rods, GEC {electrode.text()}", electrode.id),) if electrode else ()
    return lines, tuple(feed), beside
