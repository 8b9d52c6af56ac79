"""The Bench in the real window: arranging, previews, pins, zoom, the other pages, by keys and mouse."""

from __future__ import annotations

from threading import Event

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtWidgets import QApplication

from robust_ledger.desk.stages.bench import drawing as bench_drawing
from robust_ledger.job.edits import change_branch, change_circuit, with_part
from robust_ledger.ledger.place import Place
from robust_ledger.panel.reach import SHORT


@pytest.fixture
def bench(desk):
    desk.show_stage("bench")
    return desk.stage()


@pytest.fixture
def drawing(bench):
    return bench.page("drawing")


def arrange(desk, drawing, qtbot, keys, advice: bool = False) -> None:
    """F9, then wait for the answer, and for the advice after it where it is wanted."""
    keys(desk, "F9")
    qtbot.waitUntil(lambda: bool(drawing.choices) or drawing.saying.text().startswith("No arrangement"), timeout=60_000)
    if advice:
        qtbot.waitUntil(lambda: bool(drawing.advice.text()), timeout=60_000)
    else:
        drawing.progress.cancel(wait=True)


def items(widget) -> list[str]:
    return [widget.item(n).text() for n in range(widget.count())]


def cells(table) -> list[list[str]]:
    model = table.model()
    return [[model.index(r, c).data() for c in range(model.columnCount())] for r in range(model.rowCount())]


def splices(desk) -> int:
    return sum(reach.splices for reach in desk.store.plan.bench.reach.values())


def test_arrange_previews_and_takes_the_layout_with_fewest_splices(desk, drawing, qtbot, keys):
    before = dict(desk.store.plan.bench.placement.positions)
    assert splices(desk) == 15 and "short: splice 15" in drawing.legend.accessibleDescription()
    arrange(desk, drawing, qtbot, keys, advice=True)
    assert [text.split("\n")[0] for text in items(drawing.list)] == [
        "as it is",
        "fewest splices",
        "best balance",
        "closest to the old order",
    ]
    assert items(drawing.list)[0].endswith("15 splices · 143 / 143 A") and "4 splices" in items(drawing.list)[1]
    assert drawing.list.hasFocus() and drawing.list.currentRow() == 1
    assert desk.store.plan.bench.placement.positions == before, "a preview changes nothing"
    assert (
        "short: splice 4" in drawing.legend.accessibleDescription()
        and "6 in higher: 0 splices instead of 4" in drawing.advice.text().replace("\n", " ")
    )
    keys(desk, "up")
    assert "short: splice 15" in drawing.legend.accessibleDescription() and not drawing.take.isEnabled()
    keys(desk, "down")
    qtbot.mouseClick(drawing.view, Qt.MouseButton.LeftButton, pos=drawing.view.center_of("1").toPoint())
    assert drawing.saying.text().startswith("In the preview. Space 1, leg A: living room lights"), (
        "the margin stays with the job as it is"
    )
    drawing.list.setFocus()
    keys(desk, "enter")
    assert splices(desk) == 4 and desk.store.undo_stack.undoText() == "arrange: fewest splices"
    assert not drawing.list.isVisible() and drawing.view.hasFocus()
    keys(desk, "ctrl+z")
    assert desk.store.plan.bench.placement.positions == before


def test_escape_leaves_the_layout_as_it_is_and_an_edit_makes_choices_stale(desk, drawing, qtbot, keys):
    arrange(desk, drawing, qtbot, keys)
    keys(desk, "esc")
    assert not drawing.choices and drawing.view.preview is None and not desk.store.undo_stack.canUndo()
    arrange(desk, drawing, qtbot, keys)
    desk.store.edit("longer", lambda job: change_circuit(job, 6, free_in=40.0))
    assert not drawing.choices and not drawing.list.isVisible()


