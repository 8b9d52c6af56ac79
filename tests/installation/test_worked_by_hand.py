"""Trees worked by hand: what the sections ask for at each node, a case and its twin one fact away."""

from __future__ import annotations

import pytest
from builders import K, called_out, finding_ids, house, load
from msgspec.structs import replace

from installation.trees import base
from robust_ledger.installation.tree_drawing import tree_rows
from robust_ledger.job.edits import (
    add_panel,
    change_branch,
    change_panel,
    feed_panel,
    link_load,
    move_to_panel,
    new_node,
    pin,
    remove_panel,
    with_part,
)
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.job.parts.panel_tree import MAIN, Panel
from robust_ledger.job.templates import TEMPLATES
from robust_ledger.job.tree import panel_of_key
from robust_ledger.measure.simulate.basis import wanted_of_all
from robust_ledger.panel.request import arrange_all
from robust_ledger.plan import Plan, plan


def taken(key: str, job: Job | None = None) -> Job:
    """A job that starts from a template."""
    return next(one for one in TEMPLATES if one.key == key).take(job or base())


def bonds(made: Plan) -> dict[str, str]:
    return {node.key: node.bond.kind for node in made.installation.bonded}


def two_mains() -> Job:
    """320/400 A class: everything of the dwelling through the riser, half of the panels behind each main of 200 A. Upgraded, riser of 15 ft,
    12 ft from each main to its panel; 10,000 A at the utility."""
    loads = (load(K.DRYER, "5.5kW", "dryer"), load(K.COOKING, "11kW", "range"))
    job = called_out(
        house(
            3000,
            *loads,
            scope={"service": "split", "renews": ("riser_conductors", "load_conductors")},
            existing={"utility_fault_a": 10_000.0},
            service_run={"length_ft": 30.0, "riser_ft": 15.0},
            main_feed={"length_ft": 12.0},
        ),
        "1 20 12 kitchen counter",
        "5,7 30/2 10 dryer",
        "6,8 50/2 6 range",
        "2 20 12 laundry receptacle",
    )
    job = change_panel(taken("two-mains", job), "second", length_ft=12.0, area=0.0)
    return move_to_panel(job, [CircuitKey.of_tag(3)], "second")


def test_a_meter_main_of_400_a_with_two_mains_of_200():
    """83% of 400 A is 332 A: 600 kcmil Al carries 340 at 75 °C. Each feeder carries part of it, so by its whole 200 A: 4/0 Al carries 180, the next
    standard size is 200 [240.4(B)]; its EGC by 200 A is 6 Cu or 4 Al [T250.122]. Both mains are service disconnects: bonded in each [250.24], no
    conductors of ours from the meter, no tap of the GEC within the one enclosure."""
    made = plan(two_mains())
    assert made.service.main.value == 400 and made.service.conductors.value == "600 kcmil Al"
    assert bonds(made) == {"main-1": "in", "panel": "out", "main-2": "in", "second": "out"}
    runs = {run.key: run for run in made.installation.wired}
    assert list(runs) == ["riser", "feeder.main-1", "feeder.main-2", "feeder.second", "feeder.panel"]
    assert not runs["feeder.main-1"].conductors and not runs["feeder.main-2"].conductors
    wires = {run: [one.size.text() for one in runs[run].conductors] for run in ("feeder.second", "feeder.panel")}
    assert wires["feeder.second"][:2] == ["4/0 Al"] * 2 and wires["feeder.second"][3] == "4 Al"
    assert wires["feeder.panel"][:2] == ["4/0 Al"] * 2 and wires["feeder.panel"][3] == "4 Al"
    faults = {
        node.key: node.fault.amount for node in made.installation.nodes.values() if node.fault and node.fault.known
    }
    assert faults["main-1"] == faults["main-2"] == faults["meter"] > faults["second"]
    assert faults["panel"] == pytest.approx(faults["second"], rel=0.01), "as far, by the same wire"
    cut = {(piece.run, piece.color): piece.length_ft for piece in made.material.cuts if not piece.earth}
    assert {run for run, _color in cut} == {"riser", "feeder.second", "feeder.panel"}
    assert cut["feeder.panel", "black"] == cut["feeder.second", "black"] == 19.0, "12 + 3 + 3 ft, with 5% 18.9"
    keys = {one.key for one in made.changeover.terminations}
    assert {
        "main-1.lugs.panel.A",
        "main-1.lugs.panel.G",
        "main-2.lugs.second.N",
        "panel.main.G",
        "second.main.G",
    } <= keys
    assert {"main-1.factory.bond", "main-2.factory.bond"} <= keys and "panel.factory.bond" not in keys
    assert not {key for key in keys if key.startswith("meter.load")}
    service = [node.key for node in made.installation.nodes.values() if node.service]
    assert service == ["main-1", "main-2"]
    assert [label.node for label in made.installation.labels if label.key == "emergency"] == service
    assert not [run.key for run in made.installation.earth if run.key.startswith("gec.tap")]


