"""The call-out line on every stage, typed as a person does: F3, words, Enter."""

from __future__ import annotations

import pytest
from builders import K, house, load

from robust_ledger.desk.kit.examples import DEMO
from robust_ledger.desk.kit.spec import manifest
from robust_ledger.job.edits import remove_loads, with_part
from robust_ledger.practice.codes import Code
from robust_ledger.practice.exercise import exercise

JOB = """walkthrough|meter says 150
walkthrough|riser inch and a quarter rigid, 2 copper, drop is 150
walkthrough|three wire service, insulation 75
walkthrough|one rod eight foot, number 8
walkthrough|water pipe bonded, gas not
walkthrough|old panel 14 and a half by 26, bottom at 44
walkthrough|open splice above furnace, 20 minutes, we do
load|1480 square feet, single family
load|range 11.2 kW kitchen
load|dryer 5400 watts laundry
load|charger 48 amps later, garage
pulloff|one and three, double pole forty, number eight, range
pulloff|2 and 4 thirty amp two pole, ten three, dryer
pulloff|seven, twenty amp, twelve two, kitchen counter
pulloff|next one, twenty on twelve, kitchen island
pulloff|no, fifteen on fourteen
pulloff|tag 3 is aluminum
pulloff|18 spare
service|aluminum, 200
service|utility says 22 k
bench|pin tag 1""".splitlines()


def live(window) -> str:
    """What stands above the line in view."""
    return (window.stage().callout or window.callout).live.text()


def test_a_small_job_is_said_from_stage_to_stage_with_keys_alone(window, keys):
    stages = list(manifest())
    for row in JOB:
        stage, line = row.split("|")
        if window.current != stage:
            keys(window, f"alt+Key_{stages.index(stage) + 1}")
        keys(window, "F3", line, "enter")
        bar = window.stage().callout or window.callout
        assert bar.line.text() == "", (line, live(window))
    job = window.store.job
    assert (job.existing.meter_label_a, job.existing.trade_size, job.grounding.rods) == (150, "1-1/4", 1)
    assert [one.name for one in job.loads] == ["range", "dryer", "charger"] and job.dwelling.area == 1480
    assert [one.where for one in job.defects] == ["above furnace"]
    assert [(c.tag, c.breaker_a, c.gauge, c.metal, c.feeds) for c in job.circuits] == [
        (1, 40, "8", "cu", "range"),
        (2, 30, "10", "cu", "dryer"),
        (3, 20, "12", "al", "kitchen counter"),
        (4, 15, "14", "cu", "kitchen island"),
    ]
    assert [job.circuit(tag).load_ids for tag in (1, 2)] == [("range",), ("dryer",)], "each found its load"
    assert job.old_panel.blank_spaces == ("18",) and job.decisions.main_a == 200 and job.decisions.pins
    assert window.store.plan.service.main.amount == 200


def test_a_word_nobody_knows_is_struck_and_the_rest_is_written_down_as_likely(desk, keys):
    desk.show_stage("walkthrough")
    keys(desk, "F3", "meter says 125 frobnicated")
    assert "meter label: 125 A" in live(desk) and "f\u0336r\u0336o\u0336b" in live(desk)
    keys(desk, "enter")
    assert desk.store.job.existing.meter_label_a == 125 and desk.callout.line.text() == ""
    assert live(desk) == 'Written down, likely: meter label: 125 A; "frobnicated" not understood'


def test_a_word_of_ones_own_is_offered_after_the_fact_was_entered_by_hand_and_kept(desk, keys):
    desk.show_stage("walkthrough")
    keys(desk, "F3", "snorkel at nineteen feet", "enter")
    assert desk.store.job.overhead.weatherhead_ft == 14.5
    desk.store.edit("weatherhead", lambda job: with_part(job, "overhead", weatherhead_ft=19.0))
    assert live(desk).startswith('Is "snorkel" your word for weatherhead')
    desk.callout.line.setText("")
    keys(desk, "F3", "yes", "enter")
    assert live(desk).startswith('"snorkel" is weatherhead from now on')
    keys(desk, "snorkel at twenty one feet", "enter")
    assert desk.store.job.overhead.weatherhead_ft == 21


def test_where_it_matters_a_word_nobody_knows_is_asked_about_once_more(desk, keys):
    desk.show_stage("walkthrough")
    before = desk.store.job
    keys(desk, "F3", "ground wire is 6 copper frobnicated", "enter")
    assert desk.store.job is before and 'not understood: "frobnicated"' in live(desk)
    keys(desk, "enter")
    assert desk.store.job.grounding.gec == "6 Cu" and desk.callout.line.text() == ""
    keys(desk, "scratch that", "enter")
    assert desk.store.job == before


