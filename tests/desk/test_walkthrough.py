"""The walk-through and the service's pages at the desk: typed, clicked, and read from the widgets."""

from __future__ import annotations

import re
from urllib.parse import quote

import pytest
from builders import answers
from msgspec.structs import replace
from PyQt6 import QtWidgets
from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QColor, QImage
from PyQt6.QtWidgets import QFileDialog

from robust_ledger.job.files import read_job
from robust_ledger.jobbook.home import home
from robust_ledger.ledger.place import Place


def margin_text(window) -> str:
    return " ".join(window.margin.text.toPlainText().split())


def cells(table) -> list[list[str]]:
    model = table.model()
    return [[model.index(r, c).data() for c in range(model.columnCount())] for r in range(model.rowCount())]


def choose(field, words: str) -> None:
    """Take a choice as a person does: by its words."""
    field.setFocus()
    field.setCurrentIndex(field.findText(words))
    field.activated.emit(field.currentIndex())


@pytest.fixture
def page(desk, qtbot, keys):
    """Turns to a page of a stage by its key and waits for it."""

    def turn(stage: str, letter: str, name: str):
        keys(desk, f"alt+{stage}")
        shown = desk.stage()
        if shown.current != name:
            keys(desk, f"alt+{letter}")
        qtbot.waitUntil(lambda: shown.current == name, timeout=2000)
        return shown.page()

    return turn


@pytest.fixture
def typed(desk, keys):
    """Types into the field of a place and presses Enter."""

    def do(form, place: str, text: str):
        field = form.fields[place]
        field.setFocus()
        field.selectAll()
        keys(desk, *([text] if text else ["del"]), "enter")
        return field

    return do


# --- scope ------------------------------------------------------------------------------------------------------------
def test_a_new_job_begins_with_its_scope_and_shows_what_follows(window, keys, qtbot):
    window.new_job()
    stage = window.stage()
    assert window.current == "walkthrough" and stage.current == "scope"
    assert window.spine.buttons["walkthrough"].accessibleName() == "Walk-through, empty"
    service = stage.page().form.fields["scope:service"]
    assert service.hasFocus()
    keys(window, "down")
    rows = dict(cells(stage.page().table))
    assert rows["The service"] == "goes on; not known: old main as found, to be read"
    assert "existing dwelling" in rows["Load calculations allowed"]
    assert rows["Asked here"].endswith("not asked: overhead")
    assert (
        not stage.tabs.button(4).isVisible() and "The old main, conductors and meter go on" in stage.page().words.text()
    )
    assert not stage.page().form.fields["scope:disconnect_kind"].isVisible(), "there is no disconnect to be of a kind"
    choose(service, "upgraded")
    assert stage.tabs.button(4).isVisible()
    assert dict(cells(stage.page().table))["Outdoor emergency disconnect"] == "required, missing"
    choose(stage.page().form.fields["scope:disconnect"], "added or replaced")
    choose(stage.page().form.fields["scope:disconnect_kind"], "meter disconnect")
    choose(stage.page("chain").form.fields["existing:disconnect_at"], "outdoors")
    rows = dict(cells(stage.page("scope").table))
    assert rows["Outdoor emergency disconnect"] == "required, provided"
    assert rows["Its label outside"] == "EMERGENCY DISCONNECT, METER DISCONNECT, NOT SERVICE EQUIPMENT"
    keys(window, *["ctrl+z"] * 5)
    assert service.currentText() == "not answered"


def test_a_page_that_is_no_longer_asked_gives_way(desk, page):
    page("1", "o", "overhead")
    desk.store.edit("scope", lambda job: replace(job, scope=answers("swap")))
    assert desk.stage().current == "scope"


