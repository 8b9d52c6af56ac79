"""The mast that holds the drop: what it is made of, its size, guy and coupling [230.28]."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Finding, Severity
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place
from robust_ledger.service.raceway import RACEWAY_WORDS, holds

MAST_KINDS = ("rmc", "imc")


def mast_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """A riser that holds the drop: rigid or IMC, of the utility's least size, guyed where it stands high, no coupling above the roof.
    The utility's figures are the job's own set."""
    over, utility, make = job.overhead, job.utility, Findings("overhead", codebook).make
    if not job.scope.new_service:
        return
    if over.mast is None:
        yield make(
            "mast",
            Severity.ASK,
            at=Place("overhead:mast"),
            title="Does the riser hold the drop?",
            text="A mast has to carry the drop's pull; a riser below an attachment at the wall has not.",
            remedy="Enter whether the drop is attached to the mast or to the wall.",
            rules=("mast",),
        )
    if not over.mast:
        return
    kind = job.raceway
    if kind and kind not in MAST_KINDS:
        yield make(
            "mast_kind",
            Severity.FIX,
            at=Place("existing:raceway"),
            title=f"Mast of {RACEWAY_WORDS[kind]}",
            text="It does not carry the pull of the drop.",
            remedy=f"Use a mast of rigid or IMC, {utility.mast_least} in or larger, or attach the drop to the wall.",
            rules=("mast_strength",),
        )
    size = job.existing.trade_size
    if "riser" not in job.scope.renews and size and holds(utility.mast_least, size, codebook) is False:
        yield make(
            "mast_size",
            Severity.FIX,
            at=Place("existing:trade_size"),
            title=f"Mast of {size} in, the utility wants {utility.mast_least} in",
            text="A thinner mast bends under the drop.",
            remedy=f"Put up a mast of {utility.mast_least} in rigid or IMC, or attach the drop to the wall.",
            rules=("mast_strength",),
        )
    high_in = over.mast_above_in
    if high_in is not None and high_in > utility.guy_above_in and not over.mast_guyed:
        asked = over.mast_guyed is None
        yield make(
            "mast_guy",
            Severity.ASK if asked else Severity.FIX,
            at=Place("overhead:mast_guyed"),
            title=f"Mast {high_in:g} in above the roof{': guyed?' if asked else ', not guyed'}",
            text=f"Above {utility.guy_above_in:g} in the utility wants it guyed.",
            remedy="Guy it against the pull of the drop, or shorten it as far as the clearances allow.",
            rules=("mast_strength",),
        )
    if over.mast_coupling:
        yield make(
            "mast_coupling",
            Severity.FIX,
            at=Place("overhead:mast_coupling"),
            title="Coupling in the mast above the roof",
            text="Where the drop pulls above the last strap the mast is one piece.",
            remedy="Use one length from below the roof to the weatherhead.",
            rules=("mast_coupling",),
        )
