"""The feeder of a panel: conductors by the full table, neutral, equipment ground, and electrodes of another building."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

from msgspec.structs import replace

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import area_cmil, row_by_size, sound_rating_a
from robust_ledger.job.conductors import METAL_TEXT, Conductors
from robust_ledger.job.fields import choices_at
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import AHEAD, MAIN, Panel
from robust_ledger.job.tree import (
    by_load_side,
    by_service,
    carries_all,
    fed_at,
    is_tap,
    parent,
)
from robust_ledger.job.tree import place_of as at
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.load.feeder import FeederLoad
from robust_ledger.service.ampacity import (
    Needed,
    conditions,
    feeder_laid,
    picked,
    size_entry,
    write_carries,
)
from robust_ledger.service.bonding import electrode_size, ground_by_rating, in_each_set, table_row
from robust_ledger.service.fault import feeder_drop_entry, feeder_fault_entry
from robust_ledger.service.figures import FeederFigures
from robust_ledger.service.raceway import Way, pulled_neutral_entry, raceway_entry
from robust_ledger.service.sizing import largest_on, neutral_beside, open_to_83
from robust_ledger.service.taps import end_entry, ground_entry, least_entry, share_of

INSULATIONS = {"thwn": "THWN-2", "xhhw": "XHHW-2"}  # of conductors in raceway
WIRING_WORDS = choices_at("panels.wiring")


def feeder_figures(
    job: Job,
    panels: Sequence[Panel],
    loads: Mapping[str, FeederLoad],
    service: tuple[Entry, Entry | None],
    above: Mapping[str, Entry],
    line_volts: Step,
    codebook: Codebook,
) -> dict[str, FeederFigures]:
    """Everything about the feeders of the nodes, in the order in which they are fed, by their ids. `above`: fault current and the rating
    of the device ahead, for what goes on from lugs or a load side, by the node it stands at ("fault.panel", "rating.panel"), and of a main
    behind it ("own.panel"); `service`: the service conductors as planned and their neutral, None where those found stay: they go on to a node that
    everything goes through."""
    made: dict[str, FeederFigures] = {}
    known = dict(above)
    carried = carried_by(job, panels, loads)
    for panel in panels:
        mine = made[panel.id] = _figures_of(
            job, panel, (loads[panel.id], carried[panel.id]), service, known, line_volts, codebook
        )
        known[f"fault.{panel.id}"] = mine.fault
        known[f"rating.{panel.id}"] = known.get(f"own.{panel.id}") or mine.load_side
    return made


def carried_by(job: Job, panels: Sequence[Panel], loads: Mapping[str, FeederLoad]) -> dict[str, Entry]:
    """What each feeder carries [A]: never less than one that goes on from its end, though a calculation of more loads may come to less
    [220.53]; where one of those is not known, unknown."""
    made: dict[str, Entry] = {}
    for panel in reversed(panels):
        behind = [made[one.id] for one in panels if one.id in made and fed_at(job, one) == panel.id]
        made[panel.id] = carried_entry(panel, loads[panel.id], behind)
    return made


def _figures_of(
    job: Job,
    panel: Panel,
    loaded: tuple[FeederLoad, Entry],
    service: tuple[Entry, Entry | None],
    above: Mapping[str, Entry],
    line_volts: Step,
    codebook: Codebook,
) -> FeederFigures:
    load, carried = loaded
    rating = feeder_rating_entry(job, panel, above, codebook)
    tapped = is_tap(job, panel)
    own = end_entry(panel, codebook) if tapped else _own_device(job, panel, codebook)
    tap = least_entry(panel, rating, own, carried, codebook) if tapped and own is not None else None
    good_for = rating if tap is None or own is None else own  # what decides the column, and a neutral without a load
    whole = load.whole and carries_all(job, panel.id) and not panel.found and tap is None
    if whole:
        conductors = service[0]
    elif tap is not None:
        conductors = tap_conductor_entry(job, panel, tap, good_for, codebook)
    else:
        conductors = feeder_conductor_entry(job, panel, rating, (load, carried), codebook)
    if by_service(job, panel.id):
        ground = least_neutral_entry(job, panel, conductors, codebook)
    else:
        work = Working(f"feeder.{panel.id}.egc", f"EGC of the feeder to the {panel.name}", _device_place(job, panel))
        ground = ground_by_rating(work, work.entry_step(rating), panel.metal, codebook)
        ground = ground_entry(ground, conductors, codebook) if tapped else ground
        ground = in_each_set(ground, conductors, codebook)
    made = (conductors, ground, good_for, load)
    neutral, least = _neutrals(job, panel, made, service[1] if whole else None, tapped, codebook)
    wires = (conductors, neutral, ground)
    direct = panel.id == MAIN and fed_at(job, panel) in AHEAD  # the service's length goes on to it, and its drop
    of_service = direct and fed_at(job, panel) == "meter"  # so does its raceway
    return FeederFigures(
        rating=rating,
        carried=carried,
        conductors=conductors,
        neutral=neutral,
        ground=ground,
        drop=None if direct else feeder_drop_entry(panel, conductors, carried, line_volts, codebook),
        fault=_fault(job, panel, conductors, above, line_volts, codebook),
        is_service=by_service(job, panel.id),
        raceway=feeder_raceway_entry(job, panel, wires, codebook) if panel.in_raceway and not of_service else None,
        gec=feeder_electrode_entry(panel, conductors, codebook) if panel.separate_building else None,
        limit=feeder_limit_entry(job, panel, good_for, (load, carried), codebook),
        own=own,
        tap=tap,
        least_neutral=least,
    )


def _neutrals(
    job: Job,
    panel: Panel,
    made: tuple[Entry, Entry, Entry, FeederLoad],
    of_service: Entry | None,
    tapped: bool,
    codebook: Codebook,
) -> tuple[Entry, Entry | None]:
    """The neutral of a feeder, and the smallest that would do where another is pulled: with all of the dwelling's load from a device's load side on
    it is of the kind the service conductors are. `of_service`: that of the service, where its conductors go on to the node."""
    if of_service is not None:
        return of_service, None
    conductors, load = made[0], made[3]
    least = feeder_neutral_entry(job, panel, made, codebook)
    if panel.found or tapped or not load.whole or not by_load_side(job, panel):
        return least, None
    return pulled_neutral_entry(job, conductors, least, codebook, panel), least


def _fault(
    job: Job, panel: Panel, conductors: Entry, known: Mapping[str, Entry], line_volts: Step, codebook: Codebook
) -> Entry:
    """Fault current at a node [A]: along its feeder, or that of the meter in whose enclosure it is. The service's own length goes to the main
    panel, by way of a disconnect ahead of it."""
    above = known[f"fault.{fed_at(job, panel)}"]
    if panel.id == MAIN and fed_at(job, panel) in AHEAD:
        return known["fault.panel"]
    if not panel.in_meter or fed_at(job, panel) != "meter":
        return feeder_fault_entry(panel, conductors, above, line_volts, codebook)
    work = Working(f"feeder.{panel.id}.fault", f"Available fault current at the {panel.name}", at(panel, "in_meter"))
    return work.entry(work.entry_step(above, "in the meter's enclosure"), [codebook.cite("interrupting_rating")])


def _device_place(job: Job, panel: Panel) -> Place:
    """Where the device ahead is entered: its breaker, or what feeds it where it goes on from a device there."""
    return at(panel, "fed_from" if by_load_side(job, panel) else "breaker_a")


def _own_device(job: Job, panel: Panel, codebook: Codebook) -> Entry | None:
    """The device of a disconnect or of transfer equipment behind the breaker of its feeder [A]; None where its feeder's is its own, or no other
    was read."""
    if panel.takes_circuits or panel.box.main_a is None or fed_at(job, panel) == "meter":
        return None
    work = Working(f"feeder.{panel.id}.own", f"Device of the {panel.name}", at(panel, "box.main_a"))
    rating = work.given("as read", sound_rating_a(codebook, panel.box.main_a), "A", at(panel, "box.main_a"))
    return work.entry(rating, [codebook.cite("feeder_protection")])


def least_neutral_entry(job: Job, panel: Panel, hot: Entry, codebook: Codebook) -> Entry:
    """The least neutral to a panel that is a service disconnect: by the ungrounded size, as it is the way back for a fault too
    [250.24(C)(1), T250.102(C)(1)]."""
    words = f"Least neutral to the {panel.name}"
    work = Working(f"feeder.{panel.id}.least_neutral", words, _device_place(job, panel))
    work.entry_step(hot)
    one = picked(hot)
    row = row_by_size(codebook, "bonding_jumper", one.size, one.metal) if one else None
    if one is None or row is None:
        return work.entry(Step("size", None))
    cites = (codebook.cite("neutral_minimum"), codebook.cite("bonding_jumper"))
    least = Conductors(row[f"{panel.metal}_size"], panel.metal)
    return work.entry(work.take(Step("from the table", least, cites=cites)), cites)


def feeder_rating_entry(job: Job, panel: Panel, above: Mapping[str, Entry], codebook: Codebook) -> Entry:
    """The device that protects the feeder [A]: its breaker, or the device ahead of the lugs it is tapped from [240.21]."""
    work = Working(f"feeder.{panel.id}.rating", f"Device ahead of the {panel.name}", _device_place(job, panel))
    source = above.get(f"rating.{fed_at(job, panel)}")
    if by_load_side(job, panel) and source is not None:
        how = "fed from the load side of a disconnect"
        feeding = job.panel_of(parent(job, panel))
        if panel.fed_by == "tap":
            how = "a tap, no device where it begins"
        elif parent(job, panel) == MAIN or (feeding is not None and feeding.takes_circuits):
            how = "fed by feed-through lugs"
        work.note(how, "protected by the device ahead", [codebook.cite("feeder_protection")])
        return work.entry(work.entry_step(source), [codebook.cite("feeder_protection")])
    rating_a = panel.breaker_a
    sound = sound_rating_a(codebook, rating_a)
    label = "breaker of the feeder" if fed_at(job, panel) != "meter" else "its main"
    label += "" if sound or rating_a is None else f": {rating_a:g} A is not a standard size"
    return work.entry(work.given(label, sound, "A", at(panel, "breaker_a")), [codebook.cite("feeder_protection")])


def carried_entry(panel: Panel, load: FeederLoad, behind: Sequence[Entry] = ()) -> Entry:
    """What the feeder carries [A]: the calculated load, or what was said of it where that is more; and never less than a feeder behind it."""
    work = Working(f"feeder.{panel.id}.carried", f"Load of the feeder to the {panel.name}", at(panel, "load_a"))
    said = panel.load_a if panel.load_a is not None and panel.load_a > 0 else None
    if any(not one.known for one in behind):
        return work.entry(work.entry_step(next(one for one in behind if not one.known)))
    more = [work.entry_step(one) for one in behind if load.amperes.known and one.amount > load.amperes.amount]
    if said is None and not more:
        return work.entry(work.entry_step(load.amperes))
    given = [work.given("as entered", said, "A", at(panel, "load_a"))] if said is not None else []
    if not load.amperes.known:
        return work.entry(given[0] if given else work.entry_step(load.amperes))
    return work.entry(work.larger("the largest of them", [*given, work.entry_step(load.amperes), *more]))


def feeder_conductor_entry(
    job: Job, panel: Panel, rating: Entry, loaded: tuple[FeederLoad, Entry], codebook: Codebook
) -> Entry:
    """Ungrounded conductors of the feeder: those found where it stays. Else by its breaker: it carries part of the load, so no 83%; the breaker
    may be the next standard rating above the ampacity, never above one that is standard itself [240.4(B), T310.16]; for one of several service
    disconnects, and by the strict practice, the whole rating. With all of the dwelling's load the 83% rule is open to it [310.12]."""
    load, carried = loaded
    run = "Service conductors" if by_service(job, panel.id) else "Feeder"
    words = f"{run} to the {panel.name}, {METAL_TEXT[panel.metal]}"
    work = Working(f"feeder.{panel.id}.conductors", words, _device_place(job, panel))
    if panel.found:
        return work.entry(_as_found(work, job, panel))
    breaker = work.entry_step(rating)
    if not breaker.known:
        return work.entry(Step("size", None))
    whole = load.whole and job.decisions.conductor_rule == "dwelling"
    if whole and not open_to_83(job, breaker.amount, True, codebook):
        factor = work.take(codebook.step("dwelling_factor", "83% rule: it carries all of the dwelling's load"))
        needed = Needed(work.product("ampacity needed", [breaker, factor], "A").amount, 0.0, "none")
        cites = [codebook.cite("dwelling_conductors")]
        return size_entry(work, job, feeder_laid(job, panel), panel.metal, needed, breaker.amount, cites, codebook)
    why = "not used, by choice" if load.whole else "not allowed: it carries part of the load"
    work.note("83% rule", why, [codebook.cite("dwelling_conductors")])
    if carried.known:
        load_a = work.entry_step(carried, "load of the panel").amount
    else:  # then the next size up is not open: nothing says that the load stays below the ampacity
        load_a = work.entry_step(rating, "its load is not known: all of the rating").amount
        if load.amperes.known and load.amperes.amount > load_a:
            load_a = work.entry_step(load.amperes, "at least").amount
    if load_a > breaker.amount:  # a device below the load fails by itself
        load_a = breaker.amount
        work.note("no more than the device ahead passes", f"{breaker.amount:g} A")
    part_of_service = by_service(job, panel.id) and not load.whole
    whole_rating = part_of_service or job.decisions.conductor_rule == "strict"
    needed = Needed(load_a, breaker.amount, "whole" if whole_rating else "next")
    return size_entry(work, job, feeder_laid(job, panel), panel.metal, needed, breaker.amount, (), codebook)


