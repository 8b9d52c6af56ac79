"""From old circuits to new ones: kept, capped, converted, split, merged, new cable; what is required and what may share."""

from __future__ import annotations

import pytest
from builders import K, called_out, circuit, finding_ids, house, load

from robust_ledger.branch.outlets import general_circuits
from robust_ledger.job.edits import change_branch, remove_circuits, with_part
from robust_ledger.job.parts.circuits import Mark
from robust_ledger.job.parts.house import When
from robust_ledger.plan import plan


def branch(made, key: str):
    return made.branch(key)


TWO = called_out(house(1500), "1 20 12 den receptacles", "3 15 14 hall lights", "5,7 30/2 10 old heater")


@pytest.mark.parametrize(
    ("changes", "key", "expected"),
    [
        ({}, "tag:1", ("tag 1 kept", 1, 20, False)),
        ({"action": "cap"}, "tag:1", ("tag 1 capped", 1, None, True)),
        ({"action": "new_cable"}, "tag:1", ("tag 1 new cable", 1, 20, False)),
        ({"action": "convert"}, "tag:3", ("tag 3 converted to 120 V", 1, 30, False)),
        ({"action": "split", "other_feeds": "study receptacles"}, "tag:1.2", ("split from tag 1", 1, 20, False)),
        ({"action": "merge", "into": 1}, "tag:1", ("tag 1 kept, tag 2 combined with it", 1, 15, False)),
    ],
)
def test_what_becomes_of_an_old_circuit(changes, key, expected):
    of = {"convert": "tag:3", "merge": "tag:2"}.get(changes.get("action", ""), "tag:1")
    made = branch(plan(change_branch(TWO, of, **changes)), key)
    rating = made.breaker.amount if made.breaker.known and not made.off else None
    assert (made.origin_words, made.poles, rating, made.off) == expected
    assert made.origin_tag == int(key.removeprefix("tag:").split(".")[0])


def test_joined_circuits_carry_both_on_the_smaller_breaker():
    before, after = plan(TWO), plan(change_branch(TWO, "tag:2", action="merge", into=1))
    assert after.branch("tag:2") is None and len(after.circuits.branches) == len(before.circuits.branches) - 1
    joined = after.branch("tag:1")
    assert joined.sources == (1, 2) and joined.feeds == "den receptacles; hall lights"
    assert joined.serves.places == {"living", "hall"} and joined.serves.lights and joined.serves.receptacles
    assert joined.expected.amount == pytest.approx(sum(before.branch(f"tag:{n}").expected.amount for n in (1, 2)))
    assert [c.old for c in after.bench.changes if c.key == "tag:1"] == ["1, 3"]


@pytest.mark.parametrize(
    "changes",
    [
        {"action": "merge", "into": 2},
        {"action": "merge", "into": 3},
        {"action": "merge", "into": 99},
        {"action": "merge"},
    ],
)
def test_what_cannot_be_joined_stays_as_it_is(changes):
    made = plan(change_branch(TWO, "tag:2", **changes))
    assert made.branch("tag:2") is not None and len(made.circuits.branches) == 3


def test_two_that_point_at_each_other_both_stay():
    job = change_branch(change_branch(TWO, "tag:2", action="merge", into=1), "tag:1", action="merge", into=2)
    assert {b.key for b in plan(job).circuits.branches} == {"tag:1", "tag:2", "tag:3"}


def test_a_converted_circuit_is_off_no_more():
    job = house(1500, circuits=(circuit(1, "12", 20, poles=2, marks=(Mark.LATER_120,)),))
    assert plan(job).circuits.branches[0].off and plan(job).circuits.branches[0].converts
    made = plan(change_branch(job, "tag:1", action="convert")).circuits.branches[0]
    assert not made.off and made.poles == 1


def test_a_new_cable_reaches_everywhere_and_asks_for_what_rewiring_asks():
    job = with_part(TWO, "old_panel", spaces=12)
    made = plan(change_branch(job, "tag:1", action="new_cable"))
    assert made.bench.reach["tag:1"].verdict == "new cable" and made.bench.reach["tag:2"].verdict == "not known"
    assert made.branch("tag:1").protection.arc.word == "required"
    split = plan(change_branch(job, "tag:1", action="split", other_feeds="garage receptacles"))
    assert (
        split.branch("tag:1.2").protection.ground.word == "required"
        and split.bench.reach["tag:1.2"].verdict == "new cable"
    )


def test_decisions_go_with_the_circuit():
    job = change_branch(TWO, "tag:1", work="extended")
    assert remove_circuits(job, {1}).decisions.circuits == {}
    assert change_branch(job, "tag:1", work="").decisions.circuits == {}, "what is as by default is not written down"


# --- required circuits ------------------------------------------------------------------------------------------------
WHOLE = ("1 20 12 kitchen counter", "2 20 12 dining receptacles", "3 20 12 laundry receptacle", "4 20 12 bathroom receptacles",
         "5 20 12 garage receptacles",         "6 15 14 furnace", "7 15 14 hall lights and smoke alarms")  # fmt: skip


