"""Holes to the outside that a job makes: each is a task with duct seal, whatever stays at its other end."""

from __future__ import annotations

import pytest
from builders import house

from robust_ledger.job.edits import add_panel, change_panel, feed_panel, with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN, Panel
from robust_ledger.plan import plan


def on_a_pole(at: str) -> Job:
    """A meter and a disconnect that stay, and a new run from it to the main panel."""
    job = add_panel(
        house(1500, scope="swap"),
        Panel(id="pole", name="pole", kind="disconnect", fed_from="meter", breaker_a=200, there=True),
    )
    job = change_panel(job, "pole", at=at, found=True, conductors="4/0 Al")
    return with_part(feed_panel(job, MAIN, "pole"), "scope", renews=("feeder",))


@pytest.mark.parametrize(("at", "holes"), [("pole", 1), ("yard", 1), ("outdoors", 1), ("indoors", 0)])
def test_a_new_run_from_outdoors_into_the_house_is_a_hole(at, holes):
    made = plan(on_a_pole(at))
    assert not made.installation.nodes["meter"].change.made
    assert made.installation.openings == holes
