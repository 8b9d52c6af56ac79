"""The breaker for each wire, the wire for each load, and what is found wrong."""

from __future__ import annotations

import pytest
from builders import K, called_out, circuit, finding_ids, house, load, unknown_load
from msgspec.structs import replace

from robust_ledger.branch.links import proposed
from robust_ledger.branch.old_panel import called_out_text, first_free_position, old_positions
from robust_ledger.job.edits import link_load, with_part
from robust_ledger.job.parts.circuits import Mark
from robust_ledger.job.parts.house import When
from robust_ledger.plan import plan


def breaker(one, *loads) -> float | None:
    """The planned breaker of a single circuit [A], feeding the loads given."""
    one = replace(one, load_ids=tuple(x.id for x in loads))
    return plan(house(1500, *loads, circuits=(one,))).entries["branch.breaker.tag:1"].value


@pytest.mark.parametrize(
    ("rooms", "ratings", "planned"),
    [
        (
            ("kitchen",) * 3,
            ("6kW", "4kW", "4kW"),
            40,
        ),  # 14 kW as one range: 8,000 × 110% = 8,800 VA = 36.7 A, at least 40
        (("kitchen",) * 2, ("5kW", "2kW"), 30),  # 7 kW: 80% by column B = 5,600 VA = 23.3 A; found 30 stays
        (("kitchen", "kitchen", "flat"), ("6kW", "4kW", "4kW"), 60),  # not one room: 14,000 VA = 58.3 A
        (("",) * 3, ("6kW", "4kW", "4kW"), 60),  # the room is not known
        (("kitchen",) * 4, ("4kW", "4kW", "3kW", "3kW"), 60),  # three ovens are one too many
    ],
)
def test_a_cooktop_with_its_ovens_is_one_range_on_their_circuit(rooms, ratings, planned):
    units = [
        load(K.COOKING_UNIT, kw, f"unit {n}", room=room)
        for n, (room, kw) in enumerate(zip(rooms, ratings, strict=True))
    ]
    assert breaker(circuit(gauge="6", breaker_a=30, poles=2), *units) == planned


@pytest.mark.parametrize(
    ("gauge", "metal", "found", "planned"),
    [
        ("14", "cu", 15, 15), ("14", "cu", 20, 15), ("14", "cu", 30, 15), ("12", "cu", 20, 20), ("12", "cu", 30, 20),
        ("12", "cu", 15, 15), ("10", "cu", 30, 30), ("10", "cu", 40, 30), ("8", "cu", 40, 40), ("8", "cu", 50, 40),
        ("6", "cu", 60, 60), ("6", "cu", 70, 60), ("4", "cu", 70, 70), ("12", "al", 20, 15), ("10", "al", 30, 25),
        ("8", "al", 40, 35), ("6", "al", 50, 40), ("4", "al", 60, 60), ("12", "cu", None, 20), ("12", "cu", 22, 20),
    ],
)  # fmt: skip
def test_breaker_by_wire(gauge, metal, found, planned):
    """6 Cu is good for 55 A at 60 °C, no standard rating, so 60 may stand; 8 Cu is good for 40, which is one."""
    assert breaker(circuit(gauge=gauge, metal=metal, breaker_a=found)) == planned


def test_a_smaller_breaker_than_the_wire_allows_stays_unless_its_load_needs_more():
    heater = load(K.WATER_HEATER, "4.5kW", "heater")
    assert breaker(circuit(gauge="10", breaker_a=20, poles=2)) == 20
    assert breaker(circuit(gauge="10", breaker_a=20, poles=2), heater) == 25, "18.75 A × 125% = 23.4 A"
    assert breaker(circuit(gauge="12", breaker_a=20, poles=2), heater) == 20, "the wire allows no more"


@pytest.mark.parametrize(
    ("gauge", "found", "planned"), [("10", 45, 45), ("10", 50, 45), ("10", 30, 30), ("12", 45, 20)]
)
def test_a_machine_with_a_nameplate_breaker(gauge, found, planned):
    """MCA 30, MOCP 45: 10 Cu carries 30 A at 60 °C and may stand behind 45; 12 Cu does not carry the minimum ampacity."""
    pump = load(K.HEAT_PUMP, "21.5A@240", "pump", mca_a=30, mocp_a=45)
    assert breaker(circuit(gauge=gauge, breaker_a=found, poles=2), pump) == planned


def test_mocp_between_two_ratings_goes_down():
    pump = load(K.HEAT_PUMP, "10A@240", "pump", mca_a=20, mocp_a=37)
    assert breaker(circuit(gauge="10", breaker_a=40, poles=2), pump) == 35


