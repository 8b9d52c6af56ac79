"""The bond, once on every way; emergency disconnect and surge device by edition and scope; main or lugs; interlock; solar."""

from __future__ import annotations

import pytest
from builders import K, finding_ids, house, load
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.job.upgrades import ANSWERS
from robust_ledger.plan import plan

AHEAD = {"disconnect_a": 200.0}


def service(scope: str = "upgrade", edition: str = "2023", **parts) -> Job:
    """A house with a 200 A main and the parts given."""
    decisions = {"main_a": 200.0, **parts.pop("decisions", {})}
    return house(1500, scope=scope, edition=edition, decisions=decisions, **parts)


CHAINS = st.builds(
    lambda ahead, new, first, sub_a, bonded, wires, scope, mains: service(
        scope,
        chain={"disconnect_a": ahead, "replaced": ("disconnect",) if new else ()},
        panel={"first_disconnect": first},
        sub_panel={"breaker_a": sub_a, "bonded": bonded, "wires": wires},
        decisions={"split_mains_a": mains},
    ),
    st.sampled_from([None, 100.0, 200.0]),
    st.booleans(),
    st.booleans(),
    st.sampled_from([None, 60.0]),
    st.booleans(),
    st.sampled_from([3, 4]),
    st.sampled_from(list(ANSWERS)),
    st.sampled_from([(), (200.0,), (200.0, 150.0), (100.0, 100.0, 100.0)]),
)


def bonds_on_each_way(job: Job) -> list[int]:
    """How many bonds one passes from each last panel back to the meter, worked out from the job itself."""
    ahead = 1 if job.disconnect_ahead else 0
    main = ahead + (1 if job.panel.first_disconnect else 0)
    before = {"meter": 0, "disconnect": ahead, "panel": main}
    return [main, *(before[one.fed_from] + (1 if one.box.first_disconnect else 0) for one in job.panels)]


@given(CHAINS)
def test_a_stop_tells_every_chain_that_is_not_bonded_exactly_once(job):
    made = plan(job)
    ids = finding_ids(made)
    stops = {one for one in ids if one in ("service.bond_twice", "service.bond_nowhere") or one.endswith(".bond")}
    assert (not stops) is all(count == 1 for count in bonds_on_each_way(job)), stops


@given(CHAINS)
def test_what_the_plan_asks_for_is_one_bond_on_every_way(job):
    """By the plan's own entries: following "behind" from any place to the meter meets "bonded here" once."""
    made = plan(job)
    places = {place.key: place for place in plan(job).installation.bonded}
    for place in places.values():
        count, at = 0, place.key
        while at in places:
            count += made.entries[f"service.bond.{at}"].value == "bonded here"
            at = places[at].above
        assert at == "meter" and count == 1, place
    drawn = [node.key for node in made.one_line]
    assert drawn == ["utility", "meter", *places]
    assert all(
        node.wires == 4
        for node in made.one_line
        if places.get(node.key) and places[node.key].bond.kind == "out" and node.key != "sub"
    )


@pytest.mark.parametrize(
    ("scope", "chain", "emergency", "surge"),
    [  # answers in 2017, 2020, 2023
        ("upgrade", {}, ["not required", "required, missing", "required, missing"], ["not required", "required", "required"]),
        ("upgrade", AHEAD, ["provided, not required", "required, provided", "required, provided"], ["not required", "required", "required"]),
        ("swap", {}, ["not required", "not required", "required, missing"], ["not required", "required", "required"]),
        # a feeder feeds the panel behind it: from 2023 that needs one too [215.18]
        ("swap", {**AHEAD, "disconnect_inside": True}, ["not required"] * 3, ["not required", "not required", "required"]),
        ("split", AHEAD, ["provided, not required", "required, provided", "required, provided"], ["not required", "required", "required"]),
    ],
)  # fmt: skip
def test_emergency_disconnect_and_surge_device_by_edition(scope, chain, emergency, surge):
    """A panel behind an old disconnect that stays is no service equipment: nothing of it is replaced."""
    for number, edition in enumerate(("2017", "2020", "2023")):
        made = plan(service(scope, edition, chain=chain, panel={"first_disconnect": not chain}))
        assert made.entries["service.emergency"].value == emergency[number], edition
        assert made.entries["service.spd"].value == surge[number], edition
        assert ("service.emergency" in finding_ids(made)) is (emergency[number] == "required, missing")
        assert ("service.spd" in finding_ids(made)) is (surge[number] == "required")
        if edition == "2017":
            assert "230.85" not in str([c.section for c in made.entries["service.emergency"].cites])


def test_a_panel_outdoors_is_its_own_emergency_disconnect_and_a_planned_device_settles_surge():
    made = plan(service(location={"room": "outdoors", "weatherproof": True}, equipment={"spd": True}))
    assert made.entries["service.emergency"].value == "required, provided"
    assert not {"service.emergency", "service.spd"} & finding_ids(made)
    unsaid = plan(service("unsaid"))
    assert unsaid.entries["service.emergency"].why_unknown == "the scope of the job"


def test_main_breaker_first_and_lugs_behind():
    assert plan(service()).entries["service.panel_main"].value == "main breaker"
    behind = service(chain=AHEAD, panel={"first_disconnect": False})
    assert plan(behind).entries["service.panel_main"].value == "main lug only (MLO)"
    steps = [step.label for step in plan(behind).entries["service.panel_main"].steps]
    assert "two equal breakers in a row" in steps, "a matter of taste, said in the margin"


