"""Practice as a learner has it: from the first page to the score, the clock, drills, what an instructor does."""

from __future__ import annotations

import csv
from datetime import datetime, timedelta

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QFileDialog, QLabel, QPushButton

from robust_ledger.desk.kit.fields import TextField
from robust_ledger.desk.shell import drill as drill_module
from robust_ledger.desk.shell.drill import DrillDialog
from robust_ledger.desk.shell.practice import PracticeDialog
from robust_ledger.job.edits import with_part
from robust_ledger.job.files import read_job, write_job
from robust_ledger.jobbook.home import home
from robust_ledger.practice import progress
from robust_ledger.practice.codes import Code, read_code
from robust_ledger.practice.drills.run import question
from robust_ledger.practice.exercise import CALLS_MIN, CLOCK_MIN, exercise
from robust_ledger.practice.faults import fault_kinds

BEGIN = datetime.fromisoformat("2026-11-28T08:00:00-05:00")


@pytest.fixture
def time(monkeypatch):
    """A clock that stands until it is put on."""
    at = [BEGIN]
    stage, shell = "robust_ledger.desk.stages.practice", "robust_ledger.desk.shell"
    for module in (f"{stage}.stage", f"{stage}.surroundings", f"{shell}.practice"):
        monkeypatch.setattr(f"{module}.now", lambda: at[0])
    return at


def answered(window, monkeypatch, text):
    """The first page's Practice with a code typed and Enter; the dialog as it was left."""
    seen = []

    def run(dialog):
        seen.append(dialog)
        dialog.show()
        dialog.code.setFocus()
        dialog.code.setText(text)
        dialog.code.returnPressed.emit()
        return dialog.result()

    monkeypatch.setattr(PracticeDialog, "exec", run)
    window.start.practice.click()
    return seen[0]


def begin(window, monkeypatch, code):
    window.settings.put("asked_first", True)
    window.files.close_job()
    return answered(window, monkeypatch, str(code))


def say(window, qtbot, text):
    window.say_it()
    line = window.callout.line
    line.setText(text)
    qtbot.keyClick(line, Qt.Key.Key_Return)


def test_from_the_first_page_to_the_score(window, qtbot, monkeypatch, time):
    """A panel of level 1: every breaker called out as it is seen, one of the faults named, handed in eleven minutes later."""
    made = exercise(Code(1, 3))
    begin(window, monkeypatch, made.code)
    stage = window.stage()
    assert window.current == "practice" and stage.heading.text() == "Practice"
    view = stage.page().view
    spaces = {spot.entry_id for spot in view.scene.spots}
    assert spaces == {f"space:{one.spaces[0]}" for one in made.truth.circuits}
    say(window, qtbot, "main 100")
    for one in made.truth.circuits:
        amps = f"{one.breaker_a:g}" + ("/2" if one.poles == 2 else "")
        say(window, qtbot, f'{one.spaces[0]} {amps} {one.gauge} "{one.feeds}"')
    assert len(window.store.job.circuits) == len(made.truth.circuits)
    assert [one.id for one in window.store.plan.findings] == ["practice.kept_back"]

    first = made.planted[0]
    window.show_stage("pulloff")
    window.stage().choose_tag(next(one.tag for one in window.store.job.circuits if one.spaces == first.spaces))
    assert "kept back until you hand in" in window.stage().effect.text()
    told = window.margin.text.toPlainText()
    assert "Findings are kept back until you hand in." in told and "No findings." not in told
    table = window.stage().table.rows_model.rows
    assert {row.cells[-1] for row in table} == {"-"} and not any(row.warn_cells for row in table), (
        "nor does the table of circuits tell"
    )
    window.show_stage("practice")
    qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.spot_of(f"space:{first.spaces[0]}").toPoint())
    assert stage.naming.space.text() == first.spaces[0] and f"space {first.spaces[0]}" in stage.page().shown.text()
    qtbot.mouseClick(stage.page().test, Qt.MouseButton.LeftButton)
    assert "Simulated tester: breaker" in stage.page().shown.text()
    stage.naming.kind.setCurrentIndex(stage.naming.kind.findText(fault_kinds()[first.kind].words))
    qtbot.keyClick(stage.naming.space, Qt.Key.Key_Return)
    assert "1 named" in stage.naming.button.text()

    stage.show_page("score")
    assert "Not handed in. 1 fault is named" in stage.page().text.toPlainText() and stage.page().named.count() == 1
    time[0] = BEGIN + timedelta(minutes=11)
    qtbot.mouseClick(stage.button, Qt.MouseButton.LeftButton)
    assert not window.store.job.practice.handed_in and "Once more to hand in." in window.notice_text.text()
    qtbot.mouseClick(stage.button, Qt.MouseButton.LeftButton)
    text = stage.page().text.toPlainText()
    half = 70 * (1 + (len(made.planted) - 1) / 2) / len(made.planted)
    assert text.startswith(f"{round(half + 30)} of 100") and "Time: 11 min" in text
    assert (
        f"1 of {len(made.planted)} named" in text and fault_kinds()["wire_on_breaker"].harm in text and "240.4" in text
    )
    assert not stage.button.isEnabled() and "practice.kept_back" not in {one.id for one in window.store.plan.findings}
    assert any(one.id == first.finding_id for one in window.store.plan.findings), "now the plan says what it finds"

    say(window, qtbot, "1 60 14 cheating")
    assert "Handed in" in " ".join(one.text() for one in (*window.callout.findChildren(QLabel), window.notice_text))
    assert window.store.job.circuit(made.truth.circuits[0].tag).breaker_a == made.truth.circuits[0].breaker_a
    window.store.undo_stack.undo()
    assert window.store.job.practice.handed_in, "a hand-in is not undone"
    (done,) = progress.kept(home()).done
    assert (done.code, done.points, done.minutes) == (str(made.code), round(half + 30), 11)


