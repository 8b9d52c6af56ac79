"""The feeder of a sub-panel: sizes by hand from the full table, its fault current, and what a separate building asks."""

from __future__ import annotations

import math

import pytest
from builders import finding_ids, house, sub_panel, with_parts

from robust_ledger.job.edits import add_panel, with_part
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.plan import plan

SOUND = {
    "breaker_a": 60.0,
    "rods": 2,
    "disconnect": True,
    "load_a": 40.0,
    "length_ft": 80.0,
    "box.spaces": 12,
    "box.bus_a": 600.0,
}


def feeder(terminals: int = 75, **sub) -> Job:
    job = with_part(house(1500), "decisions", main_a=200.0)
    sub = {"box.terminals_c": terminals, **sub}
    names = {"bonded": "box.first_disconnect", "aic_a": "box.aic_a"}
    fields = {names.get(name, name): value for name, value in {**SOUND, **sub}.items()}
    return sub_panel(with_part(job, "panel", terminals_c=terminals), **fields)


@pytest.mark.parametrize(
    ("sub", "terminals", "hot", "neutral", "ground"),
    [
        # 4 Al carries 65: next rating 70 covers 60; 6 Al carries 50, a rating itself.
        ({}, 75, "4 Al", "8 Al", "8 Al"),  # 40 A: 8 Al carries 40; ground for 60 A: 8 Al
        ({"metal": "cu"}, 75, "6 Cu", "8 Cu", "10 Cu"),  # 65; 8 Cu carries 50
        ({"metal": "cu", "wiring": "nm"}, 75, "6 Cu", "8 Cu", "10 Cu"),  # 55 at 60 °C, next 60; 8 Cu 40
        ({"breaker_a": 100.0, "load_a": None}, 75, "1 Al", "1 Al", "6 Al"),  # 100; 2 Al carries 90, a rating itself
        ({"breaker_a": 100.0}, 60, "1/0 Al", "6 Al", "6 Al"),  # 100; 1 Al carries 85, next 90. 40 A: 6 Al
        ({"breaker_a": 100.0, "metal": "cu"}, 75, "3 Cu", "8 Cu", "8 Cu"),  # 100
        ({"breaker_a": 125.0}, 60, "1/0 Al", "8 Al", "4 Al"),  # above 100 A the 75 °C column: 120, next 125
        ({"breaker_a": 30.0, "metal": "cu", "load_a": 20.0}, 75, "10 Cu", "14 Cu", "10 Cu"),
        ({"breaker_a": 30.0, "wiring": "se", "insulated": True, "load_a": 20.0}, 75, "8 Al", "10 Al", "8 Al"),  # 10 Al ends at 25
        ({"breaker_a": 60.0, "load_a": 58.0, "metal": "cu", "wiring": "nm"}, 75, "4 Cu", "4 Cu", "10 Cu"),  # 55 is below the load
    ],
)  # fmt: skip
def test_sizes_by_hand(sub, terminals, hot, neutral, ground):
    made = plan(feeder(terminals, **sub)).entries
    sizes = {made["feeder.sub.conductors"].value, made["feeder.sub.egc"].value}
    assert sizes == {hot, ground}
    least = {"14 Cu": "10 Cu", "10 Al": "8 Al", "8 Al": "4 Al" if sub.get("breaker_a") == 125 else "8 Al"}
    assert made["feeder.sub.neutral"].value == least.get(neutral, neutral), "not below the EGC"


def test_no_83_percent_for_part_of_the_load():
    """100 A: 1 Al (100 A) where the 83% rule takes 2 Al (90 A) for the same main."""
    made = plan(with_part(feeder(breaker_a=100.0), "decisions", main_a=100.0)).entries
    assert (made["service.conductors.al.dwelling"].value, made["feeder.sub.conductors"].value) == ("2 Al", "1 Al")
    assert "not allowed: it carries part of the load" in str(made["feeder.sub.conductors"].steps)


