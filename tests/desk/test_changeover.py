"""The changeover day at the desk: who works, the promise, the line of the day and its tasks."""

from __future__ import annotations

from robust_ledger.desk.kit.examples import DEMO
from robust_ledger.ledger.place import Place


def rows(table) -> list[list[str]]:
    model = table.model()
    return [[model.index(r, c).data() for c in range(model.columnCount())] for r in range(model.rowCount())]


def settled(qtbot, page, words: str) -> None:
    """Wait until the day that is worked out beside the window says so."""
    qtbot.waitUntil(lambda: words in page.words.text(), timeout=20_000)


def test_the_day_is_planned_beside_the_window_and_anew_when_the_job_changes(qtbot, window, keys):
    window.open_demo(DEMO)
    keys(window, "alt+Key_6")
    page = window.stage().page()
    settled(qtbot, page, "Dark 423 min (proven)")
    assert rows(page.table)[-1][-1].startswith("clean up, hand over")
    window.go_to(Place("day:people"))
    keys(window, "down", "enter")
    settled(qtbot, page, "Dark 353 min (proven)")
    assert {row[2] for row in rows(page.table)} == {"1", "2", "utility"}
    page.form.fields["day:promise"].setFocus()
    keys(window, "5 pm", "enter")
    settled(qtbot, page, "The promise of 5:00 pm cannot be counted on")
    assert window.store.job.day.promise == "5:00 pm"
    page.form.fields["day:promise"].clear()
    keys(window, "noon-ish", "enter")
    assert (
        "no time of day" in page.form.fields["day:promise"].fault.text() and window.store.job.day.promise == "5:00 pm"
    )
    page.table.setFocus()
    page.table.choose("day.task.torque")
    window.store.choose_entry("day.task.torque")
    assert "98 × " in window.margin.text.toPlainText() or "× 98" in window.margin.text.toPlainText()


def test_an_empty_job_has_a_day_too(qtbot, window):
    window.show_stage("changeover")
    page = window.stage().page()
    settled(qtbot, page, "Dark")
    assert all(row[0] for row in rows(page.table)) and page.line.scene.spots
