"""The pages of the Load stage, driven by keys and mouse in the real window."""

from __future__ import annotations

from datetime import datetime, timedelta

import pytest
from builders import answers
from msgspec.structs import replace
from PyQt6 import QtWidgets
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication, QFileDialog

from robust_ledger.desk.kit.examples import EXAMPLES
from robust_ledger.job.edits import with_part
from robust_ledger.ledger.place import Place
from robust_ledger.plan import plan

RECORDINGS = EXAMPLES / "interval-data"


def shown(window, name: str) -> str:
    return window.bottom.figures[name].text()


def cells(table) -> list[tuple[str, ...]]:
    return [row.cells for row in table.rows_model.rows]


def margin_text(window) -> str:
    return window.margin.text.toPlainText()


@pytest.fixture
def page(desk, keys, qtbot):
    """Opens a page of the Load stage by its key."""

    def open_(letter: str):
        keys(desk, "alt+3", f"alt+{letter}")
        names = {"o": "house", "t": "tape", "m": "methods", "w": "whatif", "r": "measured", "d": "day", "l": "local"}
        qtbot.waitUntil(lambda: desk.stage().current == names[letter], timeout=2000)
        made = desk.stage().page()
        if hasattr(made, "progress"):
            qtbot.waitUntil(lambda: not made.progress.busy, timeout=20_000)
        return made

    return open_


def settled(qtbot, made) -> None:
    qtbot.waitUntil(lambda: not made.progress.busy, timeout=30_000)


# --- methods ----------------------------------------------------------------------------------------------------------
def test_a_method_that_is_not_open_can_be_used_and_is_then_a_finding(desk, page, keys, qtbot):
    methods = page("m")
    assert methods.words.text().startswith("Recommended: Optional calculation") and not methods.take.isEnabled()
    titles = [row[0] for row in cells(methods.table) if not row[0].startswith(" ")]
    assert titles == ["Standard calculation", "Optional calculation", "Existing dwelling", "Measured demand"]
    while methods.table.current_key() != "existing.open":
        keys(desk, "down")
    assert "no: the service is being replaced" in margin_text(desk)
    keys(desk, "enter")
    assert (shown(desk, "Load"), shown(desk, "Main")) == ("152 A", "175 A")
    assert "Existing dwelling is not allowed for this job" in margin_text(desk)
    assert desk.stage().cards["existing"].accessibleName().endswith("used, not allowed")
    methods.take.click()
    assert shown(desk, "Load") == "143 A"
    keys(desk, "ctrl+z")
    assert shown(desk, "Load") == "152 A"


def test_the_scope_opens_and_recommends(desk, page):
    page("o")
    desk.store.edit("scope", lambda job: replace(job, scope=answers("swap")))
    assert desk.stage().cards["measured"].accessibleName().endswith("recommended")
    desk.store.edit("solar", lambda job: with_part(with_part(job, "equipment", inverter_a=20.0), "dwelling", units=2))
    recommended = [name for name, card in desk.stage().cards.items() if card.accessibleName().endswith("recommended")]
    assert recommended == ["measured"], "a year of it counts beside solar too; 30 days would not"
    assert "not allowed" in desk.stage().cards["optional"].accessibleName()


def test_a_load_held_back_counts_at_the_set_point(desk, page, keys):
    """Strips of 9,600 VA at 65% leave the climate; 20 A × 240 V × 125% = 6,000 VA stand in their place: 34,077."""
    house = page("o")
    house.go_to(Place("load:supplemental"))
    house.form.fields["managed"].click()
    assert "No set point given" in margin_text(desk)
    house.forms[1].fields["management:setpoint_a"].setFocus()
    keys(desk, "20", "enter")
    assert desk.store.plan.load.chosen.total.value == pytest.approx(34_317 - 6240 + 6000, abs=1)
    desk.stage().show_page("tape")
    tape = {row[0].strip(): row for row in cells(desk.stage().page().tape)}
    assert tape["Energy management: supplemental heat"][1:4] == ("4,800 VA", "125%", "6,000")


