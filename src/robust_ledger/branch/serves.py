"""What a circuit serves: in which rooms its outlets are and of what kind, read from its words unless the user has said so."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import lru_cache

from msgspec import Struct

from robust_ledger.job.parts.changes import CircuitChange
from robust_ledger.job.parts.house import Load, LoadKind

# Words of each place; the first list that matches a stretch of words takes it.
_PLACES: tuple[tuple[str, str], ...] = (
    ("kitchen", r"kitchen|counter|pantry|range hood|range(?!s? of)|cooktop|oven|dishwasher|disposer|disposal|refrigerator|fridge|microwave|nook"),
    ("dining", r"dining"),
    ("bath", r"bath(?:room)?s?|toilet|powder room|shower|vanity"),
    ("laundry", r"laundry|washer|washing machine|dryer|iron(?:ing)?"),
    ("garage", r"garage|carport|vehicle|charger|accessory building|shed"),
    ("outdoors", r"out ?doors?|outside|exterior|yard|porch|patio|deck|garden|greenhouse|heat pump|air condition(?:er|ing)|condens\w+"),
    ("crawl_space", r"crawl ?space|crawl"),
    ("unfinished_basement", r"unfinished basement|workshop|work ?bench|sump|cellar"),
    ("finished_basement", r"finished basement|recreation in the basement"),
    ("attic", r"attic|loft"),
    ("bedroom", r"bed ?rooms?|bed|guest room|nursery"),
    ("living", r"living|family|den|library|parlou?r|sun ?room|recreation|rec room|study|office|lounge|play ?room"),
    ("hall", r"halls?|hallway|stairs?|stairway|corridor|closets?|entry|foyer"),
    ("utility", r"furnace|boiler|blower|utility|water heater|mechanical|air handler|septic|supplemental heat"),
    ("unfinished_basement", r"basement"),
)  # fmt: skip
_COMPILED = [(place, re.compile(rf"\b(?:{words})\b", re.I)) for place, words in _PLACES]
_LIGHTS = re.compile(r"\b(?:lights?|lighting|lamps?|fan|alarms?|smokes?)\b", re.I)
_RECEPTACLES = re.compile(r"\b(?:receptacles?|outlets?|plugs?|counter|wall|bench)\b", re.I)
_ALARMS = re.compile(r"\b(?:smokes?|alarms?)\b", re.I)

# Appliances by their words, beside those that are listed loads.
_APPLIANCES: tuple[tuple[str, str], ...] = (
    ("refrigerator", r"refrigerator|fridge|freezer"),
    ("dishwasher", r"dishwasher"),
    ("disposer", r"disposer|disposal"),
    ("microwave", r"microwave"),
    ("sump pump", r"sump"),
    ("septic pump", r"septic"),
    ("furnace", r"furnace|boiler|blower"),
    ("range", r"range(?! hood)(?!s? of)"),
    ("wall oven", r"wall oven|oven"),
    ("cooktop", r"cooktop|hob"),
    ("dryer", r"dryer"),
    ("water heater", r"water heater|tankless heater"),
    ("air conditioner", r"air condition(?:er|ing)|condens\w+"),
    ("heat pump", r"heat pump"),
    ("vehicle charger", r"charger|vehicle"),
)
_BY_GAS = re.compile(r"\bgas (?:range|stove|cook ?top|oven|dryer)\b", re.I)
_APPLIANCES_COMPILED = [(name, re.compile(rf"\b(?:{words})\b", re.I)) for name, words in _APPLIANCES]
_OF_KIND = {
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
    """Places of its outlets, what kind they are, and the appliances on it."""

    places: frozenset[str]
    receptacles: bool
    lights: bool
    fixed: bool
    appliances: frozenset[str]
    alarms: bool

    @property
    def where(self) -> str:
        """The places in words."""
        return ", ".join(PLACE_WORDS[place] for place in PLACE_WORDS if place in self.places)

    @property
    def general(self) -> bool:
        """Whether it has outlets that anything may be plugged into, or lights: not one appliance alone."""
        return not self.appliances or self.lights


def serves(feeds: str, room: str, loads: Sequence[Load], change: CircuitChange) -> Serves:
    """What a circuit serves by its words, its loads and what the user has said."""
    words = " ".join((feeds, room, *(f"{load.name} {load.room}" for load in loads)))
    read = _read(words)
    appliances = read.appliances | {
        _OF_KIND[load.kind] for load in loads if load.kind in _OF_KIND and not _by_gas(load)
    }
    fixed = read.fixed or any(load.kind in _FIXED_KINDS or _wired(load) for load in loads)
    lights = read.lights or any(load.kind is LoadKind.LIGHTING for load in loads)
    receptacles = read.receptacles or bool(read.places and not (lights or appliances or fixed))
    if change.serves:
        receptacles = change.serves in ("receptacles", "both")
        lights = change.serves in ("lights", "both")
        fixed = change.serves == "fixed"
    places = frozenset(change.places) or read.places
    return Serves(places, receptacles, lights, fixed, frozenset(appliances), read.alarms)


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


@lru_cache(maxsize=4096)
def _read(words: str) -> Serves:
    left, places = words, set()
    for place, pattern in _COMPILED:
        if pattern.search(left):
            places.add(place)
            left = pattern.sub(" ", left)
    electric = _BY_GAS.sub(" ", words)
    appliances = frozenset(name for name, pattern in _APPLIANCES_COMPILED if pattern.search(electric))
    lights = bool(_LIGHTS.search(words))
    receptacles = bool(_RECEPTACLES.search(words))
    return Serves(frozenset(places), receptacles, lights, False, appliances, bool(_ALARMS.search(words)))
