"""Grounds by rating and the utility's table of fault currents, at the edges of their rows."""

from __future__ import annotations

import pytest
from builders import house

from robust_ledger.job.conductors import Conductors
from robust_ledger.job.edits import with_part
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.working import Working
from robust_ledger.plan import plan
from robust_ledger.service.bonding import electrode_entry, ground_by_rating


@pytest.mark.parametrize(
    ("rating_a", "metal", "size", "other", "in_words"),
    [
        (100, "cu", "8", "6 Al", "in aluminum"),
        (101, "cu", "6", "4 Al", "in aluminum"),
        (200, "cu", "6", "4 Al", "in aluminum"),
        (200, "al", "4", "6 Cu", "in copper"),
        (20, "cu", "12", "10 Al", "in aluminum"),
    ],
)
def test_an_equipment_ground_by_its_row_with_the_other_metal_beside_it(
    codebook, rating_a, metal, size, other, in_words
):
    """T250.122: 12 Cu to 20 A, 8 Cu to 100 A, 6 Cu to 200 A; in aluminum 10, 6 and 4."""
    made = ground_by_rating(Working.trial(), Step("rating", rating_a, "A"), metal, codebook)
    assert made.value.size == size
    assert [(step.label, step.value) for step in made.steps if step.label.startswith("in ")] == [(in_words, other)]


TABLE = [{"up_to_a": 200.0, "fault_a": 10_000.0}, {"up_to_a": 400.0, "fault_a": 22_000.0}]


@pytest.mark.parametrize(
    ("main_a", "fault_a", "why"),
    [
        (150.0, 10_000, ""),
        (200.0, 10_000, ""),
        (225.0, 22_000, ""),
        (400.0, 22_000, ""),
        (450.0, None, "the utility's table ends at 400 A"),
    ],
)
def test_the_row_of_the_utilitys_table_takes_the_main_in(main_a, fault_a, why):
    job = with_part(house(1500, scope="upgrade", decisions={"main_a": main_a}), "utility", fault_table=TABLE)
    source = plan(job).entries["service.fault_source"]
    assert (source.value, why in source.why_unknown) == (fault_a, True)


def test_without_a_main_the_utilitys_table_says_nothing_yet():
    job = with_part(house(None, scope="upgrade"), "utility", fault_table=TABLE)
    source = plan(job).entries["service.fault_source"]
    assert (source.value, source.why_unknown) == (None, "floor area"), "the main is not known for want of it"


@pytest.mark.parametrize(
    ("sets", "size", "told"), [(1, "6 Cu, or 8 Cu in conduit", False), (2, "4 Cu", True), (3, "2 Cu", True)]
)
def test_conductors_in_parallel_are_taken_by_their_area_together(codebook, sets, size, told):
    """T250.66: 2 Cu takes 8 Cu; twice 66.36 kcmil, 133, take 4 as 2/0 does, three times, 199, take 2: 3/0, 168, does not reach."""
    made = electrode_entry(Entry("hot", "hot", Conductors("2", "cu", sets), ""), codebook)
    assert made.text() == size and any("area together" in step.label for step in made.steps) is told
