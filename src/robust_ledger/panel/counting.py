"""Counting: poles, spaces and circuits are three counts. What the new panel needs, with spares, and the size to buy."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence

from robust_ledger.branch.model import Branch, Origin
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.fields import choices_at
from robust_ledger.job.job import Job
from robust_ledger.job.spaces import parse_old
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working

# Numbers of spaces that panels are commonly made with.
PANEL_SIZES = (8, 12, 16, 20, 24, 30, 32, 40, 42, 54, 60, 84)
SPARE_WORDS = choices_at("decisions.spares")


def counting_entries(job: Job, branches: Sequence[Branch]) -> list[Entry]:
    """Old circuits, poles and spaces, each counted as it is; spaces needed; the panel to buy."""
    live = [circuit for circuit in job.circuits if not circuit.off]
    positions = [p for circuit in live for space in circuit.spaces if (p := parse_old(space))]
    work = Working("count.circuits", "Circuits in the old panel", Place("old_panel:spaces"))
    circuits = work.entry(work.given("breakers that feed something", len(live), "circuits"))
    work = Working("count.poles", "Poles in the old panel", Place("old_panel:spaces"))
    ones = work.given("one-pole", sum(c.poles for c in live if c.poles == 1), "poles")
    twos = work.given("two-pole, two each", sum(c.poles for c in live if c.poles > 1), "poles")
    poles = work.entry(work.total("poles", [ones, twos], "poles"))
    work = Working("count.spaces", "Spaces taken in the old panel", Place("old_panel:spaces"))
    work.given("halves of tandems and quads, two to a space", sum(1 for one in positions if one.half))
    spaces = work.entry(work.given("different spaces with a breaker", len({one.whole for one in positions}), "spaces"))
    needed = _needed(job, branches)
    return [circuits, poles, spaces, needed, _recommended(needed, job)]


def _needed(job: Job, branches: Sequence[Branch]) -> Entry:
    """Full-size spaces: a tandem's halves count one each, futures and spares come on top."""
    work = Working("count.needed", "Spaces needed", Place("decisions:spares"))
    equipment = [b for b in branches if b.key.kind == "equip"]
    now = sum(b.poles for b in branches if not b.off and b.origin is not Origin.FUTURE) - sum(
        b.poles for b in equipment
    )
    later = sum(b.poles for b in branches if not b.off and b.origin is Origin.FUTURE)
    parts = [
        work.given("poles of this job, each a space of its own", now, "spaces"),
        work.given("poles of futures that are reserved", later, "spaces"),
    ]
    parts += [work.given(b.feeds, b.poles, "spaces", b.breaker.place) for b in equipment]
    together = work.total("without spares", parts, "spaces")
    if job.decisions.spares == "four":
        spare = work.given("spares", 4, "spaces", Place("decisions:spares"))
    else:
        fifth = math.ceil(together.amount * 0.2 - 1e-9)
        spare = work.take(
            Step("spares: 20%, rounded up", fifth, "spaces", f"20% of {together.text()}", (), Place("decisions:spares"))
        )
    return work.entry(work.total("with spares", [together, spare], "spaces"))


def _recommended(needed: Entry, job: Job) -> Entry:
    work = Working("count.recommended", "Panel size needed", Place("panel:spaces"))
    least = work.entry_step(needed)
    size = next((size for size in PANEL_SIZES if size >= least.amount), None)
    label = "next size panels are made with" if size else "one panel large enough (take two)"
    result = work.take(Step(label, size, "spaces"))
    work.given("panel of this job", job.panel.spaces, "spaces", Place("panel:spaces"))
    return work.entry(result)


def counting_findings(job: Job, entries: Mapping[str, Entry], codebook: Codebook) -> Iterator[Finding]:
    """A panel that leaves less than the spares required, before it is bought."""
    needed = entries["count.needed"]
    used = needed.steps[0].amount > 0
    if used and job.panel.spaces < needed.amount:
        wanted = entries["count.recommended"].text()
        yield Findings(codebook).find(
            "count.small",
            at=Place("panel:spaces"),
            spaces=job.panel.spaces,
            needed=needed,
            spares=SPARE_WORDS[job.decisions.spares],
            wanted=wanted,
        )
