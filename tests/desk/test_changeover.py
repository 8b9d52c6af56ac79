"""The changeover day at the desk: planned, changed by hand, and a whole one played by keys and a scripted clock."""

from __future__ import annotations

from datetime import datetime, timedelta

import pytest
from builders import called_out, house
from PyQt6.QtCore import Qt

from robust_ledger.changeover import clock
from robust_ledger.changeover.recorded import is_over
from robust_ledger.desk.kit.examples import DEMO
from robust_ledger.desk.kit.spec import manifest
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.stages.changeover.glance import LARGE_PX
from robust_ledger.job.edits import with_part
from robust_ledger.job.readers.torques import read_torques
from robust_ledger.ledger.place import Place


def rows(table) -> list[list[str]]:
    model = table.model()
    return [[model.index(r, c).data() for c in range(model.columnCount())] for r in range(model.rowCount())]


def settled(qtbot, page, words: str) -> None:
    """Wait until the day that is worked out beside the window says so."""
    qtbot.waitUntil(lambda: words in page.words.text(), timeout=20_000)


def press(qtbot, button) -> None:
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)


def test_the_day_is_planned_beside_the_window_and_anew_when_the_job_changes(qtbot, window, keys):
    window.open_demo(DEMO)
    keys(window, "alt+Key_6")
    page = window.stage().page()
    assert rows(page.table), "a day is there at once"
    settled(qtbot, page, "Dark 400 min (proven)")
    assert {row[4] for row in rows(page.table)} == {"1", "2", "1+2", "utility", "inspector"}
    window.go_to(Place("day:people"))
    keys(window, "up", "enter")
    settled(qtbot, page, "The beginning at 6:30 am and the utility's window (2:00 pm to 8:00 pm) cannot both hold")
    keys(window, "down", "enter")
    settled(qtbot, page, "Dark 400 min (proven)")
    page.form.fields["day:promise"].setFocus()
    page.form.fields["day:promise"].clear()
    keys(window, "5 pm", "enter")
    settled(qtbot, page, "The promise of 5:00 pm cannot be counted on")
    assert window.store.job.day.promise == "5:00 pm"
    page.form.fields["day:promise"].clear()
    keys(window, "noon-ish", "enter")
    assert (
        "no time of day" in page.form.fields["day:promise"].fault.text() and window.store.job.day.promise == "5:00 pm"
    )
    window.store.choose_entry("day.task.cables_in")
    assert "32" in window.margin.text.toPlainText()
    window.store.choose_entry("day.dark")
    assert "no schedule has a shorter dark" in window.margin.text.toPlainText()


def test_an_empty_job_says_that_there_is_nothing_to_do(qtbot, window):
    window.show_stage("changeover")
    page = window.stage().page()
    settled(qtbot, page, "There is nothing to do on the day")
    assert not rows(page.table)
    for one in manifest()["changeover"].pages:
        window.stage().show_page(one.name)
        qtbot.wait(20)