def tap_conductor_entry(job: Job, panel: Panel, least: Entry, end: Entry, codebook: Codebook) -> Entry:
    """Ungrounded conductors of a tap: those found where it stays, else the smallest with the ampacity it needs. No next size up is open
    to a tap [240.21]."""
    work = Working(f"feeder.{panel.id}.conductors", f"Tap to the {panel.name}, {METAL_TEXT[panel.metal]}", least.place)
    if panel.found:
        return work.entry(_as_found(work, job, panel))
    needed = work.entry_step(least)
    if not needed.known:
        return work.entry(Step("size", None))
    cites, laid = [codebook.cite(share_of(panel, codebook)[1])], feeder_laid(job, panel)
    return size_entry(work, job, laid, panel.metal, Needed(needed.amount, 0.0, "none"), end.amount, cites, codebook)


def _as_found(work: Working, job: Job, panel: Panel) -> Step:
    """The conductors of a feeder that stays; unknown while nobody has read them."""
    there, place = found_conductors(job, panel), at(panel, "conductors")
    if there is None:
        return work.given("conductors found: size and metal, to be read", None, "", place)
    return work.take(Step("as found", there, place=place))


def found_conductors(job: Job, panel: Panel) -> Conductors | None:
    """The conductors of a feeder that stays, as read for it or with the old circuit that it is; None while they were not read."""
    if not panel.found:
        return None
    if panel.conductors:
        return Conductors.read(panel.conductors)
    circuit = job.circuit(panel.feeder_tag) if panel.feeder_tag is not None else None
    return Conductors(circuit.gauge, circuit.metal) if circuit is not None and circuit.gauge else None


