"""The first page as the job book, the first start, profiles: a real window, a real folder of jobs."""

from __future__ import annotations

import os
import threading
from datetime import date
from typing import Any

import pytest
from builders import called_out, house
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QFileDialog

from robust_ledger.desk.kit.examples import DEMO
from robust_ledger.desk.shell.decision import Decision
from robust_ledger.desk.shell.newjob import NewJob
from robust_ledger.desk.shell.profiles import Profiles
from robust_ledger.desk.shell.window import Window
from robust_ledger.job.edits import with_part
from robust_ledger.job.files import read_job, write_job
from robust_ledger.job.job import blank_job
from robust_ledger.jobbook.home import home
from robust_ledger.jobbook.profile_store import ProfileStore
from robust_ledger.jobbook.profiles import Profile, into

VALLEY = Profile("utility", "Valley", {"utility": {"name": "Valley", "meter_low_in": 48.0}})
NEWER = Profile("utility", "Valley", {"utility": {"name": "Valley", "meter_low_in": 54.0}})


def job_of(title, circuits="1 20 12 hall", **heading):
    return with_part(called_out(house(1500), circuits), "heading", title=title, **heading)


@pytest.fixture
def folder(tmp_path):
    made = tmp_path / "jobs"
    made.mkdir()
    write_job(job_of("Alder Street", "1 20 12 Al sauna", customer="Ruiz"), made / "alder.ledger.json")
    write_job(with_part(job_of("Birch Court", customer="Ito"), "heading", stands="done"), made / "birch.ledger.json")
    (made / "bad.ledger.json").write_text("{")
    return made


@pytest.fixture
def start(window, folder, monkeypatch):
    """The first page with the folder taken by its button."""
    window.settings.put("asked_first", True)
    window.files.close_job()
    return choose(window, folder, monkeypatch)


def choose(window, folder, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(folder))
    window.start.jobs.folder.click()
    return window.start


def rows(start):
    return [row.cells for row in start.jobs.table.rows_model.rows]


def test_the_folders_jobs_are_listed_searched_as_typed_and_opened_with_enter(start, window, qtbot):
    qtbot.waitUntil(lambda: len(rows(start)) == 3 and "1 of them damaged" in start.jobs.state.text())
    assert {cells[0]: cells[3] for cells in rows(start)} == {
        "Alder Street": "planned",
        "Birch Court": "done",
        "bad": "DAMAGED",
    }
    line = start.jobs.line
    line.setFocus()
    qtbot.keyClicks(line, "sau")
    assert [cells[0] for cells in rows(start)] == ["Alder Street"] and "sauna" in rows(start)[0][6]
    qtbot.keyClicks(line, "zzz")
    assert rows(start) == [] and start.jobs.table.when_empty == "No job has all of that."
    qtbot.keyClick(line, Qt.Key.Key_Escape)
    assert len(rows(start)) == 3
    qtbot.keyClicks(line, "ruiz")
    qtbot.keyClick(line, Qt.Key.Key_Return)
    assert window.has_job and window.store.job.heading.title == "Alder Street"


def test_down_leads_into_the_list_and_a_damaged_job_says_why(start, window, qtbot, monkeypatch):
    told: list[Any] = []
    monkeypatch.setattr(window, "complain", told.append)
    qtbot.waitUntil(lambda: len(rows(start)) == 3)
    jobs = start.jobs
    qtbot.keyClicks(jobs.line, "bad")
    qtbot.keyClick(jobs.line, Qt.Key.Key_Down)
    assert jobs.words.text().startswith("bad.ledger.json is damaged at line 1")
    qtbot.keyClick(jobs.table, Qt.Key.Key_Return)
    assert not window.has_job and told[0].startswith("bad.ledger.json is damaged")


def test_how_they_stand_and_open_findings_narrow_the_list(start, qtbot):
    qtbot.waitUntil(lambda: len(rows(start)) == 3)
    start.jobs.stands.setCurrentIndex(start.jobs.stands.findData("done"))
    assert [cells[0] for cells in rows(start)] == ["Birch Court"]
    start.jobs.stands.setCurrentIndex(0)
    start.jobs.open_only.click()
    assert [cells[4] for cells in rows(start)] == ["1 FIX"]


def test_a_job_that_is_saved_is_in_the_book_and_todays_comes_first(start, window, folder, qtbot, monkeypatch):
    qtbot.waitUntil(lambda: len(rows(start)) == 3)
    start.new.click()

    class Day(date):
        @classmethod
        def today(cls):
            return cls(2030, 5, 6)

    for module in ("joblist", "book"):
        monkeypatch.setattr(f"robust_ledger.desk.shell.{module}.date", Day)
    window.store.edit(
        "title", lambda job: with_part(with_part(job, "heading", title="Today's"), "day", date="2030-05-06")
    )
    assert window.save_to(folder / "today.ledger.json")
    window.files.close_job()
    qtbot.waitUntil(lambda: len(rows(window.start)) == 4)
    assert rows(window.start)[0][0] == "Today's" and rows(window.start)[0][2] == "today"


