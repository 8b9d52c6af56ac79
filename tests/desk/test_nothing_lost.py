"""Nothing lost, at the desk: what is typed is in the job, waiting work is offered, and two who write one job do not undo each other."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from builders import circuit, house
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QFileDialog, QMessageBox, QPushButton

from robust_ledger.desk.kit import words as words_box
from robust_ledger.desk.shell.decision import Decision
from robust_ledger.desk.shell.versions import Versions
from robust_ledger.desk.shell.window import Window
from robust_ledger.job.edits import add_circuit, with_part
from robust_ledger.job.files import read_job, write_job
from robust_ledger.job.job import Job
from robust_ledger.jobbook.journal import Journal
from robust_ledger.jobbook.lock import JobLock, lock_file
from robust_ledger.jobbook.unsaved import left_behind

LANE = with_part(house(1500), "heading", title="Tern Street 4")


@pytest.fixture
def path(tmp_path):
    made = tmp_path / "jobs" / "lane.ledger.json"
    made.parent.mkdir()
    write_job(LANE, made)
    return made


@pytest.fixture
def lane(window, path):
    """The window with a saved job open, on the page of its heading."""
    window.open_path(path)
    window.show_stage("papers")
    return window


class Asked:
    """Answers the questions to come, each with a button; remembers what was asked."""

    def __init__(self, *answers: str) -> None:
        self.answers = list(answers)
        self.questions: list[str] = []
        self.details: list[str] = []
        QTimer.singleShot(0, lambda: self._click())  # the lambda keeps it alive until it has asked

    def _click(self) -> None:
        dialog = QApplication.activeModalWidget()
        if isinstance(dialog, Decision):
            self.questions.append(dialog.question)
            self.details.append([dialog.details.item(n).text() for n in range(dialog.details.count())])
            dialog.buttons[self.answers.pop(0)].click()
        if self.answers:
            QTimer.singleShot(10, lambda: self._click())


def title_field(window: Window):
    field = window.stage("papers").page("sheets").heading.fields["heading:title"]
    field.setFocus()
    field.selectAll()
    return field


def die(window: Window) -> None:
    """What a killed process leaves: its journal as it is, held by nobody."""
    window.store.journal.abandon()
    window.store.hold(None)


# --- what is typed is in the job --------------------------------------------------------------------------------------
@pytest.mark.parametrize("way", ["save", "stage", "export", "close"])
def test_what_is_being_typed_goes_along(lane, keys, path, monkeypatch, way, tmp_path):
    title_field(lane)
    keys(lane, "Osprey Court 9")
    if way == "save":
        keys(lane, "ctrl+s")
        assert read_job(path).heading.title == "Osprey Court 9"
    elif way == "stage":
        lane.show_stage("load")
        assert lane.title.text() == "Osprey Court 9"
    elif way == "export":
        monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: "")
        lane.ask_export()
        assert lane.title.text() == "Osprey Court 9"
    else:
        monkeypatch.setattr(words_box, "ask", lambda *_: QMessageBox.StandardButton.Save)
        lane.files.close_job()
        assert read_job(path).heading.title == "Osprey Court 9"


def test_every_letter_is_in_the_journal_when_the_desk_is_killed(lane, keys, path):
    title_field(lane)
    keys(lane, "Osprey Co")
    die(lane)
    (one,) = left_behind(lane.store.journals).waiting
    assert one.job.heading.title == "Osprey Co" and one.path == path and read_job(path).heading.title == "Tern Street 4"


def test_escape_gives_up_what_was_typed_in_the_journal_too(lane, keys):
    title_field(lane)
    keys(lane, "Osprey", "esc")
    die(lane)
    assert left_behind(lane.store.journals).waiting == (), "the job is as its file has it: there is nothing to offer"


def test_a_call_out_line_half_typed_is_back_in_the_line(window, keys, qtbot):
    keys(window, "1 20 12 kitchen", "enter", "3 20 12 din")
    die(window)
    again = Window()
    qtbot.addWidget(again, before_close_func=lambda one: setattr(one, "session_ends", True))
    again.show_start()
    next(b for b in again.start.findChildren(QPushButton) if b.text() == "Restore").click()
    again.show_stage("pulloff")
    assert again.stage().line.text() == "3 20 12 din" and len(again.store.job.circuits) == 1
    assert 'call-out line: "3 20 12 din"' in again.notice_text.text() and again.store.unsaved


def test_half_a_line_is_not_lost_when_the_job_is_saved_and_the_desk_dies(lane, keys, path):
    lane.show_stage("pulloff")
    keys(lane, "1 20 12 kitchen", "enter", "3 20 12 din", "ctrl+s")
    assert [one.tag for one in read_job(path).circuits] == [1] and not lane.store.unsaved
    die(lane)
    (one,) = left_behind(lane.store.journals).waiting
    assert one.unread == (("call-out line", "3 20 12 din"),) and one.job == read_job(path)


def test_half_a_line_given_up_or_entered_after_the_save_leaves_nothing(lane, keys):
    lane.show_stage("pulloff")
    keys(lane, "1 20 12 kitchen", "enter", "3 20 12 din", "ctrl+s", "ing", "enter", "ctrl+s")
    die(lane)
    assert left_behind(lane.store.journals).waiting == ()


def test_what_cannot_be_read_stays_in_its_field_and_is_asked_about(lane, keys, monkeypatch):
    lane.show_stage("load")
    field = next(f for f in lane.stage().findChildren(type(title_field(lane))) if f.label == "Floor area")
    lane.show_stage("load")
    field.setFocus()
    field.selectAll()
    keys(lane, "12 acres", "enter")
    asked = []
    monkeypatch.setattr(words_box, "ask", lambda *words: asked.append(words[1]) or QMessageBox.StandardButton.Cancel)
    lane.files.close_job()
    assert "Floor area" in asked[0] and "12 acres" in asked[0] and field.text() == "12 acres" and lane.has_job
    die(lane)
    (one,) = left_behind(lane.store.journals).waiting
    assert one.unread == (("Floor area", "12 acres"),)


def test_what_cannot_be_read_is_not_put_onto_another_row(desk, keys):
    """An unread rating stays with its load: choosing another one gives it up, and says so."""
    desk.show_stage("load")
    table, form = desk.stage().page().table, desk.stage().page().form
    table.choose("range")
    plate = form.fields["nameplate"]
    plate.setFocus()
    plate.selectAll()
    keys(desk, "lots", "enter")
    assert plate.fault.isVisible() and plate.text() == "lots"
    table.setFocus()
    keys(desk, "down")
    assert not plate.fault.isVisible() and plate.text() != "lots"
    assert 'Not taken: Rating "lots".' in desk.notice_text.text() and not desk.settle_typing()


def test_text_over_a_fields_length_is_kept_and_said_at_the_field(lane, keys):
    field = title_field(lane)
    field.setText("x" * 237)
    field.setModified(True)
    keys(lane, "enter")
    assert field.text() == "x" * 237 and "more than 200 letters" in field.fault.text() and field.fault.isVisible()
    assert lane.store.job.heading.title == "Tern Street 4"


def test_a_pasted_batch_keeps_its_good_lines(window, keys):
    QApplication.clipboard().setText("1 20 12 kitchen\n3 20 12 " + "x" * 300 + "\n5 15 14 den\n")
    window.stage().tools.paste()
    assert [c.feeds for c in window.store.job.circuits] == ["kitchen", "den"]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda job: add_circuit(job, circuit(501)), "circuits: has more than 500 entries"),
        (lambda job: with_part(job, "panel", spaces=10**9), "is more than 200"),
        (lambda job: with_part(job, "dwelling", area=1e300), "no house has a number so large"),
    ],
)
def test_what_could_not_be_opened_again_is_refused_at_once(lane, change, words):
    from msgspec.structs import replace

    full = replace(LANE, circuits=tuple(circuit(n) for n in range(1, 501)))
    lane.store.open_job(full, None)
    assert not lane.store.edit("too much", change)
    assert words in lane.notice_text.text() and lane.store.job == full


# --- waiting work -----------------------------------------------------------------------------------------------------
def leave(window_or_home: Path, path: Path | None, job: Job) -> Journal:
    """Unsaved work of a run that was killed."""
    made = Journal(window_or_home)
    made.about(path, path.parent if path else None)
    made.edited("change title", job)
    made.abandon()
    return made


NEW = with_part(LANE, "heading", title="Osprey Court 9")


@pytest.mark.parametrize(
    ("answer", "title", "waits"),
    [("restore", "Osprey Court 9", 0), ("file", "Tern Street 4", 1), ("discard", "Tern Street 4", 0)],
)
def test_waiting_work_is_offered_when_its_job_is_opened(window, path, answer, title, waits):
    leave(window.store.journals, path, NEW)
    asked = Asked(answer)
    window.open_path(path)
    assert "newer than the file" in asked.questions[0]
    assert asked.details[0] == ["heading: title: Tern Street 4 → Osprey Court 9"]
    assert window.store.job.heading.title == title and window.store.unsaved == (answer == "restore")
    assert len(left_behind(window.store.journals).waiting) == waits and read_job(path) == LANE


def test_older_work_is_called_older_and_the_file_is_the_first_answer(window, path):
    leave(window.store.journals, path, NEW)
    os.utime(path, (4_000_000_000,) * 2)
    asked = Asked("cancel")
    window.open_path(path)
    assert "OLDER than the file" in asked.questions[0] and not window.store.path
    assert len(left_behind(window.store.journals).waiting) == 1


def test_work_that_is_in_its_file_already_is_put_away_without_a_word(window, path):
    leave(window.store.journals, path, LANE)
    window.open_path(path)
    assert window.store.path == path and left_behind(window.store.journals).waiting == ()


def test_work_waits_even_if_its_file_is_damaged(window, path):
    leave(window.store.journals, path, NEW)
    path.write_text("{")
    asked = Asked("restore")
    window.open_path(path)
    assert "cannot be read" in asked.questions[0] and window.store.job.heading.title == "Osprey Court 9"


def test_nothing_is_put_away_before_the_new_copy_is_safe(window, path, monkeypatch):
    leave(window.store.journals, path, NEW)
    monkeypatch.setattr(
        "robust_ledger.jobbook.journal.os.write",
        lambda *_: (_ for _ in ()).throw(OSError(28, "No space left on device")),
    )
    Asked("restore")
    window.open_path(path)
    assert window.store.job == NEW and "no space left" in window.notice_text.text()
    monkeypatch.undo()
    assert len(left_behind(window.store.journals).waiting) == 1


def test_photos_of_a_job_never_saved_come_back(window, tmp_path, qtbot):
    picture = tmp_path / "camera.png"
    picture.write_bytes(b"picture" * 500)
    name = window.store.attach(picture)
    window.store.edit("attach a photo", lambda job: with_part(job, "old_panel", photos=(name,)))
    picture.unlink()
    die(window)
    again = Window()
    qtbot.addWidget(again, before_close_func=lambda one: setattr(one, "session_ends", True))
    again.files.recover(left_behind(again.store.journals).waiting[0])
    assert again.store.beside.find(name) is not None
    assert again.save_to(tmp_path / "saved.ledger.json") and (tmp_path / name).stat().st_size == 3500


def test_discarding_on_the_first_page_is_asked_about(window):
    leave(window.store.journals, None, NEW)
    window.show_start()
    Asked("keep")
    next(b for b in window.start.findChildren(QPushButton) if b.text() == "Discard").click()
    assert len(left_behind(window.store.journals).waiting) == 1
    Asked("discard")
    window.files.discard(left_behind(window.store.journals).waiting[0])
    assert left_behind(window.store.journals).waiting == ()


# --- two who write one job --------------------------------------------------------------------------------------------
@pytest.mark.parametrize("answer", ["read", "over", "cancel"])
def test_a_job_open_elsewhere_is_read_or_taken_over(window, path, answer):
    other = JobLock(path)
    other.take()
    asked = Asked(answer)
    window.open_path(path)
    assert other.me.words in asked.questions[0]
    assert (window.store.path == path) == (answer != "cancel")
    if answer == "read":
        assert not window.store.edit("x", lambda job: with_part(job, "heading", title="x"))
        assert "Read only" in window.notice_text.text() and "READ ONLY" in window.state.text()
        assert not window.save() and read_job(path) == LANE
    if answer == "over":
        assert window.store.edit("x", lambda job: with_part(job, "heading", title="x")) and window.save()
        assert not other.is_ours
    other.release()


def test_a_job_taken_over_meanwhile_is_read_only_from_then_on(lane, path):
    other = JobLock(path)
    other.take(over=other.holder())
    lane.store._look_at_disk()
    assert "taken over" in lane.notice_text.text() and "READ ONLY" in lane.state.text()
    assert not lane.save()
    other.release()


@pytest.mark.parametrize("answer", ["mine", "theirs", "both", "cancel"])
def test_a_file_changed_meanwhile_is_never_overwritten_unasked(lane, path, answer):
    lane.store.edit("x", lambda job: with_part(job, "heading", title="mine"))
    write_job(with_part(LANE, "heading", title="theirs"), path)
    lane.store._look_at_disk()
    assert "changed by another" in lane.notice_text.text()
    asked = Asked(answer)
    saved = lane.save()
    assert asked.details[0] == ["heading: title: theirs → mine"]
    both = path.with_name("lane (mine).ledger.json")
    versions = [lane.store.history.job(one).heading.title for one in lane.store.history.versions(path)]
    assert read_job(path).heading.title == ("mine" if answer == "mine" else "theirs")
    assert saved == (answer != "cancel") and both.exists() == (answer == "both")
    if answer in ("mine", "theirs"):
        assert ("theirs" if answer == "mine" else "mine") in versions
    if answer == "both":
        assert read_job(both).heading.title == "mine" and lane.store.path == both


def test_the_lock_goes_when_the_job_is_closed(lane, path):
    assert lock_file(path).exists()
    lane.files.close_job()
    assert not lock_file(path).exists()


# --- saving as --------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize(("answer", "title"), [("keep", "Tern Street 4"), ("replace", "New job")])
def test_save_as_asks_about_the_name_with_its_suffix(window, path, monkeypatch, answer, title):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(path).removesuffix(".ledger.json"), ""))
    asked = Asked(answer)
    window.files.save_as()
    assert "lane.ledger.json is there already" in asked.questions[0] and read_job(path).heading.title == title


@pytest.mark.parametrize(("answer", "title"), [("no", "Tern Street 4"), ("write", "x")])
def test_a_read_only_job_asks(lane, path, monkeypatch, answer, title):
    monkeypatch.setattr("robust_ledger.desk.shell.files.os.access", lambda *_: False)  # to root nothing is read only
    lane.store.edit("x", lambda job: with_part(job, "heading", title="x"))
    asked = Asked(answer)
    assert lane.save() == (answer == "write") and "marked read only" in asked.questions[0]
    assert read_job(path).heading.title == title


# --- versions ---------------------------------------------------------------------------------------------------------
def test_versions_are_looked_through_and_taken_back(lane, qtbot):
    for title in ("first", "second"):
        lane.store.edit("x", lambda job, title=title: with_part(job, "heading", title=title))
        lane.save()
        lane.store.history.keep(lane.store.path, lane.store.job, title)
    seen = Versions(lane, lane.store)
    qtbot.addWidget(seen)
    row = next(n for n, one in enumerate(seen.versions) if one.why == "first")
    seen.list.setCurrentRow(row)
    assert seen.changes.item(0).text() == "heading: title: first → second"
    seen.back.click()
    assert lane.title.text() == "first"
    lane.store.undo_stack.undo()
    assert lane.title.text() == "second", "taking back is an edit like any other"


def test_mine_stays_among_the_versions_until_it_is_looked_at(lane, path, qtbot):
    """Theirs was taken; then seventeen saves and more: what I had is still there, until I look at it."""
    lane.store.edit("x", lambda job: with_part(job, "heading", title="mine"))
    write_job(with_part(LANE, "heading", title="theirs"), path)
    Asked("theirs")
    assert lane.save()
    for number in range(25):
        lane.store.edit("x", lambda job, number=number: with_part(job, "heading", title=f"later {number}"))
        assert lane.save()
    seen = Versions(lane, lane.store)
    qtbot.addWidget(seen)
    (row,) = [n for n in range(seen.list.count()) if "mine" in seen.list.item(n).text()]
    assert "still to be looked at" in seen.list.item(row).text() and lane.store.history.versions(path)[row].stays
    seen.list.setCurrentRow(row)
    assert seen.changes.item(0).text() == "heading: title: mine → later 24"
    assert not lane.store.history.versions(path)[row].stays


@pytest.mark.parametrize("way", ["taken over", "recovered"])
def test_what_the_file_had_is_kept_when_it_is_taken_over_or_unsaved_work_comes_back(window, path, way):
    other = JobLock(path)
    if way == "taken over":
        assert other.take() is None
        asked = Asked("over")
    else:
        journal = Journal(window.store.journals)
        journal.about(path, path.parent)
        journal.edited("x", with_part(LANE, "heading", title="unsaved"))
        journal.abandon()
        asked = Asked("restore")
    window.open_path(path)
    (kept,) = window.store.history.versions(path)
    assert asked.questions and kept.stays and window.store.history.job(kept) == LANE
    other.release()


def test_a_desk_whose_job_was_taken_over_a_moment_ago_does_not_save_into_it(lane, path):
    other = JobLock(path)
    assert other.take(over=other.holder()) is None
    lane.store.edit("x", lambda job: with_part(job, "heading", title="mine"))
    assert not lane.save() and "is open: " in lane.notice_text.text() and read_job(path) == LANE
    other.release()


# --- sessions and starts ----------------------------------------------------------------------------------------------
def test_the_end_of_a_session_asks_nothing_and_keeps_everything(lane, keys):
    title_field(lane)
    keys(lane, "Osprey")
    lane.end_session()
    (one,) = left_behind(lane.store.journals).waiting
    assert one.job.heading.title == "Osprey" and not lane.isVisible()


@pytest.mark.parametrize(
    "fault",
    [
        "home is a file",
        "settings damaged",
        "settings are a folder",
        "recovery is a file",
        "recovery damaged",
        "recent out of reach",
    ],
)
def test_the_desk_always_starts(qtbot, tmp_path, monkeypatch, fault):
    home = tmp_path / "state"
    monkeypatch.setenv("ROBUST_LEDGER_HOME", str(home))
    if fault == "home is a file":
        home.write_text("a file")
    else:
        home.mkdir()
    if fault == "settings damaged":
        (home / "desk.ini").write_bytes(b"[%General\nscale=@Invalid(\x00\nrecent=@Variant(\0\xff)\nwidth=wide\ntheme=7")
    if fault == "settings are a folder":
        (home / "desk.ini").mkdir()
    if fault == "recovery is a file":
        (home / "recovery").write_text("a file")
    if fault == "recovery damaged":
        (home / "recovery" / "0").mkdir(parents=True)
        (home / "recovery" / "0" / "journal").write_bytes(b"\x00" * 100)
        (home / "recovery" / "unsaved-7.json").write_text("[")
    if fault == "recent out of reach":
        (home / "desk.ini").write_text(f"[General]\nrecent={'x' * 300}, /root/../\\0/none, {tmp_path}/gone\n")
    made = Window()
    qtbot.addWidget(made, before_close_func=lambda one: setattr(one, "session_ends", True))
    made.show_start()
    made.show()
    if fault == "recovery damaged":
        assert any("2 more cannot be read" in one.text() for one in made.start.findChildren(type(made.title)))
    made.new_job()
    assert made.store.edit("x", lambda job: with_part(job, "heading", title="x")) and made.title.text() == "x"
    if fault in ("home is a file", "recovery is a file"):
        assert "cannot be kept aside" in made.notice_text.text()
    path = tmp_path / "saved.ledger.json"
    assert made.save_to(path) and read_job(path).heading.title == "x"


def test_formula_text_is_text_on_the_clipboard_of_the_schedule(desk, keys):
    desk.store.edit("x", lambda job: add_circuit(job, circuit(90, feeds="=1+1\n\tx")))
    desk.show_stage("bench")
    desk.stage().show_page("schedule")
    table = desk.stage().page().table
    table.selectAll()
    table.copy_asked.emit()
    rows = QApplication.clipboard().text().splitlines()
    assert len({row.count("\t") for row in rows}) == 1
    assert not any(cell.startswith(("=", "+", "@")) for row in rows for cell in row.split("\t"))


def test_after_a_crash_the_first_line_says_what_was_done_and_gives_a_report(window, tmp_path, monkeypatch):
    from robust_ledger.desk.shell.application import follow, say_first
    from robust_ledger.jobbook.runs import Run, ended

    run = Run(tmp_path / "runs")
    follow(window, run)
    window.store.edit("call out Mrs. Fenwick's kitchen", lambda job: with_part(job, "heading", title="Fenwick"))
    window.spine.stage_asked.emit("load")
    os.close(run._held)  # what the system does when a process dies
    window.show_start()
    say_first(window, ended(tmp_path / "runs"))
    assert "without closing, at: stage load" in window.notice_text.text() and window.notice.report.isVisible()
    assert "waits on the first page" in window.notice_text.text()
    path = tmp_path / "report.txt"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(path), ""))
    window.notice.report.click()
    text = path.read_text()
    assert "an edit" in text and "stage load" in text and "Fenwick" not in text and str(Path.home()) not in text
    assert ended(tmp_path / "runs") == [] and not window.notice.report.isVisible()
