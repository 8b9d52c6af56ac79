"""One way of sizing for every run: hot air, a full raceway, sun on a roof and conductors in parallel count for a feeder as for the service."""

from __future__ import annotations

import pytest
from builders import finding_ids, house, sub_panel, with_parts
from hypothesis import given, settings
from hypothesis import strategies as st

from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.codebook.conductors import ampacity_a, area_cmil
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.plan import plan

BOOK = load_codebook()
SOUND = {"rods": 2, "disconnect": True, "length_ft": 80.0, "box.spaces": 12, "box.bus_a": 600.0, "box.terminals_c": 75}


def feeder(main_a: float = 200.0, **sub) -> Job:
    job = with_part(with_part(house(1500), "decisions", main_a=main_a), "panel", terminals_c=75)
    return sub_panel(job, **{**SOUND, "breaker_a": 100.0, "load_a": 95.0, "wiring": "thwn", "raceway": "pvc40", **sub})


@pytest.mark.parametrize(
    ("lies", "hot"),
    [
        # 100 A, 95 A of load, 75 °C terminals: 1 Al carries 100.
        ({}, "1 Al"),
        ({"ambient_c": 30.0}, "1 Al"),
        # 45 °C: 0.87 of the 90 °C column: 1 Al 115 · 0.87 = 100.05, the terminals' 100 still rules; 50 °C: 0.82 · 115 = 94.3, below the load.
        ({"ambient_c": 45.0}, "1 Al"),
        ({"ambient_c": 50.0}, "1/0 Al"),  # 135 · 0.82 = 110.7
        ({"current_carrying": 6}, "1/0 Al"),  # 0.8 · 115 = 92; 0.8 · 135 = 108
        ({"current_carrying": 6, "ambient_c": 45.0}, "2/0 Al"),  # 0.87 · 0.8 = 0.696: 1/0 94.0, 2/0 150 · 0.696 = 104.4
        ({"rooftop": True}, "2/0 Al"),  # 30 + 33 = 63 °C: 0.65: 1/0 87.75, 2/0 97.5, next rating 100
        ({"rooftop": True, "wiring": "xhhw"}, "1 Al"),  # nothing is added for it
        ({"wiring": "se", "raceway": "", "insulated": False, "ambient_c": 45.0}, "1/0 Al"),  # from its 75: 0.82 · 100 = 82; 0.82 · 120 = 98.4
        ({"wiring": "nm", "raceway": "", "metal": "cu", "ambient_c": 45.0}, "2 Cu"),  # from 90: 130 · 0.87 = 113; at 60 °C 95
    ],
)  # fmt: skip
def test_a_feeder_where_it_lies_by_hand(lies, hot):
    assert str(plan(feeder(**lies)).entries["feeder.sub.conductors"].value) == hot


def test_a_large_feeder_goes_in_parallel_with_a_ground_and_a_raceway_for_each():
    """400 A, its whole load: 2 of 250 kcmil Al carry 410; the ground of 400 A is 1 Al, in each set; each set has its own raceway."""
    job = feeder(400.0, breaker_a=400.0, load_a=400.0, sets=2)
    made = plan(job).entries
    assert str(made["feeder.sub.conductors"].value) == "2 × 250 kcmil Al"
    assert str(made["feeder.sub.egc"].value) == "2 × 1 Al"
    cut = {piece.color: (piece.wire, piece.pieces) for piece in plan(job).material.cuts if piece.run == "feeder.sub"}
    assert cut["black"][1] == cut["bare or green"][1] == 2, "two of each are cut"
    one = plan(feeder(200.0, breaker_a=200.0, load_a=200.0)).entries
    assert str(one["feeder.sub.egc"].value) == "4 Al", "one set, one ground"


def test_none_in_parallel_is_smaller_than_1_0():
    made = plan(feeder(breaker_a=100.0, load_a=50.0, sets=2)).entries
    assert str(made["feeder.sub.conductors"].value) == "2 × 1/0 Al"
    assert str(made["feeder.sub.neutral"].value) == "2 × 1/0 Al"


