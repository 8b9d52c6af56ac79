"""Conductors to be cut, color by color: the way, what is left free at the head, in the meter and at the panel, and waste."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.changeover.torque import Parts
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.material.item import Cut

FREE_AT_HEAD_IN = 36.0  # for the drip loop, where the utility has not said more
IN_METER_IN = 24.0  # from the hub to the jaws and back out
AT_PANEL_IN = 36.0  # from the connector to the main terminals


def cuts_of(of: Parts) -> tuple[Cut, ...]:
    """Every conductor of the service, and of feeders that are new, in the order they are pulled."""
    made = [*_service(of), *_feeders(of)]
    return tuple(made)


def colors(job: Job) -> dict[str, str]:
    """What each conductor's color is by the job's convention."""
    own = job.conventions
    return {"A": own.leg_a, "B": own.leg_b, "N": own.neutral.partition(",")[0], "G": "bare or green"}


def _service(of: Parts) -> Iterator[Cut]:
    job, new = of.job, of.job.scope.renews
    run = job.service_run
    hot, neutral = of.service.figures.conductors, of.service.figures.pulled_neutral
    if "riser" in new or "riser_conductors" in new:
        riser = run.riser_ft if run.riser_ft is not None else job.overhead.riser_ft
        free_in = job.overhead.free_in if job.overhead.free_in is not None else FREE_AT_HEAD_IN
        up = ("up the riser", riser, "ft", Place("service_run:riser_ft"))
        free = ("free at the weatherhead", free_in, "in", Place("overhead:free_in"))
        inside = ("in the meter socket", IN_METER_IN, "in", Place(""))
        if job.existing.underground:  # no drip loop at the end of a lateral
            yield from _set(of, "riser", "lateral to meter", hot, neutral, (up, inside))
        else:
            yield from _set(of, "riser", "weatherhead to meter", hot, neutral, (up, free, inside))
    if "load_conductors" in new or job.decisions.meter_replaced:
        whole, riser = run.length_ft, run.riser_ft
        rest = whole - riser if whole is not None and riser is not None else None
        parts = (("from meter to panel", rest, "ft", Place("service_run:length_ft")), ("in the meter socket", IN_METER_IN, "in", Place("")),
                 ("at the panel", AT_PANEL_IN, "in", Place("")))  # fmt: skip
        yield from _set(of, "load", "meter to panel", of.service.figures.landing, neutral, parts)


def _feeders(of: Parts) -> Iterator[Cut]:
    for panel in of.job.panels:
        feeder = of.service.figures.feeders.get(panel.id)
        if panel.found or feeder is None:
            continue
        way = ("from panel to panel", panel.length_ft, "ft", Place(f"panels:{panel.id}.length_ft"))
        parts = (way, ("at this panel", AT_PANEL_IN, "in", Place("")), ("at the other", AT_PANEL_IN, "in", Place("")))
        wires = (feeder.conductors, feeder.neutral, parts, feeder.egc)
        yield from _set(of, f"feeder.{panel.id}", f"feeder of the {panel.name}", *wires)


Parted = tuple[tuple[str, float | None, str, Place], ...]


def _set(
    of: Parts, key: str, where: str, hot: Entry, neutral: Entry, parts: Parted, ground: Entry | None = None
) -> Iterator[Cut]:
    """A set of conductors of one length: two hots, the neutral, and a ground where there is one."""
    color = colors(of.job)
    for name, wire in (("A", hot), ("B", hot), ("N", neutral), ("G", ground)):
        if wire is None:
            continue
        entry = _length(of, f"material.cut.{key}.{name}", f"Cut: {where}, {color[name]}", parts)
        value = wire.value
        words = str(value) if wire.known else "size not known"
        pieces = value.sets if isinstance(value, Conductors) else 1
        one = str(Conductors(value.size, value.metal)) if isinstance(value, Conductors) and value.sets > 1 else words
        yield Cut(one, color[name], entry.amount if entry.known else None, pieces, where, entry)


def _length(of: Parts, entry_id: str, words: str, parts: Parted) -> Entry:
    work = Working(entry_id, words, Place("stock:waste_percent"))
    pieces = []
    for label, amount, unit, place in parts:
        given = work.given(label, amount, unit, place)
        pieces.append(
            work.quotient(f"{label}, in feet", given, Step("inches to a foot", 12, "in"), "ft")
            if unit == "in"
            else given
        )
    together = work.total("together", pieces, "ft")
    waste = work.given("waste", 1 + of.job.stock.waste_percent / 100, "", Place("stock:waste_percent"))
    whole = work.product("with waste", (together, waste), "ft")
    if whole.known:
        whole = work.take(Step("cut to", float(-(-whole.amount // 0.5)) * 0.5, "ft"))
    return work.entry(whole)