def test_each_disconnect_in_its_own_box_taps_the_common_gec():
    """Two boxes at the meter: 250 kcmil Al to each, as it carries part of the load by its whole rating; GEC tap by that, 4 Cu [250.64(D)]."""
    made = plan(taken("each-its-own", two_mains()))
    runs = {run.key: run for run in made.installation.runs}
    assert runs["feeder.disconnect-1"].conductor("A").size.value == "250 kcmil Al"
    assert runs["feeder.disconnect-1"].wires == 3 and runs["feeder.panel"].wires == 4
    assert runs["gec.tap.disconnect-2"].conductors[0].size.value == "4 Cu"
    keys = {one.key: one.wire_text for one in made.changeover.terminations}
    assert keys["disconnect-2.gec"] == keys["disconnect-2.gec.tap"] == "4 Cu"


@pytest.mark.parametrize(
    ("key", "bonded"),
    [
        ("one", {"panel"}),
        ("outside", {"disconnect"}),
        ("meter-main", {"disconnect"}),
        ("split", {"panel", "second"}),
        ("two-mains", {"main-1", "main-2"}),
        ("each-its-own", {"disconnect-1", "disconnect-2"}),
        ("pole", {"pole"}),
        ("garage", {"panel"}),
        ("building", {"panel"}),
        ("whole-house", {"disconnect"}),
        ("chosen", {"panel"}),
    ],
)
def test_the_usual_trees(key, bonded):
    """Each is bonded where its service begins, is drawn whole, and has no STOP of its own."""
    made = plan(taken(key))
    assert {node for node, kind in bonds(made).items() if kind == "in"} == bonded
    assert not [one.title for one in made.findings if one.severity == "STOP" and one.stage == "service"]
    rows = [row.key for row in tree_rows(made.installation, {})]
    assert set(rows) == {box.key for box in made.one_line} - {"utility"}
    assert {one.key for one in TEMPLATES} >= {key}


# --- bonds ----------------------------------------------------------------------------------------------------------------


def pole(**more) -> Job:
    return change_panel(taken("pole"), "pole", **more)


@pytest.mark.parametrize(
    ("marked", "kinds"),
    [("service", {"pole": "in", "panel": "out"}), ("meter", {"pole": "supply", "panel": "in"}), ("supply", {"pole": "supply", "panel": "in"}),
     ("", {"pole": "in", "panel": "out"})],
)  # fmt: skip
def test_by_its_mark_a_disconnect_is_service_equipment_or_stands_ahead_of_it(marked, kinds):
    """Bonded at the first service disconnect [250.24]; the neutral grounds the can on the supply side [250.142(A)], three wires go on."""
    made = plan(pole(marked=marked))
    assert bonds(made) == kinds
    assert {run.key: run.wires for run in made.installation.wired}["feeder.panel"] == (
        4 if kinds["panel"] == "out" else 3
    )
    assert ("feeder.pole.marked" in finding_ids(made)) is (not marked)
    assert ("service.bond_twice" in finding_ids(made)) is False
    assert ("service.bond_nowhere" in finding_ids(made)) is (kinds["panel"] == "in")