# --- converter --------------------------------------------------------------------------------------------------------
def test_f4_converts_and_fills_the_field_it_was_opened_from(desk, page, keys, qtbot):
    house = page("o")
    house.go_to(Place("load:sauna"))
    rating = house.form.fields["nameplate"]
    rating.setFocus()
    keys(desk, "F4")
    slip = QApplication.activePopupWidget()
    assert slip.fields["volts"].text() == "240" and not slip.button.isEnabled()
    qtbot.keyClicks(slip.fields["amperes"], "28")
    assert slip.answer.text() == "240 V × 28 A = 6,720 VA"
    slip.continuous.click()
    assert slip.check.text().startswith("28 A × 1.25 = 35 A: a 35 A breaker")
    qtbot.keyClicks(slip.breaker, "30")
    assert slip.check.text().endswith("80% of 30 A is not good for it")
    qtbot.keyClick(slip.fields["amperes"], Qt.Key.Key_Return)
    assert rating.text() == "28 A @ 240" and desk.store.plan.entries["load.nameplate.sauna"].value == 6720
    mca = house.form.fields["mca_a"]
    mca.setFocus()
    keys(desk, "F4")
    slip = QApplication.activePopupWidget()
    slip.fields["va"].setFocus()
    qtbot.keyClicks(slip.fields["va"], "6000")
    assert slip.fields["amperes"].text() == "25"
    slip.button.click()
    assert mca.text() == "25" and desk.store.job.load("sauna").mca_a == 25


# --- what if ----------------------------------------------------------------------------------------------------------
def test_columns_are_walked_by_keys_and_show_their_working(desk, page, keys, qtbot):
    whatif = page("w")
    assert whatif.view.hasFocus() and whatif.view.accessibleDescription() == "After this job: load 143 A"
    keys(desk, "right")
    assert "With vehicle charger: amperes" in margin_text(desk) and "38,925 VA" in margin_text(desk)
    assert "set point" in whatif.answer.text().lower() and "26 A" in whatif.answer.text()
    assert whatif.form_title.text() == 'The future "vehicle charger"'
    keys(desk, *["down"] * 4)
    assert whatif.view.accessibleDescription() == "With vehicle charger: 150 A main 12 A over"
    assert "spare on a 150 A main" in margin_text(desk) and "-12 A" in margin_text(desk)
    qtbot.mouseClick(whatif.view, Qt.MouseButton.LeftButton, pos=whatif.view._frame(4).center().toPoint())
    assert whatif.view.current == "future.flat" and "Two panels: 175 A + 200 A" in whatif.answer.text()
    whatif.answer.linkActivated.emit("whatif.future.flat.split")
    assert "panel 1: load" in margin_text(desk)


def test_a_future_is_made_edited_and_taken_out_in_place(desk, page, keys, qtbot):
    whatif = page("w")
    whatif.add_button.click()
    keys(desk, "garage welder", "enter")
    fields = whatif.form.fields
    fields["circuits"].setFocus()
    keys(desk, "welder 50/2, garage lights 15", "enter")
    fields["area"].setFocus()
    fields["area"].selectAll()
    keys(desk, "400", "enter")
    future = desk.store.job.futures[-1]
    assert (future.name, future.area, [(c.poles, c.breaker_a) for c in future.circuits]) == (
        "garage welder",
        400,
        [(2, 50), (1, 15)],
    )
    it = desk.store.plan.what_if.columns[-1]
    assert (it.title, it.spaces.value) == ("With garage welder", 40)
    assert it.load.why_unknown == "what garage welder draws", "a 240 V circuit and no load: never said to fit"
    assert shown(desk, "Spaces open") == "-2", "its three poles are reserved on the bench"
    fields["frees"].setFocus()
    keys(desk, "8, 99", "enter")
    assert "There is no tag 99." in fields["frees"].fault.text()
    fields["frees"].selectAll()
    keys(desk, "8, 2", "enter")
    assert desk.store.plan.what_if.columns[-1].spaces.value == 40 - 1 - 2
    fields["reserve"].click()
    assert shown(desk, "Spaces open") == "1"
    item = next(
        whatif.changes.item(n)
        for n in range(whatif.changes.count())
        if whatif.changes.item(n).text() == "goes: sauna heater"
    )
    item.setCheckState(Qt.CheckState.Checked)
    assert desk.store.job.futures[-1].removes == ("sauna",)
    fields["circuits"].setFocus()
    fields["circuits"].selectAll()
    keys(desk, "welder", "enter")
    assert (
        '"welder" is not a circuit' in fields["circuits"].fault.text() and len(desk.store.job.futures[-1].circuits) == 2
    )
    whatif.remove_button.click()
    assert [f.id for f in desk.store.job.futures] == ["charger", "kitchen", "flat"]
    keys(desk, "ctrl+z")
    assert desk.store.job.futures[-1].name == "garage welder"