def test_a_named_fault_is_taken_back_and_what_cannot_be_named_is_said(window, qtbot, monkeypatch, time):
    begin(window, monkeypatch, Code(2, 9))
    naming = window.stage().naming
    naming.name()
    assert "Choose what is wrong first." in naming.fault.text() and naming.fault.isVisibleTo(naming)
    naming.kind.setCurrentIndex(naming.kind.findText(fault_kinds()["doubled"].words))
    naming.space.setText("")
    qtbot.keyClick(naming.space, Qt.Key.Key_Return)
    assert "At which space?" in naming.fault.text()
    naming.space.setText("5")
    qtbot.keyClick(naming.space, Qt.Key.Key_Return)
    assert len(window.store.job.practice.named) == 1 and not naming.fault.isVisibleTo(naming)
    window.stage().show_page("score")
    named = window.stage().page().named
    assert named.item(0).text() == "space 5: two wires under one screw"
    named.setCurrentRow(0)
    qtbot.keyClick(named, Qt.Key.Key_Delete)
    assert window.store.job.practice.named == () and named.count() == 0


def test_the_time_runs_out_during_an_edit_and_what_is_typed_goes_along(window, qtbot, monkeypatch, time):
    """The floor area stands in its field, not yet taken; what cannot be read stays in its field."""
    begin(window, monkeypatch, Code(5, 11))
    stage = window.stage()
    assert f"{CLOCK_MIN} min 00 s left" in stage.time.text()
    time[0] = BEGIN + timedelta(minutes=CALLS_MIN)
    stage.look()
    assert "The customer calls: a sauna heater" in window.notice_text.text()
    window.show_stage("load")
    window.stage().show_page("house")
    fields = {one.accessibleName(): one for one in window.stage().page().findChildren(TextField)}
    area = next(field for name, field in fields.items() if "area" in name.lower())
    area.setFocus()
    qtbot.waitUntil(lambda: window.focusWidget() is area)
    area.selectAll()
    qtbot.keyClicks(area, "1008")
    time[0] = BEGIN + timedelta(minutes=CLOCK_MIN, seconds=2)
    stage.look()
    job = window.store.job
    assert job.dwelling.area == 1008 and job.practice.handed_in == (BEGIN + timedelta(minutes=CLOCK_MIN)).isoformat()
    assert "The time is up: handed in as it stood." in window.notice_text.text()
    window.show_stage("practice")
    assert (
        "of 100" in window.stage().page().text.toPlainText()
        and f"Time: {CLOCK_MIN} min" in window.stage().page().text.toPlainText()
    )


