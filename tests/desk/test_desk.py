"""A person at the desk: keyboard and mouse on the real window, results read from the widgets."""

from __future__ import annotations

import re

import pytest
from pypdf import PdfReader
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractButton, QApplication, QFileDialog, QMessageBox

from robust_ledger.desk.kit import words as words_box
from robust_ledger.desk.kit.spec import manifest, stage_of
from robust_ledger.desk.kit.theme import BASEMENT, DAYLIGHT, SCALES
from robust_ledger.desk.shell.find import hits
from robust_ledger.desk.shell.places import entries_of
from robust_ledger.job.edits import with_part
from robust_ledger.job.files import read_job
from robust_ledger.job.readers.lists import read_spaces, spaces_text
from robust_ledger.job.readers.numbers import read_amps
from robust_ledger.ledger.place import Place

SIX = (
    "1 20 12 kitchen counter",
    "2 20 12 kitchen and pantry",
    "3,5 30/2 10 dryer",
    "4 15 14 hall lights",
    "6 20 12 bathroom receptacle",
    "7 20 14 bedroom receptacles",
)


def shown(window, name: str) -> str:
    """A figure of the bottom line as a person reads it."""
    return window.bottom.figures[name].text()


def margin_text(window) -> str:
    return " ".join(window.margin.text.toPlainText().split())


def cells(table) -> list[list[str]]:
    model = table.model()
    return [[model.index(r, c).data() for c in range(model.columnCount())] for r in range(model.rowCount())]


def row_of(table, key: str) -> list[str]:
    return next(row for row in cells(table) if row[0] == key)


# --- Pull-off ---------------------------------------------------------------------------------------------------------
def test_six_circuits_called_out_with_the_keyboard_alone(window, keys):
    """Nothing but typing and Enter; load, main, breaker and leg follow at once."""
    for line in SIX:
        keys(window, line, "enter")
    pulloff = window.stage()
    assert [row[0] for row in cells(pulloff.table)] == ["1", "2", "3", "4", "5", "6"]
    assert row_of(pulloff.table, "6")[2:7] == ["20", "14 Cu", "bedroom receptacles", "", "15"]
    assert shown(window, "Spaces used") == "7 of 40" and shown(window, "Load") == "?"
    keys(window, "alt+3", "1500", "enter")
    assert shown(window, "Load") == "38 A" and shown(window, "Main") == "100 A", "4,500 + 4,500 = 9,000 VA"
    assert re.fullmatch(r"\d+ A", shown(window, "Leg A"))
    keys(window, "ctrl+z")
    assert shown(window, "Load") == "?"


def test_the_line_says_what_it_understands_and_where_it_stumbles(window, keys):
    pulloff = window.stage()
    keys(window, "9 30/2 10")
    assert pulloff.live.text().startswith("spaces 9 + 11 · 30 A 2-pole · 10 AWG Cu")
    keys(window, " water heater")
    assert pulloff.live.text().endswith("Enter = tag 1")
    pulloff.line.clear()
    keys(window, "9 33 10 heater", "enter")
    assert pulloff.live.text() == "33: 33 A is not a standard breaker rating; read the handle again, or write ?."
    assert pulloff.line.text() == "9 33 10 heater", "nothing typed is lost"
    assert pulloff.line.selectedText() == "33"
    assert not cells(pulloff.table)


def test_same_as_last_completion_and_giving_up(window, keys):
    pulloff = window.stage()
    keys(window, "1 20 12 kitchen counter", "enter", "up")
    assert pulloff.line.text() == "2 20 12 kitchen counter"
    keys(window, "enter")
    keys(window, "3 15 14 kitch")
    assert "Tab = …en counter" in pulloff.live.text()
    keys(window, "tab")
    assert pulloff.line.text() == "3 15 14 kitchen counter"
    keys(window, "esc")
    assert pulloff.line.text() == "" and len(cells(pulloff.table)) == 2


