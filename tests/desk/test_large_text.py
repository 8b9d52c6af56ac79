"""At 130% on 1280 × 800 everything is still there: no page scrolls sideways, nothing in the margin stays small; kind boxes search on."""

from __future__ import annotations

import pytest
from PyQt6.QtWidgets import QApplication

from robust_ledger.desk.kit.settings import Settings
from robust_ledger.desk.kit.spec import manifest
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.shell.window import Window
from robust_ledger.practice.codes import Code
from robust_ledger.practice.exercise import exercise

SHOWN = [(spec.name, page.name) for spec in manifest().values() for page in spec.pages]
SHOWN += [(spec.name, "") for spec in manifest().values() if not spec.pages]


@pytest.fixture
def large(qtbot, demo):
    Settings().put("scale", 1.3)
    made = Window()
    made.resize(1280, 800)
    qtbot.addWidget(made)
    made.show()
    made.store.open_job(demo, None)
    made.show_ledger()
    yield made
    made.store.undo_stack.clear()


def test_a_form_that_was_folded_unfolds_when_the_text_is_normal_again(large):
    large.show_stage("walkthrough")
    large.stage().show_page("grounding")
    form = large.stage().page().form
    tall = form.sizeHint().height()
    assert form.folded
    large.change_scale(0)
    assert not form.folded and form.sizeHint().height() < tall * 0.8


def test_no_text_of_the_margin_stays_small_at_130_percent(large):
    for entry_id in (
        "service.main",
        "service.emergency",
        "load.optional.total",
        "panel.splices",
        "service.conductors.al.dwelling",
    ):
        large.store.choose_entry(entry_id)
        block = large.margin.text.document().begin()
        while block.isValid():
            part = block.begin()
            while not part.atEnd():
                fragment = part.fragment()
                badge = fragment.text().strip("\xa0 ") in ("STOP", "FIX", "ASK", "NOTE")
                assert fragment.charFormat().font().pixelSize() >= LOOK.px(11 if badge else 12), fragment.text()
                part += 1
            block = block.next()


def test_a_space_typed_in_a_kind_box_searches_on(large, qtbot):
    """ "water heater" is not "wall oven": the space belongs to what is being typed, and no list opens."""
    large.show_stage("load")
    kind = large.stage().page("house").form.fields["kind"]
    words = [kind.itemText(n) for n in range(kind.count())]
    wanted = next(word for word in words if " " in word and sum(w.startswith(word.split()[0]) for w in words) >= 1)
    kind.setFocus()
    QApplication.setKeyboardInputInterval(60_000)  # how slow the machine is does not matter here
    qtbot.keyClicks(kind, wanted[: wanted.index(" ") + 2])
    QApplication.setKeyboardInputInterval(400)
    large.store.undo_stack.clear()
    assert kind.currentText() == wanted and not kind.view().isVisible()


def test_no_page_scrolls_sideways_at_130_percent(large, qtbot):
    """All in one window: changing the text size dresses every window anew, which takes its time."""
    frame = large.pages.parentWidget()
    assert LOOK.scale == 1.3 and large.width() == 1280
    for stage, page in SHOWN:
        if manifest()[stage].alone is not None:
            large.store.open_job(exercise(Code(5, 4)).start, None)
        large.show_stage(stage)
        assert large.current == stage
        if page:
            large.stage().show_page(page)
        qtbot.waitUntil(lambda: large.pages.minimumSizeHint().width() <= frame.width(), timeout=3000)