@pytest.mark.parametrize(
    ("found", "wires", "path", "separate", "kind"),
    [(True, 3, False, True, "in"), (True, 3, True, True, "out"), (True, 3, None, True, "open"), (True, 4, False, True, "out"),
     (False, 3, False, True, "out"), (True, 3, False, False, "out")],
)  # fmt: skip
def test_another_building_is_bonded_only_on_an_old_feeder_of_three_wires(found, wires, path, separate, kind):
    """250.32(B) and its exception: existing, three wires, no other metal path."""
    job = change_panel(taken("garage"), "garage", found=found, wires=wires, metal_path=path, separate_building=separate)
    made = plan(job)
    assert bonds(made)["garage"] == kind
    run = next(run for run in made.installation.wired if run.end == "garage")
    assert (run.conductor("G") is None) is (kind == "in")


@pytest.mark.parametrize(
    ("edition", "need"),
    [("2017", "provided, not required"), ("2020", "required, provided"), ("2023", "required, provided")],
)
def test_several_disconnects_outdoors_are_the_emergency_disconnect_together(edition, need):
    """230.85: required from 2020 with a new service; one of them indoors, and it is missing."""
    job = replace(taken("each-its-own", two_mains()), edition=edition)
    assert plan(job).service.figures.emergency.value == need
    inside = plan(change_panel(job, "disconnect-2", at="indoors")).service.figures.emergency.value
    assert inside == ("not required" if edition == "2017" else "required, missing")
    assert not plan(change_panel(job, "disconnect-2", at="")).service.figures.emergency.known or edition == "2017"


@pytest.mark.parametrize(("edition", "told"), [("2017", False), ("2020", True), ("2023", True)])
def test_mains_in_one_enclosure_want_compartments_by_edition(edition, told):
    assert ("service.compartments" in finding_ids(plan(replace(two_mains(), edition=edition)))) is told


@pytest.mark.parametrize(("count", "told"), [(6, False), (7, True)])
def test_six_service_disconnects_at_the_most(count, told):
    job = base()
    for number in range(count - 1):  # the main panel is one of them
        job = add_panel(
            job, new_node(job, "disconnect", "meter").changed(id=f"d{number}", name=f"d {number}", breaker_a=100.0)
        )
    assert ("service.disconnects_many" in finding_ids(plan(job))) is told


# --- ratings and loads ---------------------------------------------------------------------------------------------------


def test_one_disconnect_for_everything_is_the_main():
    """Its rating sizes the service conductors: 200 A, 83% 166 A, 4/0 Al; 100 A by the load would be 2 Al. A main chosen below it is told."""
    job = with_part(pole(), "decisions", main_a=None)
    made = plan(job)
    assert made.service.main.value == 200 and made.service.conductors.value == "4/0 Al"
    smaller = plan(with_part(job, "decisions", main_a=150.0))
    assert smaller.service.main.value == 150 and "feeder.pole.over_main" in finding_ids(smaller)
    assert "feeder.pole.over_main" not in finding_ids(made)


