"""Every place and every entry that the product names leads somewhere: to a page that shows it, to a working that exists."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from golden_text import DEMOS, demo, generated

from robust_ledger.desk.kit.spec import stage_of
from robust_ledger.desk.shell.places import findings_at
from robust_ledger.desk.shell.window import Window
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan, plan

MANY = (
    "torque",
    "hold",
    "volts",
    "switched",
    "circuit",
    "load",
    "branch",
    "future",
    "defect",
    "measured",
    "local_rules",
)  # kinds with a place for each of many


def named(made: Plan) -> Iterator[str]:
    """Every place a plan names: of entries and their steps, of findings, of the lines of the four calculations."""
    for entry in made.all_entries.values():
        yield entry.place
        yield from (step.place for step in entry.steps)
    yield from (finding.place for finding in made.findings)
    for calculation in made.load.calculations.values():
        for line in calculation.lines:
            yield line.place
            yield f"entry:{line.entry_id}" if line.entry_id else ""


@pytest.fixture
def window(qtbot):
    made = Window()
    qtbot.addWidget(made)
    made.show()
    yield made
    made.store.undo_stack.clear()


def test_every_place_named_anywhere_leads_to_its_page_and_every_entry_exists(window):
    seen: set[str] = set()
    dead: set[str] = set()
    for job in [*(demo(name) for name in DEMOS), *generated()]:
        window.store.open_job(job, None)
        window.show_ledger()
        for place in dict.fromkeys(named(window.store.plan)):
            kind, _, rest = place.partition(":")
            if kind == "entry":
                if window.store.plan.entry(rest) is None:
                    dead.add(place)
            elif place and (pattern := kind if kind in MANY else place) not in seen:
                seen.add(pattern)
                if not stage_of(Place(place)):
                    dead.add(place)
                    continue
                window.show_stage(stage_of(Place(place)))
                if not window.stage().go_to(Place(place)):
                    dead.add(place)
    assert not dead
    assert len(seen) > 70, "the generated jobs still reach most places"


def test_a_finding_is_found_again_at_its_own_place():
    for name in DEMOS:
        made = plan(demo(name))
        for finding in made.findings:
            assert finding in findings_at(made, finding.place)


SHOWING = ("desk", "papers", "fieldbook", "exchange", "cli", "material")


def test_what_shows_a_figure_reads_it_by_its_name_and_not_by_an_id():
    """An id that is misspelt finds nothing and says nothing; a name that is none does not pass the type check."""
    source = Path(__file__).parents[1] / "src" / "robust_ledger"
    asked = re.compile(r'(?:entries\[|entries\.get\(|\bentry\()f?"[a-z_]+\.')
    found = {
        f"{path.relative_to(source)}: {line.strip()}"
        for path in source.rglob("*.py")
        if path.relative_to(source).parts[0] in SHOWING
        for line in path.read_text("utf-8").splitlines()
        if asked.search(line) and "Place.entry(" not in line
    }
    allowed = ("service.bond.", "knockouts.")  # families with one for each place
    assert {line for line in found if not any(name in line for name in allowed)} == set()


READING = ("papers", "fieldbook", "exchange", "material", "changeover")


def test_what_stands_on_the_wall_is_asked_of_the_installation_alone():
    """No paper, list or hold reads the job's own words on equipment, service or feeders: what it shows is the installation's."""
    source = Path(__file__).parents[1] / "src" / "robust_ledger"
    of_job = r"existing|equipment|service_run|grounding|panels?|old_panel|old_boxes|panel_of\("
    asked = re.compile(
        rf"\bjob\.(?:{of_job})\b|scope\.(?:disconnect|renews|feeder)|decisions\.meter_replaced|job\.main_feed"
    )
    found = {
        f"{path.relative_to(source)}: {line.strip()}"
        for path in source.rglob("*.py")
        if path.relative_to(source).parts[0] in READING
        for line in path.read_text("utf-8").splitlines()
        if asked.search(line) and "import" not in line
    }
    assert found == set()


def test_every_entry_that_a_page_puts_in_the_margin_is_there():
    """Ids written out in the desk, held against the plan of the demo."""
    made = plan(demo("marrow-lane"))
    source = Path(__file__).parents[1] / "src" / "robust_ledger" / "desk"
    shown = re.compile(r"choose_entr(?:y|ies)\(([^)]*)\)")
    names = {
        name
        for path in source.rglob("*.py")
        for given in shown.findall(path.read_text("utf-8"))
        for name in re.findall(r'(?<!f)"([a-z_]+(?:\.[a-z_0-9]+)+)"', given)
    }
    assert len(names) > 15
    assert not {name for name in names if made.entry(name) is None}