def test_a_tag_is_changed_in_the_line_and_taken_out_in_the_table(window, keys):
    for line in SIX[:3]:
        keys(window, line, "enter")
    pulloff = window.stage()
    pulloff.choose_tag(1)
    pulloff.table.setFocus()
    keys(window, "enter")
    assert pulloff.line.text() == "1 20 12 kitchen counter" and "Changing tag 1" in pulloff.keys.text()
    pulloff.line.selectAll()
    keys(window, "1 20 14 kitchen counter", "enter")
    assert row_of(pulloff.table, "1")[3] == "14 Cu" and row_of(pulloff.table, "1")[6] == "15"
    assert "Tag 1: 14 Cu on 20 A" in margin_text(window)
    pulloff.table.setFocus()
    pulloff.choose_tag(3)
    keys(window, "del")
    assert [row[0] for row in cells(pulloff.table)] == ["1", "2"]
    assert "Undo: take out tag 3" in window.state.text()
    keys(window, "ctrl+z")
    assert len(cells(pulloff.table)) == 3
    keys(window, "ctrl+shift+z")
    assert len(cells(pulloff.table)) == 2


@pytest.mark.parametrize(
    ("tag", "heads"), [(1, []), (2, ["Marks"]), (6, ["Marks"]), (10, ["Found", "Wire", "In plan"]), (25, ["Feeds"])]
)
def test_a_finding_colors_the_cell_it_is_about(desk, tag, heads):
    table = desk.stage().table
    model = table.model()
    row = next(r for r in range(model.rowCount()) if model.index(r, 0).data() == str(tag))
    colors = [model.index(row, c).data(Qt.ItemDataRole.ForegroundRole).name() for c in range(model.columnCount())]
    assert [
        model.headerData(c, Qt.Orientation.Horizontal) for c, name in enumerate(colors) if name == DAYLIGHT.fix
    ] == heads


def test_a_click_on_the_old_panel_chooses_the_tag_or_starts_a_line(desk, qtbot):
    pulloff = desk.stage()
    rects = pulloff.panel.rects()
    qtbot.mouseClick(pulloff.panel, Qt.MouseButton.LeftButton, pos=rects["13"].center().toPoint())
    assert pulloff.table.current_key() == "10"
    assert margin_text(desk).startswith("Tag 10: breaker 15 A")
    desk.new_job()
    desk.show_stage("pulloff")
    qtbot.mouseClick(
        desk.stage().panel, Qt.MouseButton.LeftButton, pos=desk.stage().panel.rects()["8"].center().toPoint()
    )
    assert desk.stage().line.text() == "8 "


# --- Load -------------------------------------------------------------------------------------------------------------
def test_a_load_is_added_and_the_service_follows(window, keys):
    keys(window, "alt+3")
    load = window.stage().page("house")
    load.forms[0].fields["dwelling:area"].setFocus()
    keys(window, "1,500 sqft", "enter")
    load.add_button.click()
    keys(window, "range", "enter")
    assert shown(window, "Load") == "?" and "new load: nameplate" not in margin_text(window)
    load.form.fields["nameplate"].setFocus()
    keys(window, "12kW", "enter")
    kind = load.form.fields["kind"]
    kind.setFocus()
    kind.setCurrentIndex(kind.findText("range"))
    kind.activated.emit(kind.currentIndex())
    assert row_of(load.table, "range")[2:5] == ["range", "12 kW 240 V", "12,000"]
    # optional: 9,000 + 12,000 = 21,000: 10,000 + 4,400 = 14,400 VA = 60 A
    assert shown(window, "Load") == "60 A"
    branch = window.store.plan.branch("load:new-load")
    assert (branch.breaker.value, branch.directory_text) == (40, "range")