def test_a_feeder_of_more_appliances_is_never_less_than_one_behind_it():
    """Three appliances of 8 kVA count whole on the panel behind [220.53]; a fourth small one on the panel between makes 75% of all of them there:
    24,000 VA are 100 A, 24,600 × 0.75 would be 77 A."""
    heavy = [load(K.APPLIANCE, "8kW", f"kiln {number}") for number in range(3)]
    small = load(K.APPLIANCE, "600W", "pump")
    lines = ("1 20 12 kitchen counter", "5,7 50/2 6 kiln", "9,11 50/2 6 kiln", "13,15 50/2 6 kiln", "2 15 14 pump")
    job = called_out(house(1500, *heavy, small, decisions={"main_a": 200.0}), *lines)
    for tag, one in enumerate((*heavy, small), 2):
        job = link_load(job, one.id, tag)
    for name, above in (("shop", MAIN), ("kilns", "shop")):
        node = {"id": name, "name": name, "fed_from": above, "breaker_a": 125.0, "area": 0.0, "box": {"spaces": 12}}
        job = add_panel(job, Panel.read(node))
    kilns = [CircuitKey.of_tag(tag) for tag in (2, 3, 4)]
    job = move_to_panel(move_to_panel(job, kilns, "kilns"), [CircuitKey.of_tag(5)], "shop")
    made = plan(job)
    of = made.service.figures.feeders
    assert of["kilns"].carried.amount == 100
    assert made.feeders.loads["shop"].amperes.amount < 100 == of["shop"].carried.amount
    alone = plan(move_to_panel(job, kilns, MAIN)).feeders.loads["shop"]
    assert alone.amperes.amount < 10


def test_what_is_not_known_behind_makes_it_unknown():
    job = add_panel(
        taken("garage"),
        Panel.read({"id": "shed", "name": "shed", "fed_from": "garage", "breaker_a": 30.0, "box": {"spaces": 4}}),
    )
    job = change_panel(move_to_panel(job, [CircuitKey.of_tag(4)], "garage"), "garage", area=0.0)
    made = plan(job).service.figures.feeders
    assert not made["shed"].carried.known and not made["garage"].carried.known, "nothing is on the shed's panel yet"
    without = plan(remove_panel(job, "shed")).service.figures.feeders
    assert without["garage"].carried.known


@pytest.mark.parametrize(("bus_a", "told"), [(200.0, False), (125.0, True)])
def test_the_bus_of_the_main_panel_against_the_node_ahead_of_it(bus_a, told):
    """200 A on the pole: a bus of 125 A behind it has nothing that protects it [408.36]."""
    made = plan(with_part(pole(), "panel", bus_a=bus_a))
    assert ("feeder.panel.bus" in finding_ids(made)) is told
    if told:
        text = next(one.text for one in made.findings if one.id == "feeder.panel.bus")
        assert text == "A breaker of 200 A does not protect it."


@pytest.mark.parametrize(("rating_a", "told"), [(45.0, True), (50.0, False)])
def test_what_the_main_panel_carries_against_the_node_ahead_of_it(rating_a, told):
    """3,000 ft² with two kitchen and laundry circuits come to 6,150 VA [T220.45], the dryer to 5,500: 11,650 VA, 49 A."""
    job = change_panel(
        change_panel(taken("each-its-own", two_mains()), "disconnect-1", breaker_a=rating_a), "second", area=0.0
    )
    made = plan(job)
    assert made.feeders.loads[MAIN].amperes.known
    assert ("feeder.panel.load" in finding_ids(made)) is told


@pytest.mark.parametrize(("wire", "told"), [("2 Cu", True), ("3/0 Cu", False)])
def test_a_kept_feeder_behind_a_node_that_stays(wire, told):
    """2 Cu carries 115 A and by the 83% rule 125; 3/0 carries 200."""
    job = change_panel(pole(), "pole", there=True)
    job = with_part(job, "main_feed", conductors=wire, wires=4, insulation_c=75)
    assert ("feeder.panel.wire" in finding_ids(plan(job))) is told
    assert "feeder.panel.wire" not in finding_ids(plan(change_panel(job, "pole", there=False))), (
        "a new disconnect begins a new feeder"
    )


# --- the tree by hand -----------------------------------------------------------------------------------------------------