def feeder_limit_entry(
    job: Job, panel: Panel, rating: Entry, loaded: tuple[FeederLoad, Entry], codebook: Codebook
) -> Entry | None:
    """The largest breaker [A] that the conductors found are good for; None where nothing was found and read."""
    there = found_conductors(job, panel)
    if there is None:
        return None
    words = f"Feeder to the {panel.name}: largest breaker"
    work = Working(f"feeder.{panel.id}.limit", words, at(panel, "conductors"))
    laid, rating_a = feeder_laid(job, panel), rating.amount if rating.known else 0.0
    if panel.insulation_c is None:
        work.note("insulation", f"not read: {laid.own_c} °C taken")
    if is_tap(job, panel):  # neither the small conductors' devices nor the next size up are a tap's
        carries = write_carries(work, job, laid, there, rating_a, conditions(work, laid, codebook), codebook)
        cite = codebook.cite(share_of(panel, codebook)[1])
        return work.entry(work.take(Step("largest breaker on it", carries.value, "A", cites=(cite,))), [cite])
    load, carried = loaded
    whole = (by_service(job, panel.id) and not load.whole) or job.decisions.conductor_rule == "strict"
    practice: Literal["next", "whole"] = "whole" if whole else "next"
    return work.entry(largest_on(work, job, laid, there, rating_a, (carried, load.whole), practice, codebook))