def test_a_finding_about_a_future_leads_to_its_column(desk, page):
    desk.go_to(Place("future:flat"))
    assert desk.stage().current == "whatif" and desk.stage().page().view.current == "future.flat"


# --- measured ---------------------------------------------------------------------------------------------------------
def test_the_recording_in_use_is_shown_from_its_file(desk, page):
    measured = page("r")
    assert measured.source.text() == "clean-year.csv, in use" and not measured.use_button.isEnabled()
    assert measured.result.text().startswith(
        "Maximum demand 11.02 kW at 2025-05-29 10:00. 365 days every 15 min, 100% there."
    )
    assert [measured.issues.item(n).text() for n in range(measured.issues.count())][-1].startswith(
        "Nothing wrong was found"
    )


def test_a_dirty_file_is_read_looked_at_and_used(desk, page, qtbot, monkeypatch):
    measured = page("r")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(RECORDINGS / "dirty-eleven-months.csv"), ""))
    measured.open_button.click()
    settled(qtbot, measured)
    assert (measured.delimiter.currentText(), measured.column.currentText(), measured.unit.currentText()) == (
        "semicolon",
        "Average kW",
        "kW",
    )
    assert "64.00 kW" in measured.result.text() and 'Row 8764: "n/a" is not a number.' in measured.fault.text()
    items = {
        measured.issues.item(n).text().partition(":")[0]: measured.issues.item(n)
        for n in range(measured.issues.count())
    }
    assert {"gap", "double", "spike", "sent out", "zero"} <= set(items)
    assert not items["gap"].flags() & Qt.ItemFlag.ItemIsUserCheckable, "a gap has nothing to leave out"
    measured.issues.scrollToItem(items["spike"])
    box = measured.issues.visualItemRect(items["spike"])
    at = QPoint(box.left() + 12, box.center().y())
    qtbot.mouseClick(measured.issues.viewport(), Qt.MouseButton.LeftButton, pos=at)
    assert items["spike"].checkState() == Qt.CheckState.Checked
    assert "10.38 kW" in measured.result.text() and "1 readings left out" in measured.result.text()
    measured.use_button.click()
    assert desk.store.job.measured.peak == 10.38 and desk.store.job.measured.excluded == 1
    method = desk.store.plan.load.methods["measured"]
    assert (
        not method.open
        and "energy was sent out" in method.why
        and "334 of 365 days; missing: 1 December to 31 December" in method.why
    )
    desk.store.undo_stack.undo()
    assert desk.store.job.measured.source == "interval-data/clean-year.csv"


def test_another_job_brings_its_own_recording_and_column(desk, page, qtbot):
    measured, whatif = page("r"), page("w")
    whatif.go_to(Place("future:flat"))
    desk.open_path(EXAMPLES / "tansy-court.ledger.json")
    assert page("r") is measured and measured.demand is None and "No recording yet" in measured.source.text()
    assert page("w").view.current == "after" and len(whatif.view.columns) == 2