def test_a_node_that_is_taken_out_feeds_nothing_and_holds_no_circuit():
    job = change_panel(
        move_to_panel(taken("building"), [CircuitKey.of_tag(1)], "garage"), "garage-disconnect", gone=True
    )
    made = plan(job)
    lost = next(one for one in made.findings if one.id == "feeder.garage.lost")
    assert lost.title == "The garage is fed by one that is taken out" and lost.severity == "STOP"
    assert (
        made.installation.nodes["garage-disconnect"].change == "removed"
        and made.installation.nodes["garage"].above == MAIN
    )
    gone = plan(change_panel(change_panel(job, "garage-disconnect", gone=False), "garage", gone=True))
    assert "feeder.garage.lost" not in finding_ids(gone)
    assert "garage" not in gone.benches and panel_of_key(gone.job, CircuitKey.of_tag(1)) == MAIN
    both = plan(change_panel(job, "garage-disconnect", there=True))
    assert "feeder.garage-disconnect.gone_there" in finding_ids(both)
    assert "feeder.garage-disconnect.gone_there" not in finding_ids(made)


@pytest.mark.parametrize(
    ("nodes", "feeding", "why"),
    [
        ([], "nobody", "by one that is not there"),
        ([("a", MAIN)], "a", "by itself"),
        ([("a", "b"), ("b", MAIN)], "a", "by itself"),
        ([("a", "nobody")], "a", "by one that nothing feeds"),
        ([("a", "meter")], "a", ""),
        ([("a", "b"), ("b", "meter")], "a", ""),
    ],
)
def test_what_feeds_the_main_panel_is_known_or_told(nodes, feeding, why):
    panels = tuple(
        Panel(id=name, name=name, kind="disconnect", fed_from=above, breaker_a=100.0) for name, above in nodes
    )
    made = plan(with_part(replace(base(), panels=panels), "main_feed", fed_from=feeding))
    told = [one.title for one in made.findings if one.id == "feeder.main_lost"]
    assert told == ([f"The main panel is fed {why}"] if why else [])
    assert made.installation.nodes[MAIN].above == ("meter" if why else "a")


def test_the_main_panel_is_carried_as_any_other():
    job = add_panel(base(), new_node(base(), "disconnect", "meter"))
    fed = feed_panel(job, MAIN, "disconnect-1" if job.panel_of("disconnect-1") else job.panels[0].id)
    assert plan(fed).installation.nodes[MAIN].above == job.panels[0].id
    below = add_panel(job, Panel(id="shed", name="shed", breaker_a=60.0))
    with pytest.raises(ModelError, match="is fed from it"):
        feed_panel(below, MAIN, "shed")
    assert plan(feed_panel(fed, MAIN, "meter")).installation.nodes[MAIN].above == "meter"
    assert plan(remove_panel(fed, job.panels[0].id)).installation.nodes[MAIN].above == "meter", (
        "what it hung on is gone"
    )


def test_an_old_can_stays_as_a_splice_box():
    """It comes off no wall, has no bond, no feeder and no circuits; without it the old panel is taken out."""
    made = plan(add_panel(base(), new_node(base(), "splice_box", MAIN).changed(instead_of="")))
    node = next(one for one in made.installation.nodes.values() if one.kind == "splice box")
    assert node.bond is None and node.change == "touched" and node.key not in made.benches
    assert not [one for one in made.installation.nodes.values() if one.kind == "old box"]
    assert [one.title for one in plan(base()).installation.nodes.values() if one.kind == "old box"] == ["Old panel"]
    assert tree_rows(made.installation, {})[-1].words == "splice box"


def test_a_riser_of_another_kind_is_drawn_filled_and_bought():
    """Rigid was found, PVC is planned: 2 in for two 4/0 Al and their neutral; six lengths of ten feet are for 52 ft."""
    job = with_part(two_mains(), "scope", renews=("riser", "riser_conductors"))
    job = with_part(
        with_part(job, "existing", raceway="rmc", trade_size="1-1/4"), "service_run", raceway="pvc40", riser_ft=22.0
    )
    made = plan(job)
    raceway = next(run for run in made.installation.wired if run.key == "riser").raceway
    assert raceway.kind == "pvc40" and raceway.change == "replaced"
    words = {one.key: one.words for one in made.material.items}
    assert words["raceway"].startswith("PVC conduit, schedule 40") and words["bushings"].startswith("insulating")
    drawn = next(box for box in made.one_line if box.key == "meter")
    assert any("PVC schedule 40" in line.text for line in drawn.feed)
    as_found = plan(with_part(job, "service_run", raceway=""))
    assert {one.key: one.words for one in as_found.material.items}["raceway"].startswith("rigid")