@pytest.mark.parametrize(
    ("field", "typed", "sentence"),
    [
        ("nameplate", "900A", "more than a 400 A service"),
        ("nameplate", "-3kW", "more than zero"),
        ("nameplate", "nan", "is not a rating"),
        ("motor_hp", "many", "not a number of horsepower"),
        ("mca_a", "-4", "not between 0 and 600"),
        ("controls", "0", "whole number from 1 to 40"),
        ("name", "", "needs a name"),
        ("tag", "77", "no tag 77"),
    ],
)
def test_a_wrong_entry_stays_with_its_message_beside_it(desk, keys, field, typed, sentence):
    keys(desk, "alt+3")
    form, before = desk.stage().page("house").form, desk.store.job
    edit = form.fields[field]
    edit.setFocus()
    edit.selectAll()
    keys(desk, *([typed] if typed else ["del"]), "enter")
    assert sentence in edit.fault.text() and edit.fault.isVisible() and edit.text() == typed
    assert desk.store.job is before
    keys(desk, "esc")
    assert not edit.fault.isVisible() and edit.text() != typed


def test_the_method_is_chosen_by_its_card_and_the_tape_shows_the_working(desk, qtbot, keys):
    keys(desk, "alt+3")
    load = desk.stage()
    assert (
        load.cards["optional"].accessibleName()
        == "Optional calculation: 143 A, 34,317 VA → main 150 A, used, recommended"
    )
    qtbot.mouseClick(load.cards["standard"], Qt.MouseButton.LeftButton)
    assert (shown(desk, "Load"), shown(desk, "Main"), shown(desk, "Service")) == ("198 A", "200 A", "4/0 Al")
    assert "2 STOP" in shown(desk, "Findings"), "the main stands above the meter socket, and above its bus"
    keys(desk, "alt+t")
    qtbot.waitUntil(lambda: load.current == "tape", timeout=2000)
    tape = {row[0].strip(): row for row in cells(load.page().tape)}
    assert tape["General load after demand"][1:6] == ["9,660 VA", "100% / 35%", "5,331", "5,331", "T220.45"]
    assert tape["sauna heater"][1:5] == ["6,000 VA", "75%", "4,500", "16,215"]
    assert load.page().tape.hasFocus()
    keys(desk, *["down"] * 4)
    assert "General load before demand" in margin_text(desk)
    keys(desk, *["down"] * 4, "enter")
    assert load.current == "house" and load.page().table.current_key() == "disposer", "a line leads to its load"


def test_another_methods_tape_is_shown_without_choosing_it(desk, keys, qtbot):
    keys(desk, "alt+3", "alt+t")
    load = desk.stage()
    qtbot.waitUntil(lambda: load.current == "tape", timeout=2000)
    page = load.page()
    for method, amperes in (("standard", "198 A"), ("existing", "152 A"), ("measured", "198 A"), ("", "143 A")):
        page.method.setCurrentIndex(page.method.findData(method))
        page.method.activated.emit(page.method.currentIndex())
        assert cells(page.tape)[-1][4] == amperes
    assert shown(desk, "Load") == "143 A" and not desk.store.unsaved


def test_switching_the_edition_changes_sections_and_figures(desk):
    desk.use_edition("2017")
    desk.store.choose_entry("load.optional.lighting")
    assert "220.12" in margin_text(desk)
    assert desk.subtitle.text() == "NEC 2017"
    desk.use_edition("2023")
    desk.store.choose_entry("load.optional.lighting")
    assert "220.41" in margin_text(desk)
    assert desk.menus.editions["2023"].isChecked()


# --- Service ----------------------------------------------------------------------------------------------------------
def sizes_shown(service):
    service.show_page("sizes")
    return service.page()


