"""What has to be said, and its twin one fact away that has to be silent: the facts of a house, the finding, how bad it is, and the section."""

from __future__ import annotations

from collections.abc import Mapping
from copy import deepcopy
from typing import Any, NamedTuple

from builders import K, called_out, house, load
from msgspec.structs import replace

from robust_ledger.job.edits import add_panel, change_branch, change_circuit, move_to_panel
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.house import Load
from robust_ledger.job.parts.panel_tree import Panel


class Pair(NamedTuple):
    """`facts` that raise the finding; `twin`: the one fact, by its path ("circuits.1.device"), that takes it away."""

    finding: str
    severity: str
    section: str
    facts: Mapping[str, Any]
    twin: tuple[str, Any]
    editions: tuple[str, ...] = ("2017", "2020", "2023")


LOADS = {
    "range": load(K.COOKING, "11kW", "range"),
    "cooktop": load(K.COOKING, "7kW", "cooktop", uses_neutral=False),
    "dryer": load(K.DRYER, "5.5kW", "dryer"),
    "furnace": load(K.FURNACE, "10kW", "furnace"),
    "reader": load(K.PLUG_IN, "900VA@120", "reader", room="den", when="added"),
    "pump": load(K.MOTOR, "8A@240", "well pump"),
}


def made(facts: Mapping[str, Any], edition: str) -> Job:
    """The job of some facts: a house, its lines as called out, what is changed of its circuits and decided of them, nodes, what moves where."""
    parts = deepcopy(dict(facts))
    lines, circuits, branches = parts.pop("lines", ()), parts.pop("circuits", {}), parts.pop("branches", {})
    nodes, moved, loads = parts.pop("nodes", {}), parts.pop("moved", {}), parts.pop("loads", ())
    area = parts.pop("area", 1500)
    job = called_out(house(area, *(LOADS[one] for one in loads), edition=edition, **parts), *lines)
    for node_id, fields in nodes.items():
        job = add_panel(job, Panel.read({"id": node_id, "name": node_id, **fields}))
    for tag, fields in circuits.items():
        job = change_circuit(job, int(tag), **fields)
    for key, fields in branches.items():
        job = change_branch(job, CircuitKey.of_tag(int(key)) if key.isdigit() else CircuitKey(key), **fields)
    for tag, node_id in moved.items():
        job = move_to_panel(job, [CircuitKey.of_tag(int(tag))], node_id)
    return job


def one_fact_away(facts: Mapping[str, Any], path: str, value: Any) -> dict[str, Any]:
    """The same facts with one of them another."""
    other = deepcopy(dict(facts))
    at: Any = other
    *way, last = path.split(".")
    for part in way:
        at = at[int(part)] if isinstance(at, list) else at.setdefault(part, {})
    if isinstance(at, list):
        at[int(last)] = value
    else:
        at[last] = value
    return other


def with_kind(one: Load, **fields: Any) -> Load:
    """A load with some fields changed."""
    return replace(one, **fields)


NEW = {"1": {"action": "new_cable"}}
TOUCHED = {"1": {"work": "extended"}}
BEHIND = {  # a new service disconnect outdoors, the panel with main lugs behind it: neutral and ground come apart
    "chain": {"disconnect_a": 200.0, "replaced": ("disconnect",)},
    "panel": {"main": "lugs", "first_disconnect": False},
}
BOX = {"spaces": 12, "bus_a": 100.0, "terminals_c": 75, "aic_a": 10_000.0}
GARAGE = {"breaker_a": 60.0, "rods": 2, "disconnect": True, "length_ft": 50.0, "area": 0.0, "box": BOX}
FOUND = {**GARAGE, "found": True, "conductors": "4 Al", "wires": 4}
NEW_READER = {"loads": ["reader"], "branches": {"load:reader": {"protect_at": "first_outlet"}}}
KEPT = {"service": "kept", "panel_place": "same", "old_boxes": "one", "disconnect": "as_is", "feeder": "as_is"}
STAYS = {
    "scope": KEPT,
    "old_panel": {"main_a": 100.0},
    "existing": {"riser_conductors": "2 Al", "load_conductors": "2 Al", "insulation_c": 75},
}
RANGE, DRYER = "1+3 50/2 6 range", "1+3 30/2 10 dryer"
NEWER, OLDER = ("2020", "2023"), ("2017",)