# --- chain ------------------------------------------------------------------------------------------------------------
def test_the_chain_is_walked_and_edited(desk, page, keys, qtbot, typed):
    chain = page("1", "a", "chain")
    assert chain.view.hasFocus() and chain.words.text().endswith("Limited to 150 A by the meter socket.")
    keys(desk, "right", "right")
    assert chain.view.accessibleDescription() == "Service-entrance conductors (line side) 125 A: new"
    assert "Service-entrance conductors (line side): largest main" in margin_text(desk) and "115 A" in margin_text(desk)
    chain.form.fields["renews:riser_conductors"].click()
    assert chain.words.text().startswith("To go to 150 A, replace: service-entrance conductors (line side).")
    assert "Service-entrance conductors (line side) too small for 150 A" in margin_text(desk)
    assert "is not a conductor" in typed(chain.form, "existing:riser_conductors", "2/0 gold").fault.text()
    field = typed(chain.form, "existing:riser_conductors", "2/0 al")
    assert field.text() == "2/0 Al" and chain.words.text().startswith("Every existing link is good for")
    qtbot.mouseClick(chain.view, Qt.MouseButton.LeftButton, pos=chain.view.spot_of("chain.panel").toPoint())
    assert chain.view.accessibleDescription() == "Panel bus 200 A: keep, good for 200 A"
    chain.form.fields["existing:underground"].click()
    assert chain.view.scene.spots[0].words.startswith("Lateral") and not desk.stage().tabs.button(4).isVisible()


# --- earth, fit, overhead, place --------------------------------------------------------------------------------------
def test_earth_answers_to_practice_and_readings(desk, page, typed):
    grounding = page("1", "r", "grounding")
    rows = {row[0]: row[1] for row in cells(grounding.table)}
    assert (rows["Ground rods required"], rows["Ground rods to drive"], rows["GEC to the metal water pipe"]) == (
        "2",
        "1",
        "6 Cu",
    )
    choose(grounding.form.fields["grounding:practice"], "one rod where it measures 25 Ω or less")
    assert "One rod, and its resistance not measured" in margin_text(desk)
    typed(grounding.form, "grounding:rod_ohms", "18")
    assert {row[0]: row[1] for row in cells(grounding.table)}["Ground rods to drive"] == "0"
    typed(grounding.form, "grounding:rod_spacing_ft", "5'6\"")
    assert (
        "Rods closer than 6 ft" in margin_text(desk)
        and "Drive a third rod" in margin_text(desk)
        and "Found 5.5 ft" in margin_text(desk)
    )
    assert "is not a length" in typed(grounding.form, "grounding:rod_spacing_ft", "far").fault.text()


def test_fit_follows_what_is_measured(desk, page, keys, qtbot, typed):
    fit = page("1", "f", "fit")
    assert (
        fit.words.text()
        == "The panel's bottom may be from 24 in (your minimum) to 41 in (by the ceiling). Taken: 31 in."
    )
    assert "Highest bottom of the panel 41 in" in margin_text(desk)
    typed(fit.form, "fit:new.height_in", "4'")
    assert "to 32 in (by the ceiling)" in fit.words.text()
    typed(fit.form, "fit:ceiling_in", "200 cm")
    assert fit.words.text().startswith("No height fits: at least 24 in") and "No mounting height works" in margin_text(
        desk
    )
    keys(desk, "ctrl+z")
    typed(fit.form, "fit:new_bottom_in", "34")
    assert "Panel's bottom too high" in margin_text(desk)
    qtbot.mouseClick(fit.view, Qt.MouseButton.LeftButton, pos=fit.view.spot_of("fit.bottom").toPoint())
    assert margin_text(desk).startswith("Bottom of the new panel 34 in")
    assert "more than 400" in typed(fit.form, "fit:new.height_in", "40 ft").fault.text()


def test_overhead_corrects_habits_that_are_looser(desk, page, typed):
    over = page("1", "o", "overhead")
    assert ["Clearance over driveway or parking", "≥ 12 ft", "12.5 ft"] in cells(over.table)
    typed(over.form, "overhead:span_ft", "10")
    assert "a driveway requires 12" in margin_text(desk) and "Clearance over driveway or parking: 10 ft" in margin_text(
        desk
    )
    desk.go_to(Place("existing:raceway"))
    choose(desk.stage().page("chain").form.fields["existing:raceway"], "cable, no raceway")
    desk.go_to(Place("overhead:strap_between_in"))
    assert ["Between straps", "≤ 30 in", "72 in"] in cells(over.table) and [
        "Straps on the riser",
        "",
        "4 straps",
    ] in cells(over.table)
    assert "cable requires one every 30 in" in over.words.text()


def test_place_and_count(desk, page, typed):
    place = page("1", "p", "location")
    counts = {row[0]: row[1] for row in cells(place.table)}
    assert counts["Circuits in the old panel"] == "27 circuits" and counts["Panel size needed"] == "54 spaces"
    choose(place.counting.fields["decisions:spares"], "four spaces")
    assert {row[0]: row[1] for row in cells(place.table)}["Spaces needed"] == "43 spaces", (
        "the surge device is at the disconnect"
    )
    choose(place.form.fields["location:room"], "bathroom")
    assert "Panel in bathroom: not allowed" in margin_text(desk) and "240.24(E)" in margin_text(desk)