def test_service_choices_change_the_sizes_and_findings(desk, keys):
    keys(desk, "alt+4")
    service = desk.stage()
    rows = {row[0]: row[1] for row in cells(sizes_shown(service).table)}
    service.show_page("drawing")
    drawing = service.page()
    assert (rows["Main"], rows["Neutral conductor"], rows["GEC"]) == ("150 A", "2 Al", "6 Cu")
    main = drawing.form.fields["decisions:main_a"]
    main.setFocus()
    main.setCurrentIndex(main.findText("200 A"))
    main.activated.emit(main.currentIndex())
    assert shown(desk, "Main") == "200 A" and "Meter socket rated 150 A" in margin_text(desk)
    tick = drawing.form.fields["decisions:meter_replaced"]
    tick.setFocus()
    keys(desk, "space")
    assert tick.isChecked() and "Meter socket is labeled" not in margin_text(desk)
    desk.store.choose_entry("service.conductors.al.dwelling")
    assert "4/0 Al" in margin_text(desk) and "200 A × 0.83" in margin_text(desk)
    assert cells(drawing.table) == [
        ["Disconnect", "bonded here"],
        ["Panel", "separate: isolated neutral bar, ground bar bonded to can"],
    ]
    drawing.form.fields["panel:first_disconnect"].click()
    assert cells(drawing.table)[1] == [
        "Panel",
        "bonded, should be separate: isolated neutral bar, ground bar bonded to can",
    ]
    assert "Neutral and ground would be bonded twice" in margin_text(desk)


def test_the_one_line_answers_to_mouse_and_arrows(desk, keys, qtbot):
    """Arrows walk boxes, figures and the bond; a click on a figure shows its working."""
    keys(desk, "alt+4")
    view = desk.stage().page("drawing").drawing
    assert view.hasFocus() and view.accessibleDescription() == "Utility; fault current 5,787 A"
    heard = []
    for _ in view.scene.spots:
        keys(desk, "down")
        heard.append(view.accessibleDescription())
    assert "neutral and ground bonded here" in heard and "neutrals and grounds separate" in heard
    for entry_id, words in (
        ("service.conductors.al.dwelling", "Service conductors, Al 2/0 Al"),
        ("feeder.panel.egc", "EGC of the feeder to the main panel 4 Al"),
        ("grounding.gec.water", "GEC to the metal water pipe 6 Cu"),
        ("feeder.panel.conductors", "Feeder to the main panel, Al 2/0 Al"),
        ("service.bond.panel", "Neutral and ground in the panel separate"),
    ):
        qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.spot_of(entry_id).toPoint())
        assert margin_text(desk).startswith(words)


# --- Bench ------------------------------------------------------------------------------------------------------------
def position(desk, key: str) -> str:
    return desk.store.plan.bench.placement.positions[key]


def test_dragging_a_circuit_moves_it_and_undo_puts_it_back(desk, keys, drag):
    keys(desk, "alt+5")
    view = desk.stage().page("drawing").view
    start = position(desk, "load:greenhouse")
    assert start == "37"
    drag(view, view.center_of("37"), view.center_of("39"))
    assert position(desk, "load:greenhouse") == "39"
    assert "Undo: move greenhouse lights to 39" in desk.state.text()
    assert desk.stage().page("drawing").fixed.text() == "32 circuits fixed where they are"
    keys(desk, "ctrl+z")
    assert position(desk, "load:greenhouse") == "37"


def test_dragging_onto_another_changes_places_and_a_2_pole_snaps(desk, keys, drag):
    keys(desk, "alt+5")
    view = desk.stage().page("drawing").view
    before = dict(desk.store.plan.bench.placement.positions)
    upper, lower = before["tag:8"], before["tag:11"]
    drag(view, view.center_of(upper), view.center_of(lower))
    assert (position(desk, "tag:8"), position(desk, "tag:11")) == (lower, upper)
    drag(view, view.center_of("1"), view.center_of("7"))
    assert desk.stage().page("drawing").saying.text().endswith("would not fit where this one comes from.")
    assert position(desk, "tag:1") == before["tag:1"]