def feeder_neutral_entry(
    job: Job, panel: Panel, made: tuple[Entry, Entry, Entry, FeederLoad], codebook: Codebook
) -> Entry:
    """The feeder's neutral: for the unbalance calculated, or the load said, or the breaker's rating without either; not below the EGC
    [215.2, 220.61]. `made`: hots, EGC, rating and load of the feeder."""
    hot, ground, rating, load = made
    work = Working(f"feeder.{panel.id}.neutral", f"Neutral of the feeder to the {panel.name}", at(panel, "load_a"))
    work.entry_step(hot)
    picked_hot, least = picked(hot), picked(ground)
    if picked_hot is None or least is None:
        return work.entry(Step("size", None))
    said = panel.load_a if panel.load_a is not None and panel.load_a > 0 else None
    if load.neutral.known and said is None:
        amps = work.entry_step(load.neutral, "largest unbalance")
    elif said is not None:
        amps = work.given("largest unbalance: all of its load", said, "A", at(panel, "load_a"))
        if load.neutral.known:
            amps = work.larger("the larger of both", [amps, work.entry_step(load.neutral, "unbalance as calculated")])
    else:
        amps = work.entry_step(rating, "its load is not known: the breaker's rating")
    if not amps.known:
        return work.entry(work.take(Step("neither is known: as the hots", picked_hot)))
    words = "not below the least by the hots" if by_service(job, panel.id) else "not below the EGC"
    floor = Step(words, ground.value, cites=(codebook.cite("feeder_neutral"),))
    carried = amps.amount, rating.amount if rating.known else 0.0
    result = neutral_beside(work, job, feeder_laid(job, panel), picked_hot, carried, floor, codebook)
    return work.entry(result, [codebook.cite("feeder_neutral")])


