"""The usual trees of panels to start from."""

from __future__ import annotations

from collections.abc import Callable

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


def _one(job: Job) -> Job:
    job = with_part(job, "panel", main="breaker", first_disconnect=True)
    return replace(with_part(job, "scope", disconnect="as_is"), panels=())


def _outside(job: Job) -> Job:
    job = with_part(job, "scope", disconnect="new", disconnect_kind="service")
    job = with_part(job, "existing", disconnect_at="outdoors")
    return replace(with_part(job, "panel", main="lugs", first_disconnect=False), panels=())


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
    return replace(with_part(job, "decisions", split_main_a=200.0), panels=(made,))


def _garage(job: Job) -> Job:
    box = FurtherBox(spaces=12, bus_a=100, main="breaker")
    made = Panel(id="garage", name="garage", breaker_a=60, rods=2, disconnect=True, box=box)
    return replace(job, panels=(made,))


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
    Template("garage", "House and detached garage", "a feeder of 60 A to a panel with its main and two rods", _garage),
)
