"""Any tree of panels: every circuit in one place, one bond on every way, every conductor protected, drawing, table and papers alike."""

from __future__ import annotations

from collections import Counter

import pytest
from builders import K, called_out, finding_ids, house, load
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace
from pypdf import PdfReader

from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.codebook.conductors import ampacity_a, next_rating_a
from robust_ledger.installation.tree_drawing import tree_rows
from robust_ledger.job.edits import (
    add_panel,
    change_branch,
    change_circuit,
    change_panel,
    feed_panel,
    move_to_panel,
    place,
    remove_panel,
    with_part,
)
from robust_ledger.job.files import job_text, parse_job
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.job.tree import (
    ahead_box,
    back_fed_key,
    depth,
    fed_below,
    in_order,
    lost,
    main_behind,
    panel_ids,
    panel_of_key,
    parent,
    record_of,
)
from robust_ledger.measure.simulate.basis import wanted_of
from robust_ledger.panel.request import arrange
from robust_ledger.papers.packet import all_sheets
from robust_ledger.plan import Plan, plan

LINES = ("1 20 12 kitchen counter", "2 20 12 laundry receptacle", "3 15 14 den lights", "5,7 30/2 10 dryer", "4 20 12 shop receptacles",
         "6,8 50/2 6 range")  # fmt: skip
TAGS = [CircuitKey.of_tag(tag) for tag in range(1, 7)]
NAMES = ("a", "b", "c", "d", "e")


def base(**more) -> Job:
    loads = (load(K.DRYER, "5.5kW", "dryer"), load(K.COOKING, "11kW", "range"))
    return called_out(house(1500, *loads, decisions={"main_a": 200.0}, **more), *LINES)


@st.composite
def trees(draw) -> Job:
    """A house with up to five panels, fed from anything, and its circuits dealt out over them."""
    job = base(scope=draw(st.sampled_from(["upgrade", "split", "outside_disconnect"])))
    main = draw(st.sampled_from(["lugs", "breaker", "back_fed"]))
    job = with_part(job, "panel", first_disconnect=not main_behind(job), main=main)
    job = with_part(job, "main_feed", fed_by=draw(st.sampled_from(["lugs", "breaker"])), breaker_a=100.0)
    names = NAMES[: draw(st.integers(0, 5))]
    for name in names:
        above = ["meter", "disconnect", "panel", *names, "nobody"]
        job = add_panel(
            job,
            Panel.read(
                {
                    "id": name,
                    "name": draw(st.sampled_from([f"shed {name}", "garage"])),
                    "fed_from": draw(st.sampled_from(above)),
                    "fed_by": draw(st.sampled_from(["breaker", "lugs", "same"])),
                    "breaker_a": draw(st.sampled_from([None, 30.0, 60.0, 100.0, 61.0])),
                    "metal": draw(st.sampled_from(["cu", "al"])),
                    "wiring": draw(st.sampled_from(["thwn", "se", "nm"])),
                    "area": draw(st.sampled_from([None, 0.0, 400.0])),
                    "separate_building": draw(st.booleans()),
                    "feeder_tag": draw(st.sampled_from([None, None, 4])) if name == "a" else None,
                    "raceway": draw(st.sampled_from(["", "emt"])),
                    "box": {
                        "spaces": draw(st.sampled_from([0, 2, 12])),
                        "first_disconnect": draw(st.booleans()),
                        "main": draw(st.sampled_from(["lugs", "breaker", "back_fed"])),
                    },
                }
            ),
        )
    for key in TAGS:
        job = change_branch(job, key, panel=draw(st.sampled_from(["", *names, "gone"])))
    return job


@settings(max_examples=120)
@given(trees())
def test_every_circuit_is_in_exactly_one_place(job):
    made = plan(job)
    live = [branch.key for branch in made.circuits.branches if not branch.off]
    seats = Counter(
        key for bench in made.benches.values() for key in (*bench.placement.positions, *bench.placement.waiting)
    )
    assert seats == Counter(live), "each once, in a space or waiting"
    for panel_id, bench in made.benches.items():
        assert all(panel_of_key(job, key) == panel_id for key in bench.placement.positions)
    feeders = Counter(key for key in live if key.kind == "equip" and key.name.startswith("feeder."))
    fed_here = [p for p in job.panels if p.fed_by != "lugs" and parent(job, p) not in ("meter", "disconnect")]
    inside = int(job.main_feed.fed_by == "breaker" and ahead_box(job) is not None)
    tagged = sum(p.feeder_tag is not None for p in fed_here)
    assert len(feeders) + tagged == len(fed_here) + inside, "each feeder's breaker once"
    back_fed = [panel_id for panel_id in panel_ids(job) if record_of(job, panel_id).main == "back_fed"]
    assert {key for key in live if key.kind == "equip"} - set(feeders) == {back_fed_key(one) for one in back_fed}
    for panel_id in back_fed:
        at = made.benches[panel_id].placement.positions.get(back_fed_key(panel_id))
        assert at in (None, "1", "2"), "at the end where the line conductors land"


