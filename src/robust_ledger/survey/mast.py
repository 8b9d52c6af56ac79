"""The mast that holds the drop: what it is made of, its size, guy and coupling [230.28]."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.place import Place
from robust_ledger.service.raceway import RACEWAY_WORDS, holds

MAST_KINDS = ("rmc", "imc")


def mast_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """A riser that holds the drop: rigid or IMC, of the utility's least size, guyed where it stands high, no coupling above the roof.
    The utility's figures are the job's own set."""
    over, utility, find = job.overhead, job.utility, Findings(codebook).find
    if not job.scope.new_service:
        return
    if over.mast is None:
        yield find("overhead.mast", at=Place("overhead:mast"))
    if not over.mast:
        return
    kind = job.raceway
    if kind and kind not in MAST_KINDS:
        yield find(
            "overhead.mast_kind",
            at=Place("existing:raceway"),
            raceway=RACEWAY_WORDS[kind],
            mast_least=utility.mast_least,
        )
    size = job.existing.trade_size
    if "riser" not in job.scope.renews and size and holds(utility.mast_least, size, codebook) is False:
        yield find("overhead.mast_size", at=Place("existing:trade_size"), size=size, mast_least=utility.mast_least)
    high_in = over.mast_above_in
    if high_in is not None and high_in > utility.guy_above_in and not over.mast_guyed:
        asked = over.mast_guyed is None
        yield find(
            "overhead.mast_guy",
            at=Place("overhead:mast_guyed"),
            asked=asked,
            high_in=high_in,
            guy_above_in=utility.guy_above_in,
        )
    if over.mast_coupling:
        yield find("overhead.mast_coupling", at=Place("overhead:mast_coupling"))