# --- defects ----------------------------------------------------------------------------------------------------------
def test_defects_are_noted_judged_and_taken_out(desk, page, keys, typed):
    defects = page("1", "d", "defects")
    assert len(cells(defects.table)) == 4
    defects.picker.setCurrentIndex(defects.picker.findText("open knockouts"))
    defects.add_button.click()
    assert cells(defects.table)[-1] == ["open knockouts", "", "this job", "10", "yes", "yes", "yes", "open"]
    keys(desk, "left gutter", "enter")
    assert cells(defects.table)[-1][1] == "left gutter" and "408.7" in margin_text(desk)
    typed(defects.fields_of_one, "minutes", "25")
    assert "this job corrects 35 min" in defects.words.text()
    choose(defects.form.fields["decisions:defect_practice"], "what you touch you own")
    assert "this job corrects 75 min" in defects.words.text()
    choose(defects.fields_of_one.fields["state"], "done")
    assert "this job corrects 50 min" in defects.words.text()
    assert "A defect needs words." in typed(defects.fields_of_one, "what", "").fault.text()
    defects.table.setFocus()
    keys(desk, "del")
    assert len(cells(defects.table)) == 4
    keys(desk, "ctrl+z")
    assert len(cells(defects.table)) == 5


def test_photos_are_put_beside_the_job(desk, page, keys, tmp_path, monkeypatch):
    picture = QImage(64, 48, QImage.Format.Format_RGB32)
    picture.fill(QColor("#446688"))
    source = tmp_path / "camera" / "cover off.png"
    source.parent.mkdir()
    picture.save(str(source))
    (tmp_path / "camera" / "notes.png").write_text("no picture")
    defects = page("1", "d", "defects")
    defects.table.setFocus()
    keys(desk, "down")
    monkeypatch.setattr(
        QFileDialog, "getOpenFileNames", lambda *_: ([str(source), str(source.parent / "notes.png")], "")
    )
    defects.photos.add.click()
    assert defects.photos.list.count() == 1 and "notes.png is no picture" in desk.notice_text.text()
    path = tmp_path / "jobs" / "lane.ledger.json"
    path.parent.mkdir()
    assert desk.save_to(path)
    (name,) = [photo for defect in read_job(path).defects for photo in defect.photos]
    assert (
        re.fullmatch(r"photos/cover-off-[0-9a-f]{10}\.png", name)
        and (path.parent / name).read_bytes() == source.read_bytes()
    )
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *_: ([str(source)], ""))
    defects.photos.add.click()
    assert defects.photos.list.count() == 1 and "attached already" in desk.notice_text.text()
    picture.fill(QColor("#ccaa88"))
    picture.save(str(source))
    defects.photos.add.click()
    kept = sorted(one.name for one in (path.parent / "photos").iterdir())
    assert len(kept) == 2 and defects.photos.list.count() == 2, (
        "with a file it is copied at once, under a name of its own"
    )
    desk.store.undo_stack.setClean()  # as if asked, and answered with "discard"
    desk.open_path(path)
    desk.show_stage("walkthrough")
    desk.stage().show_page("defects")
    assert desk.stage().page().photos.list.count() == 1, "what was attached after saving was not saved"
    defects.photos.list.setCurrentRow(0)
    defects.photos.drop.click()
    assert defects.photos.list.count() == 0 and (path.parent / name).exists(), "the file itself is left alone"


def test_the_caution_list_is_edited_here_and_matched(desk, page, keys, qtbot):
    defects = page("1", "d", "defects")
    cautions = defects.cautions
    cautions.edit_button.click()
    keys(desk, "only a mark")
    cautions.edit_button.click()
    assert "Line 1 of the caution list needs a mark" in cautions.fault.text() and cautions.text.isVisible()
    cautions.text.setPlainText("Zorpal Q, breakers known not to trip")
    cautions.edit_button.click()
    assert not cautions.text.isVisible() and "not to trip" in (home() / "caution-list.csv").read_text()
    cautions.marks.setFocus()
    keys(desk, "zorpal-q 100 A", "enter")
    assert cautions.state.text() == "1 on your list" and '"Zorpal Q" is on your caution list' in margin_text(desk)
    (home() / "caution-list.csv").write_text("broken")
    cautions.marks.selectAll()
    keys(desk, "zorpal", "enter")
    assert "Line 1" in cautions.fault.text() and not desk.store.job.cautions