def test_drop_and_fault_current_along_the_feeder_by_hand():
    """4 Al: 0.508 and 0.048 Ω per 1000 ft, 80 ft, 40 A on 240 V; 10 kA at the panel."""
    job = with_parts(feeder(), "service_run", utility_fault_a=12_000, length_ft=40.0)
    made = plan(job).entries
    per_kft = 0.508 * 0.95 + 0.048 * math.sin(math.acos(0.95))
    assert made["feeder.sub.voltage_drop"].amount == pytest.approx(100 * 2 * 40 * per_kft * 0.08 / 240, rel=1e-6)
    at_panel = made["service.fault_panel"].amount
    f = 2 * 0.08 * at_panel * math.hypot(0.508, 0.048) / 240
    assert made["feeder.sub.fault"].amount == pytest.approx(at_panel / (1 + f), rel=1e-6)
    assert made["feeder.sub.fault"].amount < at_panel < 12_000
    over = plan(sub_panel(job, **{"box.aic_a": 1000.0}))
    assert "feeder.sub.aic" in finding_ids(over)


def test_the_fault_current_at_the_meter_lies_between_source_and_panel():
    made = plan(with_parts(feeder(), "service_run", utility_fault_a=12_000, length_ft=40.0, riser_ft=18.0)).entries
    assert 12_000 > made["service.fault_meter"].amount > made["service.fault_panel"].amount
    all_at_meter = plan(
        with_parts(feeder(), "service_run", utility_fault_a=12_000, length_ft=40.0, riser_ft=40.0)
    ).entries
    assert all_at_meter["service.fault_meter"].value == pytest.approx(all_at_meter["service.fault_panel"].value)


@pytest.mark.parametrize(
    ("changes", "found"),
    [
        ({}, set()),
        ({"bonded": True}, {"feeder.sub.bond"}),
        ({"wires": 3}, {"feeder.sub.wires"}),
        ({"rods": 1}, {"feeder.sub.gec"}),
        ({"disconnect": False}, {"feeder.sub.disconnect"}),
        ({"rods": 0, "disconnect": False, "separate_building": False}, set()),
        ({"breaker_a": 62.0}, {"feeder.sub.rating"}),
        ({"breaker_a": 225.0}, {"feeder.sub.over_main"}),
        ({"load_a": 70.0}, {"feeder.sub.load"}),
    ],
)
def test_what_is_wrong_with_a_sub_panel(changes, found):
    assert {one for one in finding_ids(plan(feeder(**changes))) if one.startswith("feeder.")} == found


FOUND = {"found": True, "conductors": "4 Al", "wires": 3, "metal_path": False, "bonded": True}


@pytest.mark.parametrize(
    ("changes", "found"),
    [  # an old three-wire feeder to a separate building without other metal: lawful, with the bond there
        ({}, {}),
        ({"bonded": False}, {"feeder.sub.bond": "STOP"}),
        ({"metal_path": True}, {"feeder.sub.wires": "STOP", "feeder.sub.bond": "STOP"}),
        ({"metal_path": None}, {"feeder.sub.wires": "ASK"}),
        ({"separate_building": False}, {"feeder.sub.wires": "STOP", "feeder.sub.bond": "STOP"}),
        ({"found": False}, {"feeder.sub.wires": "FIX", "feeder.sub.bond": "STOP"}),
        ({"wires": 4}, {"feeder.sub.bond": "STOP"}),
        ({"wires": 4, "bonded": False}, {}),
        ({"wires": None, "bonded": False}, {"feeder.sub.wires": "ASK"}),
        ({"wires": 0, "bonded": False}, {"feeder.sub.wires": "ASK"}),
        ({"found": False, "wires": None, "bonded": False}, {}),  # a new one has four
    ],
)
def test_how_many_wires_and_where_the_bond(changes, found):
    made = plan(feeder(**{**FOUND, **changes}))
    assert {f.id: str(f.severity) for f in made.findings if f.id in ("feeder.sub.wires", "feeder.sub.bond")} == found
    three = next(node for node in made.one_line if node.key == "sub")
    open_ = changes in ({"metal_path": None}, {"wires": None, "bonded": False})
    assert (three.wires, three.bond) == (
        (3, "in") if changes in ({}, {"bonded": False}) else (4, "open" if open_ else "out")
    )


@pytest.mark.parametrize(
    ("conductors", "breaker_a", "found"),
    [  # 75 °C: 6 Al carries 50, a rating itself; 4 Al 65, next 70
        ("6 Al", 50.0, {}),
        ("6 Al", 60.0, {"feeder.sub.wire": "STOP"}),
        ("4 Al", 70.0, {}),
        ("4 Al", 80.0, {"feeder.sub.wire": "STOP"}),
        ("", 60.0, {"feeder.sub.conductors": "ASK"}),
    ],
)
def test_conductors_of_a_feeder_that_stays_are_judged_by_its_breaker(conductors, breaker_a, found):
    made = plan(feeder(found=True, wires=4, conductors=conductors, breaker_a=breaker_a))
    ids = ("feeder.sub.wire", "feeder.sub.conductors")
    assert {f.id: str(f.severity) for f in made.findings if f.id in ids} == found
    if conductors:
        assert made.entries["feeder.sub.conductors"].value == conductors, "what is there, not what would be pulled"


