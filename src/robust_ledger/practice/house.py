"""The house around a practice panel, from level 4 on: service, grounding, working space and nameplates; sound first, then what is wrong with it."""

from __future__ import annotations

from collections.abc import Mapping
from random import Random
from types import MappingProxyType
from typing import Any, Literal

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.fit import Enclosure
from robust_ledger.job.parts.house import Load, LoadKind, Nameplate, When

Unit = Literal["VA", "kW", "A", "hp"]
Trap = Literal["", "garage", "cut_off", "two_volts"]
TRAPS: Mapping[Trap, str] = MappingProxyType(
    {
        "garage": "The garage is no part of the floor area.",
        "cut_off": "The wall heater's cable is cut off: it is no load of this house any more.",
        "two_volts": "The water heater's plate has two lines; this house has 240 V.",
    }
)


class Service(Struct, frozen=True):
    """A service of one rating: what is right for it, and what is too small."""

    main_a: float
    conductors: tuple[str, ...]
    small: tuple[str, ...]
    meters_a: tuple[float, ...]
    small_meter_a: float
    gec: tuple[str, ...]
    small_gec: str
    bus_a: float


SERVICES = (
    Service(100.0, ("4 Cu", "2 Al"), ("6 Cu", "4 Al"), (100.0, 125.0), 60.0, ("6 Cu", "4 Cu"), "10 Cu", 125.0),
    Service(125.0, ("2 Cu", "1/0 Al"), ("4 Cu", "2 Al"), (125.0, 200.0), 100.0, ("6 Cu", "4 Cu"), "10 Cu", 125.0),
    Service(150.0, ("1 Cu", "2/0 Al"), ("2 Cu", "1/0 Al"), (150.0, 200.0), 125.0, ("6 Cu", "4 Cu"), "10 Cu", 200.0),
)

# What a fault makes of the house: the part of the job, and what it then has.
CHANGES: Mapping[str, tuple[str, Mapping[str, Any]]] = MappingProxyType(
    {
        "gec_spliced": ("grounding", {"unspliced": False}),
        "no_jumper": ("grounding", {"water_jumper": False}),
        "water_unbonded": ("grounding", {"water_bonded": False}),
        "gas_unbonded": ("grounding", {"gas": "not_bonded"}),
        "rods_close": ("grounding", {"rod_spacing_ft": 4.0}),
        "no_ibt": ("grounding", {"intersystem": 0}),
        "narrow": ("fit", {"space_width_in": 26.0}),
        "shallow": ("fit", {"space_depth_in": 30.0}),
    }
)


class House(Struct, frozen=True):
    """What a house is made of that the job has no fields for: its floor plan [ft], and the trap in the load."""

    width_ft: float
    depth_ft: float
    trap: Trap


def order_of(job: Job, service: Service, spaces: int) -> Job:
    """What the customer has ordered: the same service, a larger panel with a main of the service's rating, its label."""
    job = with_part(job, "scope", service="kept", panel_place="same")
    job = with_part(with_part(job, "decisions", main_a=service.main_a), "grounding", gec_new=False)
    job = with_part(job, "panel", spaces=max(20, spaces + 4), bus_a=service.bus_a, terminals_c=75, aic_a=10_000.0)
    old, new = (
        Enclosure(width_in=14.5, height_in=20.0, depth_in=4.0),
        Enclosure(width_in=14.5, height_in=30.0, depth_in=4.0),
    )
    return with_part(job, "fit", old=old, new=new, old_bottom_in=52.0, handle_in=24.0)