def garage(**fields: Any) -> dict[str, Any]:
    """A feeder to a garage with some of its facts changed; those of its box begin with "box."."""
    made_ = deepcopy(GARAGE)
    for name, value in fields.items():
        at, _, inner = name.partition("__")
        if inner:
            made_[at][inner] = value
        else:
            made_[at] = value
    return {"nodes": {"garage": made_}}


PROTECTION = (
    Pair("bench.found_protection:tag:1", "ASK", "680.44", {"lines": ["1+3 50/2 6 hot tub"]}, ("circuits.1.device", "gfci")),
    Pair("bench.found_protection:tag:1", "ASK", "680.44", {"lines": ["1+3 50/2 6 spa"]}, ("circuits.1.guarded", "dead_front")),
    Pair("bench.found_protection:tag:1", "ASK", "680.71", {"lines": ["1 20 12 jetted tub"]}, ("circuits.1.guarded", "gfci_outlet")),
    Pair("bench.found_protection:tag:1", "ASK", "680.21(C)", {"lines": ["1 20 12 pool pump"]}, ("circuits.1.guarded", "gfci_outlet")),
    Pair("bench.found_protection:tag:1", "ASK", "680.21(C)", {"lines": ["1 20 12 pool pump"]}, ("lines.0", "1 20 12 pool table lights")),
    Pair("bench.unprotected:tag:1", "FIX", "680.44", {"lines": ["1+3 50/2 6 hot tub"], "circuits": {"1": {"guarded": "none"}}},
         ("circuits.1.guarded", "dead_front")),
    Pair("bench.first_outlet:tag:1", "FIX", "210.12(A)(4)", {"lines": ["1+3 50/2 6 hot tub"], "circuits": {"1": {"device": "gfci"}},
         "branches": {"1": {"protect_at": "first_outlet"}}}, ("branches.1.protect_at", "breaker")),
    Pair("bench.first_outlet:tag:1", "FIX", "210.12(A)(4)", {"lines": ["1 30 10 den receptacles"], "circuits": {"1": {"device": "afci"}},
         "branches": {"1": {"protect_at": "first_outlet"}}}, ("lines.0", "1 20 12 den receptacles")),
    Pair("bench.first_outlet:load:reader", "FIX", "210.12(A)(4)", NEW_READER, ("branches.load:reader.protect_at", "breaker")),
    Pair("bench.first_outlet:load:reader", "FIX", "210.12(A)(4)", NEW_READER, ("decisions.new_wiring", "mc")),
    Pair("bench.protected:tag:1", "ASK", "210.12(A)(4)", {"lines": ["1 20 12 den receptacles"], "circuits": {"1": {"device": "afci"}},
         "branches": {"1": {"protect_at": "first_outlet", "work": "extended"}}}, ("circuits.1.device", "")),
    Pair("bench.rooms:tag:1", "ASK", "210.8(A)", {"lines": ["1+3 50/2 6 kiln"], "branches": TOUCHED}, ("lines.0", "1+3 50/2 6 kiln in the garage"),
         NEWER),
    Pair("bench.rooms:tag:1", "ASK", "210.8(A)", {"lines": ["1 20 12 zorblax"], "branches": NEW}, ("lines.0", "1 20 12 den zorblax")),
    Pair("bench.connected:tag:1", "ASK", "210.8(A)", {"lines": ["1 20 12 bath lights and zorblax"], "branches": TOUCHED},
         ("lines.0", "1 20 12 bath lights")),
    Pair("bench.connected:tag:1", "ASK", "210.8(A)", {"lines": ["1 15 14 garage lights, flumper"], "branches": TOUCHED},
         ("branches.1.serves", "lights")),
    Pair("bench.list_unread", "ASK", "110.3(B), 408.36", {"lines": ["1 15 14 den receptacles"], "circuits": {"1": {"device": "afci"}}},
         ("panel.devices", ["arc-fault 1-pole"])),
    Pair("bench.device:tag:1", "FIX", "110.3(B), 408.36", {"lines": ["1 15 14 den receptacles"], "circuits": {"1": {"device": "afci"}},
         "panel": {"devices": ["standard 1-pole"]}}, ("circuits.1.device", "")),
    Pair("bench.supply_side", "STOP", "230.70", {"lines": ["1 20 12 yard receptacles"], "moved": {"1": "ahead"},
         "nodes": {"ahead": {"kind": "panel", "fed_from": "disconnect", "fed_by": "same", "separate_building": False, "box": BOX}},
         "chain": {"disconnect_a": 200.0, "replaced": ("disconnect",)}, "scope": {"disconnect_kind": "meter"}},
         ("scope.disconnect_kind", "service")),
)  # fmt: skip