def test_an_aic_of_the_sub_panel_is_asked_for_once_its_fault_current_is_known():
    job = with_parts(feeder(), "service_run", utility_fault_a=12_000, length_ft=40.0)
    assert "feeder.sub.aic_unknown" in finding_ids(plan(job))
    assert "feeder.sub.aic_unknown" not in finding_ids(plan(sub_panel(job, **{"box.aic_a": 10_000.0})))


@pytest.mark.parametrize(("most", "told"), [("", False), ("6 Al", True), ("4 Al", False)])
def test_lugs_of_the_sub_panel_against_its_feeder(most, told):
    """4 Al for 60 A; what was not read from the label is not judged."""
    assert ("service.lugs:sub" in finding_ids(plan(feeder(**{"box.lugs_most": most})))) is told


@pytest.mark.parametrize(("insulated", "size"), [(True, "8 Al"), (None, "8 Al"), (False, "10 Al")])
def test_se_cable_nobody_has_followed_is_taken_as_insulated(insulated, size):
    """A tap of 20 ft behind 90 A, to a main of 30: 10 Al carries 30 at 75 °C, in insulation 25."""
    end = {"box.main": "breaker", "box.main_a": 30.0, "load_a": 20.0, "length_ft": 20.0, "fed_by": "tap"}
    tap = with_part(feeder(**end, wiring="se", insulated=insulated, separate_building=False), "decisions", main_a=90.0)
    assert plan(tap).entries["feeder.sub.conductors"].value == size


def test_the_electrode_conductor_of_a_separate_building_is_no_larger_than_six():
    assert plan(feeder()).entries["feeder.sub.gec"].value == "6 Cu, or 8 Cu in conduit"  # 4 Al: the first row
    assert plan(feeder(breaker_a=200.0)).entries["feeder.sub.gec"].value == "6 Cu"  # 4/0 Al: 4 Cu, to rods 6
    assert "feeder.sub.gec" not in plan(feeder(separate_building=False)).entries


def test_a_scope_with_a_sub_panel_asks_for_its_breaker():
    made = plan(sub_panel(house(1500, scope="sub_panel")))
    assert "feeder.sub.breaker" in finding_ids(made) and not made.entries["feeder.sub.conductors"].known
    assert "feeder.none" in finding_ids(plan(house(1500, scope="sub_panel"))), "renewed, but which panel?"
    assert not [e for e in plan(house(1500)).entries if e.startswith("feeder.")]


@pytest.mark.parametrize(
    ("fields", "size"),
    [  # areas of Chapter 9: XHHW-2 4 AWG 0.0814, 8 AWG 0.0437 in²; 0.2502 in² at 40% asks for 0.626
        ({"raceway": "pvc40"}, "1"),  # 0.832; 3/4 has 0.508
        ({"raceway": "emt"}, "1"),  # 0.864; 3/4 has 0.533
        ({"raceway": "pvc40", "load_a": 60.0}, "1"),  # neutral 6 Al, 0.0590
        ({"raceway": "imc", "breaker_a": 100.0}, "1-1/4"),  # 2 × 1 AWG 0.1534, 2 × 6 AWG 0.0590: 0.4248 ÷ 0.4 = 1.062; 1 in has 0.959
        ({"raceway": "imc", "breaker_a": 100.0, "found": True, "wires": 3, "conductors": "1 Al"}, "1"),  # without the EGC 0.915
        ({"raceway": ""}, None),
    ],
)  # fmt: skip
def test_the_raceway_of_a_feeder_by_hand(fields, size):
    entry = plan(feeder(wires=fields.pop("wires", 4), **fields)).entries["feeder.sub.raceway"]
    assert (entry.value, entry.known) == (size, size is not None)
    assert "feeder.sub.raceway" not in plan(feeder(wiring="se", **fields)).entries, "a cable lies in none"


TAP = {
    "fed_by": "tap",
    "breaker_a": None,
    "metal": "cu",
    "wiring": "thwn",
    "separate_building": False,
    "box.main": "breaker",
    "box.main_a": 60.0,
}


