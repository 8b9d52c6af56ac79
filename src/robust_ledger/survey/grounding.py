"""Grounding: which electrodes there are and have to be added, the conductor to each, the bonds, and what was found wrong."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import area_cmil
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.job import Job
from robust_ledger.job.parts.grounding import Grounding
from robust_ledger.ledger.entry import Entry, Finding, Severity, Step
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.service.ampacity import picked
from robust_ledger.service.bonding import electrode_size, ground_by_rating, table_row

ELECTRODE_WORDS = {
    "rods": "ground rods",
    "plate": "plate",
    "concrete": "concrete-encased electrode",
    "water": "metal water pipe",
    "ring": "ground ring",
}
PRACTICE_WORDS = {
    "two_rods": "two rods always",
    "measured": "one rod where it measures 25 Ω or less",
    "concrete": "no rods beside a concrete-encased electrode",
}


def grounding_entries(job: Job, ungrounded: Entry, codebook: Codebook) -> list[Entry]:
    """Rods needed and to be driven, the conductor to each electrode, and the bonds of water and gas."""
    needed = _rods_needed(job, codebook)
    added = _rods_added(job, needed, codebook)
    made = [needed, added]
    kinds = electrodes(job.grounding, needed, codebook)
    sizes = {kind: _conductor(kind, job, ungrounded, codebook) for kind in kinds}
    if job.grounding.one_run and sizes:
        made.append(_one_run(sizes, codebook))
    made += sizes.values()
    made.append(_water_bond(ungrounded, codebook))
    if job.grounding.gas not in ("", "none"):
        made.append(_gas_bond(job, codebook))
    return made


def electrodes(grounding: Grounding, needed: Entry, codebook: Codebook) -> list[str]:
    """The kinds of electrode that are there or come with this job; all that are present are used together [250.50]."""
    there = {
        "rods": grounding.rods > 0 or (needed.known and needed.amount > 0),
        "plate": grounding.plate,
        "concrete": bool(grounding.concrete),
        "ring": grounding.ring,
        "water": is_electrode(grounding, codebook),
    }
    return [kind for kind, present in there.items() if present]


def is_electrode(grounding: Grounding, codebook: Codebook) -> bool:
    """Whether the water pipe is long enough in earth to be one."""
    return (grounding.water_pipe_ft or 0) >= codebook.number("water_pipe_ft")


def _rods_needed(job: Job, codebook: Codebook) -> Entry:
    """How many rods the job's practice wants."""
    grounding = job.grounding
    work = Working("grounding.rods", "Ground rods required", Place("grounding:practice"))
    cites = [codebook.cite("electrode_rods")]
    work.note("practice of this job", PRACTICE_WORDS[grounding.practice])
    two = codebook.step("rods_without_reading", "rods without a reading")
    if grounding.practice == "concrete" and grounding.concrete:
        work.note("concrete-encased electrode", "there, and the AHJ accepts it alone", cites)
        return work.entry(work.take(Step("rods", 0, "")), cites)
    if grounding.practice == "concrete":
        work.note("concrete-encased electrode", "none that can be reached")
    if grounding.practice == "measured":
        reading = work.given("one rod measured", grounding.rod_ohms, "Ω", Place("grounding:rod_ohms"))
        most = work.take(codebook.step("rod_ohms", "one rod alone, at most"))
        if not reading.known:
            return work.entry(Step("rods", None, ""), cites)
        if reading.amount <= most.amount:
            return work.entry(work.take(Step("low enough: rods", 1, "")), cites)
    return work.entry(work.take(two), cites)


def _rods_added(job: Job, needed: Entry, codebook: Codebook) -> Entry:
    """Rods to drive: those wanted, less those found that are long enough."""
    grounding = job.grounding
    work = Working("grounding.rods_added", "Ground rods to drive", Place("grounding:rods"))
    wanted = work.entry_step(needed)
    least = codebook.step("rod_length_ft", "shortest rod that counts")
    short = grounding.rod_length_ft is not None and grounding.rod_length_ft < least.amount
    if short:
        work.given("length of those found", grounding.rod_length_ft, "ft", Place("grounding:rod_length_ft"))
        work.take(least)
    found = work.given("rods found that count", 0 if short else max(0, grounding.rods), "", Place("grounding:rods"))
    rest = work.difference("to drive", wanted, found, "")
    return work.entry(work.larger("left to drive", [rest, Step("none", 0, "")]))