def test_a_task_is_re_timed_moved_left_out_and_added(qtbot, window, keys):
    window.open_demo(DEMO)
    window.show_stage("changeover")
    page = window.stage().page()
    settled(qtbot, page, "Dark 400 min")
    page.go_to(Place("day:task.bond"))
    keys(window, "20 25 40", "enter")
    settled(qtbot, page, "Dark 410 min")
    page.one.fields["minutes"].setFocus()
    page.one.fields["minutes"].selectAll()
    keys(window, "2400", "enter")
    assert "40 hours are none of a day's work" in page.one.fields["minutes"].fault.text()
    keys(window, "esc")
    page.go_to(Place("day:task.prove_dead"))
    assert not page.leave.isEnabled() and not page.one.fields["phase"].isEnabled(), "a hold stays where it is"
    page.table.setFocus()
    keys(window, "del")
    assert "ends in a hold" in window.notice.text.text()
    page.go_to(Place("day:task.photographs"))
    press(qtbot, page.leave)
    assert window.store.job.day.changes["photographs"].dropped
    press(qtbot, page.add)
    page.one.fields["words"].selectAll()
    keys(window, "move the freezer", "enter")
    assert window.store.job.day.own[0].words == "move the freezer"
    qtbot.waitUntil(lambda: any("move the freezer" in row[-1] for row in rows(page.table)), timeout=20_000)
    window.stage().show_page("when")
    when = window.stage().page()
    qtbot.waitUntil(lambda: bool(rows(when.gains)), timeout=20_000)
    before = when.planned.day.dark_min
    saves = int(rows(when.gains)[0][0])
    press(qtbot, when.take)
    qtbot.waitUntil(lambda: when.planned is not None and when.planned.day.dark_min == before - saves, timeout=20_000)
    assert any("new cable" in row[-1] for row in rows(when.table)), "what is carried to the attic"
    when.form.fields["day:utility_until"].setFocus()
    when.form.fields["day:utility_until"].selectAll()
    keys(window, "1 pm", "enter")
    settled(qtbot, when, "The utility's window ends before it begins: 2:00 pm to 1:00 pm.")


# --- a whole day, by keys ---------------------------------------------------------------------------------------------
class Hands:
    """Somebody at the keyboard, with a clock that is moved by hand."""

    def __init__(self, qtbot, window, keys, monkeypatch) -> None:
        self.qtbot, self.window, self.keys = qtbot, window, keys
        self.at = datetime.fromisoformat("2026-12-08T08:00:00-07:00")
        monkeypatch.setattr(clock, "now", lambda: self.at)

    def page(self, name: str):
        self.window.stage().show_page(name)
        return self.window.stage().page()

    def passes(self, minutes: float) -> None:
        self.at += timedelta(minutes=minutes)

    def finish(self, task: str) -> None:
        """Begin a task, work as long as it usually takes, finish it: chosen in the list, by the large keys."""
        live = self.page("live")
        self.qtbot.waitUntil(
            lambda: any(r.key == f"day.task.{task}" for r in live.table.rows_model.rows), timeout=20_000
        )
        live.table.choose(f"day.task.{task}")
        press(self.qtbot, live.keys["start"])
        work = next(one for one in self.window.store.plan.changeover.tasks if one.id == task)
        self.passes(work.usual_min)
        self.qtbot.waitUntil(lambda: live.state is not None and task in live.state.going, timeout=20_000)
        live.table.choose(f"day.task.{task}")
        press(self.qtbot, live.keys["done"])
        self.qtbot.waitUntil(lambda: live.state is not None and live.state.plan.day.slot(task).done, timeout=20_000)

    def hold(self, name: str) -> None:
        """Every item by Enter, readings typed, then signed."""
        page = self.page("holds")
        page.go_to(Place(f"hold:{name}"))
        for item in page._hold().items:
            if item.auto:
                continue
            page.items.setFocus()
            page.items.choose(item.key)
            self.keys(self.window, "enter")
            if item.reading:
                self.keys(self.window, "121.5" if item.reading == "live" else "0.1", "enter")
        press(self.qtbot, page.sign)
        assert page.fault.text() == "" and self.window.store.job.record.holds[name].signed_by == "Marta"


@pytest.fixture
def hands(qtbot, window, keys, monkeypatch):
    job = called_out(house(1500), "1 20 12 hall", "2 20 12 den black on the neutral bar", "3 15 14 ?")
    job = with_part(job, "scope", service="kept", panel_place="same")
    job = with_part(job, "grounding", rods=2, rod_length_ft=8.0, rod_spacing_ft=8.0)
    job = with_part(
        job, "panel", torques=read_torques("breaker: 20; neutral bar: 20; ground bar: 20; main: 250; lug: 250")
    )
    job = with_part(
        job,
        "day",
        date="2026-12-08",
        zone="America/Denver",
        names=("Marta",),
        inspection="after",
        lunch_min=0,
        promise="4:00 pm",
    )
    window.store.open_job(job, None)
    window.show_stage("changeover")
    return Hands(qtbot, window, keys, monkeypatch)


