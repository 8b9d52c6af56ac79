"""Wire to breaker: the largest breaker that a wire may have, by the rule the plan takes."""

from __future__ import annotations

from random import Random

from robust_ledger.branch.ampacity import WiringConditions, wire_limit
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.codebook.conductors import ratings_a
from robust_ledger.job.fields import choices_at
from robust_ledger.ledger.editions import DEFAULT_EDITION
from robust_ledger.ledger.text import number_text
from robust_ledger.ledger.working import Working
from robust_ledger.practice.drills.model import Question

SIZES = (
    ("14", "cu"),
    ("12", "cu"),
    ("12", "al"),
    ("10", "cu"),
    ("10", "al"),
    ("8", "cu"),
    ("8", "al"),
    ("6", "cu"),
    ("6", "al"),
    ("4", "cu"),
)
WIRINGS = (("nm", "NM cable", 60), ("conduit", "THWN in conduit, terminals marked 75 °C", 75))
METALS = choices_at("grounding.metal")


def question(dice: Random) -> Question:
    """A wire that feeds one machine, whose load is no motor; its breaker is asked for."""
    codebook = load_codebook(DEFAULT_EDITION)
    (size, metal), (cable, words, terminals_c) = dice.choice(SIZES), dice.choice(WIRINGS)
    work = Working.trial()
    limit = wire_limit(work, size, metal, WiringConditions(cable, False, terminals_c), codebook)
    every = [int(rating) for rating in ratings_a(codebook) if rating <= 125]
    at = every.index(int(limit.amount))
    first = max(0, min(at - dice.randrange(0, 4), len(every) - 4))
    why = "; ".join(
        f"{step.label} {number_text(step.amount)} A" for step in work.steps if step.known and step.unit == "A"
    )
    sections = ", ".join(dict.fromkeys(str(cite) for one in work.steps for cite in one.cites))
    ask = f"{size} AWG {METALS[metal]}, {words}, to one machine without a motor. The largest breaker?"
    return Question(ask, tuple(f"{a} A" for a in every[first : first + 4]), f"{limit.amount:g} A", why, sections)