def test_the_recording_goes_along_when_the_job_is_saved_elsewhere(desk, page, qtbot, tmp_path):
    """The demo's own file from the examples' folder, then one from a third place; both open again with the job."""
    page("r")
    first = tmp_path / "first" / "job.ledger.json"
    first.parent.mkdir()
    assert desk.save_to(first) and (first.parent / "interval-data" / "clean-year.csv").is_file()
    elsewhere = tmp_path / "stick" / "recorder.txt"
    elsewhere.parent.mkdir()
    elsewhere.write_bytes((RECORDINGS / "leg-recorder-32-days.txt").read_bytes())
    measured = page("r")
    measured.open_path(elsewhere)
    settled(qtbot, measured)
    measured.use_button.click()
    assert desk.store.job.measured.source == "recorder.txt"
    assert desk.save() and (first.parent / "recorder.txt").read_bytes() == elsewhere.read_bytes()
    elsewhere.unlink()
    desk.open_path(first)
    assert page("r").source.text() == "recorder.txt, in use" and "Leg A 47.2" in measured.result.text()


def test_the_unit_is_corrected_by_the_user(desk, page, qtbot):
    measured = page("r")
    measured.open_path(RECORDINGS / "clean-year.csv")
    settled(qtbot, measured)
    measured.unit.setCurrentIndex(measured.unit.findText("kW"))
    measured.unit.activated.emit(measured.unit.currentIndex())
    settled(qtbot, measured)
    assert "Maximum demand 2.75 kW" in measured.result.text()
    assert measured.source.text().endswith("not in use yet")


def test_another_delimiter_is_tried_and_refused_where_it_gives_nothing(desk, page, qtbot, tmp_path):
    path = tmp_path / "both.csv"
    path.write_text(
        "start;kWh,x\n" + "".join(f"2025-07-{d:02d} {h:02d}:00;{d},5\n" for d in range(1, 9) for h in range(24))
    )
    measured = page("r")
    measured.open_path(path)
    settled(qtbot, measured)
    assert measured.delimiter.currentText() == "semicolon" and "Maximum demand 8.50 kW" in measured.result.text()
    measured.delimiter.setCurrentIndex(measured.delimiter.findText("bar"))
    measured.delimiter.activated.emit(measured.delimiter.currentIndex())
    assert (
        measured.fault.text().startswith("Not with this delimiter") and measured.delimiter.currentText() == "semicolon"
    )


def test_a_year_of_nothing_but_faults_is_drawn_at_once_and_corrected_while_it_is_read(desk, page, qtbot, tmp_path):
    """35,040 readings in Wh taken for kWh are all beyond the service: one line of the list, one item of the plot, and the unit
    is put right while the reading goes on."""
    path = tmp_path / "watt-hours.csv"
    start = datetime(2025, 1, 1)
    rows = (f"{start + timedelta(minutes=15 * n):%Y-%m-%d %H:%M},{500 + n % 700}" for n in range(35_040))
    path.write_text("start,usage kWh\n" + "\n".join(rows) + "\n")
    measured = page("r")
    measured.open_path(path)
    settled(qtbot, measured)
    lines = [measured.issues.item(n).text() for n in range(measured.issues.count())]
    assert lines[0].startswith("spike: 35,040 of them") and len(lines) < 10
    assert len(measured.plot.getPlotItem().items) < 12
    measured.issues.item(0).setCheckState(Qt.CheckState.Checked)
    assert "Nothing is left of the recording" in measured.fault.text()
    for unit in ("kW", "Wh"):  # the first is still being read when the second is chosen
        measured.unit.setCurrentIndex(measured.unit.findText(unit))
        measured.unit.activated.emit(measured.unit.currentIndex())
    settled(qtbot, measured)
    assert "Maximum demand 4.80 kW" in measured.result.text()


