"""Figures that cannot be meant: lengths, heights and ratings of zero or less, and what contradicts itself."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Finding, Severity
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place

# Part, field and words of every measure that is above zero or not known.
MEASURES = (
    ("service_run", "length_ft", "length of the service conductors"),
    ("service_run", "riser_ft", "length to the meter"),
    ("existing", "utility_fault_a", "the utility's fault current"),
    ("existing", "transformer_kva", "the transformer's rating"),
    ("existing", "transformer_percent_z", "the transformer's impedance"),
    ("old_panel", "main_a", "the old main"),
    ("existing", "meter_label_a", "the meter socket's label"),
    ("existing", "drop_a", "the utility's conductors"),
    ("existing", "disconnect_a", "the disconnect"),
    ("panel", "bus_a", "the panel's bus"),
    ("panel", "aic_a", "the AIC rating"),
    ("fit", "handle_in", "the highest handle"),
    ("fit", "ceiling_in", "the ceiling"),
    ("overhead", "attachment_ft", "the attachment"),
    ("overhead", "loop_ft", "the drip loop"),
    ("overhead", "span_ft", "the span"),
    ("overhead", "riser_ft", "the riser"),
    ("grounding", "rod_ohms", "the rod's resistance"),
)
MOST_FAULT_A = 200_000
LEAST_AIC_A = 1_000


def odd_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """Each measure of zero or less; contradictions between what was read."""
    make = Findings("odd", codebook).make
    measures = [(part, field, words, getattr(getattr(job, part), field)) for part, field, words in MEASURES]
    for panel in job.panels:
        measures += [
            ("panels", f"{panel.id}.length_ft", f"length of the feeder to the {panel.name}", panel.length_ft),
            ("panels", f"{panel.id}.box.aic_a", f"AIC rating of the {panel.name}", panel.box.aic_a),
        ]
    for part, field, words, value in measures:
        if value is not None and value <= 0:
            yield make(
                f"{part}.{field}",
                Severity.FIX,
                at=Place.of(part, field),
                title=f"{words.capitalize()} is {value:g}",
                text="What follows from it is not known; nothing is assumed in its place.",
                remedy="Measure or read it again.",
            )
    run = job.service_run
    if run.length_ft and run.riser_ft and run.riser_ft > run.length_ft:
        yield make(
            "riser_longer",
            Severity.FIX,
            at=Place("service_run:riser_ft"),
            title="The way to the meter is longer than all of it",
            text=f"{run.riser_ft:g} ft to the meter, {run.length_ft:g} ft to the panel.",
            remedy="Measure both again.",
        )
    if run.sets is not None and not 1 <= run.sets <= 4:
        yield make(
            "sets",
            Severity.FIX,
            at=Place("service_run:sets"),
            title=f"{run.sets} conductors in parallel",
            text="One to four are worked out.",
            remedy="Choose one, two, or as many as are planned.",
            rules=("parallel",),
        )
    for part, field, words, value in (
        ("panel", "aic_a", "panel's AIC rating", job.panel.aic_a),
        ("panel", "series_aic_a", "series rating", job.panel.series_aic_a),
        ("existing", "disconnect_aic_a", "disconnect's AIC rating", job.existing.disconnect_aic_a),
        *(("panels", f"{p.id}.box.aic_a", f"{p.name}'s AIC rating", p.box.aic_a) for p in job.panels),
    ):
        if value is not None and 0 < value < LEAST_AIC_A:
            yield make(
                f"aic:{part}.{field}",
                Severity.ASK,
                at=Place.of(part, field),
                title=f"{words.capitalize()} {value:g} A",
                text=f"No device has less than {LEAST_AIC_A:,} A; taken as not read.",
                remedy=f"Read it again: {value:g} kA is {value * 1000:,.0f} A." if value < 100 else "Read it again.",
                rules=("interrupting_rating",),
            )
    wires = job.existing.wires
    if wires is not None and wires != 3:
        two = wires == 2
        yield make(
            "wires",
            Severity.FIX if two else Severity.ASK,
            at=Place("existing:wires"),
            title=f"Service of {wires} wires",
            text="A two-wire service has 120 V only: no 240 V load, and half of what its amperes say here."
            if two
            else "A dwelling's service has two hots and a neutral.",
            remedy="Have the utility bring three wires."
            if two
            else "Count them again at the weatherhead or in the meter socket.",
            rules=("service_rating",),
        )
    main_a, label_a = job.old_panel.main_a, job.existing.meter_label_a
    if main_a and label_a and main_a > label_a:
        yield make(
            "old_main",
            Severity.NOTE,
            at=Place("old_panel:main_a"),
            title=f"Old main {main_a:g} A on a meter socket of {label_a:g} A",
            text="As found, the main protects the socket no more than the utility's fuse does.",
            remedy="Read both labels again.",
            rules=("meter_socket",),
        )
    fault_a = job.existing.utility_fault_a
    if fault_a is not None and fault_a > MOST_FAULT_A:
        yield make(
            "fault",
            Severity.STOP,
            at=Place("existing:utility_fault_a"),
            title=f"Available fault current {fault_a:,.0f} A is above any device",
            text=f"No breaker or fuse is rated above {MOST_FAULT_A:,} A.",
            remedy="Ask the utility again.",
            rules=("interrupting_rating",),
        )