def test_carrying_a_circuit_by_keyboard(desk, keys):
    keys(desk, "alt+5")
    view, bench = desk.stage().page("drawing").view, desk.stage().page("drawing")
    view.go_to(Place("tag:13"))
    here = position(desk, "tag:13")
    keys(desk, "space")
    assert bench.saying.text().startswith("In hand: refrigerator")
    keys(desk, "down", "down")
    assert f"Space {int(here) + 4}" in bench.saying.text() and "changes places" in bench.saying.text()
    keys(desk, "enter")
    assert position(desk, "tag:13") == str(int(here) + 4)
    assert "leg" in view.accessibleDescription() and "refrigerator" in view.accessibleDescription()
    keys(desk, "space", "up", "esc")
    assert bench.saying.text().startswith("Drag, or arrows") and position(desk, "tag:13") == str(int(here) + 4)


def test_a_place_that_cannot_be_says_why_before_the_drop(desk, keys):
    keys(desk, "alt+5")
    view, bench = desk.stage().page("drawing").view, desk.stage().page("drawing")
    view.go_to(Place("tag:8"))
    keys(desk, "enter")
    for _ in range(10):
        keys(desk, "up")
    assert bench.saying.text().startswith("Not here:")
    keys(desk, "enter")
    assert "would not fit" in bench.saying.text() and not desk.store.undo_stack.canUndo()


def test_moving_one_circuit_leaves_all_others_where_they_were(desk, keys, drag):
    keys(desk, "alt+5")
    view = desk.stage().page("drawing").view
    before = dict(desk.store.plan.bench.placement.positions)
    drag(view, view.center_of("37"), view.center_of("39"))
    after = desk.store.plan.bench.placement.positions
    assert {k for k in before if before[k] != after[k]} == {"load:greenhouse"}
    desk.stage().page("drawing").afresh.click()
    assert desk.store.plan.bench.placement.positions == before and not desk.store.job.decisions.placements


def test_a_panel_too_small_lets_circuits_wait_and_they_can_be_put_by_hand(desk, keys):
    keys(desk, "alt+5")
    bench = desk.stage().page("drawing")
    desk.stage().show_page("panel")
    spaces = desk.stage().page().record.fields["panel:spaces"]
    spaces.setFocus()
    spaces.selectAll()
    keys(desk, "30", "enter")
    desk.stage().show_page("drawing")
    waiting = [bench.waiting.item(n).text() for n in range(bench.waiting.count())]
    assert waiting and "no space" in margin_text(desk)
    assert shown(desk, "Spaces open").startswith("-")
    desk.stage().show_page("panel")
    spaces.selectAll()
    keys(desk, "40", "enter")
    desk.stage().show_page("drawing")
    assert bench.waiting.item(0).text() == "none"


def test_a_waiting_circuit_is_dragged_from_the_list_into_a_space(desk, keys, qtbot):
    """With 36 spaces the charger and one circuit wait; a tandem mark makes room for it by hand."""
    from conftest import drag_between

    desk.store.edit("smaller", lambda job: with_part(job, "panel", spaces=36))
    keys(desk, "alt+5")
    bench = desk.stage().page("drawing")
    texts = [bench.waiting.item(n).text() for n in range(bench.waiting.count())]
    single = next(n for n, text in enumerate(texts) if "/2" not in text)
    key = bench.waiting.item(single).data(Qt.ItemDataRole.UserRole)
    item = bench.waiting.visualItemRect(bench.waiting.item(single)).center()
    drag_between(bench.waiting.viewport(), item, bench.view, bench.view.center_of("36").toPoint())
    assert "sits there; move it first." in bench.saying.text(), "an occupied space is not taken from under a circuit"
    desk.store.edit("larger", lambda job: with_part(job, "panel", spaces=38, tandem_spaces=()))
    assert key in desk.store.plan.bench.placement.positions