@pytest.mark.parametrize(("inside_ft", "length_ft"), [(12.0, 14.0), (25.0, None), (None, None)])
def test_a_way_that_is_shorter_than_its_parts_is_not_known(inside_ft, length_ft):
    """40 ft to the panel, 20 of them to the meter: 40 − 20 − 12 = 8, with 2 in the socket and 3 at the disconnect 13, with 5% 13.65, cut to 14; 25 ft
    on from the disconnect are more than are left."""
    job = with_part(taken("outside"), "scope", service="upgraded", renews=("load_conductors",))
    job = with_part(with_part(job, "service_run", length_ft=40.0, riser_ft=20.0), "main_feed", length_ft=inside_ft)
    cut = {piece.run: piece.length_ft for piece in plan(job).material.cuts if piece.color == "black"}
    assert cut["load"] == length_ft


# --- circuits over several panels ---------------------------------------------------------------------------------------


def shared() -> Job:
    """Two circuits on one neutral, beside a garage panel with twelve spaces."""
    job = called_out(taken("garage"), "9 20 12 hall", "11 20 12 bath shares the neutral with tag 7")
    return change_panel(job, "garage", **{"box.spaces": 12})


def test_a_shared_neutral_goes_to_no_two_panels():
    """Moved as a person moves it, its partner comes along; put apart by hand it is a STOP, with the words of both panels."""
    one = CircuitKey.of_tag(7)
    assert {plan(move_to_panel(shared(), [one], "garage")).branch(f"tag:{tag}").panel for tag in (7, 8)} == {"garage"}
    apart = plan(change_branch(shared(), one, panel="garage"))
    told = [finding for finding in apart.findings if finding.id.startswith("panel.neutral_panels")]
    assert (
        [finding.severity for finding in told] == ["STOP"]
        and "main panel" in told[0].text
        and "garage panel" in told[0].text
    )
    assert not [
        f for f in plan(move_to_panel(shared(), [one], "garage")).findings if f.id.startswith("panel.neutral_panels")
    ]


@pytest.mark.parametrize("pinned", [True, False])
def test_a_pinned_circuit_stays_where_it_is_when_all_panels_are_arranged(pinned):
    """It may go to either panel: pinned it is no guest in the other, and has the one seat it has."""
    key = CircuitKey.of_tag(1)
    job = change_branch(taken("garage"), key, either=True)
    made = plan(job)
    if pinned:
        job = pin(job, key, made.bench.placement.positions)
    wants = wanted_of_all(plan(job))
    assert (key in {branch.key for branch in wants["garage"].branches}) is not pinned
    best = arrange_all(list(wants.values())).options[0]
    if pinned:
        assert best.placements[key] == plan(job).bench.placement.positions[key] and best.panels.get(key, MAIN) == MAIN


@pytest.mark.parametrize(
    ("stays", "read", "shown"), [(True, "1-1/4", "1-1/4 in"), (True, "", ""), (False, "1-1/4", "1 in")]
)
def test_the_raceway_of_a_feeder_that_stays_is_the_one_that_was_read(stays, read, shown):
    """Two 4 Al, 8 Al and 8 Al in schedule 40 need 1 in; what was found is no smaller for that, and no larger while nobody has read it."""
    there = {
        "found": stays,
        "conductors": "4 Al",
        "wires": 4,
        "raceway": "pvc40",
        "found_size": read,
        "length_ft": 40.0,
    }
    made = plan(change_panel(taken("garage"), "garage", **there))
    assert made.installation.run_to("garage").raceway.trade_size == shown
