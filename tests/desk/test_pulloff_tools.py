"""The table of circuits at the desk: order, filter, one value for many, rows to and from a spreadsheet, spoken lines."""

from __future__ import annotations

import pytest
from builders import answers
from msgspec.structs import replace
from PyQt6.QtCore import QItemSelectionModel, Qt
from PyQt6.QtGui import QColor, QImage
from PyQt6.QtWidgets import QApplication

from robust_ledger.job.edits import link_load
from robust_ledger.ledger.place import Place


def cells(table) -> list[list[str]]:
    model = table.model()
    return [[model.index(r, c).data() for c in range(model.columnCount())] for r in range(model.rowCount())]


def tags(pulloff) -> list[str]:
    return [row[0] for row in cells(pulloff.table)]


def choose(field, words: str) -> None:
    field.setCurrentIndex(field.findText(words))
    field.activated.emit(field.currentIndex())


def select(table, *wanted: str) -> None:
    """Choose rows by their tags, as with Ctrl and clicks."""
    table.setFocus()
    model = table.model()
    table.clearSelection()
    flags = QItemSelectionModel.SelectionFlag.Select | QItemSelectionModel.SelectionFlag.Rows
    for row in range(model.rowCount()):
        if model.index(row, 0).data() in wanted:
            table.selectionModel().select(model.index(row, 0), flags)


@pytest.fixture
def pulloff(desk):
    return desk.stage()


def test_spoken_words_make_chips_and_what_is_missing_is_said(window, keys):
    line = window.stage()
    keys(window, "seven, twenty amp, kitchen counter")
    assert line.live.text() == "space 7 · 20 A 1-pole · gauge? · kitchen counter"
    keys(window, "enter")
    assert line.live.text() == "Missing: gauge; write ? for what is not known." and line.line.text()
    keys(window, ", twelve gauge cloth clamp 3.2 top 14in", "enter")
    (circuit,) = window.store.job.circuits
    assert (circuit.gauge, circuit.cable, circuit.clamp_a, circuit.enters, circuit.free_in) == (
        "12",
        "cloth",
        3.2,
        "top",
        14,
    )
    keys(window, "next 15 14 hall", "enter")
    assert window.store.job.circuits[1].spaces == ("1",)


def test_order_sort_and_filter(desk, pulloff, keys):
    choose(pulloff.tools.order, "by gauge")
    gauges = [row[3] for row in cells(pulloff.table)]
    assert gauges[0] == "14 Cu" and gauges[-1] == "8 Cu"
    choose(pulloff.tools.shown, "with findings")
    assert tags(pulloff) == ["10", "25", "6", "27", "2"]
    choose(pulloff.tools.shown, "unknown")
    assert tags(pulloff) == ["25"]
    choose(pulloff.tools.shown, "all circuits")
    choose(pulloff.tools.order, "by space")
    pulloff.tools.words.setFocus()
    keys(desk, "bedroom 14")
    assert tags(pulloff) == ["10", "16", "17"]
    desk.go_to(Place("circuit:1"))
    assert pulloff.table.current_key() == "1" and len(tags(pulloff)) == 28, "a filter gives way to what one goes to"


def test_one_value_for_many_and_filled_down(desk, pulloff, keys):
    assert not pulloff.tools.setting.isVisible()
    select(pulloff.table, "4", "5", "6")
    assert pulloff.tools.setting.isVisible() and pulloff.tools.button.text() == "Set for 3"
    choose(pulloff.tools.field, "gauge")
    pulloff.tools.value.setFocus()
    keys(desk, "10al", "enter")
    assert [row[3] for row in cells(pulloff.table) if row[0] in "456"] == ["10 Al"] * 3
    assert "Undo: set gauge for 3" in desk.state.text()
    pulloff.tools.value.selectAll()
    keys(desk, "13", "enter")
    assert "There is no 13 Cu conductor" in pulloff.tools.fault.text()
    keys(desk, "ctrl+z")
    select(pulloff.table, "8", "9", "11")
    choose(pulloff.tools.field, "breaker")
    pulloff.table.setFocus()
    keys(desk, "ctrl+d")
    assert [row[2] for row in cells(pulloff.table) if row[0] in ("8", "9", "11")] == ["15", "15", "15"]
    select(pulloff.table, "8", "9")
    choose(pulloff.tools.field, "marks, wiring")
    pulloff.tools.value.selectAll()
    pulloff.tools.value.setFocus()
    keys(desk, "cloth dbl", "enter")
    assert {desk.store.job.circuit(t).cable for t in (8, 9)} == {"cloth"}
    assert "branch.doubled:tag:8" in {f.id for f in desk.store.plan.findings}


