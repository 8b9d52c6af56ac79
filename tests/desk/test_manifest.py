"""The manifest: every stage, page and sheet that says it is there is built, has its help, and owns its places alone."""

from __future__ import annotations

import re
from collections import Counter
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QWidget

from robust_ledger.desk.kit.page import PagedStage
from robust_ledger.desk.kit.spec import manifest, stage_of
from robust_ledger.desk.shell.margin import HELP
from robust_ledger.desk.shell.window import Window
from robust_ledger.ledger.place import Place
from robust_ledger.papers.packet import all_sheets
from robust_ledger.plan import plan
from robust_ledger.practice.codes import Code
from robust_ledger.practice.exercise import exercise

ROOT = Path(__file__).parents[2]
PAGES = [(stage.name, page.name) for stage in manifest().values() for page in stage.pages]


@pytest.fixture
def window(qtbot, demo):
    made = Window()
    qtbot.addWidget(made)
    made.store.open_job(demo, None)
    made.show_ledger()
    yield made
    made.store.undo_stack.clear()


def shown_for(window, name):
    """The stage with a job that has it."""
    if manifest()[name].alone is not None:
        window.store.open_job(exercise(Code(4, 20)).start, None)
    window.show_stage(name)


@pytest.mark.parametrize("name", manifest())
def test_a_stage_that_says_it_is_there_is_built_with_its_help_state_and_opening(window, name):
    spec = manifest()[name]
    shown_for(window, name)
    assert window.stage().objectName() == "page" and window.spine.buttons[name].isChecked()
    text = (HELP / spec.help_file).read_text("utf-8")
    assert text.startswith("# ") and "## Cautions" in text
    made = window.store.plan
    assert spec.state(made) in ("empty", "in work", "settled")
    assert all(entry_id == "findings" or made.entry(entry_id) for entry_id in spec.opening(made))


@pytest.mark.parametrize(("stage", "page"), PAGES)
def test_a_page_that_says_it_is_there_is_built(window, stage, page):
    shown_for(window, stage)
    holder = window.stage()
    assert isinstance(holder, PagedStage)
    holder.show_page(page)
    assert holder.current == page and holder.page().isVisibleTo(holder)
    shown = [one for one in holder.page().findChildren(QWidget) if one.isVisibleTo(holder) and one.height() > 8]
    assert shown, "something stands on it"


def test_a_stage_of_some_jobs_is_on_the_spine_for_those_alone(window):
    """The twin of the above: a job that is no exercise has no Practice, and Alt+8 leads nowhere."""
    window.show_stage("practice")
    assert window.current != "practice" and not window.spine.buttons["practice"].isVisibleTo(window)
    assert not window.menus.stages["practice"].isVisible() and window.menus.stages["papers"].isVisible()
    shown_for(window, "practice")
    assert window.current == "practice" and window.spine.buttons["practice"].isVisibleTo(window)
    assert window.menus.stages["practice"].isVisible()


def test_every_module_that_looks_like_a_page_is_on_the_manifest():
    """A page forgotten in its stage's spec would be dead code that nobody sees."""
    folder = ROOT / "src" / "robust_ledger" / "desk" / "stages"
    page = re.compile(r"^class \w+Page\((?:Carrying)?Page\)", re.M)
    made = [path for path in folder.glob("*/*.py") if page.search(path.read_text("utf-8"))]
    written = {(path.parent.name, path.stem) for path in made if path.stem != "chooser"}
    assert written == set(PAGES)


def test_no_place_belongs_to_two_pages_and_stages_are_numbered_once():
    specs = manifest().values()
    every = Counter(one for spec in specs for one in (*spec.places, *(p for page in spec.pages for p in page.places)))
    assert not {place for place, count in every.items() if count > 1}
    assert [spec.order for spec in specs] == list(range(1, len(specs) + 1))
    assert stage_of(Place("nonsense")) == "" and stage_of(Place("old_panel:interior.first_row_in")) == "bench"


def test_the_stages_of_the_desk_are_those_the_plan_speaks_of(demo):
    made = plan(demo)
    own = {name for name, spec in manifest().items() if spec.filled is None}
    assert own == set(made.filled)
    assert {finding.stage for finding in made.findings} <= set(manifest())


def test_sheets_have_names_of_their_own_and_a_story(demo):
    sheets = all_sheets()
    assert len({sheet.name for sheet in sheets}) == len({sheet.order for sheet in sheets}) == len(sheets)
    made = plan(demo)
    assert all(sheet.story(made) for sheet in sheets)


def test_every_picture_asked_for_is_kept_and_linked():
    readme = (ROOT / "README.md").read_text("utf-8")
    asked = {f"{spec.name}.png" for spec in manifest().values() if spec.pictured}
    asked |= {f"{spec.name}-{page.name}.png" for spec in manifest().values() for page in spec.pages if page.pictured}
    kept = {path.name for path in (ROOT / "docs" / "screenshots").glob("*.png")}
    assert kept == asked | {"start.png"}
    assert all(f"docs/screenshots/{name}" in readme for name in kept)
