"""The outdoor emergency disconnect and the surge protective device: whether this edition wants them, and the labels."""

from __future__ import annotations

from collections.abc import Iterator
from enum import StrEnum

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN, Panel
from robust_ledger.job.tree import above, in_order, main_behind
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.service.figures import ServiceFigures

STAGE = "service"
KIND, AT, SPD = Place("scope:disconnect_kind"), Place("existing:disconnect_at"), Place("equipment:spd")
# What stands on the label of each lawful kind, in the code's own prescribed words.
LABELS = {
    "service": ("EMERGENCY DISCONNECT", "SERVICE DISCONNECT"),
    "meter": ("EMERGENCY DISCONNECT", "METER DISCONNECT", "NOT SERVICE EQUIPMENT"),
    "supply": ("EMERGENCY DISCONNECT", "NOT SERVICE EQUIPMENT"),
}
KIND_WORDS = {
    "service": "service disconnect",
    "meter": "meter disconnect, not service equipment",
    "supply": "disconnect on the supply side, not service equipment",
}


class Need(StrEnum):
    """Whether a piece of equipment is required, and there; as the sheet says it."""

    PROVIDED = "required, provided"
    EXTRA = "provided, not required"
    MISSING = "required, missing"
    REQUIRED = "required"
    NOT = "not required"


def replaces_service_equipment(job: Job) -> bool | None:
    """Whether this job puts in service equipment; None while the scope is not said. A panel behind a service disconnect that stays
    is none."""
    if not job.scope.said:
        return None
    made = any(not panel.there for panel in first_disconnects(job))
    return job.panel.first_disconnect or job.scope.disconnect == "new" or job.scope.new_service or made


def first_disconnects(job: Job) -> tuple[Panel, ...]:
    """The disconnects at the meter beside the one ahead of the main panel: in a meter-main of several mains, on a pole, in the yard."""
    return tuple(panel for panel in in_order(job) if panel.kind == "disconnect" and above(job, panel.id) == "meter")


def kind_of(job: Job) -> str:
    """Which of the three lawful kinds the emergency disconnect is; a panel outdoors is the service disconnect itself."""
    if job.disconnect_ahead:
        return job.scope.disconnect_kind or "service"
    return next((panel.marked for panel in first_disconnects(job) if panel.marked), "service")


def outdoor_disconnect(job: Job) -> bool | None:
    """Whether the house can be switched off from outdoors, all of it; None while nobody has said where a disconnect is."""
    places = [panel.at for panel in first_disconnects(job)]
    if job.disconnect_ahead:
        places.append(job.existing.disconnect_at)
    if places and above(job, MAIN) == "meter":  # beside those it is one of them
        places.append("outdoors" if job.panel.has_main and job.location.room == "outdoors" else "indoors")
    if not places:
        return job.panel.has_main and job.location.room == "outdoors"
    if "indoors" in places:
        return False
    return None if "" in places else True


def label_of(job: Job) -> tuple[str, ...]:
    """The lines of the label on the outside of the emergency disconnect; none while there is none."""
    return LABELS[kind_of(job)] if outdoor_disconnect(job) else ()


def emergency_entry(job: Job, codebook: Codebook) -> Entry:
    """Whether 230.85 wants an outdoor emergency disconnect here, what serves as it, and the text of its label."""
    work = Working("service.emergency", "Outdoor emergency disconnect", AT)
    cites = [codebook.cite("emergency_disconnect")]
    replaced, outdoors = replaces_service_equipment(job), outdoor_disconnect(job)
    if replaced is None:
        return work.entry(work.given("the scope of the job", None, place=Place("scope:service")), cites)
    on_new, on_replacement = codebook.step("emergency_new"), codebook.step("emergency_replaced")
    new = job.scope.new_service
    work.note("service equipment", "new service" if new else "replaced" if replaced else "stays as it is")
    work.note("a new dwelling service needs it", "yes" if on_new.amount else "no", on_new.cites)
    work.note("replacing the equipment needs it too", "yes" if on_replacement.amount else "no", on_replacement.cites)
    required = bool(on_new.amount and new) or bool(on_replacement.amount and replaced)
    if outdoors is None:
        if required:
            return work.entry(work.given("where the disconnect is: outdoors or indoors", None, place=AT), cites)
        return work.entry(work.note("so", Need.NOT), cites)
    if outdoors:
        where = "the disconnect ahead of the panel" if job.disconnect_ahead else "the panel's main, outdoors"
        work.note("reached from outdoors", where)
        work.note(
            "kind",
            KIND_WORDS[kind_of(job)] + ("" if job.scope.disconnect_kind or not job.disconnect_ahead else ", taken"),
        )
        work.note("its label outside", ", ".join(LABELS[kind_of(job)]))
        need = Need.PROVIDED if required else Need.EXTRA
    else:
        need = Need.MISSING if required else Need.NOT
    return work.entry(work.note("so", need), cites)


def surge_entry(job: Job, codebook: Codebook) -> Entry:
    """Whether a surge protective device is wanted: in the service equipment that this job puts in [230.67], from 2023 also for a
    dwelling's panel fed by a feeder [215.18]; on replacement too."""
    work = Working("service.spd", "Surge protective device (SPD)", SPD)
    cites = [codebook.cite("surge")]
    replaced = replaces_service_equipment(job)
    if replaced is None:
        return work.entry(work.given("the scope of the job", None, place=Place("scope:service")), cites)
    asked, by_feeder = codebook.step("surge_required"), codebook.step("surge_feeder")
    work.note("a dwelling's service needs one", "yes" if asked.amount else "no", asked.cites)
    work.note("service equipment", "put in by this job" if replaced else "stays as it is")
    fed = main_behind(job)
    if fed:
        work.note("a panel fed by a feeder needs one", "yes" if by_feeder.amount else "no", by_feeder.cites)
    work.note("where", "type 1 or 2, in the service equipment or right beside it; or at the next panel", cites)
    required = bool(asked.amount and replaced) or bool(fed and by_feeder.amount)
    return work.entry(work.note("so", Need.REQUIRED if required else Need.NOT), cites)


def emergency_findings(job: Job, figures: ServiceFigures, codebook: Codebook) -> Iterator[Finding]:
    """An emergency disconnect that is missing, or whose place or kind is not told; a surge device that is missing."""
    find, seen = Findings(codebook, STAGE).find, Findings(codebook, "walkthrough").find
    emergency, spd = figures.emergency, figures.spd
    if emergency.value is Need.MISSING:
        yield find("service.emergency", at=AT)
    elif not emergency.known and job.scope.said:
        yield seen("service.emergency_where", at=AT)
    if job.disconnect_ahead and job.scope.said and not job.scope.disconnect_kind:
        yield seen("service.disconnect_kind", at=KIND)
    for panel in first_disconnects(job):
        if not panel.marked:
            at = Place.of("panels", f"{panel.id}.marked")
            yield Findings(codebook, STAGE, topic=f"feeder.{panel.id}").find("feeder.marked", at=at, panel=panel.name)
    if spd.value is Need.REQUIRED and not job.equipment.spd:
        at_feeder = not replaces_service_equipment(job)
        yield find("service.spd", at=SPD, at_feeder=at_feeder)
    if (
        job.equipment.spd
        and job.equipment.spd_type == "2"
        and job.equipment.spd_at == "disconnect"
        and job.scope.panel_stays_first
    ):
        yield find("service.spd_type", at=Place("equipment:spd_type"))
