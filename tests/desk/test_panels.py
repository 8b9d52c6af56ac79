"""The tree of panels in the real window: the usual trees by keyboard, carrying a panel and a circuit, one bench for each."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint

from robust_ledger.desk.kit.examples import DEMO
from robust_ledger.job.edits import change_panel
from robust_ledger.job.files import read_job
from robust_ledger.job.templates import TEMPLATES
from robust_ledger.job.tree import panel_of_key, parent
from robust_ledger.ledger.place import Place


@pytest.fixture
def panels(desk):
    desk.show_stage("service")
    desk.stage().show_page("panels")
    return desk.stage().page()


def rows(panels) -> list[tuple[int, str]]:
    return [(node.depth, node.title) for node in panels.tree.nodes]


def bottom(desk, name: str) -> str:
    return desk.bottom.figures[name].accessibleName()


def add(desk, panels, keys, above: str, name: str, breaker: str) -> None:
    """As a person does: to the row, Insert, the name, the breaker."""
    panels.tree.setFocus()
    panels.tree.choose(above)
    keys(desk, "insert", name, "enter")
    field = panels.form.fields["breaker_a"]
    field.setFocus()
    keys(desk, breaker, "enter")


@pytest.mark.parametrize("number", range(len(TEMPLATES)))
def test_each_of_the_usual_trees_is_built_by_keyboard(desk, panels, keys, number):
    """Alt+M opens the list, arrows and Enter take one; each is the tree it says."""
    before = desk.store.job
    menu = panels.start_from.menu()
    menu.popup(panels.start_from.mapToGlobal(QPoint(0, 0)))
    menu.setActiveAction(menu.actions()[0])
    for _ in range(number):
        keys(menu, "down")
    keys(menu, "enter")
    assert desk.store.job == TEMPLATES[number].take(before)
    house = [
        (0, "Meter"),
        (1, "Disconnect"),
        (2, "Main panel"),
    ]  # the demo's old disconnect is there where nothing takes its place
    own = {
        "two-mains": [(0, "Meter"), (1, "Main 1"), (2, "Main panel"), (1, "Main 2"), (2, "Second panel")],
        "each-its-own": [
            (0, "Meter"),
            (1, "Disconnect 1"),
            (2, "Main panel"),
            (1, "Disconnect 2"),
            (2, "Second panel"),
        ],
        "pole": [(0, "Meter"), (1, "Pole disconnect"), (2, "Main panel")],
        "whole-house": [(0, "Meter"), (1, "Disconnect"), (2, "Transfer switch"), (3, "Main panel")],
        "split": [*house, (1, "Second panel")],
        "garage": [*house, (3, "Garage")],
        "building": [*house, (3, "Garage disconnect"), (4, "Garage")],
        "chosen": [*house, (3, "Transfer switch"), (4, "Backup")],
    }
    assert rows(panels) == own.get(TEMPLATES[number].key, house)
    keys(desk, "ctrl+z")
    assert desk.store.job == before


def test_panels_are_added_carried_and_taken_out_by_keyboard(desk, panels, keys):
    add(desk, panels, keys, "panel", "barn", "100")
    add(desk, panels, keys, "barn", "coop", "30")
    assert rows(panels)[-3:] == [(2, "Main panel"), (3, "Barn"), (4, "Coop")]
    panels.tree.setFocus()
    coop = desk.store.job.panels[-1].id
    panels.tree.choose(coop)
    keys(desk, "enter", "up", "up", "enter")
    assert parent(desk.store.job, desk.store.job.panel_of(coop)) == "panel" and rows(panels)[-1] == (3, "Coop")
    keys(desk, "ctrl+z")
    assert rows(panels)[-1] == (4, "Coop")
    panels.tree.choose(desk.store.job.panels[0].id)
    keys(desk, "enter", "down", "enter")  # onto what it feeds
    assert "is fed from it" in panels.saying.text() and rows(panels)[-1] == (4, "Coop")
    panels.tree.choose(desk.store.job.panels[0].id)
    keys(desk, "del")
    assert rows(panels)[-2:] == [(2, "Main panel"), (3, "Coop")], "what hung on it hangs on what fed it"
    panels.tree.choose("panel")
    keys(desk, "del")
    assert "stay" in panels.saying.text() and len(desk.store.job.panels) == 1


@pytest.mark.parametrize(
    ("key", "kind", "title"),
    [("d", "disconnect", "Disconnect"), ("t", "transfer", "Transfer switch"), ("s", "splice_box", "Splice box")],
)
def test_every_kind_of_node_is_added_by_its_key(desk, panels, keys, key, kind, title):
    """D on the meter: a service disconnect outdoors of 200 A, bonded; what is asked of it, and of no panel, is in the form."""
    panels.tree.setFocus()
    panels.tree.choose("meter")
    keys(desk, key)
    made = desk.store.job.panels[-1]
    assert (made.kind, made.fed_from) == (kind, "meter") and title in [name for _depth, name in rows(panels)]
    fields = panels.form.fields
    assert (
        fields["kind"].isVisibleTo(panels)
        and fields["marked"].isVisibleTo(panels)
        and not fields["box.spaces"].isVisibleTo(panels)
    )
    assert fields["wiring"].isVisibleTo(panels) is (kind != "splice_box"), "no feeder goes to a splice box"
    if kind == "disconnect":
        fields["breaker_a"].setFocus()
        keys(desk, "200", "enter")
        assert desk.store.plan.installation.nodes[made.id].bond.kind == "in"
        assert next(row.words for row in panels.tree.nodes if row.key == made.id).startswith("200 A main")
    keys(desk, "ctrl+z")


def test_the_main_panel_is_carried_behind_a_disconnect_by_keyboard(desk, panels, keys):
    """D on the meter, then the main panel in hand and onto it; its form says what feeds it; Ctrl+Z takes it back."""
    panels.tree.setFocus()
    panels.tree.choose("meter")
    keys(desk, "d", "yard disconnect", "enter")
    node = desk.store.job.panels[-1].id
    panels.tree.setFocus()
    panels.tree.choose("panel")
    keys(desk, "enter")
    panels.tree.choose(node)
    keys(desk, "enter")
    assert desk.store.job.main_feed.fed_from == node
    assert desk.store.plan.installation.nodes["panel"].above == node
    assert panels.main_from.isVisibleTo(panels) and panels.main_from.currentText() == "the yard disconnect"
    keys(desk, "ctrl+z")
    assert desk.store.plan.installation.nodes["panel"].above == "disconnect"


def test_a_panel_is_dragged_onto_what_is_to_feed_it(desk, panels, keys, drag):
    add(desk, panels, keys, "panel", "barn", "100")
    add(desk, panels, keys, "panel", "coop", "30")
    barn, coop = (one.id for one in desk.store.job.panels)
    drag(panels.tree, panels.tree.middle_of(coop), panels.tree.middle_of(barn))
    assert parent(desk.store.job, desk.store.job.panel_of(coop)) == barn


def test_bad_entries_are_refused_at_the_field_and_nothing_is_lost(desk, panels, keys):
    add(desk, panels, keys, "panel", "barn", "100")
    field = panels.form.fields["feeder_tag"]
    field.setFocus()
    keys(desk, "99", "enter")
    assert "no tag 99" in field.fault.text() and desk.store.job.panels[0].feeder_tag is None
    panels.form.fields["fed_from"].setFocus()
    assert "the barn panel" not in [panels.fed_from.itemText(n) for n in range(panels.fed_from.count())]


@pytest.fixture
def garage(desk):
    """The demo with a garage panel whose label was read, in the Bench."""
    desk.store.edit("garage", next(one for one in TEMPLATES if one.key == "garage").take)
    desk.show_stage("bench")
    return desk.stage()


def test_each_panel_has_its_own_bench_and_a_circuit_goes_from_one_to_the_other(desk, garage, keys):
    drawing = garage.page("drawing")
    assert [b.text() for b in garage.chooser.buttons.values()][1] == "Garage panel: 12 open"
    assert "main panel" in bottom(desk, "Spaces used")
    desk.go_to(Place.branch("tag:21"))
    keys(desk, "enter", "ctrl+pgdown")
    assert (
        desk.store.panel_id == "garage"
        and panel_of_key(desk.store.job, desk.store.plan.branch("tag:21").key) == "garage"
    )
    assert drawing.view.in_hand == "tag:21", "still in hand, in the other panel"
    keys(desk, "down", "enter")
    assert desk.store.plan.benches["garage"].placement.positions["tag:21"] == "3"
    assert "garage panel" in bottom(desk, "Spaces used")
    garage.show_page("schedule")
    texts = [row.cells[2] for row in garage.page().table.rows_model.rows]
    assert sum("SPACE" not in text for text in texts) == 1
    keys(desk, "ctrl+pgup")
    assert desk.store.panel_id == "panel" and len(garage.page().table.rows_model.rows) == 40


def test_a_circuit_dropped_on_a_panels_button_goes_there(desk, garage, qtbot):
    from conftest import drag_between

    view = garage.page("drawing").view
    start = view.center_of(desk.store.plan.bench.placement.positions["tag:21"]).toPoint()
    button = garage.chooser.buttons["garage"]
    drag_between(view, start, button, QPoint(20, 10))
    assert desk.store.plan.branch("tag:21").panel == "garage" and desk.store.panel_id == "garage"


def test_the_record_of_the_panel_in_view_is_edited(desk, garage, keys):
    desk.store.look_at("garage")
    garage.show_page("panel")
    record = garage.page().record
    assert record.fields["panel:spaces"].text() == "12"
    record.fields["panel:spaces"].setFocus()
    record.fields["panel:spaces"].selectAll()
    keys(desk, "20", "enter")
    assert desk.store.job.panel_of("garage").box.spaces == 20 and desk.store.job.panel.spaces == 40


def test_goes_to_and_either_are_said_on_the_circuits_page_and_all_panels_are_arranged(desk, garage, keys, qtbot):
    garage.show_page("circuits")
    page = garage.page()
    desk.go_to(Place.branch("tag:21"))
    page.form.fields["change:either"].click()
    assert desk.store.job.change(page.key).either
    garage.show_page("drawing")
    drawing = garage.page()
    assert drawing.arrange_all.isVisible()
    keys(desk, "shift+F9")
    qtbot.waitUntil(lambda: bool(drawing.choices) or drawing.saying.text().startswith("No arr"), timeout=60_000)
    assert drawing.choices[1].option.panels["tag:21"] in ("panel", "garage") and "proven best" in drawing.saying.text()
    keys(desk, "enter")
    placed = desk.store.plan.benches
    assert not any(bench.placement.refused or bench.placement.waiting for bench in placed.values())


def test_a_job_of_one_panel_shows_nothing_of_all_this(desk):
    desk.show_stage("bench")
    assert not desk.stage().chooser.isVisible() and not desk.stage().page("drawing").arrange_all.isVisible()
    assert "panel" not in bottom(desk, "Spaces used")


def test_the_row_of_a_meter_main_is_its_panel(desk, panels, keys):
    """The disconnect's row has the enclosure's record; there the main panel gets its breaker; Delete takes the enclosure out."""
    desk.store.edit("meter-main", next(one for one in TEMPLATES if one.key == "meter-main").take)
    panels.tree.setFocus()
    panels.tree.choose("panel")
    keys(desk, "up")
    assert panels.title.text() == "The meter-main panel" and panels.form.fields["box.spaces"].text() == "8"
    shown = {place for place, field in panels.form.fields.items() if field.isVisibleTo(panels)}
    assert not {"breaker_a", "length_ft", "rods", "main_feed:fed_by"} & shown
    keys(desk, "down")
    panels.form.fields["main_feed:fed_by"].setFocus()
    keys(desk, "down")
    field = panels.form.fields["main_feed:breaker_a"]
    field.setFocus()
    keys(desk, "125", "enter")
    words = {node.title: node.words for node in panels.tree.nodes}
    assert words["Main panel"].startswith("125 A breaker there")
    assert desk.store.plan.circuits.by_key["equip:feeder.panel"].panel == "meter-main"
    desk.go_to(Place("main_feed:breaker_a"))
    assert field.hasFocus(), "a finding about it leads here"
    panels.tree.setFocus()
    keys(desk, "up", "del")
    assert not desk.store.job.panels and rows(panels) == [(0, "Meter"), (1, "Disconnect"), (2, "Main panel")]


def said(page) -> list[str]:
    model = page.table.model()
    return [model.index(row, 0).data() for row in range(model.rowCount())]


def test_every_feeder_tells_its_voltage_drop_and_a_split_service_its_conductors(desk, panels, keys):
    """The service's goes on to the main panel behind its disconnect; in a split service the main panel has conductors of its own."""
    stage = desk.stage()
    stage.show_page("fault")
    assert [words for words in said(stage.page()) if words.startswith("Voltage drop")] == [
        "Voltage drop of the service conductors",
    ]
    stage.show_page("panels")
    add(desk, panels, keys, "panel", "barn", "100")
    stage.show_page("fault")
    assert [words for words in said(stage.page()) if words.startswith("Voltage drop")] == [
        "Voltage drop of the service conductors",
        "Voltage drop of the feeder to the barn",
    ]
    stage.show_page("sizes")
    assert "Feeder to the main panel" in said(stage.page())
    desk.store.open_job(read_job(DEMO.parent / "quarry-rise.ledger.json"), None)
    desk.show_stage("service")
    desk.stage().show_page("sizes")
    assert "Conductors to the main panel" in said(desk.stage().page())


@pytest.mark.parametrize(
    ("job", "named", "others"),
    [("quarry-rise", "load, next size up; 83% rule closed, used", 3), ("marrow-lane", "83% rule, used", 5)],
)
def test_the_size_in_use_is_named_by_the_rule_that_made_it(window, job, named, others):
    """Ahead of several mains the 83% rule is closed: what would be its row is the one by the load, once for each metal."""
    window.store.open_job(read_job(DEMO.parent / f"{job}.ledger.json"), None)
    window.show_stage("service")
    window.stage().show_page("sizes")
    model = window.stage().page("sizes").table.model()
    words = [model.index(row, 2).data() for row in range(model.rowCount())]
    assert [one for one in words if one.endswith(", used")] == [named]
    assert len([one for one in words if one.endswith("alternative")]) == others


@pytest.mark.parametrize(("by", "shown"), [("breaker", True), ("tap", False), ("lugs", False)])
def test_what_begins_without_a_breaker_is_asked_for_none(window, by, shown):
    window.open_demo(DEMO)
    window.store.edit("how it begins", lambda job: change_panel(job, "garage", fed_by=by))
    window.go_to(Place.of("panels", "garage.name"))
    assert window.stage().page("panels").form.fields["breaker_a"].isVisible() is shown
