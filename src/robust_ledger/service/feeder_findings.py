"""What is wrong with the feeders and their panels: what feeds them, breaker, load, bus, wires, bond, electrodes, disconnect, AIC."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Mapping

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import is_standard_rating, rating_text
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN, Panel
from robust_ledger.job.tree import fed_at, in_order, is_enclosure, is_service, lost, parent
from robust_ledger.ledger.entry import Entry, Finding, Severity
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place
from robust_ledger.load.feeder import FeederLoad
from robust_ledger.service.bonds import three_wires_stay
from robust_ledger.service.fault import next_aic
from robust_ledger.service.feeder import at

STAGE = "service"
Make = Callable[..., Finding]


def feeder_findings(
    job: Job, main: Entry, loads: Mapping[str, FeederLoad], entries: Mapping[str, Entry], codebook: Codebook
) -> Iterator[Finding]:
    """Findings of every panel beside the main one; `main` is the device ahead of the main panel's bus, `loads` what the feeders carry."""
    yield from _tree(job, codebook)
    ratings = {
        MAIN: main,
        "disconnect": entries.get("service.protection", main),
        **{panel.id: entries[f"feeder.{panel.id}.rating"] for panel in in_order(job) if not is_enclosure(job, panel)},
    }
    for panel in in_order(job):
        if is_enclosure(job, panel):
            yield from _enclosure(panel, ratings["disconnect"], codebook)
        else:
            yield from _of_panel(job, panel, ratings, loads, entries, codebook)


