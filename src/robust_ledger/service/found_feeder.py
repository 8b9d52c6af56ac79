"""Neutral, EGC and GEC of a feeder and a building that stay: as read against what is needed there, a question while nobody has read them."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import ampacity_a, area_cmil
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.job.tree import by_service
from robust_ledger.job.tree import place_of as at
from robust_ledger.ledger.entry import Finding, Step
from robust_ledger.ledger.text import upper_first
from robust_ledger.ledger.working import Working
from robust_ledger.service.ampacity import picked
from robust_ledger.service.bonding import ground_by_rating, table_row
from robust_ledger.service.figures import FeederFigures

SMALL = {
    "found_neutral": "feeder.neutral_small", "found_ground": "feeder.ground_small", "found_gec": "feeder.gec_small",
}  # fmt: skip
WORDS = {"found_neutral": "neutral", "found_ground": "EGC", "found_gec": "GEC"}


def due(job: Job, panel: Panel) -> tuple[str, ...]:
    """The fields of what stays with a node: of a feeder with four wires neutral and EGC, of one with three the neutral, of a building its GEC."""
    neutral = ("found_neutral",) if panel.found else ()
    ground = ("found_ground",) if panel.found and panel.wires == 4 and not by_service(job, panel.id) else ()
    gec = panel.separate_building and panel.rods > 0 and (panel.there or panel.found)
    return (*neutral, *ground, *(("found_gec",) if gec else ()))


def found_findings(
    job: Job, panel: Panel, made: FeederFigures, find: Callable[..., Finding], codebook: Codebook
) -> Iterator[Finding]:
    """Each that is smaller than what is needed; one question for those not read, once the hots are: until then those are asked for."""
    unread = []
    for field in due(job, panel):
        needed = _needed(field, panel, made, codebook)
        one = Conductors.read(getattr(panel, field))
        if one is None:
            unread.append(field)
        elif needed is not None and _is_smaller(field, one, needed, codebook):
            yield find(SMALL[field], at=at(panel, field), panel=panel.name, found=str(one), needed=str(needed))
    if unread and (made.limit is not None or not panel.found):
        yield find(
            "feeder.found_unread",
            at=at(panel, unread[0]),
            panel=upper_first(panel.name),
            what=" and ".join(WORDS[one] for one in unread),
        )


def _needed(field: str, panel: Panel, made: FeederFigures, codebook: Codebook) -> Conductors | None:
    """What is needed there, in the metal that was found where the table has both; None while it is not known."""
    read = Conductors.read(getattr(panel, field))
    if field == "found_neutral" or read is None:
        return picked(made.neutral)
    if field == "found_ground":
        return _ground(read, made, codebook)
    if made.gec is None or read.metal == "cu":
        return picked(made.gec) if made.gec is not None else None
    row = table_row(Working.trial(), made.conductors, "electrode", codebook)
    most = Conductors.read(str(codebook.step("electrode_rod_most_al").value))
    if row is None or most is None:
        return None
    return Conductors(min(row["al_size"], most.size, key=lambda size: area_cmil(codebook, size) or 0), "al")


def _ground(read: Conductors, made: FeederFigures, codebook: Codebook) -> Conductors | None:
    """The EGC by the device ahead, never larger than the hots [250.122(A)]."""
    if not made.rating.known:
        return None
    least = picked(ground_by_rating(Working.trial(), Step("device", made.rating.amount, "A"), read.metal, codebook))
    hots = picked(made.conductors)
    if least is None or hots is None or hots.metal != read.metal:
        return least
    return min(least, hots, key=lambda one: area_cmil(codebook, one.size) or 0)


def _is_smaller(field: str, one: Conductors, needed: Conductors, codebook: Codebook) -> bool:
    """By the cross-section in one metal; a neutral of another metal by what it carries."""
    if one.metal != needed.metal and field == "found_neutral":
        return (ampacity_a(codebook, one.size, one.metal, 75) or 0) < (
            ampacity_a(codebook, needed.size, needed.metal, 75) or 0
        )
    return (area_cmil(codebook, one.size) or 0) * one.sets < (area_cmil(codebook, needed.size) or 0) * needed.sets