BOND = (
    Pair("branch.three_wire:tag:1", "ASK", "250.140", {"lines": [RANGE], **BEHIND}, ("circuits.1.conductors", 3)),
    Pair("branch.three_wire:tag:1", "ASK", "250.140", {"lines": [DRYER], **BEHIND}, ("circuits.1.conductors", 3)),
    Pair("branch.three_wire:tag:1", "ASK", "250.140", {"lines": [DRYER], **BEHIND}, ("branches.1.action", "new_cable")),
    Pair("branch.three_wire:tag:1", "ASK", "250.140", {"lines": ["1+3 40/2 8 cooktop"], **BEHIND}, ("circuits.1.conductors", 3)),
    Pair("branch.three_wire:tag:1", "ASK", "250.140", {"lines": ["1+3 30/2 10 double oven"], **BEHIND}, ("lines.0", "1+3 30/2 10 water heater")),
    Pair("branch.three_wire:tag:1", "ASK", "250.140", {"lines": [RANGE], "moved": {"1": "second"}, "nodes": {"second": {**GARAGE,
         "separate_building": False}}},
         ("moved", {})),
    Pair("branch.three_wire:tag:1", "ASK", "250.140", {"lines": [RANGE], **BEHIND, "circuits": {"1": {"cable": "se"}}}, ("circuits.1.conductors", 4)),
    Pair("branch.bare_neutral:tag:1", "STOP", "250.140", {"lines": [f"{RANGE} bare-n"], **BEHIND}, ("lines.0", RANGE)),
    Pair("branch.two_wire:tag:1", "STOP", "250.140", {"lines": ["1+3 50/2 6-2 range"]}, ("lines.0", "1+3 50/2 6-3 range")),
    Pair("branch.two_wire:tag:1", "STOP", "250.140", {"lines": ["1+3 30/2 10-2 dryer"]}, ("lines.0", "1+3 30/2 10-2 water heater")),
    Pair("branch.two_wire:tag:1", "ASK", "250.140", {"lines": ["1+3 40/2 8-2 cooktop"]}, ("lines.0", "1+3 40/2 8-3 cooktop")),
    Pair("branch.panel_unlisted:tag:1", "ASK", "408.40", {"lines": ["1+3 60/2 6 garage sub-panel"]}, ("nodes.garage", {**GARAGE, "feeder_tag": 1})),
    Pair("branch.panel_unlisted:tag:1", "ASK", "408.40", {"lines": ["1+3 60/2 6 barn"]}, ("lines.0", "1+3 60/2 6 barn air compressor")),
    Pair("branch.panel_unlisted:tag:1", "ASK", "408.40", {"lines": ["1+3 40/2 8 feeder to the shop"]}, ("lines.0", "1+3 40/2 8 shop welder")),
)  # fmt: skip