def test_halves_of_a_tandem_are_drawn_and_walked_one_by_one(window, keys):
    for line in SIX[:2] + SIX[3:6]:
        keys(window, line, "enter")
    window.store.edit("tiny", lambda job: with_part(job, "panel", spaces=4, tandem_spaces=(4,)))
    keys(window, "alt+5")
    view = window.stage().page("drawing").view
    halves = [t for t in view.tiles().tiles if t.position in ("4a", "4b")]
    assert len(halves) == 2 and halves[0].rect.bottom() <= halves[1].rect.top() + 2
    assert halves[0].rect.height() < view.tiles().of("tag:1").rect.height()
    keys(window, "right", "down")
    assert view.cursor_at == "4a"
    keys(window, "down")
    assert view.cursor_at == "4b"


# --- margin, findings, find, help -------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    "name", ["Load", "Main", "Service", "Neutral", "GEC", "Spaces used", "Spaces open", "Leg A", "Leg B"]
)
def test_a_click_on_a_figure_shows_its_working(desk, qtbot, name):
    qtbot.mouseClick(desk.bottom.figures[name], Qt.MouseButton.LeftButton)
    entry = desk.store.plan.entries[desk.bottom.figures[name].entry_id]
    text = margin_text(desk)
    assert text.startswith(entry.label) and entry.text() in text
    for step in entry.steps[:8]:
        assert step.label in text and step.text() in text
    for cite in entry.sections()[:3]:
        assert str(cite) in text


def test_a_finding_leads_to_its_place_and_is_accepted_with_a_reason(desk, keys):
    from PyQt6.QtCore import QUrl

    keys(desk, "alt+5")
    desk.margin.text.anchorClicked.emit(QUrl("place:circuit:10"))
    assert desk.current == "pulloff" and desk.stage().table.current_key() == "10"
    before = shown(desk, "Findings")
    desk.margin.text.anchorClicked.emit(QUrl("accept:branch.unknown:tag:25"))
    assert desk.margin.acceptance.isVisible()
    keys(desk, "owner rewires next week", "enter")
    assert before == "3 1 STOP" and shown(desk, "Findings") == "2 1 STOP"
    assert "Accepted: owner rewires next week" in margin_text(desk)
    keys(desk, "ctrl+z")
    assert shown(desk, "Findings") == before


def test_find_goes_to_circuits_loads_figures_and_sections(desk, keys):
    for query, stage, seen in (
        ("sump pump", "pulloff", "Tag 26"),
        ("load sauna", "load", "sauna heater: nameplate"),
        ("greenhouse new", "bench", "greenhouse lights: breaker"),
    ):
        keys(desk, "ctrl+f")
        keys(desk, query, "enter")
        assert desk.current == stage and seen in margin_text(desk), query
    keys(desk, "ctrl+f")
    keys(desk, "main bonding", "enter")
    assert margin_text(desk).startswith("Main bonding jumper")
    assert hits(desk.store.plan, "240.4(D)") and not hits(desk.store.plan, "") and not hits(desk.store.plan, "zebra")


@pytest.mark.parametrize(
    ("stage", "caution"),
    [
        ("walkthrough", "meter socket stay live"),
        ("pulloff", "line side of the main stays live"),
        ("load", "clamp"),
        ("service", "Line lugs"),
        ("bench", "listed for this panel"),
        ("papers", "AHJ"),
    ],
)
def test_f1_shows_what_to_look_for_and_the_cautions(desk, keys, stage, caution):
    desk.show_stage(stage)
    keys(desk, "F1")
    assert caution in margin_text(desk) and "Cautions" in margin_text(desk)
    keys(desk, "F1")
    assert "Cautions" not in margin_text(desk)


