"""Grounding: which electrodes there are and have to be added, the conductor to each, the bonds, and what was found wrong."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import area_cmil
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.fields import choices_at
from robust_ledger.job.job import Job
from robust_ledger.job.parts.grounding import Grounding
from robust_ledger.ledger.entry import Entry, Step
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
PRACTICE_WORDS = choices_at("grounding.practice")


class GroundingFigures(Struct, frozen=True):
    """Rods wanted and to be driven, the conductor to each kind of electrode, the one run through all of them, the bonds of water and gas."""

    rods: Entry
    rods_added: Entry
    conductors: dict[str, Entry]
    water_bond: Entry
    one_run: Entry | None = None
    gas_bond: Entry | None = None

    @property
    def electrode_conductors(self) -> tuple[Entry, ...]:
        """The GECs: the one run first, where there is one."""
        return (*((self.one_run,) if self.one_run is not None else ()), *self.conductors.values())

    def entries(self) -> Iterator[Entry]:
        """Every one of them."""
        yield from (self.rods, self.rods_added, *self.electrode_conductors, self.water_bond)
        if self.gas_bond is not None:
            yield self.gas_bond


def grounding_figures(job: Job, ungrounded: Entry, codebook: Codebook) -> GroundingFigures:
    """Rods needed and to be driven, the conductor to each electrode, and the bonds of water and gas."""
    needed = _rods_needed(job, codebook)
    sizes = {kind: _conductor(kind, job, ungrounded, codebook) for kind in electrodes(job.grounding, needed, codebook)}
    return GroundingFigures(
        rods=needed,
        rods_added=_rods_added(job, needed, codebook),
        conductors=sizes,
        water_bond=_water_bond(ungrounded, codebook),
        one_run=_one_run(sizes, codebook) if job.grounding.one_run and sizes else None,
        gas_bond=_gas_bond(job, codebook) if job.grounding.gas not in ("", "none") else None,
    )


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
    smaller = min(both, key=lambda one: area_of(one, codebook))
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
    largest = max((picked(entry) for entry in sizes.values()), key=lambda one: area_of(one, codebook))
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


def area_of(one: Conductors | None, codebook: Codebook) -> float:
    """Cross-section [cmil]; 0 for none, and for a size the table does not have."""
    return area_cmil(codebook, one.size) or 0 if one else 0
