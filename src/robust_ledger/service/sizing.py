"""Main, service conductors, neutral, electrode conductor and bonding jumper, each with its working."""

from __future__ import annotations

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import (
    METAL_TEXT,
    ampacity_a,
    area_cmil,
    is_standard_rating,
    next_rating_a,
    row_by_size,
    size_text,
    smallest_size,
)
from robust_ledger.job.models import Job
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.working import Working


def main_entry(job: Job, load: Entry, codebook: Codebook) -> Entry:
    """The main [A]: the user's choice if there is one, else the smallest standard rating at or above the load,
    never under the dwelling minimum [230.79(C), 240.6(A)]."""
    work = Working("service.main", "Main", "decisions:main_a")
    amps = work.entry_step(load)
    least = work.take(codebook.step("dwelling_main_min_a", "dwelling minimum"))
    ratings = codebook.cite("standard_ratings")
    needed = work.larger("at least", [amps, least], [codebook.cite("service_rating")])
    rating = next_rating_a(codebook, needed.amount) if needed.known else None
    result = work.take(Step("next standard rating", rating, "A", cites=(ratings,)))
    chosen = job.decisions.main_a
    if chosen is not None:
        known = chosen if is_standard_rating(codebook, chosen) else None
        result = work.take(Step("chosen for this job", known, "A", place="decisions:main_a", cites=(ratings,)))
    return work.entry(result, [codebook.cite("service_rating"), ratings])


def service_conductor_entry(job: Job, main: Entry, metal: str, rule: str, codebook: Codebook) -> Entry:
    """Ungrounded service conductors for one metal. `rule` «dwelling» takes 83 % of the rating where the dwelling rule
    is open (100 to 400 A, all of the dwelling's load), «full» the whole rating. Unknown when the main is."""
    name = f"service.conductors.{metal}.{rule}"
    work = Working(name, f"Service conductors, {METAL_TEXT[metal]}")
    rating = work.entry_step(main)
    if not rating.known:
        return work.entry(Step("size", None))
    low, high = codebook.step("dwelling_rule_min_a"), codebook.step("dwelling_rule_max_a")
    open_here = low.amount <= rating.amount <= high.amount
    column, why = terminal_column(job, rating.amount, codebook)
    if rule == "dwelling" and open_here:
        work.note("carries all of the dwelling's load", "yes", [codebook.cite("dwelling_conductors")])
        needed = work.product(
            "ampacity needed", [rating, work.take(codebook.step("dwelling_factor", "dwelling rule"))], "A"
        )
    else:
        words = (
            "whole rating, by choice"
            if open_here
            else f"whole rating: the dwelling rule holds {low.amount:g} to {high.amount:g} A"
        )
        work.note("dwelling rule", words, [codebook.cite("dwelling_conductors")])
        needed = rating
    work.note("terminals", why, [codebook.cite("terminal_temperature")])
    size = smallest_size(codebook, needed.amount, metal, column)
    if size is None:
        return work.entry(work.given("one conductor from the table that is large enough", None))
    result = _ampacity_step(work, size, metal, column, codebook)
    return work.entry(result, [codebook.cite("dwelling_conductors"), codebook.cite("ampacity")])


def terminal_column(job: Job, rating_a: float, codebook: Codebook) -> tuple[int, str]:
    """The temperature column [°C] the terminals allow, and why [110.14(C)]."""
    limit = codebook.number("terminal_60_max_a")
    if rating_a > limit:
        return 75, f"over {limit:g} A: 75 °C column"
    if job.panel.terminals_c == 75:
        return 75, "marked for 75 °C on the panel's label"
    return 60, f"up to {limit:g} A and not marked: 60 °C column"


def _ampacity_step(work: Working, size: str, metal: str, column: int, codebook: Codebook) -> Step:
    table = codebook.table("ampacity").cite
    work.take(
        Step(f"{size_text(size, metal)} at {column} °C", ampacity_a(codebook, size, metal, column), "A", cites=(table,))
    )
    return work.take(Step("smallest size that holds", size_text(size, metal)))


def bare_size(entry: Entry) -> tuple[str, str] | None:
    """The size and metal an entry's value names («4/0 Al» → 4/0, al), None while unknown."""
    if not isinstance(entry.value, str):
        return None
    words = entry.value.split()
    return words[0], words[-1].lower()