def _conductor(kind: str, job: Job, ungrounded: Entry, codebook: Codebook) -> Entry:
    """The conductor to one electrode: by the table, less where it goes to a rod, plate or concrete alone."""
    metal = job.grounding.metal
    work = Working(f"grounding.gec.{kind}", f"GEC to the {ELECTRODE_WORDS[kind]}", Place("grounding:metal"))
    cites = [codebook.cite("electrode")]
    row = table_row(work, ungrounded, "electrode", codebook)
    if row is None:
        return work.entry(Step("size", None), cites)
    table = work.take(Step("from the table", electrode_size(row[f"{metal}_size"], metal), cites=(cites[0],)))
    if row[f"{metal}_size"] == "8":
        work.note("8 AWG", "only in raceway or armor; else 6 Cu", [codebook.cite("gec_protection")])
    if kind == "ring":
        work.note("not larger than the ring's own conductor", "ask what it is", [codebook.cite("electrode_ring")])
    if metal == "al":
        work.note(
            "aluminum",
            "not bare in masonry or the earth; not within 18 in of the earth outdoors",
            [codebook.cite("electrode_aluminum")],
        )
    most = None
    if kind in ("rods", "plate"):
        most = codebook.step(f"electrode_rod_most_{metal}", "alone never more than")
    elif kind == "concrete" and metal == "cu":
        most = codebook.step("electrode_concrete_most_cu", "alone never more than")
    if most is None:
        return work.entry(table, cites)
    work.take(most)
    both = [one for one in (table.value, Conductors.read(str(most.value))) if isinstance(one, Conductors)]
    smaller = min(both, key=lambda one: _area(one, codebook))
    return work.entry(work.take(Step("the smaller of both", smaller)), cites)


def _one_run(sizes: dict[str, Entry], codebook: Codebook) -> Entry:
    """One conductor from electrode to electrode: sized for the largest, up to that one."""
    work = Working("grounding.gec.run", "One continuous GEC through all electrodes", Place("grounding:one_run"))
    for entry in sizes.values():
        work.entry_step(entry)
    cites = [codebook.cite("electrode_run")]
    work.note("without a splice, or joined so that it cannot come apart", "first electrode to the last", cites)
    if not all(entry.known for entry in sizes.values()):
        return work.entry(Step("size", None), cites)
    largest = max((picked(entry) for entry in sizes.values()), key=lambda one: _area(one, codebook))
    return work.entry(work.take(Step("the largest of them", largest)), cites)


def _water_bond(ungrounded: Entry, codebook: Codebook) -> Entry:
    """The bond of metal water pipes inside, in copper: by the bonding table, no larger than 3/0 need be."""
    work = Working("grounding.water_bond", "Water piping bond (250.104(A))", Place("grounding:water_bonded"))
    cites = [codebook.cite("water_bond")]
    row = table_row(work, ungrounded, "bonding_jumper", codebook)
    hot = picked(ungrounded)
    if hot is None:
        return work.entry(Step("size", None), cites)
    size = row["cu_size"] if row else "3/0"
    return work.entry(work.take(Step("from the table, at most 3/0", Conductors(size, "cu"), cites=(cites[0],))), cites)


def _gas_bond(job: Job, codebook: Codebook) -> Entry:
    """By the circuit likely to energize it [T250.122]; with corrugated tubing 6 Cu by its maker's instructions, where not known too."""
    work = Working("grounding.gas_bond", "Gas piping bond (250.104(B))", Place("grounding:gas_circuit_a"))
    if job.grounding.csst is not False:
        known = "part of the piping" if job.grounding.csst else "not checked: taken as there"
        work.note("corrugated tubing (CSST)", known, [codebook.cite("csst_bond")])
        least = codebook.step("csst_bond_least", "by its maker's instructions")
        return work.entry(
            work.take(Step(least.label, Conductors.read(str(least.value)), cites=least.cites)), least.cites
        )
    rating_a = job.grounding.gas_circuit_a
    sound = rating_a if rating_a is not None and rating_a > 0 else None
    work.note("by the circuit likely to energize it", "the furnace's or the range's", [codebook.cite("gas_bond")])
    rating = work.given("rating of that circuit", sound, "A", Place("grounding:gas_circuit_a"))
    return ground_by_rating(work, rating, "cu", codebook)


def _area(one: Conductors | None, codebook: Codebook) -> float:
    """Cross-section [cmil]; 0 for none, and for a size the table does not have."""
    return area_cmil(codebook, one.size) or 0 if one else 0


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
    if found is None or not _area(found, codebook):
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
        largest = max(wanted, key=lambda one: _area(picked(one), codebook))
        if found.metal != grounding.metal or _area(found, codebook) < _area(picked(largest), codebook):
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
        one.known and _area(picked(one), codebook) > _area(found, codebook) for one in wanted
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
