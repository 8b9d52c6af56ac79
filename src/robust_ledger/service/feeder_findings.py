"""What is wrong with the feeders and their panels: what feeds them, breaker, load, bus, wires, bond, electrodes, disconnect, AIC."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Mapping

from msgspec.structs import replace

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import is_standard_rating, rating_text
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import AHEAD, MAIN, Panel
from robust_ledger.job.tree import (
    by_load_side,
    by_service,
    fed_at,
    in_order,
    is_enclosure,
    is_service,
    lost,
    main_behind,
    main_lost,
    main_node,
    on_supply_side,
    parent,
    way_up,
)
from robust_ledger.job.tree import place_of as at
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import upper_first
from robust_ledger.load.feeder import FeederLoad
from robust_ledger.service.ampacity import marked
from robust_ledger.service.bonds import three_wires_stay
from robust_ledger.service.fault import next_aic
from robust_ledger.service.feeder import feeder_limit_entry, found_conductors
from robust_ledger.service.figures import FeederFigures, ServiceFigures
from robust_ledger.service.found_feeder import found_findings
from robust_ledger.service.sizing import only_disconnect
from robust_ledger.service.taps import tap_findings

STAGE = "service"
Find = Callable[..., Finding]


def feeder_findings(
    job: Job, main: Entry, loads: Mapping[str, FeederLoad], figures: ServiceFigures, codebook: Codebook
) -> Iterator[Finding]:
    """Findings of every node with a feeder; `main` is the device ahead of the main panel's bus, `loads` what the feeders carry."""
    yield from _tree(job, codebook)
    ratings = {
        MAIN: main,
        **({"meter": figures.main} if only_disconnect(job) is not None else {}),
        "disconnect": figures.ahead or main,
        **{panel_id: feeder.load_side for panel_id, feeder in figures.feeders.items()},
    }
    for panel in in_order(job):
        if is_enclosure(job, panel):
            yield from _enclosure(panel, ratings["disconnect"], codebook)
        else:
            yield from _of_panel(job, panel, ratings, loads, figures.feeders[panel.id], codebook)
    if figures.to_main is not None:
        yield from _of_main(job, ratings, loads[MAIN], figures.to_main, codebook)


