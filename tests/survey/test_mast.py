"""The mast that holds the drop, by the utility's own figures: each finding with a twin one fact away."""

from __future__ import annotations

import pytest
from builders import finding_ids, house

from robust_ledger.job.edits import with_part
from robust_ledger.plan import plan

MAST = {
    "existing": {"raceway": "rmc", "trade_size": "2", "drop_a": 200.0, "knockouts": "plain"},
    "overhead": {"mast": True, "mast_above_in": 26.0, "mast_coupling": False, "over": "yard", "roof": "none"},
}


def mast(**changes):
    parts = {name: {**values, **changes.pop(name, {})} for name, values in MAST.items()}
    return house(1500, scope="upgrade", **parts, **changes)


@pytest.mark.parametrize(
    ("part", "fact", "finding_id", "severity"),
    [
        ("overhead", {"mast": None}, "overhead.mast", "ASK"),
        ("existing", {"raceway": "emt"}, "overhead.mast_kind", "FIX"),
        ("existing", {"raceway": "pvc80"}, "overhead.mast_kind", "FIX"),
        ("existing", {"trade_size": "1-1/4"}, "overhead.mast_size", "FIX"),
        ("overhead", {"mast_above_in": 27.0}, "overhead.mast_guy", "ASK"),
        ("overhead", {"mast_above_in": 27.0, "mast_guyed": False}, "overhead.mast_guy", "FIX"),
        ("overhead", {"mast_coupling": True}, "overhead.mast_coupling", "FIX"),
    ],
)
def test_it_fires_and_one_fact_away_it_is_silent(part, fact, finding_id, severity):
    assert finding_id not in finding_ids(plan(mast()))
    made = plan(with_part(mast(), part, **fact))
    assert next(f for f in made.findings if f.id == finding_id).severity == severity


def test_what_is_guyed_imc_or_attached_to_the_wall_is_in_order():
    assert not {i for i in finding_ids(plan(mast(existing={"raceway": "imc"}))) if i.startswith("overhead.mast")}
    guyed = mast(overhead={"mast_above_in": 40.0, "mast_guyed": True})
    assert "overhead.mast_guy" not in finding_ids(plan(guyed))
    wall = mast(overhead={"mast": False, "mast_coupling": True}, existing={"raceway": "emt", "trade_size": "1-1/4"})
    assert not {i for i in finding_ids(plan(wall)) if i.startswith("overhead.mast")}


def test_the_utilitys_own_figures_go_before_the_usual_ones():
    strict = mast(utility={"mast_least": "2-1/2", "guy_above_in": 24.0, "free_in": 48.0}, overhead={"free_in": 40.0})
    assert {"overhead.mast_size", "overhead.mast_guy", "overhead.free"} <= finding_ids(plan(strict))
    assert "overhead.free" not in finding_ids(plan(mast(overhead={"free_in": 40.0})))


def test_an_underground_service_has_no_riser_and_no_mast():
    lateral = plan(with_part(mast(overhead={"mast": None}), "existing", underground=True))
    assert not {i for i in finding_ids(lateral) if i.startswith("overhead.")}
    assert "riser" not in [link.name for link in lateral.walk.chain] and "riser" in [
        link.name for link in plan(mast()).walk.chain
    ]
    ways = [line.text for node in lateral.one_line for line in node.feed]
    assert "utility lateral, by utility" in ways and not any("SE conductors" in words for words in ways)


@pytest.mark.parametrize(("field", "known"), [("over", "drive"), ("roof", "none")])
def test_what_the_drop_passes_is_asked_once_a_height_is_entered(field, known):
    """A yard, the lowest of the limits, is not taken unasked."""
    high = mast(overhead={field: "", "span_ft": 12.0})
    assert f"overhead.{field}" in finding_ids(plan(high))
    assert f"overhead.{field}" not in finding_ids(plan(with_part(high, "overhead", **{field: known})))
    assert f"overhead.{field}" not in finding_ids(plan(with_part(high, "overhead", span_ft=None)))
    if field == "over":
        assert "the span crosses, to be entered" in plan(high).entries["overhead.span_ft"].steps[0].label
