"""The nodes of the planned state, from the service point on, each with what becomes of it, its device, fault current and bond."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.installation.bonds import bond_entry, bond_kind
from robust_ledger.installation.facts import Facts
from robust_ledger.installation.model import Bond, Change, Kind, Node
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN, Panel
from robust_ledger.job.tree import (
    above,
    above_main,
    fed_at,
    fed_below,
    is_service,
    is_service_at,
    lost,
    main_lost,
    on_supply_side,
    panel_name,
    way_up,
)
from robust_ledger.ledger.place import Place
from robust_ledger.service.bonds import three_wires_stay
from robust_ledger.service.emergency import KIND_WORDS, kind_of

KINDS: dict[str, Kind] = {
    "panel": "panel",
    "disconnect": "disconnect",
    "transfer": "transfer equipment",
}


def nodes_of(of: Facts) -> tuple[Node, ...]:
    """Every node, each after the one that feeds it, and the old boxes that are taken out."""
    made = [_service_point(of), _meter(of)]
    if of.job.disconnect_ahead:
        made.append(_disconnect(of))
    below = fed_below(of.job, MAIN)
    up = way_up(of.job, MAIN)
    made += [_further(of, panel) for panel in of.further if panel.id in up]
    made.append(_main_panel(of))
    made += [_further(of, panel) for panel in of.further if panel.id not in below and panel.id not in up]
    made += [_further(of, panel) for panel in of.further if panel.id in below]
    return (*made, *_old_boxes(of), *_standing(of))


def _service_point(of: Facts) -> Node:
    return Node("utility", "service point", "Utility", "service point", Change.KEPT, fault=of.figures.fault_source)


def _meter(of: Facts) -> Node:
    new, label_a = of.job.decisions.meter_replaced, of.job.existing.meter_label_a
    socket = "new socket" if new else f"label {label_a:g} A" if label_a else "label not read"
    change = Change.REPLACED if new else Change.KEPT
    return Node(
        "meter",
        "meter socket",
        "Meter socket (meter base)",
        "meter socket",
        change,
        above="utility",
        fault=of.figures.fault_meter,
        marked=(socket,),
    )


def _disconnect(of: Facts) -> Node:
    """The disconnect ahead: service equipment, or on the supply side of it; with spaces of its own a meter-main."""
    job, box = of.job, of.box
    service = is_service_at(job, "disconnect")
    change = Change.KEPT
    if job.scope.disconnect == "new":
        change = Change.REPLACED if job.existing.disconnect_there else Change.NEW
    return Node(
        "disconnect",
        "meter-main" if box is not None else "disconnect",
        "Disconnect",
        panel_name(job, box.id) if box is not None else "disconnect ahead",
        change,
        above="meter",
        rating=of.figures.ahead,
        fault=of.figures.fault_disconnect,
        bond=_bond(of, "disconnect", "Disconnect", not service, service, service),
        panel_id=box.id if box is not None else "",
        service=service,
        main="breaker",
        bus_a=box.box.bus_a if box is not None and box.box.bus_a > 0 else None,
        aic_a=job.existing.disconnect_aic_a,
        spaces=box.box.spaces if box is not None else 0,
        numbering=box.box.numbering if box is not None else "odd_left",
        torques=box.box.torques if box is not None else (),
        where=job.existing.disconnect_at,
        marked=(KIND_WORDS[kind_of(job)],),
    )


def _main_panel(of: Facts) -> Node:
    job, figures, panel = of.job, of.figures, of.job.panel
    service = is_service_at(job, MAIN)
    return Node(
        MAIN,
        "panel",
        "Panel",
        panel_name(job, MAIN),
        Change.REPLACED,
        above=above_main(job),
        rating=figures.panel_device,
        fault=figures.fault_panel,
        bond=_bond(of, MAIN, "Panel", False, service, panel.first_disconnect),
        panel_id=MAIN,
        service=service,
        main=panel.main,
        bus_a=panel.bus_a,
        aic_a=panel.aic_a,
        series_aic_a=panel.series_aic_a,
        spaces=panel.spaces,
        numbering=panel.numbering,
        torques=panel.torques,
        where="outdoors" if job.location.room == "outdoors" else "",
        lost=main_lost(job),
    )


def _further(of: Facts, panel: Panel) -> Node:
    """A panel beside the main one: with the bond where it is a service disconnect itself, or on an old three-wire feeder that stays."""
    job, box, figures = of.job, panel.box, of.figures.feeders[panel.id]
    title = panel.name[:1].upper() + panel.name[1:] or "Sub-panel"
    service, ahead = is_service(job, panel), on_supply_side(job, panel.id)
    return Node(
        panel.id,
        KINDS[panel.kind],
        title,
        panel_name(job, panel.id),
        Change.KEPT if panel.there else Change.REPLACED if panel.instead_of is not None else Change.NEW,
        above=fed_at(job, panel),
        rating=figures.rating if figures.tap is None else figures.own,
        fault=figures.fault,
        bond=_bond(of, panel.id, title, ahead, service, box.first_disconnect, panel),
        panel_id=panel.id if panel.takes_circuits else "",
        service=service,
        main="breaker" if not panel.takes_circuits or (panel.disconnect and not box.has_main) else box.main,
        bus_a=box.bus_a if box.bus_a > 0 else None,
        aic_a=box.aic_a,
        series_aic_a=box.series_aic_a,
        spaces=box.spaces,
        numbering=box.numbering,
        torques=box.torques,
        where=panel.at,
        building=panel.name if panel.separate_building else "",
        lost=lost(job, panel),
        marked=() if panel.takes_circuits else (_marked(of, panel),),
    )


def _marked(of: Facts, panel: Panel) -> str:
    """What a disconnect or transfer equipment is, in words."""
    if panel.kind == "transfer":
        return "transfer equipment"
    if above(of.job, panel.id) == "meter":
        return KIND_WORDS[panel.marked or "service"]
    return "disconnect of the building" if panel.separate_building else "disconnect"


def _bond(
    of: Facts, key: str, title: str, ahead: bool, service: bool, bonded: bool, panel: Panel | None = None
) -> Bond:
    old_feeder = False if panel is None or service else three_wires_stay(panel)
    kind = bond_kind(ahead, service, old_feeder)
    place = Place("panel:first_disconnect") if panel is None else Place.of("panels", f"{key}.box.first_disconnect")
    return Bond(kind, bonded, bond_entry(key, title, place, kind, old_feeder, of.codebook), old_feeder is True)


def _old_boxes(of: Facts) -> Iterator[Node]:
    """What comes off the wall: a disconnect ahead, the panel that is replaced, and every other box merged into the new ones."""
    job = of.job
    if job.existing.disconnect_there and not job.disconnect_ahead:
        yield Node("old.disconnect", "old box", "Old disconnect", "old disconnect", Change.REMOVED)
    taken = {panel.instead_of for panel in job.panels if panel.kind != "splice_box"}
    stays = {panel.instead_of for panel in job.panels if panel.kind == "splice_box"}
    for mark, box in job.all_boxes:
        if (mark == "" and not _panel_found(job)) or mark in stays:
            continue
        name = next((old.name for old in job.old_boxes if old.mark == mark), "")
        title = f"Old panel {name}".strip() if mark else "Old panel"
        instead = " (its place is taken)" if mark in taken else ""
        yield Node(
            f"old.{mark or 'first'}",
            "old box",
            title + instead,
            title.lower(),
            Change.REMOVED,
            spaces=box.spaces,
        )


def _standing(of: Facts) -> Iterator[Node]:
    """What has no feeder after the job: old cans that stay as splice boxes, and what this job takes out."""
    for panel in of.job.panels:
        title = panel.name[:1].upper() + panel.name[1:]
        if panel.gone:
            yield Node(
                panel.id, "old box", title, panel_name(of.job, panel.id), Change.REMOVED, spaces=panel.box.spaces
            )
        elif panel.kind == "splice_box":
            change = Change.TOUCHED if panel.instead_of is not None or panel.there else Change.NEW
            yield Node(panel.id, "splice box", title or "Splice box", panel.name, change, where=panel.at)


def _panel_found(job: Job) -> bool:
    return bool(job.circuits) or job.old_panel.main_a is not None or job.scope.said