def test_thirty_days_ask_what_only_people_know(desk, page, qtbot, keys):
    measured = page("r")
    measured.open_path(RECORDINGS / "leg-recorder-32-days.txt")
    settled(qtbot, measured)
    assert "Leg A 47.2, leg B 41.4 A" in measured.result.text()
    measured.use_button.click()
    assert "lived in during the recording: not confirmed yet" in desk.store.plan.load.methods["measured"].why
    for name in ("occupied", "seasonal"):
        measured.said[0].fields[f"measured:{name}"].click()
    assert "peak shaving: not confirmed yet" in desk.store.plan.load.methods["measured"].why
    renewable = measured.said[0].fields["measured:renewable"]
    renewable.setFocus()
    keys(desk, "down", "down")
    assert desk.store.plan.load.methods["measured"].open
    factor = measured.said[1].fields["measured:power_factor"]
    factor.setFocus()
    factor.selectAll()
    keys(desk, "7", "enter")
    assert "between 0.5 and 1" in factor.fault.text()


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("<!DOCTYPE x [<!ENTITY a 'b'>]><x>&a;</x>", "declares entities"),
        ("a,b\n1,2\n", "no column of dates"),
        ("", "is empty"),
    ],
)
def test_a_file_of_another_kind_is_refused_beside_the_plot(desk, page, qtbot, tmp_path, text, sentence):
    measured = page("r")
    path = tmp_path / "file.txt"
    path.write_text(text)
    before = desk.store.job
    measured.open_path(path)
    settled(qtbot, measured)
    assert sentence in measured.fault.text() and measured.fault.isVisible() and desk.store.job is before


def test_a_long_reading_is_canceled(desk, page, qtbot, tmp_path):
    path = tmp_path / "long.csv"
    path.write_text("start,kWh\n" + "2025-07-01 00:00,1\n" * 2_500_000)
    measured = page("r")
    measured.open_path(path)
    qtbot.waitUntil(lambda: measured.progress.isVisible() and measured.progress.bar.value() > 0, timeout=10_000)
    measured.progress.stop.click()
    settled(qtbot, measured)
    assert measured.fault.text() == "Canceled; nothing was changed."


# --- the day ----------------------------------------------------------------------------------------------------------
def test_the_day_shows_handles_against_what_flows(desk, page, qtbot, monkeypatch):
    monkeypatch.setattr("robust_ledger.desk.stages.load.day.RUNS", 6)
    day = page("d")
    assert day.words.text().startswith("Breaker handles add up to 680 A. On this day at most")
    assert [day.house.itemText(n) for n in range(3)] == ["today", "after this job", "with vehicle charger"]
    first = day.words.text()
    day.day.setCurrentIndex(day.day.findText("the hottest"))
    day.day.activated.emit(day.day.currentIndex())
    assert day.words.text() != first and cells(day.table)[0][0]
    day.table.setFocus()
    qtbot.keyClick(day.table, Qt.Key.Key_Down)
    assert day.plot.circuit is not None, "the chosen circuit's own curve is filled in"
    day.study_button.click()
    settled(qtbot, day)
    report = day.report.text()
    assert "6 years." in report and "never trips" in report and "A clamp at 3 pm" in report and "1.15 ×" in report
    day.seed.setValue(2)
    settled(qtbot, day)
    assert "never trips" not in day.report.text(), "another year has not been studied yet"


def test_a_study_is_canceled(desk, page, qtbot):
    day = page("d")
    day.study_button.click()
    qtbot.waitUntil(lambda: day.progress.bar.value() > 0, timeout=20_000)
    day.progress.stop.click()
    settled(qtbot, day)
    assert day.words.text() == "Canceled; nothing was changed." and day.study is None


def test_an_empty_job_says_what_to_do_on_every_page(window, keys, qtbot):
    keys(window, "alt+3")
    load = window.stage()
    for name in ("tape", "methods", "whatif", "measured", "day", "local"):
        load.show_page(name)
        qtbot.wait(20)
    assert "needs a floor area" in load.page("day").words.text()
    assert load.page("methods").words.text().startswith("Not known: floor area")
    assert "No recording yet" in load.page("measured").source.text()