# --- the service's pages ----------------------------------------------------------------------------------------------
def test_a_feeder_is_planned_and_drawn(desk, page, typed, keys):
    panels = page("4", "p", "panels")
    assert "Feeder to the main panel, Al" in {row[0] for row in cells(panels.table)}
    panels.tree.choose("panel")
    keys(desk, "insert")
    typed(panels.form, "breaker_a", "60")
    rows = {row[0]: row[1] for row in cells(panels.table)}
    assert rows["Feeder to the garage, Al"] == "3 Al" and "needs electrodes of its own" in margin_text(desk)
    typed(panels.form, "rods", "2")
    panels.form.fields["disconnect"].click()
    assert "electrodes of its own" not in margin_text(desk)
    panels.form.fields["box.first_disconnect"].click()
    assert "bonded again in the garage" in margin_text(desk)
    desk.stage().show_page("drawing")
    drawing = desk.stage().page()
    assert any(spot.words.startswith("Garage") for spot in drawing.drawing.scene.spots)
    assert cells(drawing.table)[-1] == [
        "Garage",
        "bonded, should be separate: isolated neutral bar, ground bar bonded to can",
    ]


def test_sizes_follow_where_the_conductors_lie(desk, page, typed):
    sizes = page("4", "z", "sizes")
    assert ["Conductors, Al", "2/0 Al", "83% rule, used"] in cells(sizes.table)
    typed(sizes.form, "service_run:ambient_c", "131")
    assert ["Conductors, Al", "3/0 Al", "83% rule, used"] in cells(sizes.table)  # 150 × 0.76 = 114; 175 × 0.76 = 133
    desk.store.choose_entry("service.conductors.al.dwelling")
    assert "never above the terminals' column" in margin_text(desk)
    assert "not between -40 and 194 °F" in typed(sizes.form, "service_run:ambient_c", "240").fault.text()


def test_equipment_and_conventions(desk, page, typed):
    equipment = page("4", "q", "equipment")
    assert cells(equipment.table)[0][:2] == ["Outdoor emergency disconnect", "required, provided"]
    choose(equipment.form.fields["existing:disconnect_at"], "indoors")
    assert "No emergency disconnect outdoors" in margin_text(desk)
    typed(equipment.form, "equipment:inverter_a", "80")
    assert "120% bus rule exceeded: 250 A > 200 A" in margin_text(desk), "which end its breaker is at is not entered"
    choose(equipment.form.fields["equipment:inverter_opposite"], "yes")
    assert "120% bus rule exceeded: 250 A > 240 A" in margin_text(desk)
    typed(equipment.settings, "conventions:leg_b", "blue")
    assert "B (blue) on the right" in equipment.words.text()


# --- all pages --------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize("stage", ["walkthrough", "service"])
@pytest.mark.parametrize("theme", ["daylight", "basement"])
def test_every_page_fits_and_names_its_controls(desk, stage, theme):
    desk.use_theme(theme)
    desk.show_stage(stage)
    for spec in desk.stage().spec.pages:
        name = spec.name
        desk.stage().show_page(name)
        made = desk.stage().page()
        assert (desk.width(), desk.height()) == (1280, 800)
        frame = desk.pages.parentWidget()
        assert desk.pages.minimumSizeHint().width() <= frame.width(), f"{name} is wider than the page"
        assert desk.pages.minimumSizeHint().height() <= frame.height(), name
        for kind in ("QComboBox", "QLineEdit", "QListWidget", "QTableView", "QPlainTextEdit", "QRadioButton"):
            for child in made.findChildren(getattr(QtWidgets, kind)):
                said = child.accessibleName() or (child.text() if kind == "QRadioButton" else "")
                assert said or child.parent().accessibleName(), (name, child)