def test_rows_go_to_a_spreadsheet_and_come_back(desk, pulloff, keys):
    pulloff.table.setFocus()
    keys(desk, "ctrl+c")
    text = QApplication.clipboard().text()
    assert (
        text.splitlines()[1].split("\t")[:7] == ["1", "1,3", "40", "2", "", "8", "cu"]
        and "28 rows copied" in desk.notice_text.text()
    )
    before = desk.store.job.circuits
    desk.store.undo_stack.setClean()
    desk.new_job()
    desk.show_stage("pulloff")
    desk.stage().table.setFocus()
    keys(desk, "ctrl+v")
    fresh = desk.store.job.circuits
    assert [(c.spaces, c.breaker_a, c.gauge, c.feeds) for c in fresh] == [
        (c.spaces, c.breaker_a, c.gauge, c.feeds) for c in before
    ]
    assert desk.notice_text.text() == "28 circuits written down."
    QApplication.clipboard().setText("1\t20\t12\tden\nrubbish\t9\n3\t77\t12\tx\n")
    keys(desk, "ctrl+v")
    assert len(desk.store.job.circuits) == 29
    assert desk.notice_text.text().startswith("1 circuits written down, 2 rows left: row 2: missing")
    assert "row 3: 77 A is not a standard breaker rating" in desk.notice_text.text()
    keys(desk, "ctrl+z")
    assert len(desk.store.job.circuits) == 28


def test_a_tag_is_fetched_back_by_its_number(desk, pulloff, keys):
    pulloff.line.setFocus()
    keys(desk, "tag 10", "enter")
    assert (
        pulloff.line.text() == "13 20 14 east bedroom receptacles top 21in" and "Changing tag 10" in pulloff.keys.text()
    )


def test_the_marking_order_is_signed_first_and_walked(window, keys):
    pulloff = window.stage()
    order = pulloff.passes
    assert order.buttons["dead"].text() == "▸ De-energized?" and not order.buttons["capped"].isEnabled()
    order.buttons["dead"].click()
    order.sign.click()
    assert order.tags.text() == "Missing: the first tester, the second tester, proved before, proved after, who tested."
    for place, text in (("first_tester", "meter"), ("second_tester", "lamp"), ("signed_by", "O.")):
        order.statement.fields[f"pull_off:{place}"].setFocus()
        keys(window, text, "enter")
    order.statement.fields["pull_off:proved_before"].click()
    order.statement.fields["pull_off:proved_after"].click()
    order.sign.click()
    assert (
        order.current == "capped"
        and order.buttons["dead"].text() == "✓ De-energized?"
        and "in use" in order.destroys.text()
    )
    assert window.store.job.pull_off.signed_at.startswith("20")
    pulloff.line.setFocus()
    keys(window, "- cable in the corner", "enter")
    assert window.store.job.circuits[0].marks == ("capped",), "called out in this pass"
    order.done.click()
    assert order.current == "white" and not cells(pulloff.table), "only what this pass needs"
    keys(window, "3,5 30/2 10 heater", "enter")
    assert cells(pulloff.table)[0][5] == "white-hot"
    order.later.click()
    assert "White hots: put off" in window.margin.text.toPlainText() and order.current == "dark"
    order.done.click()
    order.done.click()
    assert order.current == "" and len(cells(pulloff.table)) == 2
    assert "done before: white hots: Dark neutrals, " in window.margin.text.toPlainText()
    window.go_to(Place("pull_off:white"))
    assert order.current == "white"
    order.done.click()
    assert "put off" not in window.margin.text.toPlainText()