def test_a_whole_changeover_from_the_permit_to_the_monthly_test_note(hands, qtbot, window, keys):
    live = hands.page("live")
    qtbot.waitUntil(lambda: live.state is not None, timeout=20_000)
    assert "Now: 8:00 am" in live.glance.accessibleDescription() and LOOK.px(LARGE_PX) >= 40, "to be read from six feet"
    tasks = [one.id for one in window.store.plan.changeover.tasks]
    for task in ("permit_posted", "photographs", "material", "trace_live", "wall", "enclosure_ready"):
        assert task in tasks
        hands.finish(task)
    live = hands.page("live")
    live.table.choose("day.task.line_side")
    press(qtbot, live.keys["done"])
    assert window.store.job.record.events[-1].task == "enclosure_ready", "nothing behind a hold is begun"
    press(qtbot, live.keys["off"])
    gone = hands.at
    hands.hold("dead")
    hands.finish("prove_dead")
    hands.hold("line_side")
    for task in ("line_side", "marking", "wires_off", "old_out", "enclosure_set", "bond", "cables_in"):
        if task in tasks:
            hands.finish(task)
    torque = hands.page("torque")
    torque.go_to(Place("record:torque.calibrated"))
    keys(window, "5/1/2026", "enter")
    for which in range(3):
        torque.which.setCurrentIndex(which)
        torque.which.activated.emit(which)
        torque.value.setFocus()
        for one in window.store.plan.changeover.torque:
            if which == 2 or not one.of.factory:
                if which < 2 and one.of.due_in_lb is None:  # a wire that nobody has read: by its label
                    torque.value.setFocus()
                    keys(window, "120")
                press(qtbot, torque.enter)
    assert torque.words.text().startswith(f"{len(rows(torque.table))} of {len(rows(torque.table))} done")
    hands.finish("torque")
    hands.hold("covered")
    hands.finish("covered")
    hands.hold("energize")
    hands.finish("before_energizing")
    energize = hands.page("energize")
    press(qtbot, energize.on)
    assert 'No breaker is switched on before the hold "Voltages" is passed.' in energize.fault.text()
    live = hands.page("live")
    live.minutes.setText("40")
    press(qtbot, live.keys["utility"])
    qtbot.waitUntil(lambda: "The utility is late: until" in live.words.text(), timeout=20_000)
    hands.passes(40)
    hands.finish("utility_on")
    volts = hands.page("voltages")
    for point, main, figures in (
        ("line", 0, "242 121 121 0"),
        ("load", 0, "242 121 121 0"),
        ("panel", 1, "0 0 0 0"),
        ("panel", 2, "242 120 122 0.1"),
    ):
        volts.point.setCurrentIndex(volts.point.findData(point))
        volts.main.setCurrentIndex(main)
        for name, figure in zip(volts.lines, figures.split(), strict=True):
            volts.lines[name].setFocus()
            keys(window, figure)
        assert volts.verdict.text().startswith("GOOD"), volts.verdict.text()
        press(qtbot, volts.write)
    hands.hold("voltages")
    hands.finish("voltages")
    live = hands.page("live")
    dark = (hands.at - gone).total_seconds() / 60
    assert f"Dark so far: {dark:.0f} min" in live.glance.accessibleDescription()
    energize = hands.page("energize")
    for one in list(energize.all):
        energize.go_to(Place(f"switched:{one.branch.key}"))
        if "traced" in {check.key for check in one.checks}:
            energize.feeds.setFocus()
            keys(window, "basement stairs light", "enter")
        press(qtbot, energize.on)
        assert energize.fault.text() == ""
        for check in one.checks:
            if check.key != "traced":
                energize.checks.setFocus()
                energize.checks.choose(check.key)
                keys(window, "enter")
    assert energize.words.text().startswith("3 of 3 on and checked")
    directory = {one.directory_text for one in window.store.plan.circuits.branches}
    assert "basement stairs light" in directory, "the name that was found is in the directory"
    for task in [one.id for one in window.store.plan.changeover.tasks if one.phase == "after"]:
        hands.finish(task)
    assert is_over(window.store.plan.changeover) and manifest()["changeover"].state(window.store.plan) == "settled"
    live = hands.page("live")
    qtbot.waitUntil(lambda: "nothing left" in live.glance.accessibleDescription(), timeout=20_000)
    before = live.state.plan.day
    window.store.open_job(window.store.job, None)  # as after a restart: all of it is in the job
    live = hands.page("live")
    qtbot.waitUntil(lambda: live.state is not None, timeout=20_000)
    assert live.state.plan.day == before