@settings(max_examples=120)
@given(trees())
def test_every_way_is_bonded_once_and_every_feeder_is_protected(job):
    made, book = plan(job), load_codebook(job.edition)
    places = {one.key: one for one in made.installation.bonded}
    box = ahead_box(job)
    assert set(places) - {"disconnect"} == set(panel_ids(job)) - ({box.id} if box else set())
    for key in places:
        bonds, at, steps = 0, key, 0
        while at in places:
            bonds += made.entries[f"service.bond.{at}"].value == "bonded here"
            at, steps = places[at].above, steps + 1
            assert steps < 10, "no circle"
        assert at == "meter" and bonds == 1, key
    for panel in (one for one in in_order(job) if one != box):
        size, rating = made.entries[f"feeder.{panel.id}.conductors"], made.entries[f"feeder.{panel.id}.rating"]
        if not (size.known and rating.known) or made.feeders.loads[panel.id].whole:
            continue
        carries = ampacity_a(book, size.value.size, panel.metal, 75)
        assert (next_rating_a(book, carries) or 0) >= rating.amount, (panel.id, size.text(), rating.text())
    above = {node.key: node.behind for node in made.one_line}
    rows = tree_rows(made.installation, {})
    assert {row.key: row.above for row in rows if row.key != "meter"} == {
        key: behind for key, behind in above.items() if key not in ("utility", "meter")
    }, "drawing, tree and table say the same of who feeds whom"


@settings(max_examples=60)
@given(trees())
def test_a_tree_reads_back_and_no_panel_is_lost_without_a_word(job):
    assert parse_job(job_text(job), "a job") == job
    made = plan(job)
    assert {p.id for p in in_order(job)} == {p.id for p in job.panels}
    for panel in job.panels:
        assert (f"feeder.{panel.id}.lost" in finding_ids(made)) is bool(lost(job, panel))
    assert len({f.id for f in made.findings}) == len(made.findings)


@settings(max_examples=25)
@given(trees())
def test_the_papers_name_every_circuit_once(tmp_path_factory, job):
    made = plan(job)
    folder = tmp_path_factory.mktemp("papers")
    sheet = next(one for one in all_sheets() if one.name == "changes")
    sheet.write(made, folder / "changes.pdf")
    text = " ".join(page.extract_text() for page in PdfReader(folder / "changes.pdf").pages)
    for words in ("kitchen counter", "den lights", "shop receptacles"):
        assert text.count(words) == 1, words


# --- edits -------------------------------------------------------------------------------------------------------------------
def two() -> Job:
    """A garage behind the main panel, a shed behind the garage."""
    box = {"spaces": 12, "bus_a": 100.0, "aic_a": 10_000.0, "terminals_c": 75}
    sound = {"rods": 2, "disconnect": True, "breaker_a": 60.0, "area": 0.0, "box": box}
    job = add_panel(base(), Panel.read({"id": "garage", **sound}))
    return add_panel(job, Panel.read({"id": "shed", "name": "shed", "fed_from": "garage", **sound, "breaker_a": 30.0}))


def test_a_panel_taken_out_leaves_its_circuits_with_the_one_that_fed_it():
    job = move_to_panel(two(), TAGS[:2], "garage")
    job = move_to_panel(job, TAGS[2:3], "shed")
    job = place(job, plan(job).benches["garage"].placement.positions, "garage")
    after = remove_panel(job, "garage")
    assert [p.id for p in after.panels] == ["shed"] and parent(after, after.panels[0]) == "panel"
    assert [panel_of_key(after, key) for key in TAGS[:3]] == ["panel", "panel", "shed"]
    assert not set(after.decisions.placements) & set(TAGS[:2]), "their spaces were of another panel"
    assert plan(after).branch("tag:1").panel == "panel"