@pytest.mark.parametrize(
    ("one", "rating", "cable", "poles"),
    [
        (load(K.APPLIANCE, "6kW", "sauna", continuous=True), 35, "8 Cu", 2),  # 25 × 1.25 = 31.25
        (load(K.APPLIANCE, "6kW", "kiln"), 25, "10 Cu", 2),
        (load(K.HEAT_PUMP, "21.5A@240", "pump", mca_a=30, mocp_a=45), 45, "10 Cu", 2),
        (load(K.SUPPLEMENTAL_HEAT, "9.6kW", "strips"), 50, "6 Cu", 2),  # 40 × 1.25 = 50; 8 Cu is good for 40
        (load(K.LIGHTING, "1.8kW@120", "lamps", continuous=True), 20, "12 Cu", 1),  # 15 × 1.25 = 18.75
        (load(K.EV_CHARGER, "48A@240", "charger"), 60, "4 Cu", 2),  # 60 A of load: 6 Cu carries only 55 at 60 °C
        (load(K.EV_CHARGER, "16A@240", "charger"), 20, "12 Cu", 2),
        (load(K.COOKING, "11.2kW", "range"), 40, "8 Cu", 2),  # 8 kW by table = 33.3 A, never below 40
        (load(K.COOKING, "18kW", "range"), 50, "6 Cu", 2),  # 8 kW + 30% = 10.4 kW = 43.3 A; ranges have 40 or 50
        (load(K.COOKING_UNIT, "8kW", "oven"), 40, "8 Cu", 2),  # at nameplate: 33.3 A
        (load(K.DRYER, "5.5kW", "dryer"), 30, "10 Cu", 2),
        (load(K.AIR_CONDITIONER, "20A@240", "cooling"), 25, "10 Cu", 2),  # 125% while MCA and MOCP are not read
        (load(K.MOTOR, "10A@120", "pump", is_motor=True), 20, "12 Cu", 1),  # 12.5 A for the wire; 175% to start
    ],
)
def test_a_new_circuit_for_an_added_load(one, rating, cable, poles):
    made = plan(house(1500, replace(one, when=When.ADDED)))
    branch = made.branch(f"load:{one.id}")
    assert (branch.breaker.value, branch.wire.value, branch.poles) == (rating, cable, poles)


@pytest.mark.parametrize(
    ("rating", "more", "asked"),
    [
        ("20A@240", {}, True),
        ("20A@240", {"mca_a": 26, "mocp_a": 40}, False),
        ("20A@240", {"mca_a": 30, "mocp_a": 25}, True),
        ("9A@120", {}, False),
    ],
)
def test_a_machine_without_its_own_figures_is_asked_about(rating, more, asked):
    """A 120 V window unit comes with a plug and has no such figures."""
    made = plan(house(1500, load(K.AIR_CONDITIONER, rating, "cooling", **more)))
    assert ("load.mca:cooling" in finding_ids(made)) == asked


def test_a_new_circuit_for_a_load_of_unknown_rating_is_unknown():
    made = plan(house(1500, unknown_load(K.DRYER, "dryer", when=When.ADDED)))
    assert made.branch("load:dryer").breaker.value is None and made.branch("load:dryer").wire.value is None


@pytest.mark.parametrize(
    ("line", "rating", "asked"),
    [
        ("1 30 10 heater", "4.5kW@240", True),
        ("1,3 30/2 10 heater", "4.5kW@240", False),
        ("1,3 20/2 12 heater", "1kW@120", True),
    ],
)
def test_poles_against_the_voltage_of_the_load(line, rating, asked):
    made = plan(called_out(house(1500, load(K.WATER_HEATER, rating, "heater")), line))
    assert ("branch.poles:heater:tag:1" in finding_ids(made)) == asked


def test_a_load_on_a_capped_cable_still_gets_its_own_circuit():
    """A capped circuit has no breaker; a load linked to it must not vanish from the panel."""
    job = called_out(house(1500, load(K.APPLIANCE, "6kW", "sauna", when=When.ADDED)), "- - 12 old cable cap")
    assert [b.key for b in plan(link_load(job, "sauna", 1)).circuits.branches] == ["tag:1", "load:sauna"]


def test_a_load_fed_by_two_circuits_is_asked_about():
    both = (circuit(1, load_ids=("fan",)), circuit(2, load_ids=("fan",)))
    job = house(1500, load(K.APPLIANCE, "800VA@120", "fan"), circuits=both)
    assert "branch.fed_twice:fan" in finding_ids(plan(job))
    assert "branch.fed_twice:fan" not in finding_ids(plan(link_load(job, "fan", 2)))