def met(*lines: str, edition: str = "2023") -> dict[str, bool]:
    return {one.name: one.met for one in plan(called_out(house(1500, edition=edition), *lines)).circuits.requirements}


def test_a_house_that_has_everything():
    assert all(met(*WHOLE).values())
    assert set(met(*WHOLE)) >= {
        "Small-appliance circuits",
        "Laundry circuit",
        "Bathroom circuit",
        "Garage circuit",
        "Furnace on its own",
    }
    assert not [f for f in finding_ids(plan(called_out(house(1500), *WHOLE))) if f.startswith("bench.required")]


@pytest.mark.parametrize(
    ("index", "instead", "name"),
    [
        (1, "2 20 12 refrigerator", "Small-appliance circuits"),  # its own circuit is no small-appliance circuit
        (1, "2 20 12 dining and living room receptacles", "Small-appliance circuits"),
        (1, "2 15 14 dining receptacles", "Small-appliance circuits"),
        (2, "3 20 12 laundry and hall receptacles", "Laundry circuit"),
        (3, "4 15 14 bathroom receptacles", "Bathroom circuit"),
        (3, "4 20 12 bathroom and bedroom receptacles", "Bathroom circuit"),
        (4, "5 20 12 garage and den receptacles", "Garage circuit"),
        (5, "6 15 14 furnace and basement lights", "Furnace on its own"),
    ],
)
def test_each_requirement_both_ways(index, instead, name):
    lines = [*WHOLE[:index], instead, *WHOLE[index + 1 :]]
    result = met(*lines)
    assert result[name] is False and sum(not one for one in result.values()) == 1


def test_a_garage_is_asked_about_only_where_there_is_one_and_may_have_outdoor_outlets():
    assert "Garage circuit" not in met(*WHOLE[:4])
    assert met(*WHOLE[:4], "5 20 12 garage and outdoor receptacles")["Garage circuit"]


@pytest.mark.parametrize(
    ("line", "finding"),
    [
        ("1 20 12 dining and living room receptacles", "bench.shares_small:tag:1"),
        ("1 20 12 kitchen receptacles and lights", "bench.shares_small:tag:1"),
        ("1 20 12 kitchen counter and furnace", "bench.shares_furnace:tag:1"), ("1 20 12 bathroom and hall receptacles", "bench.shares_bath:tag:1"),
        ("1 20 12 laundry and basement receptacles", "bench.shares_laundry:tag:1"), ("1 20 12 kitchen and dining receptacles", None),
        ("1 20 12 den and bedroom receptacles", None), ("1 20 12 furnace", None), ("1 20 12 bathroom receptacles and light", None),
    ],
)  # fmt: skip
def test_what_may_share_a_circuit(line, finding):
    job = called_out(house(1500), line)
    found = {f.id: f for f in plan(job).findings if f.id.startswith("bench.shares")}
    assert set(found) == ({finding} if finding else set())
    if finding and "furnace" not in finding:
        assert found[finding].severity == "NOTE" and "may remain" in found[finding].text
        touched = plan(change_branch(job, "tag:1", work="extended"))
        assert next(f for f in touched.findings if f.id == finding).severity == "FIX", "refused in new work"


def test_a_furnace_on_the_kitchen_circuit_names_the_conflict_and_the_way_out():
    finding = next(
        f
        for f in plan(called_out(house(1500), "1 20 12 kitchen counter and furnace")).findings
        if "shares_furnace" in f.id
    )
    assert "behind the breaker that the kitchen needs" in finding.text and finding.remedy.startswith("A new cable")


@pytest.mark.parametrize("name", ["sump pump", "refrigerator"])
def test_a_pump_or_refrigerator_behind_a_ground_fault_breaker_is_told(name):
    job = called_out(house(1500), f"1 20 12 {name}")
    assert "bench.nuisance:tag:1" not in finding_ids(plan(job))
    assert "bench.nuisance:tag:1" in finding_ids(plan(change_branch(job, "tag:1", work="extended")))
    at_outlet = change_branch(job, "tag:1", work="extended", protect_at="first_outlet")
    assert "bench.nuisance:tag:1" not in finding_ids(plan(at_outlet))


@pytest.mark.parametrize(
    ("line", "practice", "told"),
    [("1 15 14 hall lights and smoke alarms", "lighting", False), ("1 15 14 hall lights and smoke alarms", "own", True),
     ("1 15 14 smoke alarms", "lighting", True), ("1 15 14 smoke alarms", "own", False),
     ("1 15 14 sconces and smoke alarms", "lighting", False), ("1 15 14 skylight motor, smoke alarms", "lighting", True)],
)  # fmt: skip
def test_smoke_alarms_by_both_practices(line, practice, told):
    made = plan(with_part(called_out(house(1500), line), "decisions", smoke_practice=practice))
    assert ("bench.alarms:tag:1" in finding_ids(made)) is told