def feeder_raceway_entry(job: Job, panel: Panel, made: tuple[Entry, Entry, Entry], codebook: Codebook) -> Entry:
    """The trade size [in] for two hots, the neutral and, with four wires, an insulated EGC [Ch. 9 T1]. `made`: hots, neutral, EGC."""
    place = at(panel, "raceway")
    words = f"Raceway of the feeder to the {panel.name}"
    sizes = [one.size for entry in made if (one := picked(entry)) is not None]
    if not panel.raceway or len(sizes) < len(made):
        work = Working(f"feeder.{panel.id}.raceway", words, place)
        return work.entry(work.given("kind of raceway" if not panel.raceway else "its conductors", None, "", place))
    hot, neutral, ground = sizes
    three = by_service(job, panel.id) or (panel.found and panel.wires == 3)
    way = Way(panel.raceway, INSULATIONS[panel.laid_as], False, place)
    needed = raceway_entry(
        f"feeder.{panel.id}.raceway", [hot, hot, neutral, *([] if three else [ground])], way, codebook
    )
    return replace(needed, label=words)


def feeder_electrode_entry(panel: Panel, hot: Entry, codebook: Codebook) -> Entry:
    """The GEC of a separate building, in copper: by the feeder's size, to rods no more than 6 [250.32]."""
    work = Working(f"feeder.{panel.id}.gec", f"GEC of the {panel.name}", at(panel, "rods"))
    row = table_row(work, hot, "electrode", codebook)
    if row is None:
        return work.entry(Step("size", None))
    table = work.take(Step("from the table", Conductors(row["cu_size"], "cu"), cites=(codebook.cite("electrode"),)))
    most = work.take(codebook.step("electrode_rod_most_cu", "to rods never more than"))
    smaller = min(str(table.value), str(most.value), key=lambda text: area_cmil(codebook, text.split()[0]) or 0)
    picked_size = electrode_size(smaller.split()[0], "cu")
    return work.entry(work.take(Step("the smaller of both", picked_size)), [codebook.cite("outbuilding_electrode")])
