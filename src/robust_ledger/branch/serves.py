"""What a circuit serves: in which rooms its outlets are and of what kind, read from its words unless the user has said so."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.branch.vocabulary import OwnWords, outlet_of, read_words
from robust_ledger.job.parts.changes import CircuitChange
from robust_ledger.job.parts.house import Load, LoadKind

OF_KIND = {
    LoadKind.COOKING: "range",
    LoadKind.DRYER: "dryer",
    LoadKind.WATER_HEATER: "water heater",
    LoadKind.HEAT_PUMP: "heat pump",
    LoadKind.AIR_CONDITIONER: "air conditioner",
    LoadKind.EV_CHARGER: "vehicle charger",
}
# Fastened or on a plug of its own: these are neither lights nor general receptacles.
_FIXED_KINDS = frozenset(LoadKind) - {
    LoadKind.LIGHTING,
    LoadKind.APPLIANCE,
    LoadKind.PLUG_IN,
    LoadKind.MOTOR,
    LoadKind.COOKING,
    LoadKind.COOKING_UNIT,
    LoadKind.DRYER,
    LoadKind.EV_CHARGER,
}

PLACE_WORDS = {
    "kitchen": "kitchen", "dining": "dining room", "living": "living room or similar", "bedroom": "bedroom", "hall": "hall or closet",
    "laundry": "laundry", "bath": "bathroom", "garage": "garage", "outdoors": "outdoors", "crawl_space": "crawl space",
    "unfinished_basement": "unfinished basement", "finished_basement": "finished basement", "attic": "attic", "utility": "utility room",
}  # fmt: skip


def inside_place(place: str) -> str:
    """ "in the kitchen", "outdoors"."""
    return "outdoors" if place == "outdoors" else f"in the {PLACE_WORDS[place]}"


class Serves(Struct, frozen=True):
    """Places of its outlets, what kind they are, and the appliances on it. `wired`: its equipment is hard-wired, or on a receptacle; None:
    either may be, or there is none. `baths`: how many bathrooms its description names; `unknown`: words of it that mean nothing here."""

    places: frozenset[str]
    receptacles: bool
    lights: bool
    fixed: bool
    appliances: frozenset[str]
    alarms: bool
    wired: bool | None = None
    baths: int = 0
    unknown: tuple[str, ...] = ()

    @property
    def where(self) -> str:
        """The places in words."""
        return ", ".join(PLACE_WORDS[place] for place in PLACE_WORDS if place in self.places)

    @property
    def general(self) -> bool:
        """Whether it has outlets that anything may be plugged into, or lights: not one appliance alone."""
        return not self.appliances or self.lights


def serves(feeds: str, room: str, loads: Sequence[Load], change: CircuitChange, own: OwnWords = ()) -> Serves:
    """What a circuit serves by its words, its loads and what the user has said. `own`: the job's own words."""
    mine = feeds if room.lower() in feeds.lower() else f"{feeds} {room}"
    read = read_words(", ".join((mine, *(f"{load.name} {load.room}" for load in loads))), own)
    appliances = (
        read.appliances
        | ({"water heater"} if "tankless heater" in read.appliances else set())
        | {OF_KIND[load.kind] for load in loads if load.kind in OF_KIND and not _by_gas(load)}
    )
    wired = any(outlet_of(name) == "fixed" for name in read.appliances)
    fixed = wired or any(load.kind in _FIXED_KINDS or _wired(load) for load in loads)
    lights = read.lights or any(load.kind is LoadKind.LIGHTING for load in loads)
    receptacles = read.receptacles or bool(read.places and not (lights or appliances or fixed))
    if change.serves:
        receptacles = change.serves in ("receptacles", "both")
        lights = change.serves in ("lights", "both")
        fixed = change.serves == "fixed"
    places = frozenset(change.places) or read.places
    wired_ = _is_wired(frozenset(appliances), fixed and not receptacles, change)
    said = read_words(feeds, own)
    unknown = () if change.serves else said.unknown
    return Serves(places, receptacles, lights, fixed, frozenset(appliances), read.alarms, wired_, said.baths, unknown)


def in_other_building(one: Serves) -> Serves:
    """The same in a building apart from the dwelling: what would be a shop in the basement is an accessory building there, and so is what has
    no room named [210.8(A)(2)]."""
    if one.places and "unfinished_basement" not in one.places:
        return one
    return replace(one, places=(one.places - {"unfinished_basement"}) | {"garage"})


def _is_wired(appliances: frozenset[str], fixed: bool, change: CircuitChange) -> bool | None:
    """As the user says; else what its appliances or loads always are."""
    if change.serves:
        return change.serves == "fixed"
    if fixed:
        return True
    kinds = {outlet_of(name) for name in appliances}
    return False if kinds == {"cord"} else None


def _by_gas(load: Load) -> bool:
    """A range or dryer on 120 V is one by gas: clock, igniters and motor are no electric range or dryer."""
    return load.kind in (LoadKind.COOKING, LoadKind.COOKING_UNIT, LoadKind.DRYER) and not load.two_hots


def _wired(load: Load) -> bool:
    """A 240 V load is hard-wired, but for those that come with a cord."""
    return load.two_hots and load.kind not in (
        LoadKind.PLUG_IN,
        LoadKind.COOKING,
        LoadKind.COOKING_UNIT,
        LoadKind.DRYER,
        LoadKind.EV_CHARGER,
    )
