"""Ground-fault protection: by place, appliance, voltage, how it is connected and the kind of work [210.8, 406.4(D), 422.5, 424.44, 625.54, 680]."""

from __future__ import annotations

from datetime import date
from functools import lru_cache

from robust_ledger.branch.asked import ASK_AHJ, IF_EXTENDED, NOT_KNOWN, NOT_REQUIRED, REQUIRED, Ask, Verdict
from robust_ledger.branch.serves import Serves, inside_place
from robust_ledger.branch.vocabulary import outlet_of
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.ledger.entry import Citation

HVAC = frozenset({"heat pump", "air conditioner"})
SINK_FT = "ground_fault_sink_ft"
_GUESS = "; taken as a receptacle, choose hard-wired if it is"
_WATER = {"hot tub": "ground_fault_spa", "hydromassage tub": "ground_fault_tub"}


@lru_cache(maxsize=4096)
def ground_fault(ask: Ask, codebook: Codebook) -> Verdict:
    """Whether a circuit is to be ground-fault protected, with the reason and its sections."""
    wanted = _if_new(ask, codebook)
    if wanted.word != REQUIRED or ask.work in ("new", "extended"):
        return wanted
    if ask.work == "receptacles":
        replaced = codebook.cite("ground_fault_replaced")
        return Verdict(REQUIRED, f"receptacles replaced: {wanted.why}", (replaced, *wanted.cites))
    if ask.work == "appliance" and (cites := _by_new_appliance(ask, wanted, codebook)):
        return Verdict(REQUIRED, f"its appliance is new: {wanted.why}", (*cites, *wanted.cites))
    stays = "what is there may stay until it is replaced"
    if ask.work == "lengthened":
        stays = "a longer cable without a new outlet leaves it as it is"
    return Verdict(IF_EXTENDED, f"{wanted.why}; {stays}", (*wanted.cites, codebook.cite("ground_fault_replaced")))


def _by_new_appliance(ask: Ask, wanted: Verdict, codebook: Codebook) -> tuple[Citation, ...]:
    """The sections by which a new appliance on an old outlet asks for protection; none in editions without one."""
    named = str(codebook.step("ground_fault_new_appliances").value).split(", ")
    if any(name in ask.serves.appliances for name in named):
        return (codebook.cite("ground_fault_appliance"),)
    pump = codebook.step("ground_fault_pool_replaced")
    if "pool pump" in ask.serves.appliances and pump.amount:
        return pump.cites
    outdoors = codebook.cite("ground_fault_outdoor") in wanted.cites
    replaced = outdoors and codebook.number("ground_fault_outdoor_replaced")
    return (codebook.cite("ground_fault_outdoor"),) if replaced else ()


def _if_new(ask: Ask, codebook: Codebook) -> Verdict:
    """What the edition asks of a circuit installed today."""
    serves = ask.serves
    if (by_water := _water(ask, codebook)) is not None:
        return by_water
    for row in codebook.table("ground_fault_appliances").rows:
        if row["appliance"] in serves.appliances:
            rule = codebook.cite("ground_fault_appliance")
            return Verdict(REQUIRED, f"{row['appliance']}s: GFCI required in any location", (rule,))
    if "vehicle charger" in serves.appliances and serves.wired is not True:
        return _charging_receptacle(ask, codebook)
    if serves.wired is True:
        return _hard_wired(ask, codebook)
    plugged = _receptacles(ask, codebook)
    if serves.wired is None and _may_be_either(serves) and plugged.word == REQUIRED:
        return Verdict(REQUIRED, f"{plugged.why}{_GUESS}", plugged.cites)
    return plugged


def _may_be_either(serves: Serves) -> bool:
    """Whether its equipment may be hard-wired as well as plugged in: a word alone makes nothing hard-wired."""
    return any(outlet_of(name) == "either" for name in serves.appliances) and not serves.receptacles


def _water(ask: Ask, codebook: Codebook) -> Verdict | None:
    """Pools, spas, hydromassage tubs and heated floors: in every edition, whichever way they are connected."""
    serves = ask.serves
    for name, rule in _WATER.items():
        if name in serves.appliances:
            return Verdict(REQUIRED, f"{name}s: in any location, indoors too", (codebook.cite(rule),))
    if "pool pump" in serves.appliances:
        cite, most_a = codebook.cite("ground_fault_pool"), codebook.number("ground_fault_pool_most_a")
        if ask.rating_a is not None and ask.rating_a > most_a:
            return Verdict(NOT_REQUIRED, f"pool motors up to {most_a:g} A are named", (cite,))
        return Verdict(REQUIRED, "pool equipment, whichever way it is connected", (cite,))
    if "heated floor" in serves.appliances:
        cite = codebook.cite("ground_fault_floor")
        wet = serves.places & {"bath", "kitchen"}
        if not serves.places:
            return Verdict(NOT_KNOWN, "heated floor: which room is not known", (cite,))
        word = REQUIRED if wet else NOT_REQUIRED
        return Verdict(word, f"heated floor, {serves.where}", (cite,))
    return None