def test_every_finding_of_the_walk_through_leads_to_a_field(desk):
    """Break everything, then follow each finding: the stage comes up and something on it has the cursor."""
    broken = {
        "grounding": {"intersystem": 1, "rod_spacing_ft": 3.0, "gas": "not_bonded", "water_bonded": False},
        "fit": {"ceiling_in": 50.0, "space_width_in": 20.0, "meter_in": 90.0},
        "overhead": {"attachment_ft": 5.0, "loop_ft": 5.0, "free_in": 10.0},
        "location": {"room": "closet", "over_steps": True, "damp": True},
        "equipment": {"spd": False, "generator_a": 30.0, "inverter_a": 90.0},
        "service_run": {"riser_ft": 90.0, "sets": 9},
    }
    from robust_ledger.job.edits import add_panel, with_part
    from robust_ledger.job.parts.panel_tree import Panel

    for part, values in broken.items():
        desk.store.edit(f"break {part}", lambda job, part=part, values=values: with_part(job, part, **values))
    bad = Panel.read({"id": "sub", "breaker_a": 61.0, "wires": 3, "box": {"first_disconnect": True, "spaces": 12}})
    desk.store.edit("break panels", lambda job: add_panel(job, bad))
    findings = [f for f in desk.store.plan.findings if f.stage in ("walkthrough", "service")]
    assert len(findings) > 25
    for finding in findings:
        desk.go_to(Place(finding.place))
        assert desk.current in ("walkthrough", "service", "bench", "pulloff"), finding.place
        assert desk.focusWidget() is not None and desk.stage().isAncestorOf(desk.focusWidget()), finding.place


# --- what is there, and the answers of the scope -------------------------------------------------------------------------
def test_the_service_that_is_there_is_entered_by_keyboard_and_judged(window, keys):
    """From an empty job: kept service, 100 A main on 2 Cu, a disconnect ahead with three wires going on: a STOP, said in the margin."""
    window.new_job()
    scope = window.stage().page("scope").form
    choose(scope.fields["scope:service"], "stays as it is")
    window.stage().show_page("chain")
    there = window.stage().page("chain")

    def type_in(place: str, text: str):
        field = there.form.fields[place]
        field.setFocus()
        field.selectAll()
        keys(window, text, "enter")
        return field

    type_in("old_panel:main_a", "100")
    assert window.store.plan.service.main.value == 100
    assert type_in("existing:riser_conductors", "2 cu").text() == "2 Cu"
    type_in("existing:load_conductors", "2 cu")
    assert window.store.plan.service.conductors.value == "2 Cu"
    type_in("existing:disconnect_a", "100")
    assert type_in("existing:disconnect_aic_a", "10k").text() == "10,000"
    assert "write 10,000 or 10k" in type_in("existing:disconnect_aic_a", "10").fault.text()
    type_in("existing:disconnect_aic_a", "22 kA")
    choose(there.form.fields["main_feed:wires"], "three")
    assert "Disconnect ahead: which kind?" in margin_text(window)
    assert "3-wire feeder to the main panel" in margin_text(window)
    window.stage().show_page("scope")
    choose(scope.fields["scope:disconnect_kind"], "meter disconnect")
    assert "3-wire feeder" not in margin_text(window), "the panel stays the service equipment, with the bond"


def test_a_link_made_new_is_ticked_and_unticked(desk, page):
    there = page("1", "a", "chain")
    tick = there.form.fields["renews:riser"]
    tick.click()
    assert "riser" in desk.store.job.scope.renews and "Riser raceway" in there.view.scene.spots[1].words
    tick.click()
    assert "riser" not in desk.store.job.scope.renews


def test_groups_of_findings_open_by_a_key_and_by_a_click(window, keys):
    window.stage().line.setFocus()
    for line in ("1 20 14 den receptacles", "3 20 14 hall lights", "5 20 14 bedroom lights"):
        keys(window, line, "enter")
    keys(window, "ctrl+shift+f")
    assert "14 Cu on 20 A: tags 1, 2, 3" in margin_text(window) and "Tag 2: 14 Cu on 20 A" not in margin_text(window)
    keys(window, "f7")
    assert all(f"Tag {tag}: 14 Cu on 20 A" in margin_text(window) for tag in (1, 2, 3))
    keys(window, "f7")
    assert "Tag 2: 14 Cu on 20 A" not in margin_text(window)
    group = next(group for group in window.store.plan.groups if not group.alone)
    window.margin.text.anchorClicked.emit(QUrl(f"group:{quote(group.key)}"))
    assert "Tag 2: 14 Cu on 20 A" in margin_text(window)
