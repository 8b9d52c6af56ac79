"""The way from a disconnect ahead to the inside panel: what protects it, its conductors, and what protects the main panel's bus."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import rating_text, sound_rating_a
from robust_ledger.findings import Findings
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import AHEAD, MAIN, Panel
from robust_ledger.job.tree import above_main, inside_box, panel_name, way_up
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.load.feeder import FeederLoad
from robust_ledger.service.bonding import ground_by_rating
from robust_ledger.service.bonds import feeder_stays
from robust_ledger.service.feeder import feeder_neutral_entry
from robust_ledger.service.feeder_findings import later_findings
from robust_ledger.service.figures import FeederFigures
from robust_ledger.service.kept_equipment import protection_entry
from robust_ledger.service.kept_findings import FEEDER, inside_limit_entry
from robust_ledger.service.sizing import service_conductor_entry

BREAKER, SPLIT = Place("decisions:inside_breaker_a"), Place("decisions:split_main_a")


class Inside(Struct, frozen=True):
    """What protects the main panel's bus [A]; behind a disconnect also that one [A], the conductors to the panel, what those found are good
    for [A], and the neutral where a breaker of a meter-main feeds the panel."""

    device: Entry
    ahead: Entry | None = None
    conductors: Entry | None = None
    limit: Entry | None = None
    neutral: Entry | None = None

    def entries(self) -> Iterator[Entry]:
        """Every one of them."""
        made = (self.ahead, self.device, self.limit, self.conductors, self.neutral)
        return (one for one in made if one is not None)


def inside_figures(
    job: Job, main: Entry, load: Entry, own: FeederLoad | None, feeders: Mapping[str, FeederFigures], codebook: Codebook
) -> Inside:
    """What protects the main panel's bus; behind a disconnect also that one, the feeder's conductors as found or as planned, and what
    those found are good for. `own` is what the main panel carries where that is not all of the dwelling's load; `feeders` are those of the
    nodes ahead of it."""
    at = above_main(job)
    if at == "meter":
        return Inside(device_entry(job, main, main, codebook))
    protection = protection_entry(job, main, codebook) if at == "disconnect" else _by_node(feeders[at], codebook)
    device = device_entry(job, main, protection, codebook)
    if feeder_stays(job) and job.existing.feeder_conductors:
        limit = inside_limit_entry(job, load, codebook)
        work = Working("service.inside", "Feeder to the inside panel", FEEDER)
        work.entry_step(limit)
        there = Conductors.read(job.existing.feeder_conductors)
        return Inside(device, protection, work.entry(work.take(Step("as found", there, place=FEEDER))), limit)
    metal, rule = job.decisions.metal, job.decisions.conductor_rule
    by_breaker = inside_box(job) is not None
    part = own is not None and not own.whole
    carried = own.amperes if part and own is not None else load
    if part and not carried.known:  # then nothing less than the whole rating will do
        carried = device if by_breaker else protection
    rating = device if by_breaker else protection
    sized = service_conductor_entry(job, rating, carried, metal, rule, codebook, feeder=True, part=part)
    hots = replace(sized, id="service.inside")
    apart = by_breaker or at != "disconnect"
    neutral = _neutral(job, hots, device, own, codebook) if apart and own is not None else None
    return Inside(device, protection, hots, None, neutral)


def _by_node(feeder: FeederFigures, codebook: Codebook) -> Entry:
    """The device of another node that the main panel's feeder begins at [A] [408.36, 240.21]."""
    work = Working("service.protection", "Device ahead of the inside panel", feeder.rating.place)
    cites = [codebook.cite("panel_protection"), codebook.cite("feeder_protection")]
    return work.entry(work.entry_step(feeder.load_side), cites)


def _neutral(job: Job, hots: Entry, device: Entry, own: FeederLoad, codebook: Codebook) -> Entry:
    """The neutral of a feeder from a breaker in a meter-main, by the rules of any feeder."""
    main = Panel(id=MAIN, name="main panel", metal=job.decisions.metal)
    ground = ground_by_rating(
        Working("feeder.panel.egc", "EGC"), Step("breaker", device.value, "A"), main.metal, codebook
    )
    return feeder_neutral_entry(job, main, (hots, ground, device, own), codebook)


def device_entry(job: Job, main: Entry, protection: Entry, codebook: Codebook) -> Entry:
    """The device that protects the main panel's bus [A]: its share's main in a split service, the breaker that feeds it in a meter-main,
    the disconnect ahead of lugs, else the main [408.36]."""
    work = Working("service.panel_device", "Device that protects the main panel")
    cites = [codebook.cite("panel_protection")]
    at = above_main(job)
    if job.scope.split and at in AHEAD:
        return work.entry(
            work.given("its own main", sound_rating_a(codebook, job.decisions.split_main_a), "A", SPLIT), cites
        )
    if (box := inside_box(job)) is not None:
        label = f"breaker in the {panel_name(job, box.id)}"
        return work.entry(
            work.given(label, sound_rating_a(codebook, job.decisions.inside_breaker_a), "A", BREAKER), cites
        )
    return work.entry(work.entry_step(main if job.panel.has_main and at in AHEAD else protection), cites)


def inside_findings(job: Job, device: Entry, own: FeederLoad | None, codebook: Codebook) -> Iterator[Finding]:
    """The breaker in a meter-main, or the node, that feeds the main panel: a breaker not said, above the bus, or below what the panel carries."""
    box, find = inside_box(job), Findings(codebook, "service", topic="inside").find
    node = box or job.panel_of(above_main(job))
    if node is None:
        return
    name, by_node = panel_name(job, node.id), box is None
    at = Place.of("panels", f"{node.id}.breaker_a") if by_node else BREAKER
    if not device.known:
        said = job.decisions.inside_breaker_a
        if not by_node:  # of a node it is told where it stands
            yield find("inside.breaker", at=at, not_entered=said is None, said=said, name=name)
        return
    if device.amount > job.panel.bus_a:
        yield find("inside.bus", at=at, bus_a=job.panel.bus_a, device=device, name=name, node=by_node)
    least = codebook.step("dwelling_main_min_a", "least")
    apart = any(panel.at in ("pole", "yard") for key in way_up(job, MAIN) if (panel := job.panel_of(key)) is not None)
    if device.amount < least.amount and apart:
        yield find("service.dwelling_feeder", at=at, rating=device, least=least, cites=least.cites)
    if own is not None:
        yield from later_findings(Panel(id=MAIN, name="main panel"), own, device, find)
    if own is not None and own.amperes.known and own.amperes.amount > device.amount:
        next_rating = rating_text(codebook, own.amperes.amount)
        yield find(
            "inside.small", at=at, device=device, amperes=own.amperes, next_rating=next_rating, name=name, node=by_node
        )