def test_arranging_can_be_canceled(desk, drawing, qtbot, keys, monkeypatch):
    """The arranging is held until the click has come: how fast a machine is decides nothing here."""
    clicked, arranged = Event(), bench_drawing.one_panel

    def held(of, whole, progress):
        assert clicked.wait(60)
        return arranged(of, whole, progress)

    monkeypatch.setattr(bench_drawing, "one_panel", held)
    keys(desk, "F9")
    assert drawing.progress.isVisible()
    drawing.progress.stop.click()
    clicked.set()
    qtbot.waitUntil(lambda: not drawing.progress.busy, timeout=60_000)
    assert (list(drawing.choices), drawing.saying.text()) == ([], "Canceled; nothing was changed.")
    assert not desk.store.undo_stack.canUndo()


def test_pins_hold_against_the_hand_and_against_arrange(desk, drawing, qtbot, keys, drag):
    view = drawing.view
    view.go_to(Place("tag:13"))
    here = desk.store.plan.bench.placement.positions["tag:13"]
    keys(desk, "p")
    assert desk.store.undo_stack.undoText() == "pin tag 13" and "stays where it is" in drawing.saying.text()
    assert "pinned" in view.accessibleDescription() and "1 pinned" in drawing.fixed.text()
    drag(view, view.center_of(here), view.center_of("39"))
    assert f"Tag 13 is pinned to {here}" in drawing.saying.text()
    arrange(desk, drawing, qtbot, keys)
    assert all(choice.plan.bench.placement.positions["tag:13"] == here for choice in drawing.choices)
    keys(desk, "esc", "p")
    assert desk.store.job.decisions.pins == ()


def test_pins_that_cannot_hold_are_told_and_nothing_moves(desk, drawing, qtbot, keys):
    fixed = {**desk.store.plan.bench.placement.positions, "tag:6": "37", "load:greenhouse": "13"}
    desk.store.edit("apart", lambda job: with_part(job, "decisions", placements=fixed, pins=("tag:6", "tag:7")))
    arrange(desk, drawing, qtbot, keys)
    assert (
        "these cannot hold together: tag 6 pinned to 37 and tag 7 pinned to 15 and tag 6 and tag 7 one above the other"
        in drawing.saying.text()
    )
    assert not drawing.choices


def test_lengths_are_told_before_the_drop(desk, drawing, keys, qtbot):
    drawing.view.go_to(Place("tag:10"))
    keys(desk, "space", "up", "up")
    assert (
        "Needs" in drawing.saying.text() and "has 21 in" in drawing.saying.text() and "leg A" in drawing.saying.text()
    )
    keys(desk, "esc")
    qtbot.mouseMove(drawing.view, drawing.view.center_of("14").toPoint())
    told = drawing.view.toolTip()
    assert told.startswith("Space 14, leg A: kitchen counter left 20 12 Cu") and "has 26 in: reaches" in told
    wire = desk.store.plan.bench.wires["tag:10"]
    assert wire.at("39").verdict == SHORT and wire.at("1").splices == 0