def test_a_hold_is_passed_with_open_items_only_with_a_reason(hands, qtbot, window, keys):
    page = hands.page("holds")
    press(qtbot, page.sign)
    assert "8 items are open, first: first tester on a live source, before" in page.fault.text()
    press(qtbot, page.over)
    assert "Say why it is passed with open items" in page.fault.text()
    page.reason.setFocus()
    keys(window, "the second tester is on its way")
    press(qtbot, page.over)
    assert window.store.job.record.holds["dead"].overridden == "the second tester is on its way"
    assert rows(page.table)[0][1] == "open items"
    window.stage().show_page("holds")
    assert any(one.id == "day.overridden:dead" for one in window.store.plan.findings)


def test_a_simulated_tester_with_a_chosen_fault_is_judged_and_told_apart(hands, qtbot, window):
    page = hands.page("voltages")
    page.faults.setCurrentIndex(page.faults.findData("open neutral"))
    page.faults.activated.emit(0)
    page.load.setCurrentIndex(2)
    press(qtbot, page.measure)
    assert "(simulated)" in rows(page.table)[0][-1] and window.store.job.record.readings[-1].simulated
    assert "The neutral is open or loose" in rows(page.table)[0][-1]
    page.lines["leg_to_leg"].setText("a lot")
    page._judge()
    assert '"a lot" is no reading in volts' in page.verdict.text()


def test_lines_of_the_phone_are_taken_from_the_clipboard(hands, qtbot, window):
    from PyQt6.QtWidgets import QApplication

    live = hands.page("live")
    press(qtbot, live.phone)
    QApplication.clipboard().setText(
        'changeover:\nat 7:50 am done "photographs"\nat 7:55 am done "cables_in"\ntorque "tag:1.hot1" 20 inch pounds\n'
    )
    press(qtbot, live.phone)
    record = window.store.job.record
    assert [one.task for one in record.events] == ["photographs"] and record.torque.rows["tag:1.hot1"].first == 20
    assert (
        "2 lines taken. Not taken: 1" in window.notice_text.text()
        and 'the hold "Proven dead" is not passed' in window.notice_text.text()
    )
    window.store.undo_stack.undo()
    assert window.store.job.record.events == (), "one step of undo"


def test_the_line_of_the_day_writes_down_what_happens(hands, qtbot, window, keys):
    hands.page("live")
    numbers = {one.id: n for n, one in enumerate(window.store.plan.changeover.tasks, 1)}
    for said in (f"start {numbers['photographs']}", f"{numbers['material']} took 25", "torque main left 250 inch pounds", "proven dead item 7",
                 "leg to leg 243, left 121, right 122, neutral to ground 0.1, line side"):  # fmt: skip
        window.say_it()
        qtbot.keyClicks(window.callout.line, said)
        qtbot.keyClick(window.callout.line, Qt.Key.Key_Return)
        hands.passes(3)
    record = window.store.job.record
    assert [(one.kind, one.task, one.minutes) for one in record.events] == [
        ("start", "photographs", None),
        ("done", "material", 25),
    ]
    assert record.torque.rows["panel.main.A"].first == 250 and record.holds["dead"].ticks == {"other_sources": "yes"}
    assert record.readings[0].leg_to_leg == 243