# --- local rules ------------------------------------------------------------------------------------------------------
def test_a_local_rule_is_typed_marked_and_taken_out(desk, page, keys):
    local = page("l")
    while local.table.current_key() != "optional_rest":
        keys(desk, "down")
    keys(desk, "enter", "50%", "enter")
    local.form.fields["section"].setFocus()
    keys(desk, "City 12-3", "enter")
    assert {row[0]: row[3:] for row in cells(local.table)}["Optional: share of the rest"] == ("50%", "City 12-3")
    assert shown(desk, "Load") == "156 A"  # 10,000 + 50% of 32,292 + 11,400 = 37,546 VA
    desk.store.choose_entry("load.optional.amperes")
    assert "A local amendment had a part in this." in margin_text(desk)
    value = local.form.fields["value"]
    for typed, sentence in (("many", "is not a figure"), ("900%", "not between 0 and 3")):
        value.setFocus()
        value.selectAll()
        keys(desk, typed, "enter")
        assert sentence in value.fault.text()
        keys(desk, "esc")
    local.table.setFocus()
    keys(desk, "del")
    assert not desk.store.job.local_rules and shown(desk, "Load") == "143 A"


def test_every_page_fits_and_names_its_controls(desk, page, keys):
    for letter in "otmwrdl":
        made = page(letter)
        assert (desk.width(), desk.height()) == (1280, 800)
        width = desk.pages.parentWidget().width()
        assert desk.pages.minimumSizeHint().width() <= width, f"{desk.stage().current} is wider than the page"
        assert desk.pages.minimumSizeHint().height() <= desk.pages.parentWidget().height(), desk.stage().current
        for kind in ("QComboBox", "QLineEdit", "QListWidget", "QTableView", "QSpinBox"):
            for child in made.findChildren(getattr(QtWidgets, kind)):
                assert child.accessibleName() or child.parent().accessibleName() or not child.isVisibleTo(made), child


def test_the_plan_of_the_window_is_the_plan_of_the_job(desk, page):
    page("w")
    assert {c.key: c.amperes.value for c in desk.store.plan.what_if.columns} == {
        c.key: c.amperes.value for c in plan(desk.store.job).what_if.columns
    }


# --- the pages beside the sizes of the service ------------------------------------------------------------------------
def test_an_alternative_is_looked_at_and_taken(desk, keys, qtbot):
    keys(desk, "alt+4", "alt+t")
    service = desk.stage()
    qtbot.waitUntil(lambda: service.current == "alternatives", timeout=2000)
    table = service.page("alternatives").table
    assert (
        service.page("alternatives").words.text()
        == "For 143 A: 150 A Al is the first on which every link is large enough."
    )
    while table.current_key() != "175.cu":
        keys(desk, "down")
    assert "175 A Cu: conductors by the 83% rule" in margin_text(desk) and "raceway needed" in margin_text(desk)
    keys(desk, "enter")
    assert (shown(desk, "Main"), shown(desk, "Service")) == ("175 A", "1/0 Cu")
    size = service.page("alternatives").form.fields["existing:trade_size"]
    size.setCurrentIndex(size.findText("1 in"))
    size.activated.emit(size.currentIndex())
    assert {row[0]: row[7] for row in cells(table)}["150 A Cu"] == "raceway 1, needs 1-1/4 in"


def test_the_fault_current_answers_to_its_fields(desk, keys, qtbot):
    desk.go_to(Place("panel:aic_a"))
    service = desk.stage()
    page = service.page("fault")
    assert service.current == "fault" and page.form.fields["panel:aic_a"].hasFocus()
    keys(desk, "4000", "enter")
    assert "Available fault current 4,241 A above the panel's 4,000 A" in margin_text(desk)
    field = page.form.fields["existing:utility_fault_a"]
    for typed, sentence in (("50", "not between 100"), ("lots", "is not a number")):
        field.setFocus()
        field.selectAll()
        keys(desk, typed, "enter")
        assert sentence in field.fault.text()
        keys(desk, "esc")
    field.setFocus()
    keys(desk, "3000", "enter")
    assert page.profile.scene.spots[0].words == "utility's end 3,000 A"
    assert desk.width() == 1280 and desk.pages.minimumSizeHint().height() <= desk.pages.parentWidget().height()