def test_a_panel_is_never_fed_from_what_it_feeds():
    job = two()
    for target in ("garage", "shed"):
        with pytest.raises(ModelError, match="is fed from it"):
            feed_panel(job, "garage", target)
    moved = feed_panel(job, "shed", "panel")
    assert depth(moved, moved.panel_of("shed")) == 1 and fed_below(moved, "garage") == {"garage"}
    circle = change_panel(job, "garage", fed_from="shed")
    made = plan(circle)
    assert {"feeder.garage.lost", "feeder.shed.lost"} <= finding_ids(made)
    assert {n.key: n.behind for n in made.one_line}["garage"] == "panel", "shown somewhere, and said to be wrong"


def test_a_shared_neutral_goes_to_another_panel_as_one():
    job = change_circuit(called_out(two(), "9 20 12 hall receptacles"), 7, shares_neutral_with=1)
    after = move_to_panel(job, [TAGS[0]], "garage")
    assert {plan(after).branch(key).panel for key in ("tag:1", "tag:7")} == {"garage"}


def test_a_layout_of_one_panel_leaves_the_others_alone():
    job = move_to_panel(two(), TAGS[:3], "garage")
    fixed = place(job, {TAGS[3]: "1", TAGS[4]: "2"})
    fixed = place(fixed, {TAGS[0]: "11", TAGS[1]: "12"}, "garage")
    assert fixed.decisions.placements == {TAGS[3]: "1", TAGS[4]: "2", TAGS[0]: "11", TAGS[1]: "12"}
    made = plan(fixed)
    assert (
        made.benches["garage"].placement.positions[TAGS[0]] == "11" and made.bench.placement.positions[TAGS[3]] == "1"
    )


def seen(made: Plan) -> set[str]:
    return {one for one in finding_ids(made) if one.startswith("feeder.")}


@pytest.mark.parametrize(
    ("panel_id", "changes", "found"),
    [
        ("garage", {}, set()),
        ("garage", {"fed_from": "garage"}, {"feeder.garage.lost"}),
        ("garage", {"fed_from": "barn"}, {"feeder.garage.lost"}),
        ("shed", {"name": "garage"}, {"feeder.garage.name", "feeder.shed.name"}),
        ("shed", {"name": "garage", "fed_from": "panel"}, {"feeder.garage.name", "feeder.shed.name", "feeder.two:garage"}),
        ("shed", {"breaker_a": 80.0}, {"feeder.shed.over_main"}),
        ("shed", {"fed_from": "disconnect"}, {"feeder.shed.no_disconnect", "feeder.shed.bond", "feeder.shed.service_main"}),
        ("garage", {"box.bus_a": 0.0}, {"feeder.garage.bus_unknown"}),
        ("garage", {"box.bus_a": 50.0}, {"feeder.garage.bus"}),
        ("garage", {"box.bus_a": 60.0}, set()),
    ],
)  # fmt: skip
def test_what_is_wrong_with_a_tree_is_said_at_its_place(panel_id, changes, found):
    made = plan(change_panel(two(), panel_id, **changes))
    assert seen(made) == found
    for finding in made.findings:
        if finding.id in found and finding.id != "feeder.two:garage":
            assert finding.place.startswith(("panels:garage.", "panels:shed."))


def test_twelve_panels_deep_is_planned_and_drawn():
    job = base()
    for number in range(12):
        above = f"p{number - 1}" if number else "panel"
        job = add_panel(
            job, Panel(id=f"p{number}", name=f"panel {number}", fed_from=above, breaker_a=60.0, length_ft=20.0)
        )
    job = replace(
        with_part(job, "service_run", length_ft=20.0), existing=job.existing.changed(utility_fault_a=10_000.0)
    )
    made = plan(job)
    faults = [made.entries[f"feeder.p{n}.fault"].amount for n in range(12)]
    assert faults == sorted(faults, reverse=True), "further from the utility, less can flow"
    rows = tree_rows(made.installation, {})
    assert [row.depth for row in rows] == list(range(14))


def test_arranging_the_main_panel_leaves_the_circuits_of_the_others_out():
    job = move_to_panel(two(), TAGS[:2], "garage")
    wanted = wanted_of(plan(job))
    assert {b.panel for b in wanted.branches} == {"panel"} and arrange(wanted).options[0].gap == 0
