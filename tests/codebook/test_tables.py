"""The tables: spot values read twice, and physics that a wrong digit would break."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest

from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.codebook.conductors import (
    ampacity_a,
    area_cmil,
    next_rating_a,
    previous_rating_a,
    ratings_a,
    row_by_size,
    sizes,
)
from robust_ledger.job.conductors import size_text
from robust_ledger.job.job import Job
from robust_ledger.ledger.editions import EDITIONS
from robust_ledger.service.ampacity import Laid, Needed, pick

BOOK = load_codebook("2023")
COPPER_OHM_CMIL_FT, ALUMINIUM_OHM_CMIL_FT = 10.371, 17.0


def table(name: str):
    return BOOK.table(name).rows


def smallest(metal: str, needed_a: float) -> str:
    """The smallest single conductor that carries so much in the 75 °C column."""
    laid = Laid("service_run:", "xhhw", sets=1)
    return pick(Job(), laid, metal, Needed(needed_a, 0.0, "none"), 200, None, BOOK).size


@pytest.mark.parametrize(
    ("size", "metal", "column", "amperes"),
    [
        ("14", "cu", 60, 15), ("12", "cu", 60, 20), ("10", "cu", 60, 30), ("8", "cu", 60, 40), ("6", "cu", 60, 55),
        ("6", "cu", 75, 65), ("4", "cu", 75, 85), ("3", "cu", 75, 100), ("2", "cu", 75, 115), ("1", "cu", 75, 130),
        ("1/0", "cu", 75, 150), ("2/0", "cu", 75, 175), ("3/0", "cu", 75, 200), ("4/0", "cu", 75, 230),
        ("250", "cu", 75, 255), ("500", "cu", 75, 380), ("750", "cu", 75, 475), ("2/0", "cu", 90, 195),
        ("12", "al", 60, 15), ("10", "al", 60, 25), ("8", "al", 75, 40), ("2", "al", 75, 90), ("1/0", "al", 75, 120),
        ("2/0", "al", 75, 135), ("3/0", "al", 75, 155), ("4/0", "al", 75, 180), ("4/0", "al", 60, 150),
        ("250", "al", 75, 205), ("500", "al", 75, 310), ("600", "al", 75, 340), ("14", "al", 60, None),
    ],
)  # fmt: skip
def test_ampacity_spot_values(size, metal, column, amperes):
    assert ampacity_a(BOOK, size, metal, column) == amperes


def test_gauge_areas_follow_the_gauge_series():
    """The diameter of gauge n is 5 mils × 92^((36 − n) / 39); the area in circular mils is its square."""
    for size in sizes(BOOK):
        if size.isdigit() and int(size) >= 250:
            assert area_cmil(BOOK, size) == int(size) * 1000
            continue
        number = 1 - int(size.split("/")[0]) if "/" in size else int(size)
        diameter_mils = 5 * 92 ** ((36 - number) / 39)
        assert area_cmil(BOOK, size) == pytest.approx(diameter_mils**2, rel=0.001), size


@pytest.mark.parametrize("metal", ["cu", "al"])
def test_ampacity_rises_with_size_and_with_temperature(metal):
    for column in (60, 75, 90):
        values = [a for size in sizes(BOOK) if (a := ampacity_a(BOOK, size, metal, column))]
        assert all(a < b for a, b in pairwise(values))
    for size in sizes(BOOK):
        row = [ampacity_a(BOOK, size, metal, column) for column in (60, 75, 90)]
        assert row == [None] * 3 or row[0] < row[1] < row[2], size


@pytest.mark.parametrize("metal", ["cu", "al"])
@pytest.mark.parametrize(("cool", "warm"), [(60, 75), (75, 90)])
def test_temperature_columns_hold_the_heat_balance(metal, cool, warm):
    """Heat lost is proportional to the rise over 30 °C, heat made to I² and to a resistance that grows with
    temperature: I2 / I1 = √(rise2 / rise1 × R1 / R2). Rounding to 5 A leaves small sizes out."""
    resistance = (234.5 + cool) / (234.5 + warm) if metal == "cu" else (228.1 + cool) / (228.1 + warm)
    expected = math.sqrt((warm - 30) / (cool - 30) * resistance)
    for size in sizes(BOOK)[6:]:
        ratio = ampacity_a(BOOK, size, metal, warm) / ampacity_a(BOOK, size, metal, cool)
        assert ratio == pytest.approx(expected, rel=0.035), size


def test_aluminum_carries_what_its_resistance_says():
    """With the same surface to cool it, current goes with 1/√R: about 0.78 of copper."""
    expected = math.sqrt(COPPER_OHM_CMIL_FT / ALUMINIUM_OHM_CMIL_FT)
    for size in sizes(BOOK)[4:]:
        ratio = ampacity_a(BOOK, size, "al", 75) / ampacity_a(BOOK, size, "cu", 75)
        assert ratio == pytest.approx(expected, abs=0.035), size


def test_standard_ratings_and_the_10_ampere_one():
    older, newer = ratings_a(load_codebook("2020")), ratings_a(BOOK)
    assert older == sorted(older)
    assert set(newer) - set(older) == {10}
    assert {15, 20, 25, 30, 35, 40, 45, 50, 60, 70, 80, 90, 100, 110, 125, 150, 175, 200, 225, 400} <= set(older)
    assert not {22, 55, 65, 75, 120, 160, 180} & set(newer)


@pytest.mark.parametrize(
    ("amperes", "up", "down"),
    [(1, 10, None), (15, 15, 15), (15.1, 20, 15), (143, 150, 125), (200, 200, 200), (801, None, 800)],
)
def test_next_and_previous_rating(amperes, up, down):
    assert next_rating_a(BOOK, amperes) == up
    assert previous_rating_a(BOOK, amperes) == down


@pytest.mark.parametrize("metal", ["cu", "al"])
def test_dwelling_table_is_the_83_percent_rule_at_75_degrees(metal):
    """Each row must be the smallest conductor that carries 83% of the rating: table and rule say the same."""
    for row in table("dwelling_conductors"):
        needed = 0.83 * float(row["rating_a"])
        assert smallest(metal, needed) == row[f"{metal}_size"], row


@pytest.mark.parametrize(
    ("size", "metal", "electrode", "jumper"),
    [
        ("8", "cu", "8", "8"), ("2", "cu", "8", "8"), ("1", "cu", "6", "6"), ("1/0", "cu", "6", "6"), ("2/0", "cu", "4", "4"),
        ("3/0", "cu", "4", "4"), ("4/0", "cu", "2", "2"), ("350", "cu", "2", "2"), ("400", "cu", "1/0", "1/0"),
        ("1/0", "al", "8", "8"), ("2/0", "al", "6", "6"), ("3/0", "al", "6", "6"), ("4/0", "al", "4", "4"),
        ("250", "al", "4", "4"), ("300", "al", "2", "2"), ("500", "al", "2", "2"), ("600", "al", "1/0", "1/0"),
    ],
)  # fmt: skip
def test_electrode_conductor_and_bonding_jumper_at_the_edges(size, metal, electrode, jumper):
    assert row_by_size(BOOK, "electrode", size, metal)["cu_size"] == electrode
    assert row_by_size(BOOK, "bonding_jumper", size, metal)["cu_size"] == jumper


@pytest.mark.parametrize(
    ("rating", "copper", "aluminum"),
    [
        (15, "14", "12"),
        (20, "12", "10"),
        (30, "10", "8"),
        (60, "10", "8"),
        (100, "8", "6"),
        (101, "6", "4"),
        (200, "6", "4"),
        (400, "3", "1"),
    ],
)
def test_equipment_ground_at_the_edges(rating, copper, aluminum):
    row = BOOK.table("equipment_ground").first_covering("rating_max_a", rating)
    assert (row["cu_size"], row["al_size"]) == (copper, aluminum)


def test_an_equipment_ground_never_exceeds_the_conductors_it_protects():
    for rating in (60, 100, 200, 400):
        row = BOOK.table("equipment_ground").first_covering("rating_max_a", rating)
        conductor = smallest("cu", rating)
        assert area_cmil(BOOK, row["cu_size"]) <= area_cmil(BOOK, conductor)


@pytest.mark.parametrize(
    ("count", "a", "b", "c"),
    [
        (1, 80, 80, 8),
        (2, 75, 65, 11),
        (3, 70, 55, 14),
        (4, 66, 50, 17),
        (5, 62, 45, 20),
        (10, 49, 34, 25),
        (20, 35, 28, 35),
    ],
)
def test_cooking_table_spot_values(count, a, b, c):
    row = table("cooking_demand")[count - 1]
    assert [float(row[key]) for key in ("count", "column_a_percent", "column_b_percent", "column_c_kw")] == [
        count,
        a,
        b,
        c,
    ]


def test_demand_factors_fall_and_kilowatts_rise_with_the_count():
    cooking = BOOK.table("cooking_demand")
    for column in ("column_a_percent", "column_b_percent"):
        values = cooking.numbers(column)
        assert values == sorted(values, reverse=True)
    assert cooking.numbers("column_c_kw") == sorted(cooking.numbers("column_c_kw"))
    dryers = BOOK.table("dryer_demand").numbers("percent")
    assert dryers[:4] == [100] * 4 and dryers[4:] == [85, 75, 65, 60, 55, 50, 47]


@pytest.mark.parametrize(
    ("size", "metal", "text"),
    [("14", "cu", "14 Cu"), ("4/0", "al", "4/0 Al"), ("250", "al", "250 kcmil Al"), ("2", "", "2")],
)
def test_sizes_as_the_trade_writes_them(size, metal, text):
    assert size_text(size, metal) == text


@pytest.mark.parametrize("edition", EDITIONS)
def test_every_table_opens_in_every_edition_and_names_its_section(edition):
    book = load_codebook(edition)
    for name in book.keys("tables"):
        assert book.table(name).rows
        assert book.table(name).cite.section
