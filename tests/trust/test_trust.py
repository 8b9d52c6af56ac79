"""Nothing unknown passes, nothing right is stopped: every rule fires on its facts, in each edition, and is silent one fact away."""

from __future__ import annotations

import pytest
from pairs import PAIRS, Pair, made, one_fact_away

from robust_ledger.ledger.entry import Finding
from robust_ledger.plan import plan

EACH = [
    pytest.param(pair, edition, id=f"{pair.finding}-{number}-{edition}")
    for number, pair in enumerate(PAIRS)
    for edition in pair.editions
]


def found(facts, edition: str, finding: str) -> Finding | None:
    """The finding of an id, or of those that begin with it."""
    return next(
        (one for one in plan(made(facts, edition)).findings if one.id == finding or one.id.startswith(f"{finding}:")),
        None,
    )


@pytest.mark.parametrize(("pair", "edition"), EACH)
def test_it_fires(pair: Pair, edition: str):
    one = found(pair.facts, edition, pair.finding)
    assert one is not None and str(one.severity) == pair.severity, one
    sections = " ".join(cite.section for cite in one.cites)
    assert pair.section[:3] in sections, (pair.section, sections)


@pytest.mark.parametrize(("pair", "edition"), EACH)
def test_one_fact_away_it_is_silent(pair: Pair, edition: str):
    assert found(one_fact_away(pair.facts, *pair.twin), edition, pair.finding) is None


def test_there_are_as_many_as_were_asked_for():
    assert 2 * len(EACH) >= 300
