"""What else belongs to the service: outdoor emergency disconnect, surge device, main or lugs, interlock, solar."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from enum import StrEnum

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.job.parts.heading import Scope
from robust_ledger.ledger.entry import Entry, Finding, Severity, Step
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working

STAGE = "service"
NEW_SERVICE = (Scope.UPGRADE, Scope.SPLIT)


class Need(StrEnum):
    """Whether a piece of equipment is required, and there; as the sheet says it."""

    PROVIDED = "required, provided"
    EXTRA = "provided, not required"
    MISSING = "required, missing"
    REQUIRED = "required"
    NOT = "not required"


def replaces_service_equipment(job: Job) -> bool | None:
    """Whether this job puts in service equipment; None while the scope is not said. A panel behind a disconnect that stays
    is none."""
    if job.scope is Scope.UNSAID:
        return None
    return job.panel.first_disconnect or "disconnect" in job.chain.replaced or job.scope in NEW_SERVICE


def outdoor_disconnect(job: Job) -> bool:
    """Whether the house can be switched off from outdoors."""
    if job.disconnect_ahead:
        return not job.chain.disconnect_inside
    return job.panel.main == "breaker" and job.location.room == "outdoors"


def equipment_entries(job: Job, main: Entry, codebook: Codebook) -> list[Entry]:
    """Each decision with its reason; interlock and solar only where there is one."""
    made = [_emergency(job, codebook), _surge(job, codebook), _main_or_lugs(job, codebook)]
    if job.equipment.generator_a is not None:
        made.append(_interlock(job, codebook))
    if job.equipment.inverter_a is not None:
        made.append(_solar_bus(job, main, codebook))
    return made


def _emergency(job: Job, codebook: Codebook) -> Entry:
    work = Working("service.emergency", "Outdoor emergency disconnect", Place("chain:disconnect_a"))
    cites = [codebook.cite("emergency_disconnect")]
    replaced = replaces_service_equipment(job)
    if replaced is None:
        return work.entry(work.given("the scope of the job", None, place=Place("job:scope")), cites)
    on_new, on_replacement = codebook.step("emergency_new"), codebook.step("emergency_replaced")
    new = job.scope in NEW_SERVICE
    work.note("service equipment", "new service" if new else "replaced" if replaced else "stays as it is")
    work.note("a new dwelling service needs it", "yes" if on_new.amount else "no", on_new.cites)
    work.note("replacing the equipment needs it too", "yes" if on_replacement.amount else "no", on_replacement.cites)
    required = bool(on_new.amount and new) or bool(on_replacement.amount and replaced)
    if outdoor_disconnect(job):
        where = "the disconnect ahead of the panel" if job.disconnect_ahead else "the panel's main, outdoors"
        work.note("reached from outdoors", where)
        work.note("its label outside", "EMERGENCY DISCONNECT, SERVICE DISCONNECT")
        need = Need.PROVIDED if required else Need.EXTRA
    else:
        need = Need.MISSING if required else Need.NOT
    return work.entry(work.note("so", need), cites)


def _surge(job: Job, codebook: Codebook) -> Entry:
    work = Working("service.spd", "Surge protective device (SPD)", Place("equipment:spd"))
    cites = [codebook.cite("surge")]
    replaced = replaces_service_equipment(job)
    if replaced is None:
        return work.entry(work.given("the scope of the job", None, place=Place("job:scope")), cites)
    asked = codebook.step("surge_required")
    work.note("a dwelling's service needs one", "yes" if asked.amount else "no", asked.cites)
    work.note("service equipment", "put in by this job" if replaced else "stays as it is")
    work.note("where", "type 1 or 2, in the service equipment or right beside it; or at the next panel", cites)
    return work.entry(work.note("so", Need.REQUIRED if asked.amount and replaced else Need.NOT), cites)


def _main_or_lugs(job: Job, codebook: Codebook) -> Entry:
    """A panel that is the first disconnect has a main breaker; behind an equal disconnect lugs do, and do better."""
    work = Working("service.panel_main", "Main breaker or main lug only (MLO)", Place("panel:main"))
    if not job.disconnect_ahead:
        work.note(
            "first disconnect", "the panel itself: something has to switch it off", [codebook.cite("first_disconnect")]
        )
        return work.entry(work.note("so", "main breaker"), [codebook.cite("panel_protection")])
    work.note("ahead of the panel", "a disconnect that protects its bus", [codebook.cite("panel_protection")])
    work.note("two equal breakers in a row", "either may trip: they do not coordinate")
    work.note("lugs", "cheaper, and the panel is fully dead when the disconnect ahead is off")
    work.note("a main breaker all the same", "allowed; its line lugs stay live when it is off")
    return work.entry(work.note("so", "main lug only (MLO)"), [codebook.cite("panel_protection")])


def _interlock(job: Job, codebook: Codebook) -> Entry:
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


def _solar_bus(job: Job, main: Entry, codebook: Codebook) -> Entry:
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
        work.note("inverter's breaker", "not at the end away from the main: the bus itself is the limit")
        return bus
    work.note("inverter's breaker", "at the end away from the main")
    return work.product("most", [bus, work.take(codebook.step("solar_bus"))], "A", [codebook.cite("solar")])


def equipment_findings(job: Job, entries: Mapping[str, Entry], codebook: Codebook) -> Iterator[Finding]:
    """What is required and not planned, and what does not go together."""
    make = Findings("service", codebook, STAGE).make
    if entries["service.emergency"].value is Need.MISSING:
        yield make(
            "emergency",
            Severity.FIX,
            at=Place("chain:disconnect_a"),
            title="No emergency disconnect outdoors",
            text="A readily accessible outdoor emergency disconnect is required (230.85).",
            remedy="Plan a disconnect outdoors ahead of the panel (mark it new on the service path), or a panel outdoors.",
            rules=("emergency_disconnect",),
        )
    if entries["service.spd"].value is Need.REQUIRED and not job.equipment.spd:
        yield make(
            "spd",
            Severity.FIX,
            at=Place("equipment:spd"),
            title="No surge protective device (SPD) planned",
            text="SPD required (230.67), including on replacement.",
            remedy="Plan a type 1 or 2 device in the service equipment or beside it.",
            rules=("surge",),
        )
    if job.disconnect_ahead and job.panel.main == "breaker":
        yield make(
            "double_main",
            Severity.NOTE,
            at=Place("panel:main"),
            title="Main breaker behind a disconnect",
            text="Either of the two may trip, and the line lugs stay live when the panel's main is off.",
            remedy="A main-lug panel (MLO) will do here, and is dead with the disconnect ahead off.",
            rules=("panel_protection",),
        )
    if job.scope is Scope.OUTSIDE_DISCONNECT and not job.disconnect_ahead:
        yield make(
            "no_disconnect",
            Severity.ASK,
            at=Place("chain:disconnect_a"),
            title="The outside disconnect is not on the service path",
            text="The scope says one is added; nothing stands ahead of the panel yet.",
            remedy="Mark the disconnect new on the service path, and take the panel's mark as the first one off.",
            rules=("first_disconnect",),
        )
    if job.equipment.generator_a is not None:
        if not entries["service.interlock"].known:
            yield make(
                "interlock_rating",
                Severity.FIX,
                at=Place("equipment:generator_a"),
                title="Generator breaker does not fit the bus",
                text=f"{job.equipment.generator_a:g} A on a bus of {job.panel.bus_a:g} A.",
                remedy="Enter its rating again.",
                rules=("transfer",),
            )
        if not job.equipment.interlock_listed:
            yield make(
                "interlock_kit",
                Severity.FIX,
                at=Place("equipment:interlock_listed"),
                title="Interlock kit not marked as listed",
                text="Generator and utility must not be able to feed the panel together.",
                remedy="Use the kit listed for this panel and its dead front, and mark it so.",
                rules=("transfer",),
            )
    solar = entries.get("service.solar_bus")
    if solar is not None and solar.known:
        limit = solar_limit(Working("", ""), job, codebook)
        if solar.amount > limit.amount:
            yield make(
                "solar",
                Severity.FIX,
                at=Place("equipment:inverter_a"),
                title=f"120% bus rule exceeded: {solar.text()} > {limit.text()}",
                text="Main and inverter together can put more on the bus than it carries.",
                remedy="A smaller main, a larger bus, a smaller inverter, or a connection ahead of the main.",
                rules=("solar",),
            )
