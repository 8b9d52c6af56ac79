"""How things in a house are used: the assumptions behind the simulated day. All of them are our own estimates, for an
ordinary household in a climate with cold winters and warm summers; docs/simulated-house.md lists them in words.

A habit says how often, when and for how long something runs, and at which part of its rating.
"""

from __future__ import annotations

import re
from typing import Literal

from msgspec import Struct

from robust_ledger.job.parts.house import Load, LoadKind

# Weight of each hour of the day, by when people do something.
ALL_DAY = (1.0,) * 24
MEALS = (0, 0, 0, 0, 0, 1, 3, 4, 2, 1, 1, 2, 4, 2, 1, 1, 3, 8, 9, 4, 1, 1, 0, 0)
EVENING = (0, 0, 0, 0, 0, 0, 1, 1, 0, 0, 0, 0, 1, 0, 0, 1, 2, 5, 7, 9, 8, 5, 2, 0)
CHORES = (0, 0, 0, 0, 0, 0, 1, 2, 4, 6, 6, 5, 3, 4, 5, 5, 4, 5, 6, 6, 4, 2, 1, 0)
WASHING = (0, 0, 0, 0, 0, 2, 8, 9, 5, 3, 2, 2, 2, 2, 2, 2, 3, 4, 5, 6, 6, 5, 3, 1)
COMING_HOME = (1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 2, 4, 9, 10, 6, 4, 3, 2, 2)
NIGHT = (8, 4, 2, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 2, 9, 9)

Need = Literal["heat", "extra heat", "cool", "either"]


class Uses(Struct, frozen=True):
    """Something people switch on: `per_day` times, at hours weighted by `hours`, for `minutes` (least, most) at a part
    of its rating `level` (least, most); both ends rarer than the middle. `home` uses need someone at home."""

    per_day: float
    hours: tuple[float, ...]
    minutes: tuple[float, float]
    level: tuple[float, float] = (1.0, 1.0)
    home: bool = True
    weekend: float = 1.0


class Cycles(Struct, frozen=True):
    """Something that switches itself on and off all day: every `period` minutes for a `duty` part of it."""

    period: float
    duty: float


class Weather(Struct, frozen=True):
    """Something a thermostat runs: cycles of `period` minutes, on for a part of it that grows from 0 at `from_c` to
    `most` at `full_c`. `modulates`: runs on at part power in place of cycling."""

    need: Need
    from_c: float
    full_c: float
    most: float = 0.95
    period: float = 22
    modulates: bool = False


Habit = Uses | Cycles | Weather


class Plug(Struct, frozen=True):
    """Something plugged into a general circuit: amperes at 120 V and its habit."""

    amperes: float
    habit: Habit


def habits_of(load: Load) -> tuple[Habit, ...]:
    """How a listed load is used, by its kind and, for appliances and motors, by the words of its name."""
    if load.kind in (LoadKind.APPLIANCE, LoadKind.MOTOR):
        words = f"{load.name} {load.room}".lower()
        return next((habit for pattern, habit in _BY_NAME if re.search(pattern, words)), _BY_KIND[load.kind])
    if load.kind is LoadKind.SUPPLEMENTAL_HEAT and load.interlocked:
        return (Weather("extra heat", -2, -18),)
    return _BY_KIND[load.kind]