def neutral_conductor_entry(job: Job, ungrounded: Entry, neutral: Entry, codebook: Codebook) -> Entry:
    """The grounded service conductor: large enough for the neutral load, not below the least of the bonding table,
    and no larger than the ungrounded ones need be [220.61, 250.24(C)(1)]."""
    work = Working("service.neutral", "Neutral conductor")
    picked = bare_size(ungrounded)
    amps = work.entry_step(neutral)
    if picked is None or not amps.known:
        work.entry_step(ungrounded)
        return work.entry(Step("size", None))
    size, metal = picked
    column, why = terminal_column(job, _rating_of(ungrounded), codebook)
    work.note("terminals", why, [codebook.cite("terminal_temperature")])
    by_load = smallest_size(codebook, amps.amount, metal, column)
    if by_load is None:
        return work.entry(work.given("one conductor from the table that carries the neutral load", None))
    work.take(
        Step(
            f"for the load: {size_text(by_load, metal)}",
            ampacity_a(codebook, by_load, metal, column),
            "A",
            cites=(codebook.cite("ampacity"),),
        )
    )
    row = row_by_size(codebook, "bonding_jumper", size, metal)
    least = row[f"{metal}_size"] if row else size
    work.take(
        Step(
            f"least beside {size_text(size, metal)}",
            size_text(least, metal),
            cites=(codebook.cite("neutral_minimum"), codebook.cite("bonding_jumper")),
        )
    )
    larger = max(by_load, least, key=lambda s: area_cmil(codebook, s) or 0)
    if (area_cmil(codebook, larger) or 0) > (area_cmil(codebook, size) or 0):
        larger = size
        work.note("no larger than the ungrounded conductors", size_text(size, metal))
    result = work.take(Step("the larger of both", size_text(larger, metal)))
    return work.entry(result, [codebook.cite("neutral"), codebook.cite("neutral_minimum")])


def electrode_entry(ungrounded: Entry, codebook: Codebook) -> Entry:
    """The grounding electrode conductor in copper, by the ungrounded size; with the caps to rods and concrete as steps."""
    work = Working("service.electrode", "Electrode conductor")
    row = _table_row(work, ungrounded, "electrode", codebook)
    if row is None:
        return work.entry(Step("size", None))
    work.take(codebook.step("electrode_rod_most", "to rods alone never more than"))
    work.take(codebook.step("electrode_concrete_most", "to a concrete-encased electrode alone never more than"))
    work.note("in aluminium", size_text(row["al_size"], "al"), [codebook.cite("electrode")])
    result = work.take(Step("to a water pipe, or where it runs on", size_text(row["cu_size"], "cu")))
    return work.entry(result, [codebook.cite("electrode")])


def bonding_jumper_entry(ungrounded: Entry, codebook: Codebook) -> Entry:
    """The main and supply-side bonding jumper in copper, by the ungrounded size."""
    work = Working("service.bonding_jumper", "Main bonding jumper")
    row = _table_row(work, ungrounded, "bonding_jumper", codebook)
    if row is None:
        return work.entry(Step("size", None))
    result = work.take(
        Step("from the table", size_text(row["cu_size"], "cu"), cites=(codebook.cite("bonding_jumper"),))
    )
    return work.entry(result, [codebook.cite("bonding_jumper")])


def equipment_ground_entry(main: Entry, codebook: Codebook) -> Entry:
    """The equipment grounding conductor, in copper, of a feeder behind a disconnect of the main's rating [T250.122]."""
    work = Working("service.equipment_ground", "Equipment ground of the feeder")
    rating = work.entry_step(main)
    table = codebook.table("equipment_ground")
    row = table.first_covering("rating_max_a", rating.amount) if rating.known else None
    if row is None:
        return work.entry(work.given("row of the table", None) if rating.known else Step("size", None))
    work.note("row of the table", f"up to {row['rating_max_a']} A", [table.cite])
    work.note("in aluminium", size_text(row["al_size"], "al"), [table.cite])
    return work.entry(work.take(Step("from the table", size_text(row["cu_size"], "cu"), cites=(table.cite,))))


def _table_row(work: Working, ungrounded: Entry, table: str, codebook: Codebook) -> dict[str, str] | None:
    work.entry_step(ungrounded)
    picked = bare_size(ungrounded)
    if picked is None:
        return None
    size, metal = picked
    row = row_by_size(codebook, table, size, metal)
    if row:
        edge = row[f"{metal}_max_size"]
        words = f"up to {size_text(edge, metal)}" if edge else "above the last edge"
        work.note("row of the table", words, [codebook.table(table).cite])
    return row


def _rating_of(ungrounded: Entry) -> float:
    """The main's rating [A], the first step of its conductors' working."""
    return ungrounded.steps[0].amount