@pytest.mark.parametrize("figures", [{"mca_a": -1, "mocp_a": -1}, {"mca_a": 0, "mocp_a": 45}, {"mca_a": 30}])
def test_machine_figures_that_cannot_be_are_no_license_for_a_thin_wire(figures):
    """Without both figures, 21.5 A × 125% = 26.9 A rules: a 30 A breaker on 10 Cu."""
    pump = load(K.HEAT_PUMP, "21.5A@240", "pump", when=When.ADDED, **figures)
    branch = plan(house(1500, pump)).branch("load:pump")
    assert (branch.breaker.value, branch.wire.value) == (30, "10 Cu")


def test_an_added_load_on_an_old_circuit_gets_no_new_one():
    job = called_out(house(1500, load(K.COOKING, "11.2kW", "range", when=When.ADDED)), "1,3 40/2 8 range")
    assert job.circuits[0].load_ids == ("range",)
    assert [b.key for b in plan(job).circuits.branches] == ["tag:1"]
    assert [b.key for b in plan(link_load(job, "range", None)).circuits.branches] == ["tag:1", "load:range"]


def test_what_circuits_are_expected_to_carry_adds_up_to_the_calculated_load(demo):
    """Listed loads as far as they are counted, the general load spread over the rest: only the hood has no circuit."""
    made = plan(demo)
    spread = sum(b.expected.amount for b in made.circuits.branches)
    factor = made.load.calculations["optional"].factors["range-hood"].amount
    assert spread + 180 * factor == pytest.approx(made.load.chosen.total.amount)


FINDINGS = [
    (circuit(gauge="14", breaker_a=20), "wire_on_breaker", "FIX"),
    (circuit(gauge="12", metal="al", breaker_a=20), "wire_on_breaker", "FIX"),
    (circuit(gauge=None), "gauge_unknown", "ASK"),
    (circuit(gauge="13"), "gauge_size", "FIX"),
    (circuit(gauge="14", metal="al", breaker_a=15), "gauge_size", "FIX"),
    (circuit(breaker_a=None), "breaker_unknown", "ASK"),
    (circuit(breaker_a=22), "breaker_rating", "ASK"),
    (circuit(marks=(Mark.CAPPED,)), "capped", "NOTE"),
    (circuit(marks=(Mark.WHITE_HOT,)), "white_hot", "NOTE"),
    (circuit(marks=(Mark.DARK_NEUTRAL,)), "dark_neutral", "ASK"),
    (circuit(marks=(Mark.BARE_NEUTRAL,), cable="se"), "bare_neutral", "NOTE"),
    (circuit(marks=(Mark.UNKNOWN,)), "unknown", "ASK"),
    (circuit(feeds=""), "unknown", "ASK"),
    (circuit(shares_neutral_with=9), "neutral_partner", "FIX"),
    (circuit(shares_neutral_with=1), "neutral_self", "FIX"),
    (circuit(load_ids=("ghost",)), "load:ghost", "FIX"),
    (circuit(spaces=("25",)), "old_outside:25", "ASK"),
    (circuit(spaces=("x",)), "old_outside:x", "ASK"),
    (circuit(poles=2, breaker_a=20, spaces=("1", "2")), "old_legs", "ASK"),
    (circuit(gauge="12", metal="al", breaker_a=15), "aluminum", "FIX"),
    (circuit(gauge="10", breaker_a=30), "single_30", "ASK"),
    (circuit(cable="cloth"), "insulation_cloth", "ASK"),
    (circuit(cable="rubber", marks=(Mark.CAPPED,)), "insulation_rubber", "ASK"),
    (circuit(cable="bx"), "armor", "FIX"),
    (circuit(cable="knob_tube"), "knob_tube", "ASK"),
    (circuit(cable="conduit"), "ground_path", "NOTE"),
    (circuit(cable="ac"), "ground_path", "NOTE"),
    (circuit(cable="mc"), "ground_path", "NOTE"),
    (circuit(marks=(Mark.DOUBLED,)), "doubled", "FIX"),
    (circuit(marks=(Mark.LATER_120,), poles=2, breaker_a=20, spaces=("1", "3")), "later_120", "NOTE"),
    (circuit(marks=(Mark.LATER_120,)), "later_120_poles", "ASK"),
]

