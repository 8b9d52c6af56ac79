"""What a conductor carries where it laid: terminals, air, bundling, sun on a roof; one conductor or several in parallel."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import ampacity_a, area_cmil, next_rating_a, sizes
from robust_ledger.job.conductors import Conductors, size_text
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import AHEAD, MAIN, Panel
from robust_ledger.job.readers.numbers import temperature_text
from robust_ledger.job.tree import panel_name, parent, place_of
from robust_ledger.ledger.entry import Citation, Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working

INSULATION_C = 90  # THWN-2, XHHW-2 and NM cable: corrections start from their own column
INSULATION_UNREAD_C = 75  # of old conductors while nobody has read their jacket
_OWN_C = {"se": 75}  # of cables whose conductors may be marked for less
_SERVICE_WIRING = {"THWN-2": "thwn", "XHHW-2": "xhhw"}


class Laid(Struct, frozen=True):
    """Where the conductors of a run lie and where they end: way of wiring, keys of the nodes at its ends, thermal insulation, hottest air [°C],
    sun on a roof, how many carry current together, how many are in parallel. `at`: the node they feed; None for those of the service."""

    at: Panel | None
    wiring: str
    ends: tuple[str, ...] = (MAIN,)
    insulated: bool | None = False
    ambient_c: float | None = None
    rooftop: bool = False
    current_carrying: int = 2
    sets: int | None = None
    insulation_c: int | None = None  # as read on conductors that were found

    @property
    def own_c(self) -> int:
        """The column of its insulation [°C]."""
        return self.insulation_c or _OWN_C.get(self.wiring, INSULATION_C)

    def place(self, field: str) -> Place:
        """Where one of these is entered."""
        return Place.of("service_run", field) if self.at is None else place_of(self.at, field)


def service_laid(job: Job, ends: tuple[str, ...] = (MAIN,)) -> Laid:
    """Where the service conductors lie."""
    run = job.service_run
    wiring = _SERVICE_WIRING[run.insulation]
    return Laid(None, wiring, ends, False, run.ambient_c, run.rooftop, run.current_carrying, run.sets)


def found_laid(job: Job) -> Laid:
    """Where the conductors found of the service lie: as old ones with their insulation as read."""
    unread = INSULATION_UNREAD_C
    return replace(service_laid(job), wiring="thwn", insulation_c=min(job.existing.insulation_c or unread, unread))


def feeder_laid(job: Job, panel: Panel) -> Laid:
    """Where the feeder of a node lies; one that was found with its insulation as read."""
    at = (parent(job, panel), panel.id)  # an enclosure of the disconnect counts by its own label
    ends = tuple(dict.fromkeys(MAIN if key in AHEAD else key for key in at))
    own = (panel.insulated, panel.ambient_c, panel.rooftop, panel.current_carrying, panel.sets)
    insulation_c = (panel.insulation_c or INSULATION_UNREAD_C) if panel.found else None
    return Laid(panel, panel.laid_as, ends, *own, insulation_c)


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


def conditions(work: Working, laid: Laid, codebook: Codebook) -> Step | None:
    """The factor for air, roof and bundling on the ampacity of the insulation's own column, written down; None when nothing is to be
    corrected, an unknown step when it is past the tables [310.15]."""
    factors = []
    roof_adds = laid.rooftop and laid.wiring != "xhhw"
    if laid.ambient_c is not None or roof_adds:
        celsius = 30.0 if laid.ambient_c is None else laid.ambient_c
        label = f"air around the conductors ({temperature_text(celsius)} °F)"
        given = work.given(label, celsius, "°C", laid.place("ambient_c"))
        if roof_adds:
            given = work.total("in the sun above a roof", [given, codebook.step("rooftop_add_c")], "°C")
        table = codebook.table("ambient")
        row = table.first_covering("up_to_c", given.amount) if -60 <= given.amount <= laid.own_c else None
        cell = row[f"factor_{laid.own_c}c"] if row else ""
        label = f"factor for the air, {laid.own_c} °C column"
        past = 0.0 if given.amount > 0 else None  # as hot as the insulation may be: it carries nothing
        factors.append(work.take(Step(label, float(cell) if cell else past, "", cites=(table.cite,))))
    if laid.rooftop and not roof_adds:
        work.note("in the sun above a roof", "XHHW-2: nothing added", [codebook.cite("rooftop")])
    if laid.current_carrying != 2:
        count = laid.current_carrying
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


def column_of_run(job: Job, laid: Laid, size: str, rating_a: float, codebook: Codebook) -> tuple[int, str, str]:
    """The column for a size of a run [°C], why, and the rule behind it."""
    if laid.wiring == "nm":
        return 60, "NM cable: never above 60 °C", "nm_cable"
    at_most_10 = (area_cmil(codebook, size) or 0) <= (area_cmil(codebook, "10") or 0)
    if laid.wiring == "se" and laid.insulated is not False and at_most_10:
        said = "in thermal insulation" if laid.insulated else "insulation not checked"
        return 60, f"SE cable of 10 AWG or smaller, {said}: 60 °C", "se_cable"
    column, why = terminal_column(job, rating_a, codebook, laid.ends)
    if laid.insulation_c is not None and laid.insulation_c < column:
        return laid.insulation_c, f"insulation of {laid.insulation_c} °C", "terminal_temperature"
    return column, why, "terminal_temperature"


def allowed_a(
    codebook: Codebook, size: str, metal: str, column: int, factor: Step | None, own_c: int = INSULATION_C
) -> float | None:
    """Ampacity [A] of one conductor: its insulation's own, corrected, never above the terminals' column."""
    at_terminals = ampacity_a(codebook, size, metal, column)
    if factor is None or at_terminals is None:
        return at_terminals
    own = ampacity_a(codebook, size, metal, own_c)
    if own is None or not factor.known:
        return None
    return min(at_terminals, own * factor.amount)


class Needed(Struct, frozen=True):
    """What conductors have to be good for: ampacity [A], and the device ahead [A] by the practice: "next", the ampacity's next standard size
    reaches it; "whole", the ampacity itself does; "none", only the ampacity counts, as by the 83% rule and of a tap."""

    ampacity_a: float
    device_a: float = 0.0
    practice: Literal["next", "whole", "none"] = "next"


def largest_device(one: Conductors, allowed: float, practice: str, codebook: Codebook) -> tuple[float | None, Citation]:
    """The largest device [A] on conductors that carry `allowed` [A] in all, small ones by their own metal, and the section for it
    [240.4(B), (D)]."""
    if practice == "none":
        return allowed, codebook.cite("ampacity")
    small = codebook.table("small_conductors").row("size", one.size)
    if small and small[f"{one.metal}_max_a"]:
        return float(small[f"{one.metal}_max_a"]), codebook.cite("small_conductors")
    if practice == "whole":
        return allowed, codebook.cite("ampacity")
    return next_rating_a(codebook, allowed), codebook.cite("next_size_up")


def pick(
    job: Job, laid: Laid, metal: str, needed: Needed, rating_a: float, factor: Step | None, codebook: Codebook
) -> Conductors | None:
    """The smallest conductors of a run that carry what is needed behind a device of `rating_a` [A]: as many in parallel as told, else one,
    else two. In parallel none is smaller than 1/0 [310.10]. None when the table has none."""
    least = area_cmil(codebook, str(codebook.step("parallel_least").value)) or 0
    for count in (1, 2) if laid.sets is None else (laid.sets,):
        if not 1 <= count <= 4:
            return None
        for size in sizes(codebook):
            if count > 1 and (area_cmil(codebook, size) or 0) < least:
                continue
            column = column_of_run(job, laid, size, rating_a, codebook)[0]
            allowed = allowed_a(codebook, size, metal, column, factor, laid.own_c)
            if allowed is None or allowed * count < needed.ampacity_a - 1e-9:
                continue
            one = Conductors(size, metal, count)
            device_a, _cite = largest_device(one, allowed * count, needed.practice, codebook)
            if (device_a or 0) >= needed.device_a - 1e-9:
                return one
    return None


def write_carries(
    work: Working, job: Job, laid: Laid, one: Conductors, rating_a: float, factor: Step | None, codebook: Codebook
) -> Step:
    """Write down what conductors carry where they lie, all in parallel together [A], and how that comes about."""
    column, why, rule = column_of_run(job, laid, one.size, rating_a, codebook)
    work.note("temperature column", why, [codebook.cite(rule)])
    table, words = codebook.table("ampacity").cite, size_text(one.size, one.metal)
    at_terminals = ampacity_a(codebook, one.size, one.metal, column)
    carries = work.take(Step(f"{words} at {column} °C", at_terminals, "A", cites=(table,)))
    if factor is not None:
        own_a = ampacity_a(codebook, one.size, one.metal, laid.own_c)
        own = work.take(Step(f"{words} at {laid.own_c} °C", own_a, "A", cites=(table,)))
        corrected = work.product("corrected from its own column", [own, factor], "A")
        carries = work.smaller("never above the terminals' column", [corrected, carries])
    if one.sets > 1:
        count = work.take(Step("in parallel", one.sets, "", cites=(codebook.cite("parallel"),)))
        work.take(codebook.step("parallel_least", "in parallel not smaller than"))
        carries = work.product("together", [carries, count], "A")
    return carries


def size_entry(
    work: Working,
    job: Job,
    laid: Laid,
    metal: str,
    needed: Needed,
    rating_a: float,
    cites: Sequence[Citation],
    codebook: Codebook,
) -> Entry:
    """The conductors of any run, service or feeder or tap, with the way to them written down: where they lie, what the smallest carry there, and
    the largest device on them."""
    factor = conditions(work, laid, codebook)
    one = pick(job, laid, metal, needed, rating_a, factor, codebook)
    if one is None:
        return work.entry(work.given("conductors from the table that are large enough", None))
    carries = write_carries(work, job, laid, one, rating_a, factor, codebook)
    if needed.practice != "none":
        allowed, cite = largest_device(one, carries.amount, needed.practice, codebook)
        work.take(Step("largest device on it", allowed, "A", cites=(cite,)))
        cites = (*cites, cite)
    return work.entry(work.take(Step("minimum size", one)), tuple(dict.fromkeys((*cites, codebook.cite("ampacity")))))