def test_the_clamp_reads_the_chosen_circuits(desk, pulloff, keys):
    select(pulloff.table, "3", "9")
    pulloff.tools.clamp.click()
    assert (
        "Simulated clamp meter: tag 3 leg A" in desk.notice_text.text()
        and "no maximum demand" in desk.notice_text.text()
    )
    assert [(r.tag, r.leg, r.simulated) for r in desk.store.job.readings][:2] == [(3, "A", True), (3, "B", True)]
    assert {row[0]: row[5] for row in cells(pulloff.table)}["3"].endswith("A")
    keys(desk, "ctrl+z")
    assert not desk.store.job.readings
    select(pulloff.table, "28")
    pulloff.tools.clamp.click()
    assert "capped one has no current" in desk.notice_text.text()


def test_photos_belong_to_the_panel_or_to_the_chosen_circuit(desk, pulloff, tmp_path):
    picture = QImage(40, 30, QImage.Format.Format_RGB32)
    picture.fill(QColor("#886644"))
    path = tmp_path / "panel.png"
    picture.save(str(path))
    pulloff.photos.attach(path)
    assert desk.store.job.old_panel.photos[0].startswith("photos/panel-") and pulloff.photos.list.count() == 1
    pulloff.choose_tag(10)
    assert pulloff.photos.list.count() == 0
    pulloff.photos.attach(path)
    assert desk.store.job.circuit(10).photos == desk.store.job.old_panel.photos, "one picture is one file"
    (tmp_path / "jobs").mkdir()
    assert desk.save_to(tmp_path / "jobs" / "a.ledger.json")
    assert len(list((tmp_path / "jobs" / "photos").iterdir())) == 1
    pulloff.edit_tag(10)
    pulloff.line.selectAll()
    pulloff.line.insert("13 15 14 east bedroom")
    pulloff.line.returnPressed.emit()
    assert desk.store.job.circuit(10).photos, "a line does not say anything of photos"


SESSION = """1,3 40/2 8 range
2,4 30/2 10 dryer bare-n
5,7 30/2 10 water heater white-hot
6 20 12 kitchen counter left
8 20 12 kitchen counter right
9 20 12 dining outlets
10 20 12 living room mw tag 6
11 15 14 living room lights
12 20 12 bath
13 20 14 east bedroom
14 20 12 laundry
15 15 14 hall, smoke alarms
16 20 12 refrigerator
17 20 12 dishwasher
18 20 12 disposer
19a 15 14 west bedroom
19b 15 14 west bed lights
20a 15 14 basement lights
20b 20 12 north wall
21a 15 14 bath fan
21b 20 12 garage
22a 15 14 porch lights
22b 15 14 furnace
23a 20 12 bench
23b 15 14 unknown
24a 20 12 sump
24b 20 12 outdoor dark-n
- cap old cable
- cap #12 attic
- cap #14""".splitlines()


def test_thirty_circuits_by_keyboard_alone(window, keys):
    """Five minutes are 300 s: at a practiced typist's four keys a second, 1,200 keys. The call-out needs half of them."""
    window.stage().facts.fields["old_panel:tandem_spaces"].setText("19-24")
    window.stage().facts.fields["old_panel:tandem_spaces"].editingFinished.emit()
    window.stage().start()
    for line in SESSION:
        keys(window, line, "enter")
        assert window.stage().line.text() == "", f'"{line}" was not taken: {window.stage().live.text()}'
    assert sum(len(line) + 1 for line in SESSION) < 700
    circuits = window.store.job.circuits
    assert [c.tag for c in circuits] == list(range(1, 31))
    assert [c.tag for c in circuits if c.off] == [28, 29, 30]
    assert circuits[6].shares_neutral_with == 6 and circuits[15].spaces == ("19a",)
    assert window.stage().count.text() == "30 of 30 positions called out, 30 tags"