UNKNOWN = (
    Pair("service.kept_conductors", "ASK", "250.66", STAYS | {"existing": {"riser_conductors": "2 Al", "insulation_c": 75}},
         ("existing.load_conductors", "2 Al")),
    Pair("service.kept_conductors", "ASK", "250.66", STAYS | {"existing": {"load_conductors": "2 Al", "insulation_c": 75}},
         ("existing.riser_conductors", "2 Al")),
    Pair("fit.space_unknown", "ASK", "110.26(A)", {"scope": KEPT, "fit": {"space_width_in": 30.0, "space_depth_in": 36.0}},
         ("fit.space_height_in", 78.0)),
    Pair("fit.handle_unknown", "ASK", "240.24(A)", {"scope": KEPT, "fit": {"new": {"height_in": 40.0}, "new_bottom_in": 45.0}}, ("fit.handle_in",
         30.0)),
    Pair("fit.handle_unknown", "ASK", "240.24(A)", {"scope": KEPT, "fit": {"new": {"height_in": 40.0}, "new_bottom_in": 45.0}},
         ("fit.new_bottom_in", 30.0)),
    Pair("grounding.water_unknown", "ASK", "250.104(A)", {"scope": KEPT}, ("grounding.water_bonded", True)),
    Pair("grounding.gas_unknown", "ASK", "250.104(B)", {"scope": KEPT}, ("grounding.gas", "none")),
    Pair("overhead.roof_unknown", "ASK", "230.24(A)", {"scope": KEPT, "overhead": {"roof": "low"}}, ("overhead.roof_in", 100.0)),
    Pair("overhead.roof_unknown", "ASK", "230.24(A)", {"scope": KEPT, "overhead": {"roof": "steep"}}, ("overhead.roof", "none")),
    Pair("overhead.roof_unknown", "ASK", "230.24(A)", {"scope": KEPT, "overhead": {"roof": "overhang"}}, ("existing.underground", True)),
    Pair("feeder.garage.label", "ASK", "408.36", garage(box__spaces=0), ("nodes.garage.box.spaces", 12)),
    Pair("feeder.garage.terminals", "ASK", "110.14(C)", garage(box__terminals_c=None), ("nodes.garage.box.terminals_c", 60)),
    Pair("feeder.garage.terminals", "ASK", "110.14(C)", garage(box__terminals_c=None), ("nodes.garage.breaker_a", 125.0)),
    Pair("bench.list_unread", "ASK", "110.3(B), 408.36", {"lines": ["1 20 12 bath receptacles"], "branches": TOUCHED},
         ("panel.devices", ["ground-fault 1-pole"])),
    Pair("branch.neutral_partner:tag:1", "FIX", "210.4", {"lines": ["1 20 12 kitchen"], "circuits": {"1": {"shares_neutral_with": 9}}},
         ("circuits.1.shares_neutral_with", None)),
    Pair("branch.neutral_off:tag:2", "ASK", "210.4", {"lines": ["1 20 12 kitchen", "3 20 12 dining mwbc 1"],
         "circuits": {"1": {"marks": ("capped",)}}},
         ("circuits.1.marks", ())),
    Pair("feeder.garage.tag_none", "FIX", "", garage(feeder_tag=9), ("nodes.garage.feeder_tag", None)),
    Pair("feeder.garage.tag_off", "ASK", "", garage(feeder_tag=1) | {"lines": ["1+3 60/2 6 garage"], "circuits": {"1": {"marks": ("capped",)}}},
         ("circuits.1.marks", ())),
    Pair("feeder.garage.tag_twice", "FIX", "", {"lines": ["1+3 60/2 6 garage"], "nodes": {"garage": {**GARAGE, "feeder_tag": 1}, "shed": {**GARAGE,
         "feeder_tag": 1}}},
         ("nodes.shed.feeder_tag", None)),
    Pair("feeder.garage.own_main", "STOP", "230.79", garage(load_a=55.0, box__main="breaker", box__main_a=50.0), ("nodes.garage.box.main_a", 60.0)),
    Pair("feeder.garage.own_main", "STOP", "230.79", garage(load_a=55.0, box__main="back_fed", box__main_a=50.0), ("nodes.garage.load_a", 45.0)),
    Pair("feeder.garage.own_main_unread", "ASK", "230.79", garage(load_a=55.0, box__main="breaker", there=True), ("nodes.garage.box.main_a", 60.0)),
    Pair("service.interlock_lugs", "STOP", "702.5", {**BEHIND, "equipment": {"generator_a": 30.0, "interlock_listed": True}},
         ("panel.main", "breaker")),
    Pair("feeder.panel.bus", "STOP", "408.36", {"scope": {"service": "split"}, "panel": {"bus_a": 100.0}, "main_feed": {"breaker_a": 125.0},
         "nodes": {"second": {"fed_from": "meter", "separate_building": False, "box": BOX}}}, ("panel.bus_a", 125.0)),
    Pair("feeder.panel.load", "STOP", "230.79", {"area": 3000, "lines": ["1 20 12 kitchen", "3 20 12 den"], "scope": {"service": "split"},
         "main_feed": {"breaker_a": 20.0}, "nodes": {"second": {"fed_from": "meter", "separate_building": False, "breaker_a": 100.0, "area": 0.0,
         "box": BOX}}}, ("main_feed.breaker_a", 100.0)),
)  # fmt: skip

POLE = {"kind": "disconnect", "marked": "service", "at": "pole", "fed_from": "meter", "breaker_a": 60.0, "separate_building": False,
        "box": {"main": "breaker", "main_a": 60.0, "first_disconnect": True, "terminals_c": 75}}  # fmt: skip