def test_places_lead_to_stages_and_entries(desk):
    plan = desk.store.plan
    leads = {
        "circuit:1": "pulloff",
        "load:range": "load",
        "dwelling:area": "load",
        "decisions:main_a": "service",
        "panel:spaces": "bench",
        "heading:title": "papers",
        "nonsense": "",
    }
    assert {place: stage_of(Place(place)) for place in leads} == leads
    for finding in plan.findings:
        assert stage_of(Place(finding.place))
    assert entries_of(plan, "branch:load:sauna")[:3] == (
        "reach.load:sauna",
        "protection.load:sauna",
        "branch.breaker.load:sauna",
    )
    assert "load.optional.item.range" in entries_of(plan, "load:range")


# --- papers, files, look ----------------------------------------------------------------------------------------------
def test_papers_are_exported_and_read_back(desk, keys, tmp_path, monkeypatch, qtbot):
    keys(desk, "alt+7")
    page = desk.stage().page()
    row = next(n for n in range(page.sheets.count()) if page.sheets.item(n).text().startswith("Panel directory"))
    page.sheets.setCurrentRow(row)
    qtbot.waitUntil(lambda: page.document.pageCount() == 1, timeout=5000)
    assert page.sheets.item(row).text() == "Panel directory\nmissing: what tag 25 feeds"
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(tmp_path))
    keys(desk, "ctrl+e")
    text = " ".join(PdfReader(tmp_path / "job-directory.pdf").pages[0].extract_text().split())
    assert "Panel directory" in text and "west bedroom receptacles" in text
    assert "Written to" in desk.notice_text.text() and desk.notice.isVisible()
    title = page.heading.fields["heading:title"]
    title.setFocus()
    title.selectAll()
    keys(desk, "Another title", "enter")
    assert desk.title.text() == "Another title"


def test_saving_opening_and_recent_jobs(window, keys, tmp_path, monkeypatch):
    keys(window, SIX[0], "enter")
    path = tmp_path / "first.ledger.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(path).removesuffix(".ledger.json"), ""))
    assert "not saved" in window.state.text()
    keys(window, "ctrl+s")
    assert "saved" in window.state.text() and read_job(path).circuits[0].feeds == "kitchen counter"
    keys(window, SIX[1], "enter", "ctrl+s")
    assert len(read_job(path).circuits) == 2
    window.new_job()
    assert not window.store.job.circuits
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_, **__: (str(path), ""))
    keys(window, "ctrl+o")
    window.show_stage("pulloff")
    assert len(cells(window.stage().table)) == 2 and window.settings.recent() == [path]


def test_a_failed_save_is_said_and_nothing_is_lost(window, keys, tmp_path):
    keys(window, SIX[0], "enter")
    assert not window.save_to(tmp_path / "gone" / "job.ledger.json")
    assert "could not be saved" in window.notice_text.text() and "Nothing is lost" in window.notice_text.text()
    assert len(cells(window.stage().table)) == 1 and window.store.unsaved


def test_a_bad_file_leaves_the_open_job_alone(desk, tmp_path):
    bad = tmp_path / "bad.ledger.json"
    bad.write_text("{")
    desk.open_path(bad)
    assert "is damaged at line 1" in desk.notice_text.text()
    assert len(desk.store.job.circuits) == 28


@pytest.mark.parametrize(("answer", "left"), [("Cancel", False), ("Discard", True)])
def test_leaving_unsaved_work_asks_first(window, keys, monkeypatch, answer, left):
    keys(window, SIX[0], "enter")
    monkeypatch.setattr(words_box, "ask", lambda *_: getattr(QMessageBox.StandardButton, answer))
    window.files.close_job()
    assert (window.root.currentWidget() is window.start) == left


def test_the_start_page_opens_the_demo_by_keyboard(window, qtbot):
    window.show_start()
    assert window.focusWidget() is window.start.demo
    qtbot.keyClick(window.start.demo, Qt.Key.Key_Space)
    assert window.title.text() == "Marrow Lane 8: panel and service"
    assert window.store.path is None, "the shipped example is not written to"