def test_the_word_of_a_mark_in_a_description_is_asked_about(window, keys):
    keys(window, "7 20 12 den clamp x", "enter")
    assert not window.store.job.circuits and '"clamp" is part of what it feeds' in live(window)
    keys(window, "enter")
    assert window.store.job.circuits[0].feeds == "den clamp x"


def test_two_readings_have_a_key_each(window, keys):
    line = "9 11 30 10 2 dryer"
    keys(window, line)
    assert "10 AWG Cu, 2 wires" in live(window) and "Shift+Enter = 10 AWG Cu, 2 dryer" in live(window)
    keys(window, "shift+enter")
    assert window.store.job.circuits[-1].feeds == "2 dryer" and window.store.job.circuits[-1].conductors is None
    keys(window, "ctrl+z", line, "enter")
    assert not window.store.job.circuits, "which wire it is, is asked"
    assert live(window) == "Which? Enter again: 10 AWG Cu, 2 wires, dryer. Shift+Enter: 10 AWG Cu, 2 dryer."
    keys(window, "enter")
    assert window.store.job.circuits[-1].feeds == "dryer" and window.store.job.circuits[-1].conductors == 2


def test_a_circuit_joins_its_load_and_one_key_takes_that_back(window, keys):
    window.store.edit("loads", lambda job: house(1500, load(K.WATER_HEATER, "4.5kW", "water heater")))
    keys(window, "9,11 30/2 10 WH")
    assert "joins water heater" in live(window)
    keys(window, "enter")
    assert window.store.job.circuits[0].load_ids == ("water-heater",)
    keys(window, "ctrl+z")
    (one,) = window.store.job.circuits
    assert one.load_ids == () and one.spaces == ("9", "11"), "the circuit stays"
    keys(window, "ctrl+shift+z", "F3", "scratch that", "enter")
    assert window.store.job.circuits == (), "said, both go"


def test_a_load_the_house_does_not_list_is_proposed_and_waits_for_its_nameplate(window, keys):
    keys(window, "9,11 30/2 10 dryer")
    assert "Ctrl+L = list dryer as a load" in live(window)
    keys(window, "ctrl+l", "enter")
    (one,) = window.store.job.loads
    assert one.kind == K.DRYER and one.nameplate.amount is None and window.store.job.circuits[0].load_ids == (one.id,)
    assert "nameplate" in window.notice_text.text()


def test_loads_on_no_circuit_are_on_no_leg_and_said_so(desk, keys):
    desk.show_stage("bench")
    page = desk.stage().page("drawing")
    assert page.loose.text() == "1.5 A not on any circuit", "the range hood"
    page.loose.click()
    assert "range hood" in desk.margin.text.toPlainText()
    desk.store.edit("no hood", lambda job: remove_loads(job, {"range-hood"}))
    assert not page.loose.isVisible()


@pytest.mark.parametrize(
    ("line", "stage"), [("go to load", "load"), ("go to the bench", "bench"), ("go to papers", "papers")]
)
def test_one_goes_by_saying_so(desk, keys, line, stage):
    keys(desk, "F3", line, "enter")
    assert desk.current == stage and desk.focusWidget() is (desk.stage().callout or desk.callout).line


def test_why_find_and_arrange_from_any_stage(desk, keys):
    desk.show_stage("load")
    keys(desk, "F3", "why 150", "enter")
    assert desk.margin.text.toPlainText().startswith("Main")
    keys(desk, "F3", "why the flux capacitor", "enter")
    assert 'No figure is called "the flux capacitor"' in desk.notice_text.text()
    keys(desk, "F3", "find sump", "enter")
    assert desk.find_panel.isVisible() and desk.find_panel.list.count() >= 1
    keys(desk, "esc")
    keys(desk, "F3", "arrange", "enter")
    assert desk.current == "bench" and desk.stage().current == "drawing"
    page = desk.stage().page()
    page.stop()


def test_the_line_understands_another_stage_too_and_completes_its_own_words(desk, keys):
    desk.show_stage("service")
    keys(desk, "F3", "transf", "tab")
    assert desk.callout.line.text().startswith("transformer")
    keys(desk, "esc", "range hood 190 watts", "enter")
    assert desk.store.job.load("range-hood").nameplate.amount == 190
    desk.show_help()
    shown = desk.margin.text.toPlainText()
    assert "What can be said" in shown and "transformer 10 kva" in shown and "go to load" in shown


def test_every_page_has_room_beside_the_line(qtbot, window):
    """At 1280 × 800 no page of the demo scrolls as a whole."""
    window.open_demo(DEMO)
    for name, spec in manifest().items():
        if spec.alone is not None:
            window.store.open_job(exercise(Code(5, 4)).start, None)
        window.show_stage(name)
        assert window.current == name
        for page in spec.pages:
            window.stage().show_page(page.name)
            qtbot.waitUntil(lambda: window.pages.height() <= window.pages.parentWidget().height(), timeout=2000)