def _tree(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """What is wrong with the tree itself."""
    find = Findings(codebook, STAGE).find
    if job.scope.feeder == "renewed" and not job.panels:
        yield find("feeder.none", at=Place("panels:"))
    for panel in job.panels:
        yield from _of_node(job, panel, Findings(codebook, STAGE, topic=f"feeder.{panel.id}").find)
    if why := main_lost(job):
        yield find("feeder.main_lost", at=Place("main_feed:fed_from"), why=why)
    yield from _many(job, find, codebook)
    there = [panel for panel in job.panels if panel.separate_building and panel.is_fed]
    buildings = Counter((parent(job, p), p.name.strip().lower()) for p in there)
    for (_above, name), count in buildings.items():
        if count > 1:
            twice = next(p for p in there if p.name.strip().lower() == name)
            yield find("feeder.two", at=at(twice, "separate_building"), of=twice.id, count=count, twice=twice.name)


def _of_node(job: Job, panel: Panel, find: Find) -> Iterator[Finding]:
    """What cannot be about a node's place in the tree."""
    if not panel.is_fed:
        if panel.gone and panel.there:
            yield find("feeder.gone_there", at=at(panel, "gone"), panel=panel.name)
        return
    yield from _feeder_tag(job, panel, find)
    if why := lost(job, panel):
        yield find("feeder.lost", at=at(panel, "fed_from"), panel=panel.name or "panel", why=why)
    if sum(one.name.strip().lower() == panel.name.strip().lower() for one in job.panels) > 1:
        yield find("feeder.name", at=at(panel, "name"), panel=panel.name)
    if panel.fed_by == "same" and not is_enclosure(job, panel) and job.disconnect_ahead:
        yield find("feeder.enclosure", at=at(panel, "fed_by"), panel=panel.name)
    if parent(job, panel) == "meter" and not job.scope.split and panel.takes_circuits:
        yield find("feeder.at_meter", at=at(panel, "fed_from"), panel=panel.name)
    if parent(job, panel) == "disconnect" and not job.disconnect_ahead:
        yield find("feeder.no_disconnect", at=at(panel, "fed_from"), panel=panel.name)


def _feeder_tag(job: Job, panel: Panel, find: Find) -> Iterator[Finding]:
    """The old circuit that is said to have fed a panel: not there, capped, or another panel's too."""
    tag = panel.feeder_tag
    if tag is None:
        return
    circuit = job.circuit(tag)
    if circuit is None:
        yield find("feeder.tag_none", at=at(panel, "feeder_tag"), panel=panel.name, tag=tag)
    elif circuit.off:
        yield find("feeder.tag_off", at=at(panel, "feeder_tag"), panel=panel.name, tag=tag)
    other = next((one for one in job.panels if one.id != panel.id and one.feeder_tag == tag and one.is_fed), None)
    if other is not None and panel.id < other.id:
        yield find("feeder.tag_twice", at=at(panel, "feeder_tag"), panel=panel.name, tag=tag, other=other.name)


def _many(job: Job, find: Find, codebook: Codebook) -> Iterator[Finding]:
    """Several service disconnects: six at the most, together, and by edition each in an enclosure or a compartment of its own [230.71]."""
    service = [panel for panel in in_order(job) if is_service(job, panel) and not is_enclosure(job, panel)]
    count = len(service) + (not main_behind(job))
    most = codebook.step("service_disconnects_most")
    if count > most.amount:
        yield find("service.disconnects_many", at=Place("panels:"), count=count, most=most.amount)
    if count > 1 and any(panel.in_meter for panel in service) and codebook.step("service_compartments").amount:
        yield find("service.compartments", at=at(service[0], "in_meter"), count=count)


def _enclosure(panel: Panel, protection: Entry, codebook: Codebook) -> Iterator[Finding]:
    """The bus of a disconnect with spaces of its own, against its own main."""
    if panel.box.bus_a and protection.known and protection.amount > panel.box.bus_a:
        yield Findings(codebook, STAGE, topic=f"feeder.{panel.id}").find(
            "feeder.bus", at=at(panel, "box.bus_a"), panel=panel.name, bus_a=panel.box.bus_a, protection=protection
        )


def _of_panel(
    job: Job,
    panel: Panel,
    ratings: Mapping[str, Entry],
    loads: Mapping[str, FeederLoad],
    feeder: FeederFigures,
    codebook: Codebook,
) -> Iterator[Finding]:
    load, carried = loads[panel.id], feeder.carried
    find = Findings(codebook, STAGE, topic=f"feeder.{panel.id}").find
    if is_service(job, panel):
        yield from _service_bond(panel, find)
    elif not on_supply_side(job, panel.id):
        yield from _wires(panel, find)
        yield from _bond(panel, find)
    yield from _feed(job, panel, ratings, load, feeder, find, codebook)
    if _breaker_open(job, panel):
        return
    device = _deciding(feeder)
    yield from _own_main(panel, carried, find, codebook, tapped=feeder.tap is not None)
    if panel.takes_circuits:
        yield from _load(
            panel, load, carried, MAIN in loads and not (loads[MAIN].whole or loads[MAIN].amperes.known), find
        )
    yield from _rating(panel, load.circuits, device, find, codebook)
    yield from _label(panel, device, find, codebook)
    yield from _building(job, panel, find)
    yield from _aic(panel, feeder.fault, find)


def _of_main(
    job: Job, ratings: Mapping[str, Entry], load: FeederLoad, feeder: FeederFigures, codebook: Codebook
) -> Iterator[Finding]:
    """The same of the main panel: its feeder is one like the others; its label, bond and AIC rating are told with the service."""
    panel, find = main_node(job), Findings(codebook, STAGE, topic=f"feeder.{MAIN}").find
    if not by_service(job, MAIN):  # they are counted on the walk-through
        yield from _wires(panel, Findings(codebook, "walkthrough", topic=f"feeder.{MAIN}").find)
    yield from _feed(job, panel, ratings, load, feeder, find, codebook)
    apart = any(node.at in ("pole", "yard") for key in way_up(job, MAIN) if (node := job.panel_of(key)) is not None)
    least = codebook.step("dwelling_main_min_a", "least")
    if apart and feeder.rating.known and feeder.rating.amount < least.amount:
        yield find(
            "service.dwelling_feeder", at=feeder.rating.place, rating=feeder.rating, least=least, cites=least.cites
        )


def _breaker_open(job: Job, panel: Panel) -> bool:
    """Whether a feeder begins at a breaker that nobody has entered."""
    return panel.breaker_a is None and not by_load_side(job, panel)


def _deciding(feeder: FeederFigures) -> Entry:
    """The device that decides about terminals: the one ahead, of a tap the one it ends at."""
    return feeder.rating if feeder.tap is None or feeder.own is None else feeder.own


def _feed(
    job: Job,
    panel: Panel,
    ratings: Mapping[str, Entry],
    load: FeederLoad,
    feeder: FeederFigures,
    find: Find,
    codebook: Codebook,
) -> Iterator[Finding]:
    """The feeder itself: its device, what it carries, its conductors as found, the bus at its end."""
    name = panel.name or "sub-panel"
    if _breaker_open(job, panel):
        yield find("feeder.breaker", at=at(panel, "breaker_a"), name=name)
        return
    begins = panel.breaker_a if panel.id != MAIN or not by_load_side(job, panel) else None
    if begins is not None and not is_standard_rating(codebook, begins):
        yield find("feeder.rating", at=at(panel, "breaker_a"), breaker_a=begins, name=name)
    fed = fed_at(job, panel)
    above = ratings.get(fed)
    if begins is not None and above is not None and above.known and begins > above.amount:
        yield find("feeder.over_main", at=at(panel, "breaker_a"), main=fed == MAIN, breaker_a=begins, above=above)
    rating, carried = feeder.rating, feeder.carried
    direct = panel.id == MAIN and load.whole and fed in AHEAD and by_load_side(job, panel)  # told with the main
    if carried.known and rating.known and carried.amount > rating.amount and not direct:
        yield find(
            "feeder.load",
            at=at(panel, "load_a"),
            name=name,
            carried=carried,
            rating=rating,
            rating_text=rating_text(codebook, carried.amount),
        )
    if feeder.tap is not None:
        yield from tap_findings(panel, feeder, find, codebook)
    yield from later_findings(panel, load, _deciding(feeder), find)
    yield from _conductors(job, panel, load, feeder, find, codebook)
    yield from _insulation(job, panel, load, feeder, find, codebook)
    yield from found_findings(job, panel, feeder, find, codebook)
    lands_in_bus = panel.id != MAIN or fed not in AHEAD or not by_load_side(job, panel) or feeder.tap is not None
    if lands_in_bus:  # else it is told with the service
        yield from _bus(panel, rating, find)


def _building(job: Job, panel: Panel, find: Find) -> Iterator[Finding]:
    """Electrodes and a disconnect at another building."""
    name = panel.name or "sub-panel"
    if panel.separate_building and panel.rods < 2 and job.grounding.practice != "concrete":
        yield find("feeder.gec", at=at(panel, "rods"), name=name, rods=panel.rods)
    if panel.separate_building and not panel.disconnect and panel.takes_circuits:
        yield find("feeder.disconnect", at=at(panel, "disconnect"), name=name)


def _aic(panel: Panel, fault: Entry, find: Find) -> Iterator[Finding]:
    """Its AIC rating, against the fault current there."""
    name = panel.name or "sub-panel"
    if fault.known and panel.box.aic_a is None:
        yield find("feeder.aic_unknown", at=at(panel, "box.aic_a"), name=name, fault=fault)
    if fault.known and panel.box.aic_a is not None and fault.amount > panel.box.aic_a:
        yield find(
            "feeder.aic",
            at=at(panel, "box.aic_a"),
            name=name,
            fault=fault,
            aic_a=panel.box.aic_a,
            next_aic=next_aic(fault.amount),
        )


def _label(panel: Panel, rating: Entry, find: Find, codebook: Codebook) -> Iterator[Finding]:
    """What its label says, where nobody has read it and it decides something."""
    most_a = codebook.number("terminal_60_max_a")
    if panel.takes_circuits and not panel.label_read:
        yield find("feeder.label", at=at(panel, "box.spaces"), panel=panel.name)
    if panel.box.terminals_c is None and rating.known and rating.amount <= most_a:
        yield find("feeder.terminals", at=at(panel, "box.terminals_c"), panel=upper_first(panel.name), most_a=most_a)


def _own_main(panel: Panel, carried: Entry, find: Find, codebook: Codebook, tapped: bool = False) -> Iterator[Finding]:
    """A main of its own, behind the feeder's device, below what goes through it."""
    own_a = panel.box.main_a
    if not panel.box.has_main or not panel.takes_circuits or not carried.known or not carried.amount:
        return
    if own_a is None:
        if panel.there and not tapped:
            yield find("feeder.own_main_unread", at=at(panel, "box.main_a"), name=panel.name, carried=carried)
    elif carried.amount > own_a:
        text = rating_text(codebook, carried.amount)
        yield find(
            "feeder.own_main",
            at=at(panel, "box.main_a"),
            name=panel.name,
            carried=carried,
            own_a=own_a,
            rating_text=text,
        )


def _wires(panel: Panel, find: Find) -> Iterator[Finding]:
    """Wires of a feeder: four; three only on an old one to a separate building that no other metal path joins [250.32(B) Ex.]."""
    name = panel.name or "sub-panel"
    three, old = three_wires_stay(panel), ("outbuilding_three", "outbuilding_wires")
    inside = not panel.separate_building
    bare = panel.found and panel.found_wiring == "se" and panel.wires != 4
    if panel.wires is not None and panel.wires not in (3, 4):
        yield find("feeder.wires_count", at=at(panel, "wires"), name=name, wires=panel.wires)
    elif panel.found and panel.wires is None and not (bare and inside):
        yield find("feeder.wires_unknown", at=at(panel, "wires"), name=name, inside=inside)
    elif three is None and not inside:
        yield find("feeder.wires_metal", at=at(panel, "metal_path"), name=name)
    elif (panel.wires == 3 or bare) and not three:
        yield find(
            "feeder.wires",
            at=at(panel, "wires"),
            rules=("feeder_wires", "bars_apart") if inside else old,
            stays=inside or panel.found,
            inside=inside,
            main=panel.id == MAIN,
            found=panel.found,
            name=name,
        )


def _bond(panel: Panel, find: Find) -> Iterator[Finding]:
    """The bond in a panel behind the service: none, but on an old feeder of three wires that stays."""
    name, three = panel.name or "sub-panel", three_wires_stay(panel)
    if panel.box.first_disconnect and three is False:
        yield find("feeder.bond", at=at(panel, "box.first_disconnect"), name=name)
    if three is True and not panel.box.first_disconnect:
        yield find("feeder.bond_missing", at=at(panel, "box.first_disconnect"), name=name)


def _load(panel: Panel, load: FeederLoad, carried: Entry, main_open: bool, find: Find) -> Iterator[Finding]:
    """A load that is not known for want of the floor area its general circuits serve: its own, or what is left of the dwelling's for the main
    panel beside it."""
    own = not carried.known and load.calculation is not None and not load.calculation.general.known
    if (own or (main_open and not panel.separate_building)) and panel.area is None:
        yield find("feeder.area", at=at(panel, "area"), panel=panel.name)


def _rating(panel: Panel, circuits: int, rating: Entry, find: Find, codebook: Codebook) -> Iterator[Finding]:
    """The disconnect of a separate building: 15 A for one circuit, 30 A for two, 60 A for more [225.39]."""
    if not panel.separate_building or not rating.known or not circuits:
        return
    name = {1: "outbuilding_one_a", 2: "outbuilding_two_a"}.get(circuits, "outbuilding_least_a")
    least = codebook.step(name, "least")
    if rating.amount < least.amount:
        yield find(
            "feeder.least",
            at=at(panel, "breaker_a"),
            cites=least.cites,
            panel=panel.name,
            least=least,
            circuits=circuits,
            rating=rating,
        )


def later_findings(panel: Panel, load: FeederLoad, rating: Entry, find: Find) -> Iterator[Finding]:
    """Futures that the feeder does not hold: it is planned once, before the ditch is closed."""
    for future, _made, amperes in load.later:
        if rating.known and amperes.known and amperes.amount > rating.amount:
            yield find(
                "feeder.later",
                at=Place.of("future", future.id),
                of=future.id,
                panel=panel.name,
                future=future.name,
                amperes=amperes,
                rating=rating,
            )


def _conductors(
    job: Job, panel: Panel, load: FeederLoad, made: FeederFigures, find: Find, codebook: Codebook
) -> Iterator[Finding]:
    """Conductors of a feeder that stays, against its breaker, of a tap against what it needs; where marks nobody has read would make them good
    for it, a question."""
    rating, limit = made.tap or made.rating, made.limit
    if panel.found and limit is None:
        yield find("feeder.conductors", at=at(panel, "conductors"), known=rating.known, panel=panel.name, rating=rating)
    elif limit is not None and limit.known and rating.known and rating.amount > limit.amount:
        best = feeder_limit_entry(marked(job), panel, _deciding(made), (load, made.carried), codebook)
        yield find(
            "feeder.wire" if made.tap is None else "feeder.tap_wire",
            unread=best is not None and best.known and rating.amount <= best.amount,
            at=at(panel, "conductors"),
            conductors=str(found_conductors(job, panel)),
            panel=panel.name,
            rating=rating,
            limit=limit,
        )


def _insulation(
    job: Job, panel: Panel, load: FeederLoad, made: FeederFigures, find: Find, codebook: Codebook
) -> Iterator[Finding]:
    """Insulation of conductors found that nobody has read is asked for where it decides: at 60 °C they would be too small. A cable says by its
    kind what it is."""
    rating, limit = made.tap or made.rating, made.limit
    if panel.insulation_c is not None or panel.found_wiring in ("se", "ser", "nm") or limit is None:
        return
    if not limit.known or not rating.known or rating.amount > limit.amount:
        return
    old = feeder_limit_entry(job, replace(panel, insulation_c=60), _deciding(made), (load, made.carried), codebook)
    if old is not None and old.known and old.amount < rating.amount:
        yield find(
            "feeder.insulation",
            at=at(panel, "insulation_c"),
            conductors=str(found_conductors(job, panel)),
            panel=panel.name,
            rating=rating,
            old=old,
        )


def _bus(panel: Panel, rating: Entry, find: Find) -> Iterator[Finding]:
    """The bus against the device ahead of it, or its own main where that was read and is smaller [408.36]; one whose label was not
    read is asked for once circuits can go in."""
    bus_a, own_a = panel.box.bus_a, panel.box.main_a if panel.box.has_main else None
    rating_a = rating.amount if rating.known else panel.breaker_a
    if own_a is not None and rating_a is not None:
        rating_a = min(own_a, rating_a)
    if panel.label_read and bus_a <= 0:
        yield find("feeder.bus_unknown", at=at(panel, "box.bus_a"), panel=panel.name)
    elif bus_a > 0 and rating_a is not None and rating_a > bus_a:
        yield find("feeder.bus_breaker", at=at(panel, "box.bus_a"), panel=panel.name, bus_a=bus_a, rating_a=rating_a)


def _service_bond(panel: Panel, find: Find) -> Iterator[Finding]:
    """A panel with nothing of the service ahead of it is a service disconnect: it has a main and the bond."""
    if not panel.box.first_disconnect:
        yield find("feeder.bond_service", at=at(panel, "box.first_disconnect"), panel=panel.name)
    if not panel.box.has_main and panel.takes_circuits:
        yield find("feeder.service_main", at=at(panel, "box.main"), panel=panel.name)