def test_the_index_is_made_anew_at_will(start, qtbot):
    qtbot.waitUntil(lambda: len(rows(start)) == 3)
    with start.book.index.together():
        start.book.index.drop(str(start.book.folder / "alder.ledger.json"))
    start.jobs.refresh()
    assert len(rows(start)) == 2
    start.jobs.again.click()
    qtbot.waitUntil(lambda: len(rows(start)) == 3)


def test_a_folder_that_vanishes_leaves_the_book_as_it_was(start, window, folder, qtbot):
    qtbot.waitUntil(lambda: len(rows(start)) == 3)
    folder.rename(folder.with_name("away"))
    window.book.look_through()
    qtbot.waitUntil(lambda: "is not there; what the book knew of it is still shown." in start.jobs.state.text())
    assert len(rows(start)) == 3


def test_a_share_that_does_not_answer_keeps_no_window_open(start, window, qtbot, monkeypatch):
    """Its thread is left alone; the others have ended."""
    qtbot.waitUntil(lambda: len(rows(start)) == 3)
    answers, asked = threading.Event(), threading.Event()
    monkeypatch.setattr("robust_ledger.jobbook.book.job_files", lambda _folder: asked.set() or answers.wait(30) or [])
    monkeypatch.setattr("robust_ledger.desk.shell.book.PATIENCE_MS", 50)
    stuck: list = []
    monkeypatch.setattr("robust_ledger.desk.shell.book.STUCK", stuck)
    window.book.look_through()
    assert asked.wait(5)
    window.session_ends = True
    assert window.close() and len(stuck) == 1 and stuck[0].isRunning()
    answers.set()
    assert stuck[0].wait(5000)


def test_without_a_place_for_the_index_the_book_works_and_says_so(window, folder, qtbot, monkeypatch):
    window.settings.put("asked_first", True)
    (home() / "book.sqlite").mkdir(parents=True)
    window.files.close_job()
    start = choose(window, folder, monkeypatch)
    qtbot.waitUntil(lambda: len(rows(start)) == 3 and "It is made anew at each start." in start.jobs.state.text())


# --- the first start ----------------------------------------------------------------------------------------------------
def test_the_first_start_asks_three_things_that_new_jobs_have(window, qtbot):
    window.files.close_job()
    qtbot.waitUntil(lambda: window.start.first is not None and window.start.first.isVisible())
    first = window.start.first
    for field, text in (
        (first.ahj, "Marrow County"),
        (first.utility, "Valley"),
        (first.low, "4 ft"),
        (first.high, "tall"),
        (first.company, "Brae Electric"),
    ):
        qtbot.keyClicks(field, text)
    press(first, "Keep")
    assert "tall" in first.fault.text() and first.isVisible(), (
        "a height that cannot be read is told, and nothing is kept"
    )
    first.high.clear()
    qtbot.keyClicks(first.high, "72")
    press(first, "Keep")
    assert not first.isVisible()
    window.start.new.click()
    job = window.store.job
    assert (job.heading.ahj, job.utility.meter_low_in, job.utility.meter_high_in, job.heading.company) == (
        "Marrow County",
        48,
        72,
        "Brae Electric",
    )
    assert [one.kind for one in job.profiles] == ["company", "jurisdiction", "utility"]


def test_the_first_start_can_be_skipped_and_does_not_come_again(window, qtbot):
    window.files.close_job()
    qtbot.waitUntil(lambda: window.start.first is not None)
    press(window.start.first, "kip")
    window.start.new.click()
    assert window.store.job == blank_job() and not ProfileStore(home()).root.exists()
    again = Window()
    qtbot.addWidget(again, before_close_func=lambda one: setattr(one, "session_ends", True))
    again.show()
    again.show_start()
    qtbot.wait(60)
    assert again.start.first is None


def press(widget, words):
    from PyQt6.QtWidgets import QPushButton

    next(one for one in widget.findChildren(QPushButton) if words in one.text().replace("&", "")).click()


# --- profiles -----------------------------------------------------------------------------------------------------------
def test_opening_a_job_says_that_its_profile_has_moved_on_and_taking_it_over_is_one_edit(window, tmp_path, qtbot):
    path = tmp_path / "a.ledger.json"
    write_job(into(job_of("A"), VALLEY), path)
    profile_store = window.book.profile_store
    profile_store.keep(VALLEY)
    window.open_path(path)
    assert window.notice.isHidden(), "it says the same still"
    profile_store.keep(NEWER)
    window.open_path(path)
    assert 'utility profile "Valley": utility: meter low: 48 in → 54 in' in window.notice_text.text()
    assert window.store.job.utility.meter_low_in == 48, "the job keeps its own copy"
    dialog = Profiles(window, profile_store, window.store)
    qtbot.addWidget(dialog)
    assert dialog.table.rows_model.rows[0].cells == ("Utility", "Valley", "", "has moved on")
    dialog.buttons["fresh"].click()
    assert window.store.job.utility.meter_low_in == 54 and "Taken over: 1" in dialog.words.text()
    assert dialog.table.rows_model.rows[0].cells[3] == "made from it" and not dialog.buttons["fresh"].isEnabled()
    window.store.undo_stack.undo()
    assert window.store.job.utility.meter_low_in == 48