def test_zoom_by_keys_and_wheel_keeps_the_pointing_right(desk, drawing, keys, qtbot):
    view = drawing.view
    small = view.center_of("20").y()
    keys(desk, "+", "+")
    qtbot.wait(20)
    assert view.scale == pytest.approx(1.5) and view.minimumSizeHint().width() > drawing.frame.width()
    assert view.center_of("20").y() > small
    tile = view.tiles().at(view.center_of("20").x(), view.center_of("20").y())
    assert tile.position == "20"
    event = QWheelEvent(
        view.rect().center().toPointF(),
        view.mapToGlobal(view.rect().center()).toPointF(),
        QPoint(),
        QPoint(0, -120),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.ControlModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(view, event)
    assert view.scale == pytest.approx(1.25)
    keys(desk, "0")
    assert view.scale == 1.0


def test_the_drawing_goes_out_as_svg(desk, drawing, tmp_path):
    drawing.write_svg(tmp_path / "bench.svg")
    text = (tmp_path / "bench.svg").read_text()
    assert (
        text.startswith("<svg")
        and "dining receptacles" in text
        and "stroke-dasharray" in text
        and "Written" in desk.notice_text.text()
    )
    drawing.write_svg(tmp_path / "none" / "bench.svg")
    assert "could not be written" in desk.notice_text.text()


def test_an_empty_bench_says_what_to_do(window, keys):
    keys(window, "alt+5")
    drawing = window.stage().page("drawing")
    assert drawing.waiting.item(0).text() == "call out circuits in Pull-off first" and not drawing.arrange.isEnabled()
    keys(window, "F9")
    assert "call out circuits in Pull-off first" in drawing.saying.text()
    for page in ("circuits", "required", "panel", "schedule"):
        window.stage().show_page(page)
    assert len(cells(window.stage().page("schedule").table)) == window.store.job.panel.spaces


def test_circuits_say_where_they_come_from_and_change_by_the_form(desk, bench, keys):
    bench.show_page("circuits")
    page = bench.page()
    rows = {row[0]: row for row in cells(page.table)}
    assert rows["1"][2:6] == ["tag 1 kept", "40/2", "standard 2-pole", "no"] and rows["28"][4] == "off"
    page.table.choose("tag:10")
    page._chosen("tag:10")
    work = page.form.fields["change:work"]
    work.setCurrentIndex(work.findData("extended"))
    work.activated.emit(work.currentIndex())
    assert {row[0]: row[4] for row in cells(page.table)}["10"] == "arc-fault 1-pole"
    assert desk.store.job.decisions.circuits["tag:10"].work == "extended"
    rooms = page.form.fields["change:places"]
    rooms.setFocus()
    rooms.selectAll()
    keys(desk, "bed, gara", "enter")
    assert desk.store.job.decisions.circuits["tag:10"].places == ("bedroom", "garage")
    assert {row[0]: row[4] for row in cells(page.table)}["10"] == "dual-function 1-pole"
    rooms.selectAll()
    keys(desk, "moon", "enter")
    assert rooms.fault.isVisible() and '"moon" is none of' in rooms.fault.text()
    action = page.form.fields["change:action"]
    assert not page.form.fields["change:into"].isVisible()
    action.setCurrentIndex(action.findData("merge"))
    action.activated.emit(action.currentIndex())
    assert page.form.fields["change:into"].isVisible()


def test_required_circuits_and_the_three_practices(desk, bench, keys):
    bench.show_page("required")
    page = bench.page()
    required = {row[0]: row for row in cells(page.required)}
    assert (
        required["Small-appliance circuits"][1:4] == ["2", "3", "4, 5, 6"] and required["Furnace on its own"][2] == "1"
    )
    assert "3 circuits of 15 A or 3 of 20 A" in page.words.text()
    desk.store.edit("count", lambda job: with_part(job, "decisions", circuits={"tag:19": {"outlets": 12}}))
    row = next(row for row in cells(page.table) if row[0] == "19")
    assert row[2:5] == ["12", "13", "over"] and row[6] == "holds; not by never more than ten"
    assert "The three rules disagree on 1 circuit" in page.words.text()
    practice = page.form.fields["decisions:outlet_practice"]
    practice.setCurrentIndex(practice.findData("ten"))
    practice.activated.emit(practice.currentIndex())
    assert next(row for row in cells(page.table) if row[0] == "19")[6] == "too many"


def test_the_panel_record_and_a_generic_panel(desk, bench, keys):
    bench.show_page("panel")
    page = bench.page()
    assert page.record.fields["panel:spaces"].hasFocus()
    numbering = page.record.fields["panel:numbering"]
    numbering.setCurrentIndex(numbering.findData("down"))
    numbering.activated.emit(numbering.currentIndex())
    tandems = page.record.fields["panel:tandem_spaces"]
    tandems.setFocus()
    keys(desk, "19-21", "enter")
    assert desk.store.job.panel.tandem_spaces == (2, 37, 39), "kept as places, shown as the panel is numbered"
    assert tandems.text() == "19-21"
    page.device_ticks["arc-fault 2-pole"].click()
    assert "arc-fault 2-pole" in desk.store.job.panel.devices
    page.table.setFocus()
    page.table.choose(page.table.model().index(3, 0).data())
    keys(desk, "enter")
    assert desk.store.job.panel.spaces == 20 and page.record.fields["panel:spaces"].text() == "20"
    assert desk.store.job.panel.families, "what the user wrote stays"


def test_what_must_not_be_empty_says_so_and_an_offset_may(desk, bench, keys):
    bench.show_page("panel")
    page = bench.page()
    band, right = page.wishes.fields["decisions:wishes.band_a"], page.inside.fields["panel:right_of_old_in"]
    for field, typed in ((right, "-2"), (right, ""), (band, "")):
        field.setFocus()
        field.selectAll()
        keys(desk, typed, "enter") if typed else keys(desk, "del", "enter")
    assert (
        desk.store.job.panel.right_of_old_in == 0
        and band.fault.isVisible()
        and "How far the legs may differ" in band.fault.text()
    )


def test_circuits_capped_or_joined_by_decision_say_so_in_the_pull_off(desk):
    for tag, changes in ((10, {"action": "cap"}), (8, {"action": "merge", "into": 12})):
        desk.store.edit("decide", lambda job, tag=tag, changes=changes: change_branch(job, f"tag:{tag}", **changes))
    desk.show_stage("pulloff")
    rows = {row[0]: row[6] for row in cells(desk.stage().table)}
    assert (rows["10"], rows["8"], rows["12"]) == ("off", "combined", "15")


def test_the_schedule_is_in_step_and_rows_are_copied(desk, bench, keys, drawing, drag):
    drag(drawing.view, drawing.view.center_of("37"), drawing.view.center_of("39"))
    bench.show_page("schedule")
    page = bench.page()
    rows = {row[0]: row for row in cells(page.table)}
    assert rows["39"][2] == "outdoor greenhouse lights" and rows["37"][2] == "SPACE"
    assert [figure.text() for figure in page.figures.values()][2:6] == ["15", "19", "18", "3"]
    page.changes.setFocus()
    keys(desk, "ctrl+a", "ctrl+c")
    text = QApplication.clipboard().text()
    assert text.splitlines()[5].startswith("6\t9\t13\t4.0 in short") and "rows copied" in desk.notice_text.text()


def test_the_drawing_is_painted_anew_when_and_only_when_it_changes(desk, bench, drawing, qtbot):
    """A picture that is kept must not outlive what it shows: a name, a zoom or a theme that changes is seen at once."""

    def seen():
        return drawing.view.grab().toImage()

    before = seen()
    desk.store.edit("permit", lambda job: with_part(job, "heading", permit="1207"))
    assert seen() == before, "nothing on the panel changed"
    desk.store.edit("name", lambda job: change_circuit(job, 8, feeds="music room lights"))
    assert seen() != before
    desk.store.undo_stack.undo()
    assert seen() == before
    drawing.view.zoom_by(1)
    qtbot.waitUntil(lambda: seen() != before)
    drawing.view.zoom_by(0)
    qtbot.waitUntil(lambda: seen() == before)
    desk.switch_theme()
    assert seen() != before
    desk.switch_theme()


@pytest.mark.parametrize("page", ["drawing", "circuits", "required", "panel", "schedule"])
def test_nothing_is_cut_off_at_1280_by_800(desk, bench, page, qtbot):
    bench.show_page(page)
    qtbot.wait(20)
    assert bench.width() <= desk.width() - 290 and bench.minimumSizeHint().width() <= 840, page
    assert bench.height() <= 710, page


def test_large_text_needs_no_scrolling_sideways(desk, bench, drawing, qtbot):
    """Stages that are out of view ask for no room: at a third more the drawing still fits its frame, without its wires' legend."""
    desk.change_scale(1)
    desk.change_scale(1)
    qtbot.waitUntil(lambda: not drawing.legend.isVisible())
    frame = desk.pages.parentWidget()
    qtbot.waitUntil(lambda: desk.pages.width() <= frame.width())
    assert drawing.view.minimumSizeHint().width() <= drawing.frame.width()


def test_knockouts_are_written_down_and_dealt_out(desk, bench, keys):
    """Typed as the label has them; the table says which cable takes which, and what is left."""
    bench.show_page("knockouts")
    page = bench.page()
    assert {row[1] for row in cells(page.table)} == {"any"}
    field = page.form.fields["panel:interior.knockouts"]
    field.setFocus()
    field.selectAll()
    keys(desk, "top 2, 4; bottom 3", "enter")
    rows = cells(page.table)
    assert ["bottom", "3", "", "free"] in rows and sum(row[1] == "none" for row in rows) > 0
    assert any(f.id == "panel.knockouts:top" for f in desk.store.plan.findings)
    desk.go_to(Place("panel:interior.knockouts"))
    assert field.hasFocus()


def field_of(page, name: str):
    """A field of the circuit's form, with the cursor in it and its text chosen."""
    field = page.form.fields[f"change:{name}"]
    field.setFocus()
    if hasattr(field, "selectAll"):
        field.selectAll()
    return field


def test_breaker_insulation_and_sink_of_a_circuit_are_entered_by_keyboard(desk, bench, keys):
    """A range on a new cable gets the 50 A that is offered; too little is said to be so; the refrigerator's sink is measured."""
    bench.show_page("circuits")
    page = bench.page()
    page.table.choose("tag:1")
    page._chosen("tag:1")
    action = field_of(page, "action")
    action.setCurrentIndex(action.findData("new_cable"))
    action.activated.emit(action.currentIndex())
    assert {row[0]: row[3] for row in cells(page.table)}["1"] == "40/2"
    field_of(page, "breaker_a")
    keys(desk, "50", "enter")
    assert {row[0]: row[3] for row in cells(page.table)}["1"] == "50/2"
    assert desk.store.plan.branch("tag:1").wire.value == "6 Cu"
    field_of(page, "breaker_a")
    keys(desk, "20", "enter")
    assert any(f.id == "branch.breaker_chosen:tag:1" for f in desk.store.plan.findings)
    covered = field_of(page, "insulated")
    covered.setCurrentIndex(covered.findData(True))
    covered.activated.emit(covered.currentIndex())
    assert desk.store.job.circuit(1).insulated is True
    sink = field_of(page, "sink_ft")
    keys(desk, "far", "enter")
    assert sink.fault.isVisible() and desk.store.job.change("tag:1").sink_ft is None
    field_of(page, "sink_ft")
    keys(desk, "5.5", "enter")
    assert desk.store.job.change("tag:1").sink_ft == 5.5


def test_the_wiring_of_new_cables_is_chosen_for_the_job(desk, bench, keys):
    """Raceway is good for 75 °C: the charger's 60 A take 6 instead of 4 AWG."""
    bench.show_page("circuits")
    page = bench.page()
    desk.store.edit("terminals", lambda job: with_part(job, "panel", terminals_c=75))
    before = desk.store.plan.branch("load:charger").wire.value
    wiring = page.job_form.fields["decisions:new_wiring"]
    wiring.setFocus()
    wiring.setCurrentIndex(wiring.findData("conduit"))
    wiring.activated.emit(wiring.currentIndex())
    after = desk.store.plan.branch("load:charger").wire.value
    assert desk.store.job.decisions.new_wiring == "conduit" and (before, after) == ("4 Cu", "6 Cu")