@pytest.mark.parametrize(
    ("fields", "needs", "hot", "ground"),
    [  # behind the main's 200 A: a tenth is 20 A, a third 66.7 A; the row of 200 A asks for 6 Cu
        ({"length_ft": 8.0}, 60, "6 Cu", "6 Cu"),  # its own main; 6 Cu carries 65
        ({"length_ft": 10.0}, 60, "6 Cu", "6 Cu"),
        ({"length_ft": 10.5}, 200 / 3, "4 Cu", "6 Cu"),  # 85
        ({"length_ft": 25.0, "metal": "al"}, 200 / 3, "3 Al", "4 Al"),  # 75
        ({"length_ft": None}, 200 / 3, "4 Cu", "6 Cu"),  # nobody has measured it: the larger share
        ({"length_ft": 8.0, "wiring": "se", "insulated": False}, 200 / 3, "4 Cu", "6 Cu"),  # the tenth is for a raceway
        ({"length_ft": 8.0, "box.main_a": 40.0, "load_a": 30.0}, 40, "8 Cu", "8 Cu"),  # 50; no ground larger than the tap
        ({"length_ft": 8.0, "box.main_a": 40.0, "load_a": 48.0}, 48, "8 Cu", "8 Cu"),  # its load, and a STOP for its main
        ({"length_ft": 8.0, "box.main_a": 50.0, "load_a": 30.0, "metal": "al"}, 50, "6 Al", "6 Al"),  # no next size up: 50 on 50
        ({"length_ft": 8.0, "box.main_a": 15.0, "load_a": 12.0}, 20, "14 Cu", "14 Cu"),  # the tenth; 240.4(D) is no rule of taps
        ({"length_ft": 60.0, "separate_building": True}, 60, "6 Cu", "6 Cu"),  # outdoors to another building
        ({"length_ft": 8.0, "box.terminals_c": 60}, 60, "4 Cu", "6 Cu"),  # 6 Cu carries 55 at 60 °C
        ({"length_ft": 8.0, "box.main_a": None}, None, None, None),
    ],
)  # fmt: skip
def test_a_tap_by_hand(fields, needs, hot, ground):
    """240.21(B)(1), (2) and (5)."""
    made = plan(feeder(**{**TAP, **fields})).entries
    assert made["feeder.sub.rating"].value == 200, "the device ahead is the main"
    assert (made["feeder.sub.tap"].value, made["feeder.sub.conductors"].value) == (
        pytest.approx(needs) if needs else None,
        hot,
    )
    if ground:
        assert str(made["feeder.sub.egc"].value) == ground


def test_what_goes_on_from_a_tap_is_behind_the_main_at_its_end():
    behind = Panel(id="next", name="next", fed_from="sub", fed_by="lugs", separate_building=False)
    made = plan(add_panel(feeder(**TAP, length_ft=8.0), behind)).entries
    assert made["feeder.next.rating"].value == 60


def test_a_tap_has_no_breaker_where_it_begins_and_is_drawn_as_one():
    made = plan(feeder(**TAP, length_ft=8.0))
    begun = CircuitKey.of_equipment("feeder.sub")
    assert begun in plan(feeder(length_ft=8.0)).circuits.by_key and begun not in made.circuits.by_key
    run = next(one for one in made.installation.runs if one.key == "feeder.sub")
    assert run.begins == "tap" and run.conductor("A").start.words == "Panel, tap, leg A to the garage panel"


def test_conductors_from_the_meter_are_the_services_and_no_tap():
    made = plan(feeder(**{**TAP, "fed_from": "meter", "breaker_a": 60.0}, length_ft=8.0))
    assert "feeder.sub.tap" not in made.entries and made.entries["feeder.sub.rating"].value == 60


@pytest.mark.parametrize(("insulated", "neutral"), [(True, "8 Cu"), (False, "10 Cu")])
def test_the_neutral_of_se_cable_goes_by_its_own_column(insulated, neutral):
    """34 A: 10 Cu carries 35 at 75 °C; in insulation SE cable of 10 AWG and smaller has the 60 °C column, 30. The hots are 6 Cu."""
    sub = {"metal": "cu", "wiring": "se", "insulated": insulated, "load_a": 34.0}
    made = plan(feeder(**sub)).entries
    assert (made["feeder.sub.conductors"].value, made["feeder.sub.neutral"].value) == ("6 Cu", neutral)
