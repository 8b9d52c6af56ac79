"""The table of circuits at the desk: order, filter, one value for many, rows to and from a spreadsheet, spoken lines."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QItemSelectionModel
from PyQt6.QtGui import QColor, QImage
from PyQt6.QtWidgets import QApplication


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
    assert line.live.text() == "Still wanted: gauge; write ? for what is not known." and line.line.text()
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
    desk.go_to("circuit:1")
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
    assert text.splitlines()[1] == "1\t1,3\t40\t2\t8\tcu\trange\t" and "28 rows copied" in desk.notice_text.text()
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
    assert desk.notice_text.text().startswith("1 circuits written down, 2 rows left: row 2: still wanted")
    assert "row 3: 77 A is not a standard breaker rating" in desk.notice_text.text()
    keys(desk, "ctrl+z")
    assert len(desk.store.job.circuits) == 28


def test_a_tag_is_fetched_back_by_its_number(desk, pulloff, keys):
    pulloff.line.setFocus()
    keys(desk, "tag 10", "enter")
    assert pulloff.line.text() == "13 20 14 east bedroom receptacles" and "Changing tag 10" in pulloff.keys.text()


def test_the_marking_order_is_signed_first_and_walked(window, keys):
    pulloff = window.stage()
    order = pulloff.passes
    assert order.buttons["dead"].text() == "▸ Dead?" and not order.buttons["capped"].isEnabled()
    order.buttons["dead"].click()
    order.sign.click()
    assert (
        order.tags.text()
        == "Still wanted: the first tester, the second tester, proved before, proved after, who tested."
    )
    for place, text in (("first_tester", "meter"), ("second_tester", "lamp"), ("signed_by", "O.")):
        order.statement.fields[f"pull_off:{place}"].setFocus()
        keys(window, text, "enter")
    order.statement.fields["pull_off:proved_before"].click()
    order.statement.fields["pull_off:proved_after"].click()
    order.sign.click()
    assert order.current == "capped" and order.buttons["dead"].text() == "✓ Dead?" and "in use" in order.destroys.text()
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
    assert "Dark neutrals done before: white hots" in window.margin.text.toPlainText()
    window.go_to("pull_off:white")
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
    assert desk.store.job.old_panel.photos == ("photos/panel.png",) and pulloff.photos.list.count() == 1
    pulloff.choose_tag(10)
    assert pulloff.photos.list.count() == 0
    pulloff.photos.attach(path)
    assert desk.store.job.circuit(10).photos == ("photos/2-panel.png",), "a name of its own"
    (tmp_path / "jobs").mkdir()
    assert desk.save_to(tmp_path / "jobs" / "a.ledger.json")
    assert {p.name for p in (tmp_path / "jobs" / "photos").iterdir()} == {"panel.png", "2-panel.png"}
    pulloff.edit_tag(10)
    pulloff.line.selectAll()
    pulloff.line.insert("13 15 14 east bedroom")
    pulloff.line.returnPressed.emit()
    assert desk.store.job.circuit(10).photos, "a line does not say anything of photos"