BY_POLE = {
    "nodes": {"pole": POLE},
    "main_feed": {"fed_from": "pole"},
    "panel": {"main": "lugs", "first_disconnect": False},
}

TAPPED = {
    **GARAGE,
    "fed_by": "tap",
    "breaker_a": None,
    "separate_building": False,
    "length_ft": 8.0,
    "wiring": "thwn",
    "box": {**BOX, "main": "breaker", "main_a": 60.0},
}
TAP_STAYS = {**TAPPED, "found": True, "conductors": "6 Cu", "wires": 4}


def tapped(**fields: Any) -> dict[str, Any]:
    """A tap of 8 ft behind the main's 200 A to a panel with a main of 60 A, with some of its facts changed."""
    return {"decisions": {"main_a": 200.0}, "nodes": {"garage": {**TAPPED, **fields}}}


def tap_stays(**fields: Any) -> dict[str, Any]:
    """The same of 6 Cu that was found and stays."""
    return tapped(**{**TAP_STAYS, **fields})


TAPS = (
    Pair(
        "feeder.garage.tap_end",
        "STOP",
        "240.21(B)",
        tapped(box=BOX),
        ("nodes.garage.box", {**BOX, "main": "breaker", "main_a": 60.0}),
    ),
    Pair("feeder.garage.tap_end", "STOP", "240.21(B)", tapped(box=BOX), ("nodes.garage.fed_by", "lugs")),
    Pair(
        "feeder.garage.tap_end",
        "ASK",
        "240.21(B)",
        tapped(box={**BOX, "main": "breaker"}),
        ("nodes.garage.box.main_a", 60.0),
    ),
    Pair(
        "feeder.garage.tap_end",
        "ASK",
        "240.21(B)",
        tapped(kind="disconnect", box={**BOX, "spaces": 0}),
        ("nodes.garage.box.main_a", 60.0),
    ),
    Pair("feeder.garage.tap_length", "ASK", "240.21(B)", tapped(length_ft=None), ("nodes.garage.length_ft", 20.0)),
    Pair("feeder.garage.tap_length", "ASK", "240.21(B)", tapped(length_ft=None), ("nodes.garage.fed_by", "lugs")),
    Pair("feeder.garage.tap_long", "STOP", "240.21(B)(2)", tapped(length_ft=26.0), ("nodes.garage.length_ft", 25.0)),
    Pair(
        "feeder.garage.tap_long",
        "ASK",
        "240.21(B)(5)",
        tapped(length_ft=60.0, separate_building=True),
        ("nodes.garage.length_ft", 25.0),
    ),
    Pair(
        "feeder.garage.tap_wire", "STOP", "240.21(B)", tap_stays(length_ft=20.0), ("nodes.garage.length_ft", 8.0)
    ),  # 65 A, a third is 66.7
    Pair("feeder.garage.tap_wire", "STOP", "240.21(B)", tap_stays(length_ft=20.0), ("nodes.garage.conductors", "4 Cu")),
    Pair(
        "feeder.garage.tap_wire", "STOP", "240.21(B)", tap_stays(conductors="8 Cu"), ("nodes.garage.box.main_a", 50.0)
    ),
    Pair("feeder.garage.tap_wire", "STOP", "240.21(B)", tap_stays(length_ft=20.0), ("decisions.main_a", 175.0)),
    Pair(
        "feeder.garage.tap_wire",
        "ASK",
        "240.21(B)",
        tap_stays(box={**BOX, "main": "breaker", "main_a": 60.0, "terminals_c": None}),
        ("nodes.garage.box.terminals_c", 75),
    ),
    Pair("feeder.garage.conductors", "ASK", "T310", tap_stays(conductors=""), ("nodes.garage.conductors", "6 Cu")),
    Pair("feeder.garage.own_main", "STOP", "230.79", tapped(load_a=70.0), ("nodes.garage.load_a", 60.0)),
    Pair(
        "feeder.garage.wire",
        "STOP",
        "T310",
        {"decisions": {"main_a": 200.0}, "nodes": {"garage": {**TAP_STAYS, "fed_by": "lugs"}}},
        ("nodes.garage.fed_by", "tap"),
    ),  # 6 Cu behind 200 A: a tap of 8 ft is lawful, a feeder is not
)

