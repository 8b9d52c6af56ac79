"""What was found wrong with the grounding, or not checked, with the section and what to do."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Finding, Severity
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place
from robust_ledger.service.ampacity import picked
from robust_ledger.survey.grounding import area_of, electrodes, is_electrode


def grounding_findings(job: Job, entries: Mapping[str, Entry], codebook: Codebook) -> Iterator[Finding]:
    """What was found wrong or not checked, with the section."""
    grounding, make = job.grounding, Findings("grounding", codebook).make
    yield from _rod_findings(job, codebook)
    needed = entries["grounding.rods"]
    kinds = electrodes(grounding, needed, codebook)
    if not kinds and needed.known:
        yield make(
            "none",
            Severity.STOP,
            at=Place("grounding:rods"),
            title="No grounding electrode",
            text="No grounding electrode at this service.",
            remedy="Choose a practice that drives rods, or enter what is there.",
            rules=("electrodes_together",),
        )
    if kinds == ["water"]:
        yield make(
            "supplement",
            Severity.FIX,
            at=Place("grounding:water_pipe_ft"),
            title="Water pipe needs a supplemental electrode",
            text="A metal water pipe is always supplemented by another electrode.",
            remedy="Drive two rods 6 ft or more apart beside it, and bond them to the pipe's GEC.",
            rules=("electrode_water",),
        )
    if grounding.water_pipe_ft and not is_electrode(grounding, codebook):
        yield make(
            "pipe_short",
            Severity.NOTE,
            at=Place("grounding:water_pipe_ft"),
            title="Water pipe too short to be an electrode",
            text=f"{grounding.water_pipe_ft:g} ft in the earth; it counts from {codebook.number('water_pipe_ft'):g} ft. It is bonded even so.",
            remedy="Bond it, and use other electrodes.",
            rules=("electrode_water",),
        )
    if is_electrode(grounding, codebook) and grounding.water_jumper is not True:
        known = grounding.water_jumper is False
        yield make(
            "jumper",
            Severity.FIX if known else Severity.ASK,
            at=Place("grounding:water_jumper"),
            title="No bonding jumper around the water meter"
            if known
            else "Bonding jumper around the water meter not checked",
            text="Pulling the water meter would open the electrode.",
            remedy="Put a bonding jumper of the GEC's size around it."
            if known
            else "Look at both sides of the water meter.",
            rules=("electrode_water",),
        )
    yield from _asked_for(job, codebook)
    if not grounding.gec_new:
        yield from _kept_conductor(job, entries, kinds, codebook)
    if grounding.gas == "not_bonded":
        yield make(
            "gas",
            Severity.FIX,
            at=Place("grounding:gas"),
            title="Gas pipe not bonded",
            text="Metal gas piping that may become live is bonded.",
            remedy=f"Bond it with {entries['grounding.gas_bond'].text()}, where it can be reached."
            if entries["grounding.gas_bond"].known
            else "Bond it by the circuit likely to energize it: enter its rating.",
            rules=("gas_bond",),
        )
    if grounding.water_bonded is False:
        yield make(
            "water",
            Severity.FIX,
            at=Place("grounding:water_bonded"),
            title="Water pipes not bonded",
            text="Hot and cold metal pipes inside are bonded.",
            remedy=f"Bond the cold pipe with {_bond_size(entries)}, and the hot one to it across the heater.",
            rules=("water_bond",),
        )
    least = codebook.number("intersystem_terminals")
    if grounding.intersystem is None or grounding.intersystem < least:
        known = grounding.intersystem is not None
        yield make(
            "intersystem",
            Severity.FIX if known else Severity.ASK,
            at=Place("grounding:intersystem"),
            title="Intersystem bonding termination (IBT) too small"
            if known
            else "Intersystem bonding termination (IBT) not checked",
            text=f"Phone, cable and antenna grounds each need a terminal outside, {least:g} at the least.",
            remedy=f"Plan an IBT with {least:g} terminals or more outside, at the meter or the disconnect.",
            rules=("intersystem",),
        )


def _bond_size(entries: Mapping[str, Entry]) -> str:
    bond = entries["grounding.water_bond"]
    return bond.text() if bond.known else "the size of the bonding table"


def _asked_for(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """What a new service has to look for: a concrete-encased electrode [250.50], and what the gas piping is made of."""
    grounding, make = job.grounding, Findings("grounding", codebook).make
    if job.scope.new_service and grounding.concrete is None:
        yield make(
            "concrete",
            Severity.ASK,
            at=Place("grounding:concrete"),
            title="Concrete-encased electrode not checked",
            text="Where the footing's steel or wire can be reached, it is part of the electrode system of a new service.",
            remedy="Look at the foundation for a stub of rebar or bare copper, and ask the AHJ whether an existing slab counts.",
            rules=("electrodes_together",),
        )
    if grounding.gas in ("bonded", "not_bonded") and grounding.csst is None:
        yield make(
            "csst",
            Severity.ASK,
            at=Place("grounding:csst"),
            title="Gas piping: corrugated tubing (CSST) or not?",
            text="With CSST its maker's instructions want a bond of 6 Cu; without, the circuit's own ground may do.",
            remedy="Look at the appliances' connections and the manifold.",
            rules=("csst_bond",),
        )


def _rod_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    grounding, make = job.grounding, Findings("grounding", codebook).make
    if grounding.practice == "measured" and grounding.rod_ohms is None:
        yield make(
            "ohms",
            Severity.ASK,
            at=Place("grounding:rod_ohms"),
            title="One rod, and its resistance not measured",
            text="A single rod stands alone only with a reading.",
            remedy="Measure it, or drive the second rod.",
            rules=("electrode_rods",),
        )
    spacing = codebook.step("rod_spacing_ft")
    for field, low, title, remedy in (
        (
            "rod_length_ft",
            True,
            "Rods in the earth for less than 8 ft",
            "Drive new rods for their full 8 ft; in rock at up to 45°, or lay them in a trench 30 in deep.",
        ),
        (
            "rod_spacing_ft",
            True,
            "Rods closer than 6 ft",
            f"Drive a third rod {spacing.text()} or more from both, and bond it to them.",
        ),
        (
            "rod_angle_deg",
            False,
            "Rod slanted by more than 45°",
            "Drive another one upright, or lay it in a trench 30 in deep.",
        ),
    ):
        value, limit = getattr(grounding, field), codebook.step(field)
        if value is None or (value >= limit.amount if low else value <= limit.amount):
            continue
        yield make(
            field.removeprefix("rod_").partition("_")[0],
            Severity.FIX,
            at=Place.of("grounding", field),
            title=title,
            text=f"Found {value:g} {limit.unit}, the limit is {limit.text()}.",
            remedy=remedy,
            rules=("electrode_rods",),
        )


def _kept_conductor(job: Job, entries: Mapping[str, Entry], kinds: list[str], codebook: Codebook) -> Iterator[Finding]:
    """An GEC that stays, against what the new service asks."""
    grounding, make = job.grounding, Findings("grounding", codebook).make
    wanted = [entries[f"grounding.gec.{kind}"] for kind in kinds]
    found = Conductors.read(grounding.gec)
    if found is None or not area_of(found, codebook):
        yield make(
            "gec_unknown",
            Severity.ASK,
            at=Place("grounding:gec"),
            title="Existing GEC: size not read",
            text="Whether it is large enough is not known.",
            remedy="Read its size, like 6 Cu, or mark it new.",
            rules=("electrode",),
        )
    elif all(one.known for one in wanted) and wanted:
        largest = max(wanted, key=lambda one: area_of(picked(one), codebook))
        if found.metal != grounding.metal or area_of(found, codebook) < area_of(picked(largest), codebook):
            yield make(
                "gec",
                Severity.FIX,
                at=Place("grounding:gec"),
                title=f"GEC {grounding.gec} is too small",
                text=f"{largest.label}: {largest.text()} is needed.",
                remedy=f"Run a new one of {largest.text()} in one piece, and mark it new.",
                rules=("electrode",),
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
        yield make(
            "gec_protected",
            Severity.FIX if known else Severity.ASK,
            at=Place("grounding:gec_protected"),
            title="GEC of 8 Cu runs open" if known else "GEC of 8 Cu: in conduit or open?",
            text="8 AWG is allowed in raceway or armor only; open it has to be 6 AWG.",
            remedy="Run 6 Cu, or put it into conduit." if known else "Follow it to its electrode.",
            rules=("gec_protection",),
        )
    if grounding.unspliced is not True:
        known = grounding.unspliced is False
        yield make(
            "splice",
            Severity.FIX if known else Severity.ASK,
            at=Place("grounding:unspliced"),
            title="GEC is spliced" if known else "GEC: not checked for splices",
            text="The GEC must be unspliced, or spliced by irreversible compression or exothermic weld.",
            remedy="Run a new one, or join it irreversibly." if known else "Follow it to its end.",
            rules=("electrode_run",),
        )
