"""Lugs, knockouts and bending space: whether the conductors chosen go where they have to land."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import area_cmil
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Finding, Severity, Step
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.service.ampacity import picked

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


def lug_findings(
    job: Job, entries: Mapping[str, Entry], landing: Entry, line: Entry, codebook: Codebook
) -> Iterator[Finding]:
    """Conductors outside the range on a label: `landing` at the panel's main lugs, `line` at the meter, the neutral at its bar; and a
    bending space that is too short. What was not read from a label is not judged."""
    make = Findings(STAGE, codebook, STAGE).make
    ranges = (
        ("panel", "line lugs", landing, job.panel.lugs_least, job.panel.lugs_most, Place("panel:lugs_most")),
        ("meter", "meter socket's lugs", line, "", job.existing.meter_lugs_most, Place("existing:meter_lugs_most")),
        ("bar", "neutral bar's lug", entries["service.neutral_pulled"], "", job.panel.bar_most, Place("panel:bar_most")),
    )  # fmt: skip
    for name, words, entry, least, most, place in (*ranges, *_further(job, entries)):
        one = picked(entry)
        area = area_cmil(codebook, one.size) if one else None
        if one is None or area is None or (name == "meter" and job.decisions.meter_replaced):
            continue
        low, high = _area(least, codebook), _area(most, codebook)
        over = high is not None and area > high
        if over or (low is not None and area < low):
            single = Conductors(one.size, one.metal)
            yield make(
                f"lugs:{name}",
                Severity.FIX,
                at=place,
                title=f"{single} does not go into the {words}",
                text=f"The label says {f'up to {most}' if over else f'{least} or larger'}.",
                remedy="Use the lug kit listed for it, a reducing pin listed for the wire, or another size.",
                rules=("lug_range",),
            )
    needed, there = entries["service.bending"], job.panel.bending_in
    if there is not None and there > 0 and needed.known and there < needed.amount:
        yield make(
            "bending",
            Severity.FIX,
            at=BENDING,
            title=f"{there:g} in to bend {picked(landing)}, {needed.text()} needed",
            text="The space between the main terminals and the opposite wall is too short for the wire.",
            remedy="Take a smaller or copper conductor, bring it in from the side with room, or use another enclosure.",
            rules=("bending",),
        )


def _further(job: Job, entries: Mapping[str, Entry]) -> Iterator[tuple[str, str, Entry, str, str, Place]]:
    """The same of every other panel: its line lugs, and its neutral bar's lug."""
    for panel in job.panels:
        hots, neutral = (entries.get(f"feeder.{panel.id}.{name}") for name in ("conductors", "neutral"))
        if hots is None or neutral is None:
            continue
        least, most, bar = panel.box.lugs_least, panel.box.lugs_most, panel.box.bar_most
        at = f"{panel.id}.box"
        yield panel.id, f"line lugs of the {panel.name}", hots, least, most, Place.of("panels", f"{at}.lugs_most")
        yield (
            f"{panel.id}.bar",
            f"neutral bar's lug of the {panel.name}",
            neutral,
            "",
            bar,
            Place.of("panels", f"{at}.bar_most"),
        )


def knockout_findings(job: Job, jumper: Entry, codebook: Codebook) -> Iterator[Finding]:
    """Metal service raceways at concentric or eccentric knockouts and reducing washers: a bonding bushing or wedge with a jumper."""
    there, make = job.existing, Findings(STAGE, codebook, "walkthrough").make
    if job.raceway not in METAL_RACEWAYS or not job.scope.said or job.equipment.bonding_bushings:
        return
    size = jumper.text() if jumper.known else "by the table, once the conductors are known"
    if there.knockouts in ("concentric", "washers"):
        seen = "Concentric or eccentric rings are left" if there.knockouts == "concentric" else "Reducing washers are"
        yield make(
            "knockouts",
            Severity.FIX,
            at=Place("existing:knockouts"),
            title="Service raceway needs bonding bushings",
            text=f"{seen} where it enters: on the line side locknuts alone do not bond it.",
            remedy=f"Bonding bushing or wedge with a bonding jumper of {size} at each such entry.",
            rules=("knockout_bonding", "bonding_jumper"),
        )
    elif not there.knockouts or job.utility.knockout_bonding:
        asked = bool(there.knockouts)
        yield make(
            "knockouts",
            Severity.FIX if asked else Severity.ASK,
            at=Place("existing:knockouts"),
            title="Utility wants bonding bushings" if asked else "Service raceway: knockouts not checked",
            text="Its book requires them at the meter whatever the knockout."
            if asked
            else "Concentric or eccentric rings and reducing washers need bonding bushings on the line side.",
            remedy=f"Bonding bushing with a bonding jumper of {size}."
            if asked
            else "Look at both ends of the raceway: cut to size, rings left, or washers.",
            rules=("knockout_bonding",),
        )


def _area(text: str, codebook: Codebook) -> float | None:
    one = Conductors.read(text)
    return area_cmil(codebook, one.size) if one else None
