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


def test_every_entry_that_a_view_or_a_sheet_asks_for_by_name_is_there():
    """Ids written out in the desk, the papers and the command line, held against the plan of the demo."""
    made = plan(demo("marrow-lane"))
    source = Path(__file__).parents[1] / "src" / "robust_ledger"
    asked = re.compile(r'(?:entries\[|\bentry\(|choose_entry\(|panel\.entries\[)"([a-z_]+(?:\.[a-z_0-9]+)+)"')
    names = {
        name
        for path in source.rglob("*.py")
        if path.parts[-2] in ("desk", "papers", "stages", "robust_ledger") or "desk" in path.parts
        for name in asked.findall(path.read_text("utf-8"))
    }
    assert len(names) > 5
    assert not {name for name in names if made.entry(name) is None}
