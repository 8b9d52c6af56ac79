"""The usual trees of panels to start from."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import FurtherBox, Panel


class Template(Struct, frozen=True):
    """A tree by name: what it is for, and the job that has it in place of its own."""

    key: str
    name: str
    words: str
    take: Callable[[Job], Job]


def _fresh(job: Job) -> Job:
    """The job with nothing beside the main panel."""
    return replace(with_part(job, "main_feed", fed_from="", fed_by="lugs"), panels=())


def _one(job: Job) -> Job:
    job = with_part(job, "panel", main="breaker", first_disconnect=True)
    return _fresh(with_part(job, "scope", disconnect="as_is"))


def _outside(job: Job) -> Job:
    job = with_part(job, "scope", disconnect="new", disconnect_kind="service")
    job = with_part(job, "existing", disconnect_at="outdoors")
    return _fresh(with_part(job, "panel", main="lugs", first_disconnect=False))


def _meter_main(job: Job) -> Job:
    box = FurtherBox(spaces=8, bus_a=200, main="breaker")
    made = Panel(
        id="meter-main", name="meter-main", fed_from="disconnect", fed_by="same", separate_building=False, box=box
    )
    return replace(_outside(job), panels=(made,))


def _split(job: Job) -> Job:
    job = with_part(job, "scope", service="split", disconnect="as_is")
    job = with_part(job, "panel", main="breaker", first_disconnect=True)
    box = FurtherBox(spaces=40, bus_a=200, main="breaker", first_disconnect=True)
    made = Panel(id="second", name="second panel", fed_from="meter", breaker_a=200, separate_building=False, box=box)
    return replace(_fresh(with_part(job, "main_feed", breaker_a=200.0)), panels=(made,))


def _garage(job: Job) -> Job:
    box = FurtherBox(spaces=12, bus_a=100, main="breaker")
    made = Panel(id="garage", name="garage", breaker_a=60, rods=2, disconnect=True, box=box)
    return replace(job, panels=(made,))


def _behind(job: Job, *nodes: Panel, feeding: str) -> Job:
    """The main panel behind a disconnect of its own, as main lug only; nothing is ahead of it but that."""
    job = with_part(job, "panel", main="lugs", first_disconnect=False)
    job = with_part(job, "scope", disconnect="gone" if job.existing.disconnect_there else "as_is")
    return with_part(replace(_fresh(job), panels=nodes), "main_feed", fed_from=feeding)


def _service_disconnect(node_id: str, name: str, rating_a: float, **more: Any) -> Panel:
    box = FurtherBox(main="breaker", main_a=rating_a, first_disconnect=True)
    own = {"at": "outdoors", **more}
    made = Panel(
        id=node_id, name=name, kind="disconnect", marked="service", fed_from="meter", separate_building=False, box=box
    )
    return made.changed(breaker_a=rating_a, **own)


def _second(feeding: str) -> Panel:
    box = FurtherBox(spaces=40, bus_a=200, main="lugs")
    return Panel(id="second", name="second panel", fed_from=feeding, fed_by="lugs", separate_building=False, box=box)


def _two_mains(job: Job) -> Job:
    first = _service_disconnect("main-1", "main 1", 200.0, in_meter=True)
    other = _service_disconnect("main-2", "main 2", 200.0, in_meter=True)
    job = with_part(job, "scope", service="split")
    return _behind(
        with_part(job, "decisions", main_a=400.0, meter_replaced=True),
        first,
        other,
        _second("main-2"),
        feeding="main-1",
    )


def _each_its_own(job: Job) -> Job:
    first = _service_disconnect("disconnect-1", "disconnect 1", 200.0)
    other = _service_disconnect("disconnect-2", "disconnect 2", 200.0)
    job = with_part(job, "scope", service="split")
    return _behind(
        with_part(job, "decisions", main_a=400.0), first, other, _second("disconnect-2"), feeding="disconnect-1"
    )


def _pole(job: Job) -> Job:
    return _behind(job, _service_disconnect("pole", "pole disconnect", 200.0, at="pole"), feeding="pole")


def _building(job: Job) -> Job:
    rating = FurtherBox(main="breaker", main_a=60.0)
    switch = Panel(
        id="garage-disconnect",
        name="garage disconnect",
        kind="disconnect",
        breaker_a=60,
        rods=2,
        at="outdoors",
        box=rating,
    )
    box = FurtherBox(spaces=12, bus_a=100, main="lugs")
    panel = Panel(
        id="garage", name="garage", fed_from="garage-disconnect", fed_by="lugs", separate_building=False, box=box
    )
    return replace(job, panels=(switch, panel))


def _whole_house(job: Job) -> Job:
    """Transfer equipment between the disconnect outdoors and the main panel."""
    box = FurtherBox(main="breaker")
    switch = Panel(
        id="transfer",
        name="transfer switch",
        kind="transfer",
        fed_from="disconnect",
        fed_by="lugs",
        separate_building=False,
        box=box,
    )
    return with_part(replace(_outside(job), panels=(switch,)), "main_feed", fed_from="transfer")


def _chosen_circuits(job: Job) -> Job:
    """Transfer equipment on a breaker of the main panel, a panel of the chosen circuits behind it."""
    switch = Panel(
        id="transfer",
        name="transfer switch",
        kind="transfer",
        breaker_a=60,
        separate_building=False,
        box=FurtherBox(main="breaker"),
    )
    box = FurtherBox(spaces=12, bus_a=100, main="lugs")
    backed = Panel(id="backup", name="backup", fed_from="transfer", fed_by="lugs", separate_building=False, box=box)
    return replace(job, panels=(switch, backed))


TEMPLATES = (
    Template("one", "One panel", "a panel with its main, straight from the meter", _one),
    Template(
        "outside", "Outside disconnect, panel inside", "a new disconnect outdoors, main lug only (MLO) inside", _outside
    ),
    Template(
        "meter-main",
        "Meter-main, panel inside",
        "a disconnect with breaker spaces of its own, MLO inside",
        _meter_main,
    ),
    Template("split", "Split 320/400 A class, two panels", "two panels of 200 A at the meter", _split),
    Template(
        "two-mains",
        "Meter-main 320/400 A class, two mains",
        "two mains of 200 A in the meter's enclosure, a panel inside each",
        _two_mains,
    ),
    Template(
        "each-its-own",
        "A disconnect for each panel",
        "two service disconnects of 200 A outdoors, a panel behind each",
        _each_its_own,
    ),
    Template(
        "pole",
        "Pole or yard disconnect",
        "the service disconnect on a pole or in the yard, a feeder of four wires to the house",
        _pole,
    ),
    Template("garage", "House and detached garage", "a feeder of 60 A to a panel with its main and two rods", _garage),
    Template(
        "building",
        "Detached building, own disconnect",
        "a feeder of 60 A to a disconnect at the building, MLO behind it",
        _building,
    ),
    Template(
        "whole-house",
        "Transfer switch, whole house",
        "a disconnect outdoors, transfer equipment, MLO behind it",
        _whole_house,
    ),
    Template(
        "chosen",
        "Transfer switch, chosen circuits",
        "transfer equipment on a breaker, a panel of the chosen circuits",
        _chosen_circuits,
    ),
)