_BY_KIND: dict[LoadKind, tuple[Habit, ...]] = {
    LoadKind.COOKING: (Uses(1.5, MEALS, (10, 70), (0.1, 0.9)),),
    LoadKind.COOKING_UNIT: (Uses(0.9, MEALS, (10, 60), (0.15, 0.9)),),
    LoadKind.DRYER: (Uses(0.45, CHORES, (30, 65), (0.75, 1.0), weekend=1.8),),
    LoadKind.WATER_HEATER: (Uses(3.5, WASHING, (8, 50), home=True), Uses(1.5, ALL_DAY, (4, 10), home=False)),
    LoadKind.APPLIANCE: (Uses(0.8, CHORES, (5, 45), (0.5, 1.0)),),
    LoadKind.MOTOR: (Uses(2.0, CHORES, (1, 12)),),
    LoadKind.HEATING: (Weather("heat", 16, -16),),
    LoadKind.FURNACE: (Weather("heat", 16, -16),),
    LoadKind.PLUG_IN: (Uses(0.8, CHORES, (5, 45), (0.5, 1.0)),),
    LoadKind.THERMAL_STORAGE: (Uses(0.55, NIGHT, (180, 420), home=False),),
    LoadKind.HEAT_PUMP: (Weather("heat", 14, -18, modulates=True), Weather("cool", 24, 36, modulates=True)),
    LoadKind.SUPPLEMENTAL_HEAT: (Weather("extra heat", -4, -22),),
    LoadKind.AIR_CONDITIONER: (Weather("cool", 22, 35),),
    LoadKind.LIGHTING: (Uses(0.95, (0,) * 16 + (4, 6, 3) + (0,) * 5, (150, 330), home=False),),
    LoadKind.EV_CHARGER: (Uses(0.65, COMING_HOME, (40, 420), home=False),),
}
_BY_NAME: tuple[tuple[str, tuple[Habit, ...]], ...] = (
    (r"sauna|steam|hot tub|spa\b", (Uses(0.35, EVENING, (50, 120), (0.7, 1.0), weekend=2.0),)),
    (r"dishwasher", (Uses(0.75, EVENING, (40, 90), (0.35, 1.0)),)),
    (r"dispos", (Uses(2.2, MEALS, (1, 2)),)),
    (r"hood|fan\b", (Uses(1.3, MEALS, (10, 60)),)),
    (r"microwave", (Uses(3.0, MEALS, (1, 6)),)),
    (r"sump|sewage|septic", (Uses(4.0, ALL_DAY, (1, 4), home=False),)),
    (r"blower|furnace|boiler|circulat", (Weather("heat", 17, -16, most=0.85, period=26),)),
    (r"well|pump|pool", (Uses(9.0, WASHING, (2, 9), home=False),)),
    (r"fridge|refrigerator|freezer", (Cycles(48, 0.38),)),
    (r"compressor|welder|saw|tool", (Uses(0.25, CHORES, (2, 25), (0.5, 1.0), weekend=2.5),)),
)
_BY_WORDS: tuple[tuple[str, tuple[Plug, ...]], ...] = (
    (r"fridge|refrigerator|freezer", (Plug(1.6, Cycles(48, 0.38)),)),
    (r"kitchen|counter|pantry", (Plug(11, Uses(2.6, MEALS, (2, 7), (0.6, 1.0))), Plug(3, Uses(1.5, MEALS, (5, 40))))),
    (r"dining", (Plug(8, Uses(0.3, MEALS, (5, 30))), Plug(0.6, Uses(1, EVENING, (60, 180))))),
    (r"bath", (Plug(11.5, Uses(0.8, WASHING, (3, 10))), Plug(1, Uses(3, WASHING, (5, 25))))),
    (r"laundry|washer", (Plug(6, Uses(0.5, CHORES, (30, 60), (0.2, 1.0), weekend=1.8)),)),
    (r"workshop|garage|bench|outdoor|yard", (Plug(9, Uses(0.25, CHORES, (3, 40), (0.4, 1.0), weekend=2.5)),)),
    (r"light|hall|porch|smoke", (Plug(1.4, Uses(1.6, EVENING, (60, 240), (0.3, 1.0))), Plug(0.1, Cycles(60, 1.0)))),
    (
        r".*",
        (Plug(0.4, Cycles(60, 1.0)), Plug(1.6, Uses(1.5, EVENING, (40, 240))), Plug(9, Uses(0.1, CHORES, (8, 25)))),
    ),
)


def plugs_of(words: str) -> tuple[Plug, ...]:
    """What hangs on a circuit without listed loads, by the words of what it feeds."""
    return next(plugs for pattern, plugs in _BY_WORDS if re.search(pattern, words.lower()))