STAYING = (
    Pair("feeder.garage.wire", "STOP", "T310", {"nodes": {"garage": {**FOUND, "conductors": "10 Cu"}}}, ("nodes.garage.conductors", "6 Cu")),
    Pair("feeder.garage.wire", "STOP", "T310", {"nodes": {"garage": {**FOUND, "conductors": "6 Al"}}}, ("nodes.garage.conductors", "4 Al")),
    Pair("feeder.garage.wire", "STOP", "T310", {"nodes": {"garage": {**FOUND, "conductors": "6 Al"}}}, ("nodes.garage.breaker_a", 50.0)),
    Pair("feeder.garage.wire", "STOP", "T310", {"lines": ["1+3 30/2 10 garage"], "nodes": {"garage": {**FOUND, "conductors": "", "feeder_tag": 1}}},
         ("nodes.garage.breaker_a", 30.0)),
    Pair("feeder.garage.wire", "ASK", "T310", {"nodes": {"garage": {**FOUND, "conductors": "4 Al", "breaker_a": 70.0, "box": {**BOX,
         "terminals_c": None}}}},
         ("nodes.garage.box.terminals_c", 75)),
    Pair("feeder.garage.insulation", "ASK", "110.14(C)", {"nodes": {"garage": {**FOUND, "breaker_a": 70.0}}}, ("nodes.garage.insulation_c", 75)),
    Pair("feeder.garage.insulation", "ASK", "110.14(C)", {"nodes": {"garage": {**FOUND, "breaker_a": 70.0}}}, ("nodes.garage.found_wiring", "ser")),
    Pair("feeder.garage.insulation", "ASK", "110.14(C)", {"nodes": {"garage": {**FOUND, "breaker_a": 70.0}}}, ("nodes.garage.breaker_a", 60.0)),
    Pair("service.link:riser_conductors", "ASK", "110.14(C)", STAYS | {"panel": {"terminals_c": None}}, ("panel.terminals_c", 75)),
    Pair("service.link:load_conductors", "ASK", "110.14(C)", STAYS | {"panel": {"terminals_c": None}}, ("existing.load_conductors", "1/0 Al")),
    Pair("service.link:riser_conductors", "STOP", "230.90", STAYS | {"existing": {"riser_conductors": "4 Al", "load_conductors": "2 Al",
         "insulation_c": 75}},
         ("existing.riser_conductors", "2 Al")),
    Pair("service.lugs_metal:panel", "FIX", "110.14", {"decisions": {"main_a": 200.0, "metal": "al"}, "panel": {"lugs_most": "250 kcmil Cu"}},
         ("panel.lugs_most", "250 kcmil Al")),
    Pair("service.lugs_metal:panel", "FIX", "110.14", {"decisions": {"main_a": 200.0, "metal": "al"}, "panel": {"lugs_most": "250 kcmil Cu"}},
         ("decisions.metal", "cu")),
    Pair("branch.wire_on_breaker:tag:1", "FIX", "240.4(D)", {"lines": ["1+3 30/2 10 Al baseboard heat"]}, ("lines.0",
         "1+3 25/2 10 Al baseboard heat")),
    Pair("branch.wire_on_breaker:tag:1", "FIX", "240.4(D)", {"lines": ["1 20 12 Al den"]}, ("lines.0", "1 15 12 Al den")),
    Pair("branch.wire_on_breaker:tag:1", "FIX", "T310", {"lines": ["1+3 60/2 6 shop receptacles"], "panel": {"terminals_c": 60}},
         ("lines.0", "1+3 60/2 6 shop welder")),
    Pair("branch.machine_breaker:tag:1", "ASK", "440", {"lines": ["1+3 30/2 12 air conditioner"]}, ("lines.0", "1+3 20/2 12 air conditioner")),
    Pair("branch.machine_breaker:tag:1", "ASK", "440", {"lines": ["1+3 20/2 14 well pump"]}, ("lines.0", "1+3 20/2 14 water heater")),
    Pair("branch.machine_breaker:tag:1", "ASK", "440", {"lines": ["1+3 40/2 10 air compressor"]}, ("lines.0", "1+3 30/2 10 air compressor")),
    Pair("feeder.garage.bond", "STOP", "250.24", {"nodes": {"garage": {**FOUND, "box": {**BOX, "first_disconnect": True}}}}, ("nodes.garage.wires",
         None)),
    Pair("feeder.garage.wires", "ASK", "250.32", {"nodes": {"garage": {**FOUND, "wires": None}}}, ("nodes.garage.wires", 4)),
    Pair("feeder.garage.bond", "STOP", "250.32",
         {"nodes": {"garage": {**FOUND, "wires": 3, "metal_path": False}}}, ("nodes.garage.box.first_disconnect", True)),
)  # fmt: skip