@pytest.mark.parametrize(("sets", "asked"), [(5, True), (4, False), (0, True), (None, False)])
def test_sets_that_nobody_lays_are_told(sets, asked):
    assert ("odd.sets:sub.sets" in finding_ids(plan(feeder(sets=sets)))) is asked


@settings(max_examples=40)
@given(
    st.sampled_from((60.0, 100.0, 125.0, 200.0)),
    st.sampled_from((None, 26.0, 38.0, 45.0, 52.0)),
    st.sampled_from((2, 4, 8, 12)),
    st.sampled_from(("cu", "al")),
    st.sampled_from(("thwn", "xhhw")),
)
def test_a_worse_place_never_makes_a_feeder_smaller(rating_a, ambient_c, count, metal, wiring):
    """And what comes out carries its load there: 90 °C ampacity with the table's factors, never above the terminals'."""
    good = (
        plan(feeder(breaker_a=rating_a, load_a=rating_a, metal=metal, wiring=wiring))
        .entries["feeder.sub.conductors"]
        .value
    )
    lies = {"ambient_c": ambient_c, "current_carrying": count}
    there = (
        plan(feeder(breaker_a=rating_a, load_a=rating_a, metal=metal, wiring=wiring, **lies))
        .entries["feeder.sub.conductors"]
        .value
    )
    hotter = ambient_c is not None and ambient_c > 30
    if hotter or (count > 3 and (ambient_c is None or ambient_c >= 30)):
        assert area_cmil(BOOK, there.size) * there.sets >= area_cmil(BOOK, good.size)
    air = BOOK.table("ambient").first_covering("up_to_c", ambient_c if ambient_c is not None else 30.0)["factor_90c"]
    bundle = BOOK.table("bundling").first_covering("up_to_conductors", count)["factor"] if count != 2 else 1
    carries = ampacity_a(BOOK, there.size, there.metal, 90) * float(air) * float(bundle)
    assert min(carries, ampacity_a(BOOK, there.size, there.metal, 75)) * there.sets >= rating_a - 1e-6


def test_a_feeder_found_is_judged_where_it_lies():
    """1 Al found, 100 A: fine in 86 °F, in 131 °F it holds 0.76 · 115 A with the insulation of 90 °C; while that is not read, 0.67 · 100."""
    there = {"found": True, "conductors": "1 Al", "wires": 4, "insulation_c": 90}
    cool, hot = plan(feeder(**there)), plan(feeder(**there, ambient_c=55.0))
    assert cool.entries["feeder.sub.limit"].amount == 100
    assert hot.entries["feeder.sub.limit"].amount == 80, "0.76 · 115 = 87.4, below its load: no next size up"
    unread = plan(feeder(**there | {"insulation_c": None}, ambient_c=55.0))
    assert unread.entries["feeder.sub.limit"].amount == 60
    assert "feeder.sub.wire" in finding_ids(hot) and "feeder.sub.wire" not in finding_ids(cool)


@pytest.mark.parametrize(("roof", "told"), [(True, True), (False, False)])
def test_air_as_hot_as_the_insulation_leaves_nothing(roof, told):
    """Old conductors of 75 °C: in 45 °C air and the sun on a roof 78 °C, they carry nothing and are told; in the shade 2/0 Cu carry 150 A."""
    job = with_parts(house(1500), "existing", load_conductors="2/0 Cu", insulation_c=75)
    job = with_part(with_part(job, "scope", service="kept"), "old_panel", main_a=100.0)
    job = with_part(with_part(job, "service_run", ambient_c=45.0, rooftop=roof), "panel", terminals_c=75)
    assert ("service.link:load_conductors" in finding_ids(plan(job))) is told


def test_the_feeder_to_the_inside_panel_as_found_is_judged_by_its_terminals():
    """4 Cu to the inside panel behind a disconnect of 90 A: 85 A at 75 °C, next 90; on terminals of 60 °C 70 A."""
    job = with_part(house(1500, existing={"disconnect_a": 90.0}), "main_feed", conductors="4 Cu", insulation_c=75)
    made = (plan(with_part(job, "panel", terminals_c=c)).entries["feeder.panel.limit"].amount for c in (75, 60))
    at_75, at_60 = made
    assert (at_75, at_60) == (100, 70), "the 83% rule begins at 100 A"