@pytest.mark.parametrize(
    ("main_a", "bus_a", "inverter_a", "far_end", "over"),
    [
        (200, 200, 32.0, True, False),  # 200 + 40 = 240 = 1.2 × 200
        (200, 200, 32.8, True, True),  # 241
        (175, 200, 52.0, True, False),  # 175 + 65 = 240
        (200, 225, 56.0, True, False),  # 200 + 70 = 270 = 1.2 × 225
        (200, 200, 16.0, False, True),  # 220 on a bus of 200
        (150, 200, 40.0, False, False),  # 150 + 50 = 200
    ],
)
def test_the_solar_bus_rule(main_a, bus_a, inverter_a, far_end, over):
    job = service(
        panel={"bus_a": bus_a},
        equipment={"inverter_a": inverter_a, "inverter_opposite": far_end},
        decisions={"main_a": main_a},
    )
    made = plan(job)
    assert made.entries["service.solar_bus"].amount == pytest.approx(main_a + 1.25 * inverter_a)
    assert ("service.solar" in finding_ids(made)) is over


def test_an_interlock_is_listed_fits_the_bus_and_takes_two_spaces():
    base = plan(service())
    made = plan(service(equipment={"generator_a": 30.0}))
    assert made.entries["service.interlock"].value == 30 and "service.interlock_kit" in finding_ids(made)
    added = made.entries["count.needed"].steps[-3].amount - base.entries["count.needed"].steps[-3].amount
    assert added == 2
    listed = plan(service(equipment={"generator_a": 300.0, "interlock_listed": True}))
    assert finding_ids(listed) >= {"service.interlock_rating"} and "service.interlock_kit" not in finding_ids(listed)
    assert not listed.entries["service.interlock"].known


@pytest.mark.parametrize(
    ("mains", "main_a", "size", "shown"),
    [  # 197 A by the standard calculation: 5,100 and 42,240 VA
        ((150.0, 100.0), None, "250 kcmil Al", "150 + 100 A"),  # 205 A for 197
        ((150.0, 100.0), 200.0, "4/0 Al", "150 + 100 A"),  # a rating that was chosen: 83% are 166 A
        ((150.0,), None, "4/0 Al", None),  # one main and another not said
    ],
)  # fmt: skip
def test_ahead_of_several_mains_the_conductors_go_by_the_load(mains, main_a, size, shown):
    """No device has the rating that the load asks for, so there is nothing to take 83% of [230.90(A) Ex. 3, 310.12]."""
    job = replace(
        service("split", decisions={"split_mains_a": mains, "main_a": main_a, "load_method": "standard"}),
        loads=(load(K.APPLIANCE, "42.24kW", "kiln"),),
    )
    made = plan(job)
    assert made.load.governing.value == 197 and made.entries["service.main"].value == 200
    assert made.service.conductors.value == size
    assert made.service.figures.mains.text() == (shown or "200 A")


def test_a_split_service_has_a_main_and_full_size_conductors_for_each_panel():
    """150 A: 3/0 Al by the whole rating; 200 A: 250 kcmil Al. Both behind the meter, each with its own bond."""

    def of(*mains: float):
        made = service("split", decisions={"split_mains_a": mains, "main_a": 350.0})
        return replace(made, loads=(load(K.APPLIANCE, "90kW", "kiln"),))

    job = of(200.0, 150.0)
    made = plan(job)
    assert made.entries["feeder.panel.conductors"].value == "250 kcmil Al"
    assert made.entries["feeder.panel-2.conductors"].value == "3/0 Al"
    assert made.entries["feeder.panel-2.least_neutral"].value == "4 Al", "beside 3/0 Al by the table: 6 Cu or 4 Al"
    assert "feeder.panel-2.egc" not in made.entries
    assert {"service.bus", "service.bond_twice"}.isdisjoint(finding_ids(made))
    assert [(p.key, p.bond.kind) for p in made.installation.bonded] == [("panel", "in"), ("panel-2", "in")]
    for mains, found in (
        ((), "service.split_mains"),
        ((77.0, 200.0), "feeder.panel.rating"),
        ((200.0, 77.0), "feeder.panel-2.rating"),
        ((300.0, 100.0), "feeder.panel.bus"),
        ((100.0, 60.0), "service.split_small"),
    ):
        assert found in finding_ids(plan(of(*mains))), mains
    assert not {
        "service.split_mains",
        "feeder.panel.rating",
        "feeder.panel.bus",
        "service.split_small",
    } & finding_ids(made)


def test_a_new_disconnect_moves_the_bond_out():
    """Marked as the first one, the panel would be bonded again; as a meter disconnect it is right, with the bond in the panel."""
    new = service("outside_disconnect", existing={"disconnect_at": "outdoors"})
    assert "service.bond_twice" in finding_ids(plan(new))
    apart = with_part(new, "panel", first_disconnect=False)
    assert not {"service.bond_twice", "service.bond_nowhere"} & finding_ids(plan(apart))
    meter = with_part(new, "scope", disconnect_kind="meter")
    assert not {"service.bond_twice", "service.bond_nowhere"} & finding_ids(plan(meter))
    assert "service.bond_nowhere" in finding_ids(plan(with_part(apart, "scope", disconnect_kind="supply")))


def test_the_conventions_reach_plan_and_papers():
    from robust_ledger.exchange.plan_json import plan_data

    job = service(conventions={"leg_b": "blue", "left_leg": "B", "antioxidant": "label"})
    words = {item["about"]: item["words"] for item in plan_data(plan(job))["conventions"]}
    assert words["Legs"] == "B (blue) on the left main lug, A (black) on the right"
    assert "from 4 AWG up only" in words["Neutral"] and "where the label requires" in words["Aluminum"]