def test_the_dark_hours_are_put_in_order_by_keys(window, qtbot, monkeypatch, time):
    begin(window, monkeypatch, Code(4, 20))
    stage = window.stage()
    stage.show_page("order")
    page = stage.page()
    for text in ("old panel out", "enclosure set"):
        row = next(n for n in range(page.left.count()) if page.left.item(n).text().startswith(text))
        page.left.setCurrentRow(row)
        qtbot.keyClick(page.left, Qt.Key.Key_Return)
    assert window.store.job.practice.order == ("old_out", "enclosure_set") and page.right.count() == 2
    page.right.setFocus()
    page.right.setCurrentRow(1)
    qtbot.keyClick(page.right, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
    assert window.store.job.practice.order == ("enclosure_set", "old_out")
    page.right.setCurrentRow(0)
    page.take_out()
    assert window.store.job.practice.order == ("old_out",) and page.left.count() == len(page.tasks) - 1
    window.show_stage("changeover")
    day = window.stage().page("day")
    qtbot.waitUntil(
        lambda: any("kept back until you hand in" in one.text() for one in day.findChildren(QLabel)), timeout=20_000
    )
    window.show_stage("pulloff")
    window.store.edit("call out", lambda job: replace(job, circuits=exercise(Code(4, 20)).truth.circuits))
    window.show_stage("bench")
    drawing = window.stage().page("drawing")
    drawing.start_arranging()
    qtbot.waitUntil(lambda: "kept back until you hand in" in drawing.saying.text(), timeout=20_000)
    assert drawing.choices == []


def test_a_code_that_is_none_is_said_and_the_page_stays(window, monkeypatch):
    window.settings.put("asked_first", True)
    window.files.close_job()
    dialog = answered(window, monkeypatch, "23-00000-0")
    assert (
        "was made by another version of practice (2)" in dialog.fault.text()
        and dialog.result() != QDialog.DialogCode.Accepted
    )
    assert not window.has_job


def test_a_job_whose_code_was_spoiled_says_so_and_everything_else_of_it_works(window, qtbot):
    window.store.open_job(with_part(exercise(Code(4, 2)).start, "practice", code="14-?", started="noon"), None)
    window.show_ledger()
    stage = window.stage()
    assert '"14-?" is no code of a practice panel' in stage.time.text() and not stage.button.isEnabled()
    for page in ("surroundings", "order", "score", "found"):
        stage.show_page(page)
    say(window, qtbot, "5 20 12 hall")
    assert window.store.job.circuits[0].feeds == "hall"
    window.store.edit("hand in", lambda job: with_part(job, "practice", handed_in="later"))
    stage.show_page("score")
    assert "is no code of a practice panel" in stage.page().text.toPlainText()


# --- drills -------------------------------------------------------------------------------------------------------------
def test_a_drill_counts_explains_a_wrong_answer_and_ends_with_its_time(qtbot, monkeypatch):
    dialog = DrillDialog(None, "bond", 5)
    qtbot.addWidget(dialog)
    dialog.show()
    first = question("bond", 5, 0)
    qtbot.keyClick(dialog, (Qt.Key.Key_1, Qt.Key.Key_2)[first.choices.index(first.answer)])
    assert "1 of 1 right" in dialog.time.text() and dialog.ask.text() == question("bond", 5, 1).ask
    second = question("bond", 5, 1)
    wrong = next(n for n, one in enumerate(second.choices) if one != second.answer)
    qtbot.mouseClick(dialog.choices[wrong], Qt.MouseButton.LeftButton)
    assert (
        f"No: {second.answer}." in dialog.told.text()
        and "250." in dialog.told.text()
        and not dialog.choices[0].isEnabled()
    )
    qtbot.keyClick(dialog.next, Qt.Key.Key_Return)
    assert dialog.ask.text() == question("bond", 5, 2).ask and dialog.told.text() == ""
    monkeypatch.setattr(drill_module, "DRILL_S", 0)
    qtbot.waitUntil(lambda: "Time is up: 1 of 2 right" in dialog.ask.text())
    (done,) = progress.kept(home()).done
    assert (done.exercise, done.right, done.asked) == ("Bond or not", 1, 2)
    qtbot.keyClick(dialog.next, Qt.Key.Key_Return)
    assert not dialog.isVisible()


def test_a_line_is_written_as_one_likes_and_read_by_the_call_out(qtbot):
    dialog = DrillDialog(None, "dictation", 2)
    qtbot.addWidget(dialog)
    dialog.show()
    for right in (True, False):
        asked = dialog.question
        assert asked.read in dialog.ask.text()
        dialog.line.setText(asked.answer if right else "1 20 12 something else")
        qtbot.keyClick(dialog.line, Qt.Key.Key_Return)
    assert "1 of 2 right" in dialog.time.text() and "Understood: 1 20 12 something else" in dialog.told.text()
    assert asked.answer in dialog.told.text()
    qtbot.keyClick(dialog.line, Qt.Key.Key_Return)
    assert dialog.told.text() == "" and not dialog.waits, "Enter leads on"
    dialog.reject()


# --- the instructor -----------------------------------------------------------------------------------------------------
def test_an_instructor_writes_codes_and_results_and_a_learner_their_progress(qtbot, tmp_path, monkeypatch, time):
    dialog = PracticeDialog(None)
    qtbot.addWidget(dialog)
    dialog.show()
    assert [dialog.past.item(n).text() for n in range(dialog.past.count())] == ["nothing yet"]
    button = {one.text().replace("&", ""): one for one in dialog.findChildren(QPushButton)}
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda _parent, _title, name, _kind: (str(tmp_path / name), ""))
    dialog.level.setCurrentIndex(2)
    button["20 codes for a class…"].click()
    _, *codes = csv.reader((tmp_path / "practice-level-3.csv").read_text().splitlines())
    assert len(codes) == 20 and {read_code(row[1]).level for row in codes} == {3}
    made = exercise(read_code(codes[0][1]))
    hand_ins = tmp_path / "class"
    hand_ins.mkdir()
    write_job(replace(made.truth, practice=made.start.practice), hand_ins / "anna.ledger.json")
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(hand_ins))
    button["Results of a class…"].click()
    head, row = csv.reader((tmp_path / "results.csv").read_text().splitlines())
    assert row[0] == "anna.ledger.json" and 30 < int(row[head.index("points")]) <= 100
    progress.keep(home(), progress.Done("2026-11-28T08:00:00-05:00", "panel", codes[0][1], 77, 3, 4, 12.0))
    button["Export…"].click()
    assert (
        "77" in (tmp_path / "practice.csv").read_text()
        and read_job(hand_ins / "anna.ledger.json").practice.code == codes[0][1]
    )
    (tmp_path / "results.csv").unlink()
    (tmp_path / "results.csv").mkdir()
    button["Results of a class…"].click()
    assert "results.csv could not be written" in dialog.fault.text()
