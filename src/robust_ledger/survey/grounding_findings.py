"""What was found wrong with the grounding, or not checked, with the section and what to do."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.ledger.place import Place
from robust_ledger.service.ampacity import picked
from robust_ledger.survey.grounding import GroundingFigures, area_of, is_electrode


def grounding_findings(job: Job, figures: GroundingFigures, codebook: Codebook) -> Iterator[Finding]:
    """What was found wrong or not checked, with the section."""
    grounding, find = job.grounding, Findings(codebook).find
    yield from _rod_findings(job, codebook)
    if list(figures.conductors) == ["water"]:
        yield find("grounding.supplement", at=Place("grounding:water_pipe_ft"))
    if grounding.water_pipe_ft and not is_electrode(grounding, codebook):
        yield find(
            "grounding.pipe_short",
            at=Place("grounding:water_pipe_ft"),
            water_pipe_ft=grounding.water_pipe_ft,
            pipe_ft=codebook.number("water_pipe_ft"),
        )
    if is_electrode(grounding, codebook) and grounding.water_jumper is not True:
        known = grounding.water_jumper is False
        yield find("grounding.jumper", at=Place("grounding:water_jumper"), known=known)
    yield from _asked_for(job, codebook)
    if not grounding.gec_new:
        yield from _kept_conductor(job, list(figures.conductors.values()), codebook)
    if grounding.gas == "not_bonded" and figures.gas_bond is not None:
        yield find(
            "grounding.gas",
            at=Place("grounding:gas"),
            known=figures.gas_bond.known,
            gas_bond=figures.gas_bond,
        )
    if grounding.water_bonded is False:
        yield find("grounding.water", at=Place("grounding:water_bonded"), bond_size=_bond_size(figures.water_bond))
    least = codebook.number("intersystem_terminals")
    if grounding.intersystem is None or grounding.intersystem < least:
        known = grounding.intersystem is not None
        yield find("grounding.intersystem", at=Place("grounding:intersystem"), known=known, least=least)


def _bond_size(bond: Entry) -> str:
    return bond.text() if bond.known else "the size of the bonding table"


def _asked_for(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """What a new service has to look for: a concrete-encased electrode [250.50], and what the gas piping is made of."""
    grounding, find = job.grounding, Findings(codebook).find
    if job.scope.new_service and grounding.concrete is None:
        yield find("grounding.concrete", at=Place("grounding:concrete"))
    if grounding.gas in ("bonded", "not_bonded") and grounding.csst is None:
        yield find("grounding.csst", at=Place("grounding:csst"))


def _rod_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    grounding, find = job.grounding, Findings(codebook).find
    if grounding.practice == "measured" and grounding.rod_ohms is None:
        yield find("grounding.ohms", at=Place("grounding:rod_ohms"))
    for name, field, low in (
        ("grounding.rod_length", "rod_length_ft", True),
        ("grounding.rod_spacing", "rod_spacing_ft", True),
        ("grounding.rod_angle", "rod_angle_deg", False),
    ):
        value, limit = getattr(grounding, field), codebook.step(field)
        if value is None or (value >= limit.amount if low else value <= limit.amount):
            continue
        yield find(name, at=Place.of("grounding", field), value=value, unit=limit.unit, limit=limit)


def _kept_conductor(job: Job, wanted: list[Entry], codebook: Codebook) -> Iterator[Finding]:
    """An GEC that stays, against what the new service asks."""
    grounding, find = job.grounding, Findings(codebook).find
    found = Conductors.read(grounding.gec)
    if found is None or not area_of(found, codebook):
        yield find("grounding.gec_unknown", at=Place("grounding:gec"))
    elif all(one.known for one in wanted) and wanted:
        largest = max(wanted, key=lambda one: area_of(picked(one), codebook))
        if found.metal != grounding.metal or area_of(found, codebook) < area_of(picked(largest), codebook):
            yield find(
                "grounding.gec", at=Place("grounding:gec"), gec=grounding.gec, label=largest.label, largest=largest
            )
    enough = found is not None and not any(
        one.known and area_of(picked(one), codebook) > area_of(found, codebook) for one in wanted
    )
    if (
        enough
        and found is not None
        and (found.size, found.metal) == ("8", "cu")
        and grounding.gec_protected is not True
    ):
        known = grounding.gec_protected is False
        yield find("grounding.gec_protected", at=Place("grounding:gec_protected"), known=known)
    if grounding.unspliced is not True:
        known = grounding.unspliced is False
        yield find("grounding.splice", at=Place("grounding:unspliced"), known=known)