def test_nothing_is_a_demand_before_its_unit_is_chosen(desk, page, qtbot, tmp_path):
    measured = page("r")
    path = tmp_path / "bare.csv"
    rows = [f"2025-07-{day:02} {hour:02}:00,{1 + hour % 5},{2 + hour % 3}" for day in range(1, 5) for hour in range(24)]
    path.write_text("when,CT1,CT2\n" + "\n".join(rows))
    measured.open_path(path)
    assert measured.unit.currentText() == "" and measured.result.text() == "" and not measured.use_button.isEnabled()
    assert "choose it" in measured.fault.text()
    assert measured.column.currentText() == "both legs", "two columns that look like legs are offered as such"
    measured.unit.setCurrentIndex(measured.unit.findText("A"))
    measured.unit.activated.emit(measured.unit.currentIndex())
    settled(qtbot, measured)
    assert "Leg A 5, leg B 4 A" in measured.result.text() and measured.use_button.isEnabled()


def test_supplemental_heat_is_interlocked_with_its_own_heat_pump(desk, page, keys):
    house = page("o")
    house.go_to(Place("load:supplemental"))
    interlock = house.form.fields["interlocked"]
    assert [interlock.itemText(n) for n in range(interlock.count())] == ["none", "with its heat pump"]
    interlock.setFocus()
    keys(desk, "down")
    load = desk.store.job.load("supplemental")
    assert load.interlocked and load.interlocks_with == ""
    house.add_button.click()
    keys(desk, "upstairs pump", "enter")
    kind = house.form.fields["kind"]
    kind.setCurrentIndex(kind.findText("heat pump"))
    kind.activated.emit(kind.currentIndex())
    house.go_to(Place("load:supplemental"))
    assert "supplemental heat: interlocked with which heat pump?" in margin_text(desk)
    interlock.setCurrentIndex(interlock.findText("with heat pump"))
    interlock.activated.emit(interlock.currentIndex())
    assert desk.store.job.load("supplemental").interlocks_with == "heat-pump"
    assert "interlocked with which" not in margin_text(desk)


def test_the_tape_says_which_practice_was_used(desk, page):
    page("o")
    desk.store.edit("scope", lambda job: replace(job, scope=answers("swap")))
    desk.store.edit("method", lambda job: with_part(job, "decisions", load_method="existing"))
    desk.stage().show_page("tape")
    assert cells(desk.stage().page().tape)[0][0].startswith("Practice: part (B): heating or cooling is added")


def test_a_future_says_how_many_units_it_adds(desk, page, keys):
    whatif = page("w")
    whatif.go_to(Place("future:flat"))
    units = whatif.form.fields["units"]
    assert units.text() == "0"
    units.setFocus()
    units.selectAll()
    keys(desk, "1", "enter")
    column = next(one for one in desk.store.plan.what_if.columns if one.key == "future.flat")
    assert not column.load.known and "220.85" in column.load.why_unknown
    units.selectAll()
    keys(desk, "del", "enter")
    assert "basement kitchen and charger: a dwelling unit of its own?" in margin_text(desk)


def test_a_welders_duty_cycle_and_a_heater_without_a_tank_are_entered(desk, keys):
    desk.show_stage("load")
    page = desk.stage().page()
    desk.go_to(Place.load("water-heater"))
    tank = page.form.fields["tankless"]
    tank.setFocus()
    keys(desk, "space")
    assert desk.store.job.load("water-heater").tankless
    duty = page.form.fields["duty_percent"]
    for typed, said in (("140", "at most 100%"), ("0", "above 0"), ("often", "not a duty cycle")):
        duty.setFocus()
        duty.selectAll()
        keys(desk, typed, "enter")
        assert said in duty.fault.text() and desk.store.job.load("water-heater").duty_percent is None
    duty.selectAll()
    keys(desk, "30%", "enter")
    assert desk.store.job.load("water-heater").duty_percent == 30
