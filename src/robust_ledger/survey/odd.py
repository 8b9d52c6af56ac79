"""Figures that cannot be meant: lengths, heights and ratings of zero or less, and what contradicts itself."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import date
from functools import cache

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.fields import Field, fields_of
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.place import Place

MOST_FAULT_A = 200_000
LEAST_AIC_A = 1_000


@cache
def measured_fields() -> tuple[tuple[str, str, Field], ...]:
    """Part, name and field of every measure of the job that is above zero or not known."""
    return tuple(
        (part, name, one)
        for part, whole in fields_of(Job).items()
        if not whole.many and whole.is_part
        for name, one in fields_of(whole.kind).items()
        if one.said.measured
    )


def _date(job: Job, find: Callable[..., Finding]) -> Iterator[Finding]:
    """A job dated before its edition was made, which is the year before the one it is called after."""
    try:
        on = date.fromisoformat(job.heading.date.strip())
    except ValueError:
        return
    if job.edition.isdecimal() and on.year < int(job.edition) - 1:
        yield find("odd.date", at=Place("heading:date"), on=job.heading.date.strip(), edition=job.edition)


def odd_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """Each measure of zero or less; contradictions between what was read."""
    find = Findings(codebook).find
    measures = [
        (part, name, field.said.measured, getattr(getattr(job, part), name)) for part, name, field in measured_fields()
    ]
    for panel in job.panels:
        measures += [
            ("panels", f"{panel.id}.length_ft", f"length of the feeder to the {panel.name}", panel.length_ft),
            ("panels", f"{panel.id}.box.aic_a", f"AIC rating of the {panel.name}", panel.box.aic_a),
        ]
    for part, field, words, value in measures:
        if value is not None and value <= 0:
            yield find(
                "odd.measure", at=Place.of(part, field), key=f"{part}.{field}", words=words.capitalize(), value=value
            )
    run = job.service_run
    if run.length_ft and run.riser_ft and run.riser_ft > run.length_ft:
        yield find("odd.riser_longer", at=Place("service_run:riser_ft"), riser_ft=run.riser_ft, length_ft=run.length_ft)
    ways = [
        ("service_run", "sets", run.sets),
        ("main_feed", "sets", job.main_feed.sets),
        *(("panels", f"{p.id}.sets", p.sets) for p in job.panels),
    ]
    for part, field, sets in ways:
        if sets is not None and not 1 <= sets <= 4:
            yield find("odd.sets", at=Place.of(part, field), of=None if part == "service_run" else field, sets=sets)
    for part, field, words, value in (
        ("panel", "aic_a", "panel's AIC rating", job.panel.aic_a),
        ("panel", "series_aic_a", "series rating", job.panel.series_aic_a),
        ("existing", "disconnect_aic_a", "disconnect's AIC rating", job.existing.disconnect_aic_a),
        *(("panels", f"{p.id}.box.aic_a", f"{p.name}'s AIC rating", p.box.aic_a) for p in job.panels),
    ):
        if value is not None and 0 < value < LEAST_AIC_A:
            yield find(
                "odd.aic",
                at=Place.of(part, field),
                of=f"{part}.{field}",
                small=value < 100,
                words=words.capitalize(),
                value=value,
                least_a=LEAST_AIC_A,
                amps=value * 1000,
            )
    wires = job.existing.wires
    if wires is not None and wires != 3:
        two = wires == 2
        yield find("odd.wires", at=Place("existing:wires"), two=two, wires=wires)
    yield from _date(job, find)
    main_a, label_a = job.old_panel.main_a, job.existing.meter_label_a
    if main_a and label_a and main_a > label_a:
        yield find("odd.old_main", at=Place("old_panel:main_a"), main_a=main_a, label_a=label_a)
    fault_a = job.existing.utility_fault_a
    if fault_a is not None and fault_a > MOST_FAULT_A:
        yield find("odd.fault", at=Place("existing:utility_fault_a"), fault_a=fault_a, MOST_FAULT_A=MOST_FAULT_A)
