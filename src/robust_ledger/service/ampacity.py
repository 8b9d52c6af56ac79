"""What a conductor carries where it lies: terminals, air, bundling, sun on a roof; one conductor or several in parallel."""

from __future__ import annotations

from msgspec.structs import replace

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import ampacity_a, area_cmil, next_rating_a, sizes
from robust_ledger.job.conductors import Conductors, size_text
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.job.readers.numbers import temperature_text
from robust_ledger.job.tree import panel_name
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working

INSULATION_C = 90  # THWN-2 and XHHW-2: corrections start from their own column


def picked(entry: Entry) -> Conductors | None:
    """The conductors an entry came to; None while unknown."""
    return entry.value if isinstance(entry.value, Conductors) else None


def together_cmil(one: Conductors, codebook: Codebook) -> float | None:
    """Cross-section of all in parallel together [cmil]."""
    area = area_cmil(codebook, one.size)
    return area * one.sets if area is not None else None


def terminal_column(job: Job, rating_a: float, codebook: Codebook, ends: tuple[str, ...] = (MAIN,)) -> tuple[int, str]:
    """The temperature column [°C] the terminals allow, and why: the weaker of both ends counts. `ends`: the keys of the nodes the conductors
    land at [110.14(C)]."""
    limit = codebook.number("terminal_60_max_a")
    if rating_a > limit:
        return 75, f"over {limit:g} A: 75 °C column"
    marks = {key: terminals_at(job, key) for key in ends}
    weak = next((key for key, mark in marks.items() if mark != 75), None)
    if weak is None:
        return 75, "marked for 75 °C on the panel's label" if len(
            marks
        ) == 1 else "marked for 75 °C on the labels at both ends"
    marked = "not marked" if marks[weak] == 60 else "terminals not checked"
    where = "" if len(marks) == 1 else f" at the {panel_name(job, weak)}"
    return 60, f"up to {limit:g} A and {marked}{where}: 60 °C column"


def terminals_at(job: Job, key: str) -> int | None:
    """What the terminals at a node are marked for [°C]; None while nobody has looked. A meter and a disconnect ahead are looked at with the
    main panel."""
    panel = job.panel_of(key)
    return job.panel.terminals_c if panel is None else panel.box.terminals_c


def marked(job: Job) -> Job:
    """The job with every terminal that nobody has looked at marked for 75 °C: what would be so at best."""
    panels = tuple(
        replace(one, box=replace(one.box, terminals_c=75)) if one.box.terminals_c is None else one for one in job.panels
    )
    main = replace(job.panel, terminals_c=75) if job.panel.terminals_c is None else job.panel
    return replace(job, panel=main, panels=panels)


def conditions(work: Working, job: Job, codebook: Codebook) -> Step | None:
    """The factor for air, roof and bundling on the 90 °C ampacity, written down; None when nothing is to be corrected,
    an unknown step when it is past the tables [310.15]."""
    run, factors = job.service_run, []
    air = run.ambient_c
    roof_adds = run.rooftop and run.insulation != "XHHW-2"
    if air is not None or roof_adds:
        celsius = 30.0 if air is None else air
        label = f"air around the conductors ({temperature_text(celsius)} °F)"
        given = work.given(label, celsius, "°C", Place("service_run:ambient_c"))
        if roof_adds:
            given = work.total("in the sun above a roof", [given, codebook.step("rooftop_add_c")], "°C")
        table = codebook.table("ambient")
        row = table.first_covering("up_to_c", given.amount) if -60 <= given.amount <= INSULATION_C else None
        cell = row[f"factor_{INSULATION_C}c"] if row else ""
        label = f"factor for the air, {INSULATION_C} °C column"
        factors.append(work.take(Step(label, float(cell) if cell else None, "", cites=(table.cite,))))
    if run.rooftop and not roof_adds:
        work.note("in the sun above a roof", "XHHW-2: nothing added", [codebook.cite("rooftop")])
    if run.current_carrying != 2:
        count = run.current_carrying
        table = codebook.table("bundling")
        row = table.first_covering("up_to_conductors", count) if count >= 2 else None
        work.note("neutral that carries only unbalance", "not counted", [codebook.cite("neutral_not_counted")])
        value = float(row["factor"]) if row else None
        factors.append(
            work.take(Step(f"factor for {count} current-carrying conductors", value, "", cites=(table.cite,)))
        )
    if not factors:
        return None
    return work.product("factor on the ampacity", factors, "") if len(factors) > 1 else factors[0]


def allowed_a(codebook: Codebook, size: str, metal: str, column: int, factor: Step | None) -> float | None:
    """Ampacity [A] of one conductor: its insulation's own, corrected, never above the terminals' column."""
    at_terminals = ampacity_a(codebook, size, metal, column)
    if factor is None or at_terminals is None:
        return at_terminals
    own = ampacity_a(codebook, size, metal, INSULATION_C)
    if own is None or not factor.known:
        return None
    return min(at_terminals, own * factor.amount)


def pick(
    codebook: Codebook,
    needed_a: float,
    metal: str,
    column: int,
    factor: Step | None,
    sets: int | None,
    rating_a: float = 0.0,
) -> Conductors | None:
    """The smallest conductors that carry `needed_a`, and whose ampacity has a next standard rating of `rating_a` or more [240.4(B)]: as
    many in parallel as told, else one, else two. In parallel none is smaller than 1/0 [310.10]. None when the table has none."""
    least = area_cmil(codebook, str(codebook.step("parallel_least").value)) or 0
    for count in (1, 2) if sets is None else (sets,):
        if not 1 <= count <= 4:
            return None
        for size in sizes(codebook):
            if count > 1 and (area_cmil(codebook, size) or 0) < least:
                continue
            allowed = allowed_a(codebook, size, metal, column, factor)
            if allowed is None or allowed * count < needed_a - 1e-9:
                continue
            if (next_rating_a(codebook, allowed * count) or 0) >= rating_a:
                return Conductors(size, metal, count)
    return None


def write_pick(work: Working, one: Conductors, column: int, factor: Step | None, codebook: Codebook) -> Step:
    """Write down what the picked conductors carry and how that comes about; the result is their size."""
    table, words = codebook.table("ampacity").cite, size_text(one.size, one.metal)
    at_terminals = ampacity_a(codebook, one.size, one.metal, column)
    carries = work.take(Step(f"{words} at {column} °C", at_terminals, "A", cites=(table,)))
    if factor is not None:
        own = Step(
            f"{words} at {INSULATION_C} °C",
            ampacity_a(codebook, one.size, one.metal, INSULATION_C),
            "A",
            cites=(table,),
        )
        corrected = work.product("corrected from its own column", [work.take(own), factor], "A")
        carries = work.smaller("never above the terminals' column", [corrected, carries])
    if one.sets > 1:
        count = work.take(Step("in parallel", one.sets, "", cites=(codebook.cite("parallel"),)))
        work.take(codebook.step("parallel_least", "in parallel not smaller than"))
        work.product("together", [carries, count], "A")
    return work.take(Step("minimum size", one))