def _charging_receptacle(ask: Ask, codebook: Codebook) -> Verdict:
    rule, most_a = codebook.cite("ground_fault_ev"), codebook.number("ground_fault_ev_most_a")
    guess = "" if ask.serves.wired is False else _GUESS
    if ask.rating_a is not None and ask.rating_a > most_a:
        return Verdict(NOT_REQUIRED, f"a charging receptacle above the rating that is named{guess}", (rule,))
    return Verdict(REQUIRED, f"a charging receptacle{guess}", (rule,))


def _hard_wired(ask: Ask, codebook: Codebook) -> Verdict:
    """Equipment without a receptacle: named outdoors from 2020 on, in garages from 2023 on; machines for heating and cooling had a
    dated relief."""
    serves = ask.serves
    outdoors = bool(serves.appliances & HVAC and not serves.places - {"outdoors"}) or "outdoors" in serves.places
    cite, most_a = codebook.cite("ground_fault_outdoor"), codebook.number("ground_fault_outdoor_most_a")
    within = bool(most_a) and (ask.rating_a is None or ask.rating_a <= most_a)
    if outdoors and within:
        if serves.appliances & HVAC and (relief := _relief(ask, codebook)) is not None:
            return relief
        return Verdict(REQUIRED, f"an outdoor outlet of no more than {most_a:g} A", (cite,))
    if "garage" in serves.places and within and codebook.number("ground_fault_garage_hardwired"):
        return Verdict(REQUIRED, "hard-wired equipment in a garage", (cite,))
    if outdoors and most_a:
        return Verdict(NOT_REQUIRED, f"an outdoor outlet of more than {most_a:g} A", (cite,))
    return Verdict(NOT_REQUIRED, "hard-wired, not a receptacle", (codebook.cite("ground_fault"),))


def _relief(ask: Ask, codebook: Codebook) -> Verdict | None:
    """The dated relief of outdoor heating and cooling machines, by the job's date; None once it is over."""
    cite, until = codebook.cite("ground_fault_hvac"), str(codebook.step("ground_fault_hvac_until").value)
    try:
        on = date.fromisoformat(ask.date.strip())
    except ValueError:
        return Verdict(
            NOT_KNOWN, f"heating and cooling machines are exempt until {until}: the job's date decides", (cite,)
        )
    if on >= date.fromisoformat(until):
        return None
    if codebook.number("ground_fault_hvac_local"):
        return Verdict(ASK_AHJ, f"exempt until {until} where the amendment was adopted", (cite,))
    return Verdict(NOT_REQUIRED, f"heating and cooling machines are exempt until {until}", (cite,))


def _lights(serves: Serves, cite: Citation, codebook: Codebook) -> Verdict:
    """Lights alone ask for nothing; with a word nobody knows beside them, in a room that is named, they may not be alone."""
    named = {row["place"] for row in codebook.table("ground_fault_places").rows} & serves.places
    if named and serves.unknown and not serves.appliances:
        return Verdict(NOT_KNOWN, f'lights, and "{serves.unknown[0]}": receptacles too or not is not known', (cite,))
    return Verdict(NOT_REQUIRED, "lights, no receptacles", (cite,))


def _receptacles(ask: Ask, codebook: Codebook) -> Verdict:
    """Receptacles by voltage, place and the distance to a sink; lights in a crawl space."""
    serves, cite = ask.serves, codebook.cite("ground_fault")
    volts = 240 if ask.poles > 1 else 120
    most_v, most_a = codebook.number("ground_fault_most_v"), codebook.number("ground_fault_most_a")
    if volts > most_v or (ask.rating_a is not None and ask.rating_a > most_a):
        return Verdict(NOT_REQUIRED, f"receptacles of {volts} V are not named in this edition", (cite,))
    if not serves.places and ask.sink_ft is None:
        return Verdict(NOT_KNOWN, "where its outlets are is not known", (cite,))
    if serves.lights and not serves.receptacles and "crawl_space" in serves.places:
        return Verdict(REQUIRED, "lights in a crawl space", (codebook.cite("ground_fault_crawl"),))
    if serves.lights and not serves.receptacles:
        return _lights(serves, cite, codebook)
    most_ft, sink = codebook.number(SINK_FT), codebook.cite("ground_fault_sink")
    near = ask.sink_ft is not None and ask.sink_ft <= most_ft
    counter_only = False
    for row in codebook.table("ground_fault_places").rows:
        if row["place"] not in serves.places:
            continue
        if row["outlets"] == "all" or not serves.appliances:
            return Verdict(REQUIRED, f"receptacles {inside_place(row['place'])}", (cite,))
        counter_only = True
    if near:
        return Verdict(REQUIRED, f"a receptacle {ask.sink_ft:g} ft from a sink, tub or shower", (sink,))
    if counter_only and ask.sink_ft is None:
        why = f"required where its receptacle is within {most_ft:g} ft of the sink: distance not measured"
        return Verdict(NOT_KNOWN, why, (sink,))
    if ask.sink_ft is not None:
        return Verdict(NOT_REQUIRED, f"its receptacle is {ask.sink_ft:g} ft from a sink, tub or shower", (sink,))
    why = f"{serves.where}: not among the places named; within {most_ft:g} ft of a sink, tub or shower it would be"
    return Verdict(NOT_REQUIRED, why, (cite,))