@pytest.mark.parametrize(("practice", "told"), [("shared", False), ("apart", True)])
def test_lights_and_receptacles_by_both_practices(practice, told):
    made = plan(
        with_part(
            called_out(house(1500), "1 20 12 den lights and receptacles"), "decisions", lighting_practice=practice
        )
    )
    assert ("bench.mixed:tag:1" in finding_ids(made)) is told


# --- how many outlets -------------------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("line", "count", "most", "verdicts"),
    [
        ("1 15 14 den receptacles", 10, 10, {"va": True, "ten": True}),  # 15 × 120 ÷ 180 = 10
        ("1 15 14 den receptacles", 11, 10, {"va": False, "ten": False}),
        ("1 20 12 den receptacles", 12, 13, {"va": True, "ten": False}),  # 20 × 120 ÷ 180 = 13.3
        ("1 20 12 den receptacles", 14, 13, {"va": False, "ten": False}),
        ("1 20 12 den receptacles", None, 13, {"va": None, "ten": None}),
    ],
)
def test_outlets_by_180_va_and_by_ten(line, count, most, verdicts):
    made = plan(change_branch(called_out(house(1500), line), "tag:1", outlets=count))
    (practice,) = made.circuits.practices
    assert practice.by_va.amount == most and {name: practice.holds(name) for name in verdicts} == verdicts
    assert practice.disagree == (len({v for _, v in practice.verdicts if v is not None}) > 1)


def test_outlets_by_expected_use():
    """One 15 A circuit for a house of 500 ft²: its share is the whole general load, more than 80% of 1,800 VA."""
    made = plan(called_out(house(500), "1 15 14 den receptacles"))
    (one,) = made.circuits.practices
    expected = made.entries["branch.expected.tag:1"].amount
    assert one.by_use.amount == pytest.approx(0.8 * 1800 - expected) and one.holds("use") is (one.by_use.amount >= 0)


def test_the_least_number_of_general_circuits():
    """1,500 ft² × 3 VA = 4,500 VA: ÷ 1,800 = 2.5, so three of 15 A; ÷ 2,400 = 1.9, so two of 20 A."""
    made = plan(house(1500))
    found = general_circuits(made.job, made.entries["load.optional.lighting"], made.codebook)
    assert (found[15].amount, found[20].amount) == (3, 2)


def test_fastened_loads_on_a_shared_circuit_against_half_of_it():
    """A 1,300 VA heater fan on a 20 A circuit with lights: 1,300 ÷ 2,400 = 0.54 of it."""
    job = house(
        1500,
        load(K.APPLIANCE, "1300VA@120", "hall fan"),
        circuits=(circuit(1, feeds="hall lights", load_ids=("hall-fan",)),),
    )
    entry = plan(job).entry("outlets.fastened.tag:1")
    assert entry.amount == pytest.approx(1300 / 2400) and entry.steps[-1].amount == 0.5


def test_a_future_counts_for_nothing_that_is_required_now():
    job = house(
        1500,
        load(K.APPLIANCE, "1kW@120", "microwave", when=When.LATER),
        circuits=(circuit(1, feeds="den receptacles"),),
    )
    assert not any("Microwave" in one.name for one in plan(job).circuits.requirements)


@pytest.mark.parametrize(("action", "severity"), [("keep", "STOP"), ("new_cable", "NOTE"), ("cap", "NOTE")])
def test_a_bare_neutral_is_settled_by_what_is_decided_of_its_circuit(action, severity):
    job = with_part(called_out(house(1500), "1,3 30/2 10 dryer bare-n"), "panel", first_disconnect=False)
    made = plan(change_branch(job, "tag:1", action=action))
    assert next(f for f in made.findings if f.id == "branch.bare_neutral:tag:1").severity == severity


def test_a_pair_behind_one_handle_has_the_smaller_rating():
    made = plan(called_out(house(1500), "1 20 12 den receptacles", "3 15 14 hall lights mw 1"))
    assert [made.branch(f"tag:{n}").breaker.amount for n in (1, 2)] == [15, 15]
    assert "one handle" in made.entries["branch.breaker.tag:1"].steps[-1].label


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({"action": "merge", "into": 1}, "combined with tag 1"), ({"action": "new_cable"}, "new cable; arc-fault 1-pole breaker"),
        ({"action": "cap"}, "hots capped; its EGC is landed"), ({"action": "split"}, "split: tag 2.2 gets a new cable"),
        ({"work": "extended"}, "arc-fault 1-pole breaker"),
    ],
)  # fmt: skip
def test_what_is_decided_is_told_where_it_was_called_out(changes, said):
    assert said in "; ".join(plan(change_branch(TWO, "tag:2", **changes)).circuits.effects(2))
