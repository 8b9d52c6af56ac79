"""Electrode conductor, bonding jumpers and equipment ground, by the tables of Article 250."""

from __future__ import annotations

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import area_cmil, row_by_area, sizes
from robust_ledger.job.conductors import Conductors, size_text
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.working import Working
from robust_ledger.service.ampacity import picked, together_cmil


def electrode_entry(ungrounded: Entry, codebook: Codebook) -> Entry:
    """The grounding GEC in copper, by the ungrounded size; with the caps to rods and concrete as steps."""
    work = Working("service.gec", "GEC")
    row = table_row(work, ungrounded, "electrode", codebook)
    if row is None:
        return work.entry(Step("size", None))
    work.take(codebook.step("electrode_rod_most_cu", "to rods alone never more than"))
    work.take(codebook.step("electrode_concrete_most_cu", "to a concrete-encased electrode alone never more than"))
    work.note("in aluminum", size_text(row["al_size"], "al"), [codebook.cite("electrode")])
    result = work.take(Step("to a water pipe, or where it runs on", electrode_size(row["cu_size"], "cu")))
    cites = [codebook.cite("electrode")]
    if row["cu_size"] == "8":
        cites.append(codebook.cite("gec_protection"))
    return work.entry(result, cites)


def electrode_size(size: str, metal: str) -> Conductors:
    """A GEC as it is run: 8 AWG copper only in raceway or armor, without it 6 AWG [250.64(B)]."""
    if (size, metal) == ("8", "cu"):
        return Conductors.worded("8", "cu", "6 Cu, or 8 Cu in conduit", "6 or 8 Cu")
    return Conductors(size, metal)


def bonding_jumper_entry(ungrounded: Entry, codebook: Codebook) -> Entry:
    """The main and supply-side bonding jumper in copper, by the ungrounded size; above the table's last row 12.5% of
    the ungrounded area."""
    work = Working("service.mbj", "Main bonding jumper")
    cites = [codebook.cite("bonding_jumper"), codebook.cite("main_jumper")]
    row = table_row(work, ungrounded, "bonding_jumper", codebook)
    hot = picked(ungrounded)
    if hot is None:
        return work.entry(Step("size", None))
    if row is None:
        return work.entry(
            _part_of_area(work, together_cmil(hot, codebook) if hot.metal == "cu" else None, codebook), cites
        )
    return work.entry(work.take(Step("from the table", Conductors(row["cu_size"], "cu"), cites=(cites[0],))), cites)


def _part_of_area(work: Working, area: float | None, codebook: Codebook) -> Step:
    """The smallest copper conductor with at least 12.5% of the ungrounded copper area."""
    given = work.given("area of the ungrounded copper conductors", area, "cmil")
    needed = work.product("above the table", [given, work.take(codebook.step("bonding_part"))], "cmil")
    size = None
    if needed.known:
        size = next((one for one in sizes(codebook) if (area_cmil(codebook, one) or 0) >= needed.amount), None)
    return work.take(Step("minimum size of that area", Conductors(size, "cu") if size else None))


def ground_by_rating(work: Working, rating: Step, metal: str, codebook: Codebook) -> Entry:
    """An equipment grounding conductor of a metal by the rating of the overcurrent device ahead [T250.122]."""
    table = codebook.table("equipment_ground")
    row = table.first_covering("rating_max_a", rating.amount) if rating.known else None
    if row is None:
        return work.entry(work.given("row of the table", None) if rating.known else Step("size", None))
    work.note("row of the table", f"up to {row['rating_max_a']} A", [table.cite])
    other = "al" if metal == "cu" else "cu"
    work.note("in aluminum" if other == "al" else "in copper", size_text(row[f"{other}_size"], other), [table.cite])
    return work.entry(work.take(Step("from the table", Conductors(row[f"{metal}_size"], metal), cites=(table.cite,))))


def in_each_set(ground: Entry, hots: Entry | None, codebook: Codebook) -> Entry:
    """The same of conductors in parallel: one of the full size with each set, which laid in a raceway or cable of its own [250.122(F)]."""
    one, own = picked(ground), picked(hots) if hots is not None else None
    if hots is None or one is None or own is None or own.sets == 1:
        return ground
    work = Working(ground.id, ground.label, ground.place)
    work.entry_step(ground, "for one")
    result = work.take(Step("with each set in parallel", Conductors(one.size, one.metal, own.sets)))
    return work.entry(result, [codebook.cite("parallel_ground")])


def table_row(work: Working, ungrounded: Entry, table: str, codebook: Codebook) -> dict[str, str] | None:
    """The row of an electrode or bonding table for ungrounded conductors, those in parallel by their area together; None
    while they are unknown and above the last row."""
    work.entry_step(ungrounded)
    hot = picked(ungrounded)
    area = together_cmil(hot, codebook) if hot else None
    if hot is None or area is None:
        return None
    if hot.sets > 1:
        work.given(f"{hot}: area together", area, "cmil")
    row = row_by_area(codebook, table, area, hot.metal)
    if row:
        edge = row[f"{hot.metal}_max_size"]
        words = f"up to {size_text(edge, hot.metal)}" if edge else "above the last edge"
        work.note("row of the table", words, [codebook.table(table).cite])
    return row