SOUND = [
    {"cable": "nm"}, {"cable": "uf"}, {"cable": "se", "gauge": "6", "breaker_a": 60, "poles": 2, "spaces": ("1", "3")},
    {"gauge": "2/0", "metal": "al", "breaker_a": 125, "poles": 2, "spaces": ("1", "3")},  # a feeder, no branch wiring
    {"gauge": "10", "breaker_a": 30, "poles": 2, "spaces": ("1", "3")}, {"gauge": "10", "breaker_a": 25},
]  # fmt: skip


@pytest.mark.parametrize("one", SOUND)
def test_wiring_that_needs_no_word(one):
    found = {
        f.id
        for f in plan(house(1500, circuits=(circuit(**{"spaces": ("1",), **one}),))).findings
        if f.stage == "pulloff"
    }
    assert found <= {"branch.no_load:tag:1"}, "a 240 V circuit is asked what it feeds, no more"


def test_a_circuit_to_be_converted_is_off_until_then_and_the_directory_says_so():
    job = house(
        1500,
        circuits=(
            circuit(feeds="baseboard", marks=(Mark.LATER_120,), poles=2, spaces=("1", "3")),
            circuit(2, feeds="hall"),
        ),
    )
    made = plan(job)
    assert made.branch("tag:1").off and made.branch("tag:1").directory_text == "NOT IN USE, to become 120 V: baseboard"
    assert "tag:1" not in made.bench.placement.positions and made.bench.spaces_used.value == 1


def test_two_wires_under_one_breaker_are_two_tags_in_one_space():
    job = house(1500, circuits=(circuit(1, spaces=("1",)), circuit(2, spaces=("1",), marks=(Mark.DOUBLED,))))
    ids = {f.id for f in plan(job).findings}
    assert "branch.doubled:tag:2" in ids and "branch.old_twice:1:tag:2" not in ids
    assert plan(job).bench.spaces_used.value == 2, "a breaker for each"


@pytest.mark.parametrize(("one", "kind", "severity"), FINDINGS)
def test_what_is_wrong_with_a_circuit(one, kind, severity):
    sound = plan(house(1500, circuits=(circuit(spaces=("1",)),)))
    assert not [f for f in sound.findings if f.stage == "pulloff"], "a sound circuit has no finding"
    made = plan(house(1500, circuits=(one,)))
    finding = next(f for f in made.findings if f.id == f"branch.{kind}:tag:1")
    assert finding.severity == severity
    assert finding.place == "circuit:1" and finding.remedy and finding.text.endswith(".")


@pytest.mark.parametrize(
    ("first", "second", "kind"),
    [
        ({"spaces": ("1",)}, {"spaces": ("1",)}, "old_twice:1:tag:2"),
        ({"spaces": ("19a",)}, {"spaces": ("19",)}, "old_twice:19:tag:2"),
        ({"shares_neutral_with": 2, "spaces": ("1",)}, {"spaces": ("2",)}, "neutral_one_leg:tag:1"),
        ({"shares_neutral_with": 2}, {"shares_neutral_with": 3}, "neutral_ring:tag:1"),
        ({"shares_neutral_with": 2}, {"marks": (Mark.CAPPED,)}, "neutral_off:tag:1"),
        ({"shares_neutral_with": 2}, {"poles": 2}, "neutral_poles:tag:1"),
    ],
)
def test_what_is_wrong_between_two_circuits(first, second, kind):
    job = house(1500, circuits=(circuit(1, **first), circuit(2, **second), circuit(3)))
    assert f"branch.{kind}" in finding_ids(plan(job))


@pytest.mark.parametrize(
    ("second", "there"), [({"spaces": ("3",), "tag": 2}, False), ({"spaces": ("5",), "tag": 2}, True)]
)
def test_a_shared_neutral_on_opposite_legs_is_sound(second, there):
    job = house(1500, circuits=(circuit(1, spaces=("1",), shares_neutral_with=2), circuit(**second)))
    assert ("branch.neutral_one_leg:tag:1" in finding_ids(plan(job))) == there


def test_halves_of_a_tandem_do_not_quarrel():
    job = house(1500, circuits=(circuit(1, spaces=("19a",)), circuit(2, spaces=("19b",))))
    assert not [f for f in plan(job).findings if "old_twice" in f.id]


def test_how_far_the_call_out_has_come():
    """Six spaces, number 5 marked for a tandem and 6 found with one: eight positions."""
    job = house(
        1500,
        old_panel={"spaces": 6, "tandem_spaces": (5,)},
        circuits=(circuit(1, spaces=("1", "3")), circuit(2, spaces=("6b",))),
    )
    assert old_positions(job) == ["1", "2", "3", "4", "5a", "5b", "6a", "6b"]
    assert called_out_text(job) == "3 of 8 positions called out, 2 tags"
    assert first_free_position(job) == "2"
    full = house(1500, old_panel={"spaces": 2}, circuits=(circuit(1, spaces=("1",)), circuit(2, spaces=("2",))))
    assert first_free_position(full) == "-"


