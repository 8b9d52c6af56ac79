"""Figures that cannot be meant: lengths, heights and ratings of zero or less, and what contradicts itself."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Finding
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
    find = Findings(codebook).find
    measures = [(part, field, words, getattr(getattr(job, part), field)) for part, field, words in MEASURES]
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
    if run.sets is not None and not 1 <= run.sets <= 4:
        yield find("odd.sets", at=Place("service_run:sets"), sets=run.sets)
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
                LEAST_AIC_A=LEAST_AIC_A,
                amps=value * 1000,
            )
    wires = job.existing.wires
    if wires is not None and wires != 3:
        two = wires == 2
        yield find("odd.wires", at=Place("existing:wires"), two=two, wires=wires)
    main_a, label_a = job.old_panel.main_a, job.existing.meter_label_a
    if main_a and label_a and main_a > label_a:
        yield find("odd.old_main", at=Place("old_panel:main_a"), main_a=main_a, label_a=label_a)
    fault_a = job.existing.utility_fault_a
    if fault_a is not None and fault_a > MOST_FAULT_A:
        yield find("odd.fault", at=Place("existing:utility_fault_a"), fault_a=fault_a, MOST_FAULT_A=MOST_FAULT_A)