def test_a_proposed_load_is_joined_by_one_key(desk, pulloff, keys):
    keys(desk, "tag 2", "enter")
    assert "=dryer" not in pulloff.line.text(), "its words name it already"
    keys(desk, "esc")
    desk.store.edit("unlink", lambda job: link_load(job, "dryer", None))
    pulloff.table.setFocus()
    desk.go_to(Place("circuit:2"))
    assert "Ctrl+L joins dryer" in pulloff.effect.text()
    keys(desk, "ctrl+l")
    assert (
        desk.store.job.circuit(2).load_ids == ("dryer",) and desk.store.undo_stack.undoText() == "feed dryer from tag 2"
    )
    keys(desk, "ctrl+z")
    choose(pulloff.tools.shown, "not linked")
    rows = cells(pulloff.joins)
    assert ["load, no circuit", "dryer, laundry", "tag 2, dryer"] in rows
    pulloff.joins.setFocus()
    pulloff.joins.choose(str(rows.index(["load, no circuit", "dryer, laundry", "tag 2, dryer"])))
    keys(desk, "enter")
    assert desk.store.job.circuit(2).load_ids == ("dryer",)
    assert "dryer, laundry" not in [row[1] for row in cells(pulloff.joins)]
    pulloff.line.setFocus()
    keys(desk, "- 20 12 nook =ran", "tab")
    assert pulloff.line.text().endswith("=range")


def test_clamp_readings_by_hand(desk, pulloff, keys):
    pulloff.table.setFocus()
    desk.go_to(Place("circuit:10"))
    pulloff.tools.readings.click()
    keys(desk, "lots", "enter")
    assert pulloff.readings.fault.isVisible() and "Begin with the amperes" in pulloff.readings.fault.text()
    pulloff.readings.line.clear()
    keys(desk, "4.1 A 18:20 radio and lamp", "enter")
    ((at, leg, amperes, running),) = cells(pulloff.readings.table)
    assert at.endswith("18:20") and (leg, amperes, running) == ("A", "4.1", "radio and lamp")
    assert desk.store.job.circuit(10).clamp_a == 4.1
    pulloff.readings.table.setFocus()
    pulloff.readings.table.choose("0")
    keys(desk, "enter")
    assert pulloff.readings.line.text().startswith("4.1 A ") and pulloff.readings.line.text().endswith(
        "18:20 radio and lamp"
    )
    pulloff.readings.table.setFocus()
    keys(desk, "del")
    assert cells(pulloff.readings.table) == [] and desk.store.job.circuit(10).clamp_a is None


def test_two_panels_stand_side_by_side_when_they_are_merged(desk, pulloff, keys, qtbot):
    assert not pulloff.facts.choice.isVisible()
    desk.store.edit("merge", lambda job: replace(job, scope=answers("merged")))
    assert pulloff.facts.choice.isVisible() and not pulloff.facts.less.isEnabled()
    pulloff.facts.more.click()
    assert pulloff.facts.choice.currentText().startswith("right-hand (r1")
    keys(desk, "12", "enter")
    assert desk.store.job.old_boxes[0].spaces == 12 and desk.store.job.old_panel.spaces == 24
    assert desk.minimumSizeHint().width() <= 1280
    empty = pulloff.panel.rects()["r5"]
    qtbot.mouseClick(pulloff.panel, Qt.MouseButton.LeftButton, pos=empty.center().toPoint())
    assert pulloff.line.text() == "r5 "
    keys(desk, "20 12 shed", "enter")
    assert desk.store.job.circuits[-1].spaces == ("r5",)
    qtbot.mouseClick(pulloff.panel, Qt.MouseButton.LeftButton, pos=empty.center().toPoint())
    assert pulloff.table.current_key() == "29"
    pulloff.facts.more.click()
    assert set(pulloff.panel.rects()) == {f"c{n}" for n in range(1, 13)}, "of three, the one in view"
    pulloff.facts.less.click()
    assert [box.mark for box in desk.store.job.old_boxes] == ["r"]
    pulloff.facts.look_at("r")
    pulloff.facts.less.click()
    assert desk.store.job.circuit(29).spaces == () and not desk.store.job.old_boxes, "the circuit keeps its tag"
    keys(desk, "ctrl+z")
    assert desk.store.job.circuit(29).spaces == ("r5",)
