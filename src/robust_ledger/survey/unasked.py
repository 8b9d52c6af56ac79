"""What has to be looked at on every panel change, and was not: working space, handle, bonds of water and gas, a roof below the drop."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.fields import choices_at
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.place import Place
from robust_ledger.survey.fit import FitFigures

_SPACE = {"space_width_in": "width", "space_depth_in": "depth", "space_height_in": "height"}


def unasked_findings(job: Job, fit: FitFigures | None, codebook: Codebook) -> Iterator[Finding]:
    """A question for each that nobody has answered, once it is said what becomes of the service."""
    if not job.scope.said:
        return
    find = Findings(codebook).find
    open_ = [words for field, words in _SPACE.items() if getattr(job.fit, field) is None]
    if open_:
        least = " x ".join(codebook.step(field).text() for field in _SPACE)
        yield find("fit.space_unknown", at=Place("fit:space_depth_in"), missing=", ".join(open_), least=least)
    if not _handle_settled(job, fit, codebook):
        yield find("fit.handle_unknown", at=Place("fit:handle_in"), most=codebook.step("handle_most_in"))
    if job.grounding.water_bonded is None:
        yield find("grounding.water_unknown", at=Place("grounding:water_bonded"))
    if not job.grounding.gas:
        yield find("grounding.gas_unknown", at=Place("grounding:gas"))
    roof = job.overhead.roof
    if not job.existing.underground and roof not in ("", "none") and job.overhead.roof_in is None:
        words = choices_at("overhead.roof")[roof].removeprefix("only the ")
        yield find("overhead.roof_unknown", at=Place("overhead:roof_in"), roof=words)


def _handle_settled(job: Job, fit: FitFigures | None, codebook: Codebook) -> bool:
    """Whether the highest handle is known, or the top of the enclosure is low enough already."""
    if fit is None:
        return False
    if fit.handle.known:
        return True
    height, bottom = job.fit.new.height_in, fit.bottom
    most = codebook.number("handle_most_in") + (job.fit.platform_in or 0)
    return height is not None and bottom.known and bottom.amount + height <= most