def test_a_job_can_be_left_as_it_is_and_is_not_told_again(window, qtbot):
    window.store.edit("made from it", lambda job: into(job, VALLEY))
    window.book.profile_store.keep(NEWER)
    dialog = Profiles(window, window.book.profile_store, window.store)
    qtbot.addWidget(dialog)
    dialog.buttons["leave"].click()
    assert window.store.job.utility.meter_low_in == 48 and window.book.profile_store.moved(window.store.job) == []


def test_what_a_job_has_is_kept_as_a_profile_and_new_jobs_start_from_it(window, qtbot, monkeypatch):
    window.store.edit("a utility", lambda job: with_part(job, "utility", name="Hills", meter_low_in=60.0))
    dialog = Profiles(window, window.book.profile_store, window.store)
    qtbot.addWidget(dialog)
    dialog.kind.setCurrentIndex(dialog.kind.findData("utility"))
    dialog.keep.click()
    assert dialog.words.text() == "A profile needs a name."
    dialog.name.setText("Hills")
    dialog.keep.click()
    dialog.buttons["choose"].click()
    assert dialog.table.rows_model.rows[0].cells == ("Utility", "Hills", "yes", "made from it")
    asked = []
    monkeypatch.setattr(Decision, "ask", lambda self: asked.append(self.question) or "change")
    window.store.edit("higher", lambda job: with_part(job, "utility", meter_low_in=66.0))
    dialog.keep.click()
    assert asked == ['Change the profile "Hills"? Jobs made from it keep their copy. What changes in it:']
    monkeypatch.setattr(window.files, "may_leave", lambda: True)
    window.new_job()
    assert window.store.job.utility.meter_low_in == 66
    monkeypatch.setattr(Decision, "ask", lambda self: "remove")
    dialog.buttons["remove"].click()
    assert dialog.table.rows_model.rows == [] and window.store.job.utility.meter_low_in == 66


def test_a_profile_goes_to_a_file_and_comes_back(window, tmp_path, qtbot, monkeypatch):
    window.book.profile_store.keep(VALLEY)
    dialog = Profiles(window, window.book.profile_store, None)
    qtbot.addWidget(dialog)
    file = str(tmp_path / "v.ledger-profile.json")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (file, ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (file, ""))
    dialog.buttons["give"].click()
    window.book.profile_store.remove(VALLEY)
    dialog.buttons["bring"].click()
    assert window.book.profile_store.all().profiles == (VALLEY,)
    with open(file, "w") as out:
        out.write("rubbish")
    dialog.buttons["bring"].click()
    assert dialog.words.text().startswith("v.ledger-profile.json is damaged")


def test_a_new_job_with_name_profiles_and_panels(window, qtbot, monkeypatch):
    window.book.profile_store.keep(VALLEY)
    window.settings.put("asked_first", True)
    window.files.close_job()

    def answered(self):
        qtbot.keyClicks(self.lines["title"], "Rowan Lane")
        self.kinds["utility"].setCurrentIndex(self.kinds["utility"].findData("Valley"))
        self.tree.setCurrentIndex(self.tree.findData("garage"))
        press(self, "Begin the job")
        return self.result()

    monkeypatch.setattr(NewJob, "exec", answered)
    window.start.new_with.click()
    job = window.store.job
    assert (job.heading.title, job.utility.name, [one.id for one in job.panels]) == ("Rowan Lane", "Valley", ["garage"])
    monkeypatch.setattr(NewJob, "exec", lambda self: QDialog.DialogCode.Rejected)
    window.files.new_job_with()
    assert window.store.job is job


def test_the_office_page_has_the_utilitys_papers_and_the_profiles_of_the_job(window, qtbot, keys):
    window.store.edit(
        "made from it",
        lambda job: into(into(job, VALLEY), Profile("company", "Gone", {"heading": {"company": "Brae"}})),
    )
    window.book.profile_store.keep(NEWER)
    window.show_stage("papers")
    window.stage().show_page("office")
    page = window.stage().page()
    assert [row.cells[::2] for row in page.table.rows_model.rows] == [
        ("company", "is not on this computer"),
        ("utility", "has moved on: utility: meter low: 48 in → 54 in"),
    ]
    page.form.focus_place("utility:fault_table")
    keys(window, "200 A 10k, 400 A 22k", "enter")
    page.form.focus_place("utility:order_form")
    keys(window, "Address, Cross street", "enter")
    utility = window.store.job.utility
    assert [row.fault_a for row in utility.fault_table] == [10_000, 22_000] and utility.order_form == (
        "Address",
        "Cross street",
    )


def test_the_start_is_the_demo_for_who_has_no_job_and_the_search_for_who_has(window, folder, qtbot):
    window.settings.put("asked_first", True)
    window.files.close_job()
    assert window.focusWidget() is window.start.demo
    window.book.settings.put("book", str(folder))
    window.show_start()
    qtbot.waitUntil(lambda: window.focusWidget() is window.start.jobs.line)
    assert os.path.exists(DEMO) and read_job(DEMO).profiles == ()