SERVICE = (
    Pair("feeder.panel.dwelling_feeder", "FIX", "230.79", BY_POLE, ("nodes.pole.breaker_a", 100.0)),
    Pair("feeder.panel.dwelling_feeder", "FIX", "230.79", BY_POLE, ("nodes.pole.at", "outdoors")),
    Pair("service.meter", "STOP", "", {"decisions": {"main_a": 400.0}, "existing": {"meter_label_a": 200.0}, "panel": {"bus_a": 400.0}},
         ("existing.meter_label_a", 320.0)),
    Pair("service.meter_load", "ASK", "", {"decisions": {"main_a": 400.0}, "existing": {"meter_label_a": 320.0}, "panel": {"bus_a": 400.0},
         "area": None},
         ("existing.meter_label_a", 400.0)),
    Pair("service.spd", "FIX", "230.67", {"scope": KEPT}, ("equipment.spd", True), NEWER),
    Pair("bench.max_circuits", "STOP", "", {"lines": ["1+3 30/2 10 dryer", "5 15 14 den"], "panel": {"max_circuits": 2}},
         ("panel.max_circuits", 3)),
    Pair("service.emergency", "FIX", "230.85", {"scope": {**KEPT, "service": "upgraded"}, "location": {"room": "basement"}},
         ("location.room", "outdoors"), NEWER),
)  # fmt: skip

FALSE_ALARMS = (
    Pair("branch.protected_or_not:tag:1", "ASK", "", {"lines": ["1 20 12 bath"], "circuits": {"1": {"device": "gfci", "guarded": "none"}}},
         ("circuits.1.guarded", "")),
    Pair("branch.neutral_bare_or_not:tag:1", "ASK", "250.140", {"lines": ["1+3 50/2 6-3 range bare-n"]}, ("lines.0", "1+3 50/2 6 range bare-n")),
    Pair("odd.date", "ASK", "", {"heading": {"date": "2015-06-01"}}, ("heading.date", "2026-06-01")),
    Pair("bench.max_unread", "ASK", "110.3", {"lines": ["1 15 14 den", "3 15 14 hall"], "panel": {"spaces": 4, "tandem_spaces": [1, 2, 3, 4]},
         "decisions": {"placements": {"tag:1": "1a", "tag:2": "1b"}}}, ("panel.max_circuits", 8)),
    Pair("bench.shares_furnace:tag:1", "FIX", "422.12", {"lines": ["1 15 14 furnace and basement lights"]}, ("lines.0", "1 15 14 furnace")),
    Pair("bench.shares_furnace:tag:1", "FIX", "422.12", {"lines": ["1 15 14 furnace and freezer"]}, ("lines.0",
         "1+3 60/2 6 furnace and heat strips")),
    Pair("branch.aluminum:tag:1", "FIX", "", {"lines": ["1 15 12 Al den"]}, ("lines.0", "1 15 12 den")),
    Pair("branch.aluminum:tag:1", "FIX", "", {"lines": ["1 15 12 Al den"]}, ("branches.1.action", "new_cable")),
    Pair("branch.aluminum:tag:1", "FIX", "", {"lines": ["1+3 25/2 10 Al dryer"]}, ("lines.0", "1+3 40/2 8 Al range")),
    Pair("bench.words:tag:1", "NOTE", "408.4", {"lines": ["1 15 14 kid's room outlets"]}, ("lines.0", "1 15 14 driver's side garage outlets")),
    Pair("bench.alarms:tag:1", "NOTE", "", {"lines": ["1 15 14 smoke alarms"], "decisions": {"smoke_practice": "lighting"}},
         ("decisions.smoke_practice", "")),
    Pair("branch.no_ground:tag:1", "FIX", "406.4(D)(2)", {"lines": ["1 15 14 den receptacles no-ground"], "branches": TOUCHED},
         ("lines.0", "1 15 14 den receptacles")),
)  # fmt: skip

PAIRS = (*PROTECTION, *BOND, *UNKNOWN, *TAPS, *STAYING, *SERVICE, *FALSE_ALARMS)
