"""Lugs, knockouts and bending space: whether the conductors chosen go where they have to land."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import area_cmil
from robust_ledger.findings import Findings
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.service.ampacity import picked
from robust_ledger.service.figures import FeederFigures, ServiceFigures

STAGE = "service"
BENDING = Place("panel:bending_in")
METAL_RACEWAYS = ("emt", "imc", "rmc")


def bending_entry(landing: Entry, codebook: Codebook) -> Entry:
    """Wire-bending space [in] the conductors need at the panel's main terminals [312.6]."""
    work = Working("service.bending", "Wire-bending space at the main terminals", BENDING)
    work.entry_step(landing)
    one, table = picked(landing), codebook.table("bending_space")
    row = table.row("size", one.size) if one else None
    if one is None or row is None:
        return work.entry(Step("space", None, "in"), [codebook.cite("bending")])
    return work.entry(work.take(Step("least", float(row[f"{one.metal}_in"]), "in", cites=(table.cite,))))


def lug_findings(job: Job, figures: ServiceFigures, codebook: Codebook) -> Iterator[Finding]:
    """Conductors outside the range on a label: at the panel's main lugs, at the meter, the neutral at its bar; and a bending space that is
    too short. What was not read from a label is not judged."""
    find = Findings(codebook, STAGE).find
    ranges = (
        ("panel", "line lugs", figures.landing, job.panel.lugs_least, job.panel.lugs_most, Place("panel:lugs_most")),
        ("meter", "meter socket's lugs", figures.conductors, "", job.existing.meter_lugs_most, Place("existing:meter_lugs_most")),
        ("bar", "neutral bar's lug", figures.landing_neutral, "", job.panel.bar_most, Place("panel:bar_most")),
    )  # fmt: skip
    for name, words, entry, least, most, place in (*ranges, *_further(job, figures.feeders)):
        one = picked(entry)
        area = area_cmil(codebook, one.size) if one else None
        if one is None or area is None or (name == "meter" and job.decisions.meter_replaced):
            continue
        low, high = _area(least, codebook), _area(most, codebook)
        label = Conductors.read(most) or Conductors.read(least)
        if label is not None and label.metal == "cu" and one.metal != "cu":
            yield find("service.lugs_metal", at=place, of=name, words=words, one=str(one), label=str(label))
        over = high is not None and area > high
        if over or (low is not None and area < low):
            single = Conductors(one.size, one.metal)
            yield find(
                "service.lugs_size", at=place, of=name, over=over, single=single, words=words, most=most, least=least
            )
    needed, there = figures.bending, job.panel.bending_in
    if there is not None and there > 0 and needed.known and there < needed.amount:
        yield find("service.bending", at=BENDING, there=there, picked=picked(figures.landing), needed=needed)


def _further(job: Job, feeders: Mapping[str, FeederFigures]) -> Iterator[tuple[str, str, Entry, str, str, Place]]:
    """The same of every other panel: its line lugs, and its neutral bar's lug."""
    for panel in job.panels:
        if (feeder := feeders.get(panel.id)) is None:
            continue
        least, most, bar = panel.box.lugs_least, panel.box.lugs_most, panel.box.bar_most
        at = f"{panel.id}.box"
        yield (
            panel.id,
            f"line lugs of the {panel.name}",
            feeder.conductors,
            least,
            most,
            Place.of("panels", f"{at}.lugs_most"),
        )
        yield (
            f"{panel.id}.bar",
            f"neutral bar's lug of the {panel.name}",
            feeder.neutral,
            "",
            bar,
            Place.of("panels", f"{at}.bar_most"),
        )


def knockout_findings(job: Job, jumper: Entry, codebook: Codebook) -> Iterator[Finding]:
    """Metal service raceways at concentric or eccentric knockouts and reducing washers: a bonding bushing or wedge with a jumper."""
    there, find = job.existing, Findings(codebook, "walkthrough").find
    if job.raceway not in METAL_RACEWAYS or not job.scope.said or job.equipment.bonding_bushings:
        return
    size = jumper.text() if jumper.known else "by the table, once the conductors are known"
    if there.knockouts in ("concentric", "washers"):
        seen = "Concentric or eccentric rings are left" if there.knockouts == "concentric" else "Reducing washers are"
        yield find("service.knockouts", at=Place("existing:knockouts"), seen=seen, size=size)
    elif not there.knockouts or job.utility.knockout_bonding:
        asked = bool(there.knockouts)
        yield find("service.knockouts_unseen", at=Place("existing:knockouts"), asked=asked, size=size)


def _area(text: str, codebook: Codebook) -> float | None:
    one = Conductors.read(text)
    return area_cmil(codebook, one.size) if one else None