def contrast(one: str, other: str) -> float:
    """WCAG contrast ratio of two colors."""

    def light(color: str) -> float:
        parts = [int(color[n : n + 2], 16) / 255 for n in (1, 3, 5)]
        r, g, b = (p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts)
        return 0.2126 * r + 0.7152 * g + 0.0722 * b

    high, low = sorted((light(one), light(other)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("theme", [DAYLIGHT, BASEMENT], ids=lambda t: t.name)
def test_text_is_readable_in_both_themes(theme):
    for ink in ("ink", "faint", "accent", "stop", "fix", "ask", "note"):
        for ground in ("page", "side", "wash", "field"):
            assert contrast(getattr(theme, ink), getattr(theme, ground)) >= 4.5, (ink, ground)
    assert contrast(theme.head_ink, theme.head) >= 4.5
    for word in ("STOP", "FIX", "ASK", "NOTE"):
        assert contrast(theme.badge_ink, theme.severity(word)) >= 4.5


def test_text_grows_and_themes_switch_in_every_stage(desk, keys):
    for _ in SCALES:
        keys(desk, "ctrl+Key_Plus")
    assert desk.scale == SCALES[-1]
    keys(desk, "F8")
    for stage in manifest():
        desk.show_stage(stage)
        QApplication.processEvents()
        assert (desk.width(), desk.height()) == (1280, 800), (
            "large text scrolls; it does not push the window off the screen"
        )
    keys(desk, "ctrl+0", "F8")
    assert (desk.scale, desk.theme_name) == (1.0, "daylight")


def test_the_window_fits_1280_by_800_in_every_stage(desk):
    for stage in manifest():
        desk.show_stage(stage)
        QApplication.processEvents()
        assert (desk.width(), desk.height()) == (1280, 800), stage


def test_every_control_has_a_name_for_those_who_cannot_see_it(desk):
    for stage in manifest():
        desk.show_stage(stage)
        for widget in desk.stage().findChildren(QAbstractButton):
            if widget.isVisible() and widget.focusPolicy() != Qt.FocusPolicy.NoFocus:
                assert widget.accessibleName() or widget.text(), (stage, widget)
    assert desk.spine.buttons["pulloff"].accessibleName() == "Pull-off, in work, 3 open findings"


def test_f6_walks_the_areas_of_the_page(desk, keys):
    keys(desk, "alt+2")
    keys(desk, "F6")
    assert desk.margin.isAncestorOf(QApplication.focusWidget() or desk.margin.text)
    keys(desk, "F6")
    assert desk.bottom.figures["Load"].hasFocus()
    keys(desk, "space")
    assert margin_text(desk).startswith("Optional calculation: amperes")


def test_an_error_nobody_foresaw_is_said_in_a_sentence(desk, tmp_path):
    import sys

    from robust_ledger.desk.shell.application import install_guard
    from robust_ledger.jobbook.runs import Run

    before = sys.excepthook
    install_guard(desk, Run(tmp_path))
    try:
        sys.excepthook(ValueError, ValueError("boom"), None)
    finally:
        sys.excepthook = before
    assert "the job is still here" in desk.notice_text.text() and "boom" not in desk.notice_text.text()


@pytest.mark.parametrize(
    ("text", "spaces"), [("19-24, 30", (19, 20, 21, 22, 23, 24, 30)), ("", ()), ("7", (7,)), ("1,3 5", (1, 3, 5))]
)
def test_lists_of_spaces(text, spaces):
    assert read_spaces(text) == spaces
    assert read_spaces(spaces_text(spaces)) == spaces


@pytest.mark.parametrize("text", ["x", "3-x", "-"])
def test_lists_that_are_none(text):
    with pytest.raises(ValueError, match="is not a space or a range"):
        read_spaces(text)


@pytest.mark.parametrize(("text", "amps"), [("125", 125.0), (" 125 A ", 125.0), ("", None)])
def test_amperes(text, amps):
    assert read_amps(text) == amps
