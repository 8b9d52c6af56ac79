"""Leg colors, re-marking and aluminum: the job's conventions beside what the code says of them."""

from __future__ import annotations

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Citation


def conventions(job: Job, codebook: Codebook) -> tuple[tuple[str, str, tuple[Citation, ...]], ...]:
    """Each convention: what it is about, its words, and its sections."""
    own = job.conventions
    other = "B" if own.left_leg == "A" else "A"
    color = {"A": own.leg_a, "B": own.leg_b}
    least = codebook.step("remark_least")
    paste = "on every termination" if own.antioxidant == "always" else "where the label requires it"
    return (
        (
            "Legs",
            f"{own.left_leg} ({color[own.left_leg]}) on the left main lug, {other} ({color[other]}) on the right",
            (),
        ),
        ("Neutral", f"{own.neutral}; a dark wire is re-marked as neutral from {least.value} AWG up only", least.cites),
        (
            "Aluminum",
            f"terminals marked for it, wire brushed, antioxidant {paste}, torque by the label",
            (codebook.cite("aluminum"), codebook.cite("torque")),
        ),
    )
