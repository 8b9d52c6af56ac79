"""What else belongs to the service: main or lugs, interlock, solar; with emergency disconnect and surge device."""

from __future__ import annotations

import math
from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import previous_rating_a
from robust_ledger.findings import Findings
from robust_ledger.job.fields import choices_at
from robust_ledger.job.job import Job
from robust_ledger.job.tree import main_behind
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.service.emergency import emergency_findings
from robust_ledger.service.figures import ServiceFigures

STAGE = "service"


MAIN_WORDS = choices_at("panel.main")


def main_or_lugs_entry(job: Job, codebook: Codebook) -> Entry:
    """A panel that is the first disconnect has a main breaker; behind an equal disconnect lugs do, and do better."""
    work = Working("service.panel_main", "Main breaker or main lug only (MLO)", Place("panel:main"))
    if not main_behind(job):
        work.note(
            "first disconnect", "the panel itself: something has to switch it off", [codebook.cite("first_disconnect")]
        )
        return work.entry(work.note("so", "main breaker"), [codebook.cite("panel_protection")])
    work.note("ahead of the panel", "a disconnect that protects its bus", [codebook.cite("panel_protection")])
    work.note("two equal breakers in a row", "either may trip: they do not coordinate")
    work.note("lugs", "cheaper, and the panel is fully dead when the disconnect ahead is off")
    work.note("a main breaker all the same", "allowed; its line lugs stay live when it is off")
    return work.entry(work.note("so", "main lug only (MLO)"), [codebook.cite("panel_protection")])


def interlock_entry(job: Job, codebook: Codebook) -> Entry:
    """The back-fed breaker of a generator behind an interlock [A] [702.5, 408.36(D)]."""
    work = Working("service.interlock", "Generator interlock", Place("equipment:generator_a"))
    cites = [codebook.cite("transfer"), codebook.cite("backfed")]
    rating_a = job.equipment.generator_a
    sound = rating_a if rating_a is not None and 0 < rating_a <= job.panel.bus_a else None
    label = "breaker of the generator" + (
        "" if sound else f": {rating_a:g} A does not fit a bus of {job.panel.bus_a:g} A"
    )
    rating = work.given(label, sound, "A", Place("equipment:generator_a"))
    work.note("position", "the pair of spaces beside the main that the kit's slide covers", [cites[0]])
    work.note("back-fed", "breaker hold-down kit (408.36(D))", [cites[1]])
    return work.entry(rating, cites)


def solar_bus_entry(job: Job, main: Entry, codebook: Codebook) -> Entry:
    """What feeds the bus: the main and 125% of the inverter's current [A], against the bus or 120% of it [705.12]."""
    work = Working("service.solar_bus", "Solar: main and inverter on the bus", Place("equipment:inverter_a"))
    sound = job.equipment.inverter_a if (job.equipment.inverter_a or 0) > 0 else None
    inverter = work.given("inverter, rated output", sound, "A", Place("equipment:inverter_a"))
    share = work.product("counted", [inverter, work.take(codebook.step("solar_factor"))], "A")
    both = work.total("main and inverter", [work.entry_step(main), share], "A")
    solar_limit(work, job, codebook)
    return work.entry(both, [codebook.cite("solar")])


def solar_limit(work: Working, job: Job, codebook: Codebook) -> Step:
    """The most [A] main and inverter may come to on the job's bus."""
    bus = work.given("bus of the panel", job.panel.bus_a, "A", Place("panel:bus_a"))
    if not job.equipment.inverter_opposite:
        said = job.equipment.inverter_opposite is False
        where = "not at the end away from the main" if said else "its end of the bus not entered"
        work.note("inverter's breaker", f"{where}: the bus itself is the limit")
        return bus
    work.note("inverter's breaker", "at the end away from the main")
    return work.product("most", [bus, work.take(codebook.step("solar_bus"))], "A", [codebook.cite("solar")])


def _solar_ways(job: Job, solar: Entry, limit_a: float, codebook: Codebook) -> Iterator[str]:
    """What would keep the bus rule, each with its figure."""
    factor = codebook.number("solar_factor")
    fed_a = factor * (job.equipment.inverter_a or 0)
    main_a = previous_rating_a(codebook, limit_a - fed_a) if limit_a > fed_a else None
    if main_a is not None:
        yield f"A main of {main_a:g} A or less;"
    most_a = (limit_a - (solar.amount - fed_a)) / factor
    if most_a >= 1:
        yield f"an inverter of {most_a:.0f} A or less;"
    if not job.equipment.inverter_opposite:
        yield "its breaker at the end of the bus away from the main, which makes the limit 120% of the bus;"
    share = codebook.number("solar_bus") if job.equipment.inverter_opposite else 1.0
    yield f"a bus of {math.ceil(solar.amount / share):g} A or more; or a connection ahead of the main."


def equipment_findings(job: Job, figures: ServiceFigures, codebook: Codebook) -> Iterator[Finding]:
    """What is required and not planned, and what does not go together."""
    find = Findings(codebook, STAGE).find
    yield from emergency_findings(job, figures, codebook)
    if figures.interlock is not None:
        if not figures.interlock.known:
            yield find(
                "service.interlock_rating",
                at=Place("equipment:generator_a"),
                generator_a=job.equipment.generator_a,
                bus_a=job.panel.bus_a,
            )
        if not job.panel.has_main:
            yield find("service.interlock_lugs", at=Place("panel:main"))
        if not job.equipment.interlock_listed:
            yield find("service.interlock_kit", at=Place("equipment:interlock_listed"))
    solar = figures.solar_bus
    if solar is not None and solar.known:
        limit = solar_limit(Working.trial(), job, codebook)
        if solar.amount > limit.amount:
            yield find(
                "service.solar",
                at=Place("equipment:inverter_a"),
                solar=solar,
                limit=limit,
                ways=" ".join(_solar_ways(job, solar, limit.amount, codebook)),
            )
