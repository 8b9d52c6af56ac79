"""Breakers that feed the panel or belong to it, and no load of the house: generator, solar inverter, surge device, sub-panel feeder."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from msgspec.structs import replace

from robust_ledger.branch.model import Branch, Origin
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import next_rating_a
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.tree import (
    FEEDER,
    back_fed_key,
    fed_nodes,
    feeder_tag,
    is_enclosure,
    panel_ids,
    panel_name,
    parent,
    place_of,
    record_of,
    takes_spaces,
)
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working


def equipment_branches(job: Job, main: Entry, codebook: Codebook) -> Iterator[Branch]:
    """Their 2-pole breakers as circuits of the new panel. A generator's sits beside the main, where the interlock works, an
    inverter's at the far end of the bus, where the job says so. A feeder that was called out already is not made twice. `main`: the
    service's, for a back-fed main of the main panel."""
    own = job.equipment
    yield from _back_fed(job, main, codebook)
    if own.generator_a is not None:
        yield _made(
            job,
            "generator",
            "generator inlet, interlocked",
            _rating(own.generator_a),
            Place("equipment:generator_a"),
            "near",
        )
    if own.inverter_a is not None:
        counted = own.inverter_a * codebook.number("solar_factor")
        rating = next_rating_a(codebook, counted) if own.inverter_a > 0 else None
        yield _made(
            job,
            "inverter",
            "solar inverter",
            rating,
            Place("equipment:inverter_a"),
            "far" if own.inverter_opposite is not False else "",
        )
    if own.spd and own.spd_at == "panel":
        yield _made(job, "spd", "SPD", _rating(own.spd_a), Place("equipment:spd"), "")
    for panel in fed_nodes(job):
        if takes_spaces(job, panel) and feeder_tag(job, panel) is None:
            place = place_of(panel, "breaker_a")
            name = f"feeder of the {panel_name(job, panel.id)}"
            yield _made(job, f"{FEEDER}{panel.id}", name, _rating(panel.breaker_a), place, "")


def _back_fed(job: Job, main: Entry, codebook: Codebook) -> Iterator[Branch]:
    """Mains that sit in spaces of their own bus, at the end where the line conductors land. A panel at the meter
    has one of its own rating, any other one that was read."""
    for panel_id in panel_ids(job):
        if record_of(job, panel_id).main != "back_fed":
            continue
        panel = job.panel_of(panel_id)
        if panel is not None:
            place = Place.of("panels", f"{panel_id}.box.main")
            rating_a = _rating(panel.breaker_a if parent(job, panel) == "meter" else panel.box.main_a)
            if is_enclosure(job, panel):
                rating_a = job.existing.disconnect_a if job.kept_disconnect else main.amount if main.known else None
        elif job.scope.split:
            place, rating_a = Place("panel:main"), _rating(job.main_feed.breaker_a)
        else:
            place, rating_a = Place("panel:main"), main.amount if main.known else None
        made = _made(job, back_fed_key(panel_id).name, "back-fed main", rating_a, place, "near")
        work = Working(made.breaker.id, made.breaker.label, place)
        work.note("back-fed", "breaker hold-down kit", [codebook.cite("backfed")])
        yield replace(made, breaker=work.entry(work.given("main", rating_a, "A", place)))


def _rating(amperes: float | None) -> float | None:
    return amperes if amperes is not None and amperes > 0 else None


def _made(
    job: Job, name: str, feeds: str, rating_a: float | None, place: Place, end: Literal["", "near", "far"]
) -> Branch:
    key = CircuitKey.of_equipment(name)
    work = Working(f"branch.breaker.{key}", f"{feeds}: breaker", place)
    breaker = work.entry(work.given("breaker", rating_a, "A", place))
    work = Working(f"branch.wire.{key}", f"{feeds}: wire", place)
    wire = work.entry(work.note("as its own instructions or the service sheet say", "per instructions"))
    work = Working(f"branch.expected.{key}", f"{feeds}: expected", place)
    expected = work.entry(work.take(Step("no load of the house", 0.0, "VA")))
    return Branch(
        key=key,
        tag="new",
        feeds=feeds,
        room="",
        poles=2,
        breaker=breaker,
        wire=wire,
        expected=expected,
        origin=Origin.NEW,
        origin_words="equipment of the service",
        new_cable=True,
        work="new",
        end=end,
    )


def end_spaces(branch: Branch, spaces: int, main_at: str) -> tuple[int, ...] | None:
    """The spaces where the first pole of a breaker that belongs beside the main, or at the far end, may sit; None: anywhere."""
    if not branch.end:
        return None
    rows = (spaces + 1) // 2
    at_top = (branch.end == "near") == (main_at != "bottom")
    first = 1 if at_top else 2 * (rows - 2) + 1
    return tuple(space for space in (first, first + 1) if space + 2 <= spaces)