def test_a_bare_neutral_may_not_land_behind_the_first_disconnect():
    job = house(1500, circuits=(circuit(marks=(Mark.BARE_NEUTRAL,)),))
    behind = with_part(job, "panel", first_disconnect=False)
    assert next(f for f in plan(behind).findings if "bare_neutral" in f.id).severity == "STOP"


def test_a_wire_too_small_for_its_load_is_found_and_not_given_a_bigger_breaker():
    job = called_out(house(1500, load(K.SUPPLEMENTAL_HEAT, "9.6kW", "strips")), "1,3 50/2 8 strips")
    made = plan(job)
    assert made.entries["branch.breaker.tag:1"].value == 40
    assert {"branch.wire_on_breaker:tag:1", "branch.wire_for_load:tag:1"} <= finding_ids(made)


def test_a_nameplate_above_its_mocp_is_found():
    pump = load(K.HEAT_PUMP, "21.5A@240", "pump", mca_a=30, mocp_a=45)
    made = plan(called_out(house(1500, pump), "1,3 60/2 10 pump"))
    assert "branch.mocp:tag:1" in finding_ids(made) and "branch.wire_on_breaker:tag:1" not in finding_ids(made)


def test_a_load_in_the_house_without_a_circuit_is_noted():
    job = called_out(house(1500, load(K.DRYER, "5kW", "dryer")), "1 20 12 kitchen")
    assert "branch.no_circuit:dryer" in finding_ids(plan(job))
    assert "branch.no_circuit:dryer" not in finding_ids(plan(link_load(job, "dryer", 1)))


@pytest.mark.parametrize(
    ("when", "planned", "expected"), [("existing", 40, 9600), ("added", 40, 9600), ("later", 20, 0), ("removed", 20, 0)]
)
def test_only_loads_of_this_job_move_their_circuit(when, planned, expected):
    """9.6 kW at 240 V are 40 A; a load that goes or comes later leaves the breaker as found and carries nothing yet."""
    one = circuit(gauge="8", breaker_a=20, poles=2, load_ids=("kiln",))
    made = plan(
        house(
            1500, load(K.LIGHTING, "9.6kW", "kiln", when=when), circuits=(one,), decisions={"load_method": "standard"}
        )
    )
    assert made.entries["branch.breaker.tag:1"].value == planned
    assert made.entries["branch.expected.tag:1"].value == pytest.approx(expected)


@pytest.mark.parametrize(
    ("feeds", "load_name"),
    [
        ("baseboards den", "wall baseboard"),
        ("heater", None),
        ("den", None),
        ("hot tub pump", "hot tub"),
        ("pool", None),
    ],
)
def test_a_description_proposes_the_load_it_most_likely_means(feeds, load_name):
    """Two heaters fit "heater" alike, and a room alone names no load."""
    loads = [
        load(K.HEATING, "2kW", name, room=room)
        for name, room in (("wall baseboard", "den"), ("water heater", ""), ("garage heater", ""))
    ]
    job = house(
        1500, *loads, load(K.MOTOR, "1kW", "hot tub"), circuits=(circuit(poles=2, feeds=feeds, spaces=("1", "3")),)
    )
    found = proposed(job, job.circuits[0])
    assert (found.name if found else None) == load_name
    note = next(f for f in plan(job).findings if f.id == "branch.no_load:tag:1")
    assert (load_name in note.text) if load_name else "Its words name" not in note.text


@pytest.mark.parametrize(
    ("panel", "found"),
    [
        ({}, set()),
        ({"kind": "fuses"}, {"old_panel.fuses"}),
        ({"kind": "split_bus"}, {"old_panel.split", "old_panel.split_at"}),
        ({"kind": "split_bus", "split_at": 25}, {"old_panel.split", "old_panel.split_at"}),
        ({"kind": "split_bus", "split_at": 7}, {"old_panel.split"}),
        ({"kind": "split_bus", "split_at": 3}, {"old_panel.split", "branch.old_split:tag:1"}),
    ],
)
def test_panels_without_one_main(panel, found):
    """A 2-pole in 1 and 3 straddles a lower bus that begins at 3."""
    job = house(1500, circuits=(circuit(poles=2, spaces=("1", "3")),), old_panel={"spaces": 24, **panel})
    ids = {f.id for f in plan(job).findings if f.id.startswith(("old_panel.", "branch.old_"))}
    assert ids == found