def furnished(dice: Random, truth: Job, service: Service) -> tuple[Job, House]:
    """The house with nothing wrong in it, and its nameplates."""
    house = House(float(dice.randrange(24, 42, 2)), float(dice.randrange(26, 46, 2)), dice.choice(tuple(TRAPS)))
    if house.trap == "two_volts" and not any(circuit.feeds == "water heater" for circuit in truth.circuits):
        house = replace(house, trap=dice.choice(("garage", "cut_off")))
    truth = with_part(truth, "old_panel", main_a=service.main_a)
    truth = with_part(truth, "dwelling", area=house.width_ft * house.depth_ft)
    cable = dice.choice(service.conductors)
    truth = with_part(
        truth,
        "existing",
        meter_label_a=dice.choice(service.meters_a),
        riser_conductors=cable,
        load_conductors=cable,
        insulation_c=75,
        raceway="cable",
        wires=3,
        utility_fault_a=float(dice.randrange(5, 10) * 1000),
    )
    truth = with_part(
        truth,
        "grounding",
        rods=2,
        rod_length_ft=8.0,
        rod_spacing_ft=float(dice.randrange(6, 12)),
        rod_angle_deg=0.0,
        concrete=False,
        water_pipe_ft=float(dice.randrange(12, 40)),
        gec=dice.choice(service.gec),
        gec_new=False,
        unspliced=True,
        water_jumper=True,
        water_bonded=True,
        gas="bonded",
        gas_circuit_a=15.0,
        csst=False,
        intersystem=3,
    )
    truth = with_part(
        truth,
        "fit",
        space_width_in=float(dice.randrange(30, 44)),
        space_depth_in=float(dice.randrange(36, 60)),
        space_height_in=84.0,
    )
    return _with_loads(dice, truth), house


def _with_loads(dice: Random, truth: Job) -> Job:
    """Nameplates of what the circuits feed, and the circuits tied to them."""
    loads, circuits = [], []
    for circuit in truth.circuits:
        load = _load(dice, circuit)
        circuits.append(circuit if load is None else replace(circuit, load_ids=(load.id,)))
        loads += [] if load is None else [load]
    return replace(truth, loads=tuple(loads), circuits=tuple(circuits))


def _load(dice: Random, one: Circuit) -> Load | None:
    """What a circuit feeds, where that has a nameplate."""
    known: dict[str, tuple[LoadKind, float, Unit, float]] = {
        "range": (LoadKind.COOKING, dice.choice((8.4, 9.6, 11.8)), "kW", 240.0),
        "dryer": (LoadKind.DRYER, dice.choice((5.2, 5.6)), "kW", 240.0),
        "water heater": (LoadKind.WATER_HEATER, 4.5, "kW", 240.0),
        "well pump": (LoadKind.MOTOR, dice.choice((8.0, 10.0)), "A", 240.0),
        "dishwasher": (LoadKind.APPLIANCE, dice.choice((1150.0, 1260.0)), "VA", 120.0),
        "furnace": (LoadKind.APPLIANCE, dice.choice((5.8, 7.2)), "A", 120.0),
    }
    if one.feeds not in known:
        return None
    kind, amount, unit, volts = known[one.feeds]
    plate = Nameplate(amount=amount, unit=unit, volts=volts)
    return Load(id=one.feeds.replace(" ", "-"), name=one.feeds, kind=kind, nameplate=plate)


def hidden(kind: str, truth: Job, service: Service, dice: Random) -> Job:
    """The house with a fault in it."""
    if kind in CHANGES:
        part, changes = CHANGES[kind]
        return with_part(truth, part, **changes)
    if kind == "meter_small":
        return with_part(truth, "existing", meter_label_a=service.small_meter_a)
    if kind == "gec_small":
        return with_part(truth, "grounding", gec=service.small_gec)
    field = {"riser_small": "riser_conductors", "meter_to_panel_small": "load_conductors"}[kind]
    return with_part(truth, "existing", **{field: dice.choice(service.small)})


def sauna(dice: Random) -> Load:
    """What the customer of level 5 adds while the work is going on."""
    plate = Nameplate(amount=dice.choice((6.0, 8.0, 9.0)), unit="kW")
    return Load(id="sauna", name="sauna heater", kind=LoadKind.HEATING, nameplate=plate, when=When.ADDED)