def _tree(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """What is wrong with the tree itself."""
    make = Findings("feeder", codebook, STAGE).make
    if job.scope.feeder == "renewed" and not job.panels:
        yield make(
            "none",
            Severity.ASK,
            at=Place("panels:"),
            title="Feeder renewed, but no panel entered",
            text="The scope says that a feeder is renewed; which panel it feeds is not known.",
            remedy="Add the panel on the Panels page, with the breaker of its feeder.",
        )
    names = Counter(panel.name.strip().lower() for panel in job.panels)
    for panel in job.panels:
        mine = Findings(f"feeder.{panel.id}", codebook, STAGE).make
        if why := lost(job, panel):
            yield mine(
                "lost",
                Severity.STOP,
                at=at(panel, "fed_from"),
                title=f"The {panel.name or 'panel'} is fed {why}",
                text="Until that is mended it is counted as fed from the main panel.",
                remedy="Say on the Panels page what feeds it.",
                kind="lost",
            )
        if names[panel.name.strip().lower()] > 1:
            yield mine(
                "name",
                Severity.FIX,
                at=at(panel, "name"),
                title=f'Two panels are called "{panel.name}"',
                text="Directories, labels and breakers are told apart by the panel's name.",
                remedy="Give each a name of its own.",
                kind="name",
            )
        if panel.fed_by == "same" and not is_enclosure(job, panel) and job.disconnect_ahead:
            yield mine(
                "enclosure",
                Severity.FIX,
                at=at(panel, "fed_by"),
                title=f"The {panel.name} is not the disconnect's enclosure",
                text="One panel fed from the disconnect ahead can be that; this one is counted as fed by a breaker.",
                remedy="Say that a breaker or lugs feed it, or feed it from the disconnect ahead and no other that way.",
                kind="enclosure",
            )
        if parent(job, panel) == "meter" and not job.scope.split:
            yield mine(
                "at_meter",
                Severity.ASK,
                at=at(panel, "fed_from"),
                title=f"The {panel.name} is fed from the meter, the service is not split",
                text="A second panel straight from the meter is a service disconnect of its own.",
                remedy='Answer "split" in the scope, or say which panel feeds it.',
                rules=("service_grouped",),
                kind="at_meter",
            )
        if parent(job, panel) == "disconnect" and not job.disconnect_ahead:
            yield mine(
                "no_disconnect",
                Severity.ASK,
                at=at(panel, "fed_from"),
                title=f"The {panel.name} is fed from a disconnect that is not entered",
                text="No disconnect stands ahead of the main panel, found or planned.",
                remedy="Enter it in the scope, or say what feeds this panel.",
                kind="no_disconnect",
            )
    buildings = Counter((parent(job, p), p.name.strip().lower()) for p in job.panels if p.separate_building)
    for (_above, name), count in buildings.items():
        if count > 1:
            twice = next(p for p in job.panels if p.name.strip().lower() == name)
            yield make(
                f"two:{twice.id}",
                Severity.FIX,
                at=at(twice, "separate_building"),
                title=f"{count} feeders to one building ({twice.name})",
                text="A building is fed by one feeder, but for a few special cases.",
                remedy="Feed the second panel from the first one there, or say which building it is in.",
                rules=("outbuilding_one",),
            )


def _enclosure(panel: Panel, protection: Entry, codebook: Codebook) -> Iterator[Finding]:
    """The bus of a disconnect with spaces of its own, against its own main."""
    if panel.box.bus_a and protection.known and protection.amount > panel.box.bus_a:
        yield Findings(f"feeder.{panel.id}", codebook, STAGE).make(
            "bus",
            Severity.STOP,
            at=at(panel, "box.bus_a"),
            title=f"{panel.name}: bus of {panel.box.bus_a:g} A behind {protection.text()}",
            text="Its own main does not protect its bus.",
            remedy=f"Take one with a bus of {protection.text()} or more, or a main of {panel.box.bus_a:g} A or less.",
            rules=("panel_bus",),
        )


def _of_panel(
    job: Job,
    panel: Panel,
    ratings: Mapping[str, Entry],
    loads: Mapping[str, FeederLoad],
    entries: Mapping[str, Entry],
    codebook: Codebook,
) -> Iterator[Finding]:
    name = panel.name or "sub-panel"
    make = Findings(f"feeder.{panel.id}", codebook, STAGE).make
    if is_service(job, panel):
        yield from _service_bond(panel, make)
    else:
        yield from _wires(panel, make)
    if panel.breaker_a is None and panel.fed_by != "lugs":
        yield make(
            "breaker",
            Severity.ASK,
            at=at(panel, "breaker_a"),
            title=f"Feeder to the {name}: breaker not entered",
            text="Nothing of the feeder can be sized without it.",
            remedy="Enter the breaker planned for it.",
        )
        return
    if panel.breaker_a is not None and not is_standard_rating(codebook, panel.breaker_a):
        yield make(
            "rating",
            Severity.FIX,
            at=at(panel, "breaker_a"),
            title=f"{panel.breaker_a:g} A is not a standard size",
            text=f"The feeder to the {name} is unknown with it.",
            remedy="Choose a standard rating.",
            rules=("standard_ratings",),
        )
    fed = fed_at(job, panel)
    above = ratings.get(fed)
    if panel.breaker_a is not None and above is not None and above.known and panel.breaker_a > above.amount:
        yield make(
            "over_main",
            Severity.FIX,
            at=at(panel, "breaker_a"),
            title=f"Feeder breaker {panel.breaker_a:g} A above {'the main' if fed == MAIN else 'the one ahead'}",
            text=f"Ahead of it stand {above.text()}; the feeder's breaker never opens first.",
            remedy=f"Choose {above.text()} or less.",
        )
    rating, carried = entries[f"feeder.{panel.id}.rating"], entries[f"feeder.{panel.id}.carried"]
    if carried.known and rating.known and carried.amount > rating.amount:
        yield make(
            "load",
            Severity.STOP,
            at=at(panel, "load_a"),
            title=f"The {name} is to carry more than its breaker",
            text=f"{carried.text()} on a breaker of {rating.text()}.",
            remedy=f"A breaker of {rating_text(codebook, carried.amount)} with its feeder, or no more than {rating.text()} of load.",
            rules=("service_rating",),
        )
    yield from _load(panel, carried, make)
    yield from _rating(panel, loads[panel.id].circuits, rating, make, codebook)
    yield from later_findings(panel, loads[panel.id], rating, make)
    yield from _conductors(panel, rating, entries.get(f"feeder.{panel.id}.limit"), make)
    yield from _bus(panel, rating, make)
    if panel.separate_building and panel.rods < 2 and job.grounding.practice != "concrete":
        yield make(
            "gec",
            Severity.FIX,
            at=at(panel, "rods"),
            title=f"The {name} needs electrodes of its own",
            text=f"A separate building with a feeder; {panel.rods} rods are planned there.",
            remedy="Drive two rods 6 ft or more apart there, or accept with the electrode that is there.",
            rules=(
                "outbuilding_electrode",
                "electrode_rods",
            ),
        )
    if panel.separate_building and not panel.disconnect:
        yield make(
            "disconnect",
            Severity.FIX,
            at=at(panel, "disconnect"),
            title=f"The {name} has no disconnect at the building",
            text="A separate building is switched off at or near where the feeder enters it.",
            remedy="Plan a main breaker or a switch there.",
            rules=("outbuilding_disconnect",),
        )
    fault = entries[f"feeder.{panel.id}.fault"]
    if fault.known and panel.box.aic_a is None:
        yield make(
            "aic_unknown",
            Severity.ASK,
            at=at(panel, "box.aic_a"),
            title=f"AIC rating of the {name} not read",
            text=f"Available fault current there: {fault.text()}; not known if its breakers are rated for it.",
            remedy="Read the rating on its label.",
            rules=("interrupting_rating",),
        )
    if fault.known and panel.box.aic_a is not None and fault.amount > panel.box.aic_a:
        yield make(
            "aic",
            Severity.STOP,
            at=at(panel, "box.aic_a"),
            title=f"Available fault current at the {name} above its rating",
            text=f"{fault.text()} against {panel.box.aic_a:,.0f} A.",
            remedy=f"Take breakers of {next_aic(fault.amount)} AIC or more.",
            rules=("interrupting_rating",),
        )


def _wires(panel: Panel, make: Make) -> Iterator[Finding]:
    """Wires and bond of the sub-panel: four and apart; three and bonded only on an old feeder to a separate building that no other
    metal path joins [250.32(B) Ex.]."""
    name = panel.name or "sub-panel"
    three, old = three_wires_stay(panel), ("outbuilding_three", "outbuilding_wires")
    if panel.found and panel.wires is None:
        yield make(
            "wires",
            Severity.ASK,
            at=at(panel, "wires"),
            title=f"Feeder to the {name}: wires not counted",
            text="With three wires its neutral is also the ground; whether that may stay depends on the building.",
            remedy="Count them in its panel: two hots, neutral, ground.",
            rules=("outbuilding_wires",),
        )
    elif panel.wires is not None and panel.wires not in (3, 4):
        yield make(
            "wires",
            Severity.ASK,
            at=at(panel, "wires"),
            title=f"Feeder to the {name}: {panel.wires} wires",
            text="A feeder for 120/240 V has three or four.",
            remedy="Count them again.",
            rules=("outbuilding_wires",),
        )
    elif three is None:
        yield make(
            "wires",
            Severity.ASK,
            at=at(panel, "metal_path"),
            title=f"3-wire feeder to the {name}: other metal between the buildings?",
            text="The old feeder may stay, bonded there, only if no metal pipe, fence, phone or cable shield joins the buildings.",
            remedy="Look for it; with any such path pull four wires.",
            rules=old,
        )
    elif panel.wires == 3 and three is False:
        inside = not panel.separate_building
        yield make(
            "wires",
            Severity.STOP if inside or panel.found else Severity.FIX,
            at=at(panel, "wires"),
            title=f"3-wire feeder to the {name}",
            text="In the same building its neutral would also be the ground."
            if inside
            else "Another metal path joins the buildings: it would carry neutral current."
            if panel.found
            else "A new feeder has an EGC of its own beside the neutral.",
            remedy="Pull four wires: two hots, an insulated neutral, an EGC; bars apart in its panel.",
            rules=("feeder_wires", "bars_apart") if inside else old,
        )
    if panel.box.first_disconnect and three is False:
        yield make(
            "bond",
            Severity.STOP,
            at=at(panel, "box.first_disconnect"),
            title=f"Neutral and ground would be bonded again in the {name}",
            text="Behind the first disconnect the neutral would share its current with every ground.",
            remedy="Take the screw or strap out; neutrals and grounds on separate bars.",
            rules=("bond_once", "bars_apart"),
        )
    if three is True and not panel.box.first_disconnect:
        yield make(
            "bond",
            Severity.STOP,
            at=at(panel, "box.first_disconnect"),
            title=f"Neutral and ground are not bonded in the {name}",
            text="Its feeder has three wires: without the bond there, a fault in that building trips nothing.",
            remedy="Put the bonding screw in and bond the electrodes there, or pull four wires.",
            rules=old,
        )


def _load(panel: Panel, carried: Entry, make: Make) -> Iterator[Finding]:
    """A load that is not known for want of the floor area its general circuits serve."""
    if not carried.known and "floor area" in carried.why_unknown and panel.area is None:
        yield make(
            "area",
            Severity.ASK,
            at=at(panel, "area"),
            title=f"Area the {panel.name} serves not entered",
            text="It has circuits for lighting and receptacles; their load goes by the floor area, none for a garage.",
            remedy="Enter the area, 0 for a garage or shed, or what the feeder is to carry.",
            rules=("general_lighting",),
        )


def _rating(panel: Panel, circuits: int, rating: Entry, make: Make, codebook: Codebook) -> Iterator[Finding]:
    """The disconnect of a separate building: 15 A for one circuit, 30 A for two, 60 A for more [225.39]."""
    if not panel.separate_building or not rating.known or not circuits:
        return
    name = {1: "outbuilding_one_a", 2: "outbuilding_two_a"}.get(circuits, "outbuilding_least_a")
    least = codebook.step(name, "least")
    if rating.amount < least.amount:
        yield make(
            "least",
            Severity.FIX,
            at=at(panel, "breaker_a"),
            title=f"Disconnect of the {panel.name} below {least.text()}",
            text=f"{circuits} circuits in a separate building; its feeder has {rating.text()}.",
            remedy=f"A disconnect there, and a feeder, of {least.text()} or more.",
            cites=least.cites,
        )


def later_findings(panel: Panel, load: FeederLoad, rating: Entry, make: Make) -> Iterator[Finding]:
    """Futures that the feeder does not hold: it is planned once, before the ditch is closed."""
    for future, made in load.later:
        if rating.known and made.amperes.known and made.amperes.amount > rating.amount:
            yield make(
                f"later:{future.id}",
                Severity.NOTE,
                at=Place.of("future", future.id),
                title=f"The feeder to the {panel.name} does not hold {future.name}",
                text=f"With it {made.amperes.text()} on {rating.text()}.",
                remedy=f"Pull the feeder for {made.amperes.text()} now, or leave raceway for it.",
                rules=("standard",),
            )


def _conductors(panel: Panel, rating: Entry, limit: Entry | None, make: Make) -> Iterator[Finding]:
    """Conductors of a feeder that stays, against its breaker."""
    if panel.found and limit is None:
        yield make(
            "conductors",
            Severity.ASK,
            at=at(panel, "conductors"),
            title=f"Feeder to the {panel.name}: conductors not read",
            text=f"It stays; whether it is good for {rating.text()} is not known." if rating.known else "It stays.",
            remedy="Read size and metal where it lands, like 6 Al.",
            rules=("ampacity",),
        )
    elif limit is not None and limit.known and rating.known and rating.amount > limit.amount:
        yield make(
            "wire",
            Severity.STOP,
            at=at(panel, "conductors"),
            title=f"{panel.conductors} to the {panel.name} on {rating.text()}",
            text=f"The feeder that stays is good for a breaker of {limit.text()}.",
            remedy=f"A breaker of {limit.text()} or less, or pull a new feeder.",
            rules=("ampacity", "next_size_up"),
        )


def _bus(panel: Panel, rating: Entry, make: Make) -> Iterator[Finding]:
    """The bus against the device ahead of it, or its own main where that was read and is smaller [408.36]; one whose label was not
    read is asked for once circuits can go in."""
    bus_a, own_a = panel.box.bus_a, panel.box.main_a if panel.box.has_main else None
    rating_a = rating.amount if rating.known else panel.breaker_a
    if own_a is not None and rating_a is not None:
        rating_a = min(own_a, rating_a)
    if panel.label_read and bus_a <= 0:
        yield make(
            "bus_unknown",
            Severity.ASK,
            at=at(panel, "box.bus_a"),
            title=f"Bus of the {panel.name} not read",
            text="Whether its feeder's breaker protects it is not known.",
            remedy="Read the bus rating on its label.",
            rules=("panel_bus",),
        )
    elif bus_a > 0 and rating_a is not None and rating_a > bus_a:
        yield make(
            "bus",
            Severity.STOP,
            at=at(panel, "box.bus_a"),
            title=f"Bus of the {panel.name} is {bus_a:g} A",
            text=f"A breaker of {rating_a:g} A does not protect it.",
            remedy=f"Take a panel with a bus of {rating_a:g} A or more, or a breaker of {bus_a:g} A or less, "
            "or read its own main if it has one.",
            rules=("panel_bus",),
        )


def _service_bond(panel: Panel, make: Make) -> Iterator[Finding]:
    """A panel with nothing of the service ahead of it is a service disconnect: it has a main and the bond."""
    if not panel.box.first_disconnect:
        yield make(
            "bond",
            Severity.STOP,
            at=at(panel, "box.first_disconnect"),
            title=f"Neutral and ground are not bonded in the {panel.name}",
            text="Nothing of the service stands ahead of it: without the bond there a fault trips nothing.",
            remedy="Mark it as a first disconnect and put its bonding screw in.",
            rules=("bond_once", "main_jumper"),
        )
    if not panel.box.has_main:
        yield make(
            "service_main",
            Severity.STOP,
            at=at(panel, "box.main"),
            title=f"The {panel.name} has no main breaker",
            text="Nothing of the service stands ahead of it: nothing protects its bus, and nothing turns it off.",
            remedy="Take a panel with a main breaker.",
            rules=("panel_protection",),
        )
